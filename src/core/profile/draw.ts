/** Edits of a profile by hand: points, curves and constraints added and removed. Pure; solving is left to the caller. */
import { type Point2, pointAt } from '../curves/planar';
import { freshId } from '../recipe/edit';
import type { Constraint, Derived, Profile, ProfileCurve } from '../recipe/schema';
import type { ResolvedProfile } from './resolve';
import { pointsOf, refsOf } from './solver/terms';

type Without<T, K extends string> = T extends unknown ? Omit<T, K> : never;
export type NewCurve = Without<ProfileCurve, 'id'>;
export type NewConstraint = Without<Constraint, 'id'>;
export type NewDerived = Without<Derived, 'id'>;

export const takenIds = (p: Profile): string[] =>
  [p.points, p.curves, p.constraints, p.derived].flatMap((list: readonly { id: string }[]) => list.map((e) => e.id));

const round = (v: number): number => Math.round(v * 1e9) / 1e9;

export function addPoint(profile: Profile, at: Point2, reference = false): { profile: Profile; id: string } {
  const id = freshId('p', takenIds(profile));
  const point = { id, x: round(at.x), y: round(at.y), ...(reference ? { reference: true as const } : {}) };
  return { id, profile: { ...profile, points: [...profile.points, point] } };
}

export function addCurve(profile: Profile, curve: NewCurve): { profile: Profile; id: string } {
  const id = freshId('c', takenIds(profile));
  return { id, profile: { ...profile, curves: [...profile.curves, { ...curve, id } as ProfileCurve] } };
}

export function addConstraint(profile: Profile, c: NewConstraint): { profile: Profile; id: string } {
  const id = freshId('value' in c ? 'd' : 'k', takenIds(profile));
  return { id, profile: { ...profile, constraints: [...profile.constraints, { ...c, id } as Constraint] } };
}
export const addConstraints = (profile: Profile, list: readonly NewConstraint[]): Profile =>
  list.reduce((p, c) => addConstraint(p, c).profile, profile);

export function addDerived(profile: Profile, d: NewDerived): { profile: Profile; id: string } {
  const id = freshId('o', takenIds(profile));
  return { id, profile: { ...profile, derived: [...profile.derived, { ...d, id } as Derived] } };
}

/** Whether two constraints say the same of the same things. */
const same = (a: NewConstraint, b: NewConstraint): boolean => {
  const plain = ({ id: _, ...rest }: NewConstraint & { id?: string }): string => JSON.stringify(rest);
  return plain(a) === plain(b);
};
export const hasConstraint = (profile: Profile, c: NewConstraint): boolean => profile.constraints.some((k) => same(k, c));

/**
 * Takes out what refers to things that are gone: points no curve uses (unless they are reference points), constraints and derived
 * geometry about them.
 */
export function tidy(profile: Profile): Profile {
  const used = new Set(profile.curves.flatMap((c) => pointsOf(c)));
  const points = profile.points.filter((p) => p.reference || used.has(p.id));
  const known = new Set(['origin', 'axis', 'level', ...points.map((p) => p.id), ...profile.curves.map((c) => c.id)]);
  const curves = new Set(profile.curves.map((c) => c.id));
  const handles = (c: Constraint): boolean => {
    if (c.kind !== 'direction' && c.kind !== 'weight') return true;
    const s = profile.curves.find((k) => k.id === c.curve);
    return s?.kind === 'spline' && (c.at === 'start' || c.at === 'end' ? s[c.at] !== undefined : s.at?.[c.at] !== undefined);
  };
  return {
    ...profile,
    points,
    // A text whose line is gone stands straight again.
    curves: profile.curves.map((c) => {
      if (c.kind !== 'text' || !c.along || curves.has(c.along.curve)) return c;
      const { along: _, ...upright } = c;
      return upright;
    }),
    constraints: profile.constraints.filter((c) => refsOf(c).every((r) => known.has(r)) && handles(c)),
    derived: profile.derived.flatMap((d) => {
      const of = d.of.filter((id) => curves.has(id));
      const refs = [...('line' in d ? [d.line] : []), ...('centre' in d ? [d.centre] : [])];
      return of.length > 0 && refs.every((r) => known.has(r)) ? [{ ...d, of }] : [];
    }),
  };
}

export const removeCurve = (profile: Profile, id: string): Profile =>
  tidy({ ...profile, curves: profile.curves.filter((c) => c.id !== id) });

export const removeConstraint = (profile: Profile, id: string): Profile => ({
  ...profile,
  constraints: profile.constraints.filter((c) => c.id !== id),
});

export const removeDerived = (profile: Profile, id: string): Profile => ({
  ...profile,
  derived: profile.derived.filter((d) => d.id !== id),
});

/** A curve without one of the points it runs through, where it can do without. */
function withoutPoint(c: ProfileCurve, id: string): ProfileCurve | undefined {
  if (c.kind === 'spline' && c.through.includes(id)) {
    const { [id]: _, ...at } = c.at ?? {};
    return { ...c, through: c.through.filter((t) => t !== id), ...(c.at ? { at } : {}) };
  }
  if (c.kind === 'control' && c.points.length > 2 && c.points.includes(id)) return { ...c, points: c.points.filter((p) => p !== id) };
  return undefined;
}

/**
 * Takes a point out. A spline does without it; where two curves met, one line takes their place; curves that need it go with it.
 */
export function removePoint(profile: Profile, id: string): Profile {
  const kept = profile.curves.map((c) => withoutPoint(c, id) ?? c);
  const meeting = kept.filter((c) => 'from' in c && (c.from === id || c.to === id)) as Extract<ProfileCurve, { from: string }>[];
  let curves = kept;
  if (meeting.length === 2) {
    const [a, b] = meeting as [(typeof meeting)[0], (typeof meeting)[0]];
    const otherA = a.from === id ? a.to : a.from;
    const otherB = b.from === id ? b.to : b.from;
    const line: ProfileCurve = { kind: 'line', id: a.id, ...(a.name ? { name: a.name } : {}), from: otherA, to: otherB };
    const rest = kept.filter((c) => c !== b);
    curves = otherA === otherB ? rest.filter((c) => c !== a) : rest.map((c) => (c === a ? line : c));
  }
  curves = curves.filter((c) => !pointsOf(c).includes(id));
  return tidy({ ...profile, curves, points: profile.points.filter((p) => p.id !== id) });
}

/** A point put on a curve: a spline gains a point it runs through, a line or an arc is divided there with its relation kept. */
export function insertPoint(
  profile: Profile,
  resolved: ResolvedProfile,
  curveId: string,
  t: number,
): { profile: Profile; id: string } | null {
  const source = profile.curves.find((c) => c.id === curveId);
  const shape = resolved.curves.find((c) => c.id === curveId)?.curve;
  if (!source || !shape) return null;
  const added = addPoint(profile, pointAt(shape, t));
  const replace = (c: ProfileCurve): Profile => ({ ...added.profile, curves: added.profile.curves.map((k) => (k.id === curveId ? c : k)) });
  switch (source.kind) {
    case 'spline': {
      // The place in the list of points run through: after those that lie before t, by chord length.
      const via = [source.from, ...source.through, source.to].map((id) => resolved.points.get(id)!);
      let total = 0;
      const along = via.map((p, i) => {
        if (i > 0) total += Math.hypot(p.x - via[i - 1]!.x, p.y - via[i - 1]!.y);
        return total;
      });
      const index = along.slice(1, -1).filter((s) => s / total < t).length;
      return { id: added.id, profile: replace({ ...source, through: source.through.toSpliced(index, 0, added.id) }) };
    }
    case 'line': {
      const two = addCurve(replace({ ...source, to: added.id }), {
        kind: 'line',
        from: added.id,
        to: source.to,
        ...(source.construction ? { construction: true } : {}),
      });
      const moved = moveLengths(two.profile, curveId, source.from, source.to);
      return { id: added.id, profile: addConstraint(moved, { kind: 'collinear', a: curveId, b: two.id }).profile };
    }
    case 'arc': {
      const two = addCurve(replace({ ...source, to: added.id }), {
        kind: 'arc',
        from: added.id,
        to: source.to,
        centre: source.centre,
        ccw: source.ccw,
        ...(source.construction ? { construction: true } : {}),
      });
      return { id: added.id, profile: two.profile };
    }
    default:
      return null;
  }
}

/** A length of a divided line stays the distance of its old ends. */
const moveLengths = (profile: Profile, curve: string, from: string, to: string): Profile => ({
  ...profile,
  constraints: profile.constraints.map((c) =>
    c.kind === 'arc-length' && c.curve === curve
      ? {
          kind: 'distance',
          id: c.id,
          a: from,
          b: to,
          direction: 'aligned',
          value: c.value,
          driving: c.driving,
          ...(c.label ? { label: c.label } : {}),
        }
      : c,
  ),
});
