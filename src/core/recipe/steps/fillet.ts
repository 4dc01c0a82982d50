import { z } from 'zod';
import { edgeRefSchema, idSchema, type StepDefinition } from './definition';

const inputs = z.object({ body: idSchema, edges: z.array(edgeRefSchema).max(200) });
export type FilletInputs = z.infer<typeof inputs>;

export const fillet: StepDefinition<FilletInputs> = {
  kind: 'fillet',
  verb: 'Round',
  group: 'soften',
  summary: 'round edges with a constant radius',
  inputs,
  values: { radius: { kind: 'length', label: 'radius', initial: '1 mm', above: 0 } },
  sentence: () => [{ text: 'Round' }, { edges: 'edges' }, { text: 'to' }, { value: 'radius' }],
  makes: () => [],
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
