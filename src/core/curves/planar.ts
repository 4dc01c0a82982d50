/** Plane curves of a profile in (r, z) coordinates, millimetres, each with a parameter running 0…1. */
import { type BSpline, evaluateBSpline } from './bspline';

export interface Point2 {
  readonly x: number;
  readonly y: number;
}

export type PlanarCurve =
  | { readonly kind: 'line'; readonly a: Point2; readonly b: Point2 }
  | {
      readonly kind: 'arc';
      readonly a: Point2;
      readonly b: Point2;
      readonly mid: Point2;
      readonly centre: Point2;
      readonly radius: number;
      /** Angle of `a` seen from the centre, radians. */
      readonly start: number;
      /** Signed angle from `a` to `b`, radians, counter-clockwise positive. */
      readonly sweep: number;
    }
  | {
      /** C + u·cos w + v·sin w, w from `start` to `start + sweep`. */
      readonly kind: 'ellipse';
      readonly a: Point2;
      readonly b: Point2;
      readonly centre: Point2;
      readonly u: Point2;
      readonly v: Point2;
      readonly start: number;
      readonly sweep: number;
    }
  | { readonly kind: 'spline'; readonly a: Point2; readonly b: Point2; readonly spline: BSpline };

export const distance2 = (a: Point2, b: Point2): number => Math.hypot(b.x - a.x, b.y - a.y);

/** The circular arc from `a` to `b` through a third point. Undefined when the three lie on a line. */
export function arcThrough(a: Point2, through: Point2, b: Point2): Extract<PlanarCurve, { kind: 'arc' }> | undefined {
  const ux = through.x - a.x;
  const uy = through.y - a.y;
  const vx = b.x - a.x;
  const vy = b.y - a.y;
  const cross = 2 * (ux * vy - uy * vx);
  const scale = Math.max(Math.hypot(ux, uy), Math.hypot(vx, vy));
  if (!(Math.abs(cross) > 1e-9 * scale * scale)) return undefined;
  const u2 = ux * ux + uy * uy;
  const v2 = vx * vx + vy * vy;
  const centre = { x: a.x + (vy * u2 - uy * v2) / cross, y: a.y + (ux * v2 - vx * u2) / cross };
  const start = Math.atan2(a.y - centre.y, a.x - centre.x);
  const turn = (p: Point2): number => {
    const d = (Math.atan2(p.y - centre.y, p.x - centre.x) - start) % (2 * Math.PI);
    return d < 0 ? d + 2 * Math.PI : d;
  };
  const toEnd = turn(b);
  const sweep = turn(through) < toEnd ? toEnd : toEnd - 2 * Math.PI;
  return { kind: 'arc', a, b, mid: through, centre, radius: distance2(a, centre), start, sweep };
}

/** The arc about a centre from one angle over a signed sweep; a whole circle with a sweep of 2π. */
export function arcAbout(centre: Point2, radius: number, start: number, sweep: number): Extract<PlanarCurve, { kind: 'arc' }> {
  const at = (w: number): Point2 => ({ x: centre.x + radius * Math.cos(w), y: centre.y + radius * Math.sin(w) });
  const a = at(start);
  const whole = Math.abs(Math.abs(sweep) - 2 * Math.PI) < 1e-12;
  return { kind: 'arc', a, b: whole ? a : at(start + sweep), mid: at(start + sweep / 2), centre, radius, start, sweep };
}

/** The arc of an ellipse C + u·cos w + v·sin w from one angle over a signed sweep. */
export function ellipseAbout(
  centre: Point2,
  u: Point2,
  v: Point2,
  start: number,
  sweep: number,
): Extract<PlanarCurve, { kind: 'ellipse' }> {
  const at = (w: number): Point2 => ({
    x: centre.x + u.x * Math.cos(w) + v.x * Math.sin(w),
    y: centre.y + u.y * Math.cos(w) + v.y * Math.sin(w),
  });
  return { kind: 'ellipse', centre, u, v, start, sweep, a: at(start), b: at(start + sweep) };
}

/** Whether the curve closes on itself. */
export const isWhole = (c: PlanarCurve): boolean =>
  (c.kind === 'arc' || c.kind === 'ellipse') && Math.abs(Math.abs(c.sweep) - 2 * Math.PI) < 1e-9;

/** Position, first and second derivative by the 0…1 parameter. */
export function derivatives(curve: PlanarCurve, t: number): { p: Point2; d1: Point2; d2: Point2 } {
  switch (curve.kind) {
    case 'line': {
      const d1 = { x: curve.b.x - curve.a.x, y: curve.b.y - curve.a.y };
      return { p: { x: curve.a.x + t * d1.x, y: curve.a.y + t * d1.y }, d1, d2: { x: 0, y: 0 } };
    }
    case 'arc': {
      const w = curve.start + t * curve.sweep;
      const c = Math.cos(w) * curve.radius;
      const s = Math.sin(w) * curve.radius;
      const k = curve.sweep;
      return {
        p: { x: curve.centre.x + c, y: curve.centre.y + s },
        d1: { x: -s * k, y: c * k },
        d2: { x: -c * k * k, y: -s * k * k },
      };
    }
    case 'ellipse': {
      const w = curve.start + t * curve.sweep;
      const [c, s, k] = [Math.cos(w), Math.sin(w), curve.sweep];
      const mix = (a: number, b: number): Point2 => ({ x: curve.u.x * a + curve.v.x * b, y: curve.u.y * a + curve.v.y * b });
      const p = mix(c, s);
      return { p: { x: curve.centre.x + p.x, y: curve.centre.y + p.y }, d1: mix(-s * k, c * k), d2: mix(-c * k * k, -s * k * k) };
    }
    case 'spline': {
      const [p, d1, d2] = evaluateBSpline(curve.spline, t, 2) as [number[], number[], number[]];
      return { p: { x: p[0]!, y: p[1]! }, d1: { x: d1[0]!, y: d1[1]! }, d2: { x: d2[0]!, y: d2[1]! } };
    }
  }
}

export function pointAt(curve: PlanarCurve, t: number): Point2 {
  if (curve.kind !== 'spline') return derivatives(curve, t).p;
  const [p] = evaluateBSpline(curve.spline, t);
  return { x: p![0]!, y: p![1]! };
}

/** Parameter of the nearest point of a curve, by sampling and Newton steps. */
export function nearestOn(curve: PlanarCurve, p: Point2): { t: number; distance: number } {
  let t = 0;
  let best = Number.POSITIVE_INFINITY;
  for (let i = 0; i <= 100; i++) {
    const q = pointAt(curve, i / 100);
    const d = Math.hypot(q.x - p.x, q.y - p.y);
    if (d < best) {
      best = d;
      t = i / 100;
    }
  }
  return nearestFrom(curve, p, t, 8);
}

/** The same from a parameter near it, by so many of Newton's steps at most. */
export function nearestFrom(curve: PlanarCurve, p: Point2, from: number, steps: number): { t: number; distance: number } {
  let t = from;
  for (let i = 0; i < steps; i++) {
    const e = derivatives(curve, t);
    const w = { x: p.x - e.p.x, y: p.y - e.p.y };
    const h = e.d1.x * e.d1.x + e.d1.y * e.d1.y - (w.x * e.d2.x + w.y * e.d2.y);
    if (!(h > 1e-12)) break;
    const next = Math.min(1, Math.max(0, t + (w.x * e.d1.x + w.y * e.d1.y) / h));
    if (Math.abs(next - t) < 1e-15) break;
    t = next;
  }
  return { t, distance: distance2(pointAt(curve, t), p) };
}

/** Unit tangent in the sense of the parameter; zero where the curve stands still. */
export function tangentAt(curve: PlanarCurve, t: number): Point2 {
  const { d1 } = derivatives(curve, t);
  const l = Math.hypot(d1.x, d1.y);
  return l > 0 ? { x: d1.x / l, y: d1.y / l } : { x: 0, y: 0 };
}

/** Signed curvature in 1/mm, positive where the curve turns to the left. */
export function curvatureAt(curve: PlanarCurve, t: number): number {
  const { d1, d2 } = derivatives(curve, t);
  const l = Math.hypot(d1.x, d1.y);
  return l > 0 ? (d1.x * d2.y - d1.y * d2.x) / l ** 3 : 0;
}

/** Smallest radius of curvature along the curve in mm, sampled; infinite for a line. */
export function tightestRadius(curve: PlanarCurve, samples = 200): number {
  let sharpest = 0;
  for (let i = 0; i <= samples; i++) sharpest = Math.max(sharpest, Math.abs(curvatureAt(curve, i / samples)));
  return 1 / sharpest;
}

/**
 * Parameters of a polyline that keeps within `tolerance` mm of the curve, both ends included.
 * Uniform steps chosen from the largest second derivative: |error| ≤ h²/8 · max|C″|.
 */
export function flattenParameters(curve: PlanarCurve, tolerance: number): number[] {
  if (curve.kind === 'line') return [0, 1];
  let worst = 0;
  for (let i = 0; i <= 16; i++) {
    const { d2 } = derivatives(curve, i / 16);
    worst = Math.max(worst, Math.hypot(d2.x, d2.y));
  }
  const n = Math.min(400, Math.max(4, Math.ceil(Math.sqrt(worst / (8 * tolerance)))));
  return Array.from({ length: n + 1 }, (_, i) => i / n);
}

export const flatten = (curve: PlanarCurve, tolerance: number): Point2[] =>
  flattenParameters(curve, tolerance).map((t) => pointAt(curve, t));

/** The same curve run the other way. */
export function reverse(curve: PlanarCurve): PlanarCurve {
  switch (curve.kind) {
    case 'line':
      return { kind: 'line', a: curve.b, b: curve.a };
    case 'arc':
    case 'ellipse':
      return { ...curve, a: curve.b, b: curve.a, start: curve.start + curve.sweep, sweep: -curve.sweep };
    case 'spline':
      return {
        kind: 'spline',
        a: curve.b,
        b: curve.a,
        spline: {
          degree: curve.spline.degree,
          knots: [...curve.spline.knots].reverse().map((k) => 1 - k),
          poles: [...curve.spline.poles].reverse(),
        },
      };
  }
}
