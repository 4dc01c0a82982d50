/** Which constraints and dimensions fit what is chosen on the board, each ready to be put in. */
import { type Point2, tangentAt } from '../curves/planar';
import type { Constraint, Profile } from '../recipe/schema';
import { degrees, fixed, shortNumber } from '../units/units';
import { addConstraints, hasConstraint, type NewConstraint } from './draw';
import type { ResolvedProfile } from './resolve';
import { buildSketch } from './solver/sketch';
import { reading } from './solver/solve';
import { AXIS, type Dimension, endsOf, isDimension, isRound, LEVEL, ORIGIN, valueKind } from './solver/terms';

export interface Offer {
  readonly words: string;
  readonly kind: 'relation' | 'dimension';
  readonly constraints: readonly NewConstraint[];
}

type NewDimension = Extract<NewConstraint, { value: string }>;

const dim = (c: NewDimension): Offer['constraints'] => [c];

/** @param refs ids of points and curves, `origin`, `axis`, `level`, in the order they were chosen */
export function relationsFor(profile: Profile, refs: readonly string[], half: boolean): Offer[] {
  if (refs.every((r) => profile.followed?.has(r))) return [];
  const curve = (id: string) => profile.curves.find((c) => c.id === id);
  const points = refs.filter((r) => r === ORIGIN || profile.points.some((p) => p.id === r));
  const lines = refs.filter((r) => r === AXIS || r === LEVEL || curve(r)?.kind === 'line');
  const rounds = refs.filter((r) => isRound(curve(r)));
  const ellipses = refs.filter((r) => curve(r)?.kind === 'ellipse');
  const splines = refs.filter((r) => ['spline', 'control', 'still'].includes(curve(r)?.kind ?? ''));
  const out: Offer[] = [];
  const rel = (words: string, ...constraints: NewConstraint[]): void => {
    if (!constraints.every((c) => hasConstraint(profile, c))) out.push({ words, kind: 'relation', constraints });
  };
  const measure = (words: string, c: NewDimension): void => {
    out.push({ words, kind: 'dimension', constraints: dim(c) });
  };
  const blank = { value: '', driving: true } as const;
  const count = refs.length;
  const [a, b, c] = refs as [string, string, string];
  const drawnLine = (r: string): { from: string; to: string } | undefined => {
    const k = curve(r);
    return k?.kind === 'line' ? k : undefined;
  };

  if (count === 1 && points.length === 1 && a !== ORIGIN) {
    if (half) measure('diameter across the axis', { kind: 'across', point: a, ...blank });
    measure(half ? 'radius' : 'across from the origin', { kind: 'distance', a: AXIS, b: a, direction: 'horizontal', ...blank });
    measure('height', { kind: 'distance', a: LEVEL, b: a, direction: 'vertical', ...blank });
    rel('on the axis', { kind: 'on-curve', point: a, curve: AXIS });
    rel('on the base level', { kind: 'on-curve', point: a, curve: LEVEL });
    rel('on the origin', { kind: 'coincident', a, b: ORIGIN });
    rel('fixed', { kind: 'fixed', point: a });
  }
  if (count === 2 && points.length === 2) {
    measure('distance', { kind: 'distance', a, b, direction: 'aligned', ...blank });
    measure('distance across', { kind: 'distance', a, b, direction: 'horizontal', ...blank });
    measure('distance up', { kind: 'distance', a, b, direction: 'vertical', ...blank });
    rel('coincident', { kind: 'coincident', a, b });
    rel('level', { kind: 'horizontal', a, b });
    rel('plumb', { kind: 'vertical', a, b });
    rel('symmetric about the axis', { kind: 'symmetric', a, b, line: AXIS });
  }
  if (count === 3 && points.length === 2 && lines.length === 1)
    rel('symmetric about the line', { kind: 'symmetric', a: points[0]!, b: points[1]!, line: lines[0]! });
  if (count === 2 && points.length === 1) {
    const [p, k] = [points[0]!, refs.find((r) => r !== points[0])!];
    if (p !== ORIGIN || (k !== AXIS && k !== LEVEL)) {
      if (curve(k)?.kind !== 'text') rel('on the curve', { kind: 'on-curve', point: p, curve: k });
      if (drawnLine(k) || curve(k)?.kind === 'arc') rel('in the middle', { kind: 'midpoint', point: p, curve: k });
      if (lines.length === 1) measure('distance', { kind: 'distance', a: k, b: p, direction: 'aligned', ...blank });
    }
  }
  if (count === 1 && lines.length === 1) {
    const l = drawnLine(a);
    if (l) {
      measure('length', { kind: 'arc-length', curve: a, ...blank });
      measure('slope', { kind: 'angle', a: LEVEL, b: a, ...blank });
      rel('level', { kind: 'horizontal', a: l.from, b: l.to });
      rel('plumb', { kind: 'vertical', a: l.from, b: l.to });
    }
  }
  if (count === 2 && lines.length === 2) {
    rel('parallel', { kind: 'parallel', a, b });
    rel('square', { kind: 'perpendicular', a, b });
    rel('in line', { kind: 'collinear', a, b });
    if (drawnLine(a) && drawnLine(b)) rel('equal length', { kind: 'equal', a, b });
    measure('angle', { kind: 'angle', a, b, ...reversal(profile, a, b), ...blank });
    measure('distance', { kind: 'distance', a, b, direction: 'aligned', ...blank });
    if (drawnLine(a) && drawnLine(b)) measure('offset', { kind: 'offset', a, b, ...blank });
  }
  if (count === 1 && rounds.length === 1) {
    measure('radius', { kind: 'radius', curve: a, ...blank });
    measure('diameter', { kind: 'diameter', curve: a, ...blank });
    if (curve(a)?.kind === 'arc') measure('arc length', { kind: 'arc-length', curve: a, ...blank });
  }
  if (count === 2 && rounds.length === 2) {
    rel('tangent', { kind: 'tangent', a, b });
    rel('equal radius', { kind: 'equal', a, b });
    rel('concentric', { kind: 'concentric', a, b });
    measure('offset', { kind: 'offset', a, b, ...blank });
  }
  if (count === 2 && lines.length === 1 && rounds.length + ellipses.length + splines.length === 1)
    rel('tangent', { kind: 'tangent', a, b });
  if (count === 2 && rounds.length === 1 && ellipses.length + splines.length === 1) rel('tangent', { kind: 'tangent', a, b });
  if (count === 2 && ellipses.length === 1 && splines.length === 1) rel('tangent', { kind: 'tangent', a, b });
  if (count === 2 && splines.length === 2) rel('tangent', { kind: 'tangent', a, b });
  if (
    count === 2 &&
    splines.length >= 1 &&
    splines.length + lines.length + rounds.length === 2 &&
    !refs.includes(AXIS) &&
    !refs.includes(LEVEL)
  )
    rel('smooth (curvature)', { kind: 'smooth', a, b });
  if (count === 3 && lines.length === 3) rel('all parallel', { kind: 'parallel', a, b }, { kind: 'parallel', a: b, b: c });
  if (count >= 3 && lines.length === count && refs.every((r) => drawnLine(r)))
    rel('all of equal length', ...refs.slice(1).map((r, i): NewConstraint => ({ kind: 'equal', a: refs[i]!, b: r })));
  if (count >= 3 && rounds.length === count)
    rel('all of equal radius', ...refs.slice(1).map((r, i): NewConstraint => ({ kind: 'equal', a: refs[i]!, b: r })));
  return out;
}

/** An angle is measured between the rays that leave the point two lines share. */
function reversal(profile: Profile, a: string, b: string): { reverse?: true } {
  const [l, m] = [a, b].map((id) => profile.curves.find((c) => c.id === id));
  if (l?.kind !== 'line' || m?.kind !== 'line') return {};
  return l.to === m.from || l.from === m.to ? { reverse: true } : {};
}

/** Puts an offer in: a spline that is to be led gets its handle, a dimension its present reading where no value is given. */
export function accept(
  profile: Profile,
  resolved: ResolvedProfile,
  offer: Offer,
  value?: string,
): { profile: Profile; added: readonly string[] } {
  let next = profile;
  for (const c of offer.constraints)
    if (c.kind === 'tangent' || c.kind === 'smooth') {
      const ends = sharedEnds(next, c.a, c.b);
      if (ends) next = withHandle(withHandle(next, resolved, c.a, ends[0]), resolved, c.b, ends[1]);
    }
  const filled = offer.constraints.map((c): NewConstraint => {
    if (!('value' in c)) return c;
    return { ...c, value: value ?? presentText(next, resolved, c) };
  });
  const before = new Set(next.constraints.map((c) => c.id));
  next = addConstraints(next, filled);
  return { profile: next, added: next.constraints.filter((c) => !before.has(c.id)).map((c) => c.id) };
}

function sharedEnds(profile: Profile, a: string, b: string): ['start' | 'end', 'start' | 'end'] | undefined {
  const [p, q] = [a, b].map((id) => profile.curves.find((c) => c.id === id));
  const [ep, eq] = [p && endsOf(p), q && endsOf(q)];
  if (!ep || !eq) return undefined;
  const joined = (x: string, y: string): boolean =>
    x === y || profile.constraints.some((c) => c.kind === 'coincident' && ((c.a === x && c.b === y) || (c.a === y && c.b === x)));
  for (const i of ['from', 'to'] as const)
    for (const j of ['from', 'to'] as const)
      if (joined(ep[i], eq[j])) return [i === 'from' ? 'start' : 'end', j === 'from' ? 'start' : 'end'];
  return undefined;
}

/** The spline with a handle at an end, along the direction it has there now. */
export function withHandle(profile: Profile, resolved: ResolvedProfile, id: string, end: 'start' | 'end'): Profile {
  const c = profile.curves.find((k) => k.id === id);
  const shape = resolved.curves.find((k) => k.id === id)?.curve;
  if (c?.kind !== 'spline' || c[end] || shape?.kind !== 'spline') return profile;
  const u = tangentAt(shape, end === 'start' ? 0 : 1);
  const s = end === 'start' ? 1 : -1;
  const angle = degrees(Math.atan2(s * u.y, s * u.x));
  return { ...profile, curves: profile.curves.map((k) => (k.id === id ? { ...c, [end]: { angle, weight: 1 } } : k)) };
}

/** What each dimension of the profile reads in its solved shape: mm, rad or plain, by constraint. */
export function readings(profile: Profile, points: ResolvedProfile): Map<string, number> {
  const dims = profile.constraints.filter(isDimension);
  const all: Profile = {
    ...profile,
    constraints: profile.constraints.map((c) => (isDimension(c) ? ({ ...c, driving: true } as Constraint) : c)),
  };
  const sketch = buildSketch(withShape(all, points), new Map(dims.map((d) => [d.id, 1])));
  return new Map(sketch.dimensions.map((d) => [d.constraint, reading(sketch, d)]));
}

/** The profile with the solved places written in, for measuring. */
function withShape(profile: Profile, r: ResolvedProfile): Profile {
  const { x } = r.sketch.system;
  return {
    ...profile,
    points: profile.points.map((p) => ({ ...p, ...(r.points.get(p.id) as Point2) })),
    curves: profile.curves.map((c) => {
      const v = r.sketch.curves.get(c.id);
      if (c.kind === 'circle' && v?.radius !== undefined) return { ...c, radius: x[v.radius]! };
      if (c.kind === 'ellipse' && v?.minor !== undefined) return { ...c, minor: x[v.minor]! };
      if (c.kind === 'spline' && v?.handles) {
        const h = (key: string) => {
          const k = v.handles!.get(key);
          return k ? { angle: degrees(x[k[0]]!), weight: x[k[1]]! } : undefined;
        };
        return { ...c, ...(c.start && h('start') ? { start: h('start')! } : {}), ...(c.end && h('end') ? { end: h('end')! } : {}) };
      }
      return c;
    }),
  };
}

/** What a dimension that is not put in yet would read, as text to start from. */
function presentText(profile: Profile, resolved: ResolvedProfile, c: NewDimension): string {
  const id = 'presentReading';
  const value = readings({ ...profile, constraints: [...profile.constraints, { ...c, id } as Constraint] }, resolved).get(id);
  return value === undefined ? '' : asText(c, value);
}

/** A reading as one would type it. */
export function asText(c: Pick<Dimension, 'kind'>, value: number): string {
  const kind = valueKind(c as Dimension);
  return kind === 'angle' ? `${shortNumber(degrees(value), 2)}°` : kind === 'length' ? `${shortNumber(value, 3)} mm` : fixed(value, 2);
}
