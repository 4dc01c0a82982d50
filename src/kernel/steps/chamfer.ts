/** Bevels edges by one distance, by two, or by a distance and an angle. */
import { bodyWords, edgeWords } from '../../core/recipe/words';
import { fail } from '../../core/result';
import { fixed } from '../../core/units/units';
import type { StepFailure } from '../body';
import { bevelRoom, leastRoom } from '../estimate';
import { largestWorking, roundDown } from '../largest';
import { type Bevel, bevelBody, plannedBevels, type Softened } from '../rounds';
import { inOrder, type PickedEdges, partial, pickedEdges, smoothWords, whyNot } from './fillet';
import { type ContextOf, changed, type StepOutcome, type Trial } from './operation';

/** The bevel with its first distance set; the second keeps its proportion. */
function bevelOf(context: ContextOf<'chamfer'>, distance: number): Bevel {
  const inputs = context.step.inputs;
  const { distance: own, second, angle } = context.values;
  return {
    first: distance,
    swapped: inputs.side === 'second',
    ...(inputs.by === 'two' ? { second: (second * distance) / own } : inputs.by === 'angle' ? { angle } : {}),
  };
}

const run = (context: ContextOf<'chamfer'>, some: PickedEdges, distance: number): Softened =>
  inOrder(context.kernel, some, 'together', (now, edges, kinds) =>
    bevelBody(context.kernel, now, edges, bevelOf(context, distance), kinds, context.step.id),
  );

/** Told in the half plane of a turned body, else by doing it. */
const goes = (context: ContextOf<'chamfer'>, some: PickedEdges, distance: number): boolean =>
  plannedBevels(context.kernel, some.body, some.edges, bevelOf(context, distance), context.step.id)?.ok ?? run(context, some, distance).ok;

export function chamfer(context: ContextOf<'chamfer'>): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs;
  const picked = pickedEdges(context, inputs.body, inputs.edges, 'bevelled');
  if (!picked.ok) return picked;
  const distance = context.values.distance;
  const { body, edges } = picked.value;
  const began = performance.now();
  const done = run(context, picked.value, distance);
  if (done.ok) return changed(inputs.body, body, done.value, [], smoothWords(picked.value));
  const took = performance.now() - began;
  const room = leastRoom(project, edges, (e) => bevelRoom(kernel, project, body, e, edges));
  const best = largestWorking((d) => goes(context, picked.value, d), distance, took, { guess: room?.limit });
  const offer = best === undefined ? undefined : `${roundDown(best)} mm`;
  const limited = room && room.limit < distance;
  return fail({
    what: `a bevel of ${fixed(distance, 2)} mm does not fit on the ${edges.length === 1 ? edgeWords(edges[0]!.name, project) : `${edges.length} edges of ${bodyWords(inputs.body, project)}`}`,
    why: limited ? `it is limited by ${room.words}` : done.error.why,
    tryInstead: [offer === undefined ? 'take some edges out, or bevel them before what lies beside them' : `${offer} works`],
    fixes: [
      ...(offer && inputs.by !== 'two' ? [{ words: `Use ${offer}`, step: step.id, values: { distance: offer } }] : []),
      ...partial(context, picked.value, (some) => goes(context, some, distance)),
    ],
    ...(done.error.at ? { at: done.error.at } : limited ? { at: room.at } : {}),
  } as StepFailure);
}

/** The same step once more with another distance: what its range is tried with. */
export function chamferTrial(context: ContextOf<'chamfer'>): Trial | undefined {
  const inputs = context.step.inputs;
  const picked = pickedEdges(context, inputs.body, inputs.edges, 'bevelled');
  if (!picked.ok) return undefined;
  const { kernel, project } = context;
  const { body, edges } = picked.value;
  return {
    room: leastRoom(project, edges, (e) => bevelRoom(kernel, project, body, e, edges)),
    works: (d) => goes(context, picked.value, d),
    refused: (d) => whyNot(plannedBevels(kernel, body, edges, bevelOf(context, d), context.step.id)),
  };
}
