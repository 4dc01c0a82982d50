/** A profile of the document, its expressions worked out to numbers. */
import { interpolateCubic } from '../curves/bspline';
import { arcThrough, distance2, type PlanarCurve, type Point2 } from '../curves/planar';
import { evaluateAs, type Scope } from '../dimensions/expression';
import type { Handle, Profile, ProfileCurve } from '../recipe/schema';
import { fail, ok, type Result } from '../result';

export interface ProfileError {
  readonly message: string;
  /** Place on the board, (r, z) in mm. */
  readonly at?: Point2;
  /** Entities concerned. */
  readonly ids?: readonly string[];
}

export interface ResolvedCurve {
  readonly id: string;
  readonly source: ProfileCurve;
  readonly curve: PlanarCurve;
}

export interface ResolvedProfile {
  readonly points: ReadonlyMap<string, Point2>;
  readonly curves: readonly ResolvedCurve[];
}

/** Lengths beyond this are refused: nothing made by hand needs a kilometre. */
export const MAX_COORDINATE = 1e5;

/** The derivative dC/dt a handle stands for; weight 1 gives a third of the chord as Bézier arm. */
export function handleDerivative(handle: Handle, chord: number, atEnd: boolean, scope: Scope): Result<[number, number]> {
  const a = evaluateAs(handle.angle, 'angle', scope);
  if (!a.ok) return a;
  const w = evaluateAs(handle.weight, 'number', scope);
  if (!w.ok) return w;
  if (!(w.value > 0 && w.value <= 10)) return fail('a handle weight lies between 0 and 10');
  const s = (atEnd ? -1 : 1) * chord * w.value;
  return ok([Math.cos(a.value) * s, Math.sin(a.value) * s]);
}

/**
 * Numbers for every point and curve.
 * @returns (r, z) in mm; an error names the point or curve and, where known, the place
 */
export function resolveProfile(profile: Profile, scope: Scope): Result<ResolvedProfile, ProfileError> {
  const points = new Map<string, Point2>();
  for (const p of profile.points) {
    const x = evaluateAs(p.x, 'length', scope);
    if (!x.ok) return fail({ message: `${profile.name}, radius of point ${p.id}: ${x.error}`, ids: [p.id] });
    const y = evaluateAs(p.y, 'length', scope);
    if (!y.ok) return fail({ message: `${profile.name}, height of point ${p.id}: ${y.error}`, ids: [p.id] });
    if (Math.abs(x.value) > MAX_COORDINATE || Math.abs(y.value) > MAX_COORDINATE)
      return fail({ message: `${profile.name}: point ${p.id} lies more than ${MAX_COORDINATE / 1000} m away`, ids: [p.id] });
    points.set(p.id, { x: x.value, y: y.value });
  }
  const curves: ResolvedCurve[] = [];
  for (const c of profile.curves) {
    const r = resolveCurve(c, points, scope);
    if (!r.ok) return fail({ message: `${profile.name}, ${c.name ?? c.id}: ${r.error}`, at: points.get(c.from)!, ids: [c.id] });
    curves.push({ id: c.id, source: c, curve: r.value });
  }
  return ok({ points, curves });
}

/** Length of the polyline through a spline's points in mm: what handle weights are measured against. */
export function splineChord(spline: Extract<ProfileCurve, { kind: 'spline' }>, points: ReadonlyMap<string, Point2>): number {
  const via = [spline.from, ...spline.through, spline.to].map((id) => points.get(id)!);
  return via.slice(1).reduce((sum, p, i) => sum + distance2(via[i]!, p), 0);
}

function resolveCurve(c: ProfileCurve, points: ReadonlyMap<string, Point2>, scope: Scope): Result<PlanarCurve> {
  const a = points.get(c.from)!;
  const b = points.get(c.to)!;
  if (c.kind !== 'spline' && distance2(a, b) < 1e-6) return fail('its two ends fall together');
  if (c.kind === 'line') return ok({ kind: 'line', a, b });
  if (c.kind === 'arc') {
    const arc = arcThrough(a, points.get(c.through)!, b);
    return arc ? ok(arc) : fail('its three points lie on one line, so it is no arc');
  }
  const via = [a, ...c.through.map((i) => points.get(i)!), b];
  for (let i = 1; i < via.length; i++) if (distance2(via[i - 1]!, via[i]!) < 1e-6) return fail('two neighbouring points fall together');
  const chord = splineChord(c, points);
  const ends: ([number, number] | undefined)[] = [];
  for (const [handle, atEnd] of [
    [c.start, false],
    [c.end, true],
  ] as const) {
    if (!handle) {
      ends.push(undefined);
      continue;
    }
    const d = handleDerivative(handle, chord, atEnd, scope);
    if (!d.ok) return d;
    ends.push(d.value);
  }
  return ok({
    kind: 'spline',
    a,
    b,
    spline: interpolateCubic(
      via.map((p) => [p.x, p.y]),
      ends[0],
      ends[1],
    ),
  });
}
