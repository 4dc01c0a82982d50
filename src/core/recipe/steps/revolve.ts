import { z } from 'zod';
import { idSchema, raiseModeSchema, raiseWords, raising, type StepDefinition } from './definition';

const inputs = z.object({ profile: idSchema, ...raiseModeSchema });
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
  sentence: (step) => [{ text: 'Revolve' }, { profile: 'profile' }, { text: 'by' }, { value: 'angle' }, ...raiseWords(step)],
  makes: raising.makes,
  changesBody: raising.changesBody,
  uses: (i) => ({ bodies: raising.target(i), profiles: [i.profile], planes: [] }),
};
