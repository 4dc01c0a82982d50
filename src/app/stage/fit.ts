/** How far the eye stands off so that a body fills the stage and the figures beside it are seen. */
import * as THREE from 'three';
import type { Extent } from './extent';

/** Shares of a body's larger side that its leader lines take beside, above, and before or behind it. */
const [BESIDE, ABOVE, BEFORE] = [0.24, 0.2, 0.16] as const;
/** Shares of the stage's half width and half height that are used; the rest is for words and buttons. */
const [ACROSS, UP] = [0.94, 0.84] as const;

/**
 * Distance of the eye from where it looks, mm.
 * @param d unit vector from there to the eye @param up the eye's up, not along `d`
 * @param fov half the vertical angle of view, rad @param aspect width by height
 */
export function distanceToFit(
  extent: Extent,
  aim: THREE.Vector3,
  d: THREE.Vector3,
  up: THREE.Vector3,
  fov: number,
  aspect: number,
): number {
  const right = new THREE.Vector3().crossVectors(up, d).normalize();
  const above = new THREE.Vector3().crossVectors(d, right);
  const side = Math.max(extent.max[0] - extent.min[0], extent.max[2] - extent.min[2]);
  const high = Math.tan(fov);
  let distance = 0;
  for (const x of [extent.min[0], extent.max[0] + BESIDE * side])
    for (const y of [extent.min[1] - BEFORE * side, extent.max[1] + BEFORE * side])
      for (const z of [extent.min[2], extent.max[2] + ABOVE * side]) {
        const v = new THREE.Vector3(x, y, z).sub(aim);
        const off = Math.max(Math.abs(v.dot(right)) / (high * aspect * ACROSS), Math.abs(v.dot(above)) / (high * UP));
        distance = Math.max(distance, v.dot(d) + off);
      }
  return distance;
}
