/** Two surfaces trimmed by each other, and joined along where they meet. */
import type { TrimInputs } from '../../core/recipe/steps/trim';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import type { Fix, KernelBody, StepFailure } from '../body';
import { knit } from '../knit';
import { needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';
import { partedBy, type Sides } from './split';

/** Trimmed borders lie on each other within this, mm. */
const WITHIN = 1e-3;

export function trim(context: ContextOf<'trim'>): StepOutcome {
  const { kernel, project, step } = context;
  const { body, tool } = step.inputs;
  const what = 'they can’t be trimmed by each other';
  if (!tool || tool === body)
    return fail({ what, why: 'a second surface is wanted', unfinished: true, tryInstead: ['choose another surface'] });
  const names = { target: bodyWords(body, project), tool: bodyWords(tool, project) };
  const both: [Sides?, Sides?] = [undefined, undefined];
  for (const [k, [own, other]] of [
    [body, tool],
    [tool, body],
  ].entries()) {
    const there = needBody(context, own!, 'there is nothing to trim');
    if (!there.ok) return there;
    if (!there.value.surface)
      return fail({
        what,
        why: `${bodyWords(own!, project)} is a solid`,
        tryInstead: ['split it by the surface instead', 'choose surfaces'],
      });
    const sides = partedBy(context, own!, other!, what);
    if (!sides.ok) return sides;
    if (sides.value.first.length + sides.value.second.length < 2)
      return fail({
        what,
        why: `${bodyWords(other!, project)} does not pass right through ${bodyWords(own!, project)}`,
        tryInstead: ['make it longer', 'move it', 'split the other by it instead'],
      });
    both[k as 0 | 1] = sides.value;
  }
  const joined = (i: Pick<TrimInputs, 'keep' | 'keepTool'>): Result<{ body: KernelBody; note: string }, StepFailure> => {
    const pieces = [...both[0]![i.keep], ...both[1]![i.keepTool]];
    if (pieces.length < 2)
      return fail({ what, why: 'nothing of one of them lies on the side that is kept', tryInstead: ['keep the other side'] });
    return knit(kernel, pieces, names, step.id, WITHIN);
  };
  const done = joined(step.inputs);
  if (!done.ok) {
    // Other sides that go.
    const sides = ['first', 'second'] as const;
    const other = sides
      .flatMap((keep) => sides.map((keepTool) => ({ keep, keepTool })))
      .find((i) => (i.keep !== step.inputs.keep || i.keepTool !== step.inputs.keepTool) && joined(i).ok);
    const fixes: Fix[] = other ? [{ words: 'Keep the sides that do', step: step.id, inputs: other }] : [];
    return fail({ ...done.error, what, fixes });
  }
  const { body: result, note } = done.value;
  return ok({
    bodies: [{ id: body, body: result }],
    volumeChange: result.volume,
    warnings: [],
    note: `${note}${result.surface ? '' : `; ${fixed(result.volume / 1000, 2)} cm³`}`,
    gone: [tool],
  });
}
