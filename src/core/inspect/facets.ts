/** The skin in facets small enough to carry readings that change along a large flat face. */
import { triple } from '../geometry/vectors';
import type { TriMesh } from '../mesh/mesh';

export interface Facets {
  /** Nine coordinates a facet, mm; corners are not shared. */
  readonly positions: Float32Array;
  readonly centres: Float64Array;
  /** Unit outward normals of the facets. */
  readonly normals: Float64Array;
  /** Of the exact surface at their middles, where it is known; else the facets' own. */
  readonly exact: Float64Array;
  /** mm². */
  readonly areas: Float64Array;
  /** Face each lies on. */
  readonly faceOf: Uint32Array;
  /** 1 where the facet leans away from the surface it stands for. */
  readonly skewed: Uint8Array;
}

export const facetCount = (f: Facets): number => f.faceOf.length;

/**
 * @param longest sides longer than this are halved, mm
 * @param most facets at most; the length grows until they suffice
 */
export function facetsOf(mesh: TriMesh, longest: number, most = 100_000): Facets {
  for (let length = longest; ; length *= 1.5) {
    const made = divided(mesh, length, most);
    if (made) return made;
  }
}

function divided(mesh: TriMesh, longest: number, most: number): Facets | undefined {
  const { positions: p, indices, faceOf, skewed } = mesh;
  const out: number[] = [];
  const faces: number[] = [];
  const lean: number[] = [];
  const given = mesh.normals;
  const bent: number[] = [];
  const limit = Math.max(most, indices.length / 3);
  const stack: number[] = [];
  // Corner by corner: its place and the normal there.
  const q = new Float64Array(18);
  for (let t = 0; t < faceOf.length; t++) {
    for (let k = 0; k < 3; k++) {
      for (let c = 0; c < 3; c++) stack.push(p[3 * indices[3 * t + k]! + c]!);
      for (let c = 0; c < 3; c++) stack.push(given ? given[9 * t + 3 * k + c]! : 0);
    }
    while (stack.length > 0) {
      for (let k = 17; k >= 0; k--) q[k] = stack.pop()!;
      // Halving the longest side alone keeps slivers from getting thinner.
      let [worst, length] = [0, 0];
      for (let k = 0; k < 3; k++) {
        const [a, b] = [6 * k, 6 * ((k + 1) % 3)];
        const [x, y, z] = [q[a]! - q[b]!, q[a + 1]! - q[b + 1]!, q[a + 2]! - q[b + 2]!];
        const l = Math.sqrt(x * x + y * y + z * z);
        if (l > length) {
          worst = k;
          length = l;
        }
      }
      if (length <= longest) {
        for (let k = 0; k < 3; k++) out.push(q[6 * k]!, q[6 * k + 1]!, q[6 * k + 2]!);
        if (given) for (let c = 3; c < 6; c++) bent.push(q[c]! + q[6 + c]! + q[12 + c]!);
        faces.push(faceOf[t]!);
        lean.push(skewed?.[t] ?? 0);
        if (faces.length > limit) return undefined;
        continue;
      }
      const at = (k: number): number[] => [...q.subarray(6 * (k % 3), 6 * (k % 3) + 6)];
      const [a, b, c] = [at(worst), at(worst + 1), at(worst + 2)];
      const m = a.map((x, k) => (x + b[k]!) / 2);
      stack.push(...a, ...m, ...c, ...m, ...b, ...c);
    }
  }
  const n = faces.length;
  const [centres, normals, areas] = [new Float64Array(3 * n), new Float64Array(3 * n), new Float64Array(n)];
  for (let t = 0; t < n; t++) {
    const q = 9 * t;
    const u = triple((k) => out[q + 3 + k]! - out[q + k]!);
    const v = triple((k) => out[q + 6 + k]! - out[q + k]!);
    const f = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]] as const;
    const l = Math.hypot(...f) || 1;
    areas[t] = l / 2;
    for (let k = 0; k < 3; k++) {
      normals[3 * t + k] = f[k]! / l;
      centres[3 * t + k] = (out[q + k]! + out[q + 3 + k]! + out[q + 6 + k]!) / 3;
    }
  }
  const exact = normals.slice();
  for (let t = 0; t < n && given; t++) {
    const l = Math.hypot(bent[3 * t]!, bent[3 * t + 1]!, bent[3 * t + 2]!);
    if (l > 1.5) for (let k = 0; k < 3; k++) exact[3 * t + k] = bent[3 * t + k]! / l;
  }
  return {
    positions: Float32Array.from(out),
    centres,
    normals,
    exact,
    areas,
    faceOf: Uint32Array.from(faces),
    skewed: Uint8Array.from(lean),
  };
}

const known = new WeakMap<Facets, Uint32Array>();

/** One number for all corners at a place, three a facet. */
function cornersOf(f: Facets): Uint32Array {
  let ids = known.get(f);
  if (ids) return ids;
  const n = f.positions.length / 3;
  ids = new Uint32Array(n);
  // Chains of corners by a hash of their place, to a thousandth of a millimetre.
  const size = 1 << Math.ceil(Math.log2(2 * n + 1));
  const first = new Int32Array(size).fill(-1);
  const next = new Int32Array(n).fill(-1);
  const round = (i: number, k: number): number => Math.round(f.positions[3 * i + k]! * 1000);
  for (let i = 0; i < n; i++) {
    const [x, y, z] = [round(i, 0), round(i, 1), round(i, 2)];
    const h = ((Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) >>> 0) & (size - 1);
    let j = first[h]!;
    while (j >= 0 && (round(j, 0) !== x || round(j, 1) !== y || round(j, 2) !== z)) j = next[j]!;
    if (j >= 0) ids[i] = ids[j]!;
    else {
      ids[i] = i;
      next[i] = first[h]!;
      first[h] = i;
    }
  }
  known.set(f, ids);
  return ids;
}

/** Facets that share a side. @param each called for every pair, with the corners (of the second) where the side begins and ends */
export function pairs(f: Facets, each: (a: number, b: number, from: number, to: number) => void): void {
  const ids = cornersOf(f);
  const n = ids.length;
  const sides = new Map<number, number>();
  for (let t = 0; t < facetCount(f); t++)
    for (let k = 0; k < 3; k++) {
      const [p, q] = [3 * t + k, 3 * t + ((k + 1) % 3)];
      const [a, b] = [ids[p]!, ids[q]!];
      const side = a < b ? a * n + b : b * n + a;
      const other = sides.get(side);
      if (other === undefined) sides.set(side, t);
      else each(other, t, p, q);
    }
}

/** Readings of facets in equal classes, weighed by area. */
export interface Histogram {
  readonly from: number;
  readonly to: number;
  /** mm² in each class. */
  readonly areas: readonly number[];
}

export function histogramOf(values: ArrayLike<number>, areas: ArrayLike<number>, classes = 24): Histogram {
  let [from, to] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let i = 0; i < values.length; i++) {
    if (!Number.isFinite(values[i]!)) continue;
    from = Math.min(from, values[i]!);
    to = Math.max(to, values[i]!);
  }
  if (!(to > from)) to = from + 1e-6;
  const out = new Array<number>(classes).fill(0);
  for (let i = 0; i < values.length; i++) {
    if (!Number.isFinite(values[i]!)) continue;
    const k = Math.min(classes - 1, Math.floor((classes * (values[i]! - from)) / (to - from)));
    out[k]! += areas[i]!;
  }
  return { from, to, areas: out };
}

/** Sum of the areas of facets whose reading is below a limit, mm². */
export function areaBelow(values: ArrayLike<number>, areas: ArrayLike<number>, limit: number): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) if (values[i]! < limit) sum += areas[i]!;
  return sum;
}

/** Facets with the least readings that lie apart, least first. @param apart mm */
export function extremes(f: Facets, values: ArrayLike<number>, count: number, apart: number, sign: 1 | -1 = 1): number[] {
  const order = Array.from({ length: facetCount(f) }, (_, i) => i)
    .filter((i) => Number.isFinite(values[i]!))
    .sort((a, b) => sign * (values[a]! - values[b]!));
  const out: number[] = [];
  for (const i of order) {
    const far = out.every(
      (j) =>
        Math.hypot(
          f.centres[3 * i]! - f.centres[3 * j]!,
          f.centres[3 * i + 1]! - f.centres[3 * j + 1]!,
          f.centres[3 * i + 2]! - f.centres[3 * j + 2]!,
        ) > apart,
    );
    if (far) out.push(i);
    if (out.length === count) break;
  }
  return out;
}
