import { describe, expect, it } from 'vitest';
import { noNames, sketchProfile } from '../../../tests/support/sketch';
import { interpolateCubic } from '../curves/bspline';
import { arcAbout, type PlanarCurve, pointAt } from '../curves/planar';
import { areaAndCentroid, findOutline } from '../profile/outline';
import { findRegions } from '../profile/regions';
import { type ResolvedCurve, resolveProfile } from '../profile/resolve';
import type { Profile } from '../recipe/schema';
import { addDrawing, type PlaneDrawing } from './drawing';
import { readDxf, writeDxf } from './dxf';
import { pathData, readSvg, writeSvg } from './svg';

const through = interpolateCubic(
  [
    [0, 0],
    [12, 9],
    [20, 31],
    [4, 44],
  ],
  [30, 0],
);
const all: readonly PlanarCurve[] = [
  { kind: 'line', a: { x: 1 / 3, y: -2 }, b: { x: 40, y: 17.25 } },
  { ...arcAbout({ x: 3, y: 5 }, 7.5, 0.3, 1.9) },
  { ...arcAbout({ x: 3, y: 5 }, 7.5, 0.3, -4.9) },
  arcAbout({ x: -20, y: 8 }, 6.25, 0, 2 * Math.PI),
  ellipse(1.1, 2.4),
  ellipse(0.4, -3.9),
  ellipse(0, 2 * Math.PI),
  { kind: 'spline', spline: through, a: { x: 0, y: 0 }, b: { x: 4, y: 44 } },
];
function ellipse(start: number, sweep: number): PlanarCurve {
  const [centre, u, v] = [
    { x: 10, y: 50 },
    { x: 9, y: 3 },
    { x: -1.5, y: 4.5 },
  ];
  const at = (w: number) => ({ x: centre.x + u.x * Math.cos(w) + v.x * Math.sin(w), y: centre.y + u.y * Math.cos(w) + v.y * Math.sin(w) });
  return { kind: 'ellipse', centre, u, v, start, sweep, a: at(start), b: at(start + sweep) };
}
const resolved: readonly ResolvedCurve[] = all.map((curve, i) => ({ id: `c${i}`, curve, construction: false }));
const empty: Profile = sketchProfile({}, []);

/** Largest distance of points on the old curves from the new ones. */
function farthest(before: readonly PlanarCurve[], after: readonly PlanarCurve[]): number {
  const cloud = after.flatMap((c) => Array.from({ length: 4001 }, (_, i) => ({ c, t: i / 4000, p: pointAt(c, i / 4000) })));
  let worst = 0;
  for (const c of before)
    for (let i = 0; i <= 40; i++) {
      const p = pointAt(c, i / 40);
      let best = cloud[0]!;
      for (const q of cloud) if (Math.hypot(q.p.x - p.x, q.p.y - p.y) < Math.hypot(best.p.x - p.x, best.p.y - p.y)) best = q;
      let [lo, hi] = [Math.max(0, best.t - 1 / 4000), Math.min(1, best.t + 1 / 4000)];
      const d = (t: number): number => {
        const q = pointAt(best.c, t);
        return Math.hypot(q.x - p.x, q.y - p.y);
      };
      for (let k = 0; k < 60; k++) {
        const [a, b] = [lo + (hi - lo) / 3, hi - (hi - lo) / 3];
        if (d(a) < d(b)) hi = b;
        else lo = a;
      }
      worst = Math.max(worst, d((lo + hi) / 2));
    }
  return worst;
}
const drawn = (r: ReturnType<typeof readSvg>): PlaneDrawing => {
  if (!r.ok) throw new Error(r.error);
  return r.value;
};
const placed = (d: PlaneDrawing, scale = 1): Profile => {
  const r = addDrawing(empty, d, scale, 1e-4);
  if (!r.ok) throw new Error(r.error);
  return r.value.profile;
};
const shapes = (p: Profile): PlanarCurve[] => {
  const r = resolveProfile(p, noNames);
  if (!r.ok) throw new Error(r.error.message);
  return r.value.curves.map((c) => c.curve);
};

describe('a drawing goes out and comes back the same to 1e-6 mm', () => {
  it('by SVG, with its size in mm', () => {
    const d = drawn(readSvg(writeSvg(resolved, 'All kinds')));
    expect(d.unit).toBeCloseTo(1, 9);
    expect(farthest(all, shapes(placed(d)))).toBeLessThan(1e-6);
  });
  it('by DXF, with its unit', () => {
    const d = drawn(readDxf(writeDxf(resolved)));
    expect(d.unit).toBe(1);
    expect(d.left).toEqual([]);
    expect(farthest(all, shapes(placed(d)))).toBeLessThan(1e-6);
  });
  it('and construction lines stay behind', () => {
    const some = resolved.map((c, i) => ({ ...c, construction: i > 0 }));
    expect(drawn(readSvg(writeSvg(some, 'One'))).curves).toHaveLength(1);
    expect(drawn(readDxf(writeDxf(some))).curves).toHaveLength(1);
  });
});

describe('an SVG file', () => {
  const svg = (body: string, head = 'width="100mm" height="50mm" viewBox="0 0 200 100"'): string =>
    `<svg xmlns="http://www.w3.org/2000/svg" ${head}>${body}</svg>`;
  it('brings its shapes with transforms, joined where they meet, at a stated scale', () => {
    const d = drawn(readSvg(svg('<g transform="translate(10 20) scale(2)"><rect x="0" y="0" width="30" height="10"/></g>')));
    expect(d.unit).toBeCloseTo(0.5, 12);
    const p = placed(d, d.unit);
    expect(p.points).toHaveLength(4);
    const r = resolveProfile(p, noNames);
    if (!r.ok) throw new Error(r.error.message);
    const [region] = findRegions(r.value, false).regions;
    expect(region!.area).toBeCloseTo(300, 9);
    expect(region!.centroid.x).toBeCloseTo(20, 9);
    expect(region!.centroid.y).toBeCloseTo(-15, 9);
  });
  it('keeps circles round, rounded corners as arcs and holes as holes', () => {
    const d = drawn(readSvg(svg('<rect x="0" y="0" width="40" height="20" rx="5"/><circle cx="20" cy="10" r="4"/>')));
    const r = resolveProfile(placed(d), noNames);
    if (!r.ok) throw new Error(r.error.message);
    const [region] = findRegions(r.value, false).regions;
    expect(region!.holes).toHaveLength(1);
    expect(region!.area).toBeCloseTo(800 - (4 - Math.PI) * 25 - Math.PI * 16, 6);
    expect(r.value.curves.filter((c) => c.curve.kind === 'arc')).toHaveLength(5);
  });
  it('says what it left out', () => {
    expect(drawn(readSvg(svg('<text x="1" y="2">hi</text><image/><line x1="0" y1="0" x2="5" y2="5"/>'))).left).toEqual([
      '1 × text',
      '1 × image',
    ]);
  });
  it.each([
    ['<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;&a;">]><svg><text>&b;</text></svg>', 'entities of its own'],
    [svg('<script>alert(1)</script>'), 'script'],
    [svg('<rect onload="x()" width="1" height="1"/>'), 'script'],
    [svg('<a href="javascript:alert(1)"><rect width="1" height="1"/></a>'), 'script'],
    [svg('<foreignObject/>'), 'foreign objects'],
    [svg('<path d="M0 0 L NaN 5"/>'), 'can’t be read|no coordinate|no curve'],
    [svg('<line x1="0" y1="0" x2="1e300" y2="5"/>'), 'no coordinate'],
    [svg('<line x1="0" y1="0" x2="1e400" y2="5"/>'), 'no coordinate'],
    ['<svg><g>'.repeat(1) + '<g>'.repeat(200), 'nested deeper|well-formed'],
    ['', 'empty'],
    ['hello', 'not an SVG|well-formed'],
    [`<svg>${'<g/>'.repeat(70_000)}</svg>`, '30 000 elements'],
    ['x'.repeat(6_000_000), 'at most 5 MB'],
  ])('that is hostile or damaged is refused in words (%#)', (text, words) => {
    const r = readSvg(text);
    const said = r.ok ? (addDrawing(empty, r.value, 1, 1e-3) as { error?: string }).error : r.error;
    expect(said).toMatch(new RegExp(words));
  });
  it('with more curves than a profile holds is refused', () => {
    const d = drawn(readSvg(svg(Array.from({ length: 400 }, (_, i) => `<line x1="${i}" y1="0" x2="${i}" y2="5"/>`).join(''))));
    const r = addDrawing(empty, d, 1, 1e-3);
    expect(r.ok ? '' : r.error).toBe('the drawing has 400 curves; a profile holds 380');
    const far = addDrawing(empty, drawn(readSvg(svg('<line x1="0" y1="0" x2="900000" y2="5"/>'))), 10, 1e-3);
    expect(far.ok ? '' : far.error).toContain('larger than 100 m');
  });
});

describe('a DXF file', () => {
  const dxf = (...pairs: (string | number)[]): string => ['0', 'SECTION', '2', 'ENTITIES', ...pairs, '0', 'ENDSEC', '0', 'EOF'].join('\n');
  it('of a polyline with a bulge makes a slot of lines and half rounds', () => {
    const d = drawn(
      readDxf(dxf(0, 'LWPOLYLINE', 8, '0', 90, 4, 70, 1, 10, 0, 20, 0, 10, 30, 20, 0, 42, 1, 10, 30, 20, 10, 10, 0, 20, 10, 42, 1)),
    );
    const r = resolveProfile(placed(d), noNames);
    if (!r.ok) throw new Error(r.error.message);
    expect(findRegions(r.value, false).regions[0]!.area).toBeCloseTo(300 + Math.PI * 25, 9);
  });
  it.each([
    ['', 'empty'],
    ['just words', 'not a text DXF'],
    [`\0\0SECTION`, 'binary'],
    [dxf(0, 'LINE', 8, '0', 10, 'NaN', 20, 0, 11, 5, 21, 5), 'no coordinate'],
    [dxf(0, 'CIRCLE', 8, '0', 10, 0, 20, 0, 40, '1e99'), 'no coordinate'],
    [dxf(0, 'LINE', 8).slice(0, 40), 'damaged|no curve|no drawing'],
  ])('that is hostile or damaged is refused in words (%#)', (text, words) => {
    const r = readDxf(text);
    const said = r.ok ? (addDrawing(empty, r.value, 1, 1e-3) as { error?: string }).error : r.error;
    expect(said).toMatch(new RegExp(words));
  });
});

it('a dimensioned drawing writes its words safely and does not count them as drawing', () => {
  const note = {
    at: { x: 1, y: 2 },
    words: '<script>&"',
    lines: [
      [
        { x: 0, y: 0 },
        { x: 5, y: 0 },
      ],
    ] as const,
  };
  const text = writeSvg(resolved.slice(0, 1), 'A & B', [note]);
  expect(text).toContain('&lt;script&gt;&amp;&quot;');
  expect(text).not.toContain('<script>');
});

it('a closed outline comes back closed, with the same area', () => {
  const curves: PlanarCurve[] = [
    { kind: 'line', a: { x: 0, y: 0 }, b: { x: 30, y: 0 } },
    { ...arcAbout({ x: 20, y: 0 }, 10, 0, Math.PI / 2), a: { x: 30, y: 0 }, b: { x: 20, y: 10 } },
    { kind: 'line', a: { x: 20, y: 10 }, b: { x: 0, y: 10 } },
  ];
  const back = placed(
    drawn(
      readSvg(
        writeSvg(
          curves.map((curve, i) => ({ id: `c${i}`, curve, construction: false })),
          'Half',
        ),
      ),
    ),
  );
  const r = resolveProfile(back, noNames);
  const o = r.ok ? findOutline(r.value, 'Half') : undefined;
  if (!o?.ok) throw new Error('open');
  expect(Math.abs(areaAndCentroid(o.value).area)).toBeCloseTo(200 + (Math.PI * 100) / 4, 6);
  expect(pathData(curves[0]!)).toBe('M0 0L30 0');
});
