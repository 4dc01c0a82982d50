/** Parts a body by a plane, a drawn line or another body. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, heightOver, normalOf, toPlane } from '../../core/curves/frame';
import { nearestOn, pointAt, tangentAt } from '../../core/curves/planar';
import { along, cross, minus, triple, type Vec3 } from '../../core/geometry/vectors';
import { pieceIds, type SplitInputs } from '../../core/recipe/steps';
import { split as definition } from '../../core/recipe/steps/split';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { areaOf, volumeOf } from '../amounts';
import { asBody, asSurface, type Fix, type KernelBody, type StepFailure } from '../body';
import { type Claim, inherit, nameFaces } from '../names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from '../open';
import { byPlace } from '../pieces';
import { frameOf, placedProfile } from '../placed';
import { squareAcross } from '../prism';
import { touching } from '../refer';
import { centreOf, distanceBetween, edgesWithFaces, facesOf, lengthOf, roughBounds, solidsOf, vertexAt } from '../shapes';
import { shellOf, verifySurface } from '../surface';
import { displayDeflection, tessellate } from '../tessellate';
import { turnedParts } from '../turned-steps';
import { verifySolid } from '../verify';
import { makeEdge } from '../wires';
import { needBody } from './combine';
import type { ContextOf, StepContext, StepOutcome } from './operation';

export interface Cutter {
  /** Faces or a solid that part the body. */
  readonly make: (s: Scope) => Shape[];
  readonly words: string;
  /** Whether a place belongs to the first side. */
  readonly first: (p: Vec3) => boolean;
  /** The tool itself is a body, whose inside is the second side. */
  readonly solid?: KernelBody;
  /** It is one plane. */
  readonly flat?: true;
  /** What a turned body may be parted by in its half plane. */
  readonly turned?: Parameters<typeof turnedParts>[2];
}

export function split(context: ContextOf<'split'>): StepOutcome {
  const { kernel, step, project } = context;
  const inputs = step.inputs;
  const target = needBody(context, inputs.body, 'there is nothing to split');
  if (!target.ok) return target;
  const cutter = cutterOf(context, inputs, target.value);
  if (!cutter.ok) return cutter;
  const name = bodyWords(inputs.body, project);
  const what = `${name} could not be split by ${cutter.value.words}`;
  const skin = target.value.surface === true;
  const sides = cutter.value.turned && turnedParts(kernel, target.value, cutter.value.turned, step.id);
  const made = sides ? ok(sides) : byKernel(context, target.value, cutter.value, what);
  if (!made.ok) return made;
  const { first, second } = made.value;
  if (first.length + second.length < 2)
    return fail({
      what: `${name} is not split`,
      why: `${cutter.value.words} does not pass through it`,
      tryInstead: ['move the cut into the body'],
      fixes: passedBy(context, cutter.value),
    });
  const kept = inputs.keep === 'all' ? [...first, ...second] : inputs.keep === 'first' ? first : second;
  if (kept.length === 0)
    return fail({ what: `nothing of ${name} is left`, why: 'no piece lies on the side that is kept', tryInstead: ['keep the other side'] });
  const ids = pieceIds(inputs.body, step.id, kept.length, inputs.keep === 'all');
  const volume = kept.reduce((sum, b) => sum + b.volume, 0);
  // Every face of the cut is there on both sides: those of one side are what the pieces touch on, or what a base stands on.
  const cut = (first.length > 0 ? first : second).reduce((sum, b) => sum + (skin ? 0 : cutArea(kernel, b, step.id)), 0);
  return ok({
    bodies: kept.map((body, i) => ({ id: ids[i]!, body })),
    volumeChange: volume - target.value.volume,
    warnings: [],
    ...(cut > 0 ? { note: `the cut is ${fixed(cut / 100, 2)} cm²` } : {}),
    gone: definition.removes!(inputs, []),
  });
}

/** Bodies that the cut does pass through, to be split in its place: faces of theirs lie on both sides. */
function passedBy({ kernel, step, bodies, project }: ContextOf<'split'>, cutter: Cutter): Fix[] {
  const out: Fix[] = [];
  for (const [id, body] of bodies) {
    if (id === step.inputs.body || body.facets || (body.pieces ?? 1) > 1) continue;
    const sides = new Set(facesOf(kernel, body.shape).map((f) => cutter.first(centreOf(kernel, f))));
    if (sides.size === 2) out.push({ words: `Split ${bodyWords(id, project)} instead`, step: step.id, inputs: { body: id } });
  }
  return out;
}

export interface Sides {
  readonly first: readonly KernelBody[];
  readonly second: readonly KernelBody[];
}

/** The pieces by the kernel, each verified, and all together what the whole was. */
function byKernel(
  { kernel, step }: Pick<StepContext, 'kernel' | 'step'>,
  target: KernelBody,
  cutter: Cutter,
  what: string,
): Result<Sides, StepFailure> {
  const refuse = (why: string): Result<never, StepFailure> => fail({ what, why, tryInstead: ['move the cut a little'] });
  const made = attempt(kernel, () => parted(kernel, target, cutter, step.id));
  if (!made.ok) return refuse(made.error);
  if (!made.value) return refuse('the kernel could not compute the cut');
  const { pieces, claims } = made.value;
  if (pieces.length < 2) return ok({ first: [], second: [] });
  const skin = target.surface === true;
  const amount = (shape: Shape): number => (skin ? areaOf(kernel, shape) : volumeOf(kernel, shape).volume);
  const whole = amount(target.shape);
  const total = pieces.reduce((sum, p) => sum + amount(p.shape), 0);
  const off = Math.abs(total - whole);
  if (off > TIGHT * whole && (skin || off > allowed(kernel, target, whole, pieces)))
    return refuse(`the pieces together do not have the ${skin ? 'area' : 'volume'} of the whole`);
  const box = roughBounds(kernel, target.shape);
  const sides: [KernelBody[], KernelBody[]] = [[], []];
  for (const p of pieces) {
    const verified = skin
      ? verifySurface(kernel, p.shape, [0, whole])
      : verifySolid(kernel, p.shape, {
          simple: true,
          volume: [0, target.volume],
          inside: box,
          deflection: displayDeflection(kernel, target.shape),
        });
    if (!verified.ok) return refuse(verified.error.why);
    const names = nameFaces(kernel, verified.value.shape, claims, step.id);
    // What a plane leaves of a form is still cut from it.
    const form = target.form && cutter.flat ? { form: target.form } : {};
    sides[p.first ? 0 : 1].push(skin ? asSurface(verified.value, names) : { ...asBody(verified.value, names), ...form });
  }
  return ok({ first: sides[0], second: sides[1] });
}

/** A body parted by another, by their ids: what lies outside that, or before it where it is a surface, and the rest. */
export function partedBy(context: StepContext, body: string, tool: string, what: string): Result<Sides, StepFailure> {
  const target = needBody(context, body, 'there is nothing to trim');
  if (!target.ok) return target;
  const cutter = cutterOf(context, { body, by: 'body', plane: 'level', profile: null, tool }, target.value);
  return cutter.ok ? byKernel(context, target.value, cutter.value, what) : cutter;
}

/** Edges that faces meet to no better than this leave the volume between them open to their tolerance, mm. */
const LOOSE = 1e-6;
/** Shares of the whole by which pieces may miss it: where their edges are tight, and at most. */
const [TIGHT, MOST] = [1e-6, 3e-5] as const;

/**
 * How far the pieces of a solid together may be from the whole, mm³: a strip as wide as an edge's tolerance along its length counts for
 * a third of its distance from the middle (divergence theorem), and no more is let through than a share.
 */
function allowed(kernel: Kernel, target: KernelBody, whole: number, pieces: readonly { readonly shape: Shape }[]): number {
  let strips = 0;
  for (const { shape } of pieces)
    for (const { edge } of edgesWithFaces(kernel, facesOf(kernel, shape))) {
      const width = kernel.BRep_Tool.Tolerance(edge);
      if (width > LOOSE) strips += width * lengthOf(kernel, edge);
    }
  const { min, max } = roughBounds(kernel, target.shape);
  const reach = Math.hypot(...max.map((m, k) => m - min[k]!)) / 2;
  return TIGHT * whole + Math.min((strips * reach) / 3, MOST * whole);
}

const cutArea = (kernel: Kernel, body: KernelBody, stepId: string): number =>
  facesOf(kernel, body.shape).reduce((sum, f, i) => sum + (body.faces[i]!.startsWith(`${stepId}/cut`) ? areaOf(kernel, f) : 0), 0);

function cutterOf(context: StepContext, inputs: Omit<SplitInputs, 'keep' | 'tooling'>, target: KernelBody): Result<Cutter, StepFailure> {
  const { kernel, project } = context;
  const box = roughBounds(kernel, target.shape);
  const size = Math.hypot(...box.max.map((m, k) => m - box.min[k]!));
  const middle = box.min.map((m, k) => (m + box.max[k]!) / 2) as [number, number, number];
  switch (inputs.by) {
    case 'plane': {
      const frame = frameOf(inputs.plane, context.planes, project);
      if (!frame.ok) return frame;
      return ok({
        words: 'the plane',
        flat: true,
        turned: { plane: frame.value },
        first: (p) => heightOver(frame.value, p) > 0,
        make: (s) => [squareAcross(kernel, s, frame.value, target.shape)],
      });
    }
    case 'profile': {
      if (!inputs.profile)
        return fail({ what: 'the cut is not chosen', why: 'no drawing is chosen', unfinished: true, tryInstead: ['choose a drawing'] });
      const placed = placedProfile(context, inputs.profile);
      if (!placed.ok) return placed;
      const { frame, resolved, profile } = placed.value;
      const curves = resolved.curves.filter((c) => !c.construction);
      if (curves.length === 0)
        return fail({ what: 'there is no line to split by', why: `${profile.name} is empty`, tryInstead: ['draw the line on the board'] });
      const reach = size + Math.abs(heightOver(frame, middle));
      const n = normalOf(frame);
      return ok({
        words: profile.name,
        first: (p) => {
          const q = toPlane(frame, p);
          const near = curves.map((c) => ({ c, n: nearestOn(c.curve, q) })).sort((a, b) => a.n.distance - b.n.distance)[0]!;
          const [at, u] = [pointAt(near.c.curve, near.n.t), tangentAt(near.c.curve, near.n.t)];
          return u.x * (q.y - at.y) - u.y * (q.x - at.x) > 0;
        },
        make: (s) => {
          const low: Frame = { ...frame, origin: along(frame.origin, n, -reach) };
          const vector = s.keep(new kernel.gp_Vec(2 * reach * n[0], 2 * reach * n[1], 2 * reach * n[2]));
          return curves.map((c) =>
            s.keep(new kernel.BRepPrimAPI_MakePrism(makeEdge(kernel, s, c.curve, low), vector, false, true)).Shape(),
          );
        },
      });
    }
    case 'body': {
      if (!inputs.tool || inputs.tool === inputs.body)
        return fail({
          what: 'the cut is not chosen',
          why: 'a second body is wanted',
          unfinished: true,
          tryInstead: ['choose another body'],
        });
      const tool = needBody(context, inputs.tool, 'the cut is missing');
      if (!tool.ok) return tool;
      const words = bodyWords(inputs.tool, project);
      if (!tool.value.surface)
        return ok({ words, first: () => true, make: () => [tool.value.shape], solid: tool.value, turned: { tool: tool.value } });
      return ok({ words, first: (p) => inFront(kernel, tool.value.shape, p), make: () => [tool.value.shape] });
    }
  }
}

/** Whether a place lies on the side a surface's normals point to, where it is nearest. */
function inFront(kernel: Kernel, surface: Shape, p: Vec3): boolean {
  return scoped((s) => {
    const v = s.keep(vertexAt(kernel, p));
    let best: { d: number; front: boolean } | undefined;
    for (const face of facesOf(kernel, surface)) {
      const hit = distanceBetween(kernel, face, v);
      if (!hit || (best && hit.distance > best.d - 1e-9)) continue;
      const frame = touching(kernel, face, p);
      const n = frame && normalOf(frame);
      if (n) best = { d: hit.distance, front: (p[0] - hit.onA[0]) * n[0] + (p[1] - hit.onA[1]) * n[1] + (p[2] - hit.onA[2]) * n[2] > 0 };
    }
    return best?.front ?? true;
  });
}

/** A place well inside a face: the middle of its largest facet. */
function placeOn(kernel: Kernel, face: Shape): Vec3 {
  const { positions: p, indices } = tessellate(kernel, face, displayDeflection(kernel, face));
  let best = { area: -1, at: [0, 0, 0] as Vec3 };
  for (let t = 0; t < indices.length; t += 3) {
    const corner = (k: number): Vec3 => triple((x) => p[3 * indices[t + k]! + x]!);
    const [a, b, c] = [corner(0), corner(1), corner(2)];
    const area = Math.hypot(...cross(minus(b, a), minus(c, a)));
    if (area > best.area) best = { area, at: triple((k) => (a[k]! + b[k]! + c[k]!) / 3) };
  }
  return best.at;
}

/** Faces that hang together by shared edges, as shells. */
function shells(kernel: Kernel, s: Scope, faces: readonly TopoDS_Face[]): Shape[] {
  const group = faces.map((_, i) => i);
  const root = (i: number): number => (group[i] === i ? i : root(group[i]!));
  for (const { faces: pair } of edgesWithFaces(kernel, faces)) for (const f of pair.slice(1)) group[root(f)] = root(pair[0]!);
  return [...new Set(faces.map((_, i) => root(i)))].map((r) =>
    shellOf(
      kernel,
      s,
      faces.filter((_, i) => root(i) === r),
    ),
  );
}

/** A body parted by a cutter, its pieces in an order that small changes of size leave alone. Undefined where the kernel computes no cut. */
export function parted(
  kernel: Kernel,
  target: KernelBody,
  cutter: Cutter,
  stepId: string,
): { pieces: { shape: Shape; first: boolean }[]; claims: Claim[] } | undefined {
  return scoped((s) => {
    const run = (
      op: { SetArguments: (l: never) => void; SetTools: (l: never) => void } & Parameters<typeof inherit>[1] & {
          SetNonDestructive(f: boolean): void;
          Build(): void;
          IsDone(): boolean;
          Shape(): Shape;
        },
    ) => {
      const args = s.keep(new kernel.NCollection_List_TopoDS_Shape());
      args.Append(target.shape);
      const tools = s.keep(new kernel.NCollection_List_TopoDS_Shape());
      for (const t of cutter.make(s)) tools.Append(t);
      op.SetArguments(args as never);
      op.SetTools(tools as never);
      op.SetNonDestructive(true);
      op.Build();
      if (!op.IsDone()) return undefined;
      const claims = inherit(kernel, op, facesOf(kernel, target.shape), target.faces);
      if (cutter.solid) claims.push(...inherit(kernel, op, facesOf(kernel, cutter.solid.shape), cutter.solid.faces));
      const skins = target.surface ? facesOf(kernel, op.Shape()) : [];
      const solids = solidsOf(kernel, op.Shape());
      // The new faces are named by the step on either side of the cut.
      for (const solid of solids)
        for (const f of facesOf(kernel, solid))
          if (!claims.some((c) => c.shape.IsSame(f))) claims.push({ shape: f, name: `${stepId}/cut` });
      return { solids, skins, claims };
    };
    if (cutter.solid) {
      const outside = run(s.keep(new kernel.BRepAlgoAPI_Cut()));
      const inside = run(s.keep(new kernel.BRepAlgoAPI_Common()));
      if (!outside || !inside) return undefined;
      const [out, within] = [outside, inside].map((r) => (target.surface ? shells(kernel, s, r.skins) : r.solids)) as [Shape[], Shape[]];
      return {
        pieces: [...out.map((shape) => ({ shape, first: true })), ...within.map((shape) => ({ shape, first: false }))],
        claims: [...outside.claims, ...inside.claims],
      };
    }
    const done = run(s.keep(new kernel.BRepAlgoAPI_Splitter()));
    if (!done) return undefined;
    const sided = done.skins.map((face) => ({ face, first: cutter.first(placeOn(kernel, face)) }));
    const placed = target.surface
      ? [true, false].flatMap((first) =>
          shells(
            kernel,
            s,
            sided.filter((f) => f.first === first).map((f) => f.face),
          ).map((shape) => ({ shape, centroid: centreOf(kernel, shape), first })),
        )
      : done.solids.map((shape) => {
          const { centroid } = volumeOf(kernel, shape);
          return { shape, centroid, first: cutter.first(centroid) };
        });
    // An order of the pieces that small changes of size leave alone.
    placed.sort((a, b) => Number(b.first) - Number(a.first) || byPlace(a.centroid, b.centroid));
    return { pieces: placed, claims: done.claims };
  });
}
