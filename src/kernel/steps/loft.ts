/** A skin through sections, led by rails, closed to a solid. */
import { normalOf, toSpace } from '../../core/curves/frame';
import { pathAlong, type SpacePath } from '../../core/curves/path';
import { faceNormal } from '../../core/form/starts';
import { distance, dot, minus, triple, unit, type Vec3 } from '../../core/geometry/vectors';
import { openLine } from '../../core/profile/chain';
import { material } from '../../core/profile/material';
import type { BodyFace, PathRef, RaiseMode, SectionRef } from '../../core/recipe/steps';
import { pickWords, stepTitle } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { type Loft, type Rail, loft as skinned } from '../../core/surfaces/loft';
import type { Section } from '../../core/surfaces/round';
import { type SplineSpace, surfaceAt } from '../../core/surfaces/space';
import { fixed } from '../../core/units/units';
import { type KernelBody, type StepFailure, wanting } from '../body';
import { scoped } from '../open';
import { placedProfile } from '../placed';
import { chained, edgeCurve, faceOf, pathOf, placeOf } from '../refer';
import { subShapes } from '../shapes';
import { skinBody } from '../skin';
import { borderChains } from '../surface';
import type { ContextOf, StepContext } from './operation';
import type { RaiserOf } from './raise';

export interface PlacedSection extends Section {
  readonly origin: Vec3;
  /** The drawn curve at a share. */
  readonly curve: (share: number) => string;
  readonly area: number;
  /** An open line, gone along there and back: the faces of the way back are left out. */
  readonly open: boolean;
}

const refuse = (why: string, tryInstead: readonly string[], at?: Vec3): Result<never, StepFailure> =>
  fail({ what: 'the loft can’t be made', why, tryInstead, ...(at ? { at } : {}) });
const missing = wanting('the loft can’t be made');

/** How near, in words. @param off mm */
const within = (off: number): string => (off < 5e-6 ? 'exactly' : `within ${fixed(off, 5)} mm`);

export const raiseLoft: RaiserOf<'loft'> = (context, trial) => {
  const made = raised(context);
  if (made.ok) return made;
  const inputs = context.step.inputs;
  const turned = inputs.run === 'closed' ? undefined : outOfOrder(context, inputs.sections);
  if (!turned) return made;
  // Offered only where it goes.
  const other: ContextOf<'loft'> = { ...context, step: { ...context.step, inputs: { ...inputs, sections: turned.order } } };
  const fixes =
    trial <= 0 && raised(other).ok
      ? [{ words: 'Take the sections in the order they stand in', step: context.step.id, inputs: { sections: turned.order } }]
      : [];
  return fail({ ...made.error, why: turned.why, at: turned.at, fixes: [...fixes, ...(made.error.fixes ?? [])] });
};

/** Sections that turn back on the way, in words, with the order they stand in; undefined where they follow each other. */
function outOfOrder(
  context: ContextOf<'loft'>,
  ids: readonly SectionRef[],
): { readonly why: string; readonly at: Vec3; readonly order: SectionRef[] } | undefined {
  const places: { id: SectionRef; words: string; at: Vec3 }[] = [];
  for (const [i, id] of ids.entries()) {
    const s = sectionOf(context, id, i);
    if (!s.ok) return undefined;
    places.push({ id, words: s.value.words, at: centreOfSection(s.value) });
  }
  for (let k = 2; k < places.length; k++) {
    const [a, b, c] = [places[k - 2]!, places[k - 1]!, places[k]!];
    const [u, v] = [minus(b.at, a.at), minus(c.at, b.at)];
    if (dot(u, v) >= 0) continue;
    const way = minus(places[1]!.at, places[0]!.at);
    const order = places.toSorted((x, y) => dot(x.at, way) - dot(y.at, way)).map((p) => p.id);
    return { why: `${c.words} lies back on the way from ${a.words} to ${b.words}`, at: c.at, order };
  }
  return undefined;
}

function centreOfSection(s: PlacedSection): Vec3 {
  const sum: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < 16; i++)
    s.at(i / 16).forEach((x, k) => {
      sum[k as 0 | 1 | 2] += x / 16;
    });
  return sum;
}

const raised = (context: ContextOf<'loft'>): ReturnType<RaiserOf<'loft'>> => {
  const inputs = context.step.inputs;
  if (inputs.sections.length < 2)
    return missing(
      `${inputs.sections.length === 0 ? 'no section is' : 'only one section is'} chosen`,
      'choose two or more drawings or faces',
    );
  const sections: PlacedSection[] = [];
  for (const [k, id] of inputs.sections.entries()) {
    const s = sectionOf(context, id, k);
    if (!s.ok) return s;
    sections.push(s.value);
  }
  const run = facingAlong(sections, inputs.run === 'closed');
  const rails: Rail[] = [];
  for (const ref of inputs.paths) {
    const rail = railOf(context, ref);
    if (!rail.ok) return rail;
    rails.push(rail.value);
  }
  const shifts = inputs.shifts.split(',').map((t) => Number(t.trim() || 0));
  if (shifts.some((x) => !Number.isFinite(x) || Math.abs(x) > 1))
    return refuse('how the matching is turned can’t be read', ['numbers from −1 to 1 with commas between']);
  const { startWeight, endWeight } = context.values;
  const made = skinned(run, rails, {
    ruled: inputs.skin === 'ruled',
    closed: inputs.run === 'closed',
    ...(inputs.start === 'square' ? { startSquare: startWeight } : {}),
    ...(inputs.end === 'square' ? { endSquare: endWeight } : {}),
    snap: inputs.rails === 'snapped',
    shifts,
  });
  if (!made.ok) {
    const misses = made.error.includes('misses');
    const said = refuse(
      made.error,
      misses
        ? ['pull the rails onto the sections', 'let the section follow the rail’s end']
        : ['turn the matching', 'reorder the sections'],
    );
    const snap = { words: 'Pull the rails onto the sections', step: context.step.id, inputs: { rails: 'snapped' } };
    return misses && !said.ok ? fail({ ...said.error, fixes: [snap] }) : said;
  }
  const { ties } = made.value;
  const solid = solidOf(context, made.value, run, inputs.run === 'closed');
  if (!solid.ok) return fail({ ...solid.error, ties });
  const { sections: off, rails: railOff } = made.value.deviation;
  const worst = Math.max(off, railOff);
  return ok({
    solids: [solid.value],
    words: 'the loft',
    ties,
    note: `passes its sections ${within(off)}${rails.length > 0 ? `, its rails ${within(railOff)}` : swelling(made.value, run)}`,
    warnings: worst > 1e-3 ? [{ message: `it misses a section or a rail by ${fixed(worst, 4)} mm` }] : [],
  });
};

/** Told from this share of the largest section's reach on. */
const SWELLS = 0.03;
/** Where a skin is looked at: shares of each stretch along it, and of each face round about. */
const [LOOKS, ABOUT] = [8, 5] as const;

/** How far a skin that was left free reaches out between its sections, beyond the largest of them, in words. */
function swelling({ patches }: Loft, sections: readonly PlacedSection[]): string {
  const reach = (places: readonly Vec3[]): number => {
    const middle = triple((k) => places.reduce((sum, p) => sum + p[k]!, 0) / places.length);
    return Math.max(...places.map((p) => distance(p, middle)));
  };
  const largest = Math.max(...sections.filter((s) => !s.point).map((s) => reach(ALONG.map(s.at))));
  const at = ({ knots }: SplineSpace, share: number): number => knots[0]! + (knots[knots.length - 1]! - knots[0]!) * share;
  let most = 0;
  for (const ring of patches)
    for (let i = 1; i < LOOKS; i++) {
      const places = ring.flatMap((p) => Array.from({ length: ABOUT }, (_, j) => surfaceAt(p, at(p.u, j / ABOUT), at(p.v, i / LOOKS))));
      most = Math.max(most, reach(places) - largest);
    }
  return most > SWELLS * largest ? `; it swells ${fixed(most, 1)} mm beyond its largest section` : '';
}

export function sectionOf(context: StepContext<RaiseMode>, ref: SectionRef, index: number): Result<PlacedSection, StepFailure> {
  if (typeof ref === 'string') return drawnSection(context, ref, index);
  const words = `section ${index + 1} (${pickWords(ref, context.project)})`;
  if ('face' in ref) return faceSection(context, ref, words);
  if (!('at' in ref || 'end' in ref || 'point' in ref)) return lineSection(context, ref, words);
  const at = placeOf(context, ref);
  return at.ok ? ok(pointSection(at.value, [0, 0, 1], words)) : at;
}

/** Where a skin comes to a point. */
const pointSection = (at: Vec3, normal: Vec3, words: string): PlacedSection => ({
  at: () => at,
  normal,
  corners: [],
  joints: [],
  point: true,
  words,
  origin: at,
  curve: () => 'point',
  area: 0,
  open: false,
});

/** A border farther off its plane than this share of its size is not flat. */
const FLAT = 1e-6;

/** A line as a section that closes, with how far it leaves its plane, mm. */
function closedSection(line: SpacePath, words: string): { readonly section: PlacedSection; readonly off: number; readonly flat: boolean } {
  const places = ALONG.map((t) => line.at(t).point);
  const normal = unit(faceNormal(places)) ?? [0, 0, 1];
  const origin = places[0]!;
  const off = Math.max(...places.map((p) => Math.abs(dot(minus(p, origin), normal))));
  const section: PlacedSection = {
    at: (share) => line.at(share).point,
    normal,
    corners: line.corners.map((c) => c.share),
    joints: line.joints,
    point: false,
    words,
    origin,
    curve: (share) => `side${line.index(share) + 1}`,
    area: 0,
    open: false,
  };
  return { section, off, flat: line.closed && off <= FLAT * line.length };
}

/** The outer border of a flat face. */
function faceSection(context: StepContext<RaiseMode>, ref: BodyFace, words: string): Result<PlacedSection, StepFailure> {
  const { kernel } = context;
  const face = faceOf(context, ref);
  if (!face.ok) return face;
  const chain = chained(
    scoped((s) =>
      subShapes(kernel, s.keep(kernel.BRepTools.OuterWire(face.value)), 'TopAbs_EDGE').map((e) => edgeCurve(kernel, kernel.TopoDS.Edge(e))),
    ),
  );
  if (!chain) return refuse(`${words} has a border that does not hang together`, ['draw the section on the face']);
  const made = closedSection(pathAlong(chain), words);
  if (!made.flat)
    return refuse(
      `${words} is not flat: its border leaves its plane by ${fixed(made.off, 3)} mm`,
      ['pick a flat face', 'draw the section on a plane'],
      made.section.origin,
    );
  return ok(made.section);
}

/** An edge, a curve in space, or the whole chain a drawn line belongs to: closed, or an open line of a surface. */
function lineSection(context: StepContext<RaiseMode>, ref: PathRef, words: string): Result<PlacedSection, StepFailure> {
  const path = pathOf(context, ref, !('body' in ref));
  if (!path.ok) return path;
  const line = path.value;
  const surface = context.step.inputs.mode === 'surface';
  const { section, off, flat } = closedSection(line, words);
  if (!line.closed) {
    if (surface) return ok({ ...section, ...thereAndBack(line, section.curve) });
    const said = refuse(`${words} is an open line`, ['raise a surface from it', 'choose closed sections'], section.origin);
    const fix = { words: 'As a surface', step: context.step.id, inputs: { mode: 'surface', body: null } };
    return said.ok ? said : fail({ ...said.error, fixes: [fix] });
  }
  if (!surface && !flat)
    return refuse(
      `${words} is not flat: it leaves its plane by ${fixed(off, 3)} mm`,
      ['raise a surface', 'choose flat sections'],
      section.origin,
    );
  return ok(section);
}

const ALONG = Array.from({ length: 96 }, (_, i) => i / 96);

function drawnSection(context: StepContext<RaiseMode>, id: string, index: number): Result<PlacedSection, StepFailure> {
  const placed = placedProfile(context, id);
  if (!placed.ok) return placed;
  const { profile, frame, resolved } = placed.value;
  const normal = normalOf(frame);
  const words = `section ${index + 1} (${profile.name})`;
  const drawn = resolved.curves.filter((c) => !c.construction);
  if (drawn.length === 0) {
    const points = profile.points.filter((p) => !profile.followed?.has(p.id));
    const only = points.length === 1 ? resolved.points.get(points[0]!.id) : undefined;
    if (!only) return refuse(`${words} has no outline and no single point`, ['draw a closed outline, or one point']);
    return ok(pointSection(toSpace(frame, only), normal, words));
  }
  const loose = context.step.inputs.mode === 'surface' ? openLine(resolved) : ok(undefined);
  if (!loose.ok) return refuse(`${words}: ${loose.error}`, ['leave one line, or close an outline']);
  if (loose.value) {
    const chain = loose.value;
    const line = pathAlong(chain.map(({ curve }) => ({ kind: 'planar', frame, curve })));
    return ok({ ...thereAndBack(line, (share) => chain[line.index(share)]!.id), normal, words, origin: frame.origin });
  }
  const regions = material(resolved, false, 'solid', 1, context.scope);
  if (!regions.ok) return refuse(`${words}: ${regions.error}`, ['close its outline on the board']);
  const [region, ...more] = regions.value;
  if (!region || more.length > 0)
    return refuse(`${words} has ${regions.value.length} separate outlines`, ['leave one outline in each section']);
  if (region.holes.length > 0) return refuse(`${words} has a hole`, ['loft the outside, then cut a second loft from it']);
  const line = pathAlong(region.outer.map(({ curve }) => ({ kind: 'planar', frame, curve })));
  return ok({
    at: (share) => line.at(share).point,
    normal,
    corners: line.corners.map((c) => c.share),
    joints: line.joints,
    point: false,
    words,
    origin: frame.origin,
    curve: (share) => region.outer[line.index(share)]!.id,
    area: region.area,
    open: false,
  });
}

/** An open line as a closed section without an inside. */
function thereAndBack(
  line: SpacePath,
  curve: (share: number) => string,
): Pick<PlacedSection, 'at' | 'corners' | 'joints' | 'point' | 'curve' | 'area' | 'open'> {
  const own = (share: number): number => (share <= 0.5 ? 2 * share : 2 - 2 * share);
  const both = (places: readonly number[]): number[] => places.flatMap((c) => [c / 2, 1 - c / 2]).sort((a, b) => a - b);
  return {
    at: (share) => line.at(own(share)).point,
    corners: [0, ...both(line.corners.map((c) => c.share)), 0.5].sort((a, b) => a - b),
    joints: both(line.joints),
    point: false,
    curve: (share) => curve(own(share)),
    area: 0,
    open: true,
  };
}

/** The sections run left-handed or right-handed alike: each counter-clockwise about the way the loft goes. */
function facingAlong(sections: readonly PlacedSection[], closed: boolean): PlacedSection[] {
  const centres = sections.map(centreOfSection);
  const n = sections.length;
  return sections.map((s, k) => {
    const [a, b] = closed
      ? [centres[(k + n - 1) % n]!, centres[(k + 1) % n]!]
      : [centres[Math.max(0, k - 1)]!, centres[Math.min(n - 1, k + 1)]!];
    const way = minus(b, a);
    if (way[0] * s.normal[0] + way[1] * s.normal[1] + way[2] * s.normal[2] >= 0) return s;
    return {
      ...s,
      at: (share) => s.at(1 - share),
      curve: (share) => s.curve(1 - share),
      normal: [-s.normal[0], -s.normal[1], -s.normal[2]],
      corners: s.corners.map((c) => (c === 0 ? 0 : 1 - c)).sort((x, y) => x - y),
      joints: s.joints.map((c) => (c === 0 ? 0 : 1 - c)),
    };
  });
}

/** A line in space with sharp corners is rounded by one click. */
export function roundedCorner(context: StepContext, ref: PathRef): Pick<StepFailure, 'fixes'> {
  const drawn = 'step' in ref ? context.project.steps.find((s) => s.id === ref.step) : undefined;
  if (drawn?.inputs.by !== 'line') return {};
  return {
    fixes: [
      { words: `Round its corners by 0.2 mm in ${stepTitle(drawn.id, context.project)}`, step: drawn.id, values: { fillet: '0.2 mm' } },
    ],
  };
}

/** A rail: an edge, a curve in space, or the whole chain a drawn curve belongs to. A corner in it is refused with its place. */
function railOf(context: StepContext, ref: PathRef): Result<Rail, StepFailure> {
  const words = `the rail ${pickWords(ref, context.project)}`;
  const path = pathOf(context, ref, !('body' in ref));
  if (!path.ok) return path;
  const corner = path.value.corners[0];
  if (corner) {
    const said = refuse(
      `${words} has a sharp corner of ${fixed((corner.angle * 180) / Math.PI, 1)}°`,
      ['round the corner on the board, 0.2 mm is enough', 'draw it as one spline'],
      path.value.at(corner.share).point,
    );
    return said.ok ? said : fail({ ...said.error, ...roundedCorner(context, ref) });
  }
  return ok({ at: (t) => path.value.at(t).point, knots: [...path.value.knots, ...path.value.joints], words });
}

function solidOf(
  context: ContextOf<'loft'>,
  made: Loft,
  sections: readonly PlacedSection[],
  closed: boolean,
): Result<KernelBody, StepFailure> {
  const { kernel, step } = context;
  const real = sections.find((s) => !s.point)!;
  const [first, last] = [sections[0]!, sections[sections.length - 1]!];
  const cap = (s: PlacedSection, name: string) => ({ origin: s.at(0), normal: s.normal, name: `${step.id}/${name}` });
  const open = sections.some((x) => x.open);
  if (open && sections.some((x) => !x.open && !x.point))
    return refuse('some sections are open lines and some are closed', ['close all of them, or none']);
  const caps = {
    ...(closed || first.point ? {} : { start: cap(first, 'start') }),
    ...(closed || last.point ? {} : { end: cap(last, 'end') }),
  };
  const done = skinBody(kernel, made.patches, (u) => real.curve(made.shareAt(u)), caps, open, step.id);
  if (done.ok) {
    // A line carried along has one border; carried round, one on either side.
    const borders = open ? borderChains(kernel, done.value.shape).length : 0;
    if (!open || borders === (closed ? 2 : 1)) return done;
    return refuse(`its skin would be torn: it has ${borders} borders`, ['let the lines run alike', 'take a rail away']);
  }
  const help = {
    sewing: ['change the order of the sections', 'turn the matching'],
    closing: ['keep the sections apart from each other', 'turn the matching'],
    check: ['turn the matching', 'keep the sections apart from each other'],
  };
  return refuse(done.error.why, help[done.error.failed], done.error.at);
}
