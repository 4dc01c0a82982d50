/** What the eye judges by stripes, in numbers: curvature combs, inflections, the tightest place, and how two curves join. */
import { interpolateCubic } from './bspline';
import { curvatureAt, distance2, type PlanarCurve, type Point2, pointAt, tangentAt } from './planar';

interface CombTooth {
  readonly at: Point2;
  /** Unit normal, to the left of the curve's sense. */
  readonly normal: Point2;
  /** 1/mm, positive where the curve turns left. */
  readonly curvature: number;
  readonly t: number;
}

export interface CurveReading {
  readonly teeth: readonly CombTooth[];
  /** Smallest radius in mm and where; infinite for a line. */
  readonly tightest: { readonly radius: number; readonly at: Point2; readonly t: number };
  readonly inflections: readonly Point2[];
}

/** Reads a curve at evenly spaced parameters. @param samples teeth of the comb */
export function readCurve(c: PlanarCurve, samples = 120): CurveReading {
  const teeth: CombTooth[] = [];
  for (let i = 0; i <= samples; i++) {
    const t = i / samples;
    const u = tangentAt(c, t);
    teeth.push({ at: pointAt(c, t), normal: { x: -u.y, y: u.x }, curvature: curvatureAt(c, t), t });
  }
  let top = teeth[0]!;
  for (const tooth of teeth) if (Math.abs(tooth.curvature) > Math.abs(top.curvature)) top = tooth;
  // Narrowed down between the neighbouring teeth.
  let [lo, hi] = [Math.max(0, top.t - 1 / samples), Math.min(1, top.t + 1 / samples)];
  for (let i = 0; i < 60; i++) {
    const [a, b] = [lo + (hi - lo) / 3, hi - (hi - lo) / 3];
    if (Math.abs(curvatureAt(c, a)) < Math.abs(curvatureAt(c, b))) lo = a;
    else hi = b;
  }
  const t = Math.abs(curvatureAt(c, (lo + hi) / 2)) > Math.abs(top.curvature) ? (lo + hi) / 2 : top.t;
  // A sign that only rounding gives is no inflection.
  const floor = 1e-6 * Math.max(1e-9, Math.abs(top.curvature));
  const inflections: Point2[] = [];
  let last = 0;
  for (const tooth of teeth) {
    if (Math.abs(tooth.curvature) < floor) continue;
    const s = Math.sign(tooth.curvature);
    if (last !== 0 && s !== last) inflections.push(tooth.at);
    last = s;
  }
  const k = Math.abs(curvatureAt(c, t));
  return { teeth, tightest: { radius: k > 1e-12 ? 1 / k : Number.POSITIVE_INFINITY, at: pointAt(c, t), t }, inflections };
}

export interface JoinReading {
  /** mm */
  readonly gap: number;
  /** Corner between the two, degrees; 0 runs straight on. */
  readonly angle: number;
  /** Curvatures on either side, 1/mm, run through in one sense. */
  readonly before: number;
  readonly after: number;
  /** Difference of the curvatures by the larger of them, %. */
  readonly mismatch: number;
  readonly class: 'gap' | 'corner' | 'tangent' | 'curvature';
}

/** Limits by which a join is classed (common practice, no source): mm, degrees, %. */
const JOIN_LIMITS = { gap: 1e-3, angle: 0.1, mismatch: 2 } as const;

/** How `a` passes into `b` at the ends given: where `a` is left and `b` entered. */
export function readJoin(a: PlanarCurve, aEnd: 0 | 1, b: PlanarCurve, bEnd: 0 | 1): JoinReading {
  const [ua, ub] = [tangentAt(a, aEnd), tangentAt(b, bEnd)];
  const [sa, sb] = [aEnd === 1 ? 1 : -1, bEnd === 0 ? 1 : -1];
  const cross = sa * sb * (ua.x * ub.y - ua.y * ub.x);
  const dot = sa * sb * (ua.x * ub.x + ua.y * ub.y);
  const angle = (Math.abs(Math.atan2(cross, dot)) * 180) / Math.PI;
  const before = sa * curvatureAt(a, aEnd);
  const after = sb * curvatureAt(b, bEnd);
  const gap = distance2(pointAt(a, aEnd), pointAt(b, bEnd));
  const largest = Math.max(Math.abs(before), Math.abs(after));
  const mismatch = largest < 1e-9 ? 0 : (Math.abs(before - after) / largest) * 100;
  const kind =
    gap > JOIN_LIMITS.gap ? 'gap' : angle > JOIN_LIMITS.angle ? 'corner' : mismatch > JOIN_LIMITS.mismatch ? 'tangent' : 'curvature';
  return { gap, angle, before, after, mismatch, class: kind };
}

export interface FairnessHint {
  /** Index among the points run through (ends left out). */
  readonly drop: number;
  readonly inflectionsBefore: number;
  readonly inflectionsAfter: number;
  /** How far the curve would move, mm. */
  readonly deviation: number;
}

/** Whether one point fewer would calm a spline: the one whose loss removes most inflections and moves the curve least. */
export function fairnessHint(points: readonly Point2[], start?: readonly number[], end?: readonly number[]): FairnessHint | undefined {
  if (points.length < 4) return undefined;
  const make = (list: readonly Point2[]): PlanarCurve => {
    const spline = interpolateCubic(
      list.map((p) => [p.x, p.y]),
      start,
      end,
    );
    return { kind: 'spline', a: list[0]!, b: list[list.length - 1]!, spline };
  };
  const before = readCurve(make(points)).inflections.length;
  let best: FairnessHint | undefined;
  for (let i = 1; i < points.length - 1; i++) {
    const curve = make(points.toSpliced(i, 1));
    const after = readCurve(curve).inflections.length;
    if (after >= before) continue;
    let deviation = Number.POSITIVE_INFINITY;
    for (let k = 0; k <= 200; k++) deviation = Math.min(deviation, distance2(points[i]!, pointAt(curve, k / 200)));
    if (!best || after < best.inflectionsAfter || (after === best.inflectionsAfter && deviation < best.deviation))
      best = { drop: i - 1, inflectionsBefore: before, inflectionsAfter: after, deviation };
  }
  return best;
}
