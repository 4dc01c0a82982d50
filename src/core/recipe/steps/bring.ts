import { z } from 'zod';
import { idSchema, type StepDefinition, text } from './definition';

/** What was brought in, and how many solids it holds. */
const inputs = z.object({ file: idSchema, count: z.number().int().min(1).max(50) });
export type BringInputs = z.infer<typeof inputs>;

/** Ids of the bodies a step makes: its own, then numbered ones. */
export const bodyIds = (stepId: string, count: number): string[] =>
  Array.from({ length: count }, (_, i) => (i === 0 ? stepId : `${stepId}_${i + 1}`));

export const bring: StepDefinition<BringInputs> = {
  kind: 'bring',
  verb: 'Bring in',
  group: 'raise',
  summary: 'solids from a STEP file',
  known: ['import', 'open a file', 'load', 'insert'],
  needs: 'a STEP file',
  offers: () => [],
  inputs,
  values: {},
  sentence: () => [text('Bring in'), { file: 'file' }],
  makes: (i, id) => bodyIds(id, i.count),
  changesBody: () => null,
  uses: (i) => ({ bodies: [], profiles: [], planes: [], imports: [i.file] }),
};
