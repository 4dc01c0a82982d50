import { z } from 'zod';
import { planeRefSchema } from '../schema';
import { choice, idSchema, piecesSchema, piecesWords, type StepDefinition, text, withPieces } from './definition';

const inputs = z.object({ body: idSchema, plane: planeRefSchema, result: z.enum(['joined', 'separate']), ...piecesSchema });
export type MirrorInputs = z.infer<typeof inputs>;

export const mirror: StepDefinition<MirrorInputs, never> = {
  kind: 'mirror',
  verb: 'Mirror',
  group: 'repeat',
  summary: 'the mirror image of a body, joined to it or on its own',
  known: ['reflect', 'symmetry', 'flip', 'opposite hand'],
  needs: 'a body',
  offers: (c) =>
    [...c.solids, ...c.skins].map((b) => ({
      group: 'Repeat',
      label: `Mirror ${b.name}`,
      hint: 'in a plane',
      inputs: { body: b.id, plane: c.against(b.id) ?? 'side', result: 'joined' },
    })),
  inputs,
  values: {},
  sentence: (step) => [
    text('Mirror'),
    { body: 'body' },
    text('in'),
    { plane: 'plane' },
    choice('result', ['joined', 'joined to it'], ['separate', 'as a body of its own']),
    ...(step.inputs.result === 'joined' ? piecesWords(step.inputs) : []),
  ],
  makes: (i, id) => (i.result === 'separate' || i.pieces === 'each' ? [id] : []),
  takesSurfaces: true,
  takesPieces: true,
  changesBody: (i) => (i.result === 'joined' ? i.body : null),
  uses: (i) => withPieces(i, { bodies: [i.body], profiles: [], planes: [i.plane] }),
};
