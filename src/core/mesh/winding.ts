/**
 * Whether a closed skin bounds a body: every place has winding number 0 or 1. Facets that cross prove nothing, for those of a thin wall cross when they are
 * coarser than it. A place with another winding number that lies farther from the facets than these lie from the surface does prove it: moving the
 * facets onto the surface never passes it.
 */
import { triple } from '../geometry/vectors';
import { type Bvh, type ClosestHit, closestOpposing, type RayHit, raycast, rayMeets } from './bvh';
import { crossingApart, type SelfCrossing, selfCrossings } from './self-crossings';

const stack = new Uint32Array(512);

/** Signed count of what a ray goes out of: the winding number of its start. `skip` is left out. NaN where it passes too near an edge. */
function windingAlong(bvh: Bvh, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, skip = -1): number {
  const { box, first, count, order, mesh } = bvh;
  const { positions: p, indices } = mesh;
  const ix = 1 / dx;
  const iy = 1 / dy;
  const iz = 1 / dz;
  let sum = 0;
  let top = 0;
  stack[top++] = 0;
  while (top > 0) {
    const node = stack[--top]!;
    // A hair of slack: a box may be flat.
    if (!rayMeets(box, 6 * node, ox, oy, oz, ix, iy, iz, 0, Number.POSITIVE_INFINITY, 1e-9)) continue;
    const c = count[node]!;
    if (c === 0) {
      stack[top++] = first[node]!;
      stack[top++] = first[node]! + 1;
      continue;
    }
    for (let i = first[node]!; i < first[node]! + c; i++) {
      const t = order[i]!;
      if (t === skip) continue;
      const a = 3 * indices[3 * t]!;
      const q = 3 * indices[3 * t + 1]!;
      const r = 3 * indices[3 * t + 2]!;
      const ux = p[q]! - p[a]!;
      const uy = p[q + 1]! - p[a + 1]!;
      const uz = p[q + 2]! - p[a + 2]!;
      const vx = p[r]! - p[a]!;
      const vy = p[r + 1]! - p[a + 1]!;
      const vz = p[r + 2]! - p[a + 2]!;
      const hx = dy * vz - dz * vy;
      const hy = dz * vx - dx * vz;
      const hz = dx * vy - dy * vx;
      const det = ux * hx + uy * hy + uz * hz;
      const f = 1 / det;
      const sx = ox - p[a]!;
      const sy = oy - p[a + 1]!;
      const sz = oz - p[a + 2]!;
      const u = f * (sx * hx + sy * hy + sz * hz);
      if (!(u >= -1e-9 && u <= 1 + 1e-9)) continue;
      const gx = sy * uz - sz * uy;
      const gy = sz * ux - sx * uz;
      const gz = sx * uy - sy * ux;
      const v = f * (dx * gx + dy * gy + dz * gz);
      if (!(v >= -1e-9 && u + v <= 1 + 1e-9)) continue;
      const s = f * (vx * gx + vy * gy + vz * gz);
      if (s < 0) continue;
      // Through an edge or a corner, or along a facet: this direction says nothing.
      if (u < 1e-9 || v < 1e-9 || u + v > 1 - 1e-9) return Number.NaN;
      // det = −d · (u × v): leaving through the outside where d · n > 0.
      sum += det < 0 ? 1 : -1;
    }
  }
  return sum;
}

/** No two alike, and along no plane or edge that is likely. */
const DIRECTIONS = [
  [0.31415, 0.22718, 0.92179],
  [-0.55211, 0.71357, 0.43127],
  [0.17321, -0.83117, 0.52839],
  [-0.61803, -0.37139, -0.69291],
  [0.88123, 0.11731, -0.45789],
] as const;

/** The winding number of a place, by two rays that agree. NaN where none do. */
export function windingAt(bvh: Bvh, x: number, y: number, z: number): number {
  let known = Number.NaN;
  for (const [a, b, c] of DIRECTIONS) {
    const w = windingAlong(bvh, x, y, z, a, b, c);
    if (w === known) return w;
    if (!Number.isNaN(w)) known = w;
  }
  return Number.NaN;
}

/** The winding number by solid angles of all triangles (van Oosterom & Strackee 1983): slow, and never in doubt. */
export function solidAngleWinding(bvh: Bvh, x: number, y: number, z: number): number {
  const { positions: p, indices } = bvh.mesh;
  let sum = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [i, j, k] = [3 * indices[t]!, 3 * indices[t + 1]!, 3 * indices[t + 2]!];
    const [ax, ay, az] = [p[i]! - x, p[i + 1]! - y, p[i + 2]! - z];
    const [bx, by, bz] = [p[j]! - x, p[j + 1]! - y, p[j + 2]! - z];
    const [cx, cy, cz] = [p[k]! - x, p[k + 1]! - y, p[k + 2]! - z];
    const la = Math.sqrt(ax * ax + ay * ay + az * az);
    const lb = Math.sqrt(bx * bx + by * by + bz * bz);
    const lc = Math.sqrt(cx * cx + cy * cy + cz * cz);
    const det = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
    const div = la * lb * lc + (ax * bx + ay * by + az * bz) * lc + (bx * cx + by * cy + bz * cz) * la + (cx * ax + cy * ay + cz * az) * lb;
    sum += Math.atan2(det, div);
  }
  return sum / (2 * Math.PI);
}

/** A place that no body can have. */
interface Witness {
  readonly at: readonly [number, number, number];
  readonly winding: number;
  /** Distance to the nearest facet, mm. */
  readonly clear: number;
}

const near: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
const ahead: RayHit = { t: 0, triangle: -1 };
const isWrong = (w: number): boolean => w !== 0 && w !== 1 && !Number.isNaN(w);

/** Corners, middles of edges and of faces of a cube, a little turned. */
const AROUND = [-1, 0, 1].flatMap((x) =>
  [-1, 0, 1].flatMap((y) =>
    [-1, 0, 1].flatMap((z): [number, number, number][] => {
      const l = Math.hypot(x, y, z);
      return l > 0 ? [[(0.96 * x - 0.28 * y) / l, (0.28 * x + 0.96 * y) / l, z / l]] : [];
    }),
  ),
);

/** Climbs from a place with a wrong winding number to the clearest near it: stepping away from the nearest facet would get stuck in wedges. */
function climb(bvh: Bvh, from: readonly [number, number, number], winding: number, enough: number, size: number): Witness {
  let [x, y, z] = from;
  closestOpposing(bvh, x, y, z, 0, 0, 1, 1, size, near);
  let clear = near.distance;
  let step = Math.max(4 * clear, enough / 2);
  for (let k = 0; k < 24 && clear <= enough && step > 0.1 * clear; k++) {
    let best = clear * 1.02;
    let to: [number, number, number] | undefined;
    for (const [a, b, c] of AROUND) {
      const q: [number, number, number] = [x + step * a, y + step * b, z + step * c];
      closestOpposing(bvh, q[0], q[1], q[2], 0, 0, 1, 1, size, near);
      if (near.distance <= best) continue;
      const there = windingAt(bvh, q[0], q[1], q[2]);
      if (!isWrong(there)) continue;
      best = near.distance;
      winding = there;
      to = q;
    }
    if (to) {
      [x, y, z] = to;
      clear = best;
    } else step /= 2;
  }
  return { at: [x, y, z], winding, clear };
}

export const centroidOf = (bvh: Bvh, t: number, a: number, b: number, c: number): [number, number, number] => {
  const { positions: p, indices } = bvh.mesh;
  const on = (k: number): number =>
    a * p[3 * indices[3 * t]! + k]! + b * p[3 * indices[3 * t + 1]! + k]! + c * p[3 * indices[3 * t + 2]! + k]!;
  return [on(0), on(1), on(2)];
};

/** Where a triangle bounds a place with a wrong winding number: half way to what lies opposite. */
function seedAt(bvh: Bvh, t: number, size: number): { at: [number, number, number]; winding: number } | undefined {
  const out = outsideOf(bvh, t);
  if (out === 0 || Number.isNaN(out)) return undefined;
  const side = isWrong(out) ? 1 : -1;
  const [nx, ny, nz] = bvh.normals.subarray(3 * t, 3 * t + 3) as unknown as [number, number, number];
  const [x, y, z] = centroidOf(bvh, t, 1 / 3, 1 / 3, 1 / 3);
  raycast(bvh, x, y, z, side * nx, side * ny, side * nz, 1e-7 * size, size, ahead);
  const h = (side * ahead.t) / 2;
  return { at: [x + h * nx, y + h * ny, z + h * nz], winding: isWrong(out) ? out : out + 1 };
}

/** Facets that are asked for their outside, and places that are climbed from, at most. */
const FACETS = 1500;
const TRIES = 48;

/** The clearest witness found; done early where one clears `enough`. */
function witnessAt(bvh: Bvh, crossings: readonly SelfCrossing[], enough: number, size: number): Witness | undefined {
  let best: Witness | undefined;
  const offer = (at: readonly [number, number, number], winding: number): boolean => {
    const found = climb(bvh, at, winding, enough, size);
    if (!best || found.clear > best.clear) best = found;
    return best.clear > enough;
  };
  // Facets all over: those of a lobe that is inside out show it.
  const n = bvh.mesh.indices.length / 3;
  let seeds = 0;
  for (let t = 0; t < n && seeds < TRIES; t += Math.max(1, Math.floor(n / FACETS))) {
    const seed = seedAt(bvh, t, size);
    if (!seed || !isWrong(windingAt(bvh, ...seed.at))) continue;
    seeds++;
    if (offer(seed.at, seed.winding)) return best;
  }
  // Then about the crossings, the longest first, from everywhere.
  const list = crossings.toSorted((a, b) => b.length * b.sine - a.length * a.sine);
  for (let i = 0; i < list.length; i += Math.max(1, Math.floor(list.length / TRIES))) {
    const c = list[i]!;
    let m = [0, 1, 2].map((k) => bvh.normals[3 * c.a + k]! + bvh.normals[3 * c.b + k]!);
    let l = Math.hypot(...m);
    if (l < 1e-6) {
      m = [...bvh.normals.subarray(3 * c.a, 3 * c.a + 3)];
      l = 1;
    }
    for (const side of [-1, 1])
      for (const share of [0.05, 0.5, 2]) {
        const h = (side * share * Math.max(enough, 1e-6)) / l;
        const at: [number, number, number] = [c.at[0] + h * m[0]!, c.at[1] + h * m[1]!, c.at[2] + h * m[2]!];
        const w = windingAt(bvh, ...at);
        if (!isWrong(w)) continue;
        if (offer(at, w)) return best;
        break;
      }
  }
  return best;
}

/** A connected part of the skin whose outside is none, with the winding number there; complete where nothing crosses. */
function wrongPart(bvh: Bvh): { triangle: number; winding: number } | undefined {
  const { positions: p, indices } = bvh.mesh;
  const parent = Int32Array.from({ length: p.length / 3 }, (_, i) => i);
  const root = (i: number): number => {
    while (parent[i] !== i) {
      parent[i] = parent[parent[i]!]!;
      i = parent[i]!;
    }
    return i;
  };
  for (let t = 0; t < indices.length; t += 3) {
    const a = root(indices[t]!);
    parent[root(indices[t + 1]!)] = a;
    parent[root(indices[t + 2]!)] = a;
  }
  const largest = new Map<number, { t: number; area: number }>();
  for (let t = 0; t < indices.length / 3; t++) {
    const [i, j, k] = [3 * indices[3 * t]!, 3 * indices[3 * t + 1]!, 3 * indices[3 * t + 2]!];
    const [ux, uy, uz] = [p[j]! - p[i]!, p[j + 1]! - p[i + 1]!, p[j + 2]! - p[i + 2]!];
    const [vx, vy, vz] = [p[k]! - p[i]!, p[k + 1]! - p[i + 1]!, p[k + 2]! - p[i + 2]!];
    const area = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
    const r = root(indices[3 * t]!);
    if (area > (largest.get(r)?.area ?? -1)) largest.set(r, { t, area });
  }
  for (const { t } of largest.values()) {
    const winding = outsideOf(bvh, t);
    if (winding !== 0 && !Number.isNaN(winding)) return { triangle: t, winding };
  }
  return undefined;
}

const INNER = [
  [0.3, 0.37, 0.33],
  [0.21, 0.43, 0.36],
  [0.45, 0.22, 0.33],
] as const;

/** The winding number just outside a triangle. NaN where no ray tells. */
function outsideOf(bvh: Bvh, t: number): number {
  const [nx, ny, nz] = bvh.normals.subarray(3 * t, 3 * t + 3) as unknown as [number, number, number];
  for (const [a, b, c] of INNER) {
    const [ox, oy, oz] = centroidOf(bvh, t, a, b, c);
    for (const [x, y, z] of DIRECTIONS) {
      const rise = x * nx + y * ny + z * nz;
      if (Math.abs(rise) < 0.2) continue;
      const s = Math.sign(rise);
      const w = windingAlong(bvh, ox, oy, oz, s * x, s * y, s * z, t);
      if (!Number.isNaN(w)) return w;
    }
  }
  return Number.NaN;
}

/** Facets of one face turn by less than this from one to the next, as cosine: beyond it the face folds back. */
const FOLD = -0.5;

/**
 * A place where a skin with borders runs through itself or folds back on itself; undefined where it does neither. Facets that cross by less than they may
 * lie off the surface prove nothing.
 * @param deflection how far facets may lie off the surface, mm
 */
export function faultInSkin(
  bvh: Bvh,
  deflection: number,
  size: number,
): { readonly what: 'crosses' | 'folds'; readonly at: readonly [number, number, number] } | undefined {
  const enough = 2 * deflection;
  const through = selfCrossings(bvh, crossingApart(size)).find((c) => c.depth > enough && c.length > enough);
  if (through) return { what: 'crosses', at: through.at };
  const { positions: p, indices, faceOf } = bvh.mesh;
  const n = p.length / 3;
  const beside = new Map<number, number>();
  for (let t = 0; t < faceOf.length; t++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [indices[3 * t + k]!, indices[3 * t + ((k + 1) % 3)]!];
      const other = beside.get(b * n + a);
      if (other === undefined) {
        beside.set(a * n + b, t);
        continue;
      }
      if (faceOf[other] !== faceOf[t]) continue;
      const [u, v] = [3 * t, 3 * other];
      const alike = [0, 1, 2].reduce((sum, x) => sum + bvh.normals[u + x]! * bvh.normals[v + x]!, 0);
      if (alike < FOLD && heightOf(bvh, t) > enough && heightOf(bvh, other) > enough)
        return { what: 'folds', at: centroidOf(bvh, t, 1 / 3, 1 / 3, 1 / 3) };
    }
  return undefined;
}

/** The least height of a triangle, mm. */
function heightOf(bvh: Bvh, t: number): number {
  const { positions: p, indices } = bvh.mesh;
  const at = (k: number): [number, number, number] => triple((x) => p[3 * indices[3 * t + k]! + x]!);
  const [a, b, c] = [at(0), at(1), at(2)];
  const [u, v] = [[0, 1, 2].map((k) => b[k]! - a[k]!), [0, 1, 2].map((k) => c[k]! - a[k]!)] as [number[], number[]];
  const area = Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!);
  const longest = Math.max(Math.hypot(...u), Math.hypot(...v), Math.hypot(...[0, 1, 2].map((k) => c[k]! - b[k]!)));
  return area / (longest || 1);
}

/** sound: nothing crosses, all outsides are; false: proven by a witness; unsure: facets cross, and no witness was found. */
export type SkinVerdict =
  | { readonly verdict: 'sound' }
  | { readonly verdict: 'false'; readonly at: readonly [number, number, number]; readonly winding: number }
  | { readonly verdict: 'unsure'; readonly crossings: number };

/** Sheets that reach through each other by a depth are taken to part by this many times as much beside the facets that meet. */
const OPENING = 10;

/**
 * Judges a closed skin.
 * @param deflection how far facets may lie off the surface, mm
 * @param size of the whole, mm
 */
export function judgeSkin(bvh: Bvh, deflection: number, size: number): SkinVerdict {
  const crossings = selfCrossings(bvh, crossingApart(size));
  // What crosses along a line shorter than half of what the facets are off by encloses nothing that finer ones could show; nor does what is met by so
  // little that, however far two sheets open from there, they stay within that: slivers of a mesh graze each other like that.
  if (crossings.reduce((sum, c) => sum + Math.max(0, Math.min(c.length, OPENING * c.depth)), 0) < deflection / 2) {
    const part = wrongPart(bvh);
    return part
      ? { verdict: 'false', at: centroidOf(bvh, part.triangle, 1 / 3, 1 / 3, 1 / 3), winding: part.winding }
      : { verdict: 'sound' };
  }
  const enough = 2 * deflection;
  const witness = witnessAt(bvh, crossings, enough, size);
  return witness && witness.clear > enough
    ? { verdict: 'false', at: witness.at, winding: witness.winding }
    : { verdict: 'unsure', crossings: crossings.length };
}
