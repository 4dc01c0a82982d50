/** Triangle meshes as flat arrays, millimetres, outward facing counter-clockwise. */
import { DirectedEdges } from './edges';

export interface TriMesh {
  /** xyz of each vertex. */
  readonly positions: Float64Array;
  /** Three vertex indices a triangle. */
  readonly indices: Uint32Array;
  /** Index of the face each triangle belongs to. */
  readonly faceOf: Uint32Array;
  /** 1 for a facet that leans away from the surface it stands for: slivers across a tight bend. */
  readonly skewed?: Uint8Array;
  /** Normals of the exact surface at the three corners of each triangle, nine numbers a triangle. */
  readonly normals?: Float32Array;
}

export const triangleCount = (mesh: TriMesh): number => mesh.indices.length / 3;

export interface Bounds {
  min: [number, number, number];
  max: [number, number, number];
}

/** How far a skin reaches along a direction, mm. */
export function reachAlong(positions: ArrayLike<number>, normal: readonly [number, number, number]): [number, number] {
  let [from, to] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let i = 0; i < positions.length; i += 3) {
    const d = positions[i]! * normal[0] + positions[i + 1]! * normal[1] + positions[i + 2]! * normal[2];
    from = Math.min(from, d);
    to = Math.max(to, d);
  }
  return [from, to];
}

export function bounds(positions: ArrayLike<number>): Bounds {
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i += 3)
    for (let k = 0; k < 3; k++) {
      const v = positions[i + k]!;
      if (v < min[k]!) min[k] = v;
      if (v > max[k]!) max[k] = v;
    }
  return { min, max };
}

export const diagonal = (b: Bounds): number => Math.hypot(b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2]);

/**
 * Vertices nearer than `tolerance` become one, triangles that lose a corner are dropped.
 * @param tolerance mm; a grid of this size is used, neighbours included
 */
export function weld(mesh: TriMesh, tolerance = 1e-5): TriMesh {
  const { positions, indices, faceOf, skewed, normals } = mesh;
  const count = positions.length / 3;
  // A hash table of cells with chains: corners of a cell hang together by `after`.
  let slots = 1;
  while (slots < 2 * count) slots *= 2;
  const head = new Int32Array(slots).fill(-1);
  const after: number[] = [];
  const cell: number[] = [];
  const target = new Uint32Array(count);
  const kept: number[] = [];
  const slot = (x: number, y: number, z: number): number =>
    ((Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) >>> 0) & (slots - 1);
  for (let i = 0; i < count; i++) {
    const x = positions[3 * i]!;
    const y = positions[3 * i + 1]!;
    const z = positions[3 * i + 2]!;
    const cx = Math.round(x / tolerance / 4);
    const cy = Math.round(y / tolerance / 4);
    const cz = Math.round(z / tolerance / 4);
    let found = -1;
    // A cell is four tolerances wide: only a point near its border can have a partner next door.
    const [fx, fy, fz] = [x / tolerance / 4 - cx, y / tolerance / 4 - cy, z / tolerance / 4 - cz];
    const dx = fx > 0.25 ? 1 : fx < -0.25 ? -1 : 0;
    const dy = fy > 0.25 ? 1 : fy < -0.25 ? -1 : 0;
    const dz = fz > 0.25 ? 1 : fz < -0.25 ? -1 : 0;
    search: for (let m = 0; m < 8; m++) {
      if ((m & 4 && dx === 0) || (m & 2 && dy === 0) || (m & 1 && dz === 0)) continue;
      const [a, b, c] = [m & 4 ? cx + dx : cx, m & 2 ? cy + dy : cy, m & 1 ? cz + dz : cz];
      for (let k = head[slot(a, b, c)]!; k >= 0; k = after[k]!) {
        if (cell[3 * k] !== a || cell[3 * k + 1] !== b || cell[3 * k + 2] !== c) continue;
        const j = kept[k]!;
        if (Math.hypot(positions[3 * j]! - x, positions[3 * j + 1]! - y, positions[3 * j + 2]! - z) <= tolerance) {
          found = k;
          break search;
        }
      }
    }
    if (found < 0) {
      found = kept.length;
      kept.push(i);
      cell.push(cx, cy, cz);
      const h = slot(cx, cy, cz);
      after.push(head[h]!);
      head[h] = found;
    }
    target[i] = found;
  }
  const out = new Float64Array(kept.length * 3);
  kept.forEach((i, k) => {
    out[3 * k] = positions[3 * i]!;
    out[3 * k + 1] = positions[3 * i + 1]!;
    out[3 * k + 2] = positions[3 * i + 2]!;
  });
  const tri: number[] = [];
  const face: number[] = [];
  const lean: number[] = [];
  const exact: number[] = [];
  for (let t = 0; t < indices.length; t += 3) {
    const a = target[indices[t]!]!;
    const b = target[indices[t + 1]!]!;
    const c = target[indices[t + 2]!]!;
    if (a === b || b === c || c === a) continue;
    tri.push(a, b, c);
    face.push(faceOf[t / 3]!);
    if (skewed) lean.push(skewed[t / 3]!);
    if (normals) for (let k = 0; k < 9; k++) exact.push(normals[3 * t + k]!);
  }
  return {
    positions: out,
    indices: Uint32Array.from(tri),
    faceOf: Uint32Array.from(face),
    ...(skewed ? { skewed: Uint8Array.from(lean) } : {}),
    ...(normals ? { normals: Float32Array.from(exact) } : {}),
  };
}

/**
 * Outward normal at a place of a triangle: between those of the exact surface at its corners where these are known, else the facet's own.
 * @param facets unit normals of the facets; @param u, v barycentric shares of the second and third corner
 */
export function normalAt(mesh: TriMesh, facets: Float64Array, t: number, u: number, v: number): [number, number, number] {
  const n = mesh.normals;
  if (!n) return [facets[3 * t]!, facets[3 * t + 1]!, facets[3 * t + 2]!];
  const w = 1 - u - v;
  const k = 9 * t;
  const x = w * n[k]! + u * n[k + 3]! + v * n[k + 6]!;
  const y = w * n[k + 1]! + u * n[k + 4]! + v * n[k + 7]!;
  const z = w * n[k + 2]! + u * n[k + 5]! + v * n[k + 8]!;
  const l = Math.sqrt(x * x + y * y + z * z);
  return l > 0.5 ? [x / l, y / l, z / l] : [facets[3 * t]!, facets[3 * t + 1]!, facets[3 * t + 2]!];
}

/** The skin turned inside out: what lay around it is the material now. */
export function insideOut(mesh: TriMesh): TriMesh {
  const indices = mesh.indices.slice();
  const normals = mesh.normals?.slice();
  for (let t = 0; t < indices.length; t += 3) {
    [indices[t + 1], indices[t + 2]] = [indices[t + 2]!, indices[t + 1]!];
    if (!normals) continue;
    for (let k = 0; k < 3; k++) [normals[3 * t + 3 + k], normals[3 * t + 6 + k]] = [normals[3 * t + 6 + k]!, normals[3 * t + 3 + k]!];
    for (let k = 0; k < 9; k++) normals[3 * t + k] = -normals[3 * t + k]!;
  }
  return { ...mesh, indices, ...(normals ? { normals } : {}) };
}

/** Directed edges without exactly one opposite partner: 0 for a closed, consistently oriented, manifold mesh. Weld first. */
export function openEdgeCount(mesh: TriMesh): number {
  const { indices } = mesh;
  // By the smaller end first: how often it is run along either way.
  const seen = new DirectedEdges(indices.length);
  for (let t = 0; t < indices.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const a = indices[t + k]!;
      const b = indices[t + ((k + 1) % 3)]!;
      if (a < b) seen.add(a, b, 1);
      else seen.add(b, a, 1024);
    }
  return seen.count((held) => held !== 1025);
}

/** Volume in mm³ (divergence theorem), area in mm² and centroid. */
export function massProperties(mesh: TriMesh): { volume: number; area: number; centroid: [number, number, number] } {
  const { positions: p, indices } = mesh;
  let volume = 0;
  let area = 0;
  const m: [number, number, number] = [0, 0, 0];
  for (let t = 0; t < indices.length; t += 3) {
    const a = 3 * indices[t]!;
    const b = 3 * indices[t + 1]!;
    const c = 3 * indices[t + 2]!;
    const ux = p[b]! - p[a]!;
    const uy = p[b + 1]! - p[a + 1]!;
    const uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!;
    const vy = p[c + 1]! - p[a + 1]!;
    const vz = p[c + 2]! - p[a + 2]!;
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    const six = p[a]! * nx + p[a + 1]! * ny + p[a + 2]! * nz;
    volume += six / 6;
    area += Math.hypot(nx, ny, nz) / 2;
    for (let k = 0; k < 3; k++) m[k] = m[k]! + (six / 24) * (p[a + k]! + p[b + k]! + p[c + k]!);
  }
  return { volume, area, centroid: volume === 0 ? [0, 0, 0] : [m[0] / volume, m[1] / volume, m[2] / volume] };
}

/** Unit normals of the triangles; zero for a triangle without area. */
export function triangleNormals(mesh: TriMesh): Float64Array {
  const { positions: p, indices } = mesh;
  const out = new Float64Array(indices.length);
  for (let t = 0; t < indices.length; t += 3) {
    const a = 3 * indices[t]!;
    const b = 3 * indices[t + 1]!;
    const c = 3 * indices[t + 2]!;
    const ux = p[b]! - p[a]!;
    const uy = p[b + 1]! - p[a + 1]!;
    const uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!;
    const vy = p[c + 1]! - p[a + 1]!;
    const vz = p[c + 2]! - p[a + 2]!;
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    const l = Math.hypot(nx, ny, nz) || 1;
    out[t] = nx / l;
    out[t + 1] = ny / l;
    out[t + 2] = nz / l;
  }
  return out;
}
