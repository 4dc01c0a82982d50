import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { distanceToFit, inView } from './fit';

const FOV = (26 * Math.PI) / 360;
const UP = new THREE.Vector3(0, 0, 1);
/** Largest share of the stage's half width and height that corners of a box take, seen by three's own camera. */
function shares(
  min: [number, number, number],
  max: [number, number, number],
  from: [number, number, number],
  aspect: number,
  standing = { min, max },
): number {
  const aim = new THREE.Vector3(...min).add(new THREE.Vector3(...max)).divideScalar(2);
  const d = new THREE.Vector3(...from).normalize();
  const camera = new THREE.PerspectiveCamera(26, aspect, 0.1, 1e6);
  camera.up.copy(UP);
  camera.position.copy(aim).addScaledVector(d, distanceToFit({ min, max }, standing, aim, d, UP, FOV, aspect));
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
  it('leaves room for the figures beside it alone where curves reach far above it', () => {
    const low = { min: [-20, -20, 0] as [number, number, number], max: [20, 20, 30] as [number, number, number] };
    for (const from of [
      [0, -1, 0],
      [0.42, -0.8, 0.42],
    ] as [number, number, number][]) {
      const share = shares(low.min, [20, 20, 400], from, 1.5, low);
      expect(share).toBeLessThan(0.95);
      expect(share).toBeGreaterThan(0.7);
    }
  });
  it('is told in view or out of it', () => {
    const camera = new THREE.PerspectiveCamera(26, 1.5, 0.1, 1e4);
    camera.up.copy(UP);
    camera.position.set(0, -400, 50);
    camera.lookAt(0, 0, 50);
    expect(inView({ min: [-50, -50, 0], max: [50, 50, 100] }, camera)).toBe(true);
    expect(inView({ min: [-50, -50, 0], max: [50, 50, 180] }, camera)).toBe(false);
    expect(inView({ min: [-50, -50, 0], max: [300, 50, 100] }, camera)).toBe(false);
    // Behind the eye.
    expect(inView({ min: [-5, -900, 40], max: [5, -800, 60] }, camera)).toBe(false);
  });
});
