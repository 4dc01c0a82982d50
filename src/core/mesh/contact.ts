/** How far one mesh goes along a direction until it touches another: corners onto facets either way, and edges onto edges. */
import { along, cross, dot, triple, unit, type Vec3 } from '../geometry/vectors';
import { type RayHit, raycast, sharedBvh } from './bvh';
import { DirectedEdges } from './edges';
import type { TriMesh } from './mesh';

export interface Contact {
  /** mm along the direction from where it stands; below 0 where it has to go back. */
  readonly distance: number;
  /** Where they touch, on the one that stays. */
  readonly at: Vec3;
}

const placeOf = ({ positions: p }: TriMesh, v: number): Vec3 => [p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!];

/**
 * @param mover it comes from before all of the other, wherever it stands now
 * @param way unit
 * @returns undefined where it goes by without touching
 */
export function contactAlong(mover: TriMesh, stays: TriMesh, way: Vec3): Contact | undefined {
  const reach = (m: TriMesh): readonly [number, number] => {
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let v = 0; v < m.positions.length / 3; v++) {
      const h = dot(placeOf(m, v), way);
      low = Math.min(low, h);
      high = Math.max(high, h);
    }
    return [low, high];
  };
  const [own, other] = [reach(mover), reach(stays)];
  /** How far back it begins, so that all of it lies before all of the other. */
  const back = Math.max(0, own[1] - other[0]) + 1;
  const most = back + (other[1] - own[0]) + 1;
  let [best, at]: [number, Vec3 | undefined] = [Number.POSITIVE_INFINITY, undefined];
  const hit: RayHit = { t: 0, triangle: -1 };
  // Corners of the mover, from where they begin.
  const ahead = sharedBvh(stays);
  for (let v = 0; v < mover.positions.length / 3; v++) {
    const [x, y, z] = along(placeOf(mover, v), way, -back);
    raycast(ahead, x, y, z, way[0], way[1], way[2], 0, Math.min(most, best), hit);
    if (hit.triangle >= 0) [best, at] = [hit.t, along([x, y, z], way, hit.t)];
  }
  // Corners of the other: the mover reaches them with what lies farthest along the way, so much later as that lies behind them.
  const behind = sharedBvh(mover);
  for (let v = 0; v < stays.positions.length / 3; v++) {
    const p = placeOf(stays, v);
    raycast(behind, p[0], p[1], p[2], -way[0], -way[1], -way[2], -back, Math.min(most, best - back), hit);
    if (hit.triangle >= 0) [best, at] = [hit.t + back, p];
  }
  const crossed = edgesAlong(mover, stays, way, back);
  if (crossed && crossed.distance < best) [best, at] = [crossed.distance, crossed.at];
  return at ? { distance: best - back, at } : undefined;
}

/** Ends of the edges of a mesh, each once. */
function edgesOf({ indices }: TriMesh): Uint32Array {
  const seen = new DirectedEdges(indices.length);
  const out: number[] = [];
  for (let h = 0; h < indices.length; h++) {
    const [a, b] = [indices[h]!, indices[h % 3 === 2 ? h - 2 : h + 1]!];
    if (seen.has(a, b) || seen.has(b, a)) continue;
    seen.put(a, b, 0);
    out.push(a, b);
  }
  return Uint32Array.from(out);
}

/** The first edge that meets an edge of the other, seen along the way; those of the other by a grid across it. */
function edgesAlong(mover: TriMesh, stays: TriMesh, way: Vec3, back: number): Contact | undefined {
  const u = unit(cross(way, Math.abs(way[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]))!;
  const v = cross(way, u);
  const seen = (m: TriMesh): Float64Array => {
    const out = new Float64Array(m.positions.length);
    for (let i = 0; i < out.length / 3; i++) {
      const p = placeOf(m, i);
      out[3 * i] = dot(p, u);
      out[3 * i + 1] = dot(p, v);
      out[3 * i + 2] = dot(p, way);
    }
    return out;
  };
  const [a, b] = [seen(mover), seen(stays)];
  const [low, high] = [
    [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY],
    [Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY],
  ] as [[number, number], [number, number]];
  for (let i = 0; i < a.length; i += 3)
    for (const k of [0, 1] as const) {
      low[k] = Math.min(low[k], a[i + k]!);
      high[k] = Math.max(high[k], a[i + k]!);
    }
  const theirs = edgesOf(stays);
  const side = Math.max(1, Math.floor(Math.sqrt(theirs.length / 4)));
  const size = [0, 1].map((k) => Math.max(1e-9, (high[k as 0 | 1] - low[k as 0 | 1]) / side)) as [number, number];
  const cells = new Map<number, number[]>();
  const over = (p: Float64Array, i: number, j: number, take: (cell: number) => void): void => {
    const range = ([0, 1] as const).map((k) => {
      const [s, e] = [Math.min(p[3 * i + k]!, p[3 * j + k]!), Math.max(p[3 * i + k]!, p[3 * j + k]!)];
      return s > high[k] || e < low[k]
        ? undefined
        : ([Math.max(0, Math.floor((s - low[k]) / size[k])), Math.min(side, Math.floor((e - low[k]) / size[k]))] as const);
    });
    const [x, y] = range;
    if (!x || !y) return;
    for (let cx = x[0]; cx <= x[1]; cx++) for (let cy = y[0]; cy <= y[1]; cy++) take(cx * (side + 1) + cy);
  };
  for (let e = 0; e < theirs.length; e += 2)
    over(b, theirs[e]!, theirs[e + 1]!, (c) => {
      const list = cells.get(c);
      if (list) list.push(e);
      else cells.set(c, [e]);
    });
  const ours = edgesOf(mover);
  let best: Contact | undefined;
  for (let e = 0; e < ours.length; e += 2) {
    const [i, j] = [3 * ours[e]!, 3 * ours[e + 1]!];
    over(a, i / 3, j / 3, (c) => {
      for (const f of cells.get(c) ?? []) {
        const [m, n] = [3 * theirs[f]!, 3 * theirs[f + 1]!];
        const [dx, dy] = [a[j]! - a[i]!, a[j + 1]! - a[i + 1]!];
        const [ex, ey] = [b[n]! - b[m]!, b[n + 1]! - b[m + 1]!];
        const det = dx * ey - dy * ex;
        // Edges that run alike are met by their ends.
        if (Math.abs(det) < 1e-12 * (Math.hypot(dx, dy) * Math.hypot(ex, ey) + 1e-300)) continue;
        const [px, py] = [b[m]! - a[i]!, b[m + 1]! - a[i + 1]!];
        const s = (px * ey - py * ex) / det;
        const t = (px * dy - py * dx) / det;
        if (s < 0 || s > 1 || t < 0 || t > 1) continue;
        const [h, g] = [a[i + 2]! + s * (a[j + 2]! - a[i + 2]!), b[m + 2]! + t * (b[n + 2]! - b[m + 2]!)];
        const distance = g - h + back;
        if (distance < 0 || (best && distance >= best.distance)) continue;
        const q = placeOf(stays, m / 3);
        const r = placeOf(stays, n / 3);
        best = { distance, at: triple((k) => q[k] + t * (r[k] - q[k])) };
      }
    });
  }
  return best;
}
