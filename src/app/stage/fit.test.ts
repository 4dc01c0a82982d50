import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { distanceToFit } from './fit';

const FOV = (26 * Math.PI) / 360;
const UP = new THREE.Vector3(0, 0, 1);
/** Largest share of the stage's half width and height that corners of a box take, seen by three's own camera. */
function shares(min: [number, number, number], max: [number, number, number], from: [number, number, number], aspect: number): number {
  const aim = new THREE.Vector3(...min).add(new THREE.Vector3(...max)).divideScalar(2);
  const d = new THREE.Vector3(...from).normalize();
  const camera = new THREE.PerspectiveCamera(26, aspect, 0.1, 1e6);
  camera.up.copy(UP);
  camera.position.copy(aim).addScaledVector(d, distanceToFit({ min, max }, aim, d, UP, FOV, aspect));
  camera.lookAt(aim);
  camera.updateMatrixWorld();
  let most = 0;
  for (const x of [min[0], max[0]])
    for (const y of [min[1], max[1]])
      for (const z of [min[2], max[2]]) {
        const p = new THREE.Vector3(x, y, z).project(camera);
        most = Math.max(most, Math.abs(p.x), Math.abs(p.y));
      }
  return most;
}

describe('a body on the stage', () => {
  const boxes: [[number, number, number], [number, number, number]][] = [
    [
      [-50, -50, 0],
      [50, 50, 100],
    ],
    [
      [0, -2, 0],
      [3, 1, 3],
    ],
    [
      [-450, -20, 0],
      [450, 20, 30],
    ],
    [
      [10, 10, 0],
      [30, 400, 10],
    ],
    [
      [-5, -5, -900],
      [5, 5, 0],
    ],
  ];
  it('is wholly in view from every side, whatever its size and shape, and fills a good part of it from the front', () => {
    for (const [min, max] of boxes)
      for (const from of [
        [0, -1, 0],
        [0, 1, 0],
        [1, 0, 0],
        [0, -1e-4, 1],
        [0.42, -0.8, 0.42],
      ] as [number, number, number][])
        for (const aspect of [1.5, 0.7, 2.4]) {
          const share = shares(min, max, from, aspect);
          expect(share).toBeLessThan(0.95);
          // Figures beside a long body take their room also where it is seen from its end.
          if (from[1] === -1) expect(share).toBeGreaterThan(0.4);
        }
  });
});
