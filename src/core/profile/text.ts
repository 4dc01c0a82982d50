/**
 * Texts in the shipped fonts (SIL Open Font License 1.1; see `scripts/glyphs.mjs`) as runs of lines and B-splines: closed outlines, or
 * single strokes for a cutter's middle line. Straight, or along a line of the drawing.
 */
import { controlSpline } from '../curves/bspline';
import { byLength } from '../curves/by-length';
import { distance2, nearestOn, type PlanarCurve, type Point2, reverse, tangentAt } from '../curves/planar';
import { evaluateAs, type Scope } from '../dimensions/expression';
import { fail, ok, type Result } from '../result';
import { fixed } from '../units/units';
import mono from './fonts/mono.json';
import sans from './fonts/sans.json';
import serif from './fonts/serif.json';
import strokes from './fonts/strokes.json';
import type { FontName, TextCurve } from './typed';

interface Font {
  readonly font: string;
  /** Height of its capitals in its own units. */
  readonly capHeight: number;
  /** By letter: how far the next one stands, and its path. */
  readonly glyphs: Readonly<Record<string, readonly [number, string]>>;
}
export const FONTS = { sans, serif, mono, strokes } as unknown as Readonly<Record<FontName, Font>>;

/** Where letters stand: a place and the direction their baseline has there, by the length from where the text begins, mm. */
type Baseline = (s: number) => Result<{ readonly p: Point2; readonly way: Point2 }>;

/**
 * The curves of a text of a drawing, contour by contour.
 * @param at where its point lies; @param line the line it leads along
 * @returns an error names letters the font lacks, or by how much the line is too short
 */
export function lettersOf(c: TextCurve, at: Point2, line: PlanarCurve | undefined, scope: Scope): Result<PlanarCurve[]> {
  const height = evaluateAs(c.height, 'length', scope);
  if (!height.ok) return height;
  const angle = evaluateAs(c.angle, 'angle', scope);
  if (!angle.ok) return angle;
  const apart = c.apart === undefined ? ok(0) : evaluateAs(c.apart, 'length', scope);
  if (!apart.ok) return apart;
  const lift = c.along ? evaluateAs(c.along.lift, 'length', scope) : ok(0);
  if (!lift.ok) return lift;
  const look: Look = { height: height.value, font: c.font ?? 'sans', apart: apart.value };
  const width = textWidth(c.text, look);
  const begin = c.align === 'middle' ? -width / 2 : c.align === 'end' ? -width : 0;
  if (c.along && !line) return fail('the line it leads along is not there');
  if (!c.along || !line) return textOutline(c.text, straight(at, angle.value, begin), look);
  const led = alongLine(c.along.other ? reverse(line) : line, at, lift.value, begin, width);
  return led.ok ? textOutline(c.text, led.value, look) : led;
}

/** How letters look. */
export interface Look {
  /** Of capitals, mm. */
  readonly height: number;
  readonly font?: FontName;
  /** Between letters over what the font has, mm. */
  readonly apart?: number;
}

/** How long a text is along its baseline, mm; letters the font lacks count nothing. */
export function textWidth(text: string, { height, font = 'sans', apart = 0 }: Look): number {
  const { glyphs, capHeight } = FONTS[font];
  const letters = [...text];
  return (letters.reduce((sum, c) => sum + (glyphs[c]?.[0] ?? 0), 0) * height) / capHeight + apart * (letters.length - 1);
}

/** Whether a text at a place reads from left to right only from the other side of a line: above a circle it stands outside, below it inside. */
export const readsFromOther = (line: PlanarCurve, at: Point2): boolean => tangentAt(line, nearestOn(line, at).t).x < 0;

/** A straight baseline. @param begin of the text from the point, mm */
export function straight(at: Point2, angle: number, begin = 0): Baseline {
  const way = { x: Math.cos(angle), y: Math.sin(angle) };
  return (s) => ok({ p: { x: at.x + (begin + s) * way.x, y: at.y + (begin + s) * way.y }, way });
}

/** A baseline along a line, on its left, from the place nearest to a point. */
function alongLine(line: PlanarCurve, at: Point2, lift: number, begin: number, width: number): Result<Baseline> {
  const along = byLength(line);
  const first = along.lengthTo(nearestOn(line, at).t) + begin;
  const over = along.closed ? width - along.length : Math.max(-first, first + width - along.length);
  if (over > 1e-9) {
    const fits = width <= along.length;
    const why =
      along.closed || !fits
        ? `it is ${fixed(width, 2)} mm long and its line ${fixed(along.length, 2)} mm`
        : `it reaches ${fixed(over, 2)} mm beyond an end of its line`;
    return fail(`${why}: ${fits ? 'move its point' : 'a smaller text fits'}`);
  }
  return ok((s) => {
    const { p, way } = along.at(first + s);
    if (way.x === 0 && way.y === 0) return fail('its line stands still under a letter');
    return ok({ p: { x: p.x - lift * way.y, y: p.y + lift * way.x }, way });
  });
}

/**
 * The curves of a text on a baseline: every letter upright on it at its middle.
 * @returns the curves in order, contour by contour; an error names letters the font lacks
 */
export function textOutline(text: string, baseline: Baseline, { height, font = 'sans', apart = 0 }: Look): Result<PlanarCurve[]> {
  if (!(height > 0)) return fail('a text’s height is more than nothing');
  const { glyphs, capHeight } = FONTS[font];
  const missing = [...text].filter((c) => !glyphs[c]);
  if (missing.length > 0) return fail(`the font has no “${missing[0]}”`);
  const k = height / capHeight;
  const out: PlanarCurve[] = [];
  let pen = 0;
  for (const letter of text) {
    const [advance, path] = glyphs[letter]!;
    const half = advance / 2;
    const on = baseline(pen + half * k);
    if (!on.ok) return on;
    const { p: middle, way } = on.value;
    const place = (x: number, y: number): Point2 => ({
      x: middle.x + k * ((x - half) * way.x - y * way.y),
      y: middle.y + k * ((x - half) * way.y + y * way.x),
    });
    out.push(...curvesOf(path, place));
    pen += advance * k + apart;
  }
  return ok(out);
}

/** A letter's path as curves. */
function curvesOf(path: string, place: (x: number, y: number) => Point2): PlanarCurve[] {
  const out: PlanarCurve[] = [];
  let from: Point2 = { x: 0, y: 0 };
  let first = from;
  const line = (to: Point2): void => {
    if (distance2(from, to) > 1e-9) out.push({ kind: 'line', a: from, b: to });
    from = to;
  };
  for (const [, op, numbers] of path.matchAll(/([MLQCZ])([-\d ]*)/g)) {
    const n = numbers === '' ? [] : numbers!.split(' ').map(Number);
    const pts: Point2[] = [];
    for (let i = 0; i + 1 < n.length; i += 2) pts.push(place(n[i]!, n[i + 1]!));
    if (op === 'M') {
      from = first = pts[0]!;
    } else if (op === 'Z') line(first);
    else if (op === 'L') line(pts[0]!);
    else {
      const end = pts[pts.length - 1]!;
      const poles = [from, ...pts].map((p) => [p.x, p.y]);
      out.push({ kind: 'spline', a: from, b: end, spline: controlSpline(poles, poles.length - 1) });
      from = end;
    }
  }
  return out;
}
