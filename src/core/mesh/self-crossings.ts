/** Triangles of a skin that run through each other. */
import type { Bvh } from './bvh';

export interface SelfCrossing {
  /** The two triangles. */
  readonly a: number;
  readonly b: number;
  readonly at: readonly [number, number, number];
  /** Length of the line the two share, mm. */
  readonly length: number;
  /** Sine of the angle between them. */
  readonly sine: number;
  /** How far each of them reaches to either side of the other's plane, mm. */
  readonly depth: number;
}

/** Distances that count as none on a skin of a size, mm: what single precision and welding leave. */
export const crossingApart = (size: number): number => Math.max(2e-5, 8e-7 * size);

/**
 * Pairs of triangles that run through each other; those that share an edge are left out, flat overlaps too.
 * @param apart distances from a plane below this count as none, mm
 * @param most the search ends with so many
 */
export function selfCrossings(bvh: Bvh, apart: number, most = 4096): SelfCrossing[] {
  const { box, first, count, order, mesh, normals } = bvh;
  const { positions: p, indices } = mesh;
  const out: SelfCrossing[] = [];
  const n = indices.length / 3;
  if (n === 0) return out;
  const overlap = (m: number, k: number): boolean => boxesMeet(box, 6 * m, box, 6 * k);
  const extent = (m: number): number => {
    const b = 6 * m;
    return Math.max(box[b + 3]! - box[b]!, box[b + 4]! - box[b + 1]!, box[b + 5]! - box[b + 2]!);
  };
  // Bounds of single triangles, in tree order, throw out most pairs of two leaves.
  const own = new Float64Array(6 * n);
  for (let i = 0; i < n; i++) {
    const t = 3 * order[i]!;
    for (let k = 0; k < 3; k++) {
      const [x, y, z] = [p[3 * indices[t]! + k]!, p[3 * indices[t + 1]! + k]!, p[3 * indices[t + 2]! + k]!];
      own[6 * i + k] = Math.min(x, y, z);
      own[6 * i + 3 + k] = Math.max(x, y, z);
    }
  }
  const test = (i: number, j: number): void => {
    if (!boxesMeet(own, 6 * i, own, 6 * j)) return;
    const c = crossing(p, indices, normals, order[i]!, order[j]!, apart);
    if (c) out.push(c);
  };
  const waiting: number[] = [0, 0];
  while (waiting.length > 0 && out.length < most) {
    const k = waiting.pop()!;
    const m = waiting.pop()!;
    const [cm, ck] = [count[m]!, count[k]!];
    if (m === k) {
      const f = first[m]!;
      if (cm > 0) for (let i = f; i < f + cm; i++) for (let j = i + 1; j < f + cm; j++) test(i, j);
      else waiting.push(f, f, f + 1, f + 1, f, f + 1);
    } else if (overlap(m, k)) {
      if (cm > 0 && ck > 0) for (let i = first[m]!; i < first[m]! + cm; i++) for (let j = first[k]!; j < first[k]! + ck; j++) test(i, j);
      else if (ck > 0 || (cm === 0 && extent(m) > extent(k))) waiting.push(first[m]!, k, first[m]! + 1, k);
      else waiting.push(m, first[k]!, m, first[k]! + 1);
    }
  }
  return out;
}

const boxesMeet = (a: Float64Array, i: number, b: Float64Array, j: number): boolean =>
  a[i]! <= b[j + 3]! &&
  b[j]! <= a[i + 3]! &&
  a[i + 1]! <= b[j + 4]! &&
  b[j + 1]! <= a[i + 4]! &&
  a[i + 2]! <= b[j + 5]! &&
  b[j + 2]! <= a[i + 5]!;

/** Distances of either triangle's corners from the other's plane. */
const d = new Float64Array(6);
/** The stretch on which either meets the other's plane, two ends each. */
const seg = new Float64Array(12);

/** Where triangle t meets the plane the distances are of: its two ends into seg at `o`; false where it doesn't. */
function trace(p: Float64Array, i0: number, i1: number, i2: number, at: number, o: number): boolean {
  let n = 0;
  const idx = [i0, i1, i2];
  for (let k = 0; k < 3 && n < 2; k++)
    if (d[at + k]! === 0) {
      for (let c = 0; c < 3; c++) seg[o + 3 * n + c] = p[3 * idx[k]! + c]!;
      n++;
    }
  for (let k = 0; k < 3 && n < 2; k++) {
    const l = (k + 1) % 3;
    const x = d[at + k]!;
    const y = d[at + l]!;
    if (x * y < 0) {
      const s = x / (x - y);
      for (let c = 0; c < 3; c++) seg[o + 3 * n + c] = p[3 * idx[k]! + c]! + s * (p[3 * idx[l]! + c]! - p[3 * idx[k]! + c]!);
      n++;
    }
  }
  return n === 2;
}

/** How far the corners whose distances begin at `o` lie to the less far side of a plane. */
const reach = (o: number): number => Math.min(Math.max(d[o]!, d[o + 1]!, d[o + 2]!), -Math.min(d[o]!, d[o + 1]!, d[o + 2]!));

/** Distances of three corners from the plane of triangle t, into d at `o`; false where all lie to one side of it. @param on a corner of t */
function fromPlane(
  p: Float64Array,
  normals: Float64Array,
  t: number,
  on: number,
  c0: number,
  c1: number,
  c2: number,
  apart: number,
  o: number,
): boolean {
  const nx = normals[3 * t]!;
  const ny = normals[3 * t + 1]!;
  const nz = normals[3 * t + 2]!;
  const w = nx * p[3 * on]! + ny * p[3 * on + 1]! + nz * p[3 * on + 2]!;
  d[o] = nx * p[3 * c0]! + ny * p[3 * c0 + 1]! + nz * p[3 * c0 + 2]! - w;
  d[o + 1] = nx * p[3 * c1]! + ny * p[3 * c1 + 1]! + nz * p[3 * c1 + 2]! - w;
  d[o + 2] = nx * p[3 * c2]! + ny * p[3 * c2 + 1]! + nz * p[3 * c2 + 2]! - w;
  for (let k = o; k < o + 3; k++) if (Math.abs(d[k]!) < apart) d[k] = 0;
  return !((d[o]! > 0 && d[o + 1]! > 0 && d[o + 2]! > 0) || (d[o]! < 0 && d[o + 1]! < 0 && d[o + 2]! < 0));
}

/** Where two triangles cross; undefined where they do not, or only touch. */
function crossing(
  p: Float64Array,
  indices: Uint32Array,
  normals: Float64Array,
  t: number,
  u: number,
  apart: number,
): SelfCrossing | undefined {
  const a0 = indices[3 * t]!;
  const a1 = indices[3 * t + 1]!;
  const a2 = indices[3 * t + 2]!;
  const b0 = indices[3 * u]!;
  const b1 = indices[3 * u + 1]!;
  const b2 = indices[3 * u + 2]!;
  let shared = 0;
  if (a0 === b0 || a0 === b1 || a0 === b2) shared++;
  if (a1 === b0 || a1 === b1 || a1 === b2) shared++;
  if (a2 === b0 || a2 === b1 || a2 === b2) shared++;
  if (shared > 1) return undefined;
  if (!fromPlane(p, normals, t, a0, b0, b1, b2, apart, 3) || !fromPlane(p, normals, u, b0, a0, a1, a2, apart, 0)) return undefined;
  // Touching with a corner or an edge is no crossing: both must have corners on either side.
  const straddles = (o: number): boolean => (d[o]! > 0 || d[o + 1]! > 0 || d[o + 2]! > 0) && (d[o]! < 0 || d[o + 1]! < 0 || d[o + 2]! < 0);
  if (!straddles(0) || !straddles(3)) return undefined;
  if (!trace(p, a0, a1, a2, 0, 0) || !trace(p, b0, b1, b2, 3, 6)) return undefined;
  const [n, m] = [3 * t, 3 * u];
  const lx = normals[n + 1]! * normals[m + 2]! - normals[n + 2]! * normals[m + 1]!;
  const ly = normals[n + 2]! * normals[m]! - normals[n]! * normals[m + 2]!;
  const lz = normals[n]! * normals[m + 1]! - normals[n + 1]! * normals[m]!;
  const sine = Math.hypot(lx, ly, lz);
  if (sine < 1e-9) return undefined;
  const on = (o: number): number => (lx * seg[o]! + ly * seg[o + 1]! + lz * seg[o + 2]!) / sine;
  const s0 = on(0);
  const s1 = on(3);
  const r0 = on(6);
  const r1 = on(9);
  const from = Math.max(Math.min(s0, s1), Math.min(r0, r1));
  const to = Math.min(Math.max(s0, s1), Math.max(r0, r1));
  if (to - from <= 2 * apart) return undefined;
  const mid = (from + to) / 2;
  const f = Math.abs(s1 - s0) > 1e-15 ? (mid - s0) / (s1 - s0) : 0;
  return {
    a: t,
    b: u,
    at: [seg[0]! + f * (seg[3]! - seg[0]!), seg[1]! + f * (seg[4]! - seg[1]!), seg[2]! + f * (seg[5]! - seg[2]!)],
    length: to - from,
    sine,
    depth: Math.min(reach(0), reach(3)),
  };
}
