/**
 * Where a half profile meets the axis it must arrive at 90°, or the turned body has a point or a dimple at
 * the pole. Source: geometry of surfaces of revolution; a smooth surface needs dz/dr = 0 on the axis.
 */
import { type Point2, tangentAt } from '../curves/planar';
import type { Profile, ProfileCurve } from '../recipe/schema';
import { degrees } from '../units/units';
import type { Outline } from './outline';

export const POLE_TOLERANCE_DEG = 0.05;

export interface PoleReading {
  readonly curveId: string;
  readonly at: Point2;
  /** Angle between the curve and the axis in degrees; 90 is smooth. */
  readonly angle: number;
  readonly verdict: 'smooth' | 'point' | 'dimple';
  /** What the one-click fix would do, in words; absent where the pole is smooth. */
  readonly fix?: string;
}

/** Reads both poles; a ring has none. */
export function readPoles(outline: Outline): PoleReading[] {
  if (!outline.onAxis) return [];
  const n = outline.curves.length;
  const ends = [
    { c: outline.curves[0]!, t: 0, sign: 1 },
    { c: outline.curves[n - 1]!, t: 1, sign: -1 },
  ];
  const all = outline.curves.flatMap(({ curve }) => [curve.a.y, curve.b.y]);
  const middle = (Math.min(...all) + Math.max(...all)) / 2;
  return ends.map(({ c, t, sign }) => {
    const tangent = tangentAt(c.curve, t);
    const away = { x: tangent.x * sign, y: tangent.y * sign };
    const at = t === 0 ? c.curve.a : c.curve.b;
    const angle = degrees(Math.atan2(Math.abs(away.x), Math.abs(away.y)));
    if (Math.abs(angle - 90) <= POLE_TOLERANCE_DEG) return { curveId: c.id, at, angle, verdict: 'smooth' as const };
    // Going away from a top pole downwards makes a point there; upwards makes a dimple. Mirrored at the bottom.
    const pointed = at.y >= middle ? away.y < 0 : away.y > 0;
    const kind = c.curve.kind;
    const fix =
      kind === 'spline'
        ? 'make the end handle horizontal'
        : kind === 'arc'
          ? 'make it a spline with a horizontal handle'
          : 'level this line';
    return { curveId: c.id, at, angle, verdict: pointed ? ('point' as const) : ('dimple' as const), fix };
  });
}

/** The profile with the given pole made smooth; the input is not touched. */
export function fixPole(profile: Profile, pole: PoleReading, points: ReadonlyMap<string, Point2>): Profile {
  const curve = profile.curves.find((c) => c.id === pole.curveId);
  if (!curve) return profile;
  const gap = (id: string): number => {
    const p = points.get(id);
    return p ? Math.hypot(p.x - pole.at.x, p.y - pole.at.y) : Number.POSITIVE_INFINITY;
  };
  const atStart = gap(curve.from) <= gap(curve.to);
  if (curve.kind === 'line') {
    const [axisPoint, other] = atStart ? [curve.from, curve.to] : [curve.to, curve.from];
    const y = profile.points.find((p) => p.id === other)!.y;
    return { ...profile, points: profile.points.map((p) => (p.id === axisPoint ? { ...p, y } : p)) };
  }
  const old = curve.kind === 'spline' ? (atStart ? curve.start : curve.end) : undefined;
  // 0° points away from the axis, which is into the curve at either end.
  const handle = { angle: '0°', weight: old?.weight ?? '1' };
  const spline: ProfileCurve = {
    kind: 'spline',
    id: curve.id,
    ...(curve.name ? { name: curve.name } : {}),
    from: curve.from,
    to: curve.to,
    through: curve.kind === 'spline' ? curve.through : [curve.through],
    ...(curve.kind === 'spline' && curve.start ? { start: curve.start } : {}),
    ...(curve.kind === 'spline' && curve.end ? { end: curve.end } : {}),
    ...(atStart ? { start: handle } : { end: handle }),
  };
  return { ...profile, curves: profile.curves.map((c) => (c.id === curve.id ? spline : c)) };
}
