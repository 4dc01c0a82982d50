/** From loose curves to the closed half outline that can be turned, or the reason why not, with the place. */
import { derivatives, distance2, flattenParameters, isWhole, type PlanarCurve, type Point2, pointAt, reverse } from '../curves/planar';
import { fail, ok, type Result } from '../result';
import { fixed } from '../units/units';
import type { ProfileError, ResolvedProfile } from './resolve';

/** Curve ends nearer than this are one point, mm. */
export const JOIN_TOLERANCE = 1e-4;
const ON_AXIS = 1e-6;

export interface OutlineCurve {
  readonly id: string;
  readonly curve: PlanarCurve;
  /** Run against the sense it was drawn in. */
  readonly reversed: boolean;
}

export interface Outline {
  /** The curves end to end. */
  readonly curves: readonly OutlineCurve[];
  /** Both ends on the axis, which closes the half; false for a ring that closes on itself. */
  readonly onAxis: boolean;
}

/** Chains the curves and checks that the outline can be turned about the axis x = 0. */
export function findOutline(profile: ResolvedProfile, name: string): Result<Outline, ProfileError> {
  const left = profile.curves.filter((c) => !c.construction);
  if (left.length === 0) return fail({ message: `${name} has no curves yet` });
  const first = left.shift()!;
  const chain: OutlineCurve[] = [{ id: first.id, curve: first.curve, reversed: false }];
  const near = (p: Point2, q: Point2): boolean => distance2(p, q) <= JOIN_TOLERANCE;
  for (let grown = true; grown && left.length > 0; ) {
    grown = false;
    const head = chain[0]!.curve.a;
    const tail = chain[chain.length - 1]!.curve.b;
    for (let i = 0; i < left.length; i++) {
      const { id, curve } = left[i]!;
      if (near(curve.a, tail)) chain.push({ id, curve, reversed: false });
      else if (near(curve.b, tail)) chain.push({ id, curve: reverse(curve), reversed: true });
      else if (near(curve.b, head)) chain.unshift({ id, curve, reversed: false });
      else if (near(curve.a, head)) chain.unshift({ id, curve: reverse(curve), reversed: true });
      else continue;
      left.splice(i, 1);
      grown = true;
      break;
    }
  }
  const head = chain[0]!.curve.a;
  const tail = chain[chain.length - 1]!.curve.b;
  if (left.length > 0) {
    const ends = left.flatMap((c) => [c.curve.a, c.curve.b]);
    let best = Number.POSITIVE_INFINITY;
    let at = ends[0]!;
    for (const e of ends)
      for (const t of [head, tail]) {
        const d = distance2(e, t);
        if (d < best) {
          best = d;
          at = e;
        }
      }
    return fail({
      message: `${name} is not one outline: there is a gap of ${fixed(best, 3)} mm at radius ${fixed(at.x, 2)}, height ${fixed(at.y, 2)}`,
      at,
      ids: left.map((c) => c.id),
    });
  }
  const crossing = crossesAxis(chain);
  if (crossing)
    return fail({
      message: `${name} crosses the axis at height ${fixed(crossing.at.y, 2)} mm by ${fixed(-crossing.depth, 3)} mm; a half profile stays on one side`,
      at: crossing.at,
      ids: [crossing.id],
    });
  const ring = (chain.length > 1 || isWhole(chain[0]!.curve)) && near(head, tail);
  const onAxis = !ring && Math.abs(head.x) <= ON_AXIS && Math.abs(tail.x) <= ON_AXIS;
  if (!ring && !onAxis) {
    const loose = Math.abs(head.x) > ON_AXIS ? head : tail;
    return fail({
      message: `${name} is open: its end at radius ${fixed(loose.x, 3)}, height ${fixed(loose.y, 2)} must meet the axis or the other end`,
      at: loose,
    });
  }
  const outline: Outline = { curves: chain, onAxis };
  const own = selfCrossing(outline);
  if (own) return fail({ message: `${name} crosses itself at radius ${fixed(own.x, 2)}, height ${fixed(own.y, 2)} mm`, at: own });
  const { area } = areaAndCentroid(outline);
  const span = extent(outline);
  if (span.y <= 1e-6) return fail({ message: `${name} has no height: all of it lies at ${fixed(head.y, 2)} mm`, at: head });
  if (Math.abs(area) < 1e-9 * Math.max(1, span.x * span.y)) return fail({ message: `${name} encloses no area`, at: head });
  return ok(outline);
}

function extent(outline: Outline): Point2 {
  const pts = outlinePolyline(outline, 0.05).map((p) => p.point);
  const xs = pts.map((p) => p.x);
  const ys = pts.map((p) => p.y);
  return { x: Math.max(...xs) - Math.min(...xs), y: Math.max(...ys) - Math.min(...ys) };
}

function crossesAxis(chain: readonly OutlineCurve[]): { id: string; at: Point2; depth: number } | undefined {
  let worst: { id: string; at: Point2; depth: number } | undefined;
  for (const { id, curve } of chain)
    for (const t of flattenParameters(curve, 0.01)) {
      const p = pointAt(curve, t);
      if (p.x < -ON_AXIS && (!worst || p.x < worst.depth)) worst = { id, at: p, depth: p.x };
    }
  // A whole curve along the axis would be turned into a face without area.
  return worst;
}

/** The outline as a polyline, each point with the curve it lies on. @param tolerance mm */
export function outlinePolyline(outline: Outline, tolerance: number): { point: Point2; curve: number }[] {
  const out: { point: Point2; curve: number }[] = [];
  outline.curves.forEach(({ curve }, i) => {
    const ts = flattenParameters(curve, tolerance);
    for (let k = i === 0 ? 0 : 1; k < ts.length; k++) out.push({ point: pointAt(curve, ts[k]!), curve: i });
  });
  return out;
}

function selfCrossing(outline: Outline): Point2 | undefined {
  const pts = outlinePolyline(outline, 0.02).map((p) => p.point);
  const n = pts.length - 1;
  const closed = !outline.onAxis;
  for (let i = 0; i < n; i++) {
    const a = pts[i]!;
    const b = pts[i + 1]!;
    const minX = Math.min(a.x, b.x);
    const maxX = Math.max(a.x, b.x);
    const minY = Math.min(a.y, b.y);
    const maxY = Math.max(a.y, b.y);
    for (let j = i + 2; j < n; j++) {
      if (closed && i === 0 && j === n - 1) continue;
      const c = pts[j]!;
      const d = pts[j + 1]!;
      if (Math.max(c.x, d.x) < minX || Math.min(c.x, d.x) > maxX || Math.max(c.y, d.y) < minY || Math.min(c.y, d.y) > maxY) continue;
      const hit = segmentsCross(a, b, c, d);
      if (hit) return hit;
    }
  }
  return undefined;
}

/** Where two segments meet, touching ends included. */
function segmentsCross(a: Point2, b: Point2, c: Point2, d: Point2): Point2 | undefined {
  const rx = b.x - a.x;
  const ry = b.y - a.y;
  const sx = d.x - c.x;
  const sy = d.y - c.y;
  const den = rx * sy - ry * sx;
  if (Math.abs(den) < 1e-14) return undefined;
  const t = ((c.x - a.x) * sy - (c.y - a.y) * sx) / den;
  const u = ((c.x - a.x) * ry - (c.y - a.y) * rx) / den;
  return t >= 0 && t <= 1 && u >= 0 && u <= 1 ? { x: a.x + t * rx, y: a.y + t * ry } : undefined;
}

const GAUSS = [
  [0.1488743389816312, 0.2955242247147529],
  [0.4333953941292472, 0.2692667193099963],
  [0.6794095682990244, 0.219086362515982],
  [0.8650633666889845, 0.1494513491505806],
  [0.9739065285171717, 0.0666713443086881],
] as const;

/** Integrates f over the parameter of each curve, piecewise between knots, with 10-point Gauss quadrature. */
function integrate(outline: Outline, f: (p: Point2, d1: Point2) => number): number {
  let sum = 0;
  for (const { curve } of outline.curves) {
    const breaks =
      curve.kind === 'spline'
        ? [...new Set(curve.spline.knots)]
        : curve.kind === 'line'
          ? [0, 1]
          : [0, 0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1];
    for (let i = 1; i < breaks.length; i++) {
      const mid = (breaks[i]! + breaks[i - 1]!) / 2;
      const half = (breaks[i]! - breaks[i - 1]!) / 2;
      for (const [x, w] of GAUSS)
        for (const s of [-1, 1]) {
          const { p, d1 } = derivatives(curve, mid + s * half * x);
          sum += w * half * f(p, d1);
        }
    }
  }
  return sum;
}

/** Signed area (positive when run counter-clockwise) in mm² and centroid of the half outline, closed along the axis. */
export function areaAndCentroid(outline: Outline): { area: number; centroid: Point2 } {
  // Green's theorem; the closing stretch along x = 0 adds nothing to ∮ x dy.
  const area = integrate(outline, (p, d) => p.x * d.y);
  const mx = integrate(outline, (p, d) => (p.x * p.x * d.y) / 2);
  const my = integrate(outline, (p, d) => p.x * p.y * d.y);
  return { area, centroid: { x: mx / area, y: my / area } };
}

/** Length of the drawn outline in mm. */
export const outlineLength = (outline: Outline): number => integrate(outline, (_, d) => Math.hypot(d.x, d.y));

/** Volume of the full turn in mm³ by Pappus's second theorem. */
export function turnedVolume(outline: Outline): number {
  const { area, centroid } = areaAndCentroid(outline);
  return Math.abs(2 * Math.PI * centroid.x * area);
}
