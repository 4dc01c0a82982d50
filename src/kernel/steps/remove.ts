/** Takes bodies away that only helped. */
import { fail, ok } from '../../core/result';
import { needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';

export function remove(context: ContextOf<'remove'>): StepOutcome {
  const { mode, bodies } = context.step.inputs;
  if (bodies.length === 0)
    return fail({ what: 'nothing is put away', why: 'no body is chosen', unfinished: true, tryInstead: ['add a body'] });
  let volume = 0;
  for (const id of bodies) {
    const body = needBody(context, id, 'a body to put away is missing');
    if (!body.ok) return body;
  }
  const gone = mode === 'delete' ? bodies : [...context.bodies.keys()].filter((id) => !bodies.includes(id));
  for (const id of gone) volume += context.bodies.get(id)?.volume ?? 0;
  return ok({ bodies: [], gone, volumeChange: -volume, warnings: [] });
}
