/** Dimensions of a drawing: what they reach between in a view, their words, and the lines they are written with. */
import { arcAbout, distance2, type Point2 } from '../curves/planar';
import { degrees, fixed, type LengthUnit, MM_PER_INCH } from '../units/units';
import type { Box } from './box';
import { arrow, lineMark, type Mark, widthOf } from './marks';
import { generalTolerance, type ToleranceClass } from './paper';

/** What is measured, in the view's own coordinates, mm. */
export type Measured =
  | {
      readonly kind: 'linear';
      readonly a: Point2;
      readonly b: Point2;
      /** Along which it is measured, of length one. */
      readonly way: Point2;
      readonly sign: '' | '⌀';
    }
  | { readonly kind: 'round'; readonly centre: Point2; readonly radius: number; readonly sign: '⌀' | 'R' }
  | {
      readonly kind: 'angle';
      readonly apex: Point2;
      /** Where it begins, and how far it turns, rad. */
      readonly from: number;
      readonly turn: number;
    };

/** The figure: mm, or rad. */
export function figureOf(m: Measured): number {
  switch (m.kind) {
    case 'linear':
      return Math.abs((m.b.x - m.a.x) * m.way.x + (m.b.y - m.a.y) * m.way.y);
    case 'round':
      return m.sign === 'R' ? m.radius : 2 * m.radius;
    case 'angle':
      return Math.abs(m.turn);
  }
}

/** A length as a drawing writes it: no unit, no needless noughts; inches without a nought before the point (ASME Y14.5, from memory). */
export function lengthWords(mm: number, units: LengthUnit): string {
  if (units === 'mm') return String(Number(fixed(mm, 2)));
  return fixed(mm / MM_PER_INCH, 3).replace(/^(-?)0\./, '$1.');
}

/** @param value in place of what is measured: as the recipe has it @param limits a class whose tolerance is written behind it */
export function dimensionWords(m: Measured, units: LengthUnit, limits: ToleranceClass | null, value = figureOf(m)): string {
  if (m.kind === 'angle') return `${Number(fixed(degrees(value), 2))}°`;
  const off = limits && generalTolerance(limits, value);
  const sign = m.kind === 'linear' || m.kind === 'round' ? m.sign : '';
  return `${sign}${lengthWords(value, units)}${off ? ` ±${lengthWords(off, units)}` : ''}`;
}

/** Height of dimension figures, mm. */
const FIGURES = 3;
/** From the outline to the first dimension line, and from one to the next, mm. */
const [FIRST, NEXT] = [9, 7] as const;

/** A dimension on the paper. */
export interface PlacedDimension {
  readonly id: string;
  readonly measured: Measured;
  readonly words: string;
  /** Where its words were moved to, from the middle of what is measured, mm of paper. */
  readonly label?: Point2 | undefined;
}

export interface WrittenDimension {
  readonly id: string;
  readonly marks: readonly Mark[];
  /** The middle of its words, and where they are counted from, mm of paper. */
  readonly text: Point2;
  readonly from: Point2;
  readonly words: string;
}

/**
 * Writes the dimensions of a view onto the paper. Those that were not moved by hand stand outside its outline in rows, short ones within.
 * @param put a place of the view on the paper @param scale mm of paper a mm @param box of the view on the paper
 */
export function writeDimensions(list: readonly PlacedDimension[], put: (p: Point2) => Point2, scale: number, box: Box): WrittenDimension[] {
  const rows: Record<'below' | 'above' | 'left' | 'right', [number, number][][]> = { below: [], above: [], left: [], right: [] };
  const order = [...list].sort((a, b) => figureOf(a.measured) - figureOf(b.measured));
  let leader = 0;
  return order.map((d) => {
    const m = d.measured;
    if (m.kind === 'round') return writeRound(d, m, put, scale, box, leader++);
    if (m.kind === 'angle') return writeAngle(d, m, put, scale);
    const [a, b] = [put(m.a), put(m.b)];
    const from = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
    if (d.label) return writeLinear(d, m, a, b, { x: from.x + d.label.x, y: from.y + d.label.y }, from, true);
    const level = Math.abs(m.way.y) < 1e-9;
    const upright = Math.abs(m.way.x) < 1e-9;
    if (!level && !upright) {
      // Beside what is measured, away from the middle of the view.
      const across = { x: -m.way.y, y: m.way.x };
      const middle = { x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2 };
      const s = (from.x - middle.x) * across.x + (from.y - middle.y) * across.y < 0 ? -FIRST : FIRST;
      return writeLinear(d, m, a, b, { x: from.x + s * across.x, y: from.y + s * across.y }, from, false);
    }
    const side = level
      ? Math.min(a.y, b.y) - box.y0 <= box.y1 - Math.max(a.y, b.y) + 1e-6
        ? 'below'
        : 'above'
      : Math.min(a.x, b.x) - box.x0 < box.x1 - Math.max(a.x, b.x) - 1e-6
        ? 'left'
        : 'right';
    const [lo, hi] = level ? [Math.min(a.x, b.x), Math.max(a.x, b.x)] : [Math.min(a.y, b.y), Math.max(a.y, b.y)];
    // Words longer than their line stand beyond its end.
    const long = widthOf(d.words, FIGURES) + 7 > hi - lo;
    const taken: [number, number] = [lo - 3, hi + (long ? widthOf(d.words, FIGURES) + 6 : 3)];
    let row = rows[side].findIndex((r) => r.every(([s, t]) => taken[1] <= s || taken[0] >= t));
    if (row < 0) row = rows[side].push([]) - 1;
    rows[side][row]!.push(taken);
    const away = FIRST + NEXT * row;
    const text =
      side === 'below'
        ? { x: from.x, y: box.y0 - away }
        : side === 'above'
          ? { x: from.x, y: box.y1 + away }
          : side === 'left'
            ? { x: box.x0 - away, y: from.y }
            : { x: box.x1 + away, y: from.y };
    return writeLinear(d, m, a, b, text, from, false);
  });
}

function writeLinear(
  d: PlacedDimension,
  m: Extract<Measured, { kind: 'linear' }>,
  a: Point2,
  b: Point2,
  text: Point2,
  from: Point2,
  moved: boolean,
): WrittenDimension {
  // Read from below or from the right.
  let u = m.way;
  if (u.x < -1e-9 || (Math.abs(u.x) <= 1e-9 && u.y < 0)) u = { x: -u.x, y: -u.y };
  const n = { x: -u.y, y: u.x };
  const along = (p: Point2): number => (p.x - text.x) * u.x + (p.y - text.y) * u.y;
  const on = (s: number): Point2 => ({ x: text.x + s * u.x, y: text.y + s * u.y });
  const [s, t] = [along(a), along(b)];
  const [lo, hi] = [Math.min(s, t), Math.max(s, t)];
  const marks: Mark[] = [];
  for (const [p, k] of [
    [a, s],
    [b, t],
  ] as const) {
    const q = on(k);
    const l = distance2(p, q);
    if (l < 0.8) continue;
    const w = { x: (q.x - p.x) / l, y: (q.y - p.y) / l };
    // Extension lines begin a hair off the outline and end past the dimension line.
    marks.push(lineMark({ x: p.x + 0.8 * w.x, y: p.y + 0.8 * w.y }, { x: q.x + 1.5 * w.x, y: q.y + 1.5 * w.y }, 'dimension'));
  }
  const width = widthOf(d.words, FIGURES);
  const room = hi - lo;
  const outside = room < 7;
  const back = { x: -u.x, y: -u.y };
  if (outside) {
    marks.push(lineMark(on(lo - 5), on(lo), 'dimension'), lineMark(on(hi), on(hi + 5), 'dimension'), lineMark(on(lo), on(hi), 'dimension'));
    marks.push(arrow(on(lo), u), arrow(on(hi), back));
  } else marks.push(lineMark(on(lo), on(hi), 'dimension'), arrow(on(lo), back), arrow(on(hi), u));
  // Where its words were put they stay; else they stand over the line, or beyond its end.
  const at = moved ? 0 : width + 7 > room ? hi + (outside ? 5 : 1) + width / 2 : (lo + hi) / 2;
  if (at > hi || at < lo) marks.push(lineMark(on(at > hi ? hi : lo), on(at + (at > hi ? width / 2 : -width / 2)), 'dimension'));
  const middle = { x: on(at).x + 0.9 * n.x, y: on(at).y + 0.9 * n.y };
  marks.push({ kind: 'text', text: d.words, at: middle, size: FIGURES, anchor: 'middle', turn: Math.atan2(u.y, u.x) });
  return { id: d.id, marks, text: { x: on(at).x, y: on(at).y }, from, words: d.words };
}

function writeRound(
  d: PlacedDimension,
  m: Extract<Measured, { kind: 'round' }>,
  put: (p: Point2) => Point2,
  scale: number,
  box: Box,
  turn: number,
): WrittenDimension {
  const centre = put(m.centre);
  const r = m.radius * scale;
  // Several of one view fan out.
  const w = ((45 + 25 * (turn % 5)) * Math.PI) / 180;
  const reach = Math.max(r + 7, Math.min(r + 14, Math.hypot(box.x1 - box.x0, box.y1 - box.y0)));
  const text = d.label
    ? { x: centre.x + d.label.x, y: centre.y + d.label.y }
    : { x: centre.x + reach * Math.cos(w), y: centre.y + reach * Math.sin(w) };
  const l = distance2(text, centre);
  const u = l > 1e-6 ? { x: (text.x - centre.x) / l, y: (text.y - centre.y) / l } : { x: Math.SQRT1_2, y: Math.SQRT1_2 };
  const rim = { x: centre.x + r * u.x, y: centre.y + r * u.y };
  const far = { x: centre.x - r * u.x, y: centre.y - r * u.y };
  const marks: Mark[] = [];
  const width = widthOf(d.words, FIGURES);
  const side = u.x < -0.01 ? -1 : 1;
  if (l > r) {
    marks.push(lineMark(rim, text, 'dimension'), arrow(rim, { x: -u.x, y: -u.y }));
    marks.push(lineMark(text, { x: text.x + side * (width + 1.5), y: text.y }, 'dimension'));
  } else {
    marks.push(lineMark(m.sign === 'R' ? centre : far, rim, 'dimension'), arrow(rim, u));
    if (m.sign === '⌀') marks.push(arrow(far, { x: -u.x, y: -u.y }));
  }
  const at = l > r ? { x: text.x + side * (width / 2 + 1), y: text.y + 0.9 } : { x: text.x, y: text.y + 0.9 };
  marks.push({ kind: 'text', text: d.words, at, size: FIGURES, anchor: 'middle' });
  return { id: d.id, marks, text, from: centre, words: d.words };
}

function writeAngle(
  d: PlacedDimension,
  m: Extract<Measured, { kind: 'angle' }>,
  put: (p: Point2) => Point2,
  scale: number,
): WrittenDimension {
  const apex = put(m.apex);
  const half = m.from + m.turn / 2;
  const usual = Math.max(14, Math.min(30, 20 * scale));
  const text = d.label
    ? { x: apex.x + d.label.x, y: apex.y + d.label.y }
    : { x: apex.x + usual * Math.cos(half), y: apex.y + usual * Math.sin(half) };
  const r = Math.max(4, distance2(text, apex));
  const arc = arcAbout(apex, r, m.from, m.turn);
  const marks: Mark[] = [{ kind: 'curve', curve: arc, pen: 'dimension' }];
  const s = Math.sign(m.turn) || 1;
  for (const [w, way] of [
    [m.from, -s],
    [m.from + m.turn, s],
  ] as const) {
    const tip = { x: apex.x + r * Math.cos(w), y: apex.y + r * Math.sin(w) };
    marks.push(arrow(tip, { x: -way * Math.sin(w), y: way * Math.cos(w) }));
    marks.push(lineMark(apex, { x: apex.x + (r + 1.5) * Math.cos(w), y: apex.y + (r + 1.5) * Math.sin(w) }, 'dimension'));
  }
  marks.push({ kind: 'text', text: d.words, at: { x: text.x, y: text.y + 1 }, size: FIGURES, anchor: 'middle' });
  return { id: d.id, marks, text, from: apex, words: d.words };
}
