/** DXF drawings in and out, in the format's text form, by general-purpose libraries. */
import { DxfWriter, point3d, Units } from '@tarikjabiri/dxf';
import DxfParser from 'dxf-parser';
import type { BSpline } from '../curves/bspline';
import { arcAbout, isWhole, type PlanarCurve, type Point2 } from '../curves/planar';
import type { ResolvedCurve } from '../profile/resolve';
import { fail, ok, type Result } from '../result';
import { degrees } from '../units/units';
import { MAX_DRAWING_CURVES, type PlaneDrawing, refuseText, sound } from './drawing';

/** mm a unit by $INSUNITS. */
const UNITS: Readonly<Record<number, number>> = { 1: 25.4, 2: 304.8, 4: 1, 5: 10, 6: 1000 };

interface Vertex {
  readonly x: number;
  readonly y: number;
  readonly bulge?: number;
}
// The fields this reader uses of what the parser hands over; nothing of it is trusted.
interface Entity {
  readonly type: string;
  readonly vertices?: readonly Vertex[];
  readonly shape?: boolean;
  readonly center?: Point2;
  readonly radius?: number;
  readonly startAngle?: number;
  readonly endAngle?: number;
  readonly majorAxisEndPoint?: Point2;
  readonly axisRatio?: number;
  readonly controlPoints?: readonly Point2[];
  readonly knotValues?: readonly number[];
  readonly degreeOfSplineCurve?: number;
  readonly weights?: readonly number[];
}

/** Reads a drawing; `unit` where its header says so. Errors in words. */
export function readDxf(text: string): Result<PlaneDrawing> {
  const bad = refuseText(text);
  if (bad) return fail(bad);
  if (text.slice(0, 4000).includes('\0')) return fail('The file is a binary DXF; save it as text.');
  if (!/\bSECTION\b/.test(text.slice(0, 4000))) return fail('The file is not a text DXF drawing.');
  const part = drawingOf(text);
  if (part === undefined) return fail('The DXF file is damaged or cut off.');
  if (countsTooMuch(part)) return fail('The DXF file says that more follows than it holds: it is damaged or cut off.');
  let parsed: { entities?: Entity[]; header?: Record<string, unknown> } | null;
  try {
    parsed = new DxfParser().parseSync(part) as unknown as typeof parsed;
  } catch {
    return fail('The DXF file is damaged or cut off.');
  }
  const entities = parsed?.entities;
  if (!entities) return fail('The DXF file has no drawing in it.');
  if (entities.length > 20_000) return fail(`The file has ${entities.length} entities; 20 000 are read at most.`);
  const curves: PlanarCurve[] = [];
  const left = new Map<string, number>();
  for (const e of entities) {
    const made = entityCurves(e);
    if (made === undefined) left.set(e.type, (left.get(e.type) ?? 0) + 1);
    else if (made === null)
      return fail(`A ${String(e.type).slice(0, 20)} holds a number that is no coordinate (not finite, or larger than 10 million).`);
    else curves.push(...made);
    if (curves.length > MAX_DRAWING_CURVES * 4) return fail(`The drawing has more than ${MAX_DRAWING_CURVES * 4} curves.`);
  }
  const unit = UNITS[Number(parsed?.header?.$INSUNITS)];
  return ok({ curves, left: [...left].map(([name, n]) => `${n} × ${name}`), ...(unit ? { unit } : {}) });
}

/** How far an arc turns to the left from one angle to another, rad: a whole turn where they are one. */
function sweepOf(from: number, to: number): number {
  const turn = 2 * Math.PI;
  const sweep = (((to - from) % turn) + turn) % turn;
  return sweep <= 1e-12 ? turn : sweep;
}

/** Group codes by which an entity says how many of something follow: the parser believes them. */
const COUNTS: Readonly<Record<string, ReadonlySet<number>>> = {
  LWPOLYLINE: new Set([90]),
  SPLINE: new Set([72, 73, 74]),
  POLYLINE: new Set([71, 72, 73, 74]),
  HATCH: new Set([91, 93, 95, 96, 97, 78]),
};

/**
 * The unit and the entities alone, as a drawing of their own: of tables, blocks and objects nothing is read, and the parser never ends in some of them
 * that are cut short. Undefined where the file is not made of sections that end.
 */
function drawingOf(text: string): string | undefined {
  const lines = text.split(/\r\n|\r|\n/);
  const at = (i: number): readonly [string, string] => [lines[i]!.trim(), lines[i + 1]?.trim() ?? ''];
  const out: string[] = [];
  let unit: string | undefined;
  let section = '';
  let drawn = false;
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const [code, value] = at(i);
    if (!/^-?\d+$/.test(code)) return undefined;
    if (code === '0' && value === 'EOF') break;
    if (code === '0' && value === 'SECTION') {
      if (section || i + 3 >= lines.length || at(i + 2)[0] !== '2') return undefined;
      section = at(i + 2)[1];
      drawn ||= section === 'ENTITIES';
      i += 2;
    } else if (code === '0' && value === 'ENDSEC') section = '';
    else if (section === 'ENTITIES') out.push(code, lines[i + 1]!);
    else if (section === 'HEADER' && code === '9' && value === '$INSUNITS') unit = lines[i + 3];
  }
  if (section) return undefined;
  const header = unit === undefined ? [] : ['0', 'SECTION', '2', 'HEADER', '9', '$INSUNITS', '70', unit, '0', 'ENDSEC'];
  const entities = drawn ? ['0', 'SECTION', '2', 'ENTITIES', ...out, '0', 'ENDSEC'] : [];
  return [...header, ...entities, '0', 'EOF', ''].join('\n');
}

/** Whether an entity says that more follows than there is in the file. */
function countsTooMuch(text: string): boolean {
  const lines = text.split(/\r\n|\r|\n/);
  let entity: ReadonlySet<number> | undefined;
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const [code, value] = [Number(lines[i]), lines[i + 1]!.trim()];
    if (code === 0) entity = Object.hasOwn(COUNTS, value) ? COUNTS[value] : undefined;
    else if (entity?.has(code) && !(Number(value) <= lines.length)) return true;
  }
  return false;
}

/** Curves of one entity; undefined for kinds that are left out, null for numbers that are none. */
function entityCurves(e: Entity): PlanarCurve[] | undefined | null {
  const good = (...v: (number | undefined)[]): boolean => v.every((x) => typeof x === 'number' && sound(x));
  switch (e.type) {
    case 'LINE':
    case 'LWPOLYLINE':
    case 'POLYLINE': {
      const v = e.vertices ?? [];
      if (!v.every((p) => good(p.x, p.y))) return null;
      const out: PlanarCurve[] = [];
      const n = e.shape ? v.length : v.length - 1;
      for (let i = 0; i < n; i++) {
        const [a, b] = [v[i]!, v[(i + 1) % v.length]!];
        const [p, q] = [
          { x: a.x, y: a.y },
          { x: b.x, y: b.y },
        ];
        if (Math.hypot(q.x - p.x, q.y - p.y) < 1e-12) continue;
        out.push(a.bulge && good(a.bulge) ? bulged(p, q, a.bulge) : { kind: 'line', a: p, b: q });
      }
      return out;
    }
    case 'CIRCLE':
      if (!e.center || !good(e.center.x, e.center.y, e.radius)) return null;
      return e.radius! > 0 ? [arcAbout(e.center, e.radius!, 0, 2 * Math.PI)] : [];
    case 'ARC': {
      if (!e.center || !good(e.center.x, e.center.y, e.radius, e.startAngle, e.endAngle)) return null;
      const sweep = sweepOf(e.startAngle!, e.endAngle!);
      return e.radius! > 0 ? [arcAbout(e.center, e.radius!, e.startAngle! % (2 * Math.PI), sweep)] : [];
    }
    case 'ELLIPSE': {
      const u = e.majorAxisEndPoint;
      if (!e.center || !u || !good(e.center.x, e.center.y, u.x, u.y, e.axisRatio, e.startAngle, e.endAngle)) return null;
      const sweep = sweepOf(e.startAngle!, e.endAngle!);
      const v = { x: -u.y * e.axisRatio!, y: u.x * e.axisRatio! };
      const at = (w: number): Point2 => ({
        x: e.center!.x + u.x * Math.cos(w) + v.x * Math.sin(w),
        y: e.center!.y + u.y * Math.cos(w) + v.y * Math.sin(w),
      });
      const whole = Math.abs(sweep - 2 * Math.PI) < 1e-9;
      return [
        {
          kind: 'ellipse',
          centre: { x: e.center.x, y: e.center.y },
          u: { x: u.x, y: u.y },
          v,
          start: e.startAngle!,
          sweep: whole ? 2 * Math.PI : sweep,
          a: at(e.startAngle!),
          b: whole ? at(e.startAngle!) : at(e.startAngle! + sweep),
        },
      ];
    }
    case 'SPLINE': {
      const poles = e.controlPoints ?? [];
      const p = e.degreeOfSplineCurve ?? 3;
      const knots = e.knotValues ?? [];
      if (poles.length < 2 || knots.length !== poles.length + p + 1 || p > 7) return undefined;
      if (e.weights?.some((w) => Math.abs(w - 1) > 1e-9)) return undefined;
      if (!poles.every((q) => good(q.x, q.y)) || !knots.every((k) => good(k))) return null;
      const [lo, hi] = [knots[p]!, knots[knots.length - p - 1]!];
      if (!(hi > lo) || knots[0]! < lo - 1e-9 || knots.some((k, i) => i > 0 && k < knots[i - 1]!)) return undefined;
      const spline: BSpline = { degree: p, knots: knots.map((k) => (k - lo) / (hi - lo)), poles: poles.map((q) => [q.x, q.y]) };
      return [
        {
          kind: 'spline',
          spline,
          a: { x: poles[0]!.x, y: poles[0]!.y },
          b: { x: poles[poles.length - 1]!.x, y: poles[poles.length - 1]!.y },
        },
      ];
    }
    default:
      return undefined;
  }
}

/** A polyline's segment with a bulge: the tangent of a quarter of its turn (DXF reference, from memory). */
function bulged(a: Point2, b: Point2, bulge: number): PlanarCurve {
  const sweep = 4 * Math.atan(bulge);
  const chord = Math.hypot(b.x - a.x, b.y - a.y);
  const h = chord / 2 / Math.tan(sweep / 2);
  const centre = { x: (a.x + b.x) / 2 - ((b.y - a.y) / chord) * h, y: (a.y + b.y) / 2 + ((b.x - a.x) / chord) * h };
  return { ...arcAbout(centre, chord / 2 / Math.abs(Math.sin(sweep / 2)), Math.atan2(a.y - centre.y, a.x - centre.x), sweep), a, b };
}

/** A drawing as DXF in mm. */
export function writeDxf(curves: readonly ResolvedCurve[]): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  for (const { curve, construction } of curves) if (!construction) addCurve(dxf, curve);
  return dxf.stringify();
}

/** Writes one curve. @param layer in place of the one that others go to */
export function addCurve(dxf: DxfWriter, c: PlanarCurve, layer?: string): void {
  const on = layer === undefined ? undefined : { layerName: layer };
  switch (c.kind) {
    case 'line':
      dxf.addLine(point3d(c.a.x, c.a.y), point3d(c.b.x, c.b.y), on);
      break;
    case 'arc': {
      const centre = point3d(c.centre.x, c.centre.y);
      if (isWhole(c)) dxf.addCircle(centre, c.radius, on);
      else {
        const [from, to] = c.sweep > 0 ? [c.start, c.start + c.sweep] : [c.start + c.sweep, c.start];
        dxf.addArc(centre, c.radius, degrees(from), degrees(to), on);
      }
      break;
    }
    case 'ellipse': {
      const left = c.u.x * c.v.y - c.u.y * c.v.x > 0;
      let [u, from, to] = [c.u, c.start, c.start + c.sweep];
      if (!left) [from, to] = [-from, -to];
      if (from > to) [from, to] = [to, from];
      let ratio = Math.hypot(c.v.x, c.v.y) / Math.hypot(c.u.x, c.u.y);
      // The format wants the longer half-axis first.
      if (ratio > 1) {
        const k = left ? 1 : -1;
        u = { x: c.v.x * k, y: c.v.y * k };
        from -= Math.PI / 2;
        to -= Math.PI / 2;
        ratio = 1 / ratio;
      }
      dxf.addEllipse(point3d(c.centre.x, c.centre.y), point3d(u.x, u.y), ratio, from, to, on);
      break;
    }
    case 'spline':
      dxf.addSpline(
        {
          degreeCurve: c.spline.degree,
          controlPoints: c.spline.poles.map((p) => point3d(p[0]!, p[1]!)),
          knots: [...c.spline.knots],
        },
        on,
      );
  }
}
