/** What a pointer falls onto while drawing, why, and which constraint would keep it there. */
import { nearestOn, type Point2, pointAt } from '../curves/planar';
import { type Around, nearestAround } from './around';
import type { NewConstraint } from './draw';
import type { ResolvedProfile } from './resolve';
import { curveWords } from './words';

/** A constraint with the point's id still to be put in, and that of the point before it where it speaks of both. */
export type Keep = (point: string, before?: string) => NewConstraint | undefined;

export interface Snap {
  readonly at: Point2;
  readonly reason: string;
  /** An existing point under the pointer. */
  readonly point?: string;
  /** What keeps a new point there. */
  readonly keep: readonly Keep[];
}

/**
 * Snaps a place on the board: to a point or the origin, to the middle of a line, onto a curve, to the axis and the base level and the
 * heights and radii of other points, to what stands about it, then to the grid.
 * @param reach mm within which something attracts; @param grid grid step in mm; @param from where the curve being drawn comes from;
 * @param around what stands about the drawing, which keeps nothing there
 */
export function snap(
  profile: ResolvedProfile,
  raw: Point2,
  reach: number,
  grid: number,
  options: { readonly except?: readonly string[]; readonly from?: Point2; readonly around?: readonly Around[] } = {},
): Snap {
  const except = new Set(options.except);
  let nearest: { id: string; p: Point2; d: number } | undefined;
  for (const [id, p] of profile.points) {
    if (except.has(id)) continue;
    const d = Math.hypot(p.x - raw.x, p.y - raw.y);
    if (d <= reach && (!nearest || d < nearest.d)) nearest = { id, p, d };
  }
  if (nearest) return { at: nearest.p, reason: 'on a point', point: nearest.id, keep: [] };
  if (Math.hypot(raw.x, raw.y) <= reach)
    return { at: { x: 0, y: 0 }, reason: 'on the origin', keep: [(a) => ({ kind: 'coincident', a, b: 'origin' })] };
  const own = profile.curves.filter((c) => c.source && ![...except].some((id) => c.source && JSON.stringify(c.source).includes(`"${id}"`)));
  for (const c of own) {
    if (c.curve.kind !== 'line') continue;
    const m = pointAt(c.curve, 0.5);
    if (Math.hypot(m.x - raw.x, m.y - raw.y) <= reach)
      return {
        at: m,
        reason: `middle of ${curveWords(profile.sketch.profile, c.id)}`,
        keep: [(point) => ({ kind: 'midpoint', point, curve: c.id })],
      };
  }
  const beside = options.around ? nearestAround(options.around, raw, reach) : undefined;
  if (beside?.end) return { at: beside.at, reason: beside.reason, keep: [] };
  let x: number | undefined;
  let y: number | undefined;
  const reasons: string[] = [];
  const keep: Keep[] = [];
  const from = options.from;
  if (Math.abs(raw.x) <= reach) {
    x = 0;
    reasons.push('on the axis');
    keep.push((point) => ({ kind: 'on-curve', point, curve: 'axis' }));
  }
  if (from && y === undefined && Math.abs(from.y - raw.y) <= reach * 0.8) {
    y = from.y;
    reasons.push('level');
    keep.push((b, a) => (a ? { kind: 'horizontal', a, b } : undefined));
  }
  if (from && x === undefined && Math.abs(from.x - raw.x) <= reach * 0.8) {
    x = from.x;
    reasons.push('plumb');
    keep.push((b, a) => (a ? { kind: 'vertical', a, b } : undefined));
  }
  if (y === undefined && Math.abs(raw.y) <= reach * 0.6) {
    y = 0;
    reasons.push('on the base level');
    keep.push((point) => ({ kind: 'on-curve', point, curve: 'level' }));
  }
  if (x === undefined && y === undefined) {
    let best: { id: string; at: Point2; d: number } | undefined;
    for (const c of own) {
      if (c.source?.kind === 'text') continue;
      const n = nearestOn(c.curve, raw);
      if (n.distance <= reach && (!best || n.distance < best.d)) best = { id: c.id, at: pointAt(c.curve, n.t), d: n.distance };
    }
    if (best) {
      const id = best.id;
      return {
        at: best.at,
        reason: `on ${curveWords(profile.sketch.profile, id)}`,
        keep: [(point) => ({ kind: 'on-curve', point, curve: id })],
      };
    }
    if (beside) return { at: beside.at, reason: beside.reason, keep: [] };
  }
  for (const [id, p] of profile.points) {
    if (except.has(id)) continue;
    // The same radius or height is a help for the eye; it is kept only where the maker asks for it.
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
  return { at: { x: x ?? onGrid(raw.x), y: y ?? onGrid(raw.y) }, reason: reasons.join(', '), keep };
}
