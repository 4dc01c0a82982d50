/** How thick a hollow's wall gets, measured all over its inside. */
import { triple, type Vec3 } from '../core/geometry/vectors';
import { buildBvh, type ClosestHit, closestOpposing } from '../core/mesh/bvh';
import type { TriMesh } from '../core/mesh/mesh';
import type { KernelBody } from './body';
import type { Kernel } from './open';
import { displayDeflection, tessellate, weldedMesh } from './tessellate';

export interface ThickestWall {
  /** mm. */
  readonly wall: number;
  readonly at: Vec3;
  /** Places measured. */
  readonly samples: number;
}

const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };

/**
 * The largest distance of the inside's corners and facet middles from the outside; as fine as the mesh a body is checked on.
 * @param inner faces the wall is measured from; @param outer faces it is measured to
 */
export function thickestWall(
  kernel: Kernel,
  body: KernelBody,
  inner: (name: string) => boolean,
  outer: (name: string) => boolean,
): ThickestWall | undefined {
  const mesh = weldedMesh(body.mesh ?? tessellate(kernel, body.shape, displayDeflection(kernel, body.shape)));
  const triangles = (which: (name: string) => boolean): number[] =>
    Array.from(mesh.faceOf.keys()).filter((t) => which(body.faces[mesh.faceOf[t]!]!));
  const far = triangles(outer);
  const near = triangles(inner);
  if (far.length === 0 || near.length === 0) return undefined;
  const skin: TriMesh = {
    positions: mesh.positions,
    indices: Uint32Array.from(far.flatMap((t) => [...mesh.indices.subarray(3 * t, 3 * t + 3)])),
    faceOf: Uint32Array.from(far.map((t) => mesh.faceOf[t]!)),
  };
  const bvh = buildBvh(skin);
  let most: { wall: number; at: Vec3 } | undefined;
  let samples = 0;
  const seen = new Set<number>();
  const look = (at: Vec3): void => {
    const wall = closestOpposing(bvh, at[0], at[1], at[2], 0, 0, 1, 1, 1e5, hit).distance;
    samples++;
    if (!most || wall > most.wall) most = { wall, at };
  };
  const corner = (v: number): Vec3 => [mesh.positions[3 * v]!, mesh.positions[3 * v + 1]!, mesh.positions[3 * v + 2]!];
  for (const t of near) {
    const [a, b, c] = [...mesh.indices.subarray(3 * t, 3 * t + 3)] as [number, number, number];
    const [p, q, r] = [corner(a), corner(b), corner(c)];
    look(triple((k) => (p[k]! + q[k]! + r[k]!) / 3));
    for (const v of [a, b, c]) {
      if (seen.has(v)) continue;
      seen.add(v);
      look(corner(v));
    }
  }
  return most && { ...most, samples };
}
