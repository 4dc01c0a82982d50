import fc from 'fast-check';
import { lusolve } from 'mathjs';
import { describe, expect, it } from 'vitest';
import { solveDense } from './linear';

const entry = fc.double({ min: -10, max: 10, noNaN: true });

describe('a small dense system', () => {
  it('is solved as a general-purpose library (mathjs, lusolve) solves it, several right-hand sides at once', () => {
    fc.assert(
      fc.property(fc.array(entry, { minLength: 25, maxLength: 25 }), fc.array(entry, { minLength: 10, maxLength: 10 }), (m, b) => {
        // A strong diagonal keeps it well away from singular.
        const rows = Array.from({ length: 5 }, (_, i) => Array.from({ length: 5 }, (_, j) => m[5 * i + j]! + (i === j ? 60 : 0)));
        const rhs = Array.from({ length: 5 }, (_, i): [number, number] => [b[2 * i]!, b[2 * i + 1]!]);
        const mine = solveDense(
          rows.map((r) => [...r]),
          rhs,
        );
        for (const k of [0, 1] as const) {
          const theirs = lusolve(
            rows,
            rhs.map((r) => r[k]),
          ) as number[][];
          mine.forEach((x, i) => {
            expect(x[k]).toBeCloseTo(theirs[i]![0]!, 9);
          });
        }
      }),
    );
  });
  it('with a zero on its diagonal is solved by exchanging rows', () => {
    const x = solveDense(
      [
        [0, 2, 0],
        [1, 0, 0],
        [0, 0, 4],
      ],
      [[6], [5], [8]],
    );
    expect(x).toEqual([[5], [3], [2]]);
  });
});
