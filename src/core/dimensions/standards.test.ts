/** Sizes by standard: lengths that can be read, in order, against values known otherwise. */
import { describe, expect, it } from 'vitest';
import { checkName, evaluateAs } from './expression';
import { STANDARDS } from './standards';

const mm = (expr: string): number => {
  const r = evaluateAs(expr, 'length', () => undefined);
  if (!r.ok) throw new Error(r.error);
  return r.value;
};
const size = (name: string, word: string): number => mm(STANDARDS.find((s) => s.name === name)!.sizes.find(([w]) => w === word)![1]);

describe('sizes by standard', () => {
  it('are lengths that rise, under names that a dimension can have', () => {
    for (const { called, sizes, source, measures } of STANDARDS) {
      expect(checkName(called).ok).toBe(true);
      expect([source, measures].every((w) => w.length > 5)).toBe(true);
      const lengths = sizes.map(([, expr]) => mm(expr));
      expect(lengths).toEqual(lengths.toSorted((a, b) => a - b));
      expect(new Set(sizes.map(([w]) => w)).size).toBe(sizes.length);
    }
  });
  it('are rings by their inner circumference, as ISO 8653 has them', () => {
    for (const c of [41, 54, 76]) expect(Math.PI * size('Finger ring', `${c}`)).toBeCloseTo(c, 9);
  });
  it('are G threads as inches have them: 0.825 for a half, 1.041 for three quarters, 1.309 for one', () => {
    for (const [word, inch] of [
      ['1/2', 0.825],
      ['3/4', 1.041],
      ['1', 1.309],
    ] as const)
      expect(size('Pipe thread G', word) / 25.4).toBeCloseTo(inch, 3);
  });
  it('are steel pipes as inch pipes are: 4 1/2 in for DN 100, 3 1/2 in for DN 80', () => {
    expect(size('Steel pipe', 'DN 100') / 25.4).toBeCloseTo(4.5, 3);
    expect(size('Steel pipe', 'DN 80') / 25.4).toBeCloseTo(3.5, 3);
  });
});
