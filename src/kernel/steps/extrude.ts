/** Pushes a drawing off its plane: to lengths, through a body, or up to a face, a body or a plane, filled or as a wall, straight or tapered. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, heightOver, normalOf, shifted, toPlane, toSpace } from '../../core/curves/frame';
import { pathAlong } from '../../core/curves/path';
import { derivatives, type PlanarCurve } from '../../core/curves/planar';
import { along, dot, minus, type Vec3 } from '../../core/geometry/vectors';
import { type ChainCurve, openLine } from '../../core/profile/chain';
import { material } from '../../core/profile/material';
import { findRegions, type Region } from '../../core/profile/regions';
import type { ResolvedProfile } from '../../core/profile/resolve';
import { type ExtrudeInputs, standsAlone } from '../../core/recipe/steps';
import { bodyWords, faceWords, planeWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { areaOf } from '../amounts';
import { readBackwards } from '../backwards';
import { asBody, asSurface, type Fix, type KernelBody, type StepFailure } from '../body';
import { type Claim, inherit, nameFaces } from '../names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from '../open';
import { frameOf, placedProfile } from '../placed';
import { type Prism, prismOf, regionFace, sidesOf, squareAcross } from '../prism';
import { faceOf } from '../refer';
import { centreOf, facesOf, roughBounds, solidsOf } from '../shapes';
import { straightFrom } from '../straight';
import { shellOf, verifySurface } from '../surface';
import { verifySolid } from '../verify';
import { wireOf } from '../wires';
import type { ContextOf } from './operation';
import type { RaiserOf } from './raise';

export const raiseExtrude: RaiserOf<'extrude'> = (context) => {
  const inputs = context.step.inputs;
  const placed = placedProfile(context, inputs.profile);
  if (!placed.ok) return placed;
  const { profile, frame, resolved } = placed.value;
  const { wall, start, taper } = context.values;
  const line = inputs.mode === 'surface' && inputs.fill === 'solid' ? openLine(resolved) : ok(undefined);
  if (!line.ok)
    return fail({ what: `${profile.name} can't be extruded`, why: line.error, tryInstead: ['leave one line, or close an outline'] });
  if (line.value) return pushedLine(context, line.value, resolved, shifted(frame, start), taper, profile.name);
  const regions = material(resolved, profile.half, inputs.fill, wall, context.scope);
  if (!regions.ok)
    return fail({
      what: `${profile.name} can't be extruded`,
      why: regions.error,
      tryInstead: ['close the outline on the board'],
      fixes: openWays(context, inputs, resolved, wall),
    });
  const fromFace = inputs.origin === 'face';
  const base = fromFace ? frame : shifted(frame, start);
  const reach = fromFace ? reachFrom(context, base, start, resolved) : reachOf(context, base, resolved);
  if (!reach.ok) return reach;
  const solids: KernelBody[] = [];
  for (const region of regions.value) {
    const made = pushed(context, region, base, reach.value, taper);
    if (!made.ok) return fail({ ...made.error, what: `${profile.name} can't be extruded` });
    solids.push(made.value);
  }
  const note =
    fromFace && inputs.extent === 'one' ? 'ends flat, its length counted from the farthest place of the face it starts on' : undefined;
  const target = standsAlone(inputs.mode) || !inputs.body ? undefined : context.bodies.get(inputs.body);
  const warnings = target ? readBackwards(context.kernel, profile, frame, target) : [];
  return ok({ solids, words: profile.name, warnings, ...(note ? { note } : {}) });
};

/** What can be raised of lines that close nothing, each with one click. */
function openWays(context: ContextOf<'extrude'>, inputs: ExtrudeInputs, resolved: ResolvedProfile, wall: number): Fix[] {
  if (inputs.fill !== 'solid' || findRegions(resolved, false).regions.length > 0) return [];
  const step = context.step.id;
  const about = material(resolved, false, 'about', wall, context.scope);
  return [
    ...(about.ok ? [{ words: `a wall of ${fixed(wall, 2)} mm about the line`, step, inputs: { fill: 'about' } }] : []),
    ...(inputs.mode === 'new' && openLine(resolved).ok ? [{ words: 'as a surface', step, inputs: { mode: 'surface' } }] : []),
  ];
}

/** An open line pushed to a surface. */
function pushedLine(
  context: ContextOf<'extrude'>,
  line: readonly ChainCurve[],
  drawn: ResolvedProfile,
  base: Frame,
  taper: number,
  name: string,
): ReturnType<RaiserOf<'extrude'>> {
  const { kernel, step } = context;
  const what = `${name} can't be extruded`;
  const reach = reachOf(context, base, drawn);
  if (!reach.ok) return reach;
  const { from, to, end } = reach.value;
  const [byPlane, tapered] = [end?.kind === 'plane' ? end.frame : undefined, Math.abs(taper) > 1e-9];
  if ((end && !byPlane) || tapered)
    return fail({
      what,
      why: `an open line ${tapered ? 'can’t be tapered' : 'is pushed by a length, or up to a plane'}`,
      tryInstead: [tapered ? 'set the taper to 0°' : 'give it a length', 'close its outline'],
    });
  const n = normalOf(base);
  const height = to - from;
  const made = attempt(kernel, () =>
    scoped((s) => {
      const wire = wireOf(kernel, s, line, shifted(base, from));
      if (!wire) return undefined;
      const maker = s.keep(
        new kernel.BRepPrimAPI_MakePrism(wire.wire, s.keep(new kernel.gp_Vec(n[0] * height, n[1] * height, n[2] * height)), false, true),
      );
      if (!maker.IsDone()) return undefined;
      const whole = { shape: maker.Shape(), claims: sidesOf(kernel, maker, wire.edges, step.id) };
      if (!byPlane) return whole;
      const sign = Math.sign(from + to);
      const meets = line.every(({ curve }) => roomUpTo(base, byPlane, curve).every((h) => sign * h > -1e-9));
      return meets ? shorn(kernel, s, whole, byPlane, base, step.id) : undefined;
    }),
  );
  if (!made.ok || !made.value)
    return fail({
      what,
      why: !made.ok ? made.error : end ? `it does not meet ${end.words} with its whole line` : 'the kernel could not push it',
      tryInstead: [end ? 'give it a length' : 'look for very short curves'],
    });
  const area = pathAlong(line.map(({ curve }) => ({ kind: 'planar', frame: base, curve }))).length * height;
  const verified = verifySurface(kernel, made.value.shape, [byPlane ? 0 : area * (1 - 1e-6), area * (1 + 1e-6)]);
  if (!verified.ok) return fail({ what, why: verified.error.why, tryInstead: ['look for places where the line crosses itself'] });
  return ok({ solids: [asSurface(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, step.id))], words: name });
}

interface Reach {
  /** Heights over the plane between which it is pushed, mm. */
  readonly from: number;
  readonly to: number;
  /** What it ends at, and begins at, besides. */
  readonly end?: Limit;
  readonly start?: Limit;
}

type Limit =
  | { readonly kind: 'face'; readonly face: TopoDS_Face; readonly words: string }
  | { readonly kind: 'body'; readonly body: KernelBody; readonly words: string }
  | { readonly kind: 'plane'; readonly frame: Frame; readonly words: string };

/** What helps where something lies on the other side of the drawing. @param sign of the way it goes */
const otherWay = (sign: number): { readonly words: string; readonly way: ExtrudeInputs['way'] } =>
  sign > 0 ? { words: 'go backwards', way: 'back' } : { words: 'go outwards', way: 'out' };

/** Least and largest height of a shape over a plane. */
function heights(kernel: Kernel, shape: Shape, frame: Frame): [number, number] {
  const b = roughBounds(kernel, shape);
  let [lo, hi] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let i = 0; i < 8; i++) {
    const h = heightOver(frame, [(i & 1 ? b.max : b.min)[0], (i & 2 ? b.max : b.min)[1], (i & 4 ? b.max : b.min)[2]]);
    lo = Math.min(lo, h);
    hi = Math.max(hi, h);
  }
  return [lo, hi];
}

function reachOf(context: ContextOf<'extrude'>, base: Frame, drawn: ResolvedProfile): Result<Reach, StepFailure> {
  const { kernel, project } = context;
  const inputs = context.step.inputs;
  const { length, back } = context.values;
  const sign = inputs.way === 'out' ? 1 : -1;
  const span = (far: number): Reach => (sign > 0 ? { from: 0, to: far } : { from: -far, to: 0 });
  switch (inputs.extent) {
    case 'one':
      return ok(span(length));
    case 'symmetric':
      return ok({ from: -length / 2, to: length / 2 });
    case 'two':
      return ok({ from: -back, to: length });
    case 'through':
    case 'both': {
      const body = inputs.body ? context.bodies.get(inputs.body) : undefined;
      if (!body || standsAlone(inputs.mode))
        return fail({
          what: 'there is nothing to go through',
          why: 'it is a body of its own',
          tryInstead: ['give it a length', 'cut it from a body'],
        });
      const [lo, hi] = heights(kernel, body.shape, base);
      const margin = 1 + 0.01 * (hi - lo);
      if (inputs.extent === 'both') return ok({ from: Math.min(lo, 0) - margin, to: Math.max(hi, 0) + margin });
      const far = (sign > 0 ? hi : -lo) + margin;
      if (far > margin) return ok(span(far));
      return fail({
        what: 'there is nothing to go through',
        why: `${bodyWords(inputs.body!, project)} lies on the other side of the plane`,
        tryInstead: [`let it ${otherWay(sign).words}`],
      });
    }
    case 'face': {
      const ref = inputs.faces[0];
      if (!ref)
        return fail({
          what: 'its end is not chosen',
          why: 'the face it goes up to is not picked',
          unfinished: true,
          tryInstead: ['pick the face on the stage'],
        });
      const face = faceOf(context, ref);
      if (!face.ok) return face;
      const [lo, hi] = heights(kernel, face.value, base);
      const far = (sign > 0 ? hi : -lo) * 1.01 + 1;
      return ok({ ...span(Math.max(far, 1)), end: { kind: 'face', face: face.value, words: faceWords(ref.face, project) } });
    }
    case 'plane':
      return upToPlane(context, base, drawn, span);
    case 'body': {
      const body = inputs.until ? context.bodies.get(inputs.until) : undefined;
      if (!body)
        return fail({
          what: 'its end is not chosen',
          why: 'no earlier step makes the body it goes up to',
          unfinished: true,
          tryInstead: ['choose a body'],
        });
      const [lo, hi] = heights(kernel, body.shape, base);
      return ok({ ...span(Math.max((sign > 0 ? hi : -lo) + 1, 1)), end: { kind: 'body', body, words: bodyWords(inputs.until!, project) } });
    }
  }
}

/** Planes that lie this near to square to the way of a push are parallel to its drawing. */
const PARALLEL = 1e-9;

/** How far a plane lies over places of a drawn curve, along the normal of its drawing, mm. */
function roomUpTo(base: Frame, end: Frame, curve: PlanarCurve): number[] {
  const m = normalOf(end);
  const lean = dot(normalOf(base), m);
  return Array.from({ length: 33 }, (_, i) => dot(minus(end.origin, toSpace(base, derivatives(curve, i / 32).p)), m) / lean);
}

/** Up to a plane: a length where it is parallel to the drawing's, else cut off by it. @param span the reach of a length */
function upToPlane(
  context: ContextOf<'extrude'>,
  base: Frame,
  drawn: ResolvedProfile,
  span: (far: number) => Reach,
): Result<Reach, StepFailure> {
  const { inputs, id } = context.step;
  const what = 'it can’t end at the plane';
  if (!inputs.upTo)
    return fail({ what: 'its end is not chosen', why: 'no plane is chosen', unfinished: true, tryInstead: ['choose a plane'] });
  const end = frameOf(inputs.upTo, context.planes, context.project);
  if (!end.ok) return end;
  const words = planeWords(inputs.upTo, context.project);
  const [n, m] = [normalOf(base), normalOf(end.value)];
  const lean = dot(n, m);
  if (Math.abs(lean) < 1e-6)
    return fail({ what, why: `${words} stands along the way it is pushed`, tryInstead: ['give it a length', 'choose another plane'] });
  const sign = inputs.way === 'out' ? 1 : -1;
  const far = drawn.curves.filter((c) => !c.construction).flatMap(({ curve }) => roomUpTo(base, end.value, curve).map((h) => sign * h));
  if (far.every((h) => Math.abs(h) <= 1e-9))
    return fail({
      what: 'its end is not chosen',
      why: `it begins on ${words} itself`,
      unfinished: true,
      tryInstead: ['choose the plane it ends at'],
    });
  const other = otherWay(sign);
  if (far.every((h) => h <= 1e-9))
    return fail({
      what,
      why: `${words} lies on the other side of the drawing`,
      tryInstead: [`let it ${other.words}`],
      fixes: [{ words: `Let it ${other.words}`, step: id, inputs: { way: other.way } }],
    });
  const most = Math.max(...far);
  if (1 - Math.abs(lean) < PARALLEL) return ok(span(most));
  // Beyond the plane by some of what the places between may reach farther.
  return ok({ ...span(1.05 * most + 1), end: { kind: 'plane', frame: end.value, words } });
}

/** The reach of what begins on a face, or at a distance outside it. */
function reachFrom(context: ContextOf<'extrude'>, base: Frame, distance: number, drawn: ResolvedProfile): Result<Reach, StepFailure> {
  const { kernel, project } = context;
  const inputs = context.step.inputs;
  const ref = inputs.fromFaces?.[0];
  if (!ref)
    return fail({
      what: 'its start is not chosen',
      why: 'the face it begins on is not picked',
      unfinished: true,
      tryInstead: ['pick the face on the stage'],
    });
  const picked = faceOf(context, ref);
  if (!picked.ok) return picked;
  const words = faceWords(ref.face, project);
  const face = offsetFace(kernel, picked.value, distance);
  if (!face)
    return fail({
      what: `nothing can begin ${fixed(distance, 2)} mm off ${words}`,
      why: 'the face bends tighter than that',
      tryInstead: ['a smaller distance', 'begin on the face itself'],
    });
  const [lo, hi] = heights(kernel, face, base);
  const out = inputs.way === 'out';
  const begins = out ? lo - 1 : hi + 1;
  const start: Limit = { kind: 'face', face, words: distance === 0 ? words : `what lies ${fixed(distance, 2)} mm off ${words}` };
  const span = (end: number): Reach => ({ from: Math.min(begins, end), to: Math.max(begins, end), start });
  if (inputs.extent === 'symmetric' || inputs.extent === 'two')
    return fail({ what: 'it can’t go both ways', why: 'it begins on a face', tryInstead: ['give it one length'] });
  if (inputs.extent === 'one') return ok(span(out ? hi + context.values.length : lo - context.values.length));
  const reach = reachOf(context, base, drawn);
  if (!reach.ok) return reach;
  return ok({ ...span(out ? reach.value.to : reach.value.from), ...(reach.value.end ? { end: reach.value.end } : {}) });
}

/** A face moved along its own normals. Undefined where it bends too tightly for that. */
function offsetFace(kernel: Kernel, face: TopoDS_Face, distance: number): TopoDS_Face | undefined {
  if (distance === 0) return face;
  const made = attempt(kernel, () =>
    scoped((s) => {
      const maker = s.keep(new kernel.BRepOffsetAPI_MakeOffsetShape());
      maker.PerformBySimple(face, distance);
      return maker.IsDone() ? facesOf(kernel, maker.Shape())[0] : undefined;
    }),
  );
  return made.ok ? made.value : undefined;
}

function pushed(
  context: ContextOf<'extrude'>,
  region: Region,
  base: Frame,
  reach: Reach,
  taper: number,
): Result<KernelBody, Omit<StepFailure, 'what'>> {
  const { kernel, step } = context;
  const height = reach.to - reach.from;
  const low = shifted(base, reach.from);
  const n = normalOf(base);
  const backwards = step.inputs.way === 'back' && (reach.start !== undefined || (reach.from < 0 && reach.to === 0));
  // It begins on its plane: pushed backwards, the upper end is where it starts.
  const [from, push] = backwards ? [shifted(base, reach.to), -height] : [low, height];
  const made = attempt(kernel, () =>
    scoped((s): { shape: Shape; claims: readonly Claim[] } | string => {
      const face = regionFace(kernel, s, region, from);
      if (!face) return 'the kernel could not close its outline';
      const prism = prismOf(kernel, s, face, [n[0] * push, n[1] * push, n[2] * push], step.id);
      if (!prism) return 'the kernel could not push it';
      const sloped = Math.abs(taper) > 1e-9 ? drafted(kernel, s, prism, n, push, taper, from) : prism;
      if (!sloped) return `a taper of ${((taper * 180) / Math.PI).toFixed(2)}° uses up a side before its end`;
      const misses = (limit: Limit): string => `it does not meet ${limit.words} with its whole section`;
      const capped = reach.end ? ended(kernel, s, sloped, reach.end, base, step.id) : sloped;
      if (!capped || !reach.start) return capped ?? misses(reach.end!);
      // Its start is cut off the way its end is, the two changing places.
      const swap = (claims: readonly Claim[]): Claim[] => {
        const other: Record<string, string> = { [`${step.id}/start`]: `${step.id}/end`, [`${step.id}/end`]: `${step.id}/start` };
        return claims.map((c) => ({ ...c, name: other[c.name] ?? c.name }));
      };
      const both = ended(kernel, s, { ...capped, claims: swap(capped.claims) }, reach.start, base, step.id);
      return both ? { ...both, claims: swap(both.claims) } : misses(reach.start);
    }),
  );
  const cannot = (why: string): Result<never, Omit<StepFailure, 'what'>> =>
    fail({
      why,
      tryInstead:
        reach.end || reach.start
          ? ['move the drawing so that all of it meets what it ends at', 'give it a length']
          : ['make it smaller, or shorter'],
    });
  if (!made.ok) return cannot(made.error);
  if (typeof made.value === 'string') return cannot(made.value);
  const flat = region.area * height;
  const slack = 1e-6 * flat;
  const straight = Math.abs(taper) <= 1e-9;
  const volume: [number, number] =
    reach.end || reach.start || !straight ? [0, straight ? flat + slack : Number.POSITIVE_INFINITY] : [flat - slack, flat + slack];
  const verified = verifySolid(kernel, made.value.shape, { volume, ...(straight ? { simple: true } : {}) });
  if (!verified.ok) return cannot(verified.error.why);
  const names = nameFaces(kernel, verified.value.shape, made.value.claims, step.id);
  if (!straight && !reach.end && !reach.start) {
    const wrong = taperWrong(kernel, verified.value.shape, names, step.id, region.area, height, verified.value.volume, taper);
    if (wrong) return cannot(wrong);
  }
  const own = straight && !reach.end && !reach.start ? straightFrom(region, from, push, names, step.id) : undefined;
  return ok({ ...asBody(verified.value, names), ...(own ? { straight: own } : {}) });
}

/** Sides leaned about the edges they start from; a positive taper makes it narrower away from its plane. */
function drafted(kernel: Kernel, s: Scope, prism: Prism, n: Vec3, push: number, taper: number, from: Frame): Prism | undefined {
  const maker = s.keep(new kernel.BRepOffsetAPI_DraftAngle(prism.shape));
  const sense = Math.sign(push);
  const direction = s.keep(new kernel.gp_Dir(sense * n[0], sense * n[1], sense * n[2]));
  const plane = s.keep(new kernel.gp_Pln(s.keep(new kernel.gp_Pnt(...from.origin)), direction));
  for (const side of prism.sides) {
    maker.Add(side, direction, taper, plane, true);
    if (!maker.AddDone()) return undefined;
  }
  maker.Build();
  if (!maker.IsDone()) return undefined;
  const follow = (shape: Shape): Shape => {
    const to = maker.ModifiedShape(shape);
    return to.IsNull() ? shape : to;
  };
  return {
    shape: maker.Shape(),
    claims: prism.claims.map((c) => ({ name: c.name, shape: follow(c.shape) })),
    sides: prism.sides.map((f) => kernel.TopoDS.Face(follow(f))),
    start: follow(prism.start),
    end: follow(prism.end),
  };
}

/**
 * A tapered solid is a prismatoid with sides of constant lean: with the areas of its two ends known, its volume must lie between those of
 * two straight ones, and its far end must have grown or shrunk the way the taper says.
 */
function taperWrong(
  kernel: Kernel,
  shape: Shape,
  names: readonly string[],
  stepId: string,
  area: number,
  height: number,
  volume: number,
  taper: number,
): string | undefined {
  const faces = facesOf(kernel, shape);
  const end = faces[names.indexOf(`${stepId}/end`)];
  const start = faces[names.indexOf(`${stepId}/start`)];
  if (!end || !start) return 'the taper uses up an end of it';
  const [a0, a1] = [areaOf(kernel, start), areaOf(kernel, end)];
  if (Math.abs(a0 - area) > 1e-6 * area) return 'the taper changed the drawn outline';
  if (a1 < a0 !== taper > 0) return 'the taper leans the wrong way';
  const between = volume > height * Math.min(a0, a1) * (1 - 1e-9) && volume < height * Math.max(a0, a1) * (1 + 1e-9);
  return between ? undefined : 'the tapered solid does not have a volume that can be right';
}

/** What was pushed, cut or split by something, its faces with the names they had. */
function partedBy(
  kernel: Kernel,
  s: Scope,
  pushed: Pick<Prism, 'shape' | 'claims'>,
  tool: Shape,
  how: 'cut' | 'split',
  stepId: string,
): { shape: Shape; claims: Claim[] } | undefined {
  const args = s.keep(new kernel.NCollection_List_TopoDS_Shape());
  args.Append(pushed.shape);
  const tools = s.keep(new kernel.NCollection_List_TopoDS_Shape());
  tools.Append(tool);
  const op = how === 'cut' ? s.keep(new kernel.BRepAlgoAPI_Cut()) : s.keep(new kernel.BRepAlgoAPI_Splitter());
  op.SetArguments(args);
  op.SetTools(tools);
  op.SetNonDestructive(true);
  op.Build();
  if (!op.IsDone()) return undefined;
  const faces = facesOf(kernel, pushed.shape);
  const nameOf = (f: Shape): string => pushed.claims.find((c) => c.shape.IsSame(f))?.name ?? `${stepId}/face`;
  return { shape: op.Shape(), claims: inherit(kernel, op, faces, faces.map(nameOf)) };
}

/** The piece between the start and what it ends at. Undefined where that does not close it off. */
function ended(
  kernel: Kernel,
  s: Scope,
  prism: Pick<Prism, 'shape' | 'claims'>,
  end: Limit,
  base: Frame,
  stepId: string,
): { shape: Shape; claims: readonly Claim[] } | undefined {
  const tool =
    end.kind === 'body'
      ? end.body.shape
      : end.kind === 'plane'
        ? squareAcross(kernel, s, end.frame, prism.shape)
        : wideFace(kernel, s, end.face, base, prism.shape);
  const op = partedBy(kernel, s, prism, tool, end.kind === 'body' ? 'cut' : 'split', stepId);
  if (!op) return undefined;
  const { claims } = op;
  const starts = claims.filter((c) => c.name === `${stepId}/start`);
  const far = `${stepId}/end`;
  const pieces = solidsOf(kernel, op.shape).filter((piece) => {
    const own = facesOf(kernel, piece);
    return own.some((f) => starts.some((c) => c.shape.IsSame(f)));
  });
  // A piece that still has the far end was never closed off.
  const piece = pieces[0];
  if (pieces.length !== 1 || !piece) return undefined;
  const own = facesOf(kernel, piece);
  if (own.some((f) => claims.some((c) => c.name === far && c.shape.IsSame(f)))) return undefined;
  const kept = claims.filter((c) => c.name !== far);
  const rest = own.filter((f) => !kept.some((c) => c.shape.IsSame(f)));
  return { shape: piece, claims: [...kept, ...rest.map((shape) => ({ shape: shape as Shape, name: far }))] };
}

/** What of a pushed line lies between where it begins and a plane. Undefined where the plane does not part it all along. @param start where it begins */
function shorn(
  kernel: Kernel,
  s: Scope,
  whole: { readonly shape: Shape; readonly claims: readonly Claim[] },
  plane: Frame,
  start: Frame,
  stepId: string,
): { shape: Shape; claims: readonly Claim[] } | undefined {
  const op = partedBy(kernel, s, whole, squareAcross(kernel, s, plane, whole.shape), 'split', stepId);
  if (!op) return undefined;
  const [n, m] = [normalOf(start), normalOf(plane)];
  /** How far along the way it is pushed the plane lies from a place, against how far the start does. */
  const before = (f: Shape): boolean => {
    const at = centreOf(kernel, f);
    const ahead = -heightOver(plane, at) / dot(n, m);
    return Math.sign(ahead) === Math.sign(heightOver(start, at)) && Math.abs(ahead) > 1e-9;
  };
  const kept = facesOf(kernel, op.shape).filter(before);
  if (kept.length !== facesOf(kernel, whole.shape).length) return undefined;
  return { shape: shellOf(kernel, s, kept), claims: op.claims };
}

/** A flat face ends things beyond its own border too; a curved one only where it is. */
function wideFace(kernel: Kernel, s: Scope, face: TopoDS_Face, base: Frame, near: Shape): Shape {
  const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
  if (surface.GetType() !== 'GeomAbs_Plane') return face;
  const plane = s.keep(surface.Plane());
  const box = roughBounds(kernel, near);
  const size = 2 * Math.hypot(...box.max.map((m, k) => m - box.min[k]!)) + 10;
  // Centred where the drawing's middle meets the plane.
  const at = s.keep(plane.Location());
  const axis = s.keep(s.keep(plane.Axis()).Direction());
  const middle = toSpace(base, toPlane(base, box.max.map((m, k) => (m + box.min[k]!) / 2) as unknown as Vec3));
  const off = (middle[0] - at.X()) * axis.X() + (middle[1] - at.Y()) * axis.Y() + (middle[2] - at.Z()) * axis.Z();
  const foot = along(middle, [axis.X(), axis.Y(), axis.Z()], -off);
  const own = s.keep(new kernel.gp_Pln(s.keep(new kernel.gp_Pnt(...foot)), axis));
  return s.keep(new kernel.BRepBuilderAPI_MakeFace(own, -size, size, -size, size)).Face();
}
