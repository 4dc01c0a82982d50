/** SVG drawings in and out. Reading takes shapes and paths and nothing that could act: no scripts, entities or references. */
import { XMLParser } from 'fast-xml-parser';
import svgpath from 'svgpath';
import { type BSpline, elevated, evaluateBSpline } from '../curves/bspline';
import { arcAbout, type PlanarCurve, type Point2, pointAt } from '../curves/planar';
import type { ResolvedCurve } from '../profile/resolve';
import { fail, ok, type Result } from '../result';
import { bezierPieces, MAX_DRAWING_CURVES, type PlaneDrawing, refuseText, sound } from './drawing';
import { xmlText } from './encode';
import { survey } from './survey';

interface Node {
  readonly [key: string]: unknown;
}

const SHAPES = new Set(['path', 'line', 'polyline', 'polygon', 'rect', 'circle', 'ellipse']);
const HARMLESS = new Set([
  'svg',
  'g',
  'a',
  'title',
  'desc',
  'defs',
  'metadata',
  'style',
  '?xml',
  '#text',
  '#comment',
  'switch',
  'namedview',
]);
/** Letters of transforms that may stand over a shape, those of its groups together. */
const MOST_TRANSFORM = 4000;
/** CSS px a physical unit (CSS Values and Units: 96 px an inch), as mm. */
const PHYSICAL: Readonly<Record<string, number>> = { mm: 1, cm: 10, in: 25.4, pt: 25.4 / 72, pc: 25.4 / 6, px: 25.4 / 96, '': 25.4 / 96 };

const attribute = (n: Node, name: string): string | undefined => {
  const a = n[':@'] as Record<string, string> | undefined;
  return a?.[name];
};
const numbers = (text: string | undefined): number[] => (text?.match(/[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?/gi) ?? []).map(Number);

/**
 * Reads a drawing.
 * @returns curves in the file's user units, y upwards; `unit` from its size and view box. An error in words for what is no drawing, or
 * tries to be more than one.
 */
export function readSvg(text: string): Result<PlaneDrawing> {
  const bad = refuseText(text);
  if (bad) return fail(bad);
  const seen = survey(text);
  if (!seen.ok) return seen;
  let tree: Node[];
  try {
    tree = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: '',
      processEntities: false,
      parseAttributeValue: false,
      parseTagValue: false,
      removeNSPrefix: true,
    }).parse(seen.value) as Node[];
  } catch {
    return fail('The file is not well-formed XML.');
  }
  const root = tree.find((n) => 'svg' in n);
  if (!root) return fail('The file is not an SVG drawing.');
  const curves: PlanarCurve[] = [];
  const left = new Map<string, number>();
  let broken: string | undefined;
  const walk = (nodes: readonly Node[], transform: string, hidden: boolean): void => {
    for (const n of nodes) {
      if (broken) return;
      const name = Object.keys(n).find((k) => k !== ':@');
      if (!name) continue;
      const own = attribute(n, 'transform');
      const t = own ? `${transform} ${own}` : transform;
      if (t.length > MOST_TRANSFORM)
        broken = 'The groups of the drawing are moved by more text than any drawing program writes; save it with plain shapes.';
      if (broken) return;
      if (SHAPES.has(name)) {
        if (hidden) continue;
        const made = shape(name, n, t);
        if (typeof made === 'string') broken = made;
        else curves.push(...made);
        if (curves.length > MAX_DRAWING_CURVES * 4) broken = `The drawing has more than ${MAX_DRAWING_CURVES * 4} curves.`;
      } else if (HARMLESS.has(name)) {
        const children = n[name];
        if (Array.isArray(children)) walk(children as Node[], name === 'svg' ? transform : t, hidden || name === 'defs');
      } else left.set(name, (left.get(name) ?? 0) + 1);
    }
  };
  walk(tree, '', false);
  if (broken) return fail(broken);
  const size = /^\s*([\d.]+)\s*(mm|cm|in|pt|pc|px)?\s*$/.exec(attribute(root, 'width') ?? '');
  const box = numbers(attribute(root, 'viewBox'));
  const unit = size
    ? (Number(size[1]) * PHYSICAL[size[2] ?? '']!) / (box.length === 4 && box[2]! > 0 ? box[2]! : Number(size[1]))
    : undefined;
  return ok({
    curves,
    left: [...left].map(([name, n]) => `${n} × ${name}`),
    ...(unit && Number.isFinite(unit) && unit > 0 ? { unit } : {}),
  });
}

const NO_COORDINATE = 'A number in the drawing is no coordinate (not finite, or larger than 10 million).';

function shape(name: string, n: Node, transform: string): PlanarCurve[] | string {
  const v = (key: string): number => Number.parseFloat(attribute(n, key) ?? '0');
  if (
    ['x', 'y', 'x1', 'y1', 'x2', 'y2', 'width', 'height', 'rx', 'ry', 'r', 'cx', 'cy'].some(
      (k) => attribute(n, k) !== undefined && !sound(v(k)),
    )
  )
    return NO_COORDINATE;
  let d = '';
  switch (name) {
    case 'path':
      d = attribute(n, 'd') ?? '';
      break;
    case 'line':
      d = `M${v('x1')} ${v('y1')}L${v('x2')} ${v('y2')}`;
      break;
    case 'polyline':
    case 'polygon': {
      const p = numbers(attribute(n, 'points'));
      for (let i = 0; i + 1 < p.length; i += 2) d += `${i === 0 ? 'M' : 'L'}${p[i]} ${p[i + 1]}`;
      if (name === 'polygon' && d) d += 'Z';
      break;
    }
    case 'rect': {
      const [x, y, w, h] = [v('x'), v('y'), v('width'), v('height')];
      const rx = Math.min(w / 2, attribute(n, 'rx') !== undefined ? v('rx') : v('ry'));
      const ry = Math.min(h / 2, attribute(n, 'ry') !== undefined ? v('ry') : v('rx'));
      d =
        rx > 0 && ry > 0
          ? `M${x + rx} ${y}H${x + w - rx}A${rx} ${ry} 0 0 1 ${x + w} ${y + ry}V${y + h - ry}A${rx} ${ry} 0 0 1 ${x + w - rx} ${y + h}H${x + rx}A${rx} ${ry} 0 0 1 ${x} ${y + h - ry}V${y + ry}A${rx} ${ry} 0 0 1 ${x + rx} ${y}Z`
          : `M${x} ${y}H${x + w}V${y + h}H${x}Z`;
      break;
    }
    default: {
      const rx = name === 'circle' ? v('r') : v('rx');
      const ry = name === 'circle' ? v('r') : v('ry');
      if (!(rx > 0 && ry > 0)) return [];
      const [x, y] = [v('cx'), v('cy')];
      // In quarters: the centre of a half turn can't be told from its ends to full accuracy.
      const q = (px: number, py: number): string => `A${rx} ${ry} 0 0 1 ${px} ${py}`;
      d = `M${x + rx} ${y}${q(x, y + ry)}${q(x - rx, y)}${q(x, y - ry)}${q(x + rx, y)}`;
    }
  }
  if (d.length > 400_000) return 'One path has more than 400 000 characters.';
  return pathCurves(d, transform);
}

/** A path's segments with the transform applied, y turned upwards. */
function pathCurves(d: string, transform: string): PlanarCurve[] | string {
  const out: PlanarCurve[] = [];
  let wrong = false;
  let start: Point2 = { x: 0, y: 0 };
  let at: Point2 = start;
  const up = (x: number, y: number): Point2 => {
    if (!sound(x, y)) wrong = true;
    return { x, y: -y };
  };
  const line = (b: Point2): void => {
    if (Math.hypot(b.x - at.x, b.y - at.y) > 1e-12) out.push({ kind: 'line', a: at, b });
    at = b;
  };
  try {
    const path = svgpath(d);
    if ((path as unknown as { err?: string }).err) return 'A path can’t be read.';
    path
      .transform(transform)
      .abs()
      .unshort()
      .iterate((s, _i, px, py) => {
        const v = s.slice(1) as number[];
        switch (s[0]) {
          case 'M':
            at = start = up(v[0]!, v[1]!);
            return;
          case 'L':
            return line(up(v[0]!, v[1]!));
          case 'H':
            return line(up(v[0]!, py));
          case 'V':
            return line(up(px, v[0]!));
          case 'C':
          case 'Q': {
            const poles: Point2[] = [at];
            for (let i = 0; i + 1 < v.length; i += 2) poles.push(up(v[i]!, v[i + 1]!));
            const p = poles.length - 1;
            const b = poles[p]!;
            const knots = [...new Array(p + 1).fill(0), ...new Array(p + 1).fill(1)];
            out.push({ kind: 'spline', a: at, b, spline: { degree: p, knots, poles: poles.map((q) => [q.x, q.y]) } });
            at = b;
            return;
          }
          case 'A': {
            const b = up(v[5]!, v[6]!);
            if (!sound(v[0]!, v[1]!)) wrong = true;
            const arc = ellipticArc(at, b, Math.abs(v[0]!), Math.abs(v[1]!), (-v[2]! * Math.PI) / 180, v[3] !== 0, v[4] === 0);
            if (arc) out.push(arc);
            else line(b);
            at = b;
            return;
          }
          default:
            line(start);
        }
      });
  } catch {
    return 'A path can’t be read.';
  }
  if (wrong) return NO_COORDINATE;
  return joinedTurns(out);
}

/** Arcs that go on about one centre as one arc again, a full turn as a circle or an ellipse. */
function joinedTurns(curves: readonly PlanarCurve[]): PlanarCurve[] {
  const out: PlanarCurve[] = [];
  const near = (p: Point2, q: Point2, size: number): boolean => Math.hypot(p.x - q.x, p.y - q.y) < 1e-6 * Math.max(1, size);
  for (const c of curves) {
    const last = out[out.length - 1];
    if (last && (c.kind === 'arc' || c.kind === 'ellipse') && last.kind === c.kind && Math.sign(last.sweep) === Math.sign(c.sweep)) {
      const size = c.kind === 'arc' ? c.radius : Math.hypot(c.u.x, c.u.y);
      const same =
        near(last.centre, c.centre, size) &&
        near(last.b, c.a, size) &&
        (c.kind === 'arc'
          ? Math.abs((last as typeof c).radius - c.radius) < 1e-6 * Math.max(1, size)
          : near((last as typeof c).u, c.u, size) && near((last as typeof c).v, c.v, size));
      const sweep = last.sweep + c.sweep;
      if (same && Math.abs(sweep) < 2 * Math.PI + 1e-7) {
        const full = near(last.a, c.b, size) && Math.abs(sweep) > Math.PI;
        out[out.length - 1] = { ...last, sweep: full ? Math.sign(sweep) * 2 * Math.PI : sweep, b: full ? last.a : c.b } as PlanarCurve;
        continue;
      }
    }
    out.push(c);
  }
  return out;
}

/**
 * An SVG arc by its ends as a centre arc, y upwards. Source: SVG 1.1 implementation notes F.6.5 (from memory).
 * @param phi turn of the half-axes, rad; @param ccw runs counter-clockwise with y up
 */
function ellipticArc(a: Point2, b: Point2, rx: number, ry: number, phi: number, large: boolean, ccw: boolean): PlanarCurve | undefined {
  if (rx < 1e-12 || ry < 1e-12 || Math.hypot(b.x - a.x, b.y - a.y) < 1e-12) return undefined;
  const [c, s] = [Math.cos(phi), Math.sin(phi)];
  const [hx, hy] = [(a.x - b.x) / 2, (a.y - b.y) / 2];
  const x1 = c * hx + s * hy;
  const y1 = -s * hx + c * hy;
  const lambda = (x1 / rx) ** 2 + (y1 / ry) ** 2;
  if (lambda > 1) {
    rx *= Math.sqrt(lambda);
    ry *= Math.sqrt(lambda);
  }
  const num = Math.max(0, (rx * ry) ** 2 - (rx * y1) ** 2 - (ry * x1) ** 2);
  const k = Math.sqrt(num / ((rx * y1) ** 2 + (ry * x1) ** 2)) * (large === ccw ? -1 : 1);
  const [ux, uy] = [(k * rx * y1) / ry, (-k * ry * x1) / rx];
  const centre = { x: c * ux - s * uy + (a.x + b.x) / 2, y: s * ux + c * uy + (a.y + b.y) / 2 };
  const angle = (p: Point2): number => {
    const [wx, wy] = [p.x - centre.x, p.y - centre.y];
    return Math.atan2((-s * wx + c * wy) / ry, (c * wx + s * wy) / rx);
  };
  const start = angle(a);
  let sweep = angle(b) - start;
  if (ccw && sweep <= 0) sweep += 2 * Math.PI;
  if (!ccw && sweep >= 0) sweep -= 2 * Math.PI;
  if (Math.abs(rx - ry) < 1e-9 * rx) return { ...arcAbout(centre, rx, start + phi, sweep), a, b };
  return { kind: 'ellipse', a, b, centre, u: { x: rx * c, y: rx * s }, v: { x: -ry * s, y: ry * c }, start, sweep };
}

const n9 = (v: number): string => {
  const r = Number(v.toFixed(9));
  return Object.is(r, -0) ? '0' : String(r);
};
const xy = (p: Point2): string => `${n9(p.x)} ${n9(-p.y)}`;

/** One curve as path data in mm, y downwards; exact but for splines beyond degree 3, which follow to 1e-6 mm. */
export function pathData(c: PlanarCurve): string {
  const start = `M${xy(c.a)}`;
  switch (c.kind) {
    case 'line':
      return `${start}L${xy(c.b)}`;
    case 'arc':
    case 'ellipse': {
      const [rx, ry, phi] =
        c.kind === 'arc' ? [c.radius, c.radius, 0] : [Math.hypot(c.u.x, c.u.y), Math.hypot(c.v.x, c.v.y), Math.atan2(c.u.y, c.u.x)];
      const left = c.kind === 'arc' || c.u.x * c.v.y - c.u.y * c.v.x > 0;
      // Parts of a third of a turn at most: their centres follow from their ends without loss.
      const parts = Math.max(1, Math.ceil(Math.abs(c.sweep) / 2.1));
      let out = start;
      for (let i = 1; i <= parts; i++) {
        const to = i === parts ? c.b : pointAt(c, i / parts);
        out += `A${n9(rx)} ${n9(ry)} ${n9((-phi * 180) / Math.PI)} 0 ${c.sweep > 0 === left ? 0 : 1} ${xy(to)}`;
      }
      return out;
    }
    case 'spline': {
      let out = start;
      for (const b of bezierPieces(c.spline)) {
        const poles = (b.degree > 3 ? [] : elevated(b, 3).poles).map((p) => ({ x: p[0]!, y: p[1]! }));
        if (poles.length === 4) out += `C${poles.slice(1).map(xy).join(' ')}`;
        else out += cubicRun(b);
      }
      return out;
    }
  }
}

/** A piece of higher degree as 64 short cubics with its own ends and directions. */
function cubicRun(b: BSpline): string {
  const n = 64;
  const at = (t: number): { p: Point2; d: Point2 } => {
    const [p, d] = evaluateBSpline(b, t, 1);
    return { p: { x: p![0]!, y: p![1]! }, d: { x: d![0]! / n / 3, y: d![1]! / n / 3 } };
  };
  let out = '';
  for (let i = 0; i < n; i++) {
    const [e, f] = [at(i / n), at((i + 1) / n)];
    out += `C${xy({ x: e.p.x + e.d.x, y: e.p.y + e.d.y })} ${xy({ x: f.p.x - f.d.x, y: f.p.y - f.d.y })} ${xy(f.p)}`;
  }
  return out;
}

/** Words on a drawing: a place in mm, and lines that lead to it. */
export interface DrawingNote {
  readonly at: Point2;
  readonly words: string;
  readonly lines: readonly (readonly [Point2, Point2])[];
}

/**
 * A drawing as SVG in mm at full size.
 * @param notes dimensions to be written onto it
 */
export function writeSvg(curves: readonly ResolvedCurve[], title: string, notes: readonly DrawingNote[] = []): string {
  const shown = curves.filter((c) => !c.construction);
  const pts = [
    ...shown.flatMap(({ curve }) => Array.from({ length: 65 }, (_, i) => pointAt(curve, i / 64))),
    ...notes.flatMap((n) => [n.at, ...n.lines.flat()]),
  ];
  const [x0, x1] = [Math.min(0, ...pts.map((p) => p.x)) - 10, Math.max(0, ...pts.map((p) => p.x)) + 10];
  const [y0, y1] = [Math.min(0, ...pts.map((p) => p.y)) - 10, Math.max(0, ...pts.map((p) => p.y)) + 10];
  const paths = shown.map((c) => `  <path id="${xmlText(c.id)}" d="${pathData(c.curve)}"/>`).join('\n');
  const marks = notes
    .map((n) => {
      const lines = n.lines.map(([a, b]) => `    <path d="M${xy(a)}L${xy(b)}"/>`).join('\n');
      return `${lines}\n    <text x="${n9(n.at.x)}" y="${n9(-n.at.y)}">${xmlText(n.words)}</text>`;
    })
    .join('\n');
  const [w, h] = [n9(x1 - x0), n9(y1 - y0)];
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${w}mm" height="${h}mm" viewBox="${n9(x0)} ${n9(-y1)} ${w} ${h}">
 <title>${xmlText(title)}</title>
 <g fill="none" stroke="#182126" stroke-width="0.35" stroke-linejoin="round">
${paths}
 </g>${
   notes.length > 0
     ? `
 <g fill="#182126" stroke="none" font-family="monospace" font-size="3" text-anchor="middle">
${marks.replaceAll('<path ', '<path stroke="#4b575f" stroke-width="0.13" ')}
 </g>`
     : ''
 }
</svg>
`;
}
