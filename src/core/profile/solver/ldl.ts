/**
 * Sparse LDLᵀ of a symmetric matrix whose pattern stays while its values change. Source: T. A. Davis, "Algorithm
 * 849: a concise sparse Cholesky factorization package" (up-looking, elimination tree; from memory), with a
 * minimum-degree order worked out once.
 */

/** The pattern of a symmetric matrix, ordered and with its elimination tree. */
export interface Symbolic {
  readonly n: number;
  /** Place k of the order holds row order[k]. */
  readonly order: Int32Array;
  /** Columns of the strict upper triangle of the permuted matrix, compressed; the diagonal apart. */
  readonly colStart: Int32Array;
  readonly rowIndex: Int32Array;
  readonly parent: Int32Array;
  readonly lStart: Int32Array;
}

export interface Numeric {
  readonly upper: Float64Array;
  readonly diagonal: Float64Array;
  readonly lIndex: Int32Array;
  readonly lValue: Float64Array;
  readonly lCount: Int32Array;
  readonly d: Float64Array;
  readonly work: Float64Array;
  readonly flag: Int32Array;
  readonly pattern: Int32Array;
}

/** Minimum degree on the graph of the matrix, by quotient sets small enough for a few thousand rows. */
function minimumDegree(n: number, adjacency: readonly Set<number>[]): Int32Array {
  const adj = adjacency.map((s) => new Set(s));
  const order = new Int32Array(n);
  const buckets: Set<number>[] = [];
  const put = (v: number): void => {
    const d = adj[v]!.size;
    buckets[d] ??= new Set();
    buckets[d].add(v);
  };
  for (let v = 0; v < n; v++) put(v);
  let low = 0;
  for (let k = 0; k < n; k++) {
    while (!buckets[low] || buckets[low]!.size === 0) low++;
    const v = buckets[low]!.values().next().value as number;
    buckets[low]!.delete(v);
    order[k] = v;
    const around = [...adj[v]!];
    for (const a of around) {
      buckets[adj[a]!.size]!.delete(a);
      adj[a]!.delete(v);
    }
    for (let i = 0; i < around.length; i++)
      for (let j = i + 1; j < around.length; j++) {
        adj[around[i]!]!.add(around[j]!);
        adj[around[j]!]!.add(around[i]!);
      }
    for (const a of around) {
      put(a);
      if (adj[a]!.size < low) low = adj[a]!.size;
    }
  }
  return order;
}

/**
 * Orders and analyses a pattern.
 * @param pairs for each entry of the strict triangle once, its two rows
 * @returns the analysis, and for each pair its place in `Numeric.upper`
 */
export function analyse(n: number, pairs: readonly (readonly [number, number])[]): { symbolic: Symbolic; places: Int32Array } {
  const adjacency: Set<number>[] = Array.from({ length: n }, () => new Set<number>());
  for (const [a, b] of pairs) {
    adjacency[a]!.add(b);
    adjacency[b]!.add(a);
  }
  const order = minimumDegree(n, adjacency);
  const at = new Int32Array(n);
  for (let k = 0; k < n; k++) at[order[k]!] = k;
  const columns: [number, number][][] = Array.from({ length: n }, () => []);
  pairs.forEach(([a, b], e) => {
    const i = Math.min(at[a]!, at[b]!);
    const j = Math.max(at[a]!, at[b]!);
    columns[j]!.push([i, e]);
  });
  const colStart = new Int32Array(n + 1);
  const rowIndex = new Int32Array(pairs.length);
  const places = new Int32Array(pairs.length);
  let p = 0;
  for (let j = 0; j < n; j++) {
    colStart[j] = p;
    for (const [i, e] of columns[j]!) {
      rowIndex[p] = i;
      places[e] = p++;
    }
  }
  colStart[n] = p;
  const parent = new Int32Array(n).fill(-1);
  const flag = new Int32Array(n).fill(-1);
  const count = new Int32Array(n);
  for (let k = 0; k < n; k++) {
    flag[k] = k;
    for (let q = colStart[k]!; q < colStart[k + 1]!; q++)
      for (let i = rowIndex[q]!; flag[i] !== k; i = parent[i]!) {
        if (parent[i] === -1) parent[i] = k;
        count[i] = count[i]! + 1;
        flag[i] = k;
      }
  }
  const lStart = new Int32Array(n + 1);
  for (let k = 0; k < n; k++) lStart[k + 1] = lStart[k]! + count[k]!;
  return { symbolic: { n, order, colStart, rowIndex, parent, lStart }, places };
}

export function numericFor(s: Symbolic): Numeric {
  const nnz = s.lStart[s.n]!;
  return {
    upper: new Float64Array(s.rowIndex.length),
    diagonal: new Float64Array(s.n),
    lIndex: new Int32Array(nnz),
    lValue: new Float64Array(nnz),
    lCount: new Int32Array(s.n),
    d: new Float64Array(s.n),
    work: new Float64Array(s.n),
    flag: new Int32Array(s.n),
    pattern: new Int32Array(s.n),
  };
}

/**
 * Factors what stands in `upper` and `diagonal` (both in the analysed order). Rows whose pivot falls below `tiny` times their own
 * diagonal depend on earlier ones and are left out of the solution.
 * @returns how many rows were left out
 */
export function factor(s: Symbolic, m: Numeric, tiny: number): number {
  const { n, colStart, rowIndex, parent, lStart } = s;
  const { upper, diagonal, lIndex, lValue, lCount, d, work, flag, pattern } = m;
  let dropped = 0;
  // Marks left by an earlier call would read as visited.
  flag.fill(-1);
  for (let k = 0; k < n; k++) {
    work[k] = 0;
    let top = n;
    flag[k] = k;
    lCount[k] = 0;
    for (let q = colStart[k]!; q < colStart[k + 1]!; q++) {
      let i = rowIndex[q]!;
      work[i] = work[i]! + upper[q]!;
      let len = 0;
      for (; flag[i] !== k; i = parent[i]!) {
        pattern[len++] = i;
        flag[i] = k;
      }
      while (len > 0) pattern[--top] = pattern[--len]!;
    }
    let dk = diagonal[k]!;
    for (; top < n; top++) {
      const i = pattern[top]!;
      const yi = work[i]!;
      work[i] = 0;
      const end = lStart[i]! + lCount[i]!;
      for (let q = lStart[i]!; q < end; q++) work[lIndex[q]!] = work[lIndex[q]!]! - lValue[q]! * yi;
      const di = d[i]!;
      const l = di === 0 ? 0 : yi / di;
      dk -= l * yi;
      lIndex[end] = k;
      lValue[end] = l;
      lCount[i] = lCount[i]! + 1;
    }
    if (dk <= tiny * Math.max(diagonal[k]!, 1e-300)) {
      d[k] = 0;
      dropped++;
    } else d[k] = dk;
  }
  return dropped;
}

/** Solves in place; `b` in the rows' own numbering. Rows left out get 0. */
export function solve(s: Symbolic, m: Numeric, b: Float64Array): void {
  const { n, order, lStart } = s;
  const { lIndex, lValue, lCount, d, work } = m;
  for (let k = 0; k < n; k++) work[k] = b[order[k]!]!;
  for (let j = 0; j < n; j++) {
    if (d[j] === 0) {
      work[j] = 0;
      continue;
    }
    const v = work[j]!;
    const end = lStart[j]! + lCount[j]!;
    for (let q = lStart[j]!; q < end; q++) work[lIndex[q]!] = work[lIndex[q]!]! - lValue[q]! * v;
  }
  for (let j = 0; j < n; j++) work[j] = d[j] === 0 ? 0 : work[j]! / d[j]!;
  for (let j = n - 1; j >= 0; j--) {
    if (d[j] === 0) continue;
    let v = work[j]!;
    const end = lStart[j]! + lCount[j]!;
    for (let q = lStart[j]!; q < end; q++) v -= lValue[q]! * work[lIndex[q]!]!;
    work[j] = v;
  }
  for (let k = 0; k < n; k++) {
    b[order[k]!] = work[k]!;
    work[k] = 0;
  }
}
