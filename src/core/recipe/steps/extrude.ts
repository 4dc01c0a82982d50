import { z } from 'zod';
import { chained, isClosed } from '../../curves/chained';
import { normalOf, toPlane } from '../../curves/frame';
import { along, cross, distance, dot, minus, triple, unit, type Vec3 } from '../../geometry/vectors';
import { planeRefSchema } from '../schema';
import {
  bodyFaceSchema,
  choice,
  idSchema,
  placed,
  raisedOffers,
  raiseModeSchema,
  raisesOwn,
  raiseWords,
  raising,
  type SentencePart,
  type StepDefinition,
  still,
  text,
  usualChoice,
  usually,
} from './definition';
import { boxLines, type Handle, middleOfLines, type Standing } from './handles';
import { type Drawn, prism, ringArea } from './quick';

const inputs = z.object({
  profile: idSchema,
  /** How far: a length to one side, half of it to either, two lengths, through the body, through it both ways, up to a face, a body or a plane. */
  extent: z.enum(['one', 'symmetric', 'two', 'through', 'both', 'face', 'body', 'plane']),
  /** Along the plane's normal, or against it. */
  way: z.enum(['out', 'back']),
  /** The outline filled, or a wall along it. */
  fill: z.enum(['solid', 'inside', 'outside', 'about']),
  /** The face it ends at. */
  faces: z.array(bodyFaceSchema).max(1),
  /** Where it begins: off its plane, or off a face of a body. */
  origin: z.enum(['plane', 'face']).optional(),
  fromFaces: z.array(bodyFaceSchema).max(1).optional(),
  /** The body it ends at. */
  until: idSchema.nullable(),
  /** The plane it ends at. */
  upTo: planeRefSchema.optional(),
  ...raiseModeSchema,
});
export type ExtrudeInputs = z.infer<typeof inputs>;

const ENDS: Readonly<Record<ExtrudeInputs['extent'], readonly SentencePart[]>> = {
  one: [{ value: 'length' }],
  symmetric: [{ value: 'length' }],
  two: [{ value: 'length' }, text('and'), { value: 'back' }],
  through: [],
  both: [],
  face: [{ picks: 'faces', what: 'faces', most: 1 }],
  body: [{ body: 'until' }],
  plane: [{ plane: 'upTo' }],
};

const VALUES = {
  length: { kind: 'length', label: 'length', initial: '20 mm', above: 0 },
  back: { kind: 'length', label: 'length on the other side', initial: '10 mm', above: 0 },
  taper: { kind: 'angle', label: 'taper', initial: '0°', atLeast: -Math.PI / 3, atMost: Math.PI / 3 },
  start: { kind: 'length', label: 'start off the plane', initial: '0 mm' },
  wall: { kind: 'length', label: 'wall', initial: '2 mm', above: 0 },
} satisfies StepDefinition['values'];

/** Where it begins and ends, off where it starts; leaning sides lean from the first. Undefined where only the build can tell. */
function reachOf(i: ExtrudeInputs, { frame }: Drawn, standing: Standing): [number, number] | undefined {
  const [length, back] = [standing.value('length'), standing.value('back')];
  if (i.extent === 'one') return [0, i.way === 'out' ? length : -length];
  if (i.extent === 'symmetric') return [-length / 2, length / 2];
  if (i.extent === 'two') return [-back, length];
  if (i.extent !== 'through' && i.extent !== 'both') return undefined;
  const box = i.body ? standing.bounds(i.body) : undefined;
  if (!box) return undefined;
  const n = normalOf(frame);
  const over = boxLines(box).flatMap((l) => l.map((p) => dot(minus(p, frame.origin), n) - standing.value('start')));
  const [low, high] = [Math.min(...over), Math.max(...over)];
  return i.extent === 'both' ? [low, high] : [0, i.way === 'out' ? high : low];
}

/** The lean of its sides, at the end of the longest straight one. */
function taperOf(i: ExtrudeInputs, drawn: Drawn, start: number, standing: Standing): Handle[] {
  const reach = reachOf(i, drawn, standing);
  const loop = chained(drawn.lines)[0];
  if (!reach || !loop || !isClosed(loop) || i.fill !== 'solid' || i.mode === 'surface') return [];
  const area = ringArea(loop.map((p) => toPlane(drawn.frame, p)));
  const sides = loop.slice(1).map((b, k): [Vec3, Vec3] => [loop[k]!, b]);
  const long = ([p, q]: [Vec3, Vec3]): number => distance(p, q);
  const [a, b] = sides.reduce((best, s) => (long(s) > long(best) + 1e-9 ? s : best));
  const side = unit(minus(b, a));
  if (!side) return [];
  const n = normalOf(drawn.frame);
  const inwards = triple((k) => Math.sign(area) * cross(n, side)[k]!);
  const [from, to] = reach;
  const way = triple((k) => Math.sign(to - from) * n[k]);
  const foot = along(
    triple((k) => (a[k] + b[k]) / 2),
    n,
    start + from,
  );
  return [{ value: 'taper', from: along(foot, way, Math.abs(to - from)), about: { place: foot, direction: cross(way, inwards) } }];
}

export const extrude: StepDefinition<ExtrudeInputs, 'length' | 'back' | 'taper' | 'start' | 'wall'> = {
  kind: 'extrude',
  verb: 'Extrude',
  group: 'raise',
  summary: 'push a drawing off its plane',
  known: ['pull up', 'push', 'boss', 'pad', 'protrude', 'pocket', 'prism', 'emboss', 'engrave', 'slot', 'rib', 'cut out'],
  needs: 'a drawing',
  offers: (c) =>
    c.profiles
      .toReversed()
      .filter((p) => !p.half)
      .flatMap((p) =>
        raisedOffers<ExtrudeInputs>(
          c,
          `Extrude ${p.name}`,
          { profile: p.id, extent: 'one', way: 'out', fill: 'solid', faces: [], until: null },
          { extent: 'both', ...(p.onFace ? { way: 'back' as const } : {}) },
        )
          // What closes no outline is raised as a wall, or as a skin.
          .map((o) => (p.open && o.inputs.mode !== 'surface' ? { ...o, inputs: { ...o.inputs, fill: 'about' as const } } : o))
          // Letters are one body of several pieces.
          .map((o) => (p.lettered && o.inputs.mode === 'new' ? { ...o, inputs: { ...o.inputs, pieces: 'together' as const } } : o)),
      ),
  inputs,
  values: VALUES,
  sentence: (step) => {
    const i = step.inputs;
    const oneWay = !['symmetric', 'two', 'both'].includes(i.extent);
    return [
      text('Extrude'),
      { profile: 'profile' },
      {
        choice: 'extent',
        options: [
          { value: 'one', words: 'by' },
          { value: 'symmetric', words: 'half to either side, in all' },
          { value: 'two', words: 'to both sides by' },
          { value: 'through', words: 'through everything' },
          { value: 'both', words: 'through everything both ways' },
          { value: 'face', words: 'up to the face' },
          { value: 'body', words: 'up to the body' },
          { value: 'plane', words: 'up to' },
        ],
      },
      ...ENDS[i.extent],
      ...(oneWay ? usualChoice(i, 'way', ['out', 'outwards'], ['back', 'backwards']) : []),
      ...usualChoice(
        i,
        'fill',
        ['solid', 'filled'],
        ['inside', 'as a wall inside, of'],
        ['outside', 'as a wall outside, of'],
        ['about', 'as a wall about the line, of'],
      ),
      ...(i.fill === 'solid' ? [] : [{ value: 'wall' }]),
      ...usually(still(step, VALUES, 'taper'), text('tapered by'), { value: 'taper' }),
      ...usually(
        still(step, VALUES, 'start') && i.origin !== 'face',
        text('from'),
        { value: 'start' },
        choice('origin', ['plane', 'off its plane'], ['face', 'off the face']),
      ),
      ...(i.origin === 'face' ? [{ picks: 'fromFaces', what: 'faces', most: 1 } as const] : []),
      ...raiseWords(step),
    ];
  },
  ...raisesOwn,
  handles: ({ inputs: i }, standing) => {
    const drawn = standing.drawing(i.profile);
    const middle = drawn && middleOfLines(drawn.lines);
    if (!drawn || !middle || i.origin === 'face' || !['one', 'symmetric', 'two'].includes(i.extent)) return [];
    const n = normalOf(drawn.frame);
    const start = standing.value('start');
    const end = (value: string, sign: number, per = 1): Handle => ({
      value,
      from: along(middle, n, start),
      way: triple((k) => sign * n[k]),
      per,
      carried: drawn.lines.map((l) => l.map((p) => along(p, n, start))),
    });
    const taper = taperOf(i, drawn, start, standing);
    if (i.extent === 'symmetric') return [end('length', 1, 0.5), ...taper];
    if (i.extent === 'two') return [end('length', 1), end('back', -1), ...taper];
    return [end('length', i.way === 'out' ? 1 : -1), ...taper];
  },
  quick: ({ inputs: i }, standing) => {
    const drawn = standing.drawing(i.profile);
    const reach = drawn && reachOf(i, drawn, standing);
    if (!drawn || !reach || i.origin === 'face') return null;
    const [from, to] = reach.map((v) => v + standing.value('start')) as [number, number];
    return [prism(drawn, from, to, -standing.value('taper'), i.fill === 'solid' && i.mode !== 'surface')];
  },
  chosen: (i, field, { planes }) =>
    field === 'extent' && i.extent === 'plane' && !i.upTo ? { ...i, upTo: placed({ planes }, 'level') } : i,
  uses: (i) =>
    raising.uses(i, {
      bodies: [
        ...(i.extent === 'face' ? i.faces.map((f) => f.body) : []),
        ...(i.origin === 'face' ? (i.fromFaces ?? []).map((f) => f.body) : []),
        ...(i.extent === 'body' && i.until ? [i.until] : []),
      ],
      profiles: [i.profile],
      planes: i.extent === 'plane' && i.upTo ? [i.upTo] : [],
    }),
};
