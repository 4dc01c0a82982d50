/** Joins bodies, cuts one with others, or keeps what they share: one kernel operation for all tools. */
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

export function combine(context: ContextOf<'combine'>): StepOutcome {
  const inputs = context.step.inputs;
  const target = needBody(context, inputs.body, 'there is nothing to combine');
  if (!target.ok) return target;
  const ids = inputs.tools.filter((id) => id !== inputs.body);
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
  const words = ids.map((id) => bodyWords(id, context.project)).join(', ');
  const done = combineInto(context, inputs.mode, inputs.body, target.value, { solids, words });
  if (!done.ok || inputs.tooling === 'kept') return done;
  return { ok: true, value: { ...done.value, gone: ids } };
}
