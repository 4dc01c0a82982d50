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
