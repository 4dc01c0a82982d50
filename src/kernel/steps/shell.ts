/** Hollows a body to an even wall, to either side of its skin, open at the faces picked or closed all round. */

import type { Vec3 } from '../../core/geometry/vectors';
import { wholeFace } from '../../core/recipe/names';
import type { ShellInputs } from '../../core/recipe/steps';
import { otherHollows } from '../../core/recipe/steps/shell';
import { bodyWords, faceWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { largestSoftening } from '../../core/turned/soften';
import { fixed } from '../../core/units/units';
import { volumeOf } from '../amounts';
import { asBody, type Fix, type KernelBody, type StepFailure, withNames } from '../body';
import { booleanOf } from '../boolean';
import { checking } from '../clock';
import { formHollow } from '../form-hollow';
import { largestWorking, roundDown } from '../largest';
import { type Claim, listOf, namedEdges, nameFaces } from '../names';
import { type ThickestWall, thickestWall } from '../obtained';
import { attempt, type Kernel, type Shape, scoped } from '../open';
import { type OwnWall, type WallAt, withOwnWalls } from '../own-walls';
import { flatFrame, pickedFaces } from '../refer';
import { type FoundFace, selectFaces } from '../select';
import { facesOf, roughBounds, solidsOf } from '../shapes';
import { plannedStraightHollow, straightHollow, straightLimit } from '../straight';
import { narrowest, wallLimits } from '../swallow';
import { onBody } from '../turned';
import { plannedHollow, turnedHollow, turnedLimits, turnedOutward } from '../turned-steps';
import { deflectionFor, verifySolid, verifyWall } from '../verify';
import { type ContextOf, changed, type StepOutcome, type StepWarning, type Trial } from './operation';

export function shell(context: ContextOf<'shell'>): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs;
  const body = context.bodies.get(inputs.body);
  if (!body)
    return fail({
      what: 'there is nothing to hollow',
      why: 'the body it names is not made by an earlier step',
      tryInstead: ['choose a body'],
    });
  const open = pickedFaces(context, inputs.body, body, inputs.open, {
    gone: 'an earlier change removed the face it was to be open at',
    offer: (face) => `open it at the ${face}`,
    otherwise: 'pick another face to open',
  });
  if (!open.ok) return open;
  if (open.value.length === body.faces.length)
    return fail({
      what: 'every face is picked as open',
      why: 'nothing would be left to have a wall',
      tryInstead: ['leave at least one face closed'],
    });
  const wall = context.values.wall;
  const name = bodyWords(inputs.body, project);
  const side = inputs.side ?? 'inward';
  const own = ownWalls(context, body, inputs);
  if (!own.ok) return own;
  const outline = side === 'inward' ? onOutline(kernel, body, open.value, step.id) : undefined;
  const exact = outline && hollowedOnOutline(context, body, outline, open.value, own.value);
  if (exact) return exact;
  const began = performance.now();
  const done = hollow(kernel, body, open.value, wall, step.id, side);
  if (done.ok) {
    const thick = withOwnWalls(
      kernel,
      body,
      done.value,
      own.value,
      wall,
      context.values.floor,
      { under: wallAt(kernel, 'inward', step.id), over: wallAt(kernel, 'outward', step.id) },
      step.id,
    );
    if (!thick.ok) return thick;
    const outcome = changed(inputs.body, body, thick.value, sealedWarning(open.value, name));
    const least = own.value.length > 0 ? Math.min(wall, context.values.floor) : wall;
    return outcome.ok ? ok({ ...outcome.value, note: wallNote(least, obtained(kernel, body, thick.value, step.id)) }) : outcome;
  }
  const took = performance.now() - began;
  const box = roughBounds(kernel, body.shape);
  const most = Math.min(wall, Math.max(...box.max.map((m, k) => m - box.min[k]!)) / 2);
  const narrow = side === 'inward' ? narrowest(kernel, body, new Set(open.value.map((f) => f.index))) : undefined;
  const room = narrow && narrow.width < 2 * wall ? narrow : undefined;
  const best = largestWorking((t) => hollow(kernel, body, open.value, t, step.id, side).ok, most, took, {
    guess: room && room.width / 2,
  });
  const error = room
    ? { why: `it is ${fixed(room.width, 2)} mm thin here, and both its walls take ${fixed(2 * wall, 2)} mm`, at: room.at }
    : done.error;
  return refusal(context, wall, error, best, false);
}

/** Why a wall does not go, and what does. @param best a wall that works, mm @param exact it is the largest there is */
function refusal(
  context: ContextOf<'shell'>,
  wall: number,
  error: Pick<StepFailure, 'why' | 'at'>,
  best: number | undefined,
  exact: boolean,
): StepOutcome {
  const { project, step } = context;
  const inputs = step.inputs;
  const name = bodyWords(inputs.body, project);
  const offer = best === undefined ? undefined : `${roundDown(best)} mm`;
  const fixes: Fix[] = [
    ...(offer ? [{ words: `Use a wall of ${offer}`, step: step.id, values: { wall: offer } }] : []),
    ...otherHollows(step, wall),
  ];
  return fail({
    what: `${name} can't be hollowed to ${wall.toFixed(2)} mm`,
    why: exact && best !== undefined ? `${error.why}: the last of the inside is gone at ${fixed(best, 3)} mm` : error.why,
    tryInstead: [offer === undefined ? 'hollow it before its last details, or open another face' : `a wall of ${offer} works`],
    fixes,
    ...(error.at ? { at: error.at } : {}),
  });
}

const sealedWarning = (open: readonly unknown[], name: string): StepWarning[] =>
  open.length === 0 ? [{ message: `no face is open: the cavity in ${name} is sealed` }] : [];

type WallOf = (face: string) => number;

/** What the outline of a turned or straight body tells of its hollow, exactly. */
interface OnOutline {
  /** Undefined where the outline can't tell, and the kernel tries. `most` is what the wall came out as at its thickest. */
  readonly hollow: (
    wall: WallOf,
  ) => Result<{ readonly body: KernelBody; readonly most: () => Obtained | undefined }, Pick<StepFailure, 'why' | 'at'>> | undefined;
  /** Whether a wall leaves one body with a cavity in it, without making it. */
  readonly goes: (wall: WallOf) => boolean;
  /** From which wall on no inside is left, mm, and where it is last. */
  readonly limit: () => { readonly value: number; readonly at: Vec3 };
  /** Whether it tells of every wall. */
  readonly tellsAll: boolean;
}

function onOutline(kernel: Kernel, body: KernelBody, open: readonly FoundFace[], stepId: string): OnOutline | undefined {
  const opened = new Set(open.map((f) => body.faces[f.index]!));
  const { turned, straight } = body;
  if (turned)
    return {
      hollow: (wall) => {
        const done = turnedHollow(kernel, turned, opened, wall, stepId);
        if (!done?.ok) return done;
        const { most, samples } = done.value;
        return ok({ body: done.value.body, most: () => ({ wall: most, samples }) });
      },
      goes: (wall) => plannedHollow(turned, opened, wall, stepId)?.body.length === 1,
      limit: () => {
        const { largest } = turnedLimits(turned, opened);
        return { value: largest.value, at: onBody(turned, largest.x, largest.y) };
      },
      tellsAll: true,
    };
  if (straight)
    return {
      hollow: (wall) => {
        const done = straightHollow(kernel, body, straight, opened, wall, stepId);
        return done?.ok ? ok({ body: done.value, most: () => obtained(kernel, body, done.value, stepId) }) : done;
      },
      goes: (wall) => plannedStraightHollow(straight, opened, wall, stepId)?.body.length === 1,
      limit: () => straightLimit(straight, opened),
      tellsAll: !straight.section.loops.flat().some((c) => opened.has(c.face)) || (opened.has(straight.start) && opened.has(straight.end)),
    };
  return undefined;
}

/** The hollow by the outline; undefined where that can't tell. */
function hollowedOnOutline(
  context: ContextOf<'shell'>,
  body: KernelBody,
  outline: OnOutline,
  open: readonly FoundFace[],
  own: readonly OwnWall[],
): StepOutcome | undefined {
  const inputs = context.step.inputs;
  const { wall, floor } = context.values;
  const done = outline.hollow(ownWallOf(wall, floor, own));
  if (!done) return undefined;
  if (done.ok) {
    const outcome = changed(inputs.body, body, done.value.body, sealedWarning(open, bodyWords(inputs.body, context.project)));
    const least = own.length > 0 ? Math.min(wall, floor) : wall;
    return outcome.ok ? ok({ ...outcome.value, note: wallNote(least, done.value.most()) }) : outcome;
  }
  // Exact for one wall, by halving beside walls of their own.
  const goes = (w: number): boolean => outline.goes(ownWallOf(w, floor, own));
  const most = Math.min(wall, outline.limit().value);
  const best = goes(most * (1 - 1e-6)) ? most * (1 - 1e-6) : largestSoftening(goes, most);
  return refusal(context, wall, done.error, best, best !== undefined);
}

const ownWallOf =
  (wall: number, floor: number, own: readonly OwnWall[]): WallOf =>
  (face) =>
    own.some((o) => wholeFace(o.name) === wholeFace(face)) ? floor : wall;

/** The faces with a wall of their own. */
function ownWalls(context: ContextOf<'shell'>, body: KernelBody, inputs: ShellInputs): Result<OwnWall[], StepFailure> {
  if ((inputs.side ?? 'inward') !== 'inward' || !inputs.other?.length) return ok([]);
  const found = pickedFaces(context, inputs.body, body, inputs.other, {
    gone: 'an earlier change removed the face that has a wall of its own',
    otherwise: 'pick another face',
  });
  if (!found.ok) return found;
  return ok(found.value.map(({ index }) => ({ name: body.faces[index]!, words: faceWords(body.faces[index]!, context.project) })));
}

/** The wall of one face: a shell of the body that is open at all others. */
const wallAt =
  (kernel: Kernel, side: 'inward' | 'outward', stepId: string): WallAt =>
  (body, face, wall) => {
    const others = facesOf(kernel, body.shape).flatMap((f, index) =>
      wholeFace(body.faces[index]!) === wholeFace(face) ? [] : [{ face: f, index }],
    );
    const made = hollow(kernel, body, others, wall, stepId, side);
    return made.ok ? made : fail(made.error.why);
  };

type Obtained = Pick<ThickestWall, 'wall' | 'samples'>;

/** What the wall came out as at its thickest, between the old skin and the faces that are new, rims aside. */
function obtained(kernel: Kernel, before: KernelBody, shell: KernelBody, stepId: string): Obtained | undefined {
  const kept = new Set(before.faces.map(wholeFace));
  const outer = (n: string): boolean => n.startsWith(`${stepId}/outer`);
  return checking(() =>
    thickestWall(kernel, shell, (n) => n.startsWith(`${stepId}/inner`), shell.faces.some(outer) ? outer : (n) => kept.has(wholeFace(n))),
  );
}

/** @param least the wall at its thinnest, exact, mm */
function wallNote(least: number, most: Obtained | undefined): string {
  const up = most && most.wall > 1.01 * least ? `, up to ${fixed(most.wall, 2)} mm` : '';
  return `wall ${fixed(least, 2)} mm at its thinnest${up}${most ? `, measured at ${most.samples} places` : ''}`;
}

const TOLERANCE = 1e-4;

interface Made {
  readonly shape: Shape;
  /** Faces of the old skin that stay, and faces of the cavity, with their names. */
  readonly kept: readonly Claim[];
  readonly inner: readonly Claim[];
  readonly rim: readonly Claim[];
}

/** The hollowed body, verified down to the exact wall, or why not. */
export function hollow(
  kernel: Kernel,
  body: KernelBody,
  open: readonly FoundFace[],
  wall: number,
  stepId: string,
  side: NonNullable<ShellInputs['side']> = 'inward',
): Result<KernelBody, Pick<StepFailure, 'why' | 'at'>> {
  if (side === 'centred') return centredShell(kernel, body, open, wall, stepId);
  if (body.turned) {
    const opened = new Set(open.map((f) => body.faces[f.index]!));
    const inside = side === 'inward' ? turnedHollow(kernel, body.turned, opened, () => wall, stepId) : undefined;
    if (inside) return inside.ok ? ok(inside.value.body) : inside;
    const outside = side === 'outward' ? turnedOutward(kernel, body.turned, opened, () => wall, stepId) : undefined;
    if (outside) return ok(outside);
  }
  // A form inside reaches through flat faces only: others that are open leave plates, which are the kernel's.
  const form = side === 'inward' && open.every((f) => flatFrame(kernel, f.face)) ? body.form : undefined;
  if (form && body.faces.length > MOST_FACES) return formHollow(kernel, body, form, open, wall, stepId);
  const first = kernelHollow(kernel, body, open, { asked: wall, built: wall }, stepId, side);
  if (first.ok) return first;
  // Beside creases that fade, the kernel's joins cut into the wall: a little more is built, and what is asked is kept.
  const built = first.error.wall === undefined ? wall : wall + 1.02 * (wall - first.error.wall);
  if (built > wall && built <= MOST_MORE * wall) {
    const again = kernelHollow(kernel, body, open, { asked: wall, built }, stepId, side);
    if (again.ok) return again;
  }
  const inside = form && formHollow(kernel, body, form, open, wall, stepId);
  return inside?.ok ? inside : first;
}

/** The kernel's shell of a form of more faces takes minutes. */
const MOST_FACES = 30;

/** How much more than the asked wall may be built so that it is kept everywhere, as a share of it. */
const MOST_MORE = 1.1;

/** By the kernel's own shell. @param wall what is built, and what must be kept */
function kernelHollow(
  kernel: Kernel,
  body: KernelBody,
  open: readonly FoundFace[],
  { asked, built }: { readonly asked: number; readonly built: number },
  stepId: string,
  side: 'inward' | 'outward',
): Result<KernelBody, Pick<StepFailure, 'why' | 'at'> & { readonly wall?: number | undefined }> {
  const out = side === 'outward';
  const made = attempt(kernel, () =>
    open.length > 0 ? openShell(kernel, body, open, out ? -built : built, stepId) : sealedShell(kernel, body, out ? -built : built, stepId),
  );
  if (!made.ok || !made.value) return fail({ why: 'the inside walls run into each other before they meet' });
  const { shape, kept, inner, rim } = made.value;
  const box = roughBounds(kernel, body.shape);
  const grown = out ? built * (1 + 1e-6) : 0;
  const verified = verifySolid(kernel, shape, {
    volume: [0, out ? Number.POSITIVE_INFINITY : body.volume * (1 - 1e-9)],
    inside: {
      min: box.min.map((m) => m - grown) as [number, number, number],
      max: box.max.map((m) => m + grown) as [number, number, number],
    },
    deflection: deflectionFor(asked, box),
    // Over a single face the builder leaves it inside out.
    either: true,
  });
  if (!verified.ok) return fail({ why: verified.error.check === 'volume' ? 'no cavity of that wall exists' : verified.error.why });
  const faces = facesOf(kernel, verified.value.shape);
  const indices = (claims: readonly Claim[]): Set<number> =>
    new Set(faces.flatMap((f, i) => (claims.some((c) => c.shape.IsSame(f)) ? [i] : [])));
  const walls = verifyWall(kernel, verified.value, asked, indices(inner), indices(kept), built);
  if (!walls.ok) return fail({ why: walls.error.why, wall: walls.error.wall });
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, [...kept, ...inner, ...rim], stepId)));
}

/** Half of the wall to either side: both shells, joined along the skin that was there. */
function centredShell(
  kernel: Kernel,
  body: KernelBody,
  open: readonly FoundFace[],
  wall: number,
  stepId: string,
): Result<KernelBody, Pick<StepFailure, 'why' | 'at'>> {
  const inside = hollow(kernel, body, open, wall / 2, stepId, 'inward');
  if (!inside.ok) return inside;
  const outside = hollow(kernel, body, open, wall / 2, stepId, 'outward');
  if (!outside.ok) return outside;
  // What was the skin lies between the two and is gone in the end.
  const outer = withNames(outside.value, (n) => n.replace(`${stepId}/inner(`, `${stepId}/outer(`));
  const joined = booleanOf(kernel, 'join', outer, [inside.value], { target: 'the outer half', tool: 'the inner half' }, stepId);
  if (!joined.ok) return fail({ why: joined.error.why });
  const sum = inside.value.volume + outside.value.volume;
  if (Math.abs(joined.value.volume - sum) > 1e-6 * sum) return fail({ why: 'the two halves of the wall do not meet along the skin' });
  return joined;
}

function openShell(kernel: Kernel, body: KernelBody, open: readonly FoundFace[], wall: number, stepId: string): Made | undefined {
  return scoped((s) => {
    const list = s.keep(new kernel.NCollection_List_TopoDS_Shape());
    for (const f of open) list.Append(f.face);
    const maker = s.keep(new kernel.BRepOffsetAPI_MakeThickSolid());
    // Intersection = true: more good shells, fewer wrong ones, at the same cost. Joining by arcs took a tenth of
    // the time of joining by intersection on spline bodies, and was right where the other was not.
    maker.MakeThickSolidByJoin(body.shape, list, -wall, TOLERANCE, 'BRepOffset_Skin', true, false, 'GeomAbs_Arc', false);
    maker.Build();
    if (!maker.IsDone()) return undefined;
    const opened = new Set(open.map((f) => f.index));
    const kept: Claim[] = [];
    const inner: Claim[] = [];
    const rim: Claim[] = [];
    facesOf(kernel, body.shape).forEach((face, i) => {
      const name = body.faces[i]!;
      const modified = listOf(kernel, maker.Modified(face));
      if (opened.has(i)) {
        for (const m of modified) rim.push({ shape: m, name: `${stepId}/rim(${name})` });
        return;
      }
      for (const m of modified.length > 0 ? modified : [face as Shape]) kept.push({ shape: m, name });
      for (const g of listOf(kernel, maker.Generated(face)))
        if (g.ShapeType() === 'TopAbs_FACE') inner.push({ shape: g, name: `${stepId}/inner(${name})` });
    });
    // Behind an inward crease the wall is kept by a round strip of its own.
    for (const e of namedEdges(kernel, body))
      if (e.name !== '')
        for (const g of listOf(kernel, maker.Generated(e.edge)))
          if (g.ShapeType() === 'TopAbs_FACE') inner.push({ shape: g, name: `${stepId}/inner(${e.name})` });
    const made = maker.Shape();
    const shape = solidsOf(kernel, made)[0] ?? made;
    return { shape, kept, inner: [...inner, ...cornersOf(kernel, shape, [...kept, ...inner, ...rim], stepId)], rim };
  });
}

/** Faces no face or edge is told of: round strips and balls about edges and corners. */
const cornersOf = (kernel: Kernel, shape: Shape, known: readonly Claim[], stepId: string): Claim[] =>
  facesOf(kernel, shape)
    .filter((f) => !known.some((c) => c.shape.IsSame(f)))
    .map((f) => ({ shape: f, name: `${stepId}/corner` }));

/** Without an open face the kernel's builder gives only the inner solid: offset it and cut it out. */
function sealedShell(kernel: Kernel, body: KernelBody, wall: number, stepId: string): Made | undefined {
  return scoped((s) => {
    const offset = s.keep(new kernel.BRepOffsetAPI_MakeOffsetShape());
    offset.PerformByJoin(body.shape, -wall, TOLERANCE, 'BRepOffset_Skin', true, false, 'GeomAbs_Arc', false);
    if (!offset.IsDone()) return undefined;
    const inside = offset.Shape();
    const { volume } = volumeOf(kernel, inside);
    if (wall > 0 ? Math.abs(volume) >= body.volume : Math.abs(volume) <= body.volume) return undefined;
    const core = volume < 0 ? inside.Reversed() : inside;
    // Outwards, what was there is cut from what lies about it.
    const args = s.keep(new kernel.NCollection_List_TopoDS_Shape());
    args.Append(wall > 0 ? body.shape : core);
    const tools = s.keep(new kernel.NCollection_List_TopoDS_Shape());
    tools.Append(wall > 0 ? core : body.shape);
    const cut = s.keep(new kernel.BRepAlgoAPI_Cut());
    cut.SetArguments(args);
    cut.SetTools(tools);
    cut.SetNonDestructive(true);
    cut.Build();
    if (!cut.IsDone()) return undefined;
    const kept: Claim[] = [];
    const inner: Claim[] = [];
    facesOf(kernel, body.shape).forEach((face, i) => {
      kept.push({ shape: face, name: body.faces[i]! });
      for (const g of listOf(kernel, offset.Generated(face))) {
        if (g.ShapeType() !== 'TopAbs_FACE') continue;
        const pieces = listOf(kernel, cut.Modified(g));
        for (const p of pieces.length > 0 ? pieces : [g]) inner.push({ shape: p, name: `${stepId}/inner(${body.faces[i]!})` });
      }
    });
    const shape = cut.Shape();
    return { shape, kept, inner: [...inner, ...cornersOf(kernel, shape, [...kept, ...inner], stepId)], rim: [] };
  });
}

/** The same step once more with another wall: what its range is tried with. */
export async function shellTrial(context: ContextOf<'shell'>): Promise<Trial | undefined> {
  const { kernel, project, step } = context;
  const inputs = step.inputs;
  const body = context.bodies.get(inputs.body);
  if (!body) return undefined;
  const open = selectFaces(kernel, body, inputs.open);
  if (!open.ok) return undefined;
  const room = (limit: number, at: Vec3): Trial['room'] => ({
    limit,
    words: `${bodyWords(inputs.body, project)}, ${fixed(2 * limit, 2)} mm across at its widest`,
    at,
  });
  const outline = (inputs.side ?? 'inward') === 'inward' ? onOutline(kernel, body, open.value, step.id) : undefined;
  if (outline?.tellsAll) {
    const { value, at } = outline.limit();
    const own = ownWalls(context, body, inputs);
    return {
      room: room(value, at),
      works: (wall) => outline.goes(ownWallOf(wall, context.values.floor, own.ok ? own.value : [])),
    };
  }
  const limits = await wallLimits(kernel, body, new Set(open.value.map((f) => f.index)));
  const widest = limits?.widestAt;
  return {
    room: widest && room(widest.width / 2, widest.at),
    works: (wall) => hollow(kernel, body, open.value, wall, step.id, inputs.side ?? 'inward').ok,
  };
}
