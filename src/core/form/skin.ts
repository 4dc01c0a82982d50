/** The smooth skin of a cage as triangles that can be asked. */
import { type Bvh, buildBvh } from '../mesh/bvh';
import type { Net } from './cage';
import { limitMesh } from './limit';

/** @param levels how much finer than the cage */
export function limitSkin(net: Net, levels: number): Bvh {
  const { places, indices, faceOf } = limitMesh(net, levels);
  return buildBvh({ positions: places, indices, faceOf });
}

/** The finest level of up to `from` that makes so many triangles at most; `least` where none does. */
export function levelWithin(net: Net, from: number, least: number, triangles: number): number {
  const quads = net.vertex.length / 4;
  for (let level = from; level > least; level--) if (2 * quads * 4 ** level <= triangles) return level;
  return least;
}
