import { z } from 'zod';
import {
  choice,
  idSchema,
  type OtherWay,
  piecesSchema,
  piecesWords,
  type SentencePart,
  type StepDefinition,
  type StepOf,
  text,
  usualChoice,
  withPieces,
} from './definition';

/** What is combined with what, exactly or as a mesh. */
export const combineSchema = {
  body: idSchema,
  mode: z.enum(['join', 'cut', 'common']),
  tools: z.array(idSchema).max(60),
  /** Whether the tools stay as bodies of their own. */
  tooling: z.enum(['used', 'kept']),
};
const inputs = z.object({ ...combineSchema, ...piecesSchema });
export type CombineInputs = z.infer<typeof inputs>;

/** How a sentence of it begins. */
export const combineWords = (i: Readonly<Record<string, unknown>>): readonly SentencePart[] => [
  text('Combine'),
  { body: 'body' },
  choice('mode', ['join', 'joined with'], ['cut', 'cut by'], ['common', 'kept in common with']),
  { bodies: 'tools' },
  ...usualChoice(i, 'tooling', ['used', 'which are used up'], ['kept', 'which stay']),
];

/** What helps where solids can't be combined exactly, or not in time. */
export const otherCombines = ({ id, inputs: { body, mode, tools, tooling } }: Pick<StepOf<CombineInputs>, 'id' | 'inputs'>): OtherWay[] => [
  {
    words: 'Combine them as a mesh, for printing only',
    step: id,
    kind: 'meshcombine',
    inputs: { body, mode, tools, tooling },
    values: {},
  },
];

export const combine: StepDefinition<CombineInputs, never> = {
  kind: 'combine',
  verb: 'Combine',
  group: 'combine',
  summary: 'join bodies, cut one with others, or keep what they share',
  known: [
    'boolean',
    'union',
    'unite',
    'add',
    'fuse',
    'merge',
    'weld',
    'subtract',
    'difference',
    'intersect',
    'intersection',
    'knit',
    'sew',
    'stitch',
    'surfaces together',
  ],
  needs: 'two bodies',
  offers: (c) => {
    const all = [...c.solids, ...c.skins].toReversed();
    if (all.length < 2) return [];
    return [
      {
        group: 'Join and cut',
        label: 'Combine bodies',
        hint: 'join, cut or keep in common; surfaces that share borders are knit',
        inputs: { body: all[0]!.id, mode: 'join', tools: [all[1]!.id], tooling: 'used' },
      },
    ];
  },
  inputs,
  values: {},
  sentence: (step) => [...combineWords(step.inputs), ...piecesWords(step.inputs)],
  makes: (i, id) => (i.pieces === 'each' ? [id] : []),
  removes: (i) => (i.tooling === 'used' ? i.tools : []),
  takesPieces: true,
  takesSurfaces: true,
  changesBody: (i) => i.body,
  otherwise: otherCombines,
  uses: (i) => withPieces(i, { bodies: [i.body, ...i.tools], profiles: [], planes: [] }),
};
