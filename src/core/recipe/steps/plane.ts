import { z } from 'zod';
import { normalOf } from '../../curves/frame';
import { along } from '../../geometry/vectors';
import { planeRefSchema } from '../schema';
import {
  bodyFaceSchema,
  type Offer,
  type Pick,
  type PickKind,
  pathRefSchema,
  pickUses,
  placeRefSchema,
  type SentencePart,
  type StepDefinition,
  text,
  value,
} from './definition';

const faces = z.array(bodyFaceSchema).max(2);
const places = z.array(placeRefSchema).max(3);
const paths = z.array(pathRefSchema).max(1);
const from = planeRefSchema;

const inputs = z.discriminatedUnion('by', [
  /** Parallel to a plane at a distance. */
  z.object({ by: z.literal('distance'), from }),
  /** Parallel to a plane through a place. */
  z.object({ by: z.literal('place'), from, places }),
  /** A plane turned about a straight line; about its own across or up where no line is picked. */
  z.object({ by: z.literal('tilt'), from, about: z.enum(['across', 'up', 'line']), paths }),
  z.object({ by: z.literal('three'), places }),
  /** Touching a face where it is nearest to a place. */
  z.object({ by: z.literal('touch'), faces, places }),
  /** Half-way between two flat faces, or halving their angle. */
  z.object({ by: z.literal('between'), faces }),
  /** Square to a curve at a share of its length. */
  z.object({ by: z.literal('square'), paths }),
  z.object({ by: z.literal('on'), faces }),
]);
export type PlaneInputs = z.infer<typeof inputs>;
type PlaneBy = PlaneInputs['by'];

/** How far from the line it turns about a plane's angle is taken hold of, mm. */
const ARM = 30;

const picks = (what: 'faces' | 'paths' | 'places', most: number): SentencePart => ({ picks: what, what, most });

/** What follows “Place a plane” for each way of placing it. */
const WORDS: Readonly<Record<PlaneBy, (i: PlaneInputs) => readonly SentencePart[]>> = {
  distance: () => [value('distance'), text('from'), { plane: 'from' }],
  place: () => [text('like'), { plane: 'from' }, text('through'), picks('places', 1)],
  tilt: (i) => [
    text('at'),
    value('angle'),
    text('to'),
    { plane: 'from' },
    text('about'),
    {
      choice: 'about',
      options: [
        { value: 'across', words: 'its across' },
        { value: 'up', words: 'its up' },
        { value: 'line', words: 'a line' },
      ],
    },
    ...(i.by === 'tilt' && i.about === 'line' ? [picks('paths', 1)] : []),
  ],
  three: () => [text('through'), picks('places', 3)],
  touch: () => [text('touching'), picks('faces', 1), text('nearest to'), picks('places', 1)],
  between: () => [text('between'), picks('faces', 2)],
  square: () => [text('square to'), picks('paths', 1), text('at'), value('share'), text('of its length')],
  on: () => [text('on'), { picks: 'faces', what: 'flats', most: 1 }],
};

const list = (i: PlaneInputs): readonly Pick[] => [
  ...('faces' in i ? i.faces : []),
  ...('places' in i ? i.places : []),
  ...('paths' in i ? i.paths : []),
];

export const plane: StepDefinition<PlaneInputs, 'distance' | 'angle' | 'share'> = {
  kind: 'plane',
  verb: 'Place',
  group: 'refer',
  summary: 'place a plane to draw on',
  known: ['datum', 'work plane', 'workplane', 'reference plane', 'construction plane', 'level'],
  needs: 'nothing',
  offers: (c) => {
    const from = c.planes[c.planes.length - 1]!;
    const place = (label: string, hint: string, inputs: PlaneInputs, what?: PickKind, most = 1): Offer<PlaneInputs> => ({
      group: 'Refer',
      label: `Place a plane ${label}`,
      hint,
      inputs,
      ...(what ? { pick: { what, field: what as keyof PlaneInputs & string, most } } : {}),
    });
    const on = (label: string, hint: string): Offer<PlaneInputs> => ({
      group: 'Refer',
      label,
      hint,
      inputs: { by: 'on', faces: [] },
      pick: { what: 'flats', field: 'faces' as keyof PlaneInputs & string, most: 1 },
    });
    return [
      place('at a distance', 'from another plane', { by: 'distance', from }),
      place('through a place', 'like another plane', { by: 'place', from, places: [] }, 'places'),
      place('at an angle', 'to another plane, about a line', { by: 'tilt', from: 'front', about: 'up', paths: [] }),
      place('through three places', 'ends and middles of edges, points, or typed', { by: 'three', places: [] }, 'places', 3),
      ...(c.solids.length + c.skins.length > 0
        ? [
            on('Place a plane on a flat face', 'of a body'),
            { ...on('New drawing on a flat face', 'of a body: click it'), group: 'Draw' as const, draws: true as const },
            place('touching a face', 'where it is nearest to a place', { by: 'touch', faces: [], places: [] }, 'faces'),
            place('between two faces', 'half-way, or halving their angle', { by: 'between', faces: [] }, 'faces', 2),
          ]
        : []),
      place('square to a curve', 'at a share of its length', { by: 'square', paths: [] }, 'paths'),
    ];
  },
  inputs,
  values: {
    distance: { kind: 'length', label: 'distance', initial: '20 mm' },
    angle: { kind: 'angle', label: 'angle', initial: '30°' },
    share: { kind: 'number', label: 'share', initial: '0.5', atLeast: 0, atMost: 1 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [text('Place'), text('a plane'), ...WORDS[i.by](i)];
  },
  makes: () => [],
  changesBody: () => null,
  places: 'plane',
  handles: ({ inputs: i }, standing) => {
    const from = 'from' in i ? standing.frame(i.from) : undefined;
    if (!from) return [];
    if (i.by === 'distance') return [{ value: 'distance', from: from.origin, way: normalOf(from) }];
    if (i.by !== 'tilt' || i.about === 'line') return [];
    const [direction, arm] = i.about === 'across' ? [from.x, from.y] : [from.y, from.x];
    return [{ value: 'angle', from: along(from.origin, arm, ARM), about: { place: from.origin, direction } }];
  },
  uses: (i) => ({ ...pickUses(list(i)), planes: 'from' in i ? [i.from] : [] }),
};
