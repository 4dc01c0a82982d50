import { z } from 'zod';
import { idSchema, raisedOffers, raiseModeSchema, raisesOwn, raiseWords, raising, type StepDefinition, still, usually } from './definition';
import { middleOfLines } from './handles';
import { spun } from './quick';

const inputs = z.object({ profile: idSchema, ...raiseModeSchema });
export type RevolveInputs = z.infer<typeof inputs>;

const VALUES = {
  angle: { kind: 'angle', label: 'angle turned', initial: '360°', above: 0, atMost: 2 * Math.PI },
} satisfies StepDefinition['values'];

export const revolve: StepDefinition<RevolveInputs, 'angle'> = {
  kind: 'revolve',
  verb: 'Revolve',
  group: 'raise',
  summary: 'turn a half profile about its axis',
  known: ['lathe', 'turn', 'spin', 'rotate a profile', 'turned body', 'groove'],
  needs: 'half a profile',
  offers: (c) =>
    c.profiles
      .toReversed()
      .filter((p) => p.half)
      .flatMap((p) => raisedOffers<RevolveInputs>(c, `Revolve ${p.name}`, { profile: p.id })),
  inputs,
  values: VALUES,
  sentence: (step) => [
    { text: 'Revolve' },
    { profile: 'profile' },
    ...usually(still(step, VALUES, 'angle'), { text: 'by' }, { value: 'angle' }),
    ...raiseWords(step),
  ],
  ...raisesOwn,
  handles: ({ inputs: i }, standing) => {
    const drawn = standing.drawing(i.profile);
    const middle = drawn && middleOfLines(drawn.lines);
    if (!drawn || !middle) return [];
    return [{ value: 'angle', from: middle, about: { place: drawn.frame.origin, direction: drawn.frame.y }, carried: drawn.lines }];
  },
  quick: ({ inputs: i }, standing) => {
    const drawn = standing.drawing(i.profile);
    return drawn ? [spun(drawn.lines, drawn.frame.origin, drawn.frame.y, standing.value('angle'))] : null;
  },
  uses: (i) => raising.uses(i, { bodies: [], profiles: [i.profile], planes: [] }),
};
