/** The mirror image of a body, joined to it or a body of its own. */
import { mirrorIn } from '../../core/curves/motion';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { frameOf } from '../placed';
import { transformed } from '../transform';
import { needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';
import { combineInto } from './raise';

export function mirror(context: ContextOf<'mirror'>): StepOutcome {
  const { kernel, step, project } = context;
  const inputs = step.inputs;
  const body = needBody(context, inputs.body, 'there is nothing to mirror');
  if (!body.ok) return body;
  const frame = frameOf(inputs.plane, context.planes, project);
  if (!frame.ok) return frame;
  const image = transformed(kernel, body.value, mirrorIn(frame.value), (n) => `${step.id}/copy(${n})`);
  const name = bodyWords(inputs.body, project);
  if (!image.ok)
    return fail({ what: `${name} could not be mirrored`, why: image.error, tryInstead: ['mirror it before its last details'] });
  if (inputs.result === 'separate')
    return ok({ bodies: [{ id: step.id, body: image.value }], volumeChange: image.value.volume, warnings: [] });
  return combineInto(context, 'join', inputs.body, body.value, { solids: [image.value], words: `the mirror image of ${name}` });
}
