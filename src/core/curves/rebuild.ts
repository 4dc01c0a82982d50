/** A curve again with a chosen number of control points, and how far that takes it from what it was. */
import { dot, minus, type Vec3 } from '../geometry/vectors';
import { solveDense } from '../linear';
import { type BSpline, basisDerivatives, evaluateBSpline, findSpan } from './bspline';

export interface Rebuilt {
  readonly spline: BSpline;
  /** Largest distance of places of the old curve from the new one, mm. */
  readonly deviation: number;
  /** Where on the old curve that is, share of its length. */
  readonly at: number;
}

const CORRECTIONS = 30;

/**
 * Least squares with fixed ends; the places' parameters are corrected to the nearest ones between rounds (Hoschek 1988, from memory).
 * @param at place by a share of the length
 * @param count control points, at least 2; the degree is 3 where there are 4 or more
 */
export function rebuild(at: (share: number) => Vec3, count: number): Rebuilt {
  const n = Math.max(2, Math.round(count));
  const degree = Math.min(3, n - 1);
  const m = Math.max(200, 12 * n);
  const places = Array.from({ length: m + 1 }, (_, i) => at(i / m));
  const inner = n - degree - 1;
  const knots = [
    ...new Array<number>(degree + 1).fill(0),
    ...Array.from({ length: inner }, (_, i) => (i + 1) / (inner + 1)),
    ...new Array<number>(degree + 1).fill(1),
  ];
  let t = places.map((_, i) => i / m);
  let spline = fitted(places, t, knots, degree, n);
  for (let k = 0; k < CORRECTIONS && n > 2; k++) {
    t = t.map((x, i) => (i === 0 || i === m ? x : nearest(spline, places[i]!, x)));
    spline = fitted(places, t, knots, degree, n);
  }
  let [deviation, where] = [0, 0];
  const fine = 4 * m;
  for (let i = 0; i <= fine; i++) {
    const p = at(i / fine);
    const k = Math.floor((i * m) / fine);
    const start = t[k]! + ((i * m) / fine - k) * ((t[Math.min(m, k + 1)] ?? 1) - t[k]!);
    const d = Math.hypot(...minus(evaluateBSpline(spline, nearest(spline, p, start))[0] as unknown as Vec3, p));
    if (d > deviation) [deviation, where] = [d, i / fine];
  }
  return { spline, deviation, at: where };
}

function fitted(places: readonly Vec3[], t: readonly number[], knots: readonly number[], degree: number, n: number): BSpline {
  const [first, last] = [places[0]!, places[places.length - 1]!];
  if (n === 2) return { degree, knots: [...knots], poles: [first, last] };
  const free = n - 2;
  const rows = Array.from({ length: free }, () => new Array<number>(free).fill(0));
  const rhs = Array.from({ length: free }, (): [number, number, number] => [0, 0, 0]);
  for (const [i, p] of places.entries()) {
    const span = findSpan(degree, knots, n, t[i]!);
    const basis = basisDerivatives(degree, knots, span, t[i]!, 0)[0]!;
    const rest = [...p];
    const own: [number, number][] = [];
    basis.forEach((b, k) => {
      const pole = span - degree + k;
      if (pole === 0 || pole === n - 1) for (let d = 0; d < 3; d++) rest[d] = rest[d]! - b * (pole === 0 ? first : last)[d]!;
      else own.push([pole - 1, b]);
    });
    for (const [a, wa] of own) {
      for (const [b, wb] of own) rows[a]![b] = rows[a]![b]! + wa * wb;
      for (let d = 0; d < 3; d++) rhs[a]![d] = rhs[a]![d]! + wa * rest[d]!;
    }
  }
  return { degree, knots: [...knots], poles: [first, ...solveDense(rows, rhs), last] };
}

/** The parameter of the nearest place of the curve, from a guess, by Newton's method. */
function nearest(spline: BSpline, p: Vec3, guess: number): number {
  let t = guess;
  for (let i = 0; i < 6; i++) {
    const [q, d1, d2] = evaluateBSpline(spline, t, 2) as unknown as [Vec3, Vec3, Vec3];
    const w = minus(q, p);
    const h = dot(d1, d1) + dot(w, d2);
    if (!(h > 1e-12)) break;
    const next = Math.min(1, Math.max(0, t - dot(w, d1) / h));
    if (Math.abs(next - t) < 1e-12) return next;
    t = next;
  }
  return t;
}
