import * as THREE from 'three';
import { allOverPlane, type Frame } from '../../core/curves/frame';
import type { Cage } from '../../core/form/cage';
import { fans } from '../../core/form/starts';

/** Faces of a cage over a plane, for drawing and for meeting them with a ray. */
export function facesGeometry(cage: Cage, plane: Frame, faces: readonly (readonly number[])[] = cage.faces): THREE.BufferGeometry {
  const g = new THREE.BufferGeometry();
  g.setAttribute('position', new THREE.BufferAttribute(allOverPlane(plane, cage.vertices.flat()), 3));
  g.setIndex(fans(faces));
  return g;
}
