/** A profile of the document, solved for the dimensions as they stand: numbers for every point and curve. */
import { arcAbout, distance2, type PlanarCurve, type Point2 } from '../curves/planar';
import { evaluateAs, type Scope } from '../dimensions/expression';
import type { Constraint, Profile, ProfileCurve } from '../recipe/schema';
import { fail, ok, type Result } from '../result';
import { degrees } from '../units/units';
import { type DerivedOutcome, derive } from './derive';
import { buildSketch } from './solver/sketch';
import { solveSketch } from './solver/solve';
import { AXIS, type Dimension, isDimension, LEVEL, ORIGIN, type Sketch, splineFrom, valueKind } from './solver/terms';
import type { RowPlan } from './spacing';
import { lettersOf } from './text';
import { typedOf } from './typed';
import { constraintWords, curveWords } from './words';

export interface ProfileError {
  readonly message: string;
  /** Place on the board, mm. */
  readonly at?: Point2;
  /** Entities or constraints concerned. */
  readonly ids?: readonly string[];
}

export interface ResolvedCurve {
  readonly id: string;
  readonly curve: PlanarCurve;
  /** The drawn curve; a derived one has none. */
  readonly source?: ProfileCurve;
  readonly construction: boolean;
}

export interface ResolvedProfile {
  readonly points: ReadonlyMap<string, Point2>;
  readonly curves: readonly ResolvedCurve[];
  /** The solved equations, for dragging and for the diagnosis. */
  readonly sketch: Sketch;
  readonly rows: ReadonlyMap<string, RowPlan>;
}

/** Lengths beyond this are refused: nothing made by hand needs a kilometre. */
const MAX_COORDINATE = 1e5;

/** The driving dimensions as numbers: mm, rad or plain. */
export function dimensionTargets(profile: Profile, scope: Scope): Result<Map<string, number>, ProfileError> {
  const targets = new Map<string, number>();
  for (const c of profile.constraints) {
    if (!isDimension(c) || !c.driving) continue;
    const refuse = (why: string): Result<never, ProfileError> =>
      fail({ message: `${profile.name}, ${constraintWords(profile, c)}: ${why}`, ids: [c.id] });
    const v = evaluateAs(c.value, valueKind(c), scope);
    if (!v.ok) return refuse(v.error);
    if (Math.abs(v.value) > MAX_COORDINATE) return refuse(`it is more than ${MAX_COORDINATE / 1000} m`);
    const least = leastValue(c);
    if (least === 'some' && !(v.value > 0)) return refuse('it must be more than nothing');
    if (least === 'none' && v.value < 0) return refuse('it can’t be negative; it is measured on the side where it was drawn');
    if (c.kind === 'weight' && v.value > 10) return refuse('a weight lies between 0 and 10');
    targets.set(c.id, v.value);
  }
  return ok(targets);
}

/** What a dimension may be at least: more than nothing, nothing, or anything. */
function leastValue(c: Dimension): 'some' | 'none' | 'any' {
  if (c.kind === 'direction') return 'any';
  return c.kind === 'distance' || c.kind === 'across' || c.kind === 'offset' || c.kind === 'angle' ? 'none' : 'some';
}

interface Cached {
  readonly key: string;
  readonly result: Result<ResolvedProfile, ProfileError>;
}
const cache = new WeakMap<Profile, Cached[]>();

/**
 * Solves a profile and works out its curves.
 * @returns curves in mm; an error names the constraint that can't hold, or the curve, with the place where known
 */
export function resolveProfile(profile: Profile, scope: Scope): Result<ResolvedProfile, ProfileError> {
  const targets = dimensionTargets(profile, scope);
  if (!targets.ok) return targets;
  const others = [
    ...profile.derived.flatMap((d) => Object.values(d).filter((v) => typeof v === 'string')),
    ...profile.curves.flatMap((c) => (c.kind === 'text' ? typedOf(c) : [])),
  ].map((t) => {
    const v = evaluateAs(t, 'length', scope);
    const a = v.ok ? v : evaluateAs(t, 'angle', scope);
    return a.ok ? a.value : t;
  });
  const key = [...targets.value.values(), ...others].join(' ');
  const known = cache.get(profile)?.find((c) => c.key === key);
  if (known) return known.result;
  const result = resolveNow(profile, targets.value, scope);
  // A few values are kept: a board, its draft and the steps ask in turn.
  cache.set(profile, [{ key, result }, ...(cache.get(profile) ?? []).slice(0, 3)]);
  return result;
}

function resolveNow(profile: Profile, targets: ReadonlyMap<string, number>, scope: Scope): Result<ResolvedProfile, ProfileError> {
  const sketch = buildSketch(profile, targets);
  const refused = sketch.refused[0];
  if (refused) {
    const c = profile.constraints.find((k) => k.id === refused.constraint)!;
    return fail({ message: `${profile.name}, ${constraintWords(profile, c)}: ${refused.why}`, ids: [c.id] });
  }
  const solved = solveSketch(sketch);
  if (!solved.ok) return fail(unsolved(profile, solved.unmet, solved.flipped));
  return resolveSolved(profile, sketch, scope);
}

function unsolved(profile: Profile, unmet: readonly string[], flipped: boolean): ProfileError {
  const named = unmet.flatMap((id) => profile.constraints.filter((c) => c.id === id));
  if (flipped)
    return { message: `${profile.name} would have to turn a line or an arc over to meet its dimensions`, ids: named.map((c) => c.id) };
  const words = named.slice(0, 2).map((c: Constraint) => constraintWords(profile, c));
  const curve = named.length === 0 ? unmet.find((id) => id.startsWith('#') && id.length > 1) : undefined;
  const what = words.length > 0 ? words.join(' and ') : curve ? `the shape of ${curveWords(profile, curve.slice(1))}` : 'its constraints';
  return { message: `${profile.name}: ${what} can’t hold with the rest`, ids: named.map((c) => c.id) };
}

/** The curves of a sketch whose values are solved; used by a drag, which solves on its own. */
export function resolveSolved(profile: Profile, sketch: Sketch, scope: Scope): Result<ResolvedProfile, ProfileError> {
  const { x } = sketch.system;
  const points = new Map<string, Point2>();
  for (const p of profile.points) {
    const v = sketch.points.get(p.id)!;
    points.set(p.id, { x: clean(x[v[0]]!), y: clean(x[v[1]]!) });
  }
  const curves: ResolvedCurve[] = [];
  for (const c of profile.curves) {
    const construction = c.construction === true;
    const bad = (why: string): Result<never, ProfileError> => {
      const at = [...points.entries()].find(([id]) => 'from' in c && id === c.from)?.[1];
      return fail({ message: `${profile.name}, ${c.name ?? c.id}: ${why}`, ids: [c.id], ...(at ? { at } : {}) });
    };
    // What a text leads along may be drawn after it.
    if (c.kind === 'text') continue;
    const r = resolveCurve(c, points, sketch);
    if (!r.ok) return bad(r.error);
    curves.push({ id: c.id, source: c, curve: r.value, construction });
  }
  for (const c of profile.curves) {
    if (c.kind !== 'text') continue;
    const made = lettersOf(c, points.get(c.point)!, curves.find((k) => k.id === c.along?.curve)?.curve, scope);
    if (!made.ok) return fail({ message: `${profile.name}, ${c.name ?? c.id}: ${made.error}`, ids: [c.id], at: points.get(c.point)! });
    made.value.forEach((curve, i) => {
      curves.push({ id: `${c.id}-${i + 1}`, source: c, curve, construction: c.construction === true });
    });
  }
  const rows = new Map<string, RowPlan>();
  for (const d of profile.derived) {
    const made: Result<DerivedOutcome> = derive(d, {
      curve: (id) => curves.find((c) => c.id === id)?.curve,
      point: (ref) => (ref === ORIGIN ? { x: 0, y: 0 } : points.get(ref)),
      line: (ref) => frameLine(ref) ?? lineOf(curves.find((c) => c.id === ref)?.curve),
      scope,
    });
    if (!made.ok) return fail({ message: `${profile.name}, ${derivedWords(d.kind)} ${d.id}: ${made.error}`, ids: [d.id] });
    for (const c of made.value.curves) curves.push({ id: c.id, curve: c.curve, construction: false });
    if (made.value.row) rows.set(d.id, made.value.row);
  }
  return ok({ points, curves, sketch, rows });
}

export const derivedWords = (kind: string): string =>
  ({ offset: 'the offset', mirror: 'the mirror image', linear: 'the row', circular: 'the ring' })[kind] ?? kind;

const frameLine = (ref: string): readonly [Point2, Point2] | undefined =>
  ref === AXIS
    ? [
        { x: 0, y: 0 },
        { x: 0, y: 1 },
      ]
    : ref === LEVEL
      ? [
          { x: 0, y: 0 },
          { x: 1, y: 0 },
        ]
      : undefined;
const lineOf = (c: PlanarCurve | undefined): readonly [Point2, Point2] | undefined => (c?.kind === 'line' ? [c.a, c.b] : undefined);

/** Rounding of the solver (1e-14 of the size) is not shown as a coordinate beside the axis. */
const clean = (v: number): number => (Math.abs(v) < 1e-10 ? 0 : v);

function resolveCurve(
  c: Exclude<ProfileCurve, { kind: 'text' }>,
  points: ReadonlyMap<string, Point2>,
  sketch: Sketch,
): Result<PlanarCurve> {
  const { x } = sketch.system;
  const vars = sketch.curves.get(c.id)!;
  const at = (id: string): Point2 => points.get(id)!;
  switch (c.kind) {
    case 'line':
      if (distance2(at(c.from), at(c.to)) < 1e-6) return fail('its two ends fall together');
      return ok({ kind: 'line', a: at(c.from), b: at(c.to) });
    case 'arc': {
      const [radius, start, end] = [x[vars.radius!]!, x[vars.a0!]!, x[vars.a1!]!];
      if (radius < 1e-6 || radius * Math.abs(end - start) < 1e-6) return fail('it has no length');
      return ok({ ...arcAbout(at(c.centre), radius, start, end - start), a: at(c.from), b: at(c.to) });
    }
    case 'circle':
      return ok(arcAbout(at(c.centre), x[vars.radius!]!, 0, 2 * Math.PI));
    case 'ellipse': {
      const m = at(c.centre);
      const u = { x: at(c.major).x - m.x, y: at(c.major).y - m.y };
      const a = Math.hypot(u.x, u.y);
      const minor = x[vars.minor!]!;
      if (a < 1e-6 || minor < 1e-6) return fail('one of its half-axes has no length');
      const v = { x: (-u.y / a) * minor, y: (u.x / a) * minor };
      const angle = (p: Point2): number => {
        const w = { x: p.x - m.x, y: p.y - m.y };
        return Math.atan2((w.x * v.x + w.y * v.y) / (minor * minor), (w.x * u.x + w.y * u.y) / (a * a));
      };
      const start = c.arc ? angle(at(c.arc.from)) : 0;
      let sweep = 2 * Math.PI;
      if (c.arc) {
        sweep = angle(at(c.arc.to)) - start;
        if (c.arc.ccw && sweep <= 1e-12) sweep += 2 * Math.PI;
        if (!c.arc.ccw && sweep >= -1e-12) sweep -= 2 * Math.PI;
      }
      const top = { x: m.x + u.x, y: m.y + u.y };
      return ok({ kind: 'ellipse', centre: m, u, v, start, sweep, a: c.arc ? at(c.arc.from) : top, b: c.arc ? at(c.arc.to) : top });
    }
    case 'still':
      return ok({ kind: 'spline', a: at(c.from), b: at(c.to), spline: c.spline });
    case 'spline':
    case 'control': {
      const ids = c.kind === 'spline' ? [c.from, ...c.through, c.to] : c.points;
      if (c.kind === 'spline')
        for (let i = 1; i < ids.length; i++)
          if (distance2(at(ids[i - 1]!), at(ids[i]!)) < 1e-6) return fail('two neighbouring points fall together');
      if (distance2(at(ids[0]!), at(ids[ids.length - 1]!)) < 1e-6 && ids.length < 3) return fail('it has no length');
      return ok({ kind: 'spline', a: at(ids[0]!), b: at(ids[ids.length - 1]!), spline: splineFrom(sketch.points, vars, x) });
    }
  }
}

/** Length of the polyline through a spline's points in mm: what handle weights are measured against. */
export function splineChord(spline: Extract<ProfileCurve, { kind: 'spline' }>, points: ReadonlyMap<string, Point2>): number {
  const via = [spline.from, ...spline.through, spline.to].map((id) => points.get(id)!);
  return via.slice(1).reduce((sum, p, i) => sum + distance2(via[i]!, p), 0);
}

/** The profile with the solved values written into it: what a drag or an edit leaves behind. */
export function settled(profile: Profile, sketch: Sketch): Profile {
  const { x } = sketch.system;
  const tidy = (v: number): number => {
    const r = Math.round(v * 1e9) / 1e9;
    return Object.is(r, -0) ? 0 : r;
  };
  return {
    ...profile,
    points: profile.points.map((p) => {
      const v = sketch.points.get(p.id)!;
      return { ...p, x: tidy(x[v[0]]!), y: tidy(x[v[1]]!) };
    }),
    curves: profile.curves.map((c): ProfileCurve => {
      const v = sketch.curves.get(c.id)!;
      if (c.kind === 'circle') return { ...c, radius: tidy(x[v.radius!]!) };
      if (c.kind === 'ellipse') return { ...c, minor: tidy(x[v.minor!]!) };
      if (c.kind !== 'spline' || !v.handles || v.handles.size === 0) return c;
      const handle = (key: string) => {
        const [angle, weight] = v.handles!.get(key)!;
        return { angle: tidy(degrees(x[angle]!)), weight: tidy(x[weight]!) };
      };
      return {
        ...c,
        ...(c.start ? { start: handle('start') } : {}),
        ...(c.end ? { end: handle('end') } : {}),
        ...(c.at ? { at: Object.fromEntries(Object.keys(c.at).map((p) => [p, handle(p)])) } : {}),
      };
    }),
  };
}
