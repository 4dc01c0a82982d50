/** Deviation against closed forms: balls and planes at a known distance; and against the nearest points of an independent library. */
import * as THREE from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { arcOf, turnedMesh } from '../../../tests/support/meshes';
import { buildBvh } from '../mesh/bvh';
import type { TriMesh } from '../mesh/mesh';
import { deviationMap } from './deviation';
import { facetsOf } from './facets';

const ball = (radius: number, z = 0, n = 96): TriMesh => turnedMesh(arcOf(radius, z, 0, Math.PI, 64), n);
const never = (): boolean => false;

describe('deviation', () => {
  it('of balls in one another is the difference of their radii, with its sign', async () => {
    for (const [inner, outer] of [
      [20, 20.5],
      [20.5, 20],
    ] as const) {
      const map = (await deviationMap(facetsOf(ball(outer), 3), buildBvh(ball(inner)), never, 0.6, 5))!;
      // Both are faceted alike: a little less than the difference between.
      expect(map.mean).toBeCloseTo(outer - inner, 1);
      expect(map.rms).toBeCloseTo(Math.abs(outer - inner), 1);
      expect(map.within).toBe(1);
      expect(outer > inner ? map.under : map.over).toEqual([]);
    }
  });
  it('of a ball set aside is told where it is: outside on one side, inside on the other', async () => {
    const map = (await deviationMap(facetsOf(ball(20, 1), 3), buildBvh(ball(20)), never, 0.5, 5))!;
    expect(map.over[0]!.value).toBeCloseTo(1, 1);
    expect(map.over[0]!.at[2]).toBeGreaterThan(20);
    expect(map.under[0]!.value).toBeCloseTo(-1, 1);
    expect(map.under[0]!.at[2]).toBeLessThan(-18);
    // Within half of the distance lies what faces within 30° of sideways: half of the ball's skin, by Archimedes.
    expect(map.within).toBeCloseTo(0.5, 1);
  });
  it('agrees with an independent library’s nearest points to 1e-6', async () => {
    const [a, b] = [facetsOf(ball(20, 2, 40), 4), ball(19, 0, 40)];
    const map = (await deviationMap(a, buildBvh(b), never, 1, 5))!;
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(Float64Array.from(b.positions), 3));
    g.setIndex(new THREE.BufferAttribute(b.indices.slice(), 1));
    const tree = new MeshBVH(g);
    for (let t = 0; t < map.values.length; t += 7) {
      const found = tree.closestPointToPoint(new THREE.Vector3(...[0, 1, 2].map((k) => a.centres[3 * t + k]!)))!;
      expect(Math.abs(Math.abs(map.values[t]!) - found.distance)).toBeLessThan(1e-6 + 4e-7 * found.distance);
    }
  });
  it('says nothing where the other ends, and gives up when told to', async () => {
    const half = turnedMesh(arcOf(20, 0, 0, Math.PI / 2, 32));
    const rim = new Set<number>();
    half.indices.forEach((v, i) => {
      if (Math.abs(half.positions[3 * v + 2]!) < 1e-6) rim.add(Math.floor(i / 3));
    });
    const map = (await deviationMap(facetsOf(ball(20.2), 3), buildBvh(half), (t) => rim.has(t), 0.3, 5))!;
    expect(map.compared).toBeGreaterThan(0.4);
    expect(map.compared).toBeLessThan(0.6);
    expect(map.within).toBe(1);
    expect(await deviationMap(facetsOf(ball(20.2), 3), buildBvh(half), never, 0.3, 5, async () => false)).toBeNull();
  });
});
