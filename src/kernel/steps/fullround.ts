/** Replaces narrow faces by full rounds: arcs that touch the face and the two beside it. */
import { bodyWords, faceWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import type { KernelBody, StepFailure } from '../body';
import { namedEdges } from '../names';
import type { Kernel } from '../open';
import { pickedFaces } from '../refer';
import { fullRound, leftovers, runOf } from '../section-round';
import { facesOf, lengthOf } from '../shapes';
import { needBody } from './combine';
import { type ContextOf, changed, type StepOutcome } from './operation';

export function fullround(context: ContextOf<'fullround'>): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs;
  const body = needBody(context, inputs.body, 'there is nothing to round off');
  if (!body.ok) return body;
  if (inputs.faces.length === 0)
    return fail({
      what: 'no face is picked',
      why: 'nothing can be rounded off yet',
      unfinished: true,
      tryInstead: ['pick the narrow face between two others'],
    });
  const picked = pickedFaces(context, inputs.body, body.value, inputs.faces, {
    gone: 'an earlier change removed the face that was to be rounded off',
    offer: (face) => `round off ${face}`,
    otherwise: 'pick another face',
  });
  if (!picked.ok) return picked;
  let now = body.value;
  const radii: number[] = [];
  for (const name of picked.value.map((f) => body.value.faces[f.index]!)) {
    const done = across(kernel, now, name, step.id);
    if (!done.ok)
      return fail({
        what: `${faceWords(name, project)} can’t be rounded off`,
        why: done.error,
        tryInstead: ['a face with the same two neighbours all along', `a round of its two edges on ${bodyWords(inputs.body, project)}`],
      } satisfies StepFailure);
    now = done.value.body;
    radii.push(done.value.radius);
  }
  const outcome = changed(inputs.body, body.value, now);
  return outcome.ok ? ok({ ...outcome.value, note: `full round of radius ${radii.map((r) => fixed(r, 2)).join(', ')} mm` }) : outcome;
}

/** Tries the pairs of edges a round may run along, the longest first. */
function across(kernel: Kernel, body: KernelBody, name: string, stepId: string): Result<{ body: KernelBody; radius: number }, string> {
  const index = body.faces.indexOf(name);
  if (index < 0) return fail('a round before it took it away');
  const faces = facesOf(kernel, body.shape);
  const edges = namedEdges(kernel, body)
    .filter((e) => e.faces.length === 2 && e.faces.includes(index) && e.faces[0] !== e.faces[1])
    .map((e) => ({ ...e, run: runOf(kernel, e.edge), length: lengthOf(kernel, e.edge), beside: e.faces.find((f) => f !== index)! }))
    .filter((e) => e.run);
  const pairs = edges
    .flatMap((a, i) => edges.slice(i + 1).map((b) => ({ a, b })))
    .filter(({ a, b }) => (a.run!.angle === undefined) === (b.run!.angle === undefined) && a.beside !== b.beside)
    .sort((p, q) => q.a.length + q.b.length - p.a.length - p.b.length);
  let why = 'it does not lie between two straight edges, or two circles about one axis';
  for (const { a, b } of pairs.slice(0, 3)) {
    const done = fullRound(kernel, body, [faces[a.beside]!, faces[index]!, faces[b.beside]!], [a.edge, b.edge], name, stepId);
    if (done.ok && !leftovers(done.value.body, stepId)) return done;
    why = done.ok ? 'the round would cut into what lies beside it, or end in a step' : done.error;
  }
  return fail(why);
}
