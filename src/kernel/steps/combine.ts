/** Joins bodies, cuts one with others, or keeps what they share: one kernel operation for all tools. */
import { otherCombines } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, type Result } from '../../core/result';
import type { KernelBody, StepFailure } from '../body';
import type { ContextOf, StepContext, StepOutcome } from './operation';
import { combineInto } from './raise';

/** A body by its id, or why there is none. */
export function needBody(context: StepContext, id: string, what: string): Result<KernelBody, StepFailure> {
  const body = context.bodies.get(id);
  if (body) return { ok: true, value: body };
  return fail({ what, why: `no earlier step makes ${bodyWords(id, context.project)}`, tryInstead: ['choose another body'] });
}

/** The bodies chosen beside another one, as they are called together. */
export function chosenTools(
  context: StepContext,
  body: string,
  chosen: readonly string[],
): Result<{ readonly ids: readonly string[]; readonly solids: readonly KernelBody[]; readonly words: string }, StepFailure> {
  const ids = chosen.filter((id) => id !== body);
  if (ids.length === 0)
    return fail({
      what: 'there is nothing to combine with',
      why: 'no second body is chosen',
      unfinished: true,
      tryInstead: ['add a body'],
    });
  const solids: KernelBody[] = [];
  for (const id of ids) {
    const tool = needBody(context, id, 'a body to combine with is missing');
    if (!tool.ok) return tool;
    solids.push(tool.value);
  }
  return { ok: true, value: { ids, solids, words: ids.map((id) => bodyWords(id, context.project)).join(', ') } };
}

export function combine(context: ContextOf<'combine'>): StepOutcome {
  const { inputs } = context.step;
  const target = needBody(context, inputs.body, 'there is nothing to combine');
  if (!target.ok) return target;
  const tools = chosenTools(context, inputs.body, inputs.tools);
  if (!tools.ok) return tools;
  const { ids, solids, words } = tools.value;
  const done = combineInto(context, inputs.mode, inputs.body, target.value, { solids, words });
  // What lies apart has a place; what the kernel could not do, facets often can.
  if (!done.ok && !done.error.at && ![target.value, ...solids].some((b) => b.surface))
    return fail({ ...done.error, fixes: [...(done.error.fixes ?? []), ...otherCombines(context.step)] });
  if (!done.ok || inputs.tooling === 'kept') return done;
  return { ok: true, value: { ...done.value, gone: ids } };
}
