/** Bodies let down onto others, against closed forms: balls, planes, edges that cross; and against the sections of an independent library. */
import Module from 'manifold-3d';
import { beforeAll, describe, expect, it } from 'vitest';
import { arcOf, blockMesh, turnedMesh } from '../../../tests/support/meshes';
import type { Vec3 } from '../geometry/vectors';
import { contactAlong } from './contact';
import type { TriMesh } from './mesh';

const DOWN: Vec3 = [0, 0, -1];
let m: Awaited<ReturnType<typeof Module>>;
beforeAll(async () => {
  m = await Module();
  m.setup();
});
type Solid = InstanceType<(typeof m)['Manifold']>;
const meshOf = (s: Solid): TriMesh => {
  const { vertProperties, triVerts, numTri } = s.getMesh();
  return { positions: Float64Array.from(vertProperties), indices: Uint32Array.from(triVerts), faceOf: new Uint32Array(numTri) };
};
const ball = (radius: number, z: number): TriMesh => turnedMesh(arcOf(radius, z, 0, Math.PI, 90), 120);

describe('a body that is let down', () => {
  it('lands on a plate by its lowest place, from above, from within and from below alike', () => {
    const plate = blockMesh([-50, -50, 0], [50, 50, 10]);
    for (const z of [60, 12, -40]) {
      const found = contactAlong(ball(20, z), plate, DOWN)!;
      // Its lowest place comes to the plate's top.
      expect(found.distance).toBeCloseTo(z - 20 - 10, 6);
      expect(found.at[2]).toBeCloseTo(10, 6);
    }
  });
  it('of a ball on a ball stops where the middles are as far apart as both radii', () => {
    for (const aside of [0, 9, 20]) {
      const moved = ball(10, 80);
      const beside = { ...moved, positions: moved.positions.map((x, i) => (i % 3 === 0 ? x + aside : x)) };
      const found = contactAlong(beside, ball(15, 0), DOWN)!;
      // Faceted: a little later than the round ones.
      expect(found.distance).toBeGreaterThan(80 - Math.sqrt(25 ** 2 - aside ** 2) - 1e-6);
      expect(found.distance).toBeLessThan(80 - Math.sqrt(25 ** 2 - aside ** 2) + 0.06);
    }
  });
  it('stops where edges cross, though no corner meets a facet', () => {
    // Two square bars on their edges, one along x, one along y: ridge on ridge.
    const bar = m.Manifold.cube([100, 10, 10], true).rotate([45, 0, 0]);
    const found = contactAlong(meshOf(bar.rotate([0, 0, 90]).translate([3, 4, 70])), meshOf(bar), DOWN)!;
    expect(found.distance).toBeCloseTo(70 - 2 * 5 * Math.SQRT2, 4);
    for (const [k, x] of [3, 0, 5 * Math.SQRT2].entries()) expect(found.at[k]!).toBeCloseTo(x, 4);
  });
  it('goes by what lies aside, and along any direction', () => {
    const plate = blockMesh([-5, -5, 0], [5, 5, 10]);
    const aside = ball(3, 60);
    expect(contactAlong({ ...aside, positions: aside.positions.map((x, i) => (i % 3 === 1 ? x + 9 : x)) }, plate, DOWN)).toBeUndefined();
    const way: Vec3 = [Math.SQRT1_2, 0, Math.SQRT1_2];
    // From the block's middle against the way, towards its edge at x = −5, z = 0.
    const from = { ...aside, positions: aside.positions.map((x, i) => (i % 3 === 0 ? x - 45 : i % 3 === 2 ? x - 100 : x)) };
    const found = contactAlong(from, plate, way)!;
    expect(found.distance).toBeCloseTo(40 * Math.SQRT2 - 3, 1);
  });
  it('touches and does not run in: what both share is nothing before, and something a hundredth beyond', () => {
    for (const seed of [1, 2, 3, 4, 5, 6, 7, 8]) {
      const turn: [number, number, number] = [37 * seed, 71 * seed, 113 * seed];
      const a = m.Manifold.cube([12, 9, 7], true)
        .rotate(turn)
        .translate([seed - 4, 2, 60]);
      const b = m.Manifold.cylinder(20, 9, 4, 9, true).rotate([50 * seed, 20, 10 * seed]);
      const found = contactAlong(meshOf(a), meshOf(b), DOWN)!;
      const shared = (by: number): number => a.translate([0, 0, -by]).intersect(b).volume();
      expect([seed, shared(found.distance - 1e-3)]).toEqual([seed, 0]);
      expect(shared(found.distance + 0.05)).toBeGreaterThan(0);
    }
  });
});
