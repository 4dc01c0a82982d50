/** Shapes of a general-purpose library (three) as closed meshes. */
import type { BufferGeometry } from 'three';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import type { TriMesh } from '../../src/core/mesh/mesh';

/** @param all shapes where they stand; those inwards are rooms */
export function meshOf(...all: { shape: BufferGeometry; at: readonly [number, number, number]; inwards?: true }[]): TriMesh {
  const positions: number[] = [];
  const indices: number[] = [];
  for (const { shape, at, inwards } of all) {
    const g = shape.clone();
    g.deleteAttribute('normal');
    g.deleteAttribute('uv');
    const m = mergeVertices(g, 1e-6);
    const first = positions.length / 3;
    const p = m.getAttribute('position');
    for (let i = 0; i < p.count; i++) positions.push(p.getX(i) + at[0], p.getY(i) + at[1], p.getZ(i) + at[2]);
    const own = m.index!.array;
    for (let t = 0; t < own.length; t += 3) {
      const [a, b, c] = [own[t]!, own[t + 1]!, own[t + 2]!];
      if (a === b || b === c || c === a) continue;
      indices.push(first + a, first + (inwards ? c : b), first + (inwards ? b : c));
    }
  }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices), faceOf: new Uint32Array(indices.length / 3) };
}
