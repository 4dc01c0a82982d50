import { z } from 'zod';
import { idSchema, type StepDefinition } from './definition';

const inputs = z.object({
  profile: idSchema,
  mode: z.enum(['new', 'join', 'cut']),
  /** The body joined to or cut from; null for a new body. */
  body: idSchema.nullable(),
});
export type RevolveInputs = z.infer<typeof inputs>;

export const revolve: StepDefinition<RevolveInputs> = {
  kind: 'revolve',
  verb: 'Revolve',
  group: 'raise',
  summary: 'turn a half profile about its axis',
  inputs,
  values: {
    angle: { kind: 'angle', label: 'angle turned', initial: '360°', above: 0, atMost: 2 * Math.PI },
  },
  sentence: (step) => [
    { text: 'Revolve' },
    { profile: 'profile' },
    { text: 'by' },
    { value: 'angle' },
    {
      choice: 'mode',
      options: [
        { value: 'new', words: 'as a new body' },
        { value: 'join', words: 'joined to' },
        { value: 'cut', words: 'cut from' },
      ],
    },
    ...(step.inputs.mode === 'new' ? [] : [{ body: 'body' }]),
  ],
  makesBody: (i) => i.mode === 'new',
  changesBody: (i) => (i.mode === 'new' ? null : i.body),
};
