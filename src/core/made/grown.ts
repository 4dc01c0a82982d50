/** Files made larger, so that what shrinks comes out as it should. */
import type { TriMesh } from '../mesh/mesh';
import { fixed } from '../units/units';
import type { Grown } from './document';

/** Larger along each axis, from the origin: what stands together stays together. */
export function grownMesh(mesh: TriMesh, { x, y, z }: Grown): TriMesh {
  const by = [x, y, z];
  const positions = mesh.positions.map((v, i) => v * by[i % 3]!);
  const { normals: _, ...rest } = mesh;
  return { ...rest, positions };
}

/** `1.0042 × 1.0042 × 1.0110`, or one figure where it is alike every way. */
export function growthWords({ x, y, z }: Grown): string {
  const all = [x, y, z].map((v) => fixed(v, 4));
  return new Set(all).size === 1 ? all[0]! : all.join(' × ');
}
