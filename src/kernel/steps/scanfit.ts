/** Fits a smooth surface to a scan that lies over the level plane: a spline surface with the scan's border and its round holes. */
import { triple, type Vec3 } from '../../core/geometry/vectors';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { unroundness } from '../../core/scan/clean';
import { evenPlaces } from '../../core/scan/middle';
import {
  alikeHoles,
  alikeLine,
  type ClosedCurve,
  closedCurve,
  cubic,
  type FoundHole,
  fittedSheet,
  holeIn,
  offSheet,
  roundHoles,
} from '../../core/scan/sheet';
import { placeOf, topologyOf } from '../../core/scan/topology';
import { curveAt, interpolateCurve, type SplineSurface, surfaceAt } from '../../core/surfaces/space';
import { fixed } from '../../core/units/units';
import { asSurface, type Fix } from '../body';
import type { BrepText, NewShape, Use } from '../brep-text';
import { attempt, type Kernel, type Shape } from '../open';
import { scanMesh } from '../scans';
import { verifySurface } from '../surface';
import { blankText } from '../wrapped';
import { needBody } from './combine';
import type { ContextOf, StepOutcome, StepWarning } from './operation';

/** A border less round than this is no hole that was made. */
const ROUND = 0.35;
/** Places by which the deviation is told. */
const TOLD = 6000;
/** Holes that differ by less than this share are one size. */
const ALIKE = 0.2;

export function scanfit(context: ContextOf<'scanfit'>): StepOutcome {
  const { kernel, project, step, values } = context;
  const { body: id, near, alike, holes } = step.inputs;
  const body = needBody(context, id, 'there is nothing to fit to');
  if (!body.ok) return body;
  const what = `no surface can be fitted to ${bodyWords(id, project)}`;
  const scan = scanMesh(body.value);
  if (!scan) return fail({ what, why: 'it is no scan', tryInstead: ['bring in a scan'] });
  const { borders } = topologyOf(scan);
  const [outer, ...inner] = borders;
  if (!outer)
    return fail({
      what,
      why: 'it is closed: a single surface has a border',
      tryInstead: ['leave its largest hole open when it is cleaned'],
    });
  const spans = Math.round(values.spans);
  const sheet = fittedSheet(scan, spans, near === 'within' ? values.within : null, alike === 'side');
  if (!sheet.ok)
    return fail({
      what,
      why: sheet.error.why,
      ...(sheet.error.at ? { at: sheet.error.at } : {}),
      tryInstead: ['set it upright so that it lies', 'fewer spans'],
    });
  const { surface } = sheet.value;
  const line = outer.vertices.map((v) => placeOf(scan, v));
  const edge = closedCurve(alike === 'side' ? alikeLine(line) : line, values.border);
  const made = inner.filter((b) => unroundness(scan, b) < ROUND);
  const own = roundHoles(scan, made);
  const found = alike === 'side' ? alikeHoles(own) : own;
  const size = sizeOf(found, holes, values.size);
  const outlines = holes === 'none' ? [] : found.map((h) => holeIn(surface, h.centre, size ?? h.radius));
  const built = trimmed(kernel, surface, [edge, ...outlines]);
  if (!built.ok) return fail({ what, why: built.error, tryInstead: ['fewer points of its border', 'other spans'] });
  const verified = verifySurface(kernel, built.value);
  if (!verified.ok)
    return fail({
      what,
      why: verified.error.why,
      ...(verified.error.at ? { at: verified.error.at } : {}),
      tryInstead: ['fewer points of its border'],
    });
  const off = evenPlaces(scan, TOLD).map((p) => ({ p, d: offSheet(surface, p) }));
  const sorted = off.map((o) => Math.abs(o.d)).toSorted((a, b) => a - b);
  const worst = off.reduce((a, b) => (Math.abs(b.d) > Math.abs(a.d) ? b : a));
  const ninetyFive = sorted[Math.floor(0.95 * sorted.length)]!;
  const warnings: StepWarning[] = [];
  // Each span in two: what fitted before still does.
  const finer = `${2 * spans}`;
  const fix: Fix = { words: `${finer} spans`, step: step.id, values: { spans: finer } };
  if (sheet.value.short)
    warnings.push({
      message: `with ${spans} spans it comes no nearer than ${fixed(sheet.value.rms, 3)} mm`,
      ...(2 * spans <= 60 ? { fix } : {}),
    });
  if (inner.length > made.length)
    warnings.push({
      message: `${inner.length - made.length} holes that are not round were closed`,
      at: inner.find((b) => !made.includes(b))!.centre,
    });
  const note = [
    `off the scan by ${fixed(sheet.value.rms, 3)} mm (root of the mean square), 95 % within ${fixed(ninetyFive, 2)} mm, at most ${fixed(Math.abs(worst.d), 2)} mm`,
    `with ten times less fairing ${fixed(sheet.value.trade[0]?.rms ?? 0, 3)} mm, with ten times more ${fixed(sheet.value.trade.at(-1)?.rms ?? 0, 3)} mm`,
    `border from ${line.length} places to ${edge.poles.length} points, within ${fixed(edge.off, 2)} mm`,
    holesWords(own, holes, size),
  ];
  const names = [`${step.id}/fit`];
  return ok({
    bodies: [{ id: step.id, body: asSurface(verified.value, names) }],
    volumeChange: 0,
    warnings,
    note: note.filter(Boolean).join('; '),
  });
}

/** The radius that all holes get; undefined where each has its own. */
function sizeOf(found: readonly FoundHole[], holes: 'alike' | 'own' | 'size' | 'none', size: number): number | undefined {
  if (holes === 'size') return size / 2;
  if (holes !== 'alike' || found.length === 0) return undefined;
  const mean = found.reduce((s, h) => s + h.radius, 0) / found.length;
  return found.every((h) => Math.abs(h.radius - mean) < ALIKE * mean) ? mean : undefined;
}

function holesWords(found: readonly FoundHole[], holes: string, radius: number | undefined): string {
  if (found.length === 0 || holes === 'none') return '';
  const sizes = found.map((h) => 2 * h.radius).toSorted((a, b) => a - b);
  const range = `⌀${fixed(sizes[0]!, 2)} to ${fixed(sizes[sizes.length - 1]!, 2)} mm`;
  const count = `${found.length} ${found.length === 1 ? 'hole' : 'holes'}`;
  if (radius === undefined) return `${count}, ${range}${holes === 'alike' ? ': too different to be one size' : ''}`;
  return `${count} of ⌀${fixed(2 * radius, 2)} mm, in the scan ${range}`;
}

/** Stretches by which a border on the surface is followed in space. */
const STRETCHES = 4;

/** The face of a surface over the ground within a border and without what others enclose. */
function trimmed(kernel: Kernel, surface: SplineSurface, borders: readonly ClosedCurve[]): ReturnType<typeof read> {
  const blank = blankText(kernel);
  if (!blank.ok) return blank;
  const { text: out, shell } = blank.value;
  const on = out.splineSurface(surface);
  const lift = ([x, y]: readonly number[]): Vec3 => surfaceAt(surface, x!, y!);
  const wires = borders.map((b, k): Use => {
    // Seen from above the border runs to the left, holes to the right.
    const poles = areaOf(b) > 0 === (k === 0) ? b.poles : b.poles.toReversed();
    const n = poles.length;
    const at = (t: number): number[] => curveAt(b.space, poles, ((t % 1) + 1) % 1);
    // Two halves: no edge closes in itself.
    const halves = [0, 0.5].map((from) => {
      const spans = Math.max(8, Math.ceil(n / 2)) * STRETCHES;
      const space = cubic(0, 1, spans);
      const flat = interpolateCurve(space, (t) => at(from + t / 2));
      const high = interpolateCurve(space, (t) => lift(curveAt(space, flat, t)));
      let off = 0;
      for (let i = 0; i < spans; i++)
        for (const part of [0.25, 0.5, 0.75]) {
          const t = (i + part) / spans;
          const [p, q] = [lift(curveAt(space, flat, t)), curveAt(space, high, t)];
          off = Math.max(off, Math.hypot(...triple((x) => p[x] - q[x]!)));
        }
      return { space, flat, high, off, begin: lift(at(from)) };
    });
    const tolerance = Math.max(1e-7, 2 * Math.max(...halves.map((h) => h.off)));
    const corners = halves.map((h) => out.vertex(h.begin, tolerance));
    const edges = halves.map(
      (h, i): NewShape =>
        out.edge(
          out.spline3d(h.space, h.high),
          [{ on, by: [out.spline2d(h.space, h.flat)] }],
          [0, 1],
          [corners[i]!, corners[1 - i]!],
          tolerance,
        ),
    );
    return { of: out.wire(edges.map((of): Use => ({ of, sense: 1 }))), sense: 1 };
  });
  const face = out.face(on, wires, 1e-7);
  out.setUses(shell, [{ of: face, sense: 1 }]);
  return read(kernel, out);
}

/** The shell that was written. */
function read(kernel: Kernel, out: BrepText) {
  return attempt(kernel, (): Shape => {
    const solid = kernel.BRepToolsWrapper.Read(out.toString());
    const shells = new kernel.TopExp_Explorer(solid, 'TopAbs_SHELL');
    const shell = shells.Current();
    shells.delete();
    return shell;
  });
}

/** Twice the area a closed curve encloses, by its control points: positive to the left. */
const areaOf = ({ poles }: ClosedCurve): number =>
  poles.reduce((s, p, i) => {
    const q = poles[(i + 1) % poles.length]!;
    return s + p[0]! * q[1]! - q[0]! * p[1]!;
  }, 0);
