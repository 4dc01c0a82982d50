/**
 * Curves of a profile that follow bodies. The document says only what is followed; what it looks like comes from the bodies as they
 * stand and is put into the profile as curves that nothing here can move, and taken out again before the profile is stored.
 */
import { isWhole, type PlanarCurve, type Point2 } from '../curves/planar';
import { hashText } from '../hash';
import { freshId } from '../recipe/edit';
import type { Profile, ProfileCurve, ProfilePoint, Projection } from '../recipe/schema';
import { takenIds } from './draw';
import { refsOf } from './solver/terms';

export interface FollowedCurve {
  /** Short and lasting: made from the name of the face or edge it comes from. */
  readonly id: string;
  readonly curve: PlanarCurve;
  readonly words: string;
}

/** Followed curves by the projection they belong to. */
export type Follows = ReadonlyMap<string, readonly FollowedCurve[]>;

/** Ids for curves that come from named faces or edges; pieces of one name are counted in the order given. */
export function followedIds(names: readonly string[]): string[] {
  const seen = new Map<string, number>();
  return names.map((name) => {
    const base = `h${hashText(name).slice(0, 6)}`;
    const n = (seen.get(base) ?? 0) + 1;
    seen.set(base, n);
    return n === 1 ? base : `${base}n${n}`;
  });
}

/** The projection a followed curve or point belongs to. */
export const projectionOf = (profile: Profile, id: string): Projection | undefined =>
  profile.projections.find((p) => id.startsWith(`${p.id}-`));

const memo = new WeakMap<Profile, { follows: Follows; out: Profile }>();

/** The profile with the curves it follows put in. The same input gives the same object. */
export function withFollowed(profile: Profile, follows: Follows | undefined): Profile {
  if (profile.projections.length === 0 || !follows) return profile;
  const known = memo.get(profile);
  if (known?.follows === follows) return known.out;
  const points: ProfilePoint[] = [];
  const curves: ProfileCurve[] = [];
  for (const p of profile.projections)
    for (const f of follows.get(p.id) ?? []) {
      const id = `${p.id}-${f.id}`;
      const at = (key: string, q: Point2): string => {
        points.push({ id: `${id}-${key}`, x: q.x, y: q.y });
        return `${id}-${key}`;
      };
      const base = { id, name: f.words.slice(0, 120), ...(p.outline ? {} : { construction: true as const }) };
      curves.push(drawn(f.curve, base, at));
    }
  const out: Profile = {
    ...profile,
    points: [...profile.points, ...points],
    curves: [...profile.curves, ...curves],
    followed: new Set([...points, ...curves].map((e) => e.id)),
  };
  memo.set(profile, { follows, out });
  return out;
}

interface Base {
  readonly id: string;
  readonly name: string;
  readonly construction?: true;
}

function drawn(c: PlanarCurve, base: Base, at: (key: string, p: Point2) => string): ProfileCurve {
  const whole = isWhole(c);
  switch (c.kind) {
    case 'line':
      return { kind: 'line', ...base, from: at('a', c.a), to: at('b', c.b) };
    case 'arc':
      if (whole) return { kind: 'circle', ...base, centre: at('m', c.centre), radius: c.radius };
      return { kind: 'arc', ...base, from: at('a', c.a), to: at('b', c.b), centre: at('m', c.centre), ccw: c.sweep > 0 };
    case 'ellipse': {
      const major = { x: c.centre.x + c.u.x, y: c.centre.y + c.u.y };
      const ccw = (c.u.x * c.v.y - c.u.y * c.v.x) * c.sweep > 0;
      return {
        kind: 'ellipse',
        ...base,
        centre: at('m', c.centre),
        major: at('j', major),
        minor: Math.hypot(c.v.x, c.v.y),
        ...(whole ? {} : { arc: { from: at('a', c.a), to: at('b', c.b), ccw } }),
      };
    }
    case 'spline':
      return { kind: 'still', ...base, from: at('a', c.a), to: at('b', c.b), spline: c.spline };
  }
}

/** The profile as it is stored. */
export function withoutFollowed(profile: Profile): Profile {
  const { followed, ...rest } = profile;
  if (!followed) return profile;
  return {
    ...rest,
    points: profile.points.filter((p) => !followed.has(p.id)),
    curves: profile.curves.filter((c) => !followed.has(c.id)),
  };
}

/** Has the profile follow something more of a body. */
export function addProjection(profile: Profile, p: Omit<Projection, 'id'>): { profile: Profile; id: string } {
  const id = freshId('f', [...takenIds(profile), ...profile.projections.map((q) => q.id)]);
  return { id, profile: { ...profile, projections: [...profile.projections, { id, ...p }] } };
}

export const setProjection = (profile: Profile, p: Projection): Profile => ({
  ...profile,
  projections: profile.projections.map((q) => (q.id === p.id ? p : q)),
});

/** Lets go of what was followed, with what held on to it. */
export function removeProjection(profile: Profile, id: string): Profile {
  const plain = withoutFollowed(profile);
  const own = (ref: string): boolean => ref.startsWith(`${id}-`);
  return {
    ...plain,
    projections: plain.projections.filter((p) => p.id !== id),
    constraints: plain.constraints.filter((c) => !refsOf(c).some(own)),
    derived: plain.derived.filter((d) => !d.of.some(own) && !('line' in d && own(d.line)) && !('centre' in d && own(d.centre))),
  };
}
