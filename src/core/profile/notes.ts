/** Dimensions as they are written onto a drawing: what they reach between, and their words. */
import { type Point2, pointAt } from '../curves/planar';
import type { DrawingNote } from '../exchange/svg';
import { asText, readings } from './relate';
import type { ResolvedProfile } from './resolve';
import { type Dimension, isDimension } from './solver/terms';

/** Two places a dimension reaches between, and where its words stand by default, in mm. */
export interface DimensionAnchor {
  readonly a: Point2;
  readonly b: Point2;
  readonly text: Point2;
}

/** The middle of a curve, by id. */
export const middle = (r: ResolvedProfile, id: string): Point2 | undefined => {
  const c = r.curves.find((k) => k.id === id);
  return c && pointAt(c.curve, 0.5);
};

/** Where a dimension is drawn; undefined where what it measures is not there. */
export function anchors(c: Dimension, r: ResolvedProfile): DimensionAnchor | undefined {
  const at = (ref: string): Point2 | undefined => (ref === 'origin' ? { x: 0, y: 0 } : (r.points.get(ref) ?? middle(r, ref)));
  const between = (a: Point2, b: Point2): DimensionAnchor => ({
    a,
    b,
    text: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 },
  });
  switch (c.kind) {
    case 'distance': {
      const frame = [c.a, c.b].find((k) => k === 'axis' || k === 'level');
      // Measured at the point, where the other is the origin.
      const other = c.a === (frame ?? 'origin') ? c.b : c.a;
      const p = at(other);
      if (!p) return undefined;
      if (frame === 'axis') return between({ x: 0, y: p.y }, p);
      if (frame === 'level') return between({ x: p.x, y: 0 }, p);
      const q = at(c.a === other ? c.b : c.a);
      if (!q) return undefined;
      if (c.direction === 'horizontal') return between({ x: q.x, y: p.y }, p);
      if (c.direction === 'vertical') return between({ x: p.x, y: q.y }, p);
      return between(q, p);
    }
    case 'across': {
      const p = at(c.point);
      return p && { a: { x: -p.x, y: p.y }, b: p, text: { x: p.x * 0.5, y: p.y } };
    }
    case 'radius':
    case 'diameter': {
      const k = r.curves.find((x) => x.id === c.curve)?.curve;
      if (k?.kind !== 'arc') return undefined;
      const rim = pointAt(k, k.sweep > 6.28 ? 0.125 : 0.5);
      return between(k.centre, rim);
    }
    case 'arc-length': {
      const k = r.curves.find((x) => x.id === c.curve)?.curve;
      return k && { a: pointAt(k, 0), b: pointAt(k, 1), text: pointAt(k, 0.5) };
    }
    case 'angle':
    case 'offset': {
      const [p, q] = [at(c.a) ?? { x: 0, y: 0 }, at(c.b) ?? { x: 0, y: 0 }];
      return between(p, q);
    }
    case 'direction':
    case 'weight': {
      const source = r.sketch.profile.curves.find((k) => k.id === c.curve);
      if (source?.kind !== 'spline') return undefined;
      const p = at(c.at === 'start' ? source.from : c.at === 'end' ? source.to : c.at);
      return p && { a: p, b: p, text: p };
    }
  }
}

/** A dimension's words: as typed, with its reading where that is not the same, in brackets where it only reads. */
export function wordsOf(c: Dimension, reading: number | undefined): string {
  const now = reading === undefined ? '' : asText(c, reading);
  const sign = c.kind === 'across' || c.kind === 'diameter' ? '⌀ ' : c.kind === 'radius' ? 'R ' : '';
  if (!c.driving) return `(${sign}${now})`;
  return /^-?[\d.\s]*(mm|°|deg)?$/.test(c.value) ? `${sign}${c.value}` : `${sign}${c.value} = ${now}`;
}

/** Every dimension of a profile for a drawing that leaves the program. */
export function dimensionNotes(r: ResolvedProfile): DrawingNote[] {
  const profile = r.sketch.profile;
  const values = readings(profile, r);
  return profile.constraints.filter(isDimension).flatMap((c): DrawingNote[] => {
    const k = anchors(c, r);
    if (!k) return [];
    const shift = c.label ?? { x: 0, y: 1 };
    const line = c.kind !== 'direction' && c.kind !== 'weight' && c.kind !== 'arc-length' && c.kind !== 'angle';
    return [{ at: { x: k.text.x + shift.x, y: k.text.y + shift.y }, words: wordsOf(c, values.get(c.id)), lines: line ? [[k.a, k.b]] : [] }];
  });
}
