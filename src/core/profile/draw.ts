/** Edits of a profile by hand: dragging, adding and removing points and curves. Pure; expressions stay as typed. */
import { type Point2, pointAt } from '../curves/planar';
import { namesIn } from '../dimensions/expression';
import { freshId } from '../recipe/edit';
import type { Profile, ProfileCurve } from '../recipe/schema';
import { shortNumber } from '../units/units';
import type { ResolvedProfile } from './resolve';

/** A coordinate that refers to named dimensions is held by them: it is changed by typing, not by dragging. */
export const isHeld = (expr: string): boolean => namesIn(expr).length > 0;

/** Moves a point to a place, each coordinate only where it is free. */
export function movePoint(profile: Profile, id: string, to: Point2): Profile {
  return {
    ...profile,
    points: profile.points.map((p) =>
      p.id === id ? { ...p, x: isHeld(p.x) ? p.x : shortNumber(to.x), y: isHeld(p.y) ? p.y : shortNumber(to.y) } : p,
    ),
  };
}

const takenIds = (profile: Profile): string[] => [...profile.points.map((p) => p.id), ...profile.curves.map((c) => c.id)];

export function addPoint(profile: Profile, at: Point2): { profile: Profile; id: string } {
  const id = freshId('p', takenIds(profile));
  return { id, profile: { ...profile, points: [...profile.points, { id, x: shortNumber(at.x), y: shortNumber(at.y) }] } };
}

export type NewCurve =
  | { kind: 'line'; from: string; to: string }
  | { kind: 'arc'; from: string; to: string; through: string }
  | { kind: 'spline'; from: string; to: string; through: string[] };

export function addCurve(profile: Profile, curve: NewCurve): { profile: Profile; id: string } {
  const id = freshId('c', takenIds(profile));
  return { id, profile: { ...profile, curves: [...profile.curves, { ...curve, id } as ProfileCurve] } };
}

/** A point put on a curve: a spline gains a point it runs through, a line or an arc is divided there. */
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
  if (source.kind === 'spline') {
    // The place in the list of points run through: after those that lie before t, by chord length.
    const via = [source.from, ...source.through, source.to].map((id) => resolved.points.get(id)!);
    let total = 0;
    const along = via.map((p, i) => {
      if (i > 0) total += Math.hypot(p.x - via[i - 1]!.x, p.y - via[i - 1]!.y);
      return total;
    });
    const index = along.slice(1, -1).filter((s) => s / total < t).length;
    const through = source.through.toSpliced(index, 0, added.id);
    return {
      id: added.id,
      profile: { ...added.profile, curves: added.profile.curves.map((c) => (c.id === curveId ? { ...source, through } : c)) },
    };
  }
  const at = added.profile.curves.findIndex((c) => c.id === curveId);
  const secondId = freshId('c', takenIds(added.profile));
  if (source.kind === 'line') {
    const halves: ProfileCurve[] = [
      { ...source, to: added.id },
      { kind: 'line', id: secondId, from: added.id, to: source.to },
    ];
    return { id: added.id, profile: { ...added.profile, curves: added.profile.curves.toSpliced(at, 1, ...halves) } };
  }
  const first = addPoint(added.profile, pointAt(shape, t / 2));
  const second = addPoint(first.profile, pointAt(shape, (1 + t) / 2));
  const halves: ProfileCurve[] = [
    { ...source, to: added.id, through: first.id },
    { kind: 'arc', id: secondId, from: added.id, to: source.to, through: second.id },
  ];
  return { id: added.id, profile: { ...second.profile, curves: second.profile.curves.toSpliced(at, 1, ...halves) } };
}

/** Points that no curve uses are dropped. */
const tidy = (profile: Profile): Profile => {
  const used = new Set(
    profile.curves.flatMap((c) => [c.from, c.to, ...(c.kind === 'arc' ? [c.through] : c.kind === 'spline' ? c.through : [])]),
  );
  return { ...profile, points: profile.points.filter((p) => used.has(p.id)) };
};

/**
 * Takes a point out. A spline point is left out of its spline; where two curves met, one line takes their
 * place; the end of the outline is shortened by its curve; an arc that loses its middle becomes a line.
 */
export function removePoint(profile: Profile, id: string): Profile {
  const middle = profile.curves.find((c) => (c.kind === 'spline' && c.through.includes(id)) || (c.kind === 'arc' && c.through === id));
  if (middle) {
    const replaced: ProfileCurve =
      middle.kind === 'spline'
        ? { ...middle, through: middle.through.filter((t) => t !== id) }
        : { kind: 'line', id: middle.id, ...(middle.name ? { name: middle.name } : {}), from: middle.from, to: middle.to };
    return tidy({ ...profile, curves: profile.curves.map((c) => (c.id === middle.id ? replaced : c)) });
  }
  const meeting = profile.curves.filter((c) => c.from === id || c.to === id);
  if (meeting.length === 2) {
    const [a, b] = meeting as [ProfileCurve, ProfileCurve];
    const otherA = a.from === id ? a.to : a.from;
    const otherB = b.from === id ? b.to : b.from;
    const rest = profile.curves.filter((c) => c !== b);
    const line: ProfileCurve = { kind: 'line', id: a.id, ...(a.name ? { name: a.name } : {}), from: otherA, to: otherB };
    return tidy({ ...profile, curves: otherA === otherB ? rest.filter((c) => c !== a) : rest.map((c) => (c === a ? line : c)) });
  }
  return tidy({
    ...profile,
    curves: profile.curves.filter((c) => !meeting.includes(c)),
    points: profile.points.filter((p) => p.id !== id),
  });
}

export const removeCurve = (profile: Profile, id: string): Profile =>
  tidy({ ...profile, curves: profile.curves.filter((c) => c.id !== id) });

/** What a pointer snaps to, with the reason shown. */
export interface Snap {
  readonly at: Point2;
  readonly reason: string;
  /** An existing point under the pointer. */
  readonly point?: string;
}

/**
 * Snaps a place on the board: first to a point, then to the axis and to the heights and radii of other
 * points, then to the grid.
 * @param reach mm within which something attracts; @param grid grid step in mm
 */
export function snap(profile: ResolvedProfile, raw: Point2, reach: number, grid: number, except?: string): Snap {
  let nearest: { id: string; p: Point2; d: number } | undefined;
  for (const [id, p] of profile.points) {
    if (id === except) continue;
    const d = Math.hypot(p.x - raw.x, p.y - raw.y);
    if (d <= reach && (!nearest || d < nearest.d)) nearest = { id, p, d };
  }
  if (nearest) return { at: nearest.p, reason: 'on a point', point: nearest.id };
  let x: number | undefined;
  let y: number | undefined;
  const reasons: string[] = [];
  if (Math.abs(raw.x) <= reach) {
    x = 0;
    reasons.push('on the axis');
  }
  for (const [id, p] of profile.points) {
    if (id === except) continue;
    if (x === undefined && Math.abs(p.x - raw.x) <= reach * 0.6) {
      x = p.x;
      reasons.push(`same radius as ${id}`);
    }
    if (y === undefined && Math.abs(p.y - raw.y) <= reach * 0.6) {
      y = p.y;
      reasons.push(`same height as ${id}`);
    }
  }
  const onGrid = (v: number): number => Number((Math.round(v / grid) * grid).toFixed(6));
  if (x === undefined || y === undefined) reasons.push(`grid ${grid} mm`);
  return { at: { x: x ?? onGrid(raw.x), y: y ?? onGrid(raw.y) }, reason: reasons.join(', ') };
}
