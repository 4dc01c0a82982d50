/** Union, difference and intersection of verified bodies: one kernel operation for many tools, named and verified. */
import type { Bounds } from '../core/mesh/mesh';
import type { CombineMode } from '../core/recipe/steps';
import { fail, ok, type Result } from '../core/result';
import { asBody, type KernelBody, type StepFailure } from './body';
import { inherit, nameFaces } from './names';
import { attempt, type Kernel, scoped } from './open';
import { distanceBetween, facesOf, roughBounds } from './shapes';
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

/**
 * @param stepId names faces nobody claims
 * @returns the one solid that results, or in words why not; an error of the check alone is worth trying with another seam
 */
export function booleanOf(
  kernel: Kernel,
  mode: Mode,
  target: KernelBody,
  tools: readonly KernelBody[],
  words: Wording,
  stepId: string,
): Result<KernelBody, StepFailure> {
  const skin = target.surface ? words.target : tools.some((t) => t.surface) ? words.tool : undefined;
  if (skin)
    return fail({
      what: `${words.tool} could not be ${DONE_TO[mode]} ${words.target}`,
      why: `${skin} is a surface and has no inside`,
      tryInstead: ['split by the surface instead', 'give it a wall, or close it, first'],
    });
  const turned = turnedBoolean(kernel, mode, target, tools, stepId);
  if (turned) return ok(turned);
  const what = `${words.tool} could not be ${DONE_TO[mode]} ${words.target}`;
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
      op.Build();
      if (!op.IsDone()) return undefined;
      const claims = [target, ...tools].flatMap((b) => inherit(kernel, op, facesOf(kernel, b.shape), b.faces));
      return { shape: op.Shape(), claims };
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
  const verified = verifySolid(kernel, made.value.shape, {
    simple: true,
    volume: volume[mode],
    inside: mode === 'join' ? tools.reduce((all, t) => around(all, roughBounds(kernel, t.shape)), box) : box,
    deflection: displayDeflection(kernel, target.shape),
  });
  // How far apart two bodies are takes longer than most booleans: it is asked only where nothing came of one.
  const nothing = !verified.ok || (mode === 'cut' && Math.abs(verified.value.volume - a) <= 1e-9 * a);
  const away = nothing ? beside(kernel, mode, target, tools, words) : undefined;
  if (away) return fail(away);
  if (!verified.ok)
    return fail({
      what,
      why: verified.error.why,
      tryInstead: [
        mode === 'join'
          ? 'let the two overlap more clearly'
          : mode === 'cut'
            ? 'keep the cut inside the body, or make it smaller'
            : 'move one of them',
      ],
    });
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, stepId)));
}

/** Why nothing could come of a boolean whose bodies lie apart. Undefined where they touch. */
function beside(kernel: Kernel, mode: Mode, target: KernelBody, tools: readonly KernelBody[], words: Wording): StepFailure | undefined {
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
