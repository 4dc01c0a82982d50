import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../../core/geometry/vectors';
import { chained } from './lines';

const piece = (...p: [number, number][]): Vec3[] => p.map(([x, y]) => [x, y, 0]);

describe('pieces strung together', () => {
  it('run on whichever way each was drawn', () => {
    const chains = chained([piece([1, 0], [2, 0]), piece([3, 0], [2, 0]), piece([0, 0], [1, 0]), piece([4, 0], [3, 0])]);
    expect(chains).toHaveLength(1);
    const xs = chains[0]!.map((p) => p[0]);
    expect(xs[0]! < xs[1]! ? xs : xs.toReversed()).toEqual([0, 1, 2, 3, 4]);
  });
  it('that do not meet stay apart, and a lone point is no line', () => {
    expect(chained([piece([0, 0], [1, 0]), piece([5, 5], [6, 5]), piece([9, 9])])).toHaveLength(2);
  });
});
