/** How far the eye stands off so that a body fills the stage and the figures beside it are seen. */
import * as THREE from 'three';
import type { Extent } from './extent';

/** Shares of a body's larger side that its leader lines take beside, above, and before or behind it. */
const [BESIDE, ABOVE, BEFORE] = [0.24, 0.2, 0.16] as const;
/** Shares of the stage's half width and half height that are used; the rest is for words and buttons. */
const [ACROSS, UP] = [0.94, 0.84] as const;

/** Whether all of an extent is on the screen. */
export function inView(extent: Extent, camera: THREE.Camera): boolean {
  camera.updateMatrixWorld();
  return corners(extent).every((c) => {
    const p = new THREE.Vector3(...c).project(camera);
    return Math.max(Math.abs(p.x), Math.abs(p.y), Math.abs(p.z)) <= 1;
  });
}

/**
 * Distance of the eye from where it looks, mm.
 * @param standing the bodies, which have figures beside them; within the extent. Null where there are no figures
 * @param d unit vector from there to the eye @param up the eye's up, not along `d`
 * @param fov half the vertical angle of view, rad @param aspect width by height
 */
export function distanceToFit(
  extent: Extent,
  standing: Extent | null,
  aim: THREE.Vector3,
  d: THREE.Vector3,
  up: THREE.Vector3,
  fov: number,
  aspect: number,
): number {
  const right = new THREE.Vector3().crossVectors(up, d).normalize();
  const above = new THREE.Vector3().crossVectors(d, right);
  const high = Math.tan(fov);
  let distance = 0;
  for (const [x, y, z] of [...corners(extent), ...(standing ? corners(withFigures(standing)) : [])]) {
    const v = new THREE.Vector3(x, y, z).sub(aim);
    const off = Math.max(Math.abs(v.dot(right)) / (high * aspect * ACROSS), Math.abs(v.dot(above)) / (high * UP));
    distance = Math.max(distance, v.dot(d) + off);
  }
  return distance;
}

function withFigures({ min, max }: Extent): Extent {
  const side = Math.max(max[0] - min[0], max[2] - min[2]);
  return {
    min: [min[0], min[1] - BEFORE * side, min[2]],
    max: [max[0] + BESIDE * side, max[1] + BEFORE * side, max[2] + ABOVE * side],
  };
}

const corners = ({ min, max }: Extent): (readonly [number, number, number])[] =>
  [min[0], max[0]].flatMap((x) => [min[1], max[1]].flatMap((y) => [min[2], max[2]].map((z) => [x, y, z] as const)));
