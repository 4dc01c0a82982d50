/** Small dense linear systems. */

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
