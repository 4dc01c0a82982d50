import { z } from 'zod';
import { planeRefSchema } from '../schema';
import { faceRefSchema, idSchema, type StepDefinition, text, value } from './definition';

const inputs = z.object({ body: idSchema, faces: z.array(faceRefSchema).max(100), plane: planeRefSchema });
export type DraftInputs = z.infer<typeof inputs>;

export const draft: StepDefinition<DraftInputs> = {
  kind: 'draft',
  verb: 'Taper',
  group: 'combine',
  summary: 'lean faces about the line where a plane meets them',
  inputs,
  values: { angle: { kind: 'angle', label: 'angle', initial: '1°', atLeast: -Math.PI / 4, atMost: Math.PI / 4 } },
  sentence: () => [text('Taper'), { faces: 'faces' }, text('by'), value('angle'), text('from'), { plane: 'plane' }],
  makes: () => [],
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [i.plane] }),
};
