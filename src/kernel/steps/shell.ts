/** Hollows a body to an even wall, inwards, open at the faces picked or closed all round. */
import type { ShellInputs } from '../../core/recipe/steps';
import { bodyWords, faceRefWords, faceWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, type KernelBody, type StepFailure } from '../body';
import { largestWorking, roundDown } from '../largest';
import { type Claim, listOf, namedEdges, nameFaces } from '../names';
import { attempt, type Kernel, type Shape, scoped } from '../open';
import { type FoundFace, lostOn, selectFaces } from '../select';
import { facesOf, roughBounds, volumeOf } from '../shapes';
import { wallLimits } from '../swallow';
import { deflectionFor, verifySolid, verifyWall } from '../verify';
import { changed, type StepContext, type StepOutcome, type Trial } from './operation';

export function shell(context: StepContext): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs as ShellInputs;
  const body = context.bodies.get(inputs.body);
  if (!body)
    return fail({
      what: 'there is nothing to hollow',
      why: 'the body it names is not made by an earlier step',
      tryInstead: ['choose a body'],
    });
  const open = selectFaces(kernel, body, inputs.open);
  if (!open.ok)
    return fail({
      what: `the ${faceRefWords(open.error.ref as never, project)} no longer exists`,
      why: 'an earlier change removed the face it was to be open at',
      tryInstead:
        open.error.candidates.length > 0
          ? open.error.candidates.map((c) => `open it at the ${faceWords(c, project)}`)
          : ['pick another face to open'],
      ...lostOn(inputs.body, open.error),
    });
  if (open.value.length === body.faces.length)
    return fail({
      what: 'every face is picked as open',
      why: 'nothing would be left to have a wall',
      tryInstead: ['leave at least one face closed'],
    });
  const wall = context.values.wall!;
  const name = bodyWords(inputs.body, project);
  const done = hollow(kernel, body, open.value, wall, step.id);
  if (done.ok) {
    const warnings = open.value.length === 0 ? [{ message: `no face is open: the cavity in ${name} is sealed` }] : [];
    return changed(inputs.body, body, done.value, warnings);
  }
  const box = roughBounds(kernel, body.shape);
  const most = Math.min(wall, Math.max(...box.max.map((m, k) => m - box.min[k]!)) / 2);
  const best = largestWorking((t) => hollow(kernel, body, open.value, t, step.id).ok, most);
  return fail({
    what: `${name} can't be hollowed to ${wall.toFixed(2)} mm`,
    why: done.error.why,
    tryInstead:
      best === undefined
        ? ['no thinner wall worked either; hollow before the last details, or open another face']
        : [`a wall of ${roundDown(best)} mm works`],
    ...(done.error.at ? { at: done.error.at } : {}),
  });
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
): Result<KernelBody, Pick<StepFailure, 'why' | 'at'>> {
  const made = attempt(kernel, () =>
    open.length > 0 ? openShell(kernel, body, open, wall, stepId) : sealedShell(kernel, body, wall, stepId),
  );
  if (!made.ok || !made.value) return fail({ why: 'the inside walls run into each other before they meet' });
  const { shape, kept, inner, rim } = made.value;
  const box = roughBounds(kernel, body.shape);
  const verified = verifySolid(kernel, shape, { volume: [0, body.volume * (1 - 1e-9)], inside: box, deflection: deflectionFor(wall, box) });
  if (!verified.ok) return fail({ why: verified.error.check === 'volume' ? 'no cavity of that wall exists' : verified.error.why });
  const faces = facesOf(kernel, verified.value.shape);
  const indices = (claims: readonly Claim[]): Set<number> =>
    new Set(faces.flatMap((f, i) => (claims.some((c) => c.shape.IsSame(f)) ? [i] : [])));
  const walls = verifyWall(kernel, verified.value, wall, indices(inner), indices(kept));
  if (!walls.ok) return fail({ why: walls.error.why });
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, [...kept, ...inner, ...rim], stepId)));
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
    return { shape: maker.Shape(), kept, inner, rim };
  });
}

/** Without an open face the kernel's builder gives only the inner solid: offset it and cut it out. */
function sealedShell(kernel: Kernel, body: KernelBody, wall: number, stepId: string): Made | undefined {
  return scoped((s) => {
    const offset = s.keep(new kernel.BRepOffsetAPI_MakeOffsetShape());
    offset.PerformByJoin(body.shape, -wall, TOLERANCE, 'BRepOffset_Skin', true, false, 'GeomAbs_Arc', false);
    if (!offset.IsDone()) return undefined;
    const inside = offset.Shape();
    const { volume } = volumeOf(kernel, inside);
    if (Math.abs(volume) >= body.volume) return undefined;
    const core = volume < 0 ? inside.Reversed() : inside;
    const args = s.keep(new kernel.NCollection_List_TopoDS_Shape());
    args.Append(body.shape);
    const tools = s.keep(new kernel.NCollection_List_TopoDS_Shape());
    tools.Append(core);
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
    return { shape: cut.Shape(), kept, inner, rim: [] };
  });
}

/** The same step once more with another wall: what its range is tried with. */
export async function shellTrial(context: StepContext): Promise<Trial | undefined> {
  const { kernel, project, step } = context;
  const inputs = step.inputs as ShellInputs;
  const body = context.bodies.get(inputs.body);
  if (!body) return undefined;
  const open = selectFaces(kernel, body, inputs.open);
  if (!open.ok) return undefined;
  const limits = await wallLimits(kernel, body, new Set(open.value.map((f) => f.index)));
  const widest = limits?.widestAt;
  return {
    room: widest && {
      limit: widest.width / 2,
      words: `${bodyWords(inputs.body, project)}, ${fixed(widest.width, 2)} mm across at its widest`,
      at: widest.at,
    },
    works: (wall) => hollow(kernel, body, open.value, wall, step.id).ok,
  };
}
