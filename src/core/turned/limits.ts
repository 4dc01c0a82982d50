/** From which wall on the inside of a face is gone, and the largest wall there is: half widths along normals, by shrinking balls. */
import type { PlanarCurve } from '../curves/planar';
import { Field, newNearest } from './field';
import { seekGreatest } from './golden';
import type { Prepared } from './hollow';
import { type Evaluator, evaluatorOf, newJet } from './jets';

export interface Place {
  readonly value: number;
  /** Radius and height, mm. */
  readonly x: number;
  readonly y: number;
}

export interface HollowLimits {
  /** No inside is left from this wall on, mm, and the last place of it. */
  readonly largest: Place;
  /** By kept face: the wall from which on it has no inside, with where that is last. */
  readonly vanish: ReadonlyMap<string, Place>;
}

/** Lengths of these and more count as without end, mm. */
const FAR = 1e5;

export function hollowLimits({ sources }: Prepared): HollowLimits {
  const free = sources.loops.flat().filter((c) => c.role !== 'kept');
  const field = new Field(sources.kept.map((c) => c.curve));
  const walls = chordsOf(free.map((c) => c.curve));
  const near = newNearest();
  const j = newJet();
  /** The largest ball that touches a place from inside: its radius, kept by what is kept and by the open lines it may not go beyond. */
  const ball = (x: number, y: number, nx: number, ny: number): number => {
    let r = Math.min(rayTo(walls, x, y, nx, ny), FAR);
    for (let k = 0; k < 60; k++) {
      field.nearest(x + r * nx, y + r * ny, near, r * (1 - 1e-10));
      if (near.curve < 0) return r;
      const [qx, qy] = [near.x - x, near.y - y];
      const h = nx * qx + ny * qy;
      if (!(h > 1e-12)) return r;
      const next = (qx * qx + qy * qy) / (2 * h);
      if (!(next < r - 1e-10)) return r;
      r = next;
    }
    return r;
  };
  let largest: Place = { value: 0, x: 0, y: 0 };
  const see = (p: Place): void => {
    if (p.value > largest.value) largest = p;
  };
  const vanish = new Map<string, Place>();
  for (const { curve, face } of sources.kept) {
    const e = evaluatorOf(curve);
    const found = greatest(e, 24, (t) => {
      e.into(t, j);
      const l = Math.hypot(j[2]!, j[3]!);
      const [x, y, nx, ny] = [j[0]!, j[1]!, -j[3]! / l, j[2]! / l];
      const value = l > 0 ? ball(x, y, nx, ny) : 0;
      return { value, x: x + value * nx, y: y + value * ny };
    });
    see(found);
    if (found.value > (vanish.get(face)?.value ?? -1)) vanish.set(face, found);
  }
  for (const { curve } of free) {
    const e = evaluatorOf(curve);
    see(
      greatest(e, 64, (t) => {
        e.into(t, j);
        field.nearest(j[0]!, j[1]!, near);
        return { value: near.curve < 0 ? 0 : near.distance, x: j[0]!, y: j[1]! };
      }),
    );
  }
  return { largest, vanish };
}

/** The greatest value along a curve: samples, then golden sections about all that may be it. */
function greatest(e: Evaluator, samples: number, at: (t: number) => Place): Place {
  const ts: number[] = [];
  const per = Math.max(4, Math.ceil(samples / (e.breaks.length - 1)));
  for (let b = 1; b < e.breaks.length; b++)
    for (let k = b === 1 ? 0 : 1; k <= per; k++) {
      const t = e.breaks[b - 1]! + ((e.breaks[b]! - e.breaks[b - 1]!) * k) / per;
      ts.push(Math.min(1 - 1e-7, Math.max(1e-7, t)));
    }
  const v = ts.map(at);
  let best = v.reduce((a, b) => (b.value > a.value ? b : a));
  const top = best.value;
  const keep = (p: Place): number => {
    if (p.value > best.value) best = p;
    return p.value;
  };
  v.forEach(({ value }, k) => {
    const peak = (v[k - 1]?.value ?? -1) <= value && (v[k + 1]?.value ?? -1) <= value && value > 0.9 * top;
    if (value < top - 1e-3 * (1 + top) && !peak) return;
    seekGreatest((t) => keep(at(t)), ts[Math.max(0, k - 1)]!, ts[Math.min(ts.length - 1, k + 1)]!, 44);
  });
  return best;
}

function chordsOf(curves: readonly PlanarCurve[]): Float64Array {
  const out: number[] = [];
  const j = newJet();
  for (const c of curves) {
    const e = evaluatorOf(c);
    const n = c.kind === 'line' ? 1 : 64 * (e.breaks.length - 1);
    let [px, py] = [c.a.x, c.a.y];
    for (let k = 1; k <= n; k++) {
      e.into(k / n, j);
      out.push(px, py, j[0]!, j[1]!);
      [px, py] = [j[0]!, j[1]!];
    }
  }
  return Float64Array.from(out);
}

/** Distance along a ray to the first of many segments. */
function rayTo(segments: Float64Array, x: number, y: number, nx: number, ny: number): number {
  let best = Infinity;
  for (let i = 0; i < segments.length; i += 4) {
    const [ax, ay] = [segments[i]! - x, segments[i + 1]! - y];
    const [ux, uy] = [segments[i + 2]! - segments[i]!, segments[i + 3]! - segments[i + 1]!];
    const det = nx * uy - ny * ux;
    if (Math.abs(det) < 1e-14) continue;
    const r = (ax * uy - ay * ux) / det;
    const s = (ax * ny - ay * nx) / det;
    if (r > 1e-9 && s >= -1e-9 && s <= 1 + 1e-9 && r < best) best = r;
  }
  return best;
}
