import { z } from 'zod';
import { idSchema, type StepDefinition, text } from './definition';

const inputs = z.object({ body: idSchema });
export type CloseInputs = z.infer<typeof inputs>;

export const close: StepDefinition<CloseInputs> = {
  kind: 'close',
  verb: 'Close',
  group: 'combine',
  summary: 'cap the open borders of a surface, which makes it a solid',
  inputs,
  values: {},
  sentence: () => [text('Close'), { body: 'body' }, text('with flat caps to a solid')],
  makes: () => [],
  changesBody: (i) => i.body,
  takesSurfaces: true,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
