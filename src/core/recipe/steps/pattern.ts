import { z } from 'zod';
import {
  choice,
  idSchema,
  pathRefSchema,
  pickUses,
  piecesSchema,
  piecesWords,
  type SentencePart,
  type StepDefinition,
  type StepOf,
  still,
  text,
  usualChoice,
  usually,
  value,
  withPieces,
} from './definition';

const inputs = z.object({
  /** A step repeated on its body, or a whole body. */
  what: z.enum(['step', 'body']),
  step: idSchema.nullable(),
  body: idSchema.nullable(),
  along: z.enum(['row', 'ring', 'path']),
  /** Direction of a row, or the line a ring goes about. */
  axis: z.enum(['x', 'y', 'z', 'line']),
  paths: z.array(pathRefSchema).max(1),
  /** Row: count and spacing, count in a length, as many as fit. Ring: count in an angle, or the angle from one to the next. */
  by: z.enum(['spacing', 'extent', 'fit']),
  /** Both ways from the original. */
  symmetric: z.enum(['one', 'both']),
  /** Copies of a body become one with it, or stay bodies of their own. */
  result: z.enum(['joined', 'separate']).optional(),
  /** Copies that are left out, by their number; the original is 1. */
  skip: z.string().max(200),
  ...piecesSchema,
});
export type PatternInputs = z.infer<typeof inputs>;

const AXES = [
  ['x', 'across'],
  ['y', 'away'],
  ['z', 'up'],
  ['line', 'along a line'],
] as const;
const ABOUT = [
  ['z', 'the upright axis'],
  ['x', 'the axis across'],
  ['y', 'the axis away'],
  ['line', 'a line'],
] as const;
/** How it is begun. */
const LAID = [
  { words: 'in a row', along: 'row' },
  { words: 'in a ring', along: 'ring', axis: 'z', by: 'extent' },
] as const;
const line = (i: PatternInputs): readonly SentencePart[] =>
  i.axis === 'line' || i.along === 'path' ? [{ picks: 'paths', what: 'paths', most: 1 }] : [];

const VALUES = {
  count: { kind: 'number', label: 'count with the original', initial: '4', atLeast: 1, atMost: 500 },
  length: { kind: 'length', label: 'spacing or length', initial: '10 mm' },
  margin: { kind: 'length', label: 'margin at the ends', initial: '0 mm', atLeast: 0 },
  gap: { kind: 'length', label: 'gap', initial: '2 mm', atLeast: 0 },
  angle: { kind: 'angle', label: 'angle', initial: '360°' },
} satisfies StepDefinition['values'];

function row(step: StepOf<PatternInputs>): readonly SentencePart[] {
  const i = step.inputs;
  const by = choice('by', ['spacing', 'in all, each after'], ['extent', 'in all, within'], ['fit', 'as many as fit within']);
  const head = i.by === 'fit' ? [by, value('length'), text('with a gap of'), value('gap')] : [value('count'), by, value('length')];
  const margin = i.by === 'spacing' ? [] : usually(still(step, VALUES, 'margin'), text('less'), value('margin'), text('at either end'));
  if (i.along === 'path') return [...head, ...margin, text('along'), ...line(i)];
  return [...head, ...margin, choice('axis', ...AXES), ...line(i)];
}

export const pattern: StepDefinition<PatternInputs, 'count' | 'length' | 'margin' | 'gap' | 'angle'> = {
  kind: 'pattern',
  verb: 'Repeat',
  group: 'repeat',
  summary: 'repeat a step or a body in a row, a ring or along a path',
  known: ['array', 'copy', 'duplicate', 'multiply', 'linear pattern', 'circular pattern', 'polar', 'grid'],
  needs: 'something to repeat',
  offers: (c) => {
    const row: Omit<PatternInputs, 'what' | 'step' | 'body'> = {
      along: 'row',
      axis: 'x',
      paths: [],
      by: 'spacing',
      symmetric: 'one',
      skip: '',
    };
    return [
      ...LAID.flatMap(({ words, ...laid }) => [
        ...(c.raised
          ? [
              {
                group: 'Repeat',
                label: `Repeat a step ${words}`,
                hint: c.raised.name,
                inputs: { ...row, ...laid, what: 'step', step: c.raised.id, body: c.raised.body },
              } as const,
            ]
          : []),
        ...[...c.solids, ...c.skins].map(
          (b) =>
            ({
              group: 'Repeat',
              label: `Repeat ${b.name} ${words}`,
              hint: 'joined',
              inputs: { ...row, ...laid, what: 'body', step: null, body: b.id },
            }) as const,
        ),
      ]),
    ];
  },
  inputs,
  values: VALUES,
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Repeat'),
      choice('what', ['step', 'step'], ['body', 'body']),
      i.what === 'step' ? { step: 'step' } : { body: 'body' },
      choice('along', ['row', 'in a row'], ['ring', 'in a ring'], ['path', 'along a curve']),
      ...(i.along === 'ring'
        ? [
            value('count'),
            choice('by', ['extent', 'in all, within'], ['spacing', 'in all, each after']),
            value('angle'),
            text('about'),
            choice('axis', ...ABOUT),
            ...line(i),
          ]
        : row(step)),
      ...(i.along === 'path' ? [] : usualChoice(i, 'symmetric', ['one', 'one way'], ['both', 'both ways alike'])),
      ...usually(i.skip.trim() === '', text('leaving out'), { numbers: 'skip' }),
      ...(i.what === 'body'
        ? usually(
            (i.result ?? 'joined') === 'joined',
            text(','),
            choice('result', ['joined', 'all of them one body'], ['separate', 'each a body of its own']),
          )
        : []),
      ...(i.what === 'body' && i.result === 'separate' ? [] : piecesWords(i)),
    ];
  },
  chosen: (i, field) => (field === 'along' && i.along === 'ring' ? { ...i, by: 'extent', axis: 'z' } : i),
  // How many there are only the layout can tell: the others are named after the first.
  makes: (i, id) => ((i.what === 'body' && i.result === 'separate') || i.pieces === 'each' ? [id] : []),
  takesSurfaces: true,
  takesPieces: true,
  changesBody: (i) => i.body,
  uses: (i) => {
    const picks = pickUses(i.paths);
    return withPieces(i, {
      ...picks,
      bodies: [...(i.body ? [i.body] : []), ...picks.bodies],
      planes: [],
      steps: i.what === 'step' && i.step ? [i.step] : [],
    });
  },
};
