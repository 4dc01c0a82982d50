/** Joins surfaces along their borders: gaps within a tolerance are closed, wider ones told with their place. */
import { knit as definition } from '../../core/recipe/steps/knit';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { fixed } from '../../core/units/units';
import type { Fix } from '../body';
import { closing } from '../closing';
import { knit as knitted } from '../knit';
import { chosenTools, needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';

/** Gaps are tried to be closed up to so many times the least distance. */
const WIDER = [1, 3, 10] as const;

export function knit(context: ContextOf<'knit'>): StepOutcome {
  const { kernel, project, step, values } = context;
  const { body: id, tools: chosen } = step.inputs;
  const target = needBody(context, id, 'there is nothing to knit');
  if (!target.ok) return target;
  const tools = chosenTools(context, id, chosen);
  if (!tools.ok) return tools;
  const { ids, solids, words } = tools.value;
  const all = [target.value, ...solids];
  const solid = all.findIndex((b) => !b.surface);
  if (solid >= 0)
    return fail({
      what: 'they can’t be knit',
      why: `${bodyWords([id, ...ids][solid]!, project)} is a solid`,
      tryInstead: ['combine solids instead', 'choose surfaces'],
    });
  const run = (within: number) => knitted(kernel, all, { target: bodyWords(id, project), tool: words }, step.id, within);
  const made = run(values.within);
  if (!made.ok) {
    const { gap, ...why } = made.error;
    // Where they are nearest they may be nearer than elsewhere.
    const wide = gap === undefined ? [] : WIDER.map((k) => k * gap).filter((g) => g < definition.values.within.atMost!);
    const goes = wide.find((g) => run(Number.parseFloat(closing(g))).ok);
    const fixes: Fix[] =
      goes === undefined ? [] : [{ words: `Close gaps up to ${closing(goes)}`, step: step.id, values: { within: closing(goes) } }];
    return fail({ ...why, ...(fixes.length > 0 ? { fixes } : {}) });
  }
  const { body, note, gaps } = made.value;
  return ok({
    bodies: [{ id, body }],
    volumeChange: body.volume,
    warnings: gaps.slice(0, 8).map(({ width, at }) => ({
      message: `borders run ${fixed(width, width < 0.01 ? 4 : 3)} mm apart there: to close that, close gaps up to ${closing(width)}`,
      at,
    })),
    note,
    gone: ids,
  });
}
