import { z } from 'zod';
import { faceRefSchema, idSchema, type StepDefinition } from './definition';

const inputs = z.object({ body: idSchema, open: z.array(faceRefSchema).max(100) });
export type ShellInputs = z.infer<typeof inputs>;

export const shell: StepDefinition<ShellInputs> = {
  kind: 'shell',
  verb: 'Hollow',
  group: 'hollow',
  summary: 'hollow a body to an even wall, open at the faces picked',
  inputs,
  values: { wall: { kind: 'length', label: 'wall', initial: '2 mm', above: 0 } },
  sentence: () => [{ text: 'Hollow' }, { body: 'body' }, { text: 'to' }, { value: 'wall' }, { text: 'open at' }, { faces: 'open' }],
  makes: () => [],
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
