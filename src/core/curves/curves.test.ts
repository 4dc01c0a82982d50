import { Bezier } from 'bezier-js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { basisDerivatives, basisValues, evaluateBSpline, findSpan, interpolateCubic, knotMultiplicities } from './bspline';
import {
  arcThrough,
  curvatureAt,
  derivatives,
  distance2,
  flatten,
  type PlanarCurve,
  pointAt,
  reverse,
  tangentAt,
  tightestRadius,
} from './planar';

// The library looks for a browser's global when it loads.
Object.assign(globalThis, { window: globalThis });
const verb = (await import('verb-nurbs')).default;

const points = fc
  .array(fc.tuple(fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true })), {
    minLength: 3,
    maxLength: 8,
  })
  .filter((p) => p.every((q, i) => i === 0 || Math.hypot(q[0] - p[i - 1]![0], q[1] - p[i - 1]![1]) > 1));

describe('B-splines', () => {
  it('tells values and slopes by the short way as by the long one, and their sums', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 7 }), fc.double({ min: 0, max: 6, noNaN: true }), (degree, t) => {
        const knots = [...new Array<number>(degree).fill(0), 0, 1, 1.5, 2, 2, 4, 6, ...new Array<number>(degree).fill(6)];
        const span = findSpan(degree, knots, knots.length - degree - 1, t);
        const slopes = new Array<number>(degree + 1).fill(Number.NaN);
        const values = basisValues(degree, knots, span, t, slopes);
        const long = basisDerivatives(degree, knots, span, t, 2);
        expect(values).toEqual(long[0]);
        slopes.forEach((x, i) => {
          expect(x).toBeCloseTo(long[1]![i]!, 9);
        });
        // They are shares of one, which does not change.
        expect(values.reduce((a, b) => a + b)).toBeCloseTo(1, 12);
        expect(slopes.reduce((a, b) => a + b)).toBeCloseTo(0, 9);
      }),
    );
  });
  // The NURBS Book, Piegl & Tiller, example 2.3 (from memory).
  it('have the basis functions of the textbook example', () => {
    const knots = [0, 0, 0, 1, 2, 3, 4, 4, 5, 5, 5];
    const span = findSpan(2, knots, 8, 2.5);
    expect(span).toBe(4);
    expect(basisDerivatives(2, knots, span, 2.5, 0)[0]).toEqual([1 / 8, 6 / 8, 1 / 8]);
  });

  // Independent library: verb-nurbs.
  it('agree with verb-nurbs in position and two derivatives', () => {
    fc.assert(
      fc.property(points, fc.double({ min: 0, max: 1, noNaN: true }), (pts, t) => {
        const c = interpolateCubic(pts);
        const theirs = verb.geom.NurbsCurve.byKnotsControlPointsWeights(
          3,
          [...c.knots],
          c.poles.map((p) => [p[0]!, p[1]!, 0]),
        ).derivatives(t, 2);
        const mine = evaluateBSpline(c, t, 2);
        for (let d = 0; d <= 2; d++)
          for (let k = 0; k < 2; k++) expect(Math.abs(mine[d]![k]! - theirs[d]![k]!)).toBeLessThan(1e-9 * (1 + Math.abs(theirs[d]![k]!)));
      }),
      { numRuns: 60 },
    );
  });

  it('pass through every point and are smooth in curvature between them', () => {
    fc.assert(
      fc.property(points, (pts) => {
        const c = interpolateCubic(pts);
        const inner = knotMultiplicities(c.knots).values;
        for (const [i, t] of inner.entries()) {
          const at = evaluateBSpline(c, t)[0]!;
          expect(Math.hypot(at[0]! - pts[i]![0], at[1]! - pts[i]![1])).toBeLessThan(1e-8);
        }
        for (const t of inner.slice(1, -1)) {
          const [l, r] = [evaluateBSpline(c, t - 1e-9, 2)[2]!, evaluateBSpline(c, t + 1e-9, 2)[2]!];
          expect(Math.hypot(l[0]! - r[0]!, l[1]! - r[1]!)).toBeLessThan(1e-3 * (1 + Math.hypot(l[0]!, l[1]!)));
        }
      }),
      { numRuns: 60 },
    );
  });

  it('leave along a given end derivative, and straight (no curvature) without one', () => {
    const c = interpolateCubic(
      [
        [0, 0],
        [5, 8],
        [20, 10],
      ],
      [0, 30],
    );
    expect(evaluateBSpline(c, 0, 1)[1]![0]).toBeCloseTo(0, 9);
    expect(evaluateBSpline(c, 0, 1)[1]![1]).toBeCloseTo(30, 9);
    expect(Math.hypot(...evaluateBSpline(c, 1, 2)[2]!)).toBeLessThan(1e-9);
  });

  it('refuse points that coincide', () =>
    expect(() =>
      interpolateCubic([
        [1, 1],
        [1, 1],
      ]),
    ).toThrow(/coincide/));
});

describe('plane curves', () => {
  const arc = arcThrough({ x: 10, y: 0 }, { x: 0, y: 10 }, { x: -10, y: 0 })!;
  it('find the circle through three points', () => {
    expect(arc.radius).toBeCloseTo(10, 12);
    expect(distance2(arc.centre, { x: 0, y: 0 })).toBeLessThan(1e-12);
    expect(arc.sweep).toBeCloseTo(Math.PI, 12);
  });
  it('know that three points on a line make no arc', () =>
    expect(arcThrough({ x: 0, y: 0 }, { x: 1, y: 1 }, { x: 2, y: 2 })).toBeUndefined());
  it('run an arc through its middle point whichever way it turns', () => {
    const coord = fc.double({ min: -30, max: 30, noNaN: true });
    fc.assert(
      fc.property(coord, coord, coord, (x, y, z) => {
        const [a, m, b] = [
          { x: 0, y: 0 },
          { x, y },
          { x: 40, y: z },
        ];
        const c = arcThrough(a, m, b);
        if (!c || c.radius > 1e4) return;
        const d = Math.min(...Array.from({ length: 2001 }, (_, i) => distance2(pointAt(c, i / 2000), m)));
        expect(d).toBeLessThan((Math.abs(c.sweep) * c.radius) / 2000 + 1e-6);
        expect(distance2(pointAt(c, 1), b)).toBeLessThan(1e-7 * c.radius + 1e-9);
      }),
    );
  });
  it('have curvature 1/R on a circle, positive to the left', () => {
    expect(curvatureAt(arc, 0.3)).toBeCloseTo(0.1, 12);
    expect(curvatureAt(reverse(arc), 0.3)).toBeCloseTo(-0.1, 12);
  });
  // Independent library: bezier-js.
  it('agree with bezier-js in a spline segment’s curvature and length', () => {
    const spline = interpolateCubic(
      [
        [0, 0],
        [30, 25],
      ],
      [60, 0],
      [10, 70],
    );
    const curve: PlanarCurve = { kind: 'spline', a: { x: 0, y: 0 }, b: { x: 30, y: 25 }, spline };
    const bezier = new Bezier(spline.poles.map((p) => ({ x: p[0]!, y: p[1]! })));
    for (const t of [0.1, 0.4, 0.77])
      expect(Math.abs(curvatureAt(curve, t))).toBeCloseTo(
        Math.abs((bezier as unknown as { curvature(t: number): { k: number } }).curvature(t).k),
        6,
      );
    const line = flatten(curve, 1e-4);
    const length = line.slice(1).reduce((s, p, i) => s + distance2(line[i]!, p), 0);
    expect(length).toBeCloseTo(bezier.length(), 2);
  });
  it('keep flattening within its tolerance', () => {
    for (const tolerance of [0.5, 0.05]) {
      const line = flatten(arc, tolerance);
      for (let i = 1; i < line.length; i++) {
        const m = { x: (line[i]!.x + line[i - 1]!.x) / 2, y: (line[i]!.y + line[i - 1]!.y) / 2 };
        expect(arc.radius - distance2(m, arc.centre)).toBeLessThanOrEqual(tolerance);
      }
    }
  });
  it('have a tightest radius: R on a circle, b²/a at the end of an ellipse’s long axis, none on a line', () => {
    expect(tightestRadius(arc)).toBeCloseTo(10, 9);
    expect(tightestRadius({ kind: 'line', a: { x: 0, y: 0 }, b: { x: 5, y: 5 } })).toBe(Infinity);
    const ellipse = Array.from({ length: 33 }, (_, k) => [30 * Math.sin((Math.PI * k) / 32), -50 * Math.cos((Math.PI * k) / 32)]);
    const spline = interpolateCubic(ellipse, [127, 0], [-127, 0]);
    expect(tightestRadius({ kind: 'spline', a: { x: 0, y: -50 }, b: { x: 0, y: 50 }, spline })).toBeCloseTo(18, 0);
  });
  it('reverse without changing shape', () => {
    const spline: PlanarCurve = {
      kind: 'spline',
      a: { x: 0, y: 0 },
      b: { x: 9, y: 4 },
      spline: interpolateCubic([
        [0, 0],
        [3, 5],
        [9, 4],
      ]),
    };
    for (const c of [arc, spline]) {
      expect(distance2(pointAt(reverse(c), 0.25), pointAt(c, 0.75))).toBeLessThan(1e-12);
      expect(tangentAt(reverse(c), 0.25).x).toBeCloseTo(-tangentAt(c, 0.75).x, 9);
    }
  });
  it('have derivatives that match differences', () => {
    const h = 1e-6;
    const num = (pointAt(arc, 0.4 + h).x - pointAt(arc, 0.4 - h).x) / (2 * h);
    expect(derivatives(arc, 0.4).d1.x).toBeCloseTo(num, 5);
  });
});
