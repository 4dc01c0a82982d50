import { describe, expect, it } from 'vitest';
import { cutAcross } from './section';
import { boxCage, tubeCage } from './starts';

const triangles = (faces: readonly (readonly number[])[]): number[] =>
  faces.flatMap((f) => f.slice(2).flatMap((_, i) => [f[0]!, f[i + 1]!, f[i + 2]!]));
const length = (cut: ReturnType<typeof cutAcross>): number =>
  cut.reduce((s, [a, b]) => s + Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]), 0);

describe('a cut across a mesh', () => {
  it('of a box is its outline, also through its vertices', () => {
    const box = boxCage([30, 20, 10], [3, 2, 2]);
    for (const [k, at, round] of [
      [2, 3, 100],
      [2, 5, 100],
      [0, 1, 60],
      [1, 0, 80],
    ] as const) {
      const cut = cutAcross(box.vertices.flat(), triangles(box.faces), k, at);
      expect(length(cut)).toBeCloseTo(round, 9);
      for (const p of cut.flat()) expect(p[k]).toBeCloseTo(at, 12);
    }
    expect(cutAcross(box.vertices.flat(), triangles(box.faces), 2, 11)).toEqual([]);
  });
  it('of an open tube along its axis is its two sides, which do not close', () => {
    const tube = tubeCage(20, 40, 12, 3);
    expect(length(cutAcross(tube.vertices.flat(), triangles(tube.faces), 1, 0.01))).toBeCloseTo(80, 9);
  });
});
