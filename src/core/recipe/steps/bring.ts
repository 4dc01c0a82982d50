import { z } from 'zod';
import { idSchema, pieceIds, type StepDefinition, text } from './definition';

/** What was brought in, and how many solids it holds. */
const inputs = z.object({ file: idSchema, count: z.number().int().min(1).max(50) });
export type BringInputs = z.infer<typeof inputs>;

export const bring: StepDefinition<BringInputs, never> = {
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
  makes: (i, id) => pieceIds(id, id, i.count),
  changesBody: () => null,
  uses: (i) => ({ bodies: [], profiles: [], planes: [], imports: [i.file] }),
};
