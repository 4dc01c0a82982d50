/** Union, difference and intersection of verified bodies: one kernel operation for many tools, named and verified. */
import type { Bounds } from '../core/mesh/mesh';
import type { CombineMode } from '../core/recipe/steps';
import { fail, ok, type Result } from '../core/result';
import { asBody, type KernelBody, type StepFailure } from './body';
import { knit } from './knit';
import { type Claim, inherit, nameFaces } from './names';
import { attempt, type Kernel, scoped } from './open';
import { compoundOf, distanceBetween, facesOf, roughBounds, solidsOf } from './shapes';
import { displayDeflection } from './tessellate';
import { turnedBoolean } from './turned-steps';
import { verifySolid } from './verify';

type Mode = CombineMode;

/** What the bodies are called in messages. */
export interface Wording {
  readonly target: string;
  readonly tool: string;
}

const DONE_TO: Readonly<Record<Mode, string>> = { join: 'joined to', cut: 'cut from', common: 'intersected with' };

/** What a boolean leaves: solids apart from each other, each verified. */
export interface Parts {
  readonly pieces: readonly KernelBody[];
  /** Names of the faces of all of them. */
  readonly claims: readonly Claim[];
  /** How many of the tools left no face on the result: they meet nothing, or lie wholly inside. */
  readonly idle: number;
  readonly note?: string;
}

/**
 * @param stepId names faces nobody claims
 * @returns the one solid that results, or in words why not; an error of the check alone is worth trying with another seam.
 * A body that was several solids may stay so.
 */
export function booleanOf(
  kernel: Kernel,
  mode: Mode,
  target: KernelBody,
  tools: readonly KernelBody[],
  words: Wording,
  stepId: string,
): Result<KernelBody, StepFailure> {
  const made = booleanParts(kernel, mode, target, tools, words, stepId);
  if (!made.ok) return made;
  const { pieces, claims } = made.value;
  if (pieces.length === 1) return ok(pieces[0]!);
  if (target.pieces) return ok(asOneBody(kernel, pieces, claims, stepId));
  const away = beside(kernel, mode, target, tools, words);
  if (away) return fail(away);
  return fail({
    what: notDone(mode, words),
    why: `the result falls into ${pieces.length} separate pieces`,
    tryInstead: [otherwise(mode)],
  });
}

export const notDone = (mode: Mode, words: Wording): string => `${words.tool} could not be ${DONE_TO[mode]} ${words.target}`;
const otherwise = (mode: Mode): string =>
  mode === 'join'
    ? 'let the two overlap more clearly'
    : mode === 'cut'
      ? 'keep the cut inside the body, or make it smaller'
      : 'move one of them';

/** Several verified solids that lie apart, as one body. */
export function asOneBody(kernel: Kernel, pieces: readonly KernelBody[], claims: readonly Claim[], stepId: string): KernelBody {
  const shape = compoundOf(
    kernel,
    pieces.map((p) => p.shape),
  );
  return {
    shape,
    faces: nameFaces(kernel, shape, claims, stepId),
    volume: pieces.reduce((sum, p) => sum + p.volume, 0),
    pieces: pieces.length,
  };
}

/** The same with every solid that results. @param hair edges that lie nearer to each other are taken for one, mm */
export function booleanParts(
  kernel: Kernel,
  mode: Mode,
  target: KernelBody,
  tools: readonly KernelBody[],
  words: Wording,
  stepId: string,
  hair = 0,
): Result<Parts, StepFailure> {
  const what = notDone(mode, words);
  if (mode === 'join' && target.surface && tools.every((t) => t.surface)) {
    const made = knit(kernel, [target, ...tools], words, stepId);
    return made.ok ? ok({ pieces: [made.value.body], claims: [], idle: 0, note: made.value.note }) : made;
  }
  const skin = target.surface ? words.target : tools.some((t) => t.surface) ? words.tool : undefined;
  if (skin)
    return fail({
      what,
      why: `${skin} is a surface and has no inside`,
      tryInstead: ['split by the surface instead', 'give it a wall, or close it, first'],
    });
  const turned = turnedBoolean(kernel, mode, target, tools, stepId);
  if (turned) return ok({ pieces: [turned], claims: [], idle: 0 });
  if (mode === 'common' && tools.length > 1) {
    // Tools that run into each other would leave the cells between them as pieces.
    const united = booleanParts(kernel, 'join', tools[0]!, tools.slice(1), { target: words.tool, tool: words.tool }, stepId);
    if (!united.ok) return united;
    if (united.value.pieces.length < tools.length) return booleanParts(kernel, mode, target, united.value.pieces, words, stepId, hair);
  }
  const made = attempt(kernel, () =>
    scoped((s) => {
      const args = s.keep(new kernel.NCollection_List_TopoDS_Shape());
      args.Append(target.shape);
      const list = s.keep(new kernel.NCollection_List_TopoDS_Shape());
      for (const t of tools) list.Append(t.shape);
      const op = s.keep(
        mode === 'join' ? new kernel.BRepAlgoAPI_Fuse() : mode === 'cut' ? new kernel.BRepAlgoAPI_Cut() : new kernel.BRepAlgoAPI_Common(),
      );
      op.SetArguments(args);
      op.SetTools(list);
      op.SetNonDestructive(true);
      if (hair > 0) op.SetFuzzyValue(hair);
      op.Build();
      if (!op.IsDone()) return undefined;
      const [own, ...others] = [target, ...tools].map((b) => inherit(kernel, op, facesOf(kernel, b.shape), b.faces));
      return { shape: op.Shape(), claims: [...own!, ...others.flat()], idle: others.filter((c) => c.length === 0).length };
    }),
  );
  if (!made.ok || !made.value) {
    const away = beside(kernel, mode, target, tools, words);
    if (away) return fail(away);
    if (!made.ok)
      return fail({ what, why: made.error, tryInstead: ['move one of them a little, so that faces do not just graze each other'] });
    return fail({ what, why: 'the kernel could not compute the intersection', tryInstead: ['move one of them a little'] });
  }
  const a = target.volume;
  const b = tools.reduce((sum, t) => sum + t.volume, 0);
  const largest = Math.max(a, ...tools.map((t) => t.volume));
  const slack = 1e-6 * (a + b);
  const volume: Readonly<Record<Mode, readonly [number, number]>> = {
    join: [largest - slack, a + b + slack],
    cut: [Math.max(0, a - b - slack), a + slack],
    common: [0, Math.min(a, b) + slack],
  };
  const box = roughBounds(kernel, target.shape);
  const solids = solidsOf(kernel, made.value.shape);
  const [least, most] = volume[mode];
  const inside = mode === 'join' ? tools.reduce((all, t) => around(all, roughBounds(kernel, t.shape)), box) : box;
  const deflection = displayDeflection(kernel, target.shape);
  const verified = (solids.length > 1 ? solids : [made.value.shape]).map((shape) =>
    verifySolid(kernel, shape, { simple: true, volume: [solids.length > 1 ? 0 : least, most], inside, deflection }),
  );
  const wrong = verified.find((v) => !v.ok);
  const sum = verified.reduce((n, v) => n + (v.ok ? v.value.volume : 0), 0);
  // How far apart two bodies are takes longer than most booleans: it is asked only where nothing came of one.
  const nothing = wrong !== undefined || (mode === 'cut' && Math.abs(sum - a) <= 1e-9 * a);
  const away = nothing ? beside(kernel, mode, target, tools, words) : undefined;
  if (away) return fail(away);
  if (wrong && !wrong.ok) return fail({ what, why: wrong.error.why, tryInstead: [otherwise(mode)] });
  if (!(sum > least && sum < most))
    return fail({ what, why: 'the result does not have a volume that can be right', tryInstead: [otherwise(mode)] });
  const { claims, idle } = made.value;
  return ok({
    pieces: verified.flatMap((v) => (v.ok ? [asBody(v.value, nameFaces(kernel, v.value.shape, claims, stepId))] : [])),
    claims,
    idle,
  });
}

/** Why nothing could come of a boolean whose bodies lie apart. Undefined where they touch. */
export function beside(
  kernel: Kernel,
  mode: Mode,
  target: KernelBody,
  tools: readonly KernelBody[],
  words: Wording,
): StepFailure | undefined {
  const apart = tools.map((t) => distanceBetween(kernel, target.shape, t.shape)).filter((d) => d !== undefined && d.distance > 1e-6);
  // A pattern may leave some of its cuts beside the body, but a joined piece must touch something.
  const stranded = mode === 'join' ? apart[0] : apart.length === tools.length ? apart[0] : undefined;
  if (stranded && !(mode === 'join' && tools.length > 1)) {
    const gap = stranded.distance.toFixed(2);
    if (mode === 'join')
      return {
        what: `${words.tool} does not touch ${words.target}`,
        why: `there is a gap of ${gap} mm between them`,
        tryInstead: [`let ${words.tool} overlap ${words.target}`, 'make it a new body'],
        at: stranded.onA,
      };
    return {
      what: mode === 'cut' ? `${words.tool} cuts nothing from ${words.target}` : `${words.tool} and ${words.target} have nothing in common`,
      why: `it lies ${gap} mm away from it`,
      tryInstead: [`move ${words.tool} into the body`],
      at: stranded.onA,
    };
  }
  return undefined;
}

const around = (a: Bounds, b: Bounds): Bounds => ({
  min: a.min.map((m, k) => Math.min(m, b.min[k]!)) as [number, number, number],
  max: a.max.map((m, k) => Math.max(m, b.max[k]!)) as [number, number, number],
});
