/** Small dense linear systems, and axes of symmetric ones. */
import { triple, type Vec3 } from './geometry/vectors';

/**
 * Solves a small dense system with several right-hand sides at once (elimination with row exchange).
 * @param rows the matrix, overwritten
 * @param rhs one row of values for every equation
 */
export function solveDense<V extends readonly number[]>(rows: number[][], rhs: readonly V[]): V[] {
  const n = rows.length;
  const width = rhs[0]?.length ?? 0;
  const x = rhs.map((r) => [...r]);
  for (let k = 0; k < n; k++) {
    let best = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(rows[i]![k]!) > Math.abs(rows[best]![k]!)) best = i;
    [rows[k], rows[best]] = [rows[best]!, rows[k]!];
    [x[k], x[best]] = [x[best]!, x[k]!];
    for (let i = k + 1; i < n; i++) {
      const f = rows[i]![k]! / rows[k]![k]!;
      if (f === 0) continue;
      for (let j = k; j < n; j++) rows[i]![j] = rows[i]![j]! - f * rows[k]![j]!;
      for (let d = 0; d < width; d++) x[i]![d] = x[i]![d]! - f * x[k]![d]!;
    }
  }
  for (let i = n - 1; i >= 0; i--)
    for (let d = 0; d < width; d++) {
      let sum = x[i]![d]!;
      for (let j = i + 1; j < n; j++) sum -= rows[i]![j]! * x[j]![d]!;
      x[i]![d] = sum / rows[i]![i]!;
    }
  return x as unknown as V[];
}

/**
 * Solves a symmetric, positive definite system whose entries lie near its diagonal (Cholesky).
 * @param band for each row its entries from the diagonal leftwards: band[i][d] stands at column i − d; overwritten
 * @returns the solution, or undefined where the matrix is not positive definite
 */
export function solveBanded(band: readonly Float64Array[], rhs: ArrayLike<number>): Float64Array | undefined {
  const n = band.length;
  for (let i = 0; i < n; i++) {
    const row = band[i]!;
    const first = Math.max(0, i - row.length + 1);
    for (let j = first; j <= i; j++) {
      const other = band[j]!;
      let s = row[i - j]!;
      for (let k = Math.max(first, j - other.length + 1); k < j; k++) s -= row[i - k]! * other[j - k]!;
      if (j < i) row[i - j] = s / other[0]!;
      else if (s > 0) row[0] = Math.sqrt(s);
      else return undefined;
    }
  }
  const x = Float64Array.from(rhs);
  for (let i = 0; i < n; i++) {
    const row = band[i]!;
    let s = x[i]!;
    for (let d = 1; d < row.length && d <= i; d++) s -= row[d]! * x[i - d]!;
    x[i] = s / row[0]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    const row = band[i]!;
    x[i] = x[i]! / row[0]!;
    for (let d = 1; d < row.length && d <= i; d++) x[i - d] = x[i - d]! - row[d]! * x[i]!;
  }
  return x;
}

/** Moments of vectors: the sums of the products of their coordinates. @param weights of each; all alike where left out */
export const momentsOf = (vectors: readonly Vec3[], weights: readonly number[] = vectors.map(() => 1)): number[][] =>
  ([0, 1, 2] as const).map((i) => ([0, 1, 2] as const).map((j) => vectors.reduce((s, d, k) => s + weights[k]! * d[i] * d[j], 0)));

/** Axes of a symmetric matrix of three, by turning away what lies beside its diagonal. Source: C. G. J. Jacobi (1846). @returns the least first */
export function axesOf(symmetric: readonly (readonly number[])[]): { readonly value: number; readonly axis: Vec3 }[] {
  const m = symmetric.map((row) => [...row]);
  const v = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  for (let sweep = 0; sweep < 30; sweep++)
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ] as const) {
      if (Math.abs(m[p]![q]!) < 1e-18) continue;
      const angle = 0.5 * Math.atan2(2 * m[p]![q]!, m[q]![q]! - m[p]![p]!);
      const [co, si] = [Math.cos(angle), Math.sin(angle)];
      const turn = (rows: number[][]): void => {
        for (const row of rows) {
          const [a, b] = [row[p]!, row[q]!];
          row[p] = co * a - si * b;
          row[q] = si * a + co * b;
        }
      };
      turn(m);
      for (let k = 0; k < 3; k++) {
        const [a, b] = [m[p]![k]!, m[q]![k]!];
        m[p]![k] = co * a - si * b;
        m[q]![k] = si * a + co * b;
      }
      turn(v);
    }
  return [0, 1, 2].map((k) => ({ value: m[k]![k]!, axis: triple((i) => v[i]![k]!) })).toSorted((x, y) => x.value - y.value);
}
