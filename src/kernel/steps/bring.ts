/** Solids that were brought in, from the text the project keeps. */
import { MAX_UNPACKED, unpack, unpackWithinLimit } from '../../core/exchange/packed';
import type { Project } from '../../core/recipe/schema';
import { pieceIds } from '../../core/recipe/steps';
import { fail, ok } from '../../core/result';
import { asBody, type KernelBody } from '../body';
import { attempt } from '../open';
import { recogniseTurned } from '../recognise';
import { facesOf } from '../shapes';
import { verifySolid } from '../verify';
import type { ContextOf, StepOutcome } from './operation';

/** Known for projects whose files are the same. */
const fitting = new WeakMap<object, boolean>();

function fits({ imports = {} }: Project): boolean {
  let known = fitting.get(imports);
  if (known === undefined) {
    known = unpackWithinLimit(Object.values(imports).flatMap((f) => f.solids));
    fitting.set(imports, known);
  }
  return known;
}

export function bring(context: ContextOf<'bring'>): StepOutcome {
  const { kernel, step, project } = context;
  const inputs = step.inputs;
  const file = project.imports?.[inputs.file];
  if (!file)
    return fail({ what: 'there is nothing to bring in', why: 'the project no longer holds the file', tryInstead: ['bring it in again'] });
  if (!fits(project))
    return fail({
      what: `${file.name} can’t be brought in`,
      why: `what the project brings in unpacks to more than ${MAX_UNPACKED / 1e6} MB together`,
      tryInstead: ['bring in less, or simpler solids'],
    });
  const ids = pieceIds(step.id, step.id, file.solids.length);
  const bodies: { id: string; body: KernelBody }[] = [];
  for (const [i, packed] of file.solids.entries()) {
    const what = `solid ${i + 1} of ${file.name} can’t be brought in`;
    const text = unpack(packed);
    if (!text.ok) return fail({ what, why: text.error, tryInstead: ['bring the file in again'] });
    const read = attempt(kernel, () => kernel.BRepToolsWrapper.Read(text.value));
    if (!read.ok || read.value.IsNull())
      return fail({ what, why: 'what the project keeps of it is damaged', tryInstead: ['bring the file in again'] });
    const verified = verifySolid(kernel, read.value);
    if (!verified.ok) return fail({ what, why: verified.error.why, tryInstead: ['mend it where it comes from'] });
    const names = facesOf(kernel, verified.value.shape).map((_, k) => `${step.id}/${i === 0 ? '' : `${i + 1}.`}f${k + 1}`);
    const body = asBody(verified.value, names);
    const turned = recogniseTurned(kernel, body);
    bodies.push({ id: ids[i]!, body: turned ? { ...body, turned } : body });
  }
  return ok({ bodies, volumeChange: bodies.reduce((sum, b) => sum + b.body.volume, 0), warnings: [] });
}
