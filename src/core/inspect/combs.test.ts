/** Combs against `bezier-js` (registry), and their changes of side. */
import { Bezier } from 'bezier-js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bendOf, type Combed, combLines, curvatures, inflections } from './combs';

const curve = (
  f: (t: number) => readonly [number, number],
  bend: (t: number) => readonly [number, number],
  closed = false,
  n = 60,
): Combed => ({
  places: Array.from({ length: n + 1 }, (_, i) => [...f(i / n), 0] as [number, number, number]),
  bends: Array.from({ length: n + 1 }, (_, i) => [...bend(i / n), 0] as [number, number, number]),
  closed,
});

describe('the bend of a curve', () => {
  it('is that of bezier-js, over random cubics, to 1e-9', () => {
    const coordinate = fc.double({ min: -40, max: 40, noNaN: true });
    fc.assert(
      fc.property(fc.array(coordinate, { minLength: 8, maxLength: 8 }), fc.double({ min: 0.02, max: 0.98, noNaN: true }), (c, t) => {
        const b = new Bezier(c[0]!, c[1]!, c[2]!, c[3]!, c[4]!, c[5]!, c[6]!, c[7]!);
        const { dderivative, curvature } = b as unknown as Record<
          'dderivative' | 'curvature',
          (t: number) => { x: number; y: number; k: number }
        >;
        const [d1, d2] = [b.derivative(t), dderivative.call(b, t)];
        fc.pre(Math.hypot(d1.x, d1.y) > 1);
        const bend = bendOf([d1.x, d1.y, 0], [d2.x, d2.y, 0])!;
        const k = Math.abs(curvature.call(b, t).k);
        expect(Math.abs(Math.hypot(...bend) - k)).toBeLessThan(1e-9 * Math.max(1, k));
      }),
    );
  });
  it('does not exist where a curve stands still', () => expect(bendOf([0, 0, 0], [1, 0, 0])).toBeUndefined());
});

describe('changes of side', () => {
  it('of one wave of a sine are counted between its ends', () => {
    const wave = (turns: number) =>
      curve(
        (t) => [t, Math.sin(2 * Math.PI * turns * t)],
        (t) => [0, -Math.sin(2 * Math.PI * turns * t)],
      );
    expect(inflections(wave(1))).toBe(1);
    expect(inflections(wave(2))).toBe(3);
  });
  it('of a circle are none, also over its seam, and a straight stretch between two bends of a side counts for none', () => {
    const circle = curve(
      (t) => [Math.cos(2 * Math.PI * t), Math.sin(2 * Math.PI * t)],
      (t) => [-Math.cos(2 * Math.PI * t), -Math.sin(2 * Math.PI * t)],
      true,
    );
    expect(inflections(circle)).toBe(0);
    const slot = curve(
      (t) => [t, 0],
      (t) => [0, t < 0.3 || t > 0.7 ? 1 : 0],
    );
    expect(inflections(slot)).toBe(0);
    const ess = curve(
      (t) => [t, 0],
      (t) => [0, t < 0.3 ? 1 : t > 0.7 ? -1 : 0],
    );
    expect(inflections(ess)).toBe(1);
  });
});

describe('a comb', () => {
  it('has teeth away from the centre of the bend, as long as the scale says', () => {
    const circle = curve(
      (t) => [20 * Math.cos(t), 20 * Math.sin(t)],
      (t) => [-Math.cos(t) / 20, -Math.sin(t) / 20],
      false,
      3,
    );
    expect(curvatures(circle)).toEqual([0, 1, 2, 3].map(() => expect.closeTo(0.05, 12)));
    const lines = combLines(circle, 100);
    // Four teeth, three stretches over their tips.
    expect(lines).toHaveLength(7 * 6);
    for (let i = 0; i < 4; i++) expect(Math.hypot(lines[6 * i + 3]!, lines[6 * i + 4]!)).toBeCloseTo(25, 5);
  });
});
