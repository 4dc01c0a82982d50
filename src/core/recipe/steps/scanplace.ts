import { z } from 'zod';
import { choice, idSchema, type StepDefinition, text, usually, value } from './definition';

const inputs = z.object({
  body: idSchema,
  /** What becomes upright, across the middle plane. */
  stands: z.enum(['lying', 'long', 'kept']),
});
export type ScanPlaceInputs = z.infer<typeof inputs>;

export const scanplace: StepDefinition<ScanPlaceInputs, 'turn'> = {
  kind: 'scanplace',
  verb: 'Set a scan upright',
  group: 'combine',
  summary: 'by its own middle plane, which becomes the side plane',
  known: ['align', 'orient', 'symmetry plane', 'mirror plane', 'registration', 'datum', 'level'],
  needs: 'a scan',
  offers: (c) =>
    c.scans.map((b) => ({
      group: 'Refer',
      label: `Set ${b.name} upright`,
      hint: 'by its own middle plane',
      inputs: { body: b.id, stands: 'lying' },
    })),
  inputs,
  values: { turn: { kind: 'angle', label: 'turned within its middle plane by', initial: '0°' } },
  sentence: (step) => [
    text('Set'),
    { body: 'body' },
    text('upright by its own middle plane,'),
    choice('stands', ['lying', 'lying flat'], ['long', 'its longer way upright'], ['kept', 'turned as little as can be']),
    ...usually(/^0\s*°?$/.test(step.values.turn ?? ''), text(', then turned by'), value('turn')),
  ],
  makes: () => [],
  changesBody: (i) => i.body,
  takesSurfaces: true,
  takesPieces: true,
  takesFacets: true,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
