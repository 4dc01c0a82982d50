/** Alterations of what is drawn: trim, extend, break, rounded and cut corners, copies. Relations are kept where they still hold. */
import { intersect, parameterOn } from '../curves/intersect';
import { distance2, isWhole, type PlanarCurve, type Point2, pointAt, tangentAt } from '../curves/planar';
import type { Profile, ProfileCurve } from '../recipe/schema';
import { fail, ok, type Result } from '../result';
import { fixed } from '../units/units';
import { addConstraint, addCurve, addPoint, removeCurve, takenIds, tidy } from './draw';
import type { ResolvedProfile } from './resolve';
import { endsOf, pointsOf, refsOf } from './solver/terms';

type Open = Extract<ProfileCurve, { from: string }>;
const isOpen = (c: ProfileCurve | undefined): c is Open => c !== undefined && 'from' in c;

const shapeOf = (r: ResolvedProfile, id: string): PlanarCurve | undefined => r.curves.find((c) => c.id === id)?.curve;

/** Parameters at which other curves of the drawing cross this one, in order, its ends left out. */
function crossings(profile: Profile, r: ResolvedProfile, id: string): { t: number; by: string }[] {
  const own = shapeOf(r, id);
  if (!own) return [];
  const out: { t: number; by: string }[] = [];
  const source = profile.curves.find((c) => c.id === id);
  for (const other of r.curves) {
    if (other.id === id || (other.source && other.source === source)) continue;
    for (const h of intersect(own, other.curve)) out.push({ t: h.s, by: other.source ? other.source.id : other.id });
  }
  // Points of other curves that end on this one are met there as well.
  return out
    .filter((c) => isWhole(own) || (c.t > 1e-7 && c.t < 1 - 1e-7))
    .sort((a, b) => a.t - b.t)
    .filter((c, i, all) => i === 0 || c.t - all[i - 1]!.t > 1e-9);
}

/** Takes away the stretch of a curve between its neighbours' crossings, where `t` lies. */
export function trim(profile: Profile, r: ResolvedProfile, id: string, t: number): Result<Profile> {
  const c = profile.curves.find((k) => k.id === id);
  const shape = shapeOf(r, id);
  if (!c || !shape) return fail('point at a curve');
  const cuts = crossings(profile, r, id);
  if (c.kind === 'circle') {
    if (cuts.length < 2 || shape.kind !== 'arc') return fail('a circle is trimmed between two curves that cross it');
    const at = cuts.findIndex((k) => k.t > t);
    const upper = cuts[Math.max(0, at)]!;
    const lower = cuts[(at <= 0 ? cuts.length : at) - 1]!;
    const a = addPoint(profile, pointAt(shape, upper.t));
    const b = addPoint(a.profile, pointAt(shape, lower.t));
    const arc: ProfileCurve = {
      kind: 'arc',
      id,
      ...(c.name ? { name: c.name } : {}),
      ...(c.construction ? { construction: true } : {}),
      from: a.id,
      to: b.id,
      centre: c.centre,
      ccw: true,
    };
    let next: Profile = { ...b.profile, curves: b.profile.curves.map((k) => (k.id === id ? arc : k)) };
    next = holdOn(holdOn(next, a.id, upper.by), b.id, lower.by);
    return ok(next);
  }
  if (!isOpen(c) || c.kind === 'spline') {
    if (c.kind !== 'spline') return fail('lines, arcs, circles and splines can be trimmed');
  }
  if (cuts.length === 0) return ok(removeCurve(profile, id));
  const before = cuts.filter((k) => k.t < t).at(-1);
  const after = cuts.find((k) => k.t > t);
  const open = c as Open;
  if (!before) return ok(cutEnd(profile, r, open, 'start', after!));
  if (!after) return ok(cutEnd(profile, r, open, 'end', before));
  // The middle goes: the curve is divided, its two ends cut back.
  const first = cutEnd(profile, r, open, 'end', before);
  const keptEnd = (first.curves.find((k) => k.id === id) as Open).to;
  const two = addPoint(first, pointAt(shape, after.t));
  const part = addCurve(two.profile, secondPart(open, two.id, shape, after.t, r));
  const held = holdOn(part.profile, two.id, after.by);
  const tied = open.kind === 'line' ? addConstraint(held, { kind: 'collinear', a: id, b: part.id }).profile : held;
  return keptEnd ? ok(tidy(tied)) : fail('it could not be divided');
}

/** The rest of a curve behind a parameter, beginning at a new point. */
function secondPart(c: Open, from: string, shape: PlanarCurve, t: number, r: ResolvedProfile): Open {
  const { name: _, ...rest } = c;
  if (c.kind !== 'spline') return { ...rest, from } as Open;
  const along = throughParameters(c, r);
  const at = handleAt(shape, t, 1);
  return { ...c, from, through: c.through.filter((_p, i) => along[i]! > t), start: at } as Open;
}

/** Chord-length parameters of the points a spline runs through. */
function throughParameters(c: Extract<ProfileCurve, { kind: 'spline' }>, r: ResolvedProfile): number[] {
  const via = [c.from, ...c.through, c.to].map((p) => r.points.get(p)!);
  let total = 0;
  const sums = via.map((p, i) => {
    if (i > 0) total += distance2(via[i - 1]!, p);
    return total;
  });
  return sums.slice(1, -1).map((s) => s / total);
}

function handleAt(shape: PlanarCurve, t: number, sign: 1 | -1): { angle: number; weight: number } {
  const u = tangentAt(shape, t);
  return { angle: (Math.atan2(sign * u.y, sign * u.x) * 180) / Math.PI, weight: 1 };
}

/** Ends a curve at a crossing and keeps the new end on the curve that crosses. */
function cutEnd(profile: Profile, r: ResolvedProfile, c: Open, end: 'start' | 'end', cut: { t: number; by: string }): Profile {
  const shape = shapeOf(r, c.id)!;
  const added = addPoint(profile, pointAt(shape, cut.t));
  let changed: Open = end === 'start' ? { ...c, from: added.id } : { ...c, to: added.id };
  if (changed.kind === 'spline' && c.kind === 'spline') {
    const along = throughParameters(c, r);
    changed = {
      ...changed,
      through: c.through.filter((_, i) => (end === 'start' ? along[i]! > cut.t : along[i]! < cut.t)),
      [end]: handleAt(shape, cut.t, end === 'start' ? 1 : -1),
    };
  }
  const next = { ...added.profile, curves: added.profile.curves.map((k) => (k.id === c.id ? changed : k)) };
  return tidy(holdOn(withoutLengths(next, c.id), added.id, cut.by));
}

/** A length that was given for the whole curve no longer speaks of what is left of it. */
const withoutLengths = (profile: Profile, curve: string): Profile => ({
  ...profile,
  constraints: profile.constraints.filter(
    (c) =>
      !(
        (c.kind === 'arc-length' && c.curve === curve) ||
        (c.kind === 'equal' && refsOf(c).includes(curve) && isLine(profile, curve)) ||
        (c.kind === 'midpoint' && c.curve === curve)
      ),
  ),
});
const isLine = (profile: Profile, id: string): boolean => profile.curves.find((c) => c.id === id)?.kind === 'line';

function holdOn(profile: Profile, point: string, curve: string): Profile {
  const c = profile.curves.find((k) => k.id === curve);
  return c && c.kind !== 'text' ? addConstraint(profile, { kind: 'on-curve', point, curve }).profile : profile;
}

/** Runs the nearer end of a line or an arc on to the next curve it meets. */
export function extend(profile: Profile, r: ResolvedProfile, id: string, t: number): Result<Profile> {
  const c = profile.curves.find((k) => k.id === id);
  const shape = shapeOf(r, id);
  if (!isOpen(c) || !shape || (shape.kind !== 'line' && shape.kind !== 'arc')) return fail('lines and arcs can be extended');
  const end = t < 0.5 ? 'start' : 'end';
  let best: { t: number; by: string } | undefined;
  for (const other of r.curves) {
    if (other.id === id || !other.source) continue;
    for (const h of intersect(shape, other.curve, 'a')) {
      const s = parameterOn(shape, h.at);
      const beyond = end === 'end' ? s - 1 : -s;
      if (beyond > 1e-7 && (!best || beyond < (end === 'end' ? best.t - 1 : -best.t))) best = { t: s, by: other.source.id };
    }
  }
  if (!best) return fail('nothing lies ahead of this end');
  return ok(cutEnd(profile, r, c, end, best));
}

/** Divides a curve wherever another crosses it; the new points stay on the other curve. */
export function breakAtCrossings(profile: Profile, r: ResolvedProfile, id: string): Result<Profile> {
  const c = profile.curves.find((k) => k.id === id);
  if (!isOpen(c)) return fail('lines, arcs and splines can be broken');
  const cuts = crossings(profile, r, id);
  if (cuts.length === 0) return fail('nothing crosses it');
  let next = profile;
  let rest = id;
  // From the far end, so that the earlier part keeps the curve's id and its parameters.
  for (const cut of cuts.toReversed()) {
    const shape = shapeOf(r, id)!;
    const p = addPoint(next, pointAt(shape, cut.t));
    const own = p.profile.curves.find((k) => k.id === rest) as Open;
    const second = addCurve(p.profile, secondPart(own, p.id, shape, cut.t, r));
    const first: Open =
      own.kind === 'spline'
        ? {
            ...own,
            to: p.id,
            through: own.through.filter((_, i) => throughParameters(c as Extract<Open, { kind: 'spline' }>, r)[i]! < cut.t),
            end: handleAt(shape, cut.t, -1),
          }
        : { ...own, to: p.id };
    next = { ...second.profile, curves: second.profile.curves.map((k) => (k.id === rest ? first : k)) };
    if (own.kind === 'line') next = addConstraint(next, { kind: 'collinear', a: rest, b: second.id }).profile;
    next = holdOn(next, p.id, cut.by);
    rest = id;
  }
  return ok(tidy(withoutLengths(next, id)));
}

/** The two curves that meet at a point, each with the end it meets with. */
function meeting(profile: Profile, point: string): { curve: Open; end: 'start' | 'end' }[] {
  return profile.curves.flatMap((c): { curve: Open; end: 'start' | 'end' }[] => {
    if (!isOpen(c)) return [];
    if (c.from === point) return [{ curve: c, end: 'start' }];
    return c.to === point ? [{ curve: c, end: 'end' }] : [];
  });
}

/**
 * Replaces the corner between two lines by an arc of the given radius, tangent to both, or by a straight cut of the given length
 * along each.
 * @param value expression of the radius or the setback; @param size its value in mm
 */
export function softenCorner(
  profile: Profile,
  r: ResolvedProfile,
  point: string,
  how: 'round' | 'cut',
  value: string,
  size: number,
): Result<Profile> {
  const at = meeting(profile, point);
  if (at.length !== 2 || at.some((m) => m.curve.kind !== 'line')) return fail('choose a corner where two lines meet');
  if (!(size > 0)) return fail('the value must be more than nothing');
  const [p, q] = at as [(typeof at)[0], (typeof at)[0]];
  const corner = r.points.get(point)!;
  const away = (m: (typeof at)[0]): { u: Point2; length: number } => {
    const o = r.points.get(m.end === 'start' ? m.curve.to : m.curve.from)!;
    const length = distance2(corner, o);
    return { u: { x: (o.x - corner.x) / length, y: (o.y - corner.y) / length }, length };
  };
  const [a, b] = [away(p), away(q)];
  const cos = a.u.x * b.u.x + a.u.y * b.u.y;
  const half = Math.acos(Math.max(-1, Math.min(1, cos))) / 2;
  if (half < 1e-6 || half > Math.PI / 2 - 1e-6) return fail('the two lines run in one direction: there is no corner');
  const setback = how === 'round' ? size / Math.tan(half) : size;
  const room = Math.min(a.length, b.length);
  if (setback >= room - 1e-6) {
    const most = how === 'round' ? room * Math.tan(half) : room;
    return fail(`it works below ${fixed(most, 3)} mm here, limited by the shorter line of ${fixed(room, 3)} mm`);
  }
  const on = (k: { u: Point2 }): Point2 => ({ x: corner.x + k.u.x * setback, y: corner.y + k.u.y * setback });
  const pa = addPoint(profile, on(a));
  const pb = addPoint(pa.profile, on(b));
  let next = pb.profile;
  const reend = (m: (typeof at)[0], id: string): void => {
    next = {
      ...next,
      curves: next.curves.map((c) => (c.id === m.curve.id ? ({ ...m.curve, [m.end === 'start' ? 'from' : 'to']: id } as ProfileCurve) : c)),
    };
  };
  reend(p, pa.id);
  reend(q, pb.id);
  // The old corner stays as a point of reference where both lines would meet, so that dimensions to it still hold.
  next = { ...next, points: next.points.map((k) => (k.id === point ? { ...k, reference: true as const } : k)) };
  const used = next.constraints.some((c) => refsOf(c).includes(point)) || next.curves.some((c) => pointsOf(c).includes(point));
  if (used) {
    next = addConstraint(next, { kind: 'on-curve', point, curve: p.curve.id }).profile;
    next = addConstraint(next, { kind: 'on-curve', point, curve: q.curve.id }).profile;
  } else next = { ...next, points: next.points.filter((k) => k.id !== point) };
  if (how === 'cut') {
    next = addCurve(next, { kind: 'line', from: pa.id, to: pb.id }).profile;
    const corner_ = next.points.some((k) => k.id === point);
    if (corner_) {
      next = addConstraint(next, { kind: 'distance', a: point, b: pa.id, direction: 'aligned', value, driving: true }).profile;
      next = addConstraint(next, { kind: 'distance', a: point, b: pb.id, direction: 'aligned', value, driving: true }).profile;
    }
    return ok(next);
  }
  const k = size / Math.sin(half) / Math.hypot(a.u.x + b.u.x, a.u.y + b.u.y);
  const centre = addPoint(next, { x: corner.x + (a.u.x + b.u.x) * k, y: corner.y + (a.u.y + b.u.y) * k });
  const arc = addCurve(centre.profile, {
    kind: 'arc',
    from: pa.id,
    to: pb.id,
    centre: centre.id,
    ccw: a.u.x * b.u.y - a.u.y * b.u.x < 0,
  });
  next = arc.profile;
  next = addConstraint(next, { kind: 'tangent', a: p.curve.id, b: arc.id }).profile;
  next = addConstraint(next, { kind: 'tangent', a: arc.id, b: q.curve.id }).profile;
  next = addConstraint(next, { kind: 'radius', curve: arc.id, value, driving: true }).profile;
  return ok(next);
}

export interface Motion2 {
  readonly place: (p: Point2) => Point2;
  readonly scale: number;
  /** Added to directions of handles, degrees. */
  readonly turn: number;
}
export const byShift = (x: number, y: number): Motion2 => ({ place: (p) => ({ x: p.x + x, y: p.y + y }), scale: 1, turn: 0 });
export const byTurn = (c: Point2, angle: number): Motion2 => ({
  place: (p) => ({
    x: c.x + Math.cos(angle) * (p.x - c.x) - Math.sin(angle) * (p.y - c.y),
    y: c.y + Math.sin(angle) * (p.x - c.x) + Math.cos(angle) * (p.y - c.y),
  }),
  scale: 1,
  turn: (angle * 180) / Math.PI,
});
export const byScale = (c: Point2, k: number): Motion2 => ({
  place: (p) => ({ x: c.x + k * (p.x - c.x), y: c.y + k * (p.y - c.y) }),
  scale: k,
  turn: 0,
});

const carried = (c: ProfileCurve, m: Motion2): ProfileCurve => {
  switch (c.kind) {
    case 'circle':
      return { ...c, radius: c.radius * m.scale };
    case 'ellipse':
      return { ...c, minor: c.minor * m.scale };
    case 'spline':
      return {
        ...c,
        ...(c.start ? { start: { ...c.start, angle: c.start.angle + m.turn } } : {}),
        ...(c.end ? { end: { ...c.end, angle: c.end.angle + m.turn } } : {}),
      };
    default:
      return c;
  }
};

/** Moves, turns or scales what is chosen as drawn; the constraints then draw it back where they hold it. */
export function move(profile: Profile, curves: readonly string[], points: readonly string[], m: Motion2): Profile {
  const moving = new Set([...points, ...profile.curves.filter((c) => curves.includes(c.id)).flatMap((c) => pointsOf(c))]);
  return {
    ...profile,
    points: profile.points.map((p) => (moving.has(p.id) ? { ...p, ...m.place(p) } : p)),
    curves: profile.curves.map((c) => (curves.includes(c.id) ? carried(c, m) : c)),
  };
}

/** A copy of curves with the constraints among themselves; what ties them to other things is not copied. */
export function copy(profile: Profile, curves: readonly string[], m: Motion2): { profile: Profile; curves: readonly string[] } {
  const chosen = profile.curves.filter((c) => curves.includes(c.id));
  const taken = new Set(takenIds(profile));
  const fresh = (prefix: string): string => {
    for (let n = 1; ; n++)
      if (!taken.has(`${prefix}${n}`)) {
        taken.add(`${prefix}${n}`);
        return `${prefix}${n}`;
      }
  };
  const names = new Map<string, string>();
  for (const c of chosen) {
    for (const p of pointsOf(c)) if (!names.has(p)) names.set(p, fresh('p'));
    names.set(c.id, fresh('c'));
  }
  // Values that name a copied thing; words a person wrote stay.
  const rename = <T extends object>(o: T): T =>
    Object.fromEntries(
      Object.entries(o).map(([k, v]) => {
        if (k === 'name' || k === 'text' || k === 'kind' || k === 'value') return [k, v];
        if (typeof v === 'string') return [k, names.get(v) ?? v];
        if (Array.isArray(v)) return [k, v.map((x) => (typeof x === 'string' ? (names.get(x) ?? x) : x))];
        if (k === 'at') return [k, Object.fromEntries(Object.entries(v as object).map(([p, h]) => [names.get(p) ?? p, h]))];
        return [k, v && typeof v === 'object' ? rename(v) : v];
      }),
    ) as T;
  const points = profile.points.filter((p) => names.has(p.id)).map((p) => ({ ...p, id: names.get(p.id)!, ...m.place(p) }));
  const inside = profile.constraints.filter((c) => c.kind !== 'fixed' && refsOf(c).every((r) => names.has(r)));
  const next: Profile = {
    ...profile,
    points: [...profile.points, ...points],
    curves: [...profile.curves, ...chosen.map((c) => rename(carried(c, m)))],
    constraints: [
      ...profile.constraints,
      ...inside.map((c) => ({ ...rename(c), ...('value' in c ? { value: c.value } : {}), id: fresh('value' in c ? 'd' : 'k') })),
    ],
  };
  return { profile: next, curves: chosen.map((c) => names.get(c.id)!) };
}

/** Ends that all but meet: pairs of loose ends nearer than the tolerance, with the gap in mm. */
export function smallGaps(profile: Profile, r: ResolvedProfile, tolerance: number): { a: string; b: string; gap: number; at: Point2 }[] {
  const ends = [...new Set(profile.curves.filter((c) => !c.construction).flatMap((c) => Object.values(endsOf(c) ?? {})))];
  const used = (id: string): number => profile.curves.filter((c) => Object.values(endsOf(c) ?? {}).includes(id)).length;
  const out: { a: string; b: string; gap: number; at: Point2 }[] = [];
  for (let i = 0; i < ends.length; i++)
    for (let j = i + 1; j < ends.length; j++) {
      const [a, b] = [r.points.get(ends[i]!)!, r.points.get(ends[j]!)!];
      const gap = distance2(a, b);
      if (gap > 1e-7 && gap <= tolerance && (used(ends[i]!) === 1 || used(ends[j]!) === 1))
        out.push({ a: ends[i]!, b: ends[j]!, gap, at: a });
    }
  return out;
}

/** Closes gaps by letting the two ends coincide. */
export const closeGaps = (profile: Profile, gaps: readonly { a: string; b: string }[]): Profile =>
  gaps.reduce((p, g) => addConstraint(p, { kind: 'coincident', a: g.a, b: g.b }).profile, profile);
