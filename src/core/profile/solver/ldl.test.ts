/** The sparse factorization against a general-purpose library's dense solution (mathjs, lusolve), on random matrices of normal equations. */
import fc from 'fast-check';
import { lusolve } from 'mathjs';
import { describe, expect, it } from 'vitest';
import { analyse, factor, numericFor, solve } from './ldl';

/** A symmetric positive matrix AᵀA + s·1 of a sparse A, and a right-hand side. */
const systems = fc
  .record({
    n: fc.integer({ min: 1, max: 14 }),
    rows: fc.array(fc.array(fc.tuple(fc.nat(13), fc.double({ min: -3, max: 3, noNaN: true })), { minLength: 1, maxLength: 4 }), {
      minLength: 1,
      maxLength: 18,
    }),
    shift: fc.double({ min: 0.2, max: 2, noNaN: true }),
    rhs: fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 14, maxLength: 14 }),
  })
  .map(({ n, rows, shift, rhs }) => {
    const m = Array.from({ length: n }, (_, i) => Array.from({ length: n }, (_, j) => (i === j ? shift : 0)));
    for (const row of rows) {
      const sparse = new Map<number, number>();
      for (const [c, v] of row) sparse.set(c % n, (sparse.get(c % n) ?? 0) + v);
      for (const [i, a] of sparse) for (const [j, b] of sparse) m[i]![j]! += a * b;
    }
    return { n, m, rhs: rhs.slice(0, n) };
  });

function pairsOf(m: readonly (readonly number[])[]): [number, number][] {
  const out: [number, number][] = [];
  for (let i = 0; i < m.length; i++) for (let j = 0; j < i; j++) if (m[i]![j] !== 0) out.push([i, j]);
  return out;
}

describe('the sparse factorization', () => {
  it('solves what the library solves', () => {
    fc.assert(
      fc.property(systems, ({ n, m, rhs }) => {
        const pairs = pairsOf(m);
        const { symbolic, places } = analyse(n, pairs);
        const numeric = numericFor(symbolic);
        pairs.forEach(([i, j], e) => {
          numeric.upper[places[e]!] = m[i]![j]!;
        });
        for (let k = 0; k < n; k++) numeric.diagonal[k] = m[symbolic.order[k]!]![symbolic.order[k]!]!;
        expect(factor(symbolic, numeric, 1e-14)).toBe(0);
        const x = Float64Array.from(rhs);
        solve(symbolic, numeric, x);
        const theirs = (lusolve(m, rhs) as number[][]).map((r) => r[0]!);
        for (const [k, v] of theirs.entries()) expect(Math.abs(x[k]! - v)).toBeLessThan(1e-8 * Math.max(1, ...theirs.map(Math.abs)));
      }),
      { numRuns: 200 },
    );
  });
  it('takes other values into the same pattern, again and again', () => {
    const pairs: [number, number][] = [
      [1, 0],
      [2, 1],
      [3, 2],
      [3, 0],
    ];
    const { symbolic, places } = analyse(4, pairs);
    const numeric = numericFor(symbolic);
    for (const s of [1, 2.5, 0.3, 1]) {
      const m = [
        [4 * s, 1, 0, -1],
        [1, 3 * s + 1, 0.5, 0],
        [0, 0.5, 2 + s, 0.25],
        [-1, 0, 0.25, 5],
      ];
      pairs.forEach(([i, j], e) => {
        numeric.upper[places[e]!] = m[i]![j]!;
      });
      for (let k = 0; k < 4; k++) numeric.diagonal[k] = m[symbolic.order[k]!]![symbolic.order[k]!]!;
      expect(factor(symbolic, numeric, 1e-14)).toBe(0);
      const x = Float64Array.from([1, -2, 3, 0.5]);
      solve(symbolic, numeric, x);
      const theirs = (lusolve(m, [1, -2, 3, 0.5]) as number[][]).map((r) => r[0]!);
      for (const [k, v] of theirs.entries()) expect(x[k]).toBeCloseTo(v, 10);
    }
  });
  it('leaves out rows that depend on earlier ones, and solves for the rest', () => {
    // The third row is the first again: one of the two counts.
    const m = [
      [2, 1, 2],
      [1, 3, 1],
      [2, 1, 2],
    ];
    const pairs = pairsOf(m);
    const { symbolic, places } = analyse(3, pairs);
    const numeric = numericFor(symbolic);
    pairs.forEach(([i, j], e) => {
      numeric.upper[places[e]!] = m[i]![j]!;
    });
    for (let k = 0; k < 3; k++) numeric.diagonal[k] = m[symbolic.order[k]!]![symbolic.order[k]!]!;
    expect(factor(symbolic, numeric, 1e-10)).toBe(1);
    const x = Float64Array.from([4, 7, 4]);
    solve(symbolic, numeric, x);
    for (const row of m) expect(row.reduce((s, v, k) => s + v * x[k]!, 0)).toBeCloseTo(row === m[1] ? 7 : 4, 9);
  });
});
