import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { along, cross, dot, minus, unit, type Vec3 } from '../geometry/vectors';
import { circleThrough } from './circle';

const number = fc.double({ min: -30, max: 30, noNaN: true });
const direction = fc
  .tuple(number, number, number)
  .filter((v) => Math.hypot(...v) > 1)
  .map((v) => unit(v)!);

describe('the circle through places', () => {
  it('is the one they lie on, in any plane, however they are spread', () => {
    fc.assert(
      fc.property(
        fc.tuple(number, number, number),
        direction,
        fc.double({ min: 1, max: 50, noNaN: true }),
        fc.array(fc.double({ min: 0.05, max: 1, noNaN: true }), { minLength: 4, maxLength: 20 }),
        (middle, normal, radius, gaps) => {
          const x = unit(cross(normal, Math.abs(normal[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]))!;
          const y = cross(normal, x);
          const whole = gaps.reduce((s, g) => s + g, 0);
          let at = 0;
          const places = gaps.map((g): Vec3 => {
            at += (2 * Math.PI * g) / whole;
            return along(along(middle, x, radius * Math.cos(at)), y, radius * Math.sin(at));
          });
          const c = circleThrough(places)!;
          expect(c.radius).toBeCloseTo(radius, 6);
          expect(Math.hypot(...minus(c.middle, middle))).toBeLessThan(1e-6 * radius);
          expect(dot(c.normal, normal)).toBeCloseTo(1, 9);
        },
      ),
      { numRuns: 200 },
    );
  });
  it('is told as least squares of x² + y² have it, which no circle near by betters', () => {
    const places: Vec3[] = [0, 0.7, 1.9, 2.6, 3.9, 5.1].map(
      (a, i): Vec3 => [(10 + 0.3 * (i % 3)) * Math.cos(a), (10 - 0.2 * (i % 2)) * Math.sin(a), 0],
    );
    const c = circleThrough(places)!;
    const cost = (m: Vec3, r: number): number => places.reduce((s, p) => s + (Math.hypot(...minus(p, m)) ** 2 - r * r) ** 2, 0);
    const best = cost(c.middle, c.radius);
    for (const d of [-0.01, 0.01]) {
      expect(cost([c.middle[0] + d, c.middle[1], 0], c.radius)).toBeGreaterThan(best);
      expect(cost([c.middle[0], c.middle[1] + d, 0], c.radius)).toBeGreaterThan(best);
      expect(cost(c.middle, c.radius + d)).toBeGreaterThan(best);
    }
  });
  it('is none where the places enclose nothing', () => {
    expect(
      circleThrough([
        [0, 0, 0],
        [1, 0, 0],
        [2, 0, 0],
        [3, 0, 0],
      ]),
    ).toBeUndefined();
  });
});
