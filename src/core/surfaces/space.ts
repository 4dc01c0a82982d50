/**
 * Spline spaces and tensor-product interpolation on their Greville grids: a surface known by a formula becomes a B-spline surface.
 * Source: Piegl & Tiller, The NURBS Book, ch. 2 and 9 (from memory).
 */
import { basisDerivatives, basisValues, findSpan } from '../curves/bspline';
import type { Vec3 } from '../geometry/vectors';
import type { PoleSurface } from './spline';

export interface SplineSpace {
  readonly degree: number;
  /** Knots, rising; the first and last bound the parameter. Inner ones of a clamped space stand repeated where it is less smooth. */
  readonly knots: readonly number[];
  readonly periodic: boolean;
}

/** A clamped space of degree five over even spans. */
export const quintic = (from: number, to: number, spans: number): SplineSpace => ({
  degree: 5,
  knots: Array.from({ length: spans + 1 }, (_, i) => from + ((to - from) * i) / spans),
  periodic: false,
});

/** Number of poles. */
export const dimension = (s: SplineSpace): number => (s.periodic ? s.knots.length - 1 : s.knots.length - 1 + s.degree);

/** The knots with those beyond the ends: repeated for a clamped space, carried round for a periodic one. */
function flat(s: SplineSpace): readonly number[] {
  let known = extended.get(s);
  if (!known) {
    known = extend(s);
    extended.set(s, known);
  }
  return known;
}

const extended = new WeakMap<SplineSpace, readonly number[]>();

function extend(s: SplineSpace): number[] {
  const { degree: p, knots } = s;
  const n = knots.length - 1;
  if (!s.periodic) return [...new Array<number>(p).fill(knots[0]!), ...knots, ...new Array<number>(p).fill(knots[n]!)];
  const period = knots[n]! - knots[0]!;
  const before = Array.from({ length: p }, (_, i) => knots[n - p + i]! - period);
  const after = Array.from({ length: p }, (_, i) => knots[i + 1]! + period);
  return [...before, ...knots, ...after];
}

/** Knots once each, with how often each stands: as often as the degree wants at the ends of a clamped space. */
export function multiplicities(s: SplineSpace): { readonly knots: readonly number[]; readonly counts: readonly number[] } {
  const knots = s.knots.filter((k, i) => i === 0 || k > s.knots[i - 1]!);
  const ends = [knots[0], knots[knots.length - 1]];
  return { knots, counts: knots.map((k) => (!s.periodic && ends.includes(k) ? s.degree + 1 : s.knots.filter((q) => q === k).length)) };
}

/** Where a space is interpolated: the averages of the inner knots of each basis function. */
export function greville(s: SplineSpace): number[] {
  const t = flat(s);
  const { degree: p } = s;
  const out: number[] = [];
  const period = s.knots[s.knots.length - 1]! - s.knots[0]!;
  for (let i = 0; i < dimension(s); i++) {
    let sum = 0;
    for (let k = 1; k <= p; k++) sum += t[i + k]!;
    let g = sum / p;
    if (s.periodic) {
      while (g < s.knots[0]! - 1e-15) g += period;
      while (g >= s.knots[0]! + period - 1e-15) g -= period;
    }
    out.push(g);
  }
  return out;
}

/** The basis functions that are not zero at a parameter, by pole. */
export function basisAt(s: SplineSpace, t: number): { readonly first: number; readonly values: readonly number[] } {
  const knots = flat(s);
  const count = knots.length - s.degree - 1;
  const span = findSpan(s.degree, knots, count, t);
  return { first: span - s.degree, values: basisValues(s.degree, knots, span, t) };
}

/** A square system solved once for many right-hand sides, by elimination with row exchange. Splines make band matrices: what lies beside the band is left out. */
class Solver {
  private readonly lu: Float64Array[];
  private readonly order: number[];
  /** Where each row begins and ends being other than zero. */
  private readonly first: Int32Array;
  private readonly last: Int32Array;
  constructor(rows: readonly (readonly number[])[]) {
    const n = rows.length;
    this.lu = rows.map((r) => Float64Array.from(r));
    this.order = rows.map((_, i) => i);
    for (let k = 0; k < n; k++) {
      let best = k;
      for (let i = k + 1; i < n; i++) if (Math.abs(this.lu[i]![k]!) > Math.abs(this.lu[best]![k]!)) best = i;
      [this.lu[k], this.lu[best]] = [this.lu[best]!, this.lu[k]!];
      [this.order[k], this.order[best]] = [this.order[best]!, this.order[k]!];
      const pivot = this.lu[k]!;
      for (let i = k + 1; i < n; i++) {
        const row = this.lu[i]!;
        if (row[k] === 0) continue;
        const f = row[k]! / pivot[k]!;
        row[k] = f;
        for (let j = k + 1; j < n; j++) if (pivot[j] !== 0) row[j] = row[j]! - f * pivot[j]!;
      }
    }
    this.first = Int32Array.from(this.lu, (row) => row.findIndex((v) => v !== 0));
    this.last = Int32Array.from(this.lu, (row) => row.findLastIndex((v) => v !== 0));
  }
  solve(b: readonly number[]): number[] {
    const n = this.lu.length;
    const x = this.order.map((i) => b[i]!);
    for (let i = 0; i < n; i++) for (let j = this.first[i]!; j < i; j++) x[i] = x[i]! - this.lu[i]![j]! * x[j]!;
    for (let i = n - 1; i >= 0; i--) {
      for (let j = i + 1; j <= this.last[i]!; j++) x[i] = x[i]! - this.lu[i]![j]! * x[j]!;
      x[i] = x[i]! / this.lu[i]![i]!;
    }
    return x;
  }
}

function solverOf(s: SplineSpace): Solver {
  const n = dimension(s);
  return new Solver(
    greville(s).map((t) => {
      const row = new Array<number>(n).fill(0);
      const { first, values } = basisAt(s, t);
      values.forEach((v, k) => {
        const i = (first + k) % n;
        row[i] = row[i]! + v;
      });
      return row;
    }),
  );
}

export interface SplineSurface {
  readonly u: SplineSpace;
  readonly v: SplineSpace;
  /** poles[i][j]: i along u, j along v; mm. */
  readonly poles: readonly (readonly Vec3[])[];
}

/** The same surface with the knots beyond its ends, and the poles that a closed way has twice there. */
export function unrolled({ u, v, poles }: SplineSurface): PoleSurface {
  const round = <T>(list: readonly T[], space: SplineSpace): readonly T[] =>
    space.periodic ? [...list, ...list.slice(0, space.degree)] : list;
  return { degrees: [u.degree, v.degree], knots: [flat(u), flat(v)], poles: round(poles, u).map((row) => round(row, v)) };
}

/**
 * Interpolates at every knot of a clamped cubic space, with the first derivative given at both ends: exact for every spline of the space.
 * The right-hand side: value, then derivative at the first knot; values at the inner ones; derivative, then value at the last.
 */
export function knotSolver(s: SplineSpace): (rhs: readonly number[]) => number[] {
  const n = dimension(s);
  const knots = flat(s);
  const row = (t: number, order: 0 | 1): number[] => {
    const span = findSpan(s.degree, knots, n, t);
    const out = new Array<number>(n).fill(0);
    basisDerivatives(s.degree, knots, span, t, order)[order]!.forEach((v, k) => {
      out[span - s.degree + k] = v;
    });
    return out;
  };
  const [first, last] = [s.knots[0]!, s.knots[s.knots.length - 1]!];
  const solver = new Solver([row(first, 0), row(first, 1), ...s.knots.slice(1, -1).map((t) => row(t, 0)), row(last, 1), row(last, 0)]);
  return (rhs) => solver.solve(rhs);
}

/** The poles of the curve of a clamped space that agrees with a formula on its Greville places. */
export function interpolateCurve(space: SplineSpace, formula: (t: number) => readonly number[]): number[][] {
  const values = greville(space).map(formula);
  const solver = solverOf(space);
  const columns = values[0]!.map((_, k) => solver.solve(values.map((v) => v[k]!)));
  return values.map((_, i) => columns.map((c) => c[i]!));
}

/** The surface of the two spaces that agrees with a formula on their Greville grid. */
export function interpolateSurface(u: SplineSpace, v: SplineSpace, formula: (u: number, v: number) => Vec3): SplineSurface {
  const [gu, gv] = [greville(u), greville(v)];
  const [su, sv] = [solverOf(u), solverOf(v)];
  const grid = gu.map((a) => gv.map((b) => formula(a, b)));
  // Along u for each column, then along v for each row.
  const half = gu.map(() => gv.map(() => [0, 0, 0] as [number, number, number]));
  for (let j = 0; j < gv.length; j++)
    for (let k = 0; k < 3; k++)
      su.solve(grid.map((row) => row[j]![k]!)).forEach((x, i) => {
        half[i]![j]![k] = x;
      });
  const poles = half.map((row) => {
    const out = row.map(() => [0, 0, 0] as [number, number, number]);
    for (let k = 0; k < 3; k++)
      sv.solve(row.map((p) => p[k]!)).forEach((x, j) => {
        out[j]![k] = x;
      });
    return out;
  });
  return { u, v, poles };
}

/** A place on the surface, mm. */
export function surfaceAt(s: SplineSurface, u: number, v: number): [number, number, number] {
  const [bu, bv] = [basisAt(s.u, u), basisAt(s.v, v)];
  const [nu, nv] = [dimension(s.u), dimension(s.v)];
  let [x, y, z] = [0, 0, 0];
  for (let i = 0; i < bu.values.length; i++) {
    const row = s.poles[(bu.first + i) % nu]!;
    for (let j = 0; j < bv.values.length; j++) {
      const p = row[(bv.first + j) % nv]!;
      const w = bu.values[i]! * bv.values[j]!;
      x += w * p[0];
      y += w * p[1];
      z += w * p[2];
    }
  }
  return [x, y, z];
}

/** A place of surfaces side by side, by shares along and across. */
export function placeAlong(surfaces: readonly SplineSurface[], x: number, v: number): Vec3 {
  const n = surfaces.length;
  const t = n > 1 ? x - Math.floor(x) : Math.min(1, Math.max(0, x));
  const i = Math.min(n - 1, Math.floor(t * n));
  return surfaceAt(surfaces[i]!, t * n - i, v);
}

/** Places all over surfaces, dense enough to tell how far they reach, mm. */
export function* placesOf(surfaces: readonly SplineSurface[]): Generator<Vec3> {
  const places = ({ knots }: SplineSpace): number[] =>
    knots.slice(1).flatMap((b, i) => {
      const a = knots[i]!;
      return b > a ? [a, a + (b - a) / 4, (a + b) / 2, b - (b - a) / 4, b] : [];
    });
  for (const s of surfaces) {
    const across = places(s.v);
    for (const u of places(s.u)) for (const v of across) yield surfaceAt(s, u, v);
  }
}

/**
 * The closed curve through values at even parameters 0…period, as smooth as its degree lets it be: poles of a periodic space with a knot
 * at each.
 * @param degree odd
 */
export function closedThrough(
  values: readonly (readonly number[])[],
  period: number,
  degree: number,
): { readonly space: SplineSpace; readonly poles: number[][] } {
  const n = values.length;
  const space: SplineSpace = { degree, knots: Array.from({ length: n + 1 }, (_, i) => (period * i) / n), periodic: true };
  const solver = closedSolver(n, period, degree, space);
  const at = greville(space).map((g) => Math.round((g * n) / period) % n);
  const width = values[0]!.length;
  const columns = Array.from({ length: width }, (_, k) => solver.solve(at.map((i) => values[i]![k]!)));
  return { space, poles: columns[0]!.map((_, i) => columns.map((c) => c[i]!)) };
}

let lastClosed: { readonly key: string; readonly solver: Solver } | undefined;
/** Hundreds are asked for in a row over the same knots. */
function closedSolver(n: number, period: number, degree: number, space: SplineSpace): Solver {
  const key = `${n} ${period} ${degree}`;
  if (lastClosed?.key !== key) lastClosed = { key, solver: solverOf(space) };
  return lastClosed.solver;
}

/** A place of a curve by its space and poles. */
export function curveAt(space: SplineSpace, poles: readonly (readonly number[])[], t: number): number[] {
  const { first, values } = basisAt(space, t);
  return poles[0]!.map((_, k) => values.reduce((sum, b, i) => sum + b * poles[(first + i) % poles.length]![k]!, 0));
}
