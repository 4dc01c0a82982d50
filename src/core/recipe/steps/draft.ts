import { z } from 'zod';
import { planeRefSchema } from '../schema';
import { faceRefSchema, idSchema, type StepDefinition, text, value } from './definition';

const inputs = z.object({ body: idSchema, faces: z.array(faceRefSchema).max(100), plane: planeRefSchema });
export type DraftInputs = z.infer<typeof inputs>;

export const draft: StepDefinition<DraftInputs, 'angle'> = {
  kind: 'draft',
  verb: 'Taper',
  group: 'combine',
  summary: 'lean faces about the line where a plane meets them',
  known: ['draft', 'lean', 'demould', 'release angle', 'slope', 'tapered'],
  needs: 'a body',
  offers: (c) =>
    [...c.solids, ...c.skins].map((b) => ({
      group: 'Join and cut',
      label: `Taper faces of ${b.name}`,
      hint: 'pick them on the stage',
      inputs: { body: b.id, faces: [], plane: 'level' },
      pick: { what: 'faces', field: 'faces' },
    })),
  inputs,
  values: { angle: { kind: 'angle', label: 'angle', initial: '1°', atLeast: -Math.PI / 4, atMost: Math.PI / 4 } },
  sentence: () => [text('Taper'), { faces: 'faces' }, text('by'), value('angle'), text('from'), { plane: 'plane' }],
  makes: () => [],
  takesPieces: true,
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [i.plane] }),
};
