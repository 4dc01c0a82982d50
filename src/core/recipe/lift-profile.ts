/**
 * Profiles of file version 2, where a coordinate was a text and a handle was two, to the constrained profiles of version 3. What
 * referred to named dimensions becomes a driving dimension; plain numbers become the drawn shape; a typed 0 stays on the axis or the
 * base level.
 */
import { arcThrough, type Point2 } from '../curves/planar';
import { evaluateAs, namesIn, type Scope } from '../dimensions/expression';
import type { Constraint, Handle, Profile, ProfileCurve } from './schema';

interface OldHandle {
  readonly angle: string;
  readonly weight: string;
}
interface OldCurve {
  readonly kind: string;
  readonly id: string;
  readonly name?: string;
  readonly from: string;
  readonly to: string;
  readonly through?: string | readonly string[];
  readonly start?: OldHandle;
  readonly end?: OldHandle;
}
/** A profile as file version 2 kept it. */
export interface OldProfile {
  readonly id: string;
  readonly name: string;
  readonly points: readonly { readonly id: string; readonly x: string; readonly y: string }[];
  readonly curves: readonly OldCurve[];
}

/** A radius written as half of something is a diameter. */
function diameterText(radius: string): string | null {
  const t = radius.trim();
  const m = /^\((.+)\)\s*\/\s*2$/.exec(t) ?? /^([^+\-*/()]+)\/\s*2$/.exec(t);
  return m ? m[1]!.trim() : null;
}

/** @param scope the document's named dimensions; a text that has no value there is drawn at 0 and keeps its words */
export function liftProfile(old: OldProfile, scope: Scope): Omit<Profile, 'plane' | 'half' | 'projections'> {
  const taken = new Set([...old.points.map((p) => p.id), ...old.curves.map((c) => c.id)]);
  const fresh = (prefix: string): string => {
    for (let n = 1; ; n++) {
      const id = `${prefix}${n}`;
      if (taken.has(id)) continue;
      taken.add(id);
      return id;
    }
  };
  const constraints: Constraint[] = [];
  const number = (text: string, kind: 'length' | 'angle' | 'number', otherwise: number): number => {
    const r = evaluateAs(text, kind, scope);
    return r.ok && Number.isFinite(r.value) ? r.value : otherwise;
  };
  const points = old.points.map((p) => {
    const [x, y] = [number(p.x, 'length', 0), number(p.y, 'length', 0)];
    const driving = { driving: true } as const;
    for (const [text, v, line, direction] of [
      [p.x, x, 'axis', 'horizontal'],
      [p.y, y, 'level', 'vertical'],
    ] as const) {
      if (namesIn(text).length > 0) {
        const across = line === 'axis' && v >= 0 ? diameterText(text) : null;
        if (across !== null) constraints.push({ kind: 'across', id: fresh('k'), point: p.id, value: across, ...driving });
        else
          constraints.push({
            kind: 'distance',
            id: fresh('k'),
            a: line,
            b: p.id,
            direction,
            value: v < 0 ? `-(${text})` : text,
            ...driving,
          });
      } else if (v === 0) constraints.push({ kind: 'on-curve', id: fresh('k'), point: p.id, curve: line });
    }
    return { id: p.id, x, y };
  });
  const at = new Map<string, Point2>(points.map((p) => [p.id, p]));
  const curves = old.curves.map((c): ProfileCurve => {
    const base = { id: c.id, ...(c.name ? { name: c.name } : {}), from: c.from, to: c.to };
    if (c.kind === 'arc' && typeof c.through === 'string') {
      const [a, m, b] = [at.get(c.from), at.get(c.through), at.get(c.to)];
      const arc = a && m && b ? arcThrough(a, m, b) : undefined;
      if (arc) {
        const centre = fresh('m');
        points.push({ id: centre, ...arc.centre });
        constraints.push({ kind: 'on-curve', id: fresh('k'), point: c.through, curve: c.id });
        return { kind: 'arc', ...base, centre, ccw: arc.sweep > 0 };
      }
    }
    if (c.kind === 'spline') {
      const handle = (h: OldHandle | undefined, end: 'start' | 'end'): Handle | undefined => {
        if (!h) return undefined;
        constraints.push({ kind: 'direction', id: fresh('k'), curve: c.id, at: end, value: h.angle, driving: true });
        constraints.push({ kind: 'weight', id: fresh('k'), curve: c.id, at: end, value: h.weight, driving: true });
        return { angle: (number(h.angle, 'angle', 0) * 180) / Math.PI, weight: number(h.weight, 'number', 1) };
      };
      const [start, end] = [handle(c.start, 'start'), handle(c.end, 'end')];
      const through = Array.isArray(c.through) ? [...(c.through as readonly string[])] : [];
      return { kind: 'spline', ...base, through, ...(start ? { start } : {}), ...(end ? { end } : {}) };
    }
    return { kind: 'line', ...base };
  });
  // A point an arc ran through stays as a point of reference.
  const used = new Set(curves.flatMap((c) => ('from' in c ? [c.from, c.to] : [])));
  for (const c of curves) {
    if (c.kind === 'arc') used.add(c.centre);
    if (c.kind === 'spline') for (const p of c.through) used.add(p);
  }
  return {
    id: old.id,
    name: old.name,
    points: points.map((p) => (used.has(p.id) ? p : { ...p, reference: true as const })),
    curves,
    constraints,
    derived: [],
  };
}
