/**
 * Shells, fillets, chamfers and thickened surfaces of known truth: volumes from closed forms (standard mensuration formulas), limits from
 * geometry. A value beyond the limit must be refused, one within it must be accepted with the right volume.
 */
import { beforeAll, describe, expect, it } from 'vitest';
import type { KernelBody } from '../../src/kernel/body';
import type { Kernel } from '../../src/kernel/open';
import { bevelBody } from '../../src/kernel/rounds';
import { boundsOf } from '../../src/kernel/shapes';
import { roundEdges } from '../../src/kernel/steps/fillet';
import { hollow } from '../../src/kernel/steps/shell';
import { walled } from '../../src/kernel/steps/thicken';
import { skinWithout } from '../../src/kernel/surface';
import { box, cylinder, edgesOf, post, taper, testKernel, topFace, turned } from '../support/kernel';
import { written } from '../support/profile';

let kernel: Kernel;
const bodies = new Map<string, KernelBody>();

beforeAll(async () => {
  kernel = await testKernel();
});

const made = (name: string, make: () => KernelBody): KernelBody => {
  const known = bodies.get(name) ?? make();
  bodies.set(name, known);
  return known;
};

const frustum = (r1: number, r2: number, h: number): number => (Math.PI * h * (r1 * r1 + r1 * r2 + r2 * r2)) / 3;
/** What a fillet of radius r takes from (or fills into) a right angle: area and the centroid's distance from the corner. */
const spandrel = (r: number): { area: number; centroid: number } => ({
  area: (1 - Math.PI / 4) * r * r,
  centroid: (r * (5 / 6 - Math.PI / 4)) / (1 - Math.PI / 4),
});

interface Case {
  readonly value: number;
  /** Expected volume in mm³; null where no such body exists. */
  readonly volume: number | null;
}
interface Family {
  readonly name: string;
  readonly limit: string;
  readonly body: () => KernelBody;
  readonly run: (body: KernelBody, value: number) => ReturnType<typeof hollow>;
  readonly cases: readonly Case[];
}

const cases = (values: readonly number[], impossible: readonly number[], volume: (v: number) => number): Case[] => [
  ...values.map((value) => ({ value, volume: volume(value) })),
  ...impossible.map((value) => ({ value, volume: null })),
];
const openTop = (body: KernelBody, t: number) => hollow(kernel, body, [topFace(kernel, body)], t, 's2');
const sealed = (body: KernelBody, t: number) => hollow(kernel, body, [], t, 's2');
const round = (kind: 'convex' | 'concave', pick: (b: KernelBody) => ReturnType<typeof edgesOf>) => (body: KernelBody, r: number) =>
  roundEdges(kernel, body, pick(body), r, new Set([kind]), 's2');

const bevel = (kind: 'convex' | 'concave', pick: (b: KernelBody) => ReturnType<typeof edgesOf>) => (body: KernelBody, d: number) =>
  bevelBody(kernel, body, pick(body), { first: d, swapped: false }, new Set([kind]), 's2');

const sphere = (r: number): KernelBody =>
  turned(
    kernel,
    written({
      id: 'ball',
      name: 'Ball',
      points: [
        { id: 'a', x: '0', y: String(-r) },
        { id: 'b', x: '0', y: String(r) },
        { id: 'm', x: String(r), y: '0' },
      ],
      curves: [{ kind: 'arc', id: 'side', from: 'a', to: 'b', through: 'm' }],
    }),
  );

const [a, b, c] = [60, 40, 30];
const roundedBox = (r: number): number => {
  const [x, y, z] = [a - 2 * r, b - 2 * r, c - 2 * r];
  return x * y * z + 2 * r * (x * y + y * z + z * x) + Math.PI * r * r * (x + y + z) + (4 / 3) * Math.PI * r ** 3;
};

// A frustum R 20 below, 30 above, 50 high: the inner wall is parallel at distance t, the floor t up.
const coneInner = (t: number): number => {
  const slope = 10 / 50;
  const shift = t * Math.hypot(1, slope);
  return frustum(20 + slope * t - shift, 30 - shift, 50 - t);
};

const families: Family[] = [
  {
    name: 'cylinder R 20 H 60, open above',
    limit: 'wall below the radius, 20',
    body: () => cylinder(kernel, 20, 60),
    run: openTop,
    cases: cases([0.4, 1, 2.4, 5, 10, 15, 19, 19.8], [20, 20.5, 21, 25, 60], (t) => Math.PI * (400 * 60 - (20 - t) ** 2 * (60 - t))),
  },
  {
    name: 'box 60 × 40 × 30, open above',
    limit: 'wall below half the width, 20',
    body: () => box(kernel, a, b, c),
    run: openTop,
    cases: cases([0.5, 2, 5, 10, 16, 19], [20, 20.4, 25, 30, 45], (t) => a * b * c - (a - 2 * t) * (b - 2 * t) * (c - t)),
  },
  {
    name: 'cylinder R 20 H 60, sealed',
    limit: 'wall below the radius, 20',
    body: () => cylinder(kernel, 20, 60),
    run: sealed,
    cases: cases([1, 4, 12, 19], [20, 21, 30], (t) => Math.PI * (400 * 60 - (20 - t) ** 2 * (60 - 2 * t))),
  },
  {
    name: 'sphere R 30, sealed',
    limit: 'wall below the radius, 30',
    body: () => sphere(30),
    run: sealed,
    cases: cases([1, 5, 20], [30, 31, 45], (t) => (4 / 3) * Math.PI * (27000 - (30 - t) ** 3)),
  },
  {
    name: 'frustum R 20 to 30, H 50, open above',
    limit: 'the inner cone closes at 24.4 (its floor has no radius left)',
    body: () => taper(kernel),
    run: openTop,
    cases: cases([1, 3, 8, 14], [30, 40, 50], (t) => frustum(20, 30, 50) - coneInner(t)),
  },
  {
    name: 'rim of a cylinder R 20 H 60, rounded',
    limit: 'radius below 20',
    body: () => cylinder(kernel, 20, 60),
    run: round('convex', (body) => edgesOf(kernel, body, (e) => [...e.faces].includes(topFace(kernel, body).index))),
    cases: cases(
      [0.5, 2, 5, 12, 19],
      [20.4, 21, 30],
      (r) => Math.PI * 400 * 60 - 2 * Math.PI * (20 - spandrel(r).centroid) * spandrel(r).area,
    ),
  },
  {
    name: 'one edge of a box 60 × 40 × 30, rounded',
    limit: 'radius below the height, 30',
    body: () => box(kernel, a, b, c),
    run: round('convex', (body) => longEdges(body).slice(0, 1)),
    cases: cases([1, 5, 12, 20, 29], [30.6, 35, 41], (r) => a * b * c - spandrel(r).area * a),
  },
  {
    name: 'all edges of a box 60 × 40 × 30, rounded',
    limit: 'radius below half the height, 15',
    body: () => box(kernel, a, b, c),
    run: round('convex', (body) => edgesOf(kernel, body)),
    cases: cases([1, 4, 10, 14], [15.3, 16, 19, 20, 25], roundedBox),
  },
  {
    name: 'foot of a post R 15 on a plate R 30, filled',
    limit: 'radius below the ledge, 15',
    body: () => post(kernel),
    run: round('concave', (body) => edgesOf(kernel, body, (e) => e.name === 's1/c2|s1/c3')),
    cases: cases(
      [0.5, 3, 8, 14],
      [15.3, 16, 22],
      (r) => Math.PI * (900 * 20 + 225 * 30) + 2 * Math.PI * (15 + spandrel(r).centroid) * spandrel(r).area,
    ),
  },
  {
    name: 'upright edges of a box 60 × 40 × 30, rounded',
    limit: 'radius below half the narrower side, 20',
    body: () => box(kernel, a, b, c),
    run: round('convex', (body) => uprightEdges(body)),
    cases: cases([1, 5, 12, 19], [20.4, 25, 35], (r) => a * b * c - 4 * spandrel(r).area * c),
  },
  {
    name: 'one edge of a box 60 × 40 × 30, bevelled',
    limit: 'distance below the height, 30',
    body: () => box(kernel, a, b, c),
    run: bevel('convex', (body) => longEdges(body).slice(0, 1)),
    cases: cases([1, 5, 12, 20, 29], [30.6, 35, 41], (d) => a * b * c - (d * d * a) / 2),
  },
  {
    name: 'upright edges of a box 60 × 40 × 30, bevelled',
    limit: 'distance below half the narrower side, 20',
    body: () => box(kernel, a, b, c),
    run: bevel('convex', (body) => uprightEdges(body)),
    cases: cases([1, 5, 12, 19], [20.4, 25, 35], (d) => a * b * c - 2 * d * d * c),
  },
  {
    name: 'rim of a cylinder R 20 H 60, bevelled',
    limit: 'distance below 20',
    body: () => cylinder(kernel, 20, 60),
    run: bevel('convex', (body) => edgesOf(kernel, body, (e) => [...e.faces].includes(topFace(kernel, body).index))),
    cases: cases([0.5, 2, 5, 12, 19], [20.4, 21, 30], (d) => Math.PI * 400 * 60 - Math.PI * d * d * (20 - d / 3)),
  },
  {
    name: 'foot of a post R 15 on a plate R 30, bevelled',
    limit: 'distance below the ledge, 15',
    body: () => post(kernel),
    run: bevel('concave', (body) => edgesOf(kernel, body, (e) => e.name === 's1/c2|s1/c3')),
    cases: cases([0.5, 3, 8, 14], [15.3, 16, 22], (d) => Math.PI * (900 * 20 + 225 * 30) + Math.PI * d * d * (15 + d / 3)),
  },
  {
    name: 'cylinder R 20 H 60, open above, outwards',
    limit: 'none: the outer edge is rolled round',
    body: () => cylinder(kernel, 20, 60),
    run: (body, t) => hollow(kernel, body, [topFace(kernel, body)], t, 's2', 'outward'),
    // Side, floor, and a quarter ring round the foot (Pappus: centroid 4t / 3π out).
    cases: cases(
      [0.5, 2, 8],
      [],
      (t) =>
        Math.PI * ((20 + t) ** 2 - 400) * 60 + Math.PI * 400 * t + 2 * Math.PI * (20 + (4 * t) / (3 * Math.PI)) * ((Math.PI * t * t) / 4),
    ),
  },
  {
    name: 'skin of a tube R 20 H 30, given a wall inside',
    limit: 'wall below the radius, 20',
    body: () => tube(20, 30),
    run: (body, t) => inner(body, t),
    cases: cases([1, 5, 12, 19], [20, 21, 30], (t) => Math.PI * (400 - (20 - t) ** 2) * 30),
  },
  {
    name: 'skin of a tube R 20 H 30, given a wall outside',
    limit: 'none',
    body: () => tube(20, 30),
    run: (body, t) => inner(body, -t),
    cases: cases([1, 5, 20], [], (t) => Math.PI * ((20 + t) ** 2 - 400) * 30),
  },
];

/** The side of a cylinder alone, as a surface. */
function tube(r: number, h: number): KernelBody {
  const solid = cylinder(kernel, r, h);
  const skin = skinWithout(kernel, solid, new Set(['s1/c0', 's1/c2']));
  if (!skin.ok) throw new Error(skin.error);
  return skin.value;
}
/** A wall to the inside of a tube, whichever way its normals point. */
const inner = (body: KernelBody, t: number) => {
  const out = walled(kernel, body, 0.5, 's2');
  const grows = out.ok && out.value.volume > Math.PI * (20.25 ** 2 - 19.75 ** 2) * 30;
  return walled(kernel, body, grows ? -t : t, 's2');
};

const uprightEdges = (body: KernelBody): ReturnType<typeof edgesOf> =>
  edgesOf(kernel, body).filter((e) => {
    const b = boundsOf(kernel, e.edge);
    return b.max[2] - b.min[2] > 29;
  });

function longEdges(body: KernelBody): ReturnType<typeof edgesOf> {
  // Edges of length 60 run along x: their end faces are not among their neighbours.
  return edgesOf(kernel, body).filter((e) => {
    const props = new kernel.GProp_GProps();
    kernel.BRepGProp.LinearProperties(e.edge, props, false, false);
    return Math.abs(props.Mass() - 60) < 1e-6;
  });
}

for (const family of families)
  describe(`${family.name} (${family.limit})`, () => {
    for (const { value, volume } of family.cases)
      it(volume === null ? `${value} mm is refused` : `${value} mm is made, with the volume of its closed form`, () => {
        const result = family.run(made(family.name, family.body), value);
        if (volume === null) expect(result.ok, 'an impossible value was accepted').toBe(false);
        else {
          expect(result.ok ? 'made' : result.error.why).toBe('made');
          if (result.ok) expect(Math.abs(result.value.volume / volume - 1)).toBeLessThan(2e-5);
        }
      });
  });

it('holds at least a hundred and twenty cases, a third of them impossible', () => {
  const all = families.flatMap((f) => f.cases);
  expect(all.length).toBeGreaterThanOrEqual(120);
  expect(all.filter((x) => x.volume === null).length * 3).toBeGreaterThanOrEqual(all.length);
});
