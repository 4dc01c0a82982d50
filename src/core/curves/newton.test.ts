import { describe, expect, it } from 'vitest';
import { polynomialThrough } from './newton';

describe('a polynomial read from its places', () => {
  it('is the one they are of, with its derivative, up to the ninth degree', () => {
    for (let degree = 1; degree <= 9; degree++) {
      const c = Array.from({ length: degree + 1 }, (_, k) => Math.sin(3 * k + degree));
      const at = (t: number): readonly [number, number] => [c.reduce((s, a, k) => s + a * t ** k, 0), 2 - t ** degree];
      const read = polynomialThrough(degree, -0.3, 1.4, at);
      for (const t of [-0.3, 0, 0.41, 1, 1.4]) {
        const [u, v, du, dv] = read(t);
        expect(u).toBeCloseTo(at(t)[0], 10);
        expect(v).toBeCloseTo(at(t)[1], 10);
        expect(du).toBeCloseTo(
          c.reduce((s, a, k) => s + (k === 0 ? 0 : a * k * t ** (k - 1)), 0),
          9,
        );
        expect(dv).toBeCloseTo(-degree * t ** (degree - 1), 9);
      }
    }
  });
  it('is read inside its stretch alone: what begins at an end is not met', () => {
    const asked: number[] = [];
    polynomialThrough(3, 2, 5, (t) => {
      asked.push(t);
      return [t, t];
    });
    expect(Math.min(...asked)).toBeGreaterThan(2);
    expect(Math.max(...asked)).toBeLessThan(5);
    expect(asked).toHaveLength(4);
  });
});
