/**
 * Lays a piece of skin flat: facets turned beside each other at first, then as stiffly as it goes (local/global relaxation: Sorkine and Alexa 2007,
 * Liu et al. 2008; from memory). A developable piece keeps all its lengths; what another one must stretch is told by facet.
 */
import { type P2, rectangleIn } from './rectangle';

export interface Unrolled {
  /** Flat places of the vertices, two coordinates each, mm. */
  readonly flat: Float64Array;
  /** Largest stretch or squeeze of every facet, as a share. */
  readonly strain: Float64Array;
}

type P3 = readonly [number, number, number];

const ROUNDS = 200;
/** Relaxation ends when no vertex moves by more than this share of the piece. */
const SETTLED = 1e-6;
/** Facets thinner than this share of the piece tell nothing: across them stands what the relaxation left over. */
const TELLING = 1e-3;

/** @param places three coordinates a vertex, mm; @param facets three vertices each, of one piece that hangs together by its sides */
export function unroll(places: ArrayLike<number>, facets: Uint32Array): Unrolled {
  const n = places.length / 3;
  const m = facets.length / 3;
  const p = (i: number): P3 => [places[3 * i]!, places[3 * i + 1]!, places[3 * i + 2]!];
  // Every facet in a plane of its own: its first corner at 0, its second on the x axis.
  const own = new Float64Array(6 * m);
  for (let t = 0; t < m; t++) {
    const [a, b, c] = [p(facets[3 * t]!), p(facets[3 * t + 1]!), p(facets[3 * t + 2]!)];
    const u = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    const v = [c[0] - a[0], c[1] - a[1], c[2] - a[2]];
    const l = Math.hypot(...u) || 1e-12;
    const x = (u[0]! * v[0]! + u[1]! * v[1]! + u[2]! * v[2]!) / l;
    const y = Math.sqrt(Math.max(0, v[0]! ** 2 + v[1]! ** 2 + v[2]! ** 2 - x * x));
    own.set([0, 0, l, 0, x, y], 6 * t);
  }
  const flat = new Float64Array(2 * n);
  relax(n, facets, own, turnsOf(n, facets, own), flat);
  const strain = new Float64Array(m);
  const size = sizeOf(own);
  for (let t = 0; t < m; t++) if (heightOf(own, t) > TELLING * size) strain[t] = strainOf(facets, own, flat, t);
  return { flat, strain };
}

/**
 * How every facet lies turned, rad: unfolded beside the first, nearest first, and then what does not close is shared out evenly among all
 * neighbours. Where a piece bends both ways no turning closes; sharing it out is what makes the relaxation short.
 */
function turnsOf(n: number, facets: Uint32Array, own: Float64Array): Float64Array {
  const m = facets.length / 3;
  const sides = new Map<number, number>();
  /** Facets that share a side, and by how much the second must be turned against the first. */
  const pairs: { a: number; b: number; by: number }[] = [];
  const direction = (t: number, k: number): number => {
    const l = (k + 1) % 3;
    return Math.atan2(own[6 * t + 2 * l + 1]! - own[6 * t + 2 * k + 1]!, own[6 * t + 2 * l]! - own[6 * t + 2 * k]!);
  };
  for (let t = 0; t < m; t++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [facets[3 * t + k]!, facets[3 * t + ((k + 1) % 3)]!];
      const key = a < b ? a * n + b : b * n + a;
      const other = sides.get(key);
      if (other === undefined) sides.set(key, 3 * t + k);
      // The second facet runs along the side the other way.
      else pairs.push({ a: Math.floor(other / 3), b: t, by: direction(Math.floor(other / 3), other % 3) - direction(t, k) - Math.PI });
    }
  const beside: number[][] = Array.from({ length: m }, () => []);
  pairs.forEach((p, i) => {
    beside[p.a]!.push(i);
    beside[p.b]!.push(i);
  });
  const turn = new Float64Array(m).fill(Number.NaN);
  turn[0] = 0;
  const queue = [0];
  for (let head = 0; head < queue.length; head++) {
    const t = queue[head]!;
    for (const i of beside[t]!) {
      const p = pairs[i]!;
      const other = p.a === t ? p.b : p.a;
      if (!Number.isNaN(turn[other]!)) continue;
      turn[other] = turn[t]! + (p.a === t ? p.by : -p.by);
      queue.push(other);
    }
  }
  for (let t = 0; t < m; t++) if (Number.isNaN(turn[t]!)) turn[t] = 0;
  const rhs = new Float64Array(m);
  const wrapped = (x: number): number => x - 2 * Math.PI * Math.round(x / (2 * Math.PI));
  for (const p of pairs) {
    const off = wrapped(turn[p.a]! + p.by - turn[p.b]!);
    rhs[p.b]! += off;
    rhs[p.a]! -= off;
  }
  const more = new Float64Array(m);
  conjugate(
    more,
    rhs,
    (x, out) => {
      out.fill(0);
      for (const p of pairs) {
        const d = x[p.b]! - x[p.a]!;
        out[p.b]! += d;
        out[p.a]! -= d;
      }
    },
    () => 3,
    1e-14,
  );
  return turn.map((x, t) => x + more[t]!);
}

/** Solves a symmetric system by conjugate gradients from what x holds. @param scale diagonal of the system; @param enough squared rest that ends it */
function conjugate(
  x: Float64Array,
  rhs: Float64Array,
  apply: (x: Float64Array, out: Float64Array) => void,
  scale: (i: number) => number,
  enough: number,
): void {
  const n = x.length;
  const [r, z, d, q] = [0, 1, 2, 3].map(() => new Float64Array(n)) as [Float64Array, Float64Array, Float64Array, Float64Array];
  apply(x, q);
  let rz = 0;
  for (let i = 0; i < n; i++) {
    r[i] = rhs[i]! - q[i]!;
    z[i] = r[i]! / scale(i);
    d[i] = z[i]!;
    rz += r[i]! * z[i]!;
  }
  for (let step = 0; step < 1500 && rz > enough; step++) {
    apply(d, q);
    let dq = 0;
    for (let i = 0; i < n; i++) dq += d[i]! * q[i]!;
    if (!(dq > 0)) break;
    const alpha = rz / dq;
    let next = 0;
    for (let i = 0; i < n; i++) {
      x[i]! += alpha * d[i]!;
      r[i]! -= alpha * q[i]!;
      z[i] = r[i]! / scale(i);
      next += r[i]! * z[i]!;
    }
    for (let i = 0; i < n; i++) d[i] = z[i]! + (next / rz) * d[i]!;
    rz = next;
  }
}

function relax(n: number, facets: Uint32Array, own: Float64Array, turns: Float64Array, flat: Float64Array): void {
  const m = facets.length / 3;
  // Cotangents of the corner across from side k, which runs from corner k + 1 to corner k + 2.
  const weight = new Float64Array(3 * m);
  const diagonal = new Float64Array(n);
  for (let t = 0; t < m; t++)
    for (let k = 0; k < 3; k++) {
      const at = (c: number): P2 => [own[6 * t + 2 * (c % 3)]!, own[6 * t + 2 * (c % 3) + 1]!];
      const [o, a, b] = [at(k), at(k + 1), at(k + 2)];
      const [ux, uy, vx, vy] = [a[0] - o[0], a[1] - o[1], b[0] - o[0], b[1] - o[1]];
      const w = Math.min(20, Math.max(1e-3, (ux * vx + uy * vy) / Math.max(1e-12, Math.abs(ux * vy - uy * vx))));
      weight[3 * t + k] = w;
      diagonal[facets[3 * t + ((k + 1) % 3)]!]! += w;
      diagonal[facets[3 * t + ((k + 2) % 3)]!]! += w;
    }
  const apply = (x: Float64Array, out: Float64Array): void => {
    out.fill(0);
    for (let t = 0; t < m; t++)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [facets[3 * t + ((k + 1) % 3)]!, facets[3 * t + ((k + 2) % 3)]!];
        const w = weight[3 * t + k]!;
        for (let c = 0; c < 2; c++) {
          const d = w * (x[2 * a + c]! - x[2 * b + c]!);
          out[2 * a + c]! += d;
          out[2 * b + c]! -= d;
        }
      }
    // The first vertex stays where it is.
    out[0] = x[0]!;
    out[1] = x[1]!;
  };
  const size = sizeOf(own);
  const rhs = new Float64Array(2 * n);
  for (let round = 0; round < ROUNDS; round++) {
    rhs.fill(0);
    for (let t = 0; t < m; t++) {
      // How the facet lies turned: at first as it was unfolded.
      let [cos, sin] = round === 0 ? [Math.cos(turns[t]!), Math.sin(turns[t]!)] : [0, 0];
      for (let k = 0; k < 3 && round > 0; k++) {
        const [i, j] = [(k + 1) % 3, (k + 2) % 3];
        const [a, b] = [facets[3 * t + i]!, facets[3 * t + j]!];
        const [ox, oy] = [own[6 * t + 2 * i]! - own[6 * t + 2 * j]!, own[6 * t + 2 * i + 1]! - own[6 * t + 2 * j + 1]!];
        const [fx, fy] = [flat[2 * a]! - flat[2 * b]!, flat[2 * a + 1]! - flat[2 * b + 1]!];
        const w = weight[3 * t + k]!;
        cos += w * (ox * fx + oy * fy);
        sin += w * (ox * fy - oy * fx);
      }
      const l = Math.hypot(cos, sin) || 1;
      [cos, sin] = [cos / l, sin / l];
      for (let k = 0; k < 3; k++) {
        const [i, j] = [(k + 1) % 3, (k + 2) % 3];
        const [a, b] = [facets[3 * t + i]!, facets[3 * t + j]!];
        const [ox, oy] = [own[6 * t + 2 * i]! - own[6 * t + 2 * j]!, own[6 * t + 2 * i + 1]! - own[6 * t + 2 * j + 1]!];
        const w = weight[3 * t + k]!;
        const [x, y] = [w * (cos * ox - sin * oy), w * (sin * ox + cos * oy)];
        rhs[2 * a]! += x;
        rhs[2 * a + 1]! += y;
        rhs[2 * b]! -= x;
        rhs[2 * b + 1]! -= y;
      }
    }
    rhs[0] = flat[0]!;
    rhs[1] = flat[1]!;
    const before = flat.slice();
    conjugate(flat, rhs, apply, (i) => (i < 2 ? 1 : diagonal[i >> 1]! || 1), 1e-15 * size * size);
    let moved = 0;
    for (let i = 0; i < 2 * n; i++) moved = Math.max(moved, Math.abs(flat[i]! - before[i]!));
    if (round > 0 && moved < SETTLED * size) break;
  }
}

/** Side of a square as large as the piece, mm. */
const sizeOf = (own: Float64Array): number =>
  Math.sqrt(own.reduce((sum, _, i) => (i % 6 === 2 ? sum + own[i]! * Math.abs(own[i + 3]!) : sum), 0));

/** The least height of a facet, mm. */
function heightOf(own: Float64Array, t: number): number {
  const [l, x, y] = [own[6 * t + 2]!, own[6 * t + 4]!, own[6 * t + 5]!];
  return (l * y) / Math.max(l, Math.hypot(x, y), Math.hypot(x - l, y));
}

/** Largest difference of a facet's two stretches from none. */
function strainOf(facets: Uint32Array, own: Float64Array, flat: Float64Array, t: number): number {
  const [l, x, y] = [own[6 * t + 2]!, own[6 * t + 4]!, own[6 * t + 5]!];
  if (l * y < 1e-9) return 0;
  const f = (k: number, c: number): number => flat[2 * facets[3 * t + k]! + c]! - flat[2 * facets[3 * t]! + c]!;
  // Columns of the map from its own plane to the flat one.
  const [a, b] = [f(1, 0) / l, f(1, 1) / l];
  const [c, d] = [(f(2, 0) - a * x) / y, (f(2, 1) - b * x) / y];
  const [e, g] = [(a + d) / 2, (b - c) / 2];
  const [h, k] = [(a - d) / 2, (b + c) / 2];
  const [q, r] = [Math.hypot(e, g), Math.hypot(h, k)];
  return Math.max(Math.abs(q + r - 1), Math.abs(q - r - 1));
}

/** Size of a flat piece about a direction, and of the largest upright rectangle that lies within it, mm. */
export function sizesOf(
  flat: Float64Array,
  facets: Uint32Array,
  up: P2,
): { width: number; height: number; label: { width: number; height: number } } {
  const [c, s] = [up[1], up[0]];
  const turned = Array.from({ length: flat.length / 2 }, (_, i): P2 => {
    const [x, y] = [flat[2 * i]!, flat[2 * i + 1]!];
    return [c * x - s * y, s * x + c * y];
  });
  const [xs, ys] = [turned.map((q) => q[0]), turned.map((q) => q[1])];
  const reach = (v: number[]): [number, number] =>
    v.reduce<[number, number]>(([a, b], x) => [Math.min(a, x), Math.max(b, x)], [Infinity, -Infinity]);
  const [x, y] = [reach(xs), reach(ys)];
  return { width: x[1] - x[0], height: y[1] - y[0], label: rectangleIn(turned, facets, x, y) };
}
