import { describe, expect, it } from 'vitest';
import { ticksOf } from './Chart';

describe('the ticks of an axis', () => {
  it('are round, few, and within it', () => {
    expect(ticksOf(0, 140)).toEqual([0, 50, 100]);
    expect(ticksOf(0, 1)).toEqual([
      0,
      expect.closeTo(0.2, 9),
      expect.closeTo(0.4, 9),
      expect.closeTo(0.6, 9),
      expect.closeTo(0.8, 9),
      expect.closeTo(1, 9),
    ]);
    expect(ticksOf(-3.2, 4.1)).toEqual([-2, 0, 2, 4]);
    for (const [a, b] of [
      [0, 0.003],
      [17, 17.5],
      [-1e4, 2e5],
    ] as const) {
      const t = ticksOf(a, b);
      expect(t.length).toBeGreaterThan(1);
      expect(t.length).toBeLessThan(8);
      expect(Math.min(...t)).toBeGreaterThanOrEqual(a - 1e-9);
      expect(Math.max(...t)).toBeLessThanOrEqual(b + 1e-9);
    }
  });
  it('of an axis without a length are no more than one', () => expect(ticksOf(2, 2).length).toBeLessThanOrEqual(2));
});
