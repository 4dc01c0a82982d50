/** Forms inside forms: how far they stay away, by another library's nearest places, and what must hold of several walls. */
import * as THREE from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { everyCase } from '../../../tests/support/properties';
import { massProperties } from '../mesh/mesh';
import { type Cage, type Net, netOf, type P3 } from './cage';
import { applyEdit } from './edit/edit';
import { NO_SYMMETRY } from './edit/symmetry';
import { insideForm } from './inside';
import { limitMesh } from './limit';
import { ballCage, boxCage, torusCage, tubeCage } from './starts';

const netIn = (cage: Cage): Net => {
  const net = netOf(cage);
  if (!net.ok) throw new Error(net.error.what);
  return net.value;
};
const volume = (net: Net): number => {
  const { places, indices, faceOf } = limitMesh(net, 4);
  return massProperties({ positions: places, indices, faceOf }).volume;
};
/** Least and largest distance of places of the inside from the outside, by three-mesh-bvh. */
function away(outside: Net, inside: Net): [number, number] {
  const { places, indices } = limitMesh(outside, 5);
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(Float32Array.from(places), 3));
  geometry.setIndex(new THREE.BufferAttribute(indices.slice(), 1));
  const bvh = new MeshBVH(geometry);
  let [least, most] = [Number.POSITIVE_INFINITY, 0];
  const p = new THREE.Vector3();
  const inner = limitMesh(inside, 3).places;
  for (let i = 0; i < inner.length; i += 3) {
    const d = bvh.closestPointToPoint(p.set(inner[i]!, inner[i + 1]!, inner[i + 2]!))!.distance;
    [least, most] = [Math.min(least, d), Math.max(most, d)];
  }
  return [least, most];
}
/** A box with a foot drawn out of its top: ridges, hollows and vertices of three and five edges. */
const stepped = (): Cage => {
  const box = boxCage([60, 60, 30], [3, 3, 2]);
  const top = box.faces.flatMap((f, i) => (f.every((v) => box.vertices[v]![2] === 30 && Math.abs(box.vertices[v]![0]) < 11) ? [i] : []));
  const made = applyEdit(
    box,
    { kind: 'faces', faces: top },
    { do: 'extrude', distance: 25, as: 'one' },
    { symmetry: NO_SYMMETRY, weigh: Number },
  );
  if (!made.ok) throw new Error(made.error);
  return made.value.cage;
};
const CASES: readonly (readonly [string, Cage, readonly number[]])[] = [
  ['a ball', ballCage(30, 2), [0.5, 2, 8]],
  ['a rounded box', boxCage([80, 60, 40], [3, 2, 2]), [0.8, 3, 6]],
  ['a ring', torusCage(40, 14, 8, 12), [1, 3]],
  ['a stepped body', stepped(), [1.2, 3]],
  ['a tube, open', tubeCage(30, 80, 12, 5), [2]],
];

describe('a form inside a form', () => {
  for (const [name, cage, walls] of CASES)
    it(`keeps the wall everywhere, and is smaller the thicker it is: ${name}`, () => {
      let before = volume(netIn(cage));
      for (const wall of everyCase ? walls : walls.slice(-2)) {
        const made = insideForm(cage, wall);
        if (!made.ok) throw new Error(`${wall}: ${made.error.why}`);
        const [least, most] = away(netIn(cage), made.value.net);
        // Between the places it is planned at it may be a little less: the exact wall has the last word.
        expect(least).toBeGreaterThan(wall - 0.01);
        expect(least).toBeLessThan(1.1 * wall);
        // What is told is what another measures.
        expect(Math.abs(made.value.most - most)).toBeLessThan(0.1 * wall + 0.05);
        const now = volume(made.value.net);
        expect(now).toBeLessThan(before);
        expect(now).toBeGreaterThan(0);
        before = now;
      }
    });
  it('follows a ball within a fifth of the wall', () => {
    const made = insideForm(ballCage(30, 2), 2);
    expect(made.ok && made.value.most).toBeLessThan(2.4);
  });
  it('says where there is no room', () => {
    const thin: Cage = { ...boxCage([60, 60, 3], [4, 4, 1]) };
    const made = insideForm(thin, 4);
    expect(made.ok).toBe(false);
    if (!made.ok) expect(made.error.why).toMatch(/no room|would fold/);
    const nearly: P3 = made.ok ? [0, 0, 0] : made.error.at;
    expect(nearly.every(Number.isFinite)).toBe(true);
  });
});
