/** Splines that keep within a tolerance of curves known only by their points. */
import { interpolateCubic } from './bspline';
import { distance2, nearestFrom, type PlanarCurve, type Point2 } from './planar';

/** The cubic through points with given unit tangents at its ends. */
export function splineThrough(points: readonly Point2[], first: Point2, last: Point2): PlanarCurve {
  let length = 0;
  for (let i = 1; i < points.length; i++) length += distance2(points[i - 1]!, points[i]!);
  const spline = interpolateCubic(
    points.map((p) => [p.x, p.y]),
    [first.x * length, first.y * length],
    [last.x * length, last.y * length],
  );
  return { kind: 'spline', a: points[0]!, b: points[points.length - 1]!, spline };
}

/** Distance from a place to a curve, near a parameter. */
const distanceNear = (curve: PlanarCurve, p: Point2, t0: number): number => nearestFrom(curve, p, t0, 10).distance;

/**
 * A spline along a curve given by its points.
 * @param at place by a parameter that runs 0…1
 * @returns the curve and its largest deviation found, mm; undefined where neighbouring points fall together
 */
export function fitPlanar(at: (t: number) => Point2, tolerance: number): { curve: PlanarCurve; deviation: number } | undefined {
  const tangent = (t: number, h: number): Point2 | undefined => {
    const [p, q] = [at(t), at(t + h)];
    const l = distance2(p, q);
    return l > 1e-12 ? { x: (Math.sign(h) * (q.x - p.x)) / l, y: (Math.sign(h) * (q.y - p.y)) / l } : undefined;
  };
  const [first, last] = [tangent(0, 1e-6), tangent(1, -1e-6)];
  if (!first || !last) return undefined;
  let best: { curve: PlanarCurve; deviation: number } | undefined;
  for (let n = 8; n <= 512; n *= 2) {
    const points = Array.from({ length: n + 1 }, (_, i) => at(i / n));
    if (points.some((p, i) => i > 0 && distance2(p, points[i - 1]!) < 1e-9)) return best;
    const curve = splineThrough(points, first, last);
    const knots = curve.kind === 'spline' ? curve.spline.knots.slice(3, -3) : [];
    let deviation = 0;
    for (let i = 0; i < n; i++)
      for (const share of [0.3, 0.5, 0.7])
        deviation = Math.max(deviation, distanceNear(curve, at((i + share) / n), knots[i]! + share * (knots[i + 1]! - knots[i]!)));
    best = { curve, deviation };
    if (deviation <= tolerance) break;
  }
  return best;
}
