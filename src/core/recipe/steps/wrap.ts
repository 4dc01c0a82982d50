import { z } from 'zod';
import {
  choice,
  faceRefSchema,
  idSchema,
  piecesSchema,
  piecesWords,
  type StepDefinition,
  still,
  text,
  usually,
  value,
  withPieces,
} from './definition';

const inputs = z.object({
  body: idSchema,
  /** The turned face that the drawing is laid round. */
  faces: z.array(faceRefSchema).max(1),
  profile: idSchema,
  /** Over the skin and joined, into it and cut out, or a body of its own that stands on the skin. */
  as: z.enum(['raised', 'sunk', 'apart']),
  ...piecesSchema,
});
export type WrapInputs = z.infer<typeof inputs>;

const VALUES = {
  height: { kind: 'length', label: 'height', initial: '1 mm', above: 0 },
  around: { kind: 'angle', label: 'from the front', initial: '0°' },
  up: { kind: 'length', label: 'over the middle of the face', initial: '0 mm' },
  turn: { kind: 'angle', label: 'turn of the drawing', initial: '0°' },
} satisfies StepDefinition['values'];

export const wrap: StepDefinition<WrapInputs, 'height' | 'around' | 'up' | 'turn'> = {
  kind: 'wrap',
  verb: 'Wrap',
  group: 'combine',
  summary: 'outlines and texts laid round a turned face in true scale, raised, sunk or as a body of their own',
  known: [
    'emboss',
    'deboss',
    'engrave',
    'relief',
    'text on a face',
    'lettering',
    'label',
    'wrap text',
    'project',
    'tile',
    'ornament',
    'pattern',
    'flow',
  ],
  needs: 'a solid and an outline',
  offers: (c) => {
    const drawn = c.profiles.filter((p) => !p.half && p.closed);
    const profile = drawn.findLast((p) => !p.used) ?? drawn.at(-1);
    return profile
      ? c.solids.map((b) => ({
          group: 'Join and cut',
          label: `Wrap ${profile.name} round ${b.name}`,
          hint: 'in true scale on a turned face: pick it',
          inputs: { body: b.id, faces: [], profile: profile.id, as: 'raised' },
          pick: { what: 'faces', field: 'faces', most: 1 },
        }))
      : [];
  },
  inputs,
  values: VALUES,
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Wrap'),
      { profile: 'profile' },
      text('round'),
      { faces: 'faces' },
      text('of'),
      { body: 'body' },
      text(','),
      choice('as', ['raised', 'raised by'], ['sunk', 'sunk by'], ['apart', 'as a body of its own, thick']),
      value('height'),
      ...usually(still(step, VALUES, 'around'), text(', turned'), value('around'), text('from the front')),
      ...usually(still(step, VALUES, 'up'), text(','), value('up'), text('over the middle of the face')),
      ...usually(still(step, VALUES, 'turn'), text(', the drawing turned by'), value('turn')),
      ...piecesWords(i),
    ];
  },
  makes: (i, id) => (i.as === 'apart' || i.pieces === 'each' ? [id] : []),
  changesBody: (i) => (i.as === 'apart' ? null : i.body),
  takesPieces: true,
  uses: (i) => withPieces(i, { bodies: [i.body], profiles: [i.profile], planes: [] }),
};
