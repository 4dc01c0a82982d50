import { z } from 'zod';
import { moved, turnAbout } from '../../curves/motion';
import {
  idSchema,
  raisedOffers,
  raiseModeSchema,
  raisesOwn,
  raiseWords,
  raising,
  type StepDefinition,
  still,
  usualChoice,
  usually,
} from './definition';
import { middleOfLines } from './handles';
import { spun } from './quick';

const inputs = z.object({
  profile: idSchema,
  /** From the drawing on, or half to either side of it. */
  turn: z.enum(['one', 'both']).optional(),
  ...raiseModeSchema,
});
export type RevolveInputs = z.infer<typeof inputs>;

const VALUES = {
  angle: { kind: 'angle', label: 'angle turned', initial: '360°', above: 0, atMost: 2 * Math.PI },
} satisfies StepDefinition['values'];

export const revolve: StepDefinition<RevolveInputs, 'angle'> = {
  kind: 'revolve',
  verb: 'Revolve',
  group: 'raise',
  summary: 'turn a half profile about its axis',
  known: ['lathe', 'turn', 'spin', 'sector', 'quarter', 'rotate a profile', 'turned body', 'groove'],
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
    ...usualChoice(step.inputs, 'turn', ['one', 'one way'], ['both', 'half to either side']),
    ...raiseWords(step),
  ],
  ...raisesOwn,
  handles: ({ inputs: i }, standing) => {
    const drawn = standing.drawing(i.profile);
    const middle = drawn && middleOfLines(drawn.lines);
    if (!drawn || !middle) return [];
    const half = i.turn === 'both' ? { turn: { of: (v: number) => v / 2, back: (t: number) => 2 * t } } : {};
    return [
      { value: 'angle', from: middle, about: { place: drawn.frame.origin, direction: drawn.frame.y }, carried: drawn.lines, ...half },
    ];
  },
  quick: ({ inputs: i }, standing) => {
    const drawn = standing.drawing(i.profile);
    if (!drawn) return null;
    const { origin, y } = drawn.frame;
    const angle = standing.value('angle');
    const back = turnAbout(origin, y, i.turn === 'both' ? -angle / 2 : 0);
    return [
      spun(
        drawn.lines.map((line) => line.map((p) => moved(back, p))),
        origin,
        y,
        angle,
      ),
    ];
  },
  uses: (i) => raising.uses(i, { bodies: [], profiles: [i.profile], planes: [] }),
};
