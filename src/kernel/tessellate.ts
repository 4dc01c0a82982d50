/** Triangles and edge lines of a shape, grouped by face and edge in the order of the body's names. */
import { diagonal, openEdgeCount, type TriMesh, weld } from '../core/mesh/mesh';
import { type Kernel, type Shape, scoped } from './open';
import { edgesWithFaces, facesOf, hashOf, roughBounds } from './shapes';

export interface BodyMesh {
  /** Vertices are not shared between faces. */
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly indices: Uint32Array;
  /** Face index of each triangle. */
  readonly faceOf: Uint32Array;
}

export interface EdgeLines {
  /** xyz pairs, two points a segment. */
  readonly segments: Float32Array;
  /** Edge index of each segment, in the order of `edgesWithFaces`. */
  readonly edgeOf: Uint32Array;
}

/** How far the facets of a shown body may lie off its surface, mm. */
export const displayDeflection = (kernel: Kernel, shape: Shape): number => Math.max(1e-3, diagonal(roughBounds(kernel, shape)) / 1500);

/** @param deflection largest distance from the exact surface, mm; @param angle largest turn between facets, rad */
export function tessellate(kernel: Kernel, shape: Shape, deflection: number, angle = 0.3): BodyMesh {
  return scoped((s) => {
    kernel.BRepTools.Clean(shape, true);
    const data = s.keep(kernel.ReplicadMeshExtractor.extract(shape, deflection, angle, false));
    const memory = kernel.wasmMemory.buffer;
    const positions = new Float32Array(memory, data.getVerticesPtr(), data.getVerticesSize()).slice();
    const normals = new Float32Array(memory, data.getNormalsPtr(), data.getNormalsSize()).slice();
    const indices = new Uint32Array(memory, data.getTrianglesPtr(), data.getTrianglesSize()).slice();
    const groups = new Int32Array(memory, data.getFaceGroupsPtr(), data.getFaceGroupsSize()).slice();
    const faceOf = new Uint32Array(indices.length / 3);
    const index = new Map(facesOf(kernel, shape).map((f, i) => [hashOf(kernel, f), i]));
    for (let g = 0; g < groups.length; g += 3)
      faceOf.fill(index.get(groups[g + 2]!) ?? 0, groups[g]! / 3, (groups[g]! + groups[g + 1]!) / 3);
    repairNormals(positions, normals, indices);
    return { positions, normals, indices, faceOf };
  });
}

/** Kernel normals at poles can be wrong: where one disagrees with its facets, their mean replaces it. */
function repairNormals(positions: Float32Array, normals: Float32Array, indices: Uint32Array): void {
  const mean = new Float64Array(normals.length);
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t]!, 3 * indices[t + 1]!, 3 * indices[t + 2]!];
    const ux = positions[b]! - positions[a]!;
    const uy = positions[b + 1]! - positions[a + 1]!;
    const uz = positions[b + 2]! - positions[a + 2]!;
    const vx = positions[c]! - positions[a]!;
    const vy = positions[c + 1]! - positions[a + 1]!;
    const vz = positions[c + 2]! - positions[a + 2]!;
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx] as const;
    for (const v of [a, b, c]) for (let k = 0; k < 3; k++) mean[v + k] = mean[v + k]! + n[k]!;
  }
  for (let v = 0; v < normals.length; v += 3) {
    const l = Math.hypot(mean[v]!, mean[v + 1]!, mean[v + 2]!);
    if (l === 0) continue;
    const d = (mean[v]! * normals[v]! + mean[v + 1]! * normals[v + 1]! + mean[v + 2]! * normals[v + 2]!) / l;
    if (d >= 0.9) continue;
    for (let k = 0; k < 3; k++) normals[v + k] = mean[v + k]! / l;
  }
}

/** Least product of a facet's normal with those of its corners before it counts as leaning away. */
const TRUE_FACET = 0.975;

function skewedFacets(mesh: BodyMesh): Uint8Array {
  const { positions: p, normals: n, indices } = mesh;
  const out = new Uint8Array(indices.length / 3);
  for (let t = 0; t < out.length; t++) {
    const [a, b, c] = [3 * indices[3 * t]!, 3 * indices[3 * t + 1]!, 3 * indices[3 * t + 2]!];
    const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    const f = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx] as const;
    const length = Math.hypot(...f);
    for (const v of [a, b, c])
      if (f[0] * n[v]! + f[1] * n[v + 1]! + f[2] * n[v + 2]! < TRUE_FACET * length) {
        out[t] = 1;
        break;
      }
  }
  return out;
}

/** Facets a body's bounds are read from before its faces are asked: those it was verified on, or shown ones. */
export function roughOf(
  kernel: Kernel,
  body: { readonly shape: Shape; readonly mesh?: BodyMesh; readonly facets?: true },
): { mesh: BodyMesh; off: number } {
  const shown = displayDeflection(kernel, body.shape);
  // A verification mesh lies off by a thousandth of the body at most. Twice that, because the mesher's own limit is no promise.
  // Facets that are a body of their own have faces that its shape has not.
  return body.mesh && !body.facets
    ? { mesh: body.mesh, off: 4 * shown }
    : { mesh: tessellate(kernel, body.shape, shown, 0.15), off: 2 * shown };
}

/** The mesh as one closed skin for measuring: double precision, shared vertices. */
export function weldedMesh(mesh: BodyMesh): TriMesh {
  let known = welded.get(mesh);
  if (!known) {
    known = weldMesh(mesh);
    welded.set(mesh, known);
  }
  return known;
}

/** Skins by the meshes they were welded from: the check, the note and the forecast of one body use the same. */
const welded = new WeakMap<BodyMesh, TriMesh>();

function weldMesh(mesh: BodyMesh): TriMesh {
  const positions = Float64Array.from(mesh.positions);
  // Single precision leaves neighbours this far apart at most.
  let size = 0;
  for (const x of positions) size = Math.max(size, Math.abs(x));
  const { indices, faceOf } = mesh;
  const normals = new Float32Array(3 * indices.length);
  for (let i = 0; i < indices.length; i++) normals.set(mesh.normals.subarray(3 * indices[i]!, 3 * indices[i]! + 3), 3 * i);
  return weld({ positions, indices, faceOf, skewed: skewedFacets(mesh), normals }, Math.max(1e-5, size * 4e-7));
}

export const isClosedMesh = (mesh: TriMesh): boolean => mesh.indices.length > 0 && openEdgeCount(mesh) === 0;

/** Polylines of all edges, for drawing and picking. */
export function edgeLines(kernel: Kernel, shape: Shape, deflection: number): EdgeLines {
  return scoped((s) => {
    const data = s.keep(kernel.ReplicadEdgeMeshExtractor.extract(shape, deflection, 0.2));
    const memory = kernel.wasmMemory.buffer;
    const segments = new Float32Array(memory, data.getLinesPtr(), data.getLinesSize()).slice();
    const groups = new Int32Array(memory, data.getEdgeGroupsPtr(), data.getEdgeGroupsSize()).slice();
    const edgeOf = new Uint32Array(segments.length / 6);
    const index = new Map(edgesWithFaces(kernel, facesOf(kernel, shape)).map((e, i) => [hashOf(kernel, e.edge), i]));
    for (let g = 0; g < groups.length; g += 3)
      edgeOf.fill(index.get(groups[g + 2]!) ?? 0, groups[g]! / 2, (groups[g]! + groups[g + 1]!) / 2);
    return { segments, edgeOf };
  });
}
