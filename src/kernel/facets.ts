/** Bodies that are known by their facets alone: cut by the mesh kernel, named by the faces their facets lie on. */
import type { Manifold, ManifoldToplevel } from 'manifold-3d';
import { cross, distance, dot, minus, triple, unit, type Vec3 } from '../core/geometry/vectors';
import { buildBvh, type ClosestHit, closestOpposing } from '../core/mesh/bvh';
import type { TriMesh } from '../core/mesh/mesh';
import type { FaceName } from '../core/recipe/names';
import { fail, ok, type Result } from '../core/result';
import type { KernelBody } from './body';
import { fromManifold, toManifold } from './hold';
import type { BodyMesh } from './tessellate';

/** A facet this near to a skin is part of it, mm. */
const SAME = 1e-3;

/** What the mesh kernel makes of closed skins. @param work frees nothing itself: all it is given and makes is freed after it */
export function ofSkins(
  m: ManifoldToplevel,
  skins: readonly TriMesh[],
  work: (parts: readonly Manifold[], own: (x: Manifold) => Manifold) => Manifold,
): Result<{ readonly mesh: TriMesh; readonly pieces: number }> {
  const owned: Manifold[] = [];
  const own = (x: Manifold): Manifold => {
    owned.push(x);
    return x;
  };
  try {
    const made = own(
      work(
        skins.map((s) => own(toManifold(m, s))),
        own,
      ),
    );
    const mesh = fromManifold(made);
    return mesh.indices.length > 0 ? ok({ mesh, pieces: made.decompose().map(own).length }) : fail('nothing is left');
  } catch (e) {
    return fail(`the facets could not be cut (${String(e).slice(0, 80)})`);
  } finally {
    for (const o of owned) o.delete();
  }
}

/** Several skins as one, their faces numbered on. @param faces how many each has */
export function togetherAs(skins: readonly TriMesh[], faces: readonly number[]): TriMesh {
  const positions = new Float64Array(skins.reduce((n, s) => n + s.positions.length, 0));
  const indices = new Uint32Array(skins.reduce((n, s) => n + s.indices.length, 0));
  const faceOf = new Uint32Array(indices.length / 3);
  let [p, i, f] = [0, 0, 0];
  skins.forEach((s, k) => {
    positions.set(s.positions, p);
    for (let j = 0; j < s.indices.length; j++) indices[i + j] = s.indices[j]! + p / 3;
    for (let t = 0; t < s.faceOf.length; t++) faceOf[i / 3 + t] = s.faceOf[t]! + f;
    p += s.positions.length;
    i += s.indices.length;
    f += faces[k]!;
  });
  return { positions, indices, faceOf };
}

/** What is said of every body of facets. */
export const MESH_ONLY = 'mesh only: it can be printed and measured, but not written as STEP, and only combining as a mesh can change it';

/** A body of facets in the place of another. @param names of the faces of the skin its facets lie on; others are the step's own inside */
export const facetBody = (
  of: KernelBody,
  names: readonly FaceName[],
  stepId: string,
  { mesh, pieces = 1, volume, skin }: { readonly mesh: TriMesh; readonly pieces?: number; readonly volume: number; readonly skin: TriMesh },
): KernelBody => ({
  shape: of.shape,
  faces: [...names, `${stepId}/inside`],
  volume,
  facets: true,
  mesh: shaded(mesh, skin, names.length),
  ...(pieces > 1 ? { pieces } : {}),
});

/** The mesh for showing: each facet with the face of the skin it lies on, or what lies beyond; normals smooth within a face. */
function shaded(mesh: TriMesh, skin: TriMesh, beyond: number): BodyMesh {
  const bvh = buildBvh(skin);
  const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
  const { positions: p, indices } = mesh;
  const faceOf = new Uint32Array(indices.length / 3);
  const facet = new Float64Array(indices.length);
  for (let t = 0; t < faceOf.length; t++) {
    const [a, b, c] = triple((k) => 3 * indices[3 * t + k]!);
    const at = triple((k) => (p[a + k]! + p[b + k]! + p[c + k]!) / 3);
    closestOpposing(bvh, ...at, 0, 0, 1, 1, 1, hit);
    faceOf[t] = hit.triangle >= 0 && hit.distance < SAME ? skin.faceOf[hit.triangle]! : beyond;
    const u = triple((k) => p[b + k]! - p[a + k]!);
    const v = triple((k) => p[c + k]! - p[a + k]!);
    facet.set([u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]], 3 * t);
  }
  const known = new Map<string, number>();
  const outP: number[] = [];
  const outN: number[] = [];
  const out = new Uint32Array(indices.length);
  for (let t = 0; t < faceOf.length; t++)
    for (let k = 0; k < 3; k++) {
      const v = indices[3 * t + k]!;
      const key = `${v} ${faceOf[t]}`;
      let i = known.get(key);
      if (i === undefined) {
        i = outP.length / 3;
        known.set(key, i);
        outP.push(p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!);
        outN.push(0, 0, 0);
      }
      out[3 * t + k] = i;
      for (let x = 0; x < 3; x++) outN[3 * i + x] = outN[3 * i + x]! + facet[3 * t + x]!;
    }
  const normals = Float32Array.from(outN);
  for (let i = 0; i < normals.length; i += 3) {
    const l = Math.hypot(normals[i]!, normals[i + 1]!, normals[i + 2]!) || 1;
    for (let x = 0; x < 3; x++) normals[i + x] = normals[i + x]! / l;
  }
  return { positions: Float32Array.from(outP), normals, indices: out, faceOf };
}

/** An edge of facets: its corners, the two facets at it, each with its corner that is not of the edge. */
interface FacetEdge {
  readonly ends: readonly [number, number];
  readonly facets: readonly [number, number];
  readonly beyond: number;
}

/** Where facets of two faces meet. @param skin with shared corners */
function* borders({ positions, indices, faceOf }: TriMesh): Generator<FacetEdge> {
  const first = new Map<number, number>();
  const count = positions.length / 3;
  for (let t = 0; t < faceOf.length; t++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [indices[3 * t + k]!, indices[3 * t + ((k + 1) % 3)]!];
      const key = Math.min(a, b) * count + Math.max(a, b);
      const other = first.get(key);
      if (other === undefined) first.set(key, t);
      else if (faceOf[other] !== faceOf[t]) yield { ends: [a, b], facets: [other, t], beyond: indices[3 * t + ((k + 2) % 3)]! };
    }
}

/**
 * Faces that meet at an acute convex edge, and each such edge with the least angle of the solid along it, rad.
 * @param least turn of the facets that counts, rad
 */
export function facetKnives(
  skin: TriMesh,
  names: readonly string[],
  least: number,
): { readonly pairs: ReadonlySet<string>; readonly list: readonly { readonly edge: string; readonly angle: number; readonly at: Vec3 }[] } {
  const { positions: p, indices, faceOf } = skin;
  const corner = (v: number): Vec3 => triple((x) => p[3 * v + x]!);
  const normal = (t: number): Vec3 | undefined => {
    const a = corner(indices[3 * t]!);
    return unit(cross(minus(corner(indices[3 * t + 1]!), a), minus(corner(indices[3 * t + 2]!), a)));
  };
  const pairs = new Set<string>();
  const sharpest = new Map<string, { edge: string; angle: number; at: Vec3 }>();
  for (const { ends, facets, beyond } of borders(skin)) {
    const [a, b] = [corner(ends[0]), corner(ends[1])];
    const [n, m] = [normal(facets[0]), normal(facets[1])];
    // What is thinner than a facet can be told to be has no direction.
    if (!n || !m || distance(a, b) < SAME) continue;
    const turn = Math.acos(Math.max(-1, Math.min(1, dot(n, m))));
    if (turn < least || dot(minus(corner(beyond), a), n) >= 0) continue;
    const [f, g] = [faceOf[facets[0]]!, faceOf[facets[1]]!];
    pairs.add(`${f},${g}`).add(`${g},${f}`);
    const edge = [names[f]!, names[g]!].toSorted().join('|');
    const angle = Math.PI - turn;
    const known = sharpest.get(edge);
    if (!known || angle < known.angle) sharpest.set(edge, { edge, angle, at: triple((k) => (a[k] + b[k]) / 2) });
  }
  return { pairs, list: [...sharpest.values()] };
}

/** Lines of a body of facets: where facets of two faces meet, a line for each two. @param skin with shared corners */
export function facetLines(
  skin: TriMesh,
  names: readonly string[],
): {
  readonly segments: Float32Array;
  readonly edgeOf: Uint32Array;
  readonly edgeNames: readonly string[];
  readonly edgeLengths: readonly number[];
} {
  const { positions: p, faceOf } = skin;
  const [segments, edgeOf, edgeNames, edgeLengths]: [number[], number[], string[], number[]] = [[], [], [], []];
  const known = new Map<string, number>();
  for (const { ends: corners, facets } of borders(skin)) {
    const name = facets
      .map((t) => names[faceOf[t]!]!)
      .toSorted()
      .join('|');
    let edge = known.get(name);
    if (edge === undefined) {
      edge = edgeNames.push(name) - 1;
      edgeLengths.push(0);
      known.set(name, edge);
    }
    const ends = corners.flatMap((v) => triple((x) => p[3 * v + x]!));
    segments.push(...ends);
    edgeOf.push(edge);
    edgeLengths[edge]! += Math.hypot(ends[3]! - ends[0]!, ends[4]! - ends[1]!, ends[5]! - ends[2]!);
  }
  return { segments: Float32Array.from(segments), edgeOf: Uint32Array.from(edgeOf), edgeNames, edgeLengths };
}
