/** Scans: how they hang together, what is cleaned of them, their own middle plane, what is fitted to them. Truth: closed forms, and the shapes they are made of. */
import Module from 'manifold-3d';
import { describe, expect, it } from 'vitest';
import { HEAD_REST, headRestScan, laid, normally, seeded } from '../../../demo/scans';
import { everyCase } from '../../../tests/support/properties';
import { evaluateBSpline } from '../curves/bspline';
import { dot, minus, type Vec3 } from '../geometry/vectors';
import { massProperties, openEdgeCount, type TriMesh } from '../mesh/mesh';
import { curveAt } from '../surfaces/space';
import { cleaned, roughness, smoothed, unroundness } from './clean';
import { filled } from './fill';
import { middlePlane } from './middle';
import { packMesh, unpackMesh } from './packed';
import { fairLine, sectionLines } from './section';
import { alikeHoles, closedCurve, fittedSheet, holeIn, offSheet, roundHoles } from './sheet';
import { manifold, ofFacets, placeOf, topologyOf } from './topology';
import { placed, placingOf } from './upright';

/** A ball of rings and sectors, its poles single places. */
function ball(radius: number, rings: number, sectors: number, noise = 0, seed = 1): TriMesh {
  const random = seeded(seed);
  const places: Vec3[] = [];
  const put = (polar: number, around: number): void => {
    const r = radius + noise * normally(random);
    places.push([r * Math.sin(polar) * Math.cos(around), r * Math.sin(polar) * Math.sin(around), r * Math.cos(polar)]);
  };
  put(0, 0);
  for (let i = 1; i < rings; i++) for (let j = 0; j < sectors; j++) put((Math.PI * i) / rings, (2 * Math.PI * (j + (i % 2) / 2)) / sectors);
  put(Math.PI, 0);
  const at = (i: number, j: number): number => (i === 0 ? 0 : i === rings ? places.length - 1 : 1 + (i - 1) * sectors + (j % sectors));
  const indices: number[] = [];
  for (let i = 0; i < rings; i++)
    for (let j = 0; j < sectors; j++) {
      const odd = i % 2;
      const [a, b, c, d] = [at(i, j), at(i, j + 1), at(i + 1, j), at(i + 1, j + 1)];
      if (i === 0) indices.push(a, c, d);
      else if (i === rings - 1) indices.push(a, c, b);
      else if (odd) indices.push(a, c, d, a, d, b);
      else indices.push(a, c, b, b, c, d);
    }
  return flatMesh(places, indices);
}
const flatMesh = (places: readonly Vec3[], indices: readonly number[]): TriMesh => ({
  positions: Float64Array.from(places.flat()),
  indices: Uint32Array.from(indices),
  faceOf: new Uint32Array(indices.length / 3),
});
/** What is left of a mesh where facets that reach a place that goes are gone. */
const without = (m: TriMesh, gone: (at: Vec3) => boolean): TriMesh =>
  ofFacets(
    m,
    [...m.faceOf.keys()].filter((t) => ![0, 1, 2].some((k) => gone(placeOf(m, m.indices[3 * t + k]!)))),
  );

describe('how a scan hangs together', () => {
  it('knows islands by their area and borders by their length', () => {
    const whole = ball(20, 24, 36);
    expect(openEdgeCount(whole)).toBe(0);
    const open = without(whole, ([, , z]) => z > 15);
    const { borders, islands } = topologyOf(open);
    expect([borders.length, islands.length]).toEqual([1, 1]);
    const b = borders[0]!;
    expect(dot(b.normal, [0, 0, 1])).toBeCloseTo(1, 3);
    expect(unroundness(open, b)).toBeLessThan(0.1);
    expect(b.length).toBeCloseTo(
      b.vertices.reduce(
        (s, v, i) => s + Math.hypot(...minus(placeOf(open, b.vertices[(i + 1) % b.vertices.length]!), placeOf(open, v))),
        0,
      ),
      9,
    );
  });
  it('leaves out facets that are doubled, turned round or without area, and no others', () => {
    const whole = ball(10, 12, 16);
    const n = whole.faceOf.length;
    const more: TriMesh = {
      ...whole,
      indices: Uint32Array.from([
        ...whole.indices,
        ...whole.indices.slice(0, 3),
        whole.indices[30]!,
        whole.indices[30]!,
        whole.indices[31]!,
      ]),
      faceOf: new Uint32Array(n + 2),
    };
    const { mesh, dropped } = manifold(more);
    expect(dropped).toBe(2);
    expect(mesh.faceOf.length).toBe(n);
    expect(openEdgeCount(mesh)).toBe(0);
  });
  it('parts borders that touch in a corner', () => {
    // Two windows of a net that share one place.
    const places: Vec3[] = [];
    for (let j = 0; j <= 4; j++) for (let i = 0; i <= 4; i++) places.push([i, j, 0]);
    const indices: number[] = [];
    for (let j = 0; j < 4; j++)
      for (let i = 0; i < 4; i++) {
        if ((i === 1 && j === 1) || (i === 2 && j === 2)) continue;
        const a = 5 * j + i;
        indices.push(a, a + 1, a + 6, a, a + 6, a + 5);
      }
    const { borders } = topologyOf(flatMesh(places, indices));
    expect(borders.map((b) => b.length)).toEqual([16, 4, 4]);
  });
});

describe('holes are filled', () => {
  it('bending on: the cap of a ball within half a percent of its volume', () => {
    for (const [radius, from] of [
      [20, 14],
      [35, 22],
    ] as const) {
      const whole = ball(radius, 40, 60);
      const open = without(whole, ([, , z]) => z > from);
      const { borders } = topologyOf(open);
      const full = filled(open, borders, 'curved', 1);
      if (!full.ok) throw new Error(full.error.why);
      expect(openEdgeCount(full.value)).toBe(0);
      // Of the ball as it was, faceted: what is told apart is the fill alone.
      const height = radius - placeOf(open, borders[0]!.vertices[0]!)[2];
      const cap = (Math.PI * height * height * (3 * radius - height)) / 3;
      expect(Math.abs(massProperties(full.value).volume - massProperties(whole).volume) / cap).toBeLessThan(0.005);
    }
  });
  it('flat: the end of a cylinder within half a percent', async () => {
    const [radius, height, n] = [15, 40, 72];
    const places: Vec3[] = [];
    for (let j = 0; j <= 20; j++)
      for (let i = 0; i < n; i++)
        places.push([radius * Math.cos((2 * Math.PI * i) / n), radius * Math.sin((2 * Math.PI * i) / n), (height * j) / 20]);
    const indices: number[] = [];
    for (let j = 0; j < 20; j++)
      for (let i = 0; i < n; i++) {
        const [a, b] = [j * n + i, j * n + ((i + 1) % n)];
        indices.push(a, b, b + n, a, b + n, a + n);
      }
    const tube = flatMesh(places, indices);
    const full = filled(tube, topologyOf(tube).borders, 'flat', 1);
    if (!full.ok) throw new Error(full.error.why);
    const exact = (n / 2) * radius * radius * Math.sin((2 * Math.PI) / n) * height;
    expect(massProperties(full.value).volume / exact).toBeCloseTo(1, 6);
    // Independent library: manifold-3d takes only what is closed and sound.
    const m = await Module();
    m.setup();
    const solid = new m.Manifold(
      new m.Mesh({ numProp: 3, vertProperties: Float32Array.from(full.value.positions), triVerts: full.value.indices }),
    );
    expect(solid.status()).toBe('NoError');
    expect(solid.volume() / exact).toBeCloseTo(1, 5);
    solid.delete();
  });
  it('a border that is too long is refused with its place, and nothing is lost', () => {
    const big = ball(50, 120, 400);
    const open = without(big, ([, , z]) => z > 0);
    const full = filled(open, topologyOf(open).borders, 'curved', 1);
    expect(full.ok).toBe(false);
    if (!full.ok) expect(full.error.why).toMatch(/edges; holes of up to/);
  });
});

describe('a scan is cleaned', () => {
  const scan = headRestScan(7, { noise: 0.15, step: 2.5, gaps: 9, strays: 6 });
  it('of strays and of holes but its border and the seven that are round', () => {
    const done = cleaned(scan, { islands: 0.05, keep: 'round', round: 7, fill: 'curved', smooth: 0 });
    if (!done.ok) throw new Error(done.error.why);
    expect(done.value.islands).toBe(6);
    expect(done.value.open).toHaveLength(8);
    const made = roundHoles(done.value.mesh, done.value.open.slice(1));
    for (const [x, y] of HEAD_REST.holes) {
      const at = laid([x, y, HEAD_REST.height(x, y)]);
      expect(Math.min(...made.map((h) => Math.hypot(...minus(h.centre, at))))).toBeLessThan(0.6);
    }
    // Every other border may go or stay.
    for (const [keep, borders] of [
      ['outer', 1],
      ['all', topologyOf(manifold(scan).mesh).borders.length - 6],
    ] as const) {
      const other = cleaned(scan, { islands: 0.05, keep, round: 0, fill: 'flat', smooth: 0 });
      expect(other.ok && other.value.open.length).toBe(borders);
    }
  });
  it('its roughness is told, and smoothing keeps the volume', () => {
    for (const noise of [0.05, 0.2]) {
      const rough = ball(30, 60, 90, noise, 5);
      expect(roughness(rough) / noise).toBeGreaterThan(0.8);
      expect(roughness(rough) / noise).toBeLessThan(1.25);
      const { mesh, moved } = smoothed(rough, 10);
      expect(roughness(mesh)).toBeLessThan(0.5 * roughness(rough));
      expect(massProperties(mesh).volume / massProperties(rough).volume).toBeCloseTo(1, 2);
      expect(moved).toBeGreaterThan(noise);
    }
  });
  it('comes back from the project file to its grain, and what is damaged is refused', () => {
    const back = unpackMesh(packMesh(scan, 3));
    if (!back.ok) throw new Error(back.error);
    expect(back.value.faceOf.length).toBe(scan.faceOf.length);
    for (let i = 0; i < scan.indices.length; i += 97) {
      const [p, q] = [placeOf(scan, scan.indices[i]!), placeOf(back.value, back.value.indices[i]!)];
      expect(Math.hypot(...minus(p, q))).toBeLessThan(1e-3);
    }
    for (const bad of ['', 'AAAA', 'zzzz', packMesh(scan, 3).slice(0, 400)]) expect(unpackMesh(bad).ok).toBe(false);
  });
});

describe('its own middle plane', () => {
  const out = ([x, y, z]: Vec3): Vec3 => minus(laid([x, y, z]), laid([0, 0, 0]));
  it.each(Array.from({ length: everyCase ? 50 : 3 }, (_, i) => i + 1))(
    'within 0.1° and 0.1 mm at 0.2 mm of noise with a fifth missing, seed %i',
    (seed) => {
      const scan = headRestScan(seed, { noise: 0.2, step: 1.6, gaps: 8, strays: 5, missing: 0.2 });
      const done = cleaned(scan, { islands: 0.05, keep: 'all', round: 0, fill: 'flat', smooth: 0 });
      if (!done.ok) throw new Error(done.error.why);
      const plane = middlePlane(done.value.mesh)!;
      const angle = (180 / Math.PI) * Math.acos(Math.min(1, Math.abs(dot(plane.normal, out([1, 0, 0])))));
      expect(angle).toBeLessThan(0.1);
      // Where the middle of the part lies off it.
      const middle = laid([0, 0, HEAD_REST.height(0, 0)]);
      expect(Math.abs(dot(minus(middle, plane.at), plane.normal))).toBeLessThan(0.1);
    },
  );
  it('puts the part upright: lying, its middle on the side plane, on the level plane', () => {
    const done = cleaned(headRestScan(3, { noise: 0, step: 3, gaps: 0, strays: 0 }), {
      islands: 0,
      keep: 'all',
      round: 0,
      fill: 'flat',
      smooth: 0,
    });
    if (!done.ok) throw new Error(done.error.why);
    const { mesh } = done.value;
    const flat = placed(mesh, placingOf(mesh, middlePlane(mesh)!, 'lying', 0));
    expect(massProperties(flat).area).toBeCloseTo(massProperties(mesh).area, 6);
    let [right, left, low] = [0, 0, 1];
    for (let i = 0; i < flat.positions.length; i += 3) {
      right = Math.max(right, flat.positions[i]!);
      left = Math.max(left, -flat.positions[i]!);
      low = Math.min(low, flat.positions[i + 2]!);
    }
    expect(right).toBeCloseTo(HEAD_REST.half[0], 0);
    expect(Math.abs(right - left)).toBeLessThan(0.6);
    expect(low).toBeCloseTo(0, 9);
    const long = placed(mesh, placingOf(mesh, middlePlane(mesh)!, 'long', Math.PI / 2));
    expect(massProperties(long).area).toBeCloseTo(massProperties(mesh).area, 6);
  });
});

describe('a sheet is fitted', () => {
  const saddle = (x: number, y: number): number => (x * x - y * y) / 160 + 0.1 * x + 5;
  const rough = (noise: number, seed = 2): TriMesh => {
    const random = seeded(seed);
    const n = 40;
    const places: Vec3[] = [];
    for (let j = 0; j <= n; j++)
      for (let i = 0; i <= n; i++) {
        const [x, y] = [2 * i - n, 1.5 * j - 0.75 * n];
        places.push([x, y, saddle(x, y) + noise * normally(random)]);
      }
    const indices: number[] = [];
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++) {
        const a = j * (n + 1) + i;
        indices.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1);
      }
    return flatMesh(places, indices);
  };
  it('a saddle within its noise, and exactly where there is none', () => {
    for (const noise of [0, 0.1, 0.4]) {
      const sheet = fittedSheet(rough(noise), 8, null, false);
      if (!sheet.ok) throw new Error(sheet.error.why);
      let sum = 0;
      let count = 0;
      for (let x = -34; x <= 34; x += 4)
        for (let y = -26; y <= 26; y += 4, count++) sum += offSheet(sheet.value.surface, [x, y, saddle(x, y)]) ** 2;
      // The facets of a bent sheet lie off it by the square of their size: with none of noise that is what is left.
      expect(Math.sqrt(sum / count)).toBeLessThan(Math.max(0.02, 0.35 * noise));
    }
  });
  it('the fairer the more it may lie off, and says where it can’t', () => {
    const scan = rough(0.2);
    const fits = [0.2, 0.3, 0.6, 1.2].map((within) => {
      const s = fittedSheet(scan, 10, within, false);
      if (!s.ok) throw new Error(s.error.why);
      return s.value;
    });
    fits.forEach((f, i) => {
      expect(f.short).toBe(false);
      expect(f.rms).toBeLessThanOrEqual([0.2, 0.3, 0.6, 1.2][i]! * (1 + 1e-9));
      if (i > 0) expect(f.bending).toBeLessThan(fits[i - 1]!.bending);
      for (let k = 1; k < f.trade.length; k++) {
        expect(f.trade[k]!.rms).toBeGreaterThanOrEqual(f.trade[k - 1]!.rms);
        expect(f.trade[k]!.bending).toBeLessThanOrEqual(f.trade[k - 1]!.bending);
      }
    });
    const none = fittedSheet(scan, 10, 0.001, false);
    expect(none.ok && none.value.short).toBe(true);
  });
  it('alike either side where that is asked', () => {
    const s = fittedSheet(rough(0.3), 8, null, true);
    if (!s.ok) throw new Error(s.error.why);
    const { poles } = s.value.surface;
    for (const [i, row] of poles.entries())
      for (const [j, p] of row.entries()) {
        const q = poles[poles.length - 1 - i]![j]!;
        expect(Math.hypot(p[0] + q[0], p[1] - q[1], p[2] - q[2])).toBeLessThan(1e-6);
      }
  });
  it('what stands upright is refused with a place', () => {
    const s = fittedSheet(ball(20, 20, 30), 8, null, false);
    expect(s.ok).toBe(false);
    if (!s.ok) expect(s.error).toMatchObject({ why: expect.stringContaining('over the level plane'), at: expect.any(Array) });
  });
  it('holes: an outline square to the sheet has the hole’s size in space, a border its places', () => {
    const sheet = fittedSheet(rough(0), 8, null, false);
    if (!sheet.ok) throw new Error(sheet.error.why);
    const c = holeIn(sheet.value.surface, [20, -10, 0], 5);
    // By the area it encloses on the slope: seen from above that is less.
    const twice = c.poles.length;
    expect(twice).toBe(48);
    const slope = Math.hypot((2 * 20) / 160 + 0.1, (2 * 10) / 160);
    let area = 0;
    const n = 400;
    const at = (i: number): Vec3 => {
      const q = curveAt(c.space, c.poles, (i % n) / n);
      return [q[0]!, q[1]!, 0];
    };
    for (let i = 0; i < n; i++) area += (at(i)[0] * at(i + 1)[1] - at(i + 1)[0] * at(i)[1]) / 2;
    expect(Math.abs(area) / ((Math.PI * 25) / Math.hypot(1, slope))).toBeCloseTo(1, 2);
    const oval = Array.from(
      { length: 300 },
      (_, i): Vec3 => [80 * Math.cos((2 * Math.PI * i) / 300), 50 * Math.sin((2 * Math.PI * i) / 300), 0],
    );
    expect(closedCurve(oval, 60).off).toBeLessThan(0.01);
    expect(closedCurve(oval, 12).off).toBeGreaterThan(closedCurve(oval, 60).off);
    const pair = alikeHoles([
      { centre: [30, 5, 1], normal: [0, 0, 1], radius: 4, off: 0 },
      { centre: [-32, 7, 3], normal: [0, 0, 1], radius: 4.2, off: 0 },
    ]);
    expect(pair.map((h) => h.centre)).toEqual([
      [31, 6, 2],
      [-31, 6, 2],
    ]);
  });
});

describe('sections of a scan', () => {
  it('are lines from end to end, or closed, as long as the shape’s own', () => {
    const whole = ball(20, 60, 90);
    const [round, more] = sectionLines(whole, [0, 0, 5], [0, 0, 1]);
    expect(more).toBeUndefined();
    expect(round![0]).toEqual(round!.at(-1));
    const length = (l: readonly Vec3[]): number => l.slice(1).reduce((s, p, i) => s + Math.hypot(...minus(p, l[i]!)), 0);
    expect(length(round!) / (2 * Math.PI * Math.sqrt(400 - 25))).toBeCloseTo(1, 2);
    // Half a ball gives an arc with two ends.
    const [arc] = sectionLines(
      without(whole, ([, , z]) => z > 0.1),
      [0, 0, 0],
      [1, 0, 0],
    );
    expect(arc![0]).not.toEqual(arc!.at(-1));
    expect(length(arc!) / (20 * Math.PI)).toBeCloseTo(1, 1);
    expect(sectionLines(whole, [0, 0, 25], [0, 0, 1])).toEqual([]);
  });
  it('are followed by as few control points as lie as near as wanted', () => {
    const random = seeded(9);
    const wave = (x: number): Vec3 => [x, 6 * Math.sin(x / 12), 3];
    const rough = Array.from({ length: 240 }, (_, i): Vec3 => {
      const [x, y, z] = wave(i / 2);
      return [x, y + 0.1 * normally(random), z];
    });
    const line = fairLine(rough, 0.11);
    expect(line.rms).toBeLessThanOrEqual(0.11);
    expect(line.spline.poles.length).toBeLessThan(20);
    // Fewer would not do, and what is under the noise is met nearer than the noise.
    expect(fairLine(rough, 0.5).spline.poles.length).toBeLessThan(line.spline.poles.length);
    let most = 0;
    for (let t = 0.05; t < 0.95; t += 0.01) {
      const p = evaluateBSpline(line.spline, t)[0]! as unknown as Vec3;
      most = Math.max(most, Math.abs(p[1] - wave(p[0])[1]));
      expect(p[2]).toBeCloseTo(3, 6);
    }
    expect(most).toBeLessThan(0.1);
  });
});
