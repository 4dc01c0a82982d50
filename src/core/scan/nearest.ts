/** The nearest place of a mesh with its side: inside or outside, and where the mesh ends. */
import { along, distance, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { type ClosestHit, closestOpposing, sharedBvh } from '../mesh/bvh';
import type { TriMesh } from '../mesh/mesh';
import { after, placeOf, topologyOf } from './topology';

export interface Nearest {
  readonly at: Vec3;
  /** mm, negative on the side the facets face away from. */
  readonly distance: number;
  /** Unit; on edges and vertices the mean of the facets around, by which the side is always told right. */
  readonly normal: Vec3;
  /** It lies on an open border, and the place asked for beyond it. */
  readonly beyond: boolean;
}

/** How near to an edge or a vertex counts as on it, as a share of the facet. */
const ON = 1e-7;
/** A place leans out over a border by more than this share of its distance. */
const ASIDE = 0.02;

/**
 * @param mesh with shared corners; it may have open borders
 * @returns undefined for a mesh without facets. Source of the side: angle-weighted normals, J. A. Bærentzen, H. Aanæs (2005), from memory.
 */
export function nearestOf(mesh: TriMesh): (place: Vec3) => Nearest | undefined {
  const bvh = sharedBvh(mesh);
  const { across } = topologyOf(mesh);
  const facet = (t: number): Vec3 => triple((k) => bvh.normals[3 * t + k]!);
  const corner = (h: number): Vec3 => placeOf(mesh, mesh.indices[h]!);
  const rim = new Uint8Array(mesh.positions.length / 3);
  for (let h = 0; h < across.length; h++) if (across[h]! < 0) rim[mesh.indices[h]!] = rim[mesh.indices[after(h)]!] = 1;
  const around = angleNormals(mesh, bvh.normals);
  const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
  /** The mean of the facets at a place of a facet, and whether that is one of an open border. */
  const found = (t: number, at: Vec3): { readonly normal: Vec3; readonly ends: boolean } => {
    const [a, b, c] = [corner(3 * t), corner(3 * t + 1), corner(3 * t + 2)];
    const size = Math.max(distance(a, b), distance(b, c), distance(c, a));
    for (const [k, p] of [a, b, c].entries()) {
      if (distance(p, at) > ON * size) continue;
      const v = mesh.indices[3 * t + k]!;
      return { normal: unit(triple((x) => around[3 * v + x]!)) ?? facet(t), ends: rim[v] === 1 };
    }
    for (const [k, [p, q]] of (
      [
        [a, b],
        [b, c],
        [c, a],
      ] as const
    ).entries()) {
      const d = minus(q, p);
      const e = minus(at, p);
      const s = dot(d, e) / dot(d, d);
      if (Math.hypot(...along(e, d, -s)) > ON * size) continue;
      const h = across[3 * t + k]!;
      if (h < 0) return { normal: facet(t), ends: true };
      const other = facet(Math.floor(h / 3));
      return { normal: unit(along(facet(t), other, 1)) ?? facet(t), ends: false };
    }
    return { normal: facet(t), ends: false };
  };
  return ([x, y, z]) => {
    closestOpposing(bvh, x, y, z, 0, 0, 1, 1, Number.POSITIVE_INFINITY, hit);
    if (hit.triangle < 0) return undefined;
    const at: Vec3 = [hit.x, hit.y, hit.z];
    const far = hit.distance;
    const { normal, ends } = found(hit.triangle, at);
    const off = minus([x, y, z], at);
    const up = dot(off, normal);
    return {
      at,
      distance: up < 0 ? -far : far,
      normal,
      beyond: ends && Math.hypot(...along(off, normal, -up)) > Math.max(ASIDE * far, 1e-6),
    };
  };
}

/** At each vertex the facets' normals, by the angles they have there. */
function angleNormals(mesh: TriMesh, normals: Float64Array): Float64Array {
  const out = new Float64Array(mesh.positions.length);
  for (let h = 0; h < mesh.indices.length; h++) {
    const t = Math.floor(h / 3);
    const p = placeOf(mesh, mesh.indices[h]!);
    const [u, v] = [minus(placeOf(mesh, mesh.indices[after(h)]!), p), minus(placeOf(mesh, mesh.indices[after(after(h))]!), p)];
    const cos = dot(u, v) / (Math.hypot(...u) * Math.hypot(...v) || 1);
    const angle = Math.acos(Math.max(-1, Math.min(1, cos)));
    for (let x = 0; x < 3; x++) out[3 * mesh.indices[h]! + x]! += angle * normals[3 * t + x]!;
  }
  return out;
}
