import { z } from 'zod';
import {
  choice,
  idSchema,
  pathRefSchema,
  raiseModeSchema,
  raiseWords,
  raising,
  type StepDefinition,
  skinUses,
  text,
  usually,
  value,
} from './definition';

const inputs = z.object({
  /** Profiles in their order; one with a single point and no curve is a point. */
  sections: z.array(idSchema).max(40),
  /** Curves that lead the skin; a curve of a drawing brings its whole chain. */
  paths: z.array(pathRefSchema).max(6),
  rails: z.enum(['drawn', 'snapped']),
  skin: z.enum(['smooth', 'ruled']),
  run: z.enum(['open', 'closed']),
  start: z.enum(['free', 'square']),
  end: z.enum(['free', 'square']),
  /** How far each section's matching is turned round, in shares of its length, with commas between. */
  shifts: z.string().max(200),
  ...raiseModeSchema,
});
export type LoftInputs = z.infer<typeof inputs>;

export const loft: StepDefinition<LoftInputs> = {
  kind: 'loft',
  verb: 'Loft',
  group: 'raise',
  summary: 'a skin through sections, led by rails',
  known: ['blend sections', 'skin over sections', 'through sections', 'transition', 'morph', 'network'],
  needs: 'two drawings',
  offers: (c) => {
    const flat = c.profiles.filter((p) => !p.half);
    if (flat.length < 2) return [];
    return [
      {
        group: 'Raise',
        label: 'Loft through drawings',
        hint: 'sections, and rails if you like',
        inputs: {
          sections: flat.slice(0, 2).map((p) => p.id),
          paths: [],
          rails: 'drawn',
          skin: 'smooth',
          run: 'open',
          start: 'free',
          end: 'free',
          shifts: '',
          mode: 'new',
          body: null,
        },
      },
    ];
  },
  inputs,
  values: {
    startWeight: { kind: 'number', label: 'strength at the start', initial: '1', above: 0, atMost: 10 },
    endWeight: { kind: 'number', label: 'strength at the end', initial: '1', above: 0, atMost: 10 },
  },
  sentence: (step) => {
    const i = step.inputs as LoftInputs;
    return [
      text('Loft'),
      { profiles: 'sections' },
      ...usually(i.skin === 'smooth', choice('skin', ['smooth', 'smoothly'], ['ruled', 'straight from one to the next'])),
      ...usually(i.run === 'open', choice('run', ['open', 'from the first to the last'], ['closed', 'and back to the first'])),
      ...usually(i.paths.length === 0, text('along'), { picks: 'paths', what: 'paths', most: 6 }),
      ...(i.paths.length > 0 ? [choice('rails', ['drawn', 'as drawn'], ['snapped', 'pulled onto the sections'])] : []),
      ...(i.run === 'open' && i.skin === 'smooth'
        ? [
            ...usually(
              i.start === 'free',
              text('starting'),
              choice('start', ['free', 'freely'], ['square', 'square to its plane, strength']),
            ),
            ...(i.start === 'square' ? [value('startWeight')] : []),
            ...usually(i.end === 'free', text('ending'), choice('end', ['free', 'freely'], ['square', 'square to its plane, strength'])),
            ...(i.end === 'square' ? [value('endWeight')] : []),
          ]
        : []),
      ...(i.paths.length === 0 ? usually(i.shifts.trim() === '', text('matching turned by'), { shares: 'shifts' }) : []),
      ...raiseWords(step),
    ];
  },
  makes: raising.makes,
  takesPieces: true,
  changesBody: raising.changesBody,
  uses: skinUses,
};
