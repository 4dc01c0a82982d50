/** Ways to lie against closed forms and what trade would choose. */
import { describe, expect, it } from 'vitest';
import { turnedMesh } from '../../../tests/support/meshes';
import { moved, turnAbout } from '../curves/motion';
import type { Vec3 } from '../geometry/vectors';
import { massProperties, type TriMesh } from '../mesh/mesh';
import { EVEN, laid, leastRectangle, lieOf, lies, sorted } from './lie';
import { DESKTOP, linesOf, type Printer, secondsOf } from './printer';

const DOWN: Vec3 = [0, 0, -1];
const mm2 = (d: number): number => (Math.PI / 4) * d * d;
const printer = (more: Partial<Printer> = {}): Printer => ({ ...DESKTOP, ...more });

/** An outline in x and z, anticlockwise and convex or split into such, drawn out along y. */
function prism(
  outline: readonly (readonly [number, number])[],
  caps: readonly (readonly [number, number, number])[],
  depth: number,
): TriMesh {
  const n = outline.length;
  const positions = [0, depth].flatMap((y) => outline.flatMap(([x, z]) => [x, y, z]));
  const indices: number[] = [];
  const faceOf: number[] = [];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    indices.push(i, j, n + j, i, n + j, n + i);
    faceOf.push(i, i);
  }
  for (const [a, b, c] of caps) {
    indices.push(a, c, b, n + a, n + b, n + c);
    faceOf.push(n, n + 1);
  }
  const mesh = { positions: Float64Array.from(positions), indices: Uint32Array.from(indices), faceOf: Uint32Array.from(faceOf) };
  // Outwards, whichever way that came.
  if (massProperties(mesh).volume > 0) return mesh;
  return { ...mesh, indices: mesh.indices.map((_, i, all) => all[i - (i % 3) + [0, 2, 1][i % 3]!]!) };
}
const fan = (n: number): [number, number, number][] => Array.from({ length: n - 2 }, (_, i) => [0, i + 1, i + 2]);
const block = (x: number, y: number, z: number): TriMesh =>
  prism(
    [
      [0, 0],
      [x, 0],
      [x, z],
      [0, z],
    ],
    fan(4),
    y,
  );
const turned = (profile: readonly (readonly [number, number])[], n = 360): TriMesh => turnedMesh(profile, n);
/** A T of a stem 10 wide and 30 high under a beam 40 by 10, 20 deep. */
const tee = prism(
  [
    [15, 0],
    [25, 0],
    [25, 30],
    [40, 30],
    [40, 40],
    [0, 40],
    [0, 30],
    [15, 30],
  ],
  [
    [0, 1, 2],
    [0, 2, 7],
    [7, 2, 4],
    [2, 3, 4],
    [7, 4, 5],
    [7, 5, 6],
  ],
  20,
);
/** A doorway 20 wide and 25 high in a block 40 by 35, 20 deep. */
const arch = prism(
  [
    [0, 0],
    [10, 0],
    [10, 25],
    [30, 25],
    [30, 0],
    [40, 0],
    [40, 35],
    [0, 35],
  ],
  [
    [0, 1, 2],
    [0, 2, 7],
    [3, 4, 5],
    [3, 5, 6],
    [2, 3, 6],
    [2, 6, 7],
  ],
  20,
);
const within = (value: number, wanted: number, share = 0.01): void =>
  expect(Math.abs(value / wanted - 1), `${value} for ${wanted}`).toBeLessThan(share);
const best = async (mesh: TriMesh, more: Partial<Printer> = {}) => sorted((await lies(mesh, printer(more)))!, EVEN)[0]!;
const nearest = (v: Vec3): string => v.map((c) => Math.round(c) + 0).join();

describe('what is held up', () => {
  it('of a block is nothing: its foot, its size and its lean (the half of its foot over the height of its centre)', () => {
    const l = lieOf(block(40, 30, 20), DOWN, printer());
    expect([l.contact, l.steep, l.support, l.bridged]).toEqual([1200, 0, 0, 0]);
    expect(l.size.map((v) => Number(v.toFixed(6)))).toEqual([40, 30, 20]);
    expect(l.tipping).toBeCloseTo(Math.atan2(15, 10), 9);
    expect([l.layers, l.fits, l.face]).toEqual([100, true, 0]);
    expect(lieOf(block(40, 30, 20), DOWN, printer({ bed: [39, 100, 100] })).fits).toBe(true);
    expect(lieOf(block(40, 30, 20), DOWN, printer({ bed: [39, 39, 100] })).fits).toBe(false);
    expect(lieOf(block(40, 30, 20), DOWN, printer({ bed: [40, 30, 19] })).fits).toBe(false);
  });
  it('under the arms of a T is what fills to the bed: they are held on one side only, so not bridged', () => {
    const l = lieOf(tee, DOWN, printer({ bridge: 100 }));
    expect([l.steep, l.bridged]).toEqual([600, 0]);
    within(l.support, 2 * 15 * 20 * 30);
    expect(l.contact).toBe(200);
  });
  it('in a doorway is bridged where the printer reaches across, and filled where not', () => {
    const narrow = lieOf(arch, DOWN, printer({ bridge: 19 }));
    expect(narrow.bridged).toBe(0);
    within(narrow.support, 20 * 20 * 25);
    const wide = lieOf(arch, DOWN, printer({ bridge: 20.2 }));
    expect(wide.support).toBe(0);
    within(wide.bridged, 20 * 20);
    expect(wide.steep).toBeLessThan(8);
  });
  it('under a cone is the cylinder about it less the cone, where it leans more than the limit', () => {
    const [a, b, h] = [10, 40, 15];
    const cone = turned([
      [0, 0],
      [a, 0],
      [b, h],
      [0, h],
    ]);
    // Mensuration; its side leans by atan(30/15) = 63.4° from the upright.
    const l = lieOf(cone, DOWN, printer());
    within(l.support, Math.PI * b * b * h - ((Math.PI * h) / 3) * (a * a + a * b + b * b));
    within(l.steep, Math.PI * (a + b) * Math.hypot(b - a, h));
    within(l.contact, mm2(2 * a));
    const kept = lieOf(cone, DOWN, printer({ overhang: (65 * Math.PI) / 180 }));
    expect([kept.support, kept.steep]).toEqual([0, 0]);
  });
  it('under a ball is what lies beneath its cap of that lean', () => {
    const R = 25;
    const ball = turned(
      Array.from({ length: 181 }, (_, i) => [R * Math.max(0, Math.sin((i * Math.PI) / 180)), R - R * Math.cos((i * Math.PI) / 180)]),
    );
    const l = lieOf(ball, DOWN, printer());
    const r = R * Math.SQRT1_2;
    within(l.support, Math.PI * r * r * R - ((2 * Math.PI) / 3) * (R ** 3 - (R * R - r * r) ** 1.5), 0.015);
    // It does not stand: its foot is next to nothing.
    expect(l.contact / mm2(2 * R)).toBeLessThan(0.01);
  });
  it('is the same turned about the upright, and grows by the cube of the size', () => {
    const { support } = lieOf(tee, DOWN, printer());
    for (const degrees of [17, 45, 133]) {
      const k = turnAbout([0, 0, 0], [0, 0, 1], (degrees * Math.PI) / 180);
      const positions = tee.positions.slice();
      for (let i = 0; i < positions.length; i += 3) positions.set(moved(k, [positions[i]!, positions[i + 1]!, positions[i + 2]!]), i);
      const l = lieOf({ ...tee, positions }, DOWN, printer());
      within(l.support, support, 0.015);
      expect(l.size[0]).toBeCloseTo(40, 6);
    }
    const larger = lieOf({ ...tee, positions: tee.positions.map((v) => 3 * v) }, DOWN, printer());
    within(larger.support, 27 * support, 1e-6);
  });
});

describe('the way a body lies best', () => {
  it('of a cup is upright, of a lid on its head, of a T on its side, of a wedge on its largest face', async () => {
    const cup = turned([
      [0, 0],
      [30, 0],
      [30, 70],
      [27, 70],
      [27, 3],
      [0, 3],
    ]);
    expect(nearest((await best(cup)).down)).toBe('0,0,-1');
    // Upside down it would be filled to its floor.
    within(lieOf(cup, [0, 0, 1], printer({ bridge: 0 })).support, mm2(54) * 67);
    // Near its sides the floor is bridged across the corner.
    expect(lieOf(cup, [0, 0, 1], printer()).bridged).toBeGreaterThan(20);
    // A lid: a plate with a rim that goes down.
    const lid = turned([
      [0, 12],
      [27, 12],
      [27, 0],
      [30, 0],
      [30, 15],
      [0, 15],
    ]);
    expect(nearest((await best(lid)).down)).toBe('0,0,1');
    const l = await best(tee);
    expect([Math.abs(Math.round(l.down[1])), l.support]).toEqual([1, 0]);
    // A doorway on its back: nothing to hold up, and the larger foot.
    const a = await best(arch);
    expect([Math.abs(Math.round(a.down[1])), a.support, Math.round(a.contact)]).toEqual([1, 0, 40 * 35 - 20 * 25]);
    const wedge = prism(
      [
        [0, 0],
        [60, 0],
        [0, 20],
      ],
      fan(3),
      12,
    );
    expect((await best(wedge)).contact).toBeCloseTo(12 * Math.hypot(60, 20), 0);
  });
  it('fits the bed and stands by itself before all else', async () => {
    const pole = block(8, 8, 290);
    // Longer than the bed is wide: aslant it fits.
    const l = await best(pole);
    expect([Math.abs(l.down[2]) < 0.01, l.fits, l.size[2]]).toEqual([true, true, 8]);
    expect(l.turn).toBeGreaterThan(0.6);
    expect(laid(pole, l).positions.every((v, i) => i % 3 === 2 || Math.abs(v) <= 110.001)).toBe(true);
    expect(Math.abs((await best(pole, { bed: [120, 120, 320] })).down[2])).toBeCloseTo(1, 6);
    const ball = turned(
      Array.from({ length: 41 }, (_, i) => [20 * Math.max(0, Math.sin((i * Math.PI) / 40)), -20 * Math.cos((i * Math.PI) / 40)]),
      80,
    );
    // A ball stands no way: then all that were thought of are told.
    expect((await lies(ball, printer()))!.length).toBeGreaterThan(20);
    for (const l of (await lies(tee, printer()))!) expect(l.tipping).toBeGreaterThan(0);
    let asked = 0;
    expect(await lies(tee, printer(), async () => ++asked < 2)).toBeNull();
  });
});

describe('what is laid', () => {
  it('is the same body, on the bed, about its middle, its longer side along x', () => {
    for (const down of [DOWN, [1, 0, 0], [0, 0.6, -0.8], [-0.48, 0.6, 0.64]] as const) {
      const out = laid(tee, { down, turn: 0 });
      expect(massProperties(out).volume).toBeCloseTo(massProperties(tee).volume, 6);
      const [lo, hi] = [0, 1, 2]
        .map((k) => out.positions.filter((_, i) => i % 3 === k))
        .map((v) => [Math.min(...v), Math.max(...v)])
        .reduce(
          (all, [a, b]) => [
            [...all[0]!, a!],
            [...all[1]!, b!],
          ],
          [[], []] as number[][],
        ) as [number[], number[]];
      expect(lo[2]).toBeCloseTo(0, 9);
      expect(lo[0]! + hi[0]!).toBeCloseTo(0, 9);
      expect(lo[1]! + hi[1]!).toBeCloseTo(0, 9);
      const l = lieOf(tee, down, printer());
      [hi[0]! - lo[0]!, hi[1]! - lo[1]!, hi[2]!].forEach((v, k) => {
        expect(v).toBeCloseTo(l.size[k]!, 6);
      });
    }
    expect(
      leastRectangle([
        [0, 0],
        [3, 4],
        [3 - 8, 4 + 6],
        [-8, 6],
      ]),
    ).toMatchObject({ long: 10, short: 5 });
  });
});

it('time is its lines at their speed and so much a layer; a wall is so many lines', () => {
  // 0.45 by 0.2 at 60 mm/s lay 5.4 mm³ a second (worked out by hand).
  expect(secondsOf(DESKTOP, 5400, 0, 100)).toBeCloseTo(1200, 6);
  expect(secondsOf(DESKTOP, 5400, 27_000, 0)).toBeCloseTo(2000, 6);
  expect(linesOf(1.5, 0.75)).toEqual({ exact: 2, whole: 2, width: 0.75 });
  expect(linesOf(1.5, 0.7)).toMatchObject({ whole: 2, width: 0.75 });
  expect(linesOf(1.5, 0.7).exact).toBeCloseTo(2.142857, 6);
  expect(linesOf(0.2, 0.45)).toMatchObject({ whole: 1, width: 0.2 });
});
