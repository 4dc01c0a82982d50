/** Text outlines in the shipped font (Hanken Grotesk Medium, SIL Open Font License 1.1), as closed runs of lines and B-splines. */
import { controlSpline } from '../curves/bspline';
import { distance2, type PlanarCurve, type Point2 } from '../curves/planar';
import { fail, ok, type Result } from '../result';
import data from './glyphs.json';

const GLYPHS = data.glyphs as unknown as Readonly<Record<string, readonly [number, string]>>;

/**
 * The outlines of a text.
 * @param at where its baseline starts; @param height of its capitals in mm; @param angle of the baseline in rad
 * @returns the curves in order, each contour closed; an error names letters the font lacks
 */
export function textOutline(text: string, at: Point2, height: number, angle: number): Result<PlanarCurve[]> {
  if (!(height > 0)) return fail('a text’s height is more than nothing');
  const missing = [...text].filter((c) => !GLYPHS[c]);
  if (missing.length > 0) return fail(`the font has no “${missing[0]}”`);
  const k = height / data.capHeight;
  const [c, s] = [Math.cos(angle) * k, Math.sin(angle) * k];
  const out: PlanarCurve[] = [];
  let pen = 0;
  for (const letter of text) {
    const [advance, path] = GLYPHS[letter]!;
    const place = (x: number, y: number): Point2 => ({ x: at.x + (pen + x) * c - y * s, y: at.y + (pen + x) * s + y * c });
    let from: Point2 = at;
    let first: Point2 = at;
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
    pen += advance;
  }
  return ok(out);
}
