/** Carries sections along a path, kept square to it with least twist, closed to a solid and checked by Pappus. */
import { type CarriedFrames, carriedFrames, pathAlong, type SpacePath } from '../../core/curves/path';
import { footFrom } from '../../core/detail/lay';
import { cross, distance, dot, minus, squareTo, triple, unit, type Vec3 } from '../../core/geometry/vectors';
import type { SweepInputs } from '../../core/recipe/steps';
import { fail, ok, type Result } from '../../core/result';
import { curveAt, interpolateCurve, quintic } from '../../core/surfaces/space';
import { type Guide, guideAlong, type LocalSection, type SweepOptions, sweep as swept } from '../../core/surfaces/sweep';
import { fixed } from '../../core/units/units';
import { type KernelBody, type StepFailure, wanting } from '../body';
import { frameOf } from '../placed';
import { faceOf, nearestOn, pathOf } from '../refer';
import { bentBy, surfaceReader } from '../shapes';
import { skinBody } from '../skin';
import { tubeAlong } from '../tube';
import { type PlacedSection, roundedCorner, sectionOf } from './loft';
import type { ContextOf, StepContext, StepWarning } from './operation';
import type { RaiserOf } from './raise';

const refuse = (why: string, tryInstead: readonly string[], at?: Vec3): Result<never, StepFailure> =>
  fail({ what: 'the sweep can’t be made', why, tryInstead, ...(at ? { at } : {}) });
const missing = wanting('the sweep can’t be made');

/** What helps, by what is wrong. */
function remedies(why: string): string[] {
  if (why.includes('corner')) return ['round the corner of the path', 'draw it as one smooth curve'];
  if (why.includes('bends')) return ['a smaller section', 'a wider bend'];
  if (why.includes('runs into itself')) return ['more room between the turns', 'a smaller section'];
  return ['turn the section round'];
}

export const raiseSweep: RaiserOf<'sweep'> = (context) => {
  const inputs = context.step.inputs;
  const ref = inputs.paths[0];
  if (!ref) return missing('its path is not picked', 'pick an edge on the stage, or a curve on the board');
  if (inputs.sections.length === 0) return missing('no section is chosen', 'choose a drawing');
  const path = pathOf(context, ref, true);
  if (!path.ok) return path;
  const { twist, scale } = context.values;
  const warnings: StepWarning[] = [];
  const placed: { section: PlacedSection; share: number }[] = [];
  for (const [k, id] of inputs.sections.entries()) {
    const s = sectionOf(context, id, k);
    if (!s.ok) return s;
    const share = shareOf(path.value, s.value);
    placed.push({ section: s.value, share });
    const lean = Math.acos(Math.min(1, Math.abs(dot(s.value.normal, path.value.at(share).direction))));
    if ((inputs.hold === 'square' || inputs.hold === 'surface') && lean > 0.01)
      warnings.push({
        message: `${s.value.words} leans ${fixed((lean * 180) / Math.PI, 1)}° from square to the path; it is used as it looks along the path`,
        at: path.value.at(share).point,
      });
  }
  placed.sort((a, b) => a.share - b.share);
  const start = path.value.at(0);
  const first = placed[0]!.section;
  const across = orthogonal(minus(first.at(0), first.at(0.5)), start.direction);
  const guide = guideOf(context, inputs, path.value);
  if (!guide.ok) return guide;
  const options: SweepOptions = {
    hold: inputs.hold === 'fixed' ? 'fixed' : 'square',
    twist,
    scale,
    across,
    up: cross(start.direction, across),
    ...(guide.value ? { guide: guide.value } : {}),
  };
  const frames = guide.value?.frames ?? carriedFrames(path.value, across);
  const local = placed.map(({ section, share }): LocalSection => {
    const f = inputs.hold === 'fixed' ? { x: options.across, y: options.up } : frames.at(share);
    const origin = path.value.at(share).point;
    const width = guide.value?.width(share) ?? 1;
    const height = guide.value?.both ? width : 1;
    // Seen along the path it must run counter-clockwise, or its skin would face inwards.
    const forward = dot(section.normal, path.value.at(share).direction) >= 0;
    const at = (u: number): Vec3 => {
      const d = minus(section.at(forward ? u : 1 - u), origin);
      return [dot(d, f.x) / width, dot(d, f.y) / height, 0];
    };
    const flip = (list: readonly number[]): number[] =>
      forward ? [...list] : list.map((c) => (c === 0 ? 0 : 1 - c)).sort((p, q) => p - q);
    return {
      at,
      normal: [0, 0, 1],
      corners: flip(section.corners),
      joints: flip(section.joints),
      point: section.point,
      words: section.words,
      share,
    };
  });
  if (inputs.hold === 'guided' && guide.value)
    for (const s of local) {
      // The rail stands at one width across: a section that has a place there is led by it exactly.
      const miss = Math.min(...Array.from({ length: 720 }, (_, i) => Math.hypot(s.at(i / 720)[0] - 1, s.at(i / 720)[1])));
      const mm = miss * guide.value.width(s.share);
      if (mm > 0.02 * guide.value.width(s.share))
        warnings.push({ message: `the second rail passes ${fixed(mm, 2)} mm beside ${s.words}`, at: path.value.at(s.share).point });
    }
  const open = placed.filter((p) => p.section.open).length;
  if (open > 0 && open < placed.length) return refuse('some sections are open lines and some are closed', ['close all of them, or none']);
  const solid = solidAlong(context, path.value, local, options, (u) => first.curve(u), {
    open: open > 0,
    corner: () => roundedCorner(context, ref),
  });
  if (!solid.ok) return solid;
  return ok({ solids: [solid.value.body], words: 'the sweep', warnings, note: solid.value.note });
};

export const raiseCoil: RaiserOf<'coil'> = (context) => {
  const inputs = context.step.inputs;
  const frame = frameOf(inputs.plane, context.planes, context.project);
  if (!frame.ok) return frame;
  const { wire, diameter, top, turns, pitch } = context.values;
  const f = inputs.hand === 'right' ? frame.value : { ...frame.value, y: frame.value.y.map((v) => -v) as unknown as Vec3 };
  // A left hand turns the other way but rises the same.
  const rise = inputs.hand === 'right' ? pitch : -pitch;
  const path = pathAlong([{ kind: 'helix', frame: f, radius: diameter / 2, end: top / 2, pitch: rise, turns }]);
  const solid = roundAlong(context, path, wire / 2, 'side', f.x);
  if (!solid.ok) return fail({ ...solid.error, what: 'the coil can’t be made' });
  return ok({ solids: [solid.value.body], words: 'the coil', note: `${fixed(path.length, 2)} mm of wire; ${solid.value.note}` });
};

/**
 * A round wire along a path. @param radius mm; @param side what its skin is called
 * @param from the direction its seam begins in, as far as that is square to the path
 */
export function roundAlong(
  context: StepContext,
  path: SpacePath,
  radius: number,
  side: string,
  from: Vec3 = [1, 0, 0],
): Result<{ body: KernelBody; note: string }, StepFailure> {
  const start = path.at(0);
  const across = orthogonal(from, start.direction);
  const section: LocalSection = {
    at: (u) => [radius * Math.cos(2 * Math.PI * u), radius * Math.sin(2 * Math.PI * u), 0],
    normal: [0, 0, 1],
    corners: [],
    joints: [],
    point: false,
    words: 'the wire',
    share: 0,
  };
  const options: SweepOptions = { hold: 'square', twist: 0, scale: 1, across, up: cross(start.direction, across) };
  return solidAlong(context, path, [section], options, () => side, { side });
}

const orthogonal = (v: Vec3, d: Vec3): Vec3 => {
  const k = dot(v, d);
  const w: Vec3 = [v[0] - k * d[0], v[1] - k * d[1], v[2] - k * d[2]];
  const l = Math.hypot(...w);
  if (l > 1e-9) return [w[0] / l, w[1] / l, w[2] / l];
  return orthogonal(Math.abs(d[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0], d);
};

/** The face below a path is read so far apart, mm, but no less and no more often than this. */
const READ = { least: 32, most: 600, apart: 1 } as const;
/** Steps to the foot of a place of the path, from that of the one before it. */
const STEPS = 12;

/** Its across leads out of the face that the path runs along. */
function uprightOn(context: ContextOf<'sweep'>, inputs: SweepInputs, path: SpacePath): Result<Guide, StepFailure> {
  const ref = inputs.ground?.[0];
  if (!ref) return missing('the face it is kept upright on is not picked', 'pick the face that its path runs along');
  const face = faceOf(context, ref);
  if (!face.ok) return face;
  const reader = surfaceReader(context.kernel, face.value);
  try {
    const spans = Math.min(READ.most, Math.max(READ.least, Math.ceil(path.length / READ.apart)));
    const space = quintic(0, 1, spans);
    const on = bentBy(reader);
    let uv = nearestOn(context.kernel, face.value, path.at(0).point);
    let lost: Vec3 | undefined;
    // Each from the one before it.
    const normals = interpolateCurve(space, (s) => {
      const { point, direction } = path.at(s);
      const foot = uv && footFrom(on, uv, point, STEPS);
      const below = foot && on(...foot);
      const x = below && unit(squareTo(below.n, direction));
      if (!x) lost ??= point;
      else uv = foot;
      return x ?? [0, 0, 1];
    });
    if (lost) return refuse('there is no face below its path', ['pick the face that the path runs along'], lost);
    const frames: CarriedFrames = {
      at: (s) => {
        const { direction: d } = path.at(s);
        const x = unit(squareTo(curveAt(space, normals, s) as unknown as Vec3, d))!;
        return { x, y: cross(d, x) };
      },
    };
    const turned = path.closed && dot(frames.at(0).x, frames.at(1).x) > 1 - 1e-9;
    return ok({ frames, width: () => 1, both: false, closed: turned, knots: [] });
  } finally {
    reader.dispose();
  }
}

/** The second rail as the path sees it; undefined where there is none. */
function guideOf(context: ContextOf<'sweep'>, inputs: SweepInputs, path: SpacePath): Result<Guide | undefined, StepFailure> {
  if (inputs.hold === 'surface') return uprightOn(context, inputs, path);
  if (inputs.hold !== 'guided') return ok(undefined);
  const ref = inputs.rail?.[0];
  if (!ref) return missing('its second rail is not picked', 'pick an edge on the stage, or a curve on the board');
  const rail = pathOf(context, ref, true);
  if (!rail.ok) return rail;
  const corner = rail.value.corners[0];
  if (corner)
    return refuse(
      `the second rail has a sharp corner of ${fixed((corner.angle * 180) / Math.PI, 1)}°`,
      ['round the corner, 0.2 mm is enough', 'draw it as one smooth curve'],
      rail.value.at(corner.share).point,
    );
  const guide = guideAlong(path, rail.value, inputs.grow !== 'across');
  return guide.ok ? guide : refuse(guide.error.why, ['let the rail run beside the whole path'], guide.error.at);
}

/** Where a path no longer runs through planes of a direction to their front. */
function bendsPast(path: SpacePath, normal: Vec3): Vec3 | undefined {
  const n = 400;
  for (let i = 0; i <= n; i++) {
    const { point, direction } = path.at(i / n);
    if (dot(direction, normal) <= 1e-6) return point;
  }
  return undefined;
}

/** Where the path passes the plane of a section, nearest to the section itself. */
function shareOf(path: SpacePath, section: PlacedSection): number {
  const middle = triple((k) => Array.from({ length: 16 }, (_, i) => section.at(i / 16)[k]!).reduce((a, b) => a + b / 16, 0));
  const height = (s: number): number => dot(minus(path.at(s).point, section.origin), section.normal);
  let best = { share: 0, d: Number.POSITIVE_INFINITY };
  const n = 400;
  const offer = (share: number): void => {
    const d = distance(path.at(share).point, middle);
    if (d < best.d) best = { share, d };
  };
  for (let i = 0; i < n; i++) {
    let [a, b] = [i / n, (i + 1) / n];
    const [ha, hb] = [height(a), height(b)];
    if (Math.abs(ha) < 1e-9) offer(a);
    if (Math.abs(hb) < 1e-9) offer(b);
    if (ha * hb >= 0) continue;
    for (let k = 0; k < 60; k++) {
      const m = (a + b) / 2;
      if (height(m) * ha > 0) a = m;
      else b = m;
    }
    offer((a + b) / 2);
  }
  // Never crossed: the nearer end.
  if (best.d === Number.POSITIVE_INFINITY) {
    offer(0);
    offer(path.closed ? 0 : 1);
  }
  return best.share;
}

/** The radius of a single section that is a circle about the path, carried as it is. */
function wireRadius(sections: readonly LocalSection[], o: SweepOptions): number | undefined {
  const [section] = sections;
  if (sections.length !== 1 || !section || section.open || section.point || section.corners.length > 0) return undefined;
  if (o.hold !== 'square' || o.guide || o.twist !== 0 || o.scale !== 1) return undefined;
  const places = Array.from({ length: 24 }, (_, i) => section.at(i / 24));
  const radius = Math.hypot(places[0]![0], places[0]![1]);
  return places.every((p) => Math.abs(Math.hypot(p[0], p[1]) - radius) <= 1e-7) ? radius : undefined;
}

function solidAlong(
  context: StepContext,
  path: SpacePath,
  sections: readonly LocalSection[],
  options: SweepOptions,
  curveAt: (u: number) => string,
  { open = false, side = 'side', corner }: { open?: boolean; side?: string; corner?: () => Pick<StepFailure, 'fixes'> } = {},
): Result<{ body: KernelBody; note: string }, StepFailure> {
  const { kernel, step } = context;
  const past = options.hold === 'fixed' ? bendsPast(path, cross(options.across, options.up)) : undefined;
  if (past)
    return refuse(
      'its path bends past the plane of the section, which is only moved along it and would pass through itself',
      ['keep the section square to the path', 'a path that always runs on through the section’s plane'],
      past,
    );
  const radius = wireRadius(sections, options);
  const tube = radius === undefined ? undefined : tubeAlong(kernel, path, radius, options.across, step.id, side);
  if (tube) return ok({ body: tube, note: 'cylinders and rings, exactly along its path' });
  const made = swept(path, sections, options);
  if (!made.ok) {
    const said = refuse(made.error.why, remedies(made.error.why), made.error.at);
    return !said.ok && corner && made.error.why.includes('sharp corner') ? fail({ ...said.error, ...corner() }) : said;
  }
  const { patches, deviation, volume } = made.value;
  const [a, b] = [path.at(0), path.at(1)];
  const closed =
    path.closed &&
    (options.guide?.closed ?? true) &&
    Math.abs(options.scale - 1) < 1e-9 &&
    Math.abs(options.twist) < 1e-9 &&
    sections.length === 1;
  // Only moved along, its ends keep the plane they were drawn in.
  const fixedNormal = cross(options.across, options.up);
  const cap = (at: typeof a, name: string) => ({
    origin: at.point,
    normal: options.hold === 'fixed' ? fixedNormal : at.direction,
    name: `${step.id}/${name}`,
  });
  const caps = closed ? {} : { start: cap(a, 'start'), end: cap(b, 'end') };
  // The section's area is taken from a polygon of 720 corners: with room either way.
  const allowed = volume === undefined ? undefined : ([volume * 0.9985, volume * 1.0015] as const);
  const done = skinBody(kernel, patches, curveAt, caps, open, step.id, allowed);
  if (!done.ok) return refuse(done.error.why, remedies(done.error.failed === 'check' ? 'bends' : ''), done.error.at);
  return ok({ body: done.value, note: `keeps to its path within ${fixed(deviation, 5)} mm` });
}
