import { z } from 'zod';
import { planeRefSchema } from '../schema';
import { faceRefSchema, idSchema, type StepDefinition, text, usualChoice, value } from './definition';

const inputs = z.object({
  body: idSchema,
  open: z.array(faceRefSchema).max(20),
  /** The cavity is turned about this plane's normal through its origin. */
  plane: planeRefSchema,
  /** Below the rim it stays round, or follows the outside so that the rim is even; or it follows the outside all the way down. */
  rim: z.enum(['round', 'follow', 'sections']),
  /** Whether the inside leans back by 45° at most. */
  lean: z.enum(['free', 'printable']),
});
export type CavityInputs = z.infer<typeof inputs>;

export const cavity: StepDefinition<CavityInputs, 'wall' | 'floor' | 'band'> = {
  kind: 'cavity',
  verb: 'Turn a cavity',
  group: 'hollow',
  summary: 'a smooth turned inside that keeps at least the wall, whatever the outside does',
  known: ['inner shape', 'liner', 'bore out', 'core', 'pocket', 'insert'],
  needs: 'a solid',
  offers: (c) =>
    c.solids.map((b) => ({
      group: 'Hollow',
      label: `Turn a smooth cavity into ${b.name}`,
      hint: 'that keeps the wall whatever the outside does; pick the face it opens at',
      inputs: { body: b.id, open: [], plane: 'level', rim: 'round', lean: 'free' },
      pick: { what: 'faces', field: 'open' },
    })),
  inputs,
  values: {
    wall: { kind: 'length', label: 'least wall', initial: '2 mm', above: 0 },
    floor: { kind: 'length', label: 'floor', initial: '3 mm', above: 0 },
    band: { kind: 'length', label: 'band below the rim', initial: '10 mm', above: 0 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Turn a cavity into'),
      { body: 'body' },
      text('about the upright of'),
      { plane: 'plane' },
      text(', keeping at least'),
      value('wall'),
      text('and a floor of'),
      value('floor'),
      text(', open at'),
      { faces: 'open' },
      ...usualChoice(
        i,
        'rim',
        ['round', 'round up to the rim'],
        ['follow', 'following the outside below the rim for'],
        ['sections', 'following the outside section by section'],
      ),
      ...(i.rim === 'follow' ? [value('band')] : []),
      ...(i.rim === 'sections' ? [] : usualChoice(i, 'lean', ['free', 'leaning as it likes'], ['printable', 'leaning back 45° at most'])),
    ];
  },
  makes: () => [],
  changesBody: (i) => i.body,
  tried: true,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [i.plane] }),
};
