import { z } from 'zod';
import { shiftBy, turnAbout } from '../../curves/motion';
import { along, dot, minus, triple } from '../../geometry/vectors';
import { bounds } from '../../mesh/mesh';
import { copySteps, planRow, ringTurn } from '../../profile/spacing';
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
import { lineOf, middleOf, type Standing, type TurnHandle } from './handles';
import { atPlaces } from './quick';

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
  count: { kind: 'number', label: 'count with the original', initial: '4', whole: true, atLeast: 1, atMost: 500 },
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

/** What is repeated as it stands, the line it is repeated along or about, and where its copies come to; undefined where only the build can tell. */
function laidOut({ id, inputs: i }: StepOf<PatternInputs>, standing: Standing) {
  const own = i.what === 'step' ? (i.step ? standing.raised(i.step) : []) : [i.body ? standing.skin(i.body, `${id}/`) : undefined];
  const skins = own.flatMap((s) => (s && s.positions.length > 0 ? [s] : []));
  const line = i.along === 'path' ? undefined : lineOf(i.axis, i.paths, standing);
  if (skins.length === 0 || !line) return undefined;
  const boxes = skins.map((s) => bounds(s.positions));
  const box = {
    min: triple((k) => Math.min(...boxes.map((b) => b.min[k]!))),
    max: triple((k) => Math.max(...boxes.map((b) => b.max[k]!))),
  };
  const size = triple((k) => Math.abs(line.direction[k]) * (box.max[k]! - box.min[k]!)).reduce((a, b) => a + b);
  const [count, angle] = [Math.round(standing.value('count')), standing.value('angle')];
  const read = (name: string): number => standing.value(name);
  const left = new Set(i.skip.split(',').map(Number));
  const kept = (n: number): number[] => copySteps(n, i.symmetric === 'both').filter((_, k) => !left.has(k + 2));
  const laid = { skins, line, size, middle: middleOf(box) };
  if (i.along === 'ring') {
    const turn = ringTurn(i.by, count, angle);
    return { ...laid, motions: kept(count).map((k) => turnAbout(line.place, line.direction, turn * k)) };
  }
  const row = planRow({ by: i.by, count, length: read('length'), margin: read('margin'), gap: read('gap'), size });
  return row.ok
    ? { ...laid, motions: kept(row.value.count).map((k) => shiftBy(triple((a) => line.direction[a] * row.value.spacing * k))) }
    : undefined;
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
  handles: (step, standing) => {
    const laid = laidOut(step, standing);
    if (!laid) return [];
    const { inputs: i } = step;
    const { middle, size, line } = laid;
    const length = standing.value('length');
    if (i.along === 'ring') {
      const [angle, count] = [standing.value('angle'), standing.value('count')];
      const off = minus(middle, along(line.place, line.direction, dot(minus(middle, line.place), line.direction)));
      if (Math.hypot(...off) < 1e-6) return [];
      const whole = Math.abs(angle) > 2 * Math.PI - 1e-9;
      const turning = (value: string, turn?: TurnHandle['turn']): TurnHandle => ({
        value,
        from: middle,
        about: line,
        ...(turn ? { turn } : {}),
        ...(value === 'count' ? { whole: true } : {}),
      });
      if (i.by === 'spacing')
        return [turning('angle'), ...(count > 2 ? [turning('count', { of: (n) => (n - 1) * angle, back: (t) => 1 + t / angle })] : [])];
      const [of, back] = whole
        ? [(n: number) => angle / n, (t: number) => angle / t]
        : [(n: number) => angle / (n - 1), (t: number) => 1 + angle / t];
      return [...(count > 1 ? [turning('count', { of, back })] : []), ...(whole || count < 3 ? [] : [turning('angle')])];
    }
    const d = line.direction;
    const [low, high] = [along(middle, d, -size / 2), along(middle, d, size / 2)];
    const margin = standing.value('margin');
    if (i.by === 'spacing')
      return [
        { value: 'length', from: middle, way: d },
        ...(i.symmetric === 'one' ? [{ value: 'count', from: along(high, d, -length), way: d, per: length, whole: true } as const] : []),
      ];
    if (i.symmetric === 'both') return [];
    const begin = along(low, d, -margin);
    return [
      { value: 'length', from: begin, way: d },
      ...(i.by === 'fit' ? [{ value: 'gap', from: high, way: d } as const] : []),
      { value: 'margin', from: along(begin, d, length), way: triple((k) => -d[k]) },
    ];
  },
  quick: (step, standing) => {
    const laid = laidOut(step, standing);
    return laid ? laid.skins.map((s) => atPlaces(s, laid.motions)) : null;
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
