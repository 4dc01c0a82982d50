/** Deviation against closed forms: balls and planes at a known distance; and against the nearest points of an independent library. */
import * as THREE from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { arcOf, turnedMesh } from '../../../tests/support/meshes';
import type { TriMesh } from '../mesh/mesh';
import { deviationMap } from './deviation';
import { facetsOf } from './facets';

const ball = (radius: number, z = 0, n = 96): TriMesh => turnedMesh(arcOf(radius, z, 0, Math.PI, 64), n);

describe('deviation', () => {
  it('of balls in one another is the difference of their radii, with its sign', async () => {
    for (const [inner, outer] of [
      [20, 20.5],
      [20.5, 20],
    ] as const) {
      const map = (await deviationMap(facetsOf(ball(outer), 3), ball(inner), 0.6, 5))!;
      // Both are faceted alike: a little less than the difference between.
      expect(map.mean).toBeCloseTo(outer - inner, 1);
      expect(map.rms).toBeCloseTo(Math.abs(outer - inner), 1);
      expect(map.within).toBe(1);
      expect(outer > inner ? map.under : map.over).toEqual([]);
    }
  });
  it('of a ball set aside is told where it is: outside on one side, inside on the other', async () => {
    const map = (await deviationMap(facetsOf(ball(20, 1), 3), ball(20), 0.5, 5))!;
    expect(map.over[0]!.value).toBeCloseTo(1, 1);
    expect(map.over[0]!.at[2]).toBeGreaterThan(20);
    expect(map.under[0]!.value).toBeCloseTo(-1, 1);
    expect(map.under[0]!.at[2]).toBeLessThan(-18);
    // Within half of the distance lies what faces within 30° of sideways: half of the ball's skin, by Archimedes.
    expect(map.within).toBeCloseTo(0.5, 1);
  });
  it('knows inside from outside beside sharp edges and corners, where a single facet does not', async () => {
    const box = await import('manifold-3d').then(async (m) => {
      const wasm = await m.default();
      wasm.setup();
      const mesh = wasm.Manifold.cube([10, 10, 10], true).rotate([20, 35, 50]).getMesh();
      return {
        positions: Float64Array.from(mesh.vertProperties),
        indices: Uint32Array.from(mesh.triVerts),
        faceOf: new Uint32Array(mesh.numTri),
      };
    });
    // All of a ball about a cube lies outside, all of one in it inside.
    const out = (await deviationMap(facetsOf(ball(14), 2), box, 0.5, 5))!;
    expect([out.under, out.over.length > 0]).toEqual([[], true]);
    const within = (await deviationMap(facetsOf(ball(4.9), 1), box, 0.5, 5))!;
    expect(within.over).toEqual([]);
    // And of the cube's own skin against the ball: its corners stand out by 5 √3 − 7.
    const skin = (await deviationMap(facetsOf(box, 0.4), ball(7), 0.5, 5))!;
    expect(skin.over[0]!.value).toBeCloseTo(5 * Math.sqrt(3) - 7, 0);
    expect(skin.under[0]!.value).toBeCloseTo(-2, 1);
    expect(skin.touching / (6 * 100)).toBeCloseTo(skin.within, 6);
  });
  it('agrees with an independent library’s nearest points to 1e-6', async () => {
    const [a, b] = [facetsOf(ball(20, 2, 40), 4), ball(19, 0, 40)];
    const map = (await deviationMap(a, b, 1, 5))!;
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
    const map = (await deviationMap(facetsOf(ball(20.2), 3), half, 0.3, 5))!;
    expect(map.compared).toBeGreaterThan(0.4);
    expect(map.compared).toBeLessThan(0.6);
    expect(map.within).toBe(1);
    expect(await deviationMap(facetsOf(ball(20.2), 3), half, 0.3, 5, async () => false)).toBeNull();
  });
});
