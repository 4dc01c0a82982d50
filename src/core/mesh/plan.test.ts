import { describe, expect, it } from 'vitest';
import { bounds } from './mesh';
import { planOf } from './plan';

/** Corners of a polygon about a place. */
// Two heights, so that it is a body.
const polygon = (sides: number, r: number, x = 0, y = 0, squash = 1): number[] =>
  Array.from({ length: sides }, (_, i) => (2 * Math.PI * i) / sides).flatMap((a) => [
    x + r * Math.cos(a),
    y + squash * r * Math.sin(a),
    high(a),
  ]);
const high = (a: number): number => (a > 3 ? 10 : 0);
const plan = (positions: readonly number[]) => planOf(positions, bounds(positions));

describe('a body seen from above', () => {
  it('is round where it fills a circle, wherever that stands', () => {
    expect(plan(polygon(360, 30))).toMatchObject({ round: true });
    const far = plan(polygon(360, 30, 200, -90));
    expect(far.round).toBe(true);
    expect(far.across).toBeCloseTo(60, 9);
  });
  it('is not where it has corners or is longer than wide', () => {
    for (const p of [polygon(4, 30), polygon(6, 30), polygon(8, 30), polygon(7, 30), polygon(5, 30), polygon(360, 30, 0, 0, 0.95)])
      expect(plan(p).round).toBe(false);
    expect(plan(polygon(14, 30)).round).toBe(true);
  });
  it('tells width and depth of a block turned by nothing', () => {
    const block = plan([0, 0, 0, 60, 0, 0, 60, 40, 0, 0, 40, 20]);
    expect([block.width, block.depth, block.round]).toEqual([60, 40, false]);
  });
});
