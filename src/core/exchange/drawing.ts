/** A plane drawing as read from a file, and its way into a profile. */
import type { BSpline } from '../curves/bspline';
import { distance2, isWhole, type PlanarCurve, type Point2 } from '../curves/planar';
import { addCurve, addPoint, type NewCurve } from '../profile/draw';
import type { Profile } from '../recipe/schema';
import { fail, ok, type Result } from '../result';

export interface PlaneDrawing {
  /** In the file's own units, y upwards. */
  readonly curves: readonly PlanarCurve[];
  /** mm a unit, where the file says so. */
  readonly unit?: number;
  /** What was there and can't be brought in, in words. */
  readonly left: readonly string[];
}

const MAX_DRAWING_BYTES = 5_000_000;
export const MAX_DRAWING_CURVES = 380;
/** Coordinates beyond this are damage, not drawing. */
const MAX_DRAWING_NUMBER = 1e7;

/** Says why a text can't be a drawing at all; undefined where it may be one. */
export function refuseText(text: string): string | undefined {
  if (text.trim() === '') return 'The file is empty.';
  if (text.length > MAX_DRAWING_BYTES)
    return `The file is ${(text.length / 1e6).toFixed(1)} MB; a drawing has at most ${MAX_DRAWING_BYTES / 1e6} MB.`;
  return undefined;
}

/** The Bézier pieces of a B-spline: between each two of its knots the curve exactly. */
export function bezierPieces({ degree: p, knots, poles }: BSpline): BSpline[] {
  const out: BSpline[] = [];
  for (let j = p; j + 1 < knots.length - p; j++) {
    const [from, to] = [knots[j]!, knots[j + 1]!];
    if (!(to - from > 1e-12)) continue;
    // Pole k of the piece is the blossom at its beginning p − k times and at its end k times, by de Boor's steps.
    const own = Array.from({ length: p + 1 }, (_, k) => {
      const d = poles.slice(j - p, j + 1).map((q) => [...q]);
      for (let r = 1; r <= p; r++) {
        const t = r <= p - k ? from : to;
        for (let i = p; i >= r; i--) {
          const [lo, hi] = [knots[j - p + i]!, knots[j + 1 + i - r]!];
          const a = (t - lo) / (hi - lo);
          d[i] = d[i]!.map((v, x) => (1 - a) * d[i - 1]![x]! + a * v);
        }
      }
      return d[p]!;
    });
    out.push({ degree: p, knots: [...new Array(p + 1).fill(0), ...new Array(p + 1).fill(1)], poles: own });
  }
  return out;
}

/** Numbers that no drawing holds. */
export const sound = (...values: number[]): boolean => values.every((v) => Number.isFinite(v) && Math.abs(v) <= MAX_DRAWING_NUMBER);

/**
 * Puts a drawing into a profile as free points and curves.
 * @param scale mm a unit of the file; @param tolerance mm within which ends become one point
 */
export function addDrawing(
  profile: Profile,
  drawing: PlaneDrawing,
  scale: number,
  tolerance: number,
): Result<{ profile: Profile; curves: string[] }> {
  if (!(scale > 0) || !Number.isFinite(scale)) return fail('the scale is more than nothing');
  if (!(tolerance >= 0)) return fail('a tolerance can’t be negative');
  const all = drawing.curves.flatMap((c) => simple(c));
  if (all.length === 0) return fail('there is no curve in the file');
  if (all.length + profile.curves.length > MAX_DRAWING_CURVES)
    return fail(`the drawing has ${all.length} curves; a profile holds ${MAX_DRAWING_CURVES}`);
  let next = profile;
  const ends: { id: string; at: Point2 }[] = [];
  const place = (p: Point2): Point2 => ({ x: p.x * scale, y: p.y * scale });
  const end = (p: Point2): string => {
    const at = place(p);
    const known = ends.find((e) => distance2(e.at, at) <= tolerance);
    if (known) return known.id;
    const r = addPoint(next, at);
    next = r.profile;
    ends.push({ id: r.id, at });
    return r.id;
  };
  const inner = (p: Point2): string => {
    const r = addPoint(next, place(p));
    next = r.profile;
    return r.id;
  };
  const made: string[] = [];
  for (const c of all) {
    const size = extentOf(c) * scale;
    if ([size, ...[c.a, c.b].flatMap((p) => [p.x * scale, p.y * scale])].some((v) => !(Math.abs(v) <= 1e5)))
      return fail('at this scale the drawing is larger than 100 m');
    if (size < 1e-6) continue;
    let curve: NewCurve;
    switch (c.kind) {
      case 'line':
        curve = { kind: 'line', from: end(c.a), to: end(c.b) };
        break;
      case 'arc':
        curve = isWhole(c)
          ? { kind: 'circle', centre: inner(c.centre), radius: c.radius * scale }
          : { kind: 'arc', from: end(c.a), to: end(c.b), centre: inner(c.centre), ccw: c.sweep > 0 };
        break;
      case 'ellipse': {
        const centre = inner(c.centre);
        const major = inner({ x: c.centre.x + c.u.x, y: c.centre.y + c.u.y });
        // The second half-axis stands to the left of the first in a profile; a drawing turned over runs the other way.
        const left = c.u.x * c.v.y - c.u.y * c.v.x > 0;
        curve = {
          kind: 'ellipse',
          centre,
          major,
          minor: Math.hypot(c.v.x, c.v.y) * scale,
          ...(isWhole(c) ? {} : { arc: { from: end(c.a), to: end(c.b), ccw: c.sweep > 0 === left } }),
        };
        break;
      }
      case 'spline': {
        const poles = c.spline.poles.map((p) => ({ x: p[0]!, y: p[1]! }));
        const points = poles.map((p, i) => (i === 0 || i === poles.length - 1 ? end(p) : inner(p)));
        curve = { kind: 'control', points, degree: c.spline.degree };
        break;
      }
    }
    if ('from' in curve && curve.from === curve.to) continue;
    const r = addCurve(next, curve);
    next = r.profile;
    made.push(r.id);
  }
  return made.length > 0 ? ok({ profile: next, curves: made }) : fail('at this scale nothing of the drawing is left');
}

/** Splines as Bézier pieces, which a profile holds exactly; the rest as it is. */
function simple(c: PlanarCurve): PlanarCurve[] {
  if (c.kind !== 'spline') return [c];
  return bezierPieces(c.spline).map((spline) => {
    const at = (p: readonly number[]): Point2 => ({ x: p[0]!, y: p[1]! });
    return { kind: 'spline', spline, a: at(spline.poles[0]!), b: at(spline.poles[spline.poles.length - 1]!) };
  });
}

function extentOf(c: PlanarCurve): number {
  switch (c.kind) {
    case 'line':
      return distance2(c.a, c.b);
    case 'arc':
      return c.radius * Math.min(1, Math.abs(c.sweep));
    case 'ellipse':
      return Math.min(Math.hypot(c.u.x, c.u.y), Math.hypot(c.v.x, c.v.y));
    case 'spline':
      return Math.max(...c.spline.poles.map((p) => Math.hypot(p[0]! - c.a.x, p[1]! - c.a.y)));
  }
}
