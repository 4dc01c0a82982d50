/**
 * Lays a piece of skin flat: facet beside facet at first, then as stiffly as it goes (local/global relaxation: Sorkine and Alexa 2007,
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

const ROUNDS = 24;
/** Relaxation ends when no vertex moves by more than this share of the piece. */
const SETTLED = 1e-7;

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
  const flat = laidOut(n, facets, own);
  relax(n, facets, own, flat);
  const strain = new Float64Array(m);
  for (let t = 0; t < m; t++) strain[t] = strainOf(facets, own, flat, t);
  return { flat, strain };
}

/** Facets unfolded one beside the other, from the first on, nearest first. */
function laidOut(n: number, facets: Uint32Array, own: Float64Array): Float64Array {
  const m = facets.length / 3;
  const flat = new Float64Array(2 * n);
  const placed = new Uint8Array(n);
  const beside = new Map<number, number[]>();
  const key = (a: number, b: number): number => (a < b ? a * n + b : b * n + a);
  for (let t = 0; t < m; t++)
    for (let k = 0; k < 3; k++) {
      const s = key(facets[3 * t + k]!, facets[3 * t + ((k + 1) % 3)]!);
      const list = beside.get(s);
      if (list) list.push(t);
      else beside.set(s, [t]);
    }
  const done = new Uint8Array(m);
  const queue = [0];
  done[0] = 1;
  for (let k = 0; k < 3; k++) {
    flat.set([own[2 * k]!, own[2 * k + 1]!], 2 * facets[k]!);
    placed[facets[k]!] = 1;
  }
  for (let head = 0; head < queue.length; head++) {
    const t = queue[head]!;
    for (let k = 0; k < 3; k++) {
      const side = beside.get(key(facets[3 * t + k]!, facets[3 * t + ((k + 1) % 3)]!))!;
      for (const other of side) {
        if (done[other]) continue;
        done[other] = 1;
        queue.push(other);
        const free = [0, 1, 2].find((c) => !placed[facets[3 * other + c]!]);
        if (free === undefined) continue;
        // Carried along with its placed side, which it meets as it does in its own plane.
        const [i, j] = [(free + 1) % 3, (free + 2) % 3];
        const [a, b] = [facets[3 * other + i]!, facets[3 * other + j]!];
        const q = (c: number): P2 => [own[6 * other + 2 * c]!, own[6 * other + 2 * c + 1]!];
        const [from, to, at] = [q(i), q(j), q(free)];
        const was: P2 = [to[0] - from[0], to[1] - from[1]];
        const is: P2 = [flat[2 * b]! - flat[2 * a]!, flat[2 * b + 1]! - flat[2 * a + 1]!];
        const l = was[0] ** 2 + was[1] ** 2 || 1e-24;
        const [c, s] = [(was[0] * is[0] + was[1] * is[1]) / l, (was[0] * is[1] - was[1] * is[0]) / l];
        const d: P2 = [at[0] - from[0], at[1] - from[1]];
        const v = facets[3 * other + free]!;
        flat.set([flat[2 * a]! + c * d[0] - s * d[1], flat[2 * a + 1]! + s * d[0] + c * d[1]], 2 * v);
        placed[v] = 1;
      }
    }
  }
  return flat;
}

function relax(n: number, facets: Uint32Array, own: Float64Array, flat: Float64Array): void {
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
  let size = 0;
  for (const x of flat) size = Math.max(size, Math.abs(x));
  const [rhs, r, z, d, q] = [0, 1, 2, 3, 4].map(() => new Float64Array(2 * n)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  for (let round = 0; round < ROUNDS; round++) {
    rhs.fill(0);
    for (let t = 0; t < m; t++) {
      // How the facet lies turned.
      let [cos, sin] = [0, 0];
      for (let k = 0; k < 3; k++) {
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
    // Conjugate gradients, each vertex weighed by its diagonal.
    const before = flat.slice();
    apply(flat, q);
    let rz = 0;
    const scale = (i: number): number => (i < 2 ? 1 : diagonal[i >> 1]! || 1);
    for (let i = 0; i < 2 * n; i++) {
      r[i] = rhs[i]! - q[i]!;
      z[i] = r[i]! / scale(i);
      d[i] = z[i]!;
      rz += r[i]! * z[i]!;
    }
    const enough = 1e-22 * (rz + size * size);
    for (let step = 0; step < 400 && rz > enough; step++) {
      apply(d, q);
      let dq = 0;
      for (let i = 0; i < 2 * n; i++) dq += d[i]! * q[i]!;
      if (!(dq > 0)) break;
      const alpha = rz / dq;
      let next = 0;
      for (let i = 0; i < 2 * n; i++) {
        flat[i]! += alpha * d[i]!;
        r[i]! -= alpha * q[i]!;
        z[i] = r[i]! / scale(i);
        next += r[i]! * z[i]!;
      }
      for (let i = 0; i < 2 * n; i++) d[i] = z[i]! + (next / rz) * d[i]!;
      rz = next;
    }
    let moved = 0;
    for (let i = 0; i < 2 * n; i++) moved = Math.max(moved, Math.abs(flat[i]! - before[i]!));
    if (moved < SETTLED * size) break;
  }
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
