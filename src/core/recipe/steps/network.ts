import { z } from 'zod';
import { choice, idSchema, pathRefSchema, pickUses, type SentencePart, type StepDefinition, text, usually, value } from './definition';
import { overChosen, overPlanes, overSchema, overWords } from './over';

/** Curves each way. */
const MOST = 24;

const join = z.enum(['G0', 'G1', 'G2']);
export const BORDERS = ['alongFirst', 'alongLast', 'acrossFirst', 'acrossLast'] as const;
export type BorderName = (typeof BORDERS)[number];

const inputs = z.object({
  /** Curves of one family in their order: edges, drawn chains, curves in space. The first and last are borders. */
  along: z.array(pathRefSchema).max(MOST),
  across: z.array(pathRefSchema).max(MOST),
  /** How each border goes on from what lies beside it. */
  alongFirst: join,
  alongLast: join,
  acrossFirst: join,
  acrossLast: join,
  /** The bodies whose faces lie beside borders, beside those whose edges are picked. */
  beside: z.array(idSchema).max(24),
  ...overSchema,
});
export type NetworkInputs = z.infer<typeof inputs>;

/** What a border is called. */
export const CALLED: Readonly<Record<BorderName, string>> = {
  alongFirst: 'the first along',
  alongLast: 'the last along',
  acrossFirst: 'the first across',
  acrossLast: 'the last across',
};

const joined = (i: NetworkInputs, field: BorderName): readonly SentencePart[] =>
  usually(
    i[field] === 'G0',
    choice(
      field,
      ['G0', `${CALLED[field]} only met`],
      ['G1', `${CALLED[field]} passed smoothly (G1)`],
      ['G2', `${CALLED[field]} passed with its curvature (G2)`],
    ),
  );

export const network: StepDefinition<NetworkInputs, 'within'> = {
  kind: 'network',
  verb: 'Network',
  group: 'raise',
  summary: 'one surface through two families of curves that cross, smooth to what lies beside its borders',
  known: [
    'gordon surface',
    'coons patch',
    'boundary surface',
    'curve network',
    'grid of curves',
    'bridge',
    'blend surface',
    'surface between surfaces',
    'four-sided surface',
    'u and v curves',
  ],
  needs: 'nothing',
  offers: (c) => [
    {
      group: 'Raise',
      label: 'Raise a network of curves',
      hint: 'two families that cross, G0 to G2 to what lies beside',
      inputs: {
        along: [],
        across: [],
        alongFirst: 'G0',
        alongLast: 'G0',
        acrossFirst: 'G0',
        acrossLast: 'G0',
        beside: c.skins.map((s) => s.id).slice(0, 24),
      },
      pick: { what: 'paths', field: 'along', most: MOST },
    },
  ],
  inputs,
  values: { within: { kind: 'length', label: 'gaps closed up to', initial: '0.01 mm', above: 0, atMost: 2 } },
  sentence: ({ inputs: i, values }) => [
    text('Network along'),
    { picks: 'along', what: 'paths', most: MOST },
    text('and across'),
    { picks: 'across', what: 'paths', most: MOST },
    ...BORDERS.flatMap((field) => joined(i, field)),
    ...(i.beside.length > 0 || BORDERS.some((field) => i[field] !== 'G0')
      ? usually(
          BORDERS.every((field) => i[field] === 'G0'),
          text(', going on from'),
          { bodies: 'beside' },
        )
      : []),
    ...usually(
      (values.within ?? '').replace(/\s/g, '') === '0.01mm',
      text(', curves that miss each other pulled together up to'),
      value('within'),
    ),
    ...overWords(i),
  ],
  makes: (_, id) => [id],
  changesBody: () => null,
  chosen: (i, field, { planes }) => overChosen(i, field, planes),
  uses: (i) => {
    const picks = pickUses([...i.along, ...i.across]);
    const bodies = BORDERS.some((field) => i[field] !== 'G0') ? [...picks.bodies, ...i.beside] : picks.bodies;
    return { ...picks, bodies: [...new Set(bodies)], planes: overPlanes(i) };
  },
};
