/** Joins and curvature on exact surfaces of known shape (differential geometry textbooks), capacity by height and standing. */
import { beforeAll, describe, expect, it } from 'vitest';
import { box, cylinder, polyProfile, taper, testKernel, topFace, turned } from '../../../tests/support/kernel';
import { written } from '../../../tests/support/profile';
import { joinClass } from '../../core/inspect/joins';
import { footprint, standOf } from '../../core/inspect/stand';
import { massProperties } from '../../core/mesh/mesh';
import type { KernelBody } from '../body';
import { fillTable, heightFor, holding, openMeshKernel } from '../hold';
import type { Kernel } from '../open';
import { hollow } from '../steps/shell';
import { tessellate, weldedMesh } from '../tessellate';
import { curvatureMap } from './curvature';
import { measureJoins } from './joins';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
});

/** A half profile of one arc from the axis, or beside it, with straight stretches after it. */
const arcs = (
  points: readonly (readonly [number, number])[],
  arcsOf: readonly (readonly [number, number, number])[],
  lines: readonly (readonly [number, number])[],
) =>
  written({
    id: 'd',
    name: 'D',
    points: points.map(([x, y], i) => ({ id: `p${i}`, x: `${x}`, y: `${y}` })),
    curves: [
      ...arcsOf.map(([a, m, b], i) => ({ kind: 'arc' as const, id: `a${i}`, from: `p${a}`, to: `p${b}`, through: `p${m}` })),
      ...lines.map(([a, b], i) => ({ kind: 'line' as const, id: `l${i}`, from: `p${a}`, to: `p${b}` })),
    ],
  });
/** A cylinder R 20, 30 high, with a half ball on it. */
const domed = (): KernelBody =>
  turned(
    kernel,
    arcs(
      [
        [0, 0],
        [20, 0],
        [20, 30],
        [20 * Math.SQRT1_2, 30 + 20 * Math.SQRT1_2],
        [0, 50],
      ],
      [[2, 3, 4]],
      [
        [0, 1],
        [1, 2],
      ],
    ),
  );
const torus = (): KernelBody =>
  turned(
    kernel,
    arcs(
      [
        [22, 0],
        [30, 8],
        [38, 0],
        [30, -8],
      ],
      [
        [0, 1, 2],
        [2, 3, 0],
      ],
      [],
    ),
  );

describe('the join table', () => {
  it('reads 90° on a box, and no gap', async () => {
    const joins = (await measureJoins(kernel, box(kernel, 30, 20, 10)))!;
    expect(joins).toHaveLength(12);
    for (const j of joins) {
      expect(j.angle).toBeCloseTo(Math.PI / 2, 9);
      expect(j.gap).toBeLessThan(1e-9);
      expect(joinClass(j)).toBe('G0');
    }
    expect(joins.reduce((sum, j) => sum + j.length, 0)).toBeCloseTo(4 * 60, 9);
  });
  it('reads G1 where a dome meets its cylinder, with a jump of curvature of 1/R', async () => {
    const joins = (await measureJoins(kernel, domed()))!;
    const smooth = joins.find((j) => j.angle < 0.01)!;
    expect(joinClass(smooth)).toBe('G1');
    expect(smooth.bend).toBeCloseTo(1 / 20, 6);
    expect(smooth.mismatch).toBeCloseTo(1, 6);
    expect(smooth.at[2]).toBeCloseTo(30, 6);
    expect(joins.filter((j) => joinClass(j) === 'G0')).toHaveLength(1);
  });
  it('reads G2 where the two halves of a ring go on in each other', async () => {
    const joins = (await measureJoins(kernel, torus()))!;
    expect(joins.map((j) => joinClass(j))).toEqual(['G2', 'G2']);
    for (const j of joins) expect(j.bend).toBeLessThan(1e-9);
  });
  it('reads the angle of a frustum’s rim, and stops when told to', async () => {
    const joins = (await measureJoins(kernel, taper(kernel)))!;
    const side = Math.atan2(10, 50);
    expect(joins.map((j) => j.angle).sort()).toEqual([expect.closeTo(Math.PI / 2 - side, 9), expect.closeTo(Math.PI / 2 + side, 9)].sort());
    expect(await measureJoins(kernel, torus(), async () => false)).toBeNull();
  });
});

describe('curvature', () => {
  const map = async (body: KernelBody) => {
    const mesh = tessellate(kernel, body.shape, 0.1);
    return { mesh, ...(await curvatureMap(kernel, body, mesh))! };
  };
  it('of a cylinder, a frustum and a ball is 1/R, to 1e-6', async () => {
    const c = await map(cylinder(kernel, 20, 60));
    for (let v = 0; v < c.largest.length; v++) {
      const wall = Math.abs(c.largest[v]!) > 1e-9;
      expect(c.largest[v]!).toBeCloseTo(wall ? 1 / 20 : 0, 6);
      expect(Math.abs(c.smallest[v]!)).toBeLessThan(1e-6);
    }
    expect(c.convex.map((t) => t.radius)).toEqual([expect.closeTo(20, 6)]);
    // A cone's bend at radius r is cos of its half angle over r, tightest at its small end.
    const f = await map(taper(kernel));
    expect(f.convex[0]!.radius).toBeCloseTo(20 * Math.hypot(1, 1 / 5), 4);
    const d = await map(domed());
    const ball = d.convex.find((t) => t.at[2] > 30.01)!;
    expect(ball.radius).toBeCloseTo(20, 5);
  });
  it('of a ring is cos θ / (R + r cos θ) one way and 1/r the other, hollow inside', async () => {
    const t = await map(torus());
    for (let v = 0; v < t.largest.length; v++) {
      const [x, y] = [t.mesh.positions[3 * v]!, t.mesh.positions[3 * v + 1]!];
      const cos = (Math.hypot(x, y) - 30) / 8;
      expect(t.largest[v]!).toBeCloseTo(1 / 8, 6);
      expect(t.smallest[v]!).toBeCloseTo(cos / (30 + 8 * cos), 5);
    }
    // Inside, nearest to the axis, it is as hollow as the hole: 22.
    expect(t.concave[0]!.radius).toBeCloseTo(22, 4);
    expect(t.convex[0]!.radius).toBeCloseTo(8, 5);
  });
});

describe('a vessel filled', () => {
  it('holds by height what a frustum holds, and the height for a volume is found back', async () => {
    // Inside a cone R 20 to 30 over 50, a wall of 2: inner radius 20 + z/5 − 2·slant from a floor of 2 up.
    const body = taper(kernel);
    const cup = hollow(kernel, body, [topFace(kernel, body)], 2, 's2');
    if (!cup.ok) throw new Error(cup.error.why);
    const mesh = weldedMesh(tessellate(kernel, cup.value.shape, 0.01, 0.1));
    const m = await openMeshKernel();
    const held = (await holding(mesh, 0, m))!;
    const r = (z: number): number => 20 + z / 5 - 2 * Math.hypot(1, 1 / 5);
    const volume = (h: number): number => (Math.PI / 3) * h * (r(2) ** 2 + r(2) * r(2 + h) + r(2 + h) ** 2);
    const table = await fillTable(mesh, held, m, 8);
    expect(table).toHaveLength(8);
    for (const row of table) expect(Math.abs(row.volume / volume(row.height) - 1)).toBeLessThan(1e-3);
    expect(table[7]!.volume / held.toBrim).toBeCloseTo(1, 4);
    const height = (await heightFor(mesh, held, 50_000, m))!;
    expect(Math.abs(volume(height) / 50_000 - 1)).toBeLessThan(1e-3);
    expect(await heightFor(mesh, held, 1e9, m)).toBeNull();
  });
  it('tips as a cylinder does: atan of radius over half its height', () => {
    const mesh = weldedMesh(tessellate(kernel, cylinder(kernel, 20, 60).shape, 0.005, 0.05));
    const foot = footprint(mesh);
    const stand = standOf(foot, 0, massProperties(mesh).centroid);
    expect(stand.tipping).toBeCloseTo(Math.atan(20 / 30), 3);
    // A tray on a small foot, its centre beyond it, falls by itself.
    const lean = weldedMesh(
      tessellate(
        kernel,
        turned(
          kernel,
          polyProfile([
            [0, 0],
            [5, 0],
            [5, 40],
            [0, 40],
          ]),
        ).shape,
        0.05,
      ),
    );
    expect(standOf(footprint(lean), 0, [9, 0, 20]).tipping).toBeLessThan(0);
  });
});
