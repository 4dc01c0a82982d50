import * as THREE from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { type Frame, heightOver, overPlane, toPlane } from '../../core/curves/frame';
import type { P3 } from '../../core/form/cage';

/** The place on a mesh nearest to a place over a plane, both over that plane. @param indices of corners; left out where three places make a facet */
export function nearestOn(positions: Float32Array, plane: Frame, indices?: Uint32Array): (place: P3) => P3 | undefined {
  const g = new THREE.BufferGeometry();
  g.setAttribute('position', new THREE.BufferAttribute(positions.slice(), 3));
  if (indices) g.setIndex(new THREE.BufferAttribute(indices.slice(), 1));
  const tree = new MeshBVH(g);
  return (place) => {
    const hit = tree.closestPointToPoint(new THREE.Vector3(...overPlane(plane, place)));
    if (!hit) return undefined;
    const at: P3 = [hit.point.x, hit.point.y, hit.point.z];
    const flat = toPlane(plane, at);
    return [flat.x, flat.y, heightOver(plane, at)];
  };
}
