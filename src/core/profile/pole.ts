/**
 * Where a half profile meets the axis it must arrive at 90°, or the turned body has a point or a dimple at
 * the pole. Source: geometry of surfaces of revolution; a smooth surface needs dz/dr = 0 on the axis.
 */
import { type Point2, tangentAt } from '../curves/planar';
import { freshId } from '../recipe/edit';
import type { Constraint, Profile, ProfileCurve } from '../recipe/schema';
import { degrees } from '../units/units';
import type { Outline } from './outline';

const POLE_TOLERANCE_DEG = 0.05;

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
      kind === 'spline' ? 'make the end handle horizontal' : kind === 'arc' ? 'put this arc’s centre on the axis' : 'level this line';
    return { curveId: c.id, at, angle, verdict: pointed ? ('point' as const) : ('dimple' as const), fix };
  });
}

/** The profile with the given pole made smooth, still to be solved; the input is not touched. */
export function fixPole(profile: Profile, pole: PoleReading, points: ReadonlyMap<string, Point2>): Profile {
  const curve = profile.curves.find((c) => c.id === pole.curveId);
  if (!curve || !('from' in curve)) return profile;
  const gap = (id: string): number => {
    const p = points.get(id);
    return p ? Math.hypot(p.x - pole.at.x, p.y - pole.at.y) : Number.POSITIVE_INFINITY;
  };
  const end = gap(curve.from) <= gap(curve.to) ? 'start' : 'end';
  const id = freshId(
    'k',
    profile.constraints.map((c) => c.id),
  );
  const add = (c: Constraint): Profile => ({ ...profile, constraints: [...profile.constraints, c] });
  if (curve.kind === 'line') {
    // The level line goes where the pole is held or, if it is not, where its outer end stands.
    const at = profile.points.find((p) => p.id === (end === 'start' ? curve.from : curve.to))!;
    const other = profile.points.find((p) => p.id === (end === 'start' ? curve.to : curve.from))!;
    return {
      ...profile,
      points: profile.points.map((p) => (p === at ? { ...p, y: other.y } : p)),
      constraints: [...profile.constraints, { kind: 'horizontal', id, a: curve.from, b: curve.to }],
    };
  }
  if (curve.kind === 'arc') return add({ kind: 'on-curve', id, point: curve.centre, curve: 'axis' });
  const level = (c: Constraint): boolean => c.kind === 'direction' && c.curve === curve.id && c.at === end;
  // 0° points away from the axis, which is into the curve at either end.
  const curves = profile.curves.map(
    (c): ProfileCurve => (c.id === curve.id && c.kind === 'spline' ? { ...c, [end]: { angle: 0, weight: c[end]?.weight ?? 1 } } : c),
  );
  const constraints = profile.constraints.some(level)
    ? profile.constraints.map((c) => (level(c) ? ({ ...c, value: '0°', driving: true } as Constraint) : c))
    : [...profile.constraints, { kind: 'direction', id, curve: curve.id, at: end, value: '0°', driving: true } as const];
  return { ...profile, curves, constraints };
}
