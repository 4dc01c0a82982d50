import fc from 'fast-check';
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
  it('is as wide as its smallest circle, also where its bounds lie off its middle', () => {
    // Seven ridges about the axis: the bounds' middle is beside it.
    expect(plan(polygon(7, 48)).across).toBeCloseTo(96, 9);
    expect(plan(polygon(5, 48, 20, -7)).across).toBeCloseTo(96, 9);
    expect(plan([0, 0, 0, 60, 0, 0, 60, 40, 0, 0, 40, 20]).across).toBeCloseTo(Math.hypot(60, 40), 9);
    // A blunt triangle's circle stands on its longest side.
    expect(plan([0, 0, 0, 50, 0, 0, 20, 8, 5]).across).toBeCloseTo(50, 9);
  });
  it('lies within its smallest circle, and no circle through its places is smaller', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true })), {
          minLength: 3,
          maxLength: 9,
        }),
        (places) => {
          const { across } = plan(places.flatMap(([x, y], i) => [x, y, i]));
          // Brute force: the smallest circle on two or through three places that holds all.
          let least = Number.POSITIVE_INFINITY;
          const holds = (x: number, y: number, r: number): boolean => places.every(([px, py]) => Math.hypot(px - x, py - y) <= r + 1e-7);
          for (const [ax, ay] of places)
            for (const [bx, by] of places) {
              const r = Math.hypot(ax - bx, ay - by) / 2;
              if (holds((ax + bx) / 2, (ay + by) / 2, r)) least = Math.min(least, r);
              for (const [cx, cy] of places) {
                const d = 2 * (ax * (by - cy) + bx * (cy - ay) + cx * (ay - by));
                if (Math.abs(d) < 1e-9) continue;
                const [a2, b2, c2] = [ax * ax + ay * ay, bx * bx + by * by, cx * cx + cy * cy];
                const x = (a2 * (by - cy) + b2 * (cy - ay) + c2 * (ay - by)) / d;
                const y = (a2 * (cx - bx) + b2 * (ax - cx) + c2 * (bx - ax)) / d;
                const R = Math.hypot(ax - x, ay - y);
                if (R < least && holds(x, y, R)) least = R;
              }
            }
          // Places nearer than the fine directions to each other may hide one another: by no more than second order.
          expect(across).toBeGreaterThan(2 * least - 1e-5);
          expect(across).toBeLessThan(2 * least * (1 + 1e-3) + 1e-5);
        },
      ),
    );
  });
  it('tells width and depth of a block turned by nothing', () => {
    const block = plan([0, 0, 0, 60, 0, 0, 60, 40, 0, 0, 40, 20]);
    expect([block.width, block.depth, block.round]).toEqual([60, 40, false]);
  });
});
