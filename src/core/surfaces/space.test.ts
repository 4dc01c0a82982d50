import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../geometry/vectors';
import { basisAt, dimension, greville, interpolateSurface, type SplineSpace, surfaceAt } from './space';

// The library looks for a browser's window.
(globalThis as { window?: unknown }).window ??= globalThis;
const verb = (await import('verb-nurbs')).default;

const clamped: SplineSpace = { degree: 3, knots: [0, 0.2, 0.35, 0.7, 1], periodic: false };
const round: SplineSpace = { degree: 3, knots: [0, 0.1, 0.3, 0.4, 0.55, 0.8, 0.9, 1], periodic: true };

describe('a spline space', () => {
  it('has as many poles as the theory says, and one place to interpolate for each', () => {
    expect([dimension(clamped), dimension(round)]).toEqual([7, 7]);
    for (const s of [clamped, round]) {
      const g = greville(s);
      expect(new Set(g.map((x) => x.toFixed(9))).size).toBe(dimension(s));
      for (const x of g) expect(x >= 0 && x <= 1).toBe(true);
    }
  });
  it('has basis functions that add up to one everywhere', () => {
    fc.assert(
      fc.property(fc.constantFrom(clamped, round), fc.double({ min: 0, max: 1, noNaN: true }), (s, t) => {
        expect(basisAt(s, t).values.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12);
      }),
    );
  });
});

describe('a surface interpolated from a formula', () => {
  const cubic = (u: number, v: number): Vec3 => [u ** 3 - 2 * u * v, v ** 3 + u * u * v, 3 - u + v * v * u ** 3];
  it('is the formula where that lies in its spaces', () => {
    const s = interpolateSurface(clamped, { ...clamped, knots: [0, 0.5, 1] }, cubic);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (u, v) => {
        surfaceAt(s, u, v).forEach((x, k) => {
          expect(x).toBeCloseTo(cubic(u, v)[k]!, 10);
        });
      }),
    );
  });
  it('agrees with verb-nurbs on its poles and knots', () => {
    const wavy = (u: number, v: number): Vec3 => [40 * u, 30 * v, 5 * Math.sin(4 * u) * Math.cos(3 * v)];
    const s = interpolateSurface(clamped, clamped, wavy);
    const knots = [0, 0, 0, ...clamped.knots, 1, 1, 1];
    const other = verb.geom.NurbsSurface.byKnotsControlPointsWeights(
      3,
      3,
      knots,
      knots,
      s.poles.map((row) => row.map((p) => [...p])),
    );
    for (const [u, v] of [
      [0, 0],
      [0.13, 0.77],
      [0.5, 0.5],
      [0.99, 0.01],
      [1, 1],
    ] as const) {
      const q = other.point(u, v);
      surfaceAt(s, u, v).forEach((x, k) => {
        expect(x).toBeCloseTo(q[k]!, 9);
      });
    }
  });
  it('closes on itself without a kink where its space does', () => {
    const even: SplineSpace = { degree: 3, knots: Array.from({ length: 41 }, (_, i) => i / 40), periodic: true };
    const tube = (u: number, v: number): Vec3 => [20 * Math.cos(2 * Math.PI * u), 20 * Math.sin(2 * Math.PI * u), 50 * v];
    const s = interpolateSurface(even, { degree: 1, knots: [0, 1], periodic: false }, tube);
    for (let i = 0; i <= 200; i++) {
      const [x, y] = surfaceAt(s, i / 200, 0.3);
      expect(Math.hypot(x, y)).toBeCloseTo(20, 3);
    }
    const h = 1e-5;
    const [a, b, c] = [surfaceAt(s, 1 - h, 0.5), surfaceAt(s, 0, 0.5), surfaceAt(s, h, 0.5)];
    expect(Math.hypot(...a.map((v, k) => v - 2 * b[k]! + c[k]!)) / h).toBeLessThan(0.05);
  });
});
