import { z } from 'zod';
import { faceRefSchema, idSchema, type StepDefinition, text } from './definition';

const inputs = z.object({
  body: idSchema,
  /** Each is replaced by a round that touches it and the two faces beside it. */
  faces: z.array(faceRefSchema).max(20),
});
export type FullRoundInputs = z.infer<typeof inputs>;

export const fullround: StepDefinition<FullRoundInputs, never> = {
  kind: 'fullround',
  verb: 'Round off',
  group: 'soften',
  summary: 'replace a narrow face by one full round between the faces on its two sides',
  known: ['full round', 'bullnose', 'full radius', 'pipe edge', 'three-face fillet'],
  needs: 'a solid',
  offers: (c) =>
    c.solids.map((b) => ({
      group: 'Soften',
      label: 'Round off narrow faces fully',
      hint: `of ${b.name}; ribs and rims`,
      inputs: { body: b.id, faces: [] },
      pick: { what: 'faces', field: 'faces' },
    })),
  inputs,
  values: {},
  sentence: () => [text('Round off'), { faces: 'faces' }, text('fully, from the face on one side to that on the other')],
  makes: () => [],
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
