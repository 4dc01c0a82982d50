import { describe, expect, it } from 'vitest';
import { distance, type Vec3 } from '../geometry/vectors';
import { seeded } from '../mesh/wall';
import { nearestOn } from './nearest';
import { interpolateSurface, type SplineSpace, unrolled } from './space';
import type { PoleSurface } from './spline';

const even = (count: number): SplineSpace => ({
  degree: 3,
  knots: Array.from({ length: count + 1 }, (_, i) => i / count),
  periodic: false,
});
const drawn = (f: (u: number, v: number) => Vec3): PoleSurface => unrolled(interpolateSurface(even(8), even(8), f));
describe('the nearest place', () => {
  it('of a ring is one tube radius from its middle line, over the seam too', () => {
    const round: SplineSpace = { degree: 3, knots: Array.from({ length: 25 }, (_, i) => i / 24), periodic: true };
    const near = nearestOn(
      unrolled(
        interpolateSurface(round, round, (u, v) => {
          const [a, b] = [2 * Math.PI * u, 2 * Math.PI * v];
          return [(10 + 3 * Math.cos(b)) * Math.cos(a), (10 + 3 * Math.cos(b)) * Math.sin(a), 3 * Math.sin(b)];
        }),
      ),
    );
    for (const a of [0, 0.01, 1, 3, 6.28])
      for (const [r, z, far] of [
        [15, 0, 2],
        [10, 1, 2],
        [10, 7, 4],
        [11, 0, 2],
      ] as const)
        expect(near([r * Math.cos(a), r * Math.sin(a), z]).distance).toBeCloseTo(far, 3);
  });
  it('of a paraboloid is where its normal meets the point (closed form of the cubic on the axis plane)', () => {
    const near = nearestOn(drawn((u, v) => [4 * u - 2, 4 * v - 2, 0.5 * ((4 * u - 2) ** 2 + (4 * v - 2) ** 2)]));
    // Below the focus the apex is nearest: distance h. Above 1 / (2 · 0.5) = 1 a ring is, at √(2h − 1).
    for (const h of [-3, 0.2, 0.9]) expect(near([0, 0, h]).distance).toBeCloseTo(Math.abs(h), 9);
    for (const h of [1.2, 1.7]) expect(near([0, 0, h]).distance).toBeCloseTo(Math.sqrt(2 * h - 1), 8);
  });
  it('off a flat patch is that of a rectangle, beyond its borders too', () => {
    const near = nearestOn(drawn((u, v) => [10 * u, 6 * v, 1]));
    for (const [p, far] of [
      [[4, 3, 3], 2],
      [[13, 3, 1], 3],
      [[-3, -4, 1], 5],
      [[11, 8, 3], 3],
    ] as const)
      expect(near(p).distance).toBeCloseTo(far, 9);
  });
  it('is never farther than any of 40 000 places of the surface, and lies on it', () => {
    const bumpy = (u: number, v: number): Vec3 => [20 * u, 20 * v, 3 * Math.sin(7 * u) * Math.cos(5 * v)];
    const surface = drawn(bumpy);
    const near = nearestOn(surface);
    const next = seeded(7);
    for (let k = 0; k < 60; k++) {
      const p: Vec3 = [24 * next() - 2, 24 * next() - 2, 10 * next() - 5];
      const found = near(p);
      let least = Number.POSITIVE_INFINITY;
      for (let i = 0; i <= 200; i++) for (let j = 0; j <= 200; j++) least = Math.min(least, distance(bumpy(i / 200, j / 200), p));
      // The drawn surface is off its formula by less than 0.01.
      expect(found.distance).toBeLessThan(least + 0.01);
      expect(found.distance).toBeGreaterThan(least - 0.05);
      expect(distance(found.at, p)).toBeCloseTo(found.distance, 12);
    }
  });
});
