/** A block and a camera, for what is picked on the stage. */
import * as THREE from 'three';
import type { Pickable } from '../../src/app/stage/pick';

export const SIZE = { width: 690, height: 450 };

/** A block between −a and a, its faces −x +x −y +y −z +z, its edges named by the two they part. */
export function block(a: readonly [number, number, number]): Pickable {
  const positions: number[] = [];
  const indices: number[] = [];
  const faceOf: number[] = [];
  const segments: number[] = [];
  const edgeNames: string[] = [];
  const corner = (x: number, y: number, z: number): number[] => [x * a[0], y * a[1], z * a[2]];
  for (let f = 0; f < 6; f++) {
    const k = f >> 1;
    const side = f % 2 ? 1 : -1;
    const at = (u: number, v: number): number[] =>
      corner(...(([0, 1, 2] as const).map((i) => (i === k ? side : i === (k + 1) % 3 ? u : v)) as [number, number, number]));
    const first = positions.length / 3;
    positions.push(...at(-1, -1), ...at(1, -1), ...at(1, 1), ...at(-1, 1));
    indices.push(first, first + 1, first + 2, first, first + 2, first + 3);
    faceOf.push(f, f);
  }
  for (let k = 0; k < 3; k++)
    for (const u of [-1, 1])
      for (const v of [-1, 1]) {
        const at = (t: number): number[] =>
          corner(...(([0, 1, 2] as const).map((i) => (i === k ? t : i === (k + 1) % 3 ? u : v)) as [number, number, number]));
        segments.push(...at(-1), ...at(1));
        edgeNames.push(`${2 * ((k + 1) % 3) + (u > 0 ? 1 : 0)}|${2 * ((k + 2) % 3) + (v > 0 ? 1 : 0)}`);
      }
  return {
    positions: new Float32Array(positions),
    indices: new Uint32Array(indices),
    faceOf: new Uint32Array(faceOf),
    segments: new Float32Array(segments),
    edgeOf: new Uint32Array(edgeNames.map((_, i) => i)),
    edgeNames,
  };
}

export function lookFrom(x: number, y: number, z: number, to = new THREE.Vector3()): THREE.PerspectiveCamera {
  const camera = new THREE.PerspectiveCamera(35, SIZE.width / SIZE.height, 0.1, 5000);
  camera.up.set(0, 0, 1);
  camera.position.set(x, y, z);
  camera.lookAt(to);
  camera.updateMatrixWorld();
  camera.updateProjectionMatrix();
  return camera;
}
export const onScreen = (p: THREE.Vector3, camera: THREE.Camera) => {
  const q = p.clone().project(camera);
  return { x: ((q.x + 1) / 2) * SIZE.width, y: ((1 - q.y) / 2) * SIZE.height, ...SIZE };
};
