/** Triangles and edge lines of a shape, grouped by face and edge in the order of the body's names. */
import type { gp_Trsf, TopoDS_Face } from 'replicad-opencascadejs';
import { cross, dot, type Vec3 } from '../core/geometry/vectors';
import { diagonal, openEdgeCount, type TriMesh, weld } from '../core/mesh/mesh';
import { numbersOf } from './memory';
import { type Kernel, type Shape, scoped } from './open';
import { edgesWithFaces, facesOf, hashOf, roughBounds, unmeshed, xyzOf } from './shapes';

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

/** Largest turn between facets of a verification mesh, rad. */
export const VERIFY_ANGLE = 0.15;

/** A body of more faces is one of many small bends: facets of these turn by more, or they would be hundreds of thousands. */
const MANY_FACES = 120;
/** The largest turn between facets, rad, where a body has so many faces. */
export const turnFor = (faces: number, usual: number): number => (faces > MANY_FACES ? Math.max(usual, 0.5) : usual);
/** How fine a body is measured, mm, where it has so many faces. */
export const finenessFor = (faces: number, usual: number): number => (faces > MANY_FACES ? Math.max(usual, 0.03) : usual);

/** How far the facets of a shown body may lie off its surface, mm. */
export const displayDeflection = (kernel: Kernel, shape: Shape): number => Math.max(1e-3, diagonal(roughBounds(kernel, shape)) / 1500);

/** @param deflection largest distance from the exact surface, mm; @param angle largest turn between facets, rad */
export function tessellate(kernel: Kernel, shape: Shape, deflection: number, angle = 0.3): BodyMesh {
  return scoped((s) => meshed(kernel, unmeshed(kernel, s, shape), deflection, angle));
}

/**
 * The mesh a body is checked on and shown by. Faces that came from a body meshed like this before keep their facets, which are as fine at least, so that
 * the price is that of the new faces.
 */
export const tessellateOnto = (kernel: Kernel, shape: Shape, deflection: number, angle = VERIFY_ANGLE): BodyMesh =>
  meshed(kernel, shape, deflection, angle);

/** Meshes what has no facets that are fine enough, and reads all facets. */
function meshed(kernel: Kernel, shape: Shape, deflection: number, angle: number): BodyMesh {
  new kernel.BRepMesh_IncrementalMesh(shape, deflection, false, angle, false).delete();
  const parts = facesOf(kernel, shape).map((face) => facetsOf(kernel, face));
  const sum = (f: (p: Facets) => number): number => parts.reduce((n, p) => n + f(p), 0);
  const positions = new Float32Array(sum((p) => p.positions.length));
  const normals = new Float32Array(positions.length);
  const indices = new Uint32Array(sum((p) => p.indices.length));
  const faceOf = new Uint32Array(indices.length / 3);
  let [v, t] = [0, 0];
  parts.forEach((p, face) => {
    positions.set(p.positions, v);
    normals.set(p.normals, v);
    for (let i = 0; i < p.indices.length; i++) indices[t + i] = p.indices[i]! + v / 3;
    faceOf.fill(face, t / 3, (t + p.indices.length) / 3);
    v += p.positions.length;
    t += p.indices.length;
  });
  repairNormals(positions, normals, indices);
  return { positions, normals, indices, faceOf };
}

type Facets = Pick<BodyMesh, 'positions' | 'normals' | 'indices'>;
const NO_FACETS: Facets = { positions: new Float32Array(), normals: new Float32Array(), indices: new Uint32Array() };

/** The facets a face was meshed with, in space, turned the way it looks. */
function facetsOf(kernel: Kernel, face: TopoDS_Face): Facets {
  return scoped((s) => {
    const location = s.keep(new kernel.TopLoc_Location());
    const found = kernel.BRep_Tool.Triangulation(face, location, 0) as ReturnType<Kernel['BRep_Tool']['Triangulation']> | null;
    // The mesher left it out: the skin will not close, and that is told.
    if (!found) return NO_FACETS;
    const facets = s.keep(found);
    kernel.BRepLib_ToolTriangulatedShape.ComputeNormals(face, facets);
    const [points, triangles] = [facets.NbNodes(), facets.NbTriangles()];
    const [nodes, normal, corner] = [s.keep(facets.MapNodeArray()), s.keep(facets.MapNormalArray()), s.keep(facets.MapTriangleArray())];
    const p = numbersOf(kernel, {
      of: nodes,
      length: points,
      per: 3,
      as: Float64Array,
      entry: (i) => scoped((e) => xyzOf(e.keep(facets.Node(i + 1)))),
    });
    // Unit vectors in a row, one number an entry.
    const n = numbersOf(kernel, {
      of: normal,
      length: 3 * points,
      per: 1,
      as: Float32Array,
      entry: (i) => [normal.Array1().Value(i + 1)],
    });
    const c = numbersOf(kernel, {
      of: corner,
      length: triangles,
      per: 3,
      as: Int32Array,
      entry: (i) =>
        scoped((e) => {
          const t = e.keep(facets.Triangle(i + 1));
          return [t.Value(1), t.Value(2), t.Value(3)];
        }),
    });
    const reversed = face.Orientation() === 'TopAbs_REVERSED';
    const positions = new Float32Array(p.length);
    const normals = new Float32Array(p.length);
    const to = location.IsIdentity() ? null : transformOf(s.keep(location.Transformation()));
    const flip = reversed ? -1 : 1;
    for (let i = 0; i < p.length; i += 3)
      for (let k = 0; k < 3; k++) {
        const row = to?.[k];
        positions[i + k] = row ? row[0] * p[i]! + row[1] * p[i + 1]! + row[2] * p[i + 2]! + row[3] : p[i + k]!;
        normals[i + k] = flip * (row ? row[0] * n[i]! + row[1] * n[i + 1]! + row[2] * n[i + 2]! : n[i + k]!);
      }
    const mirrored = to !== null && handed(to) < 0;
    const indices = new Uint32Array(c.length);
    for (let t = 0; t < c.length; t += 3) {
      const [second, third] = reversed !== mirrored ? [2, 1] : [1, 2];
      indices[t] = c[t]! - 1;
      indices[t + 1] = c[t + second]! - 1;
      indices[t + 2] = c[t + third]! - 1;
    }
    return { positions, normals, indices };
  });
}

type Row = readonly [number, number, number, number];
/** Below zero where a transformation mirrors. */
const handed = (rows: readonly [Row, Row, Row]): number => {
  const [a, b, c] = rows.map(([x, y, z]): Vec3 => [x, y, z]) as [Vec3, Vec3, Vec3];
  return dot(cross(a, b), c);
};
/** The rows of a transformation. */
const transformOf = (t: gp_Trsf): readonly [Row, Row, Row] => {
  const row = (k: number): Row => [t.Value(k, 1), t.Value(k, 2), t.Value(k, 3), t.Value(k, 4)];
  return [row(1), row(2), row(3)];
};

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
    const own = unmeshed(kernel, s, shape);
    const data = s.keep(kernel.ReplicadEdgeMeshExtractor.extract(own, deflection, turnFor(facesOf(kernel, own).length, 0.2)));
    const memory = kernel.wasmMemory.buffer;
    const segments = new Float32Array(memory, data.getLinesPtr(), data.getLinesSize()).slice();
    const groups = new Int32Array(memory, data.getEdgeGroupsPtr(), data.getEdgeGroupsSize()).slice();
    const edgeOf = new Uint32Array(segments.length / 6);
    const index = new Map(edgesWithFaces(kernel, facesOf(kernel, own)).map((e, i) => [hashOf(kernel, e.edge), i]));
    for (let g = 0; g < groups.length; g += 3)
      edgeOf.fill(index.get(groups[g + 2]!) ?? 0, groups[g]! / 2, (groups[g]! + groups[g + 1]!) / 2);
    return { segments, edgeOf };
  });
}
