import { z } from 'zod';
import { normalOf, toSpace } from '../../curves/frame';
import { along, dot, minus, type Vec3 } from '../../geometry/vectors';
import { planeRefSchema } from '../schema';
import {
  choice,
  pickUses,
  placeRefSchema,
  raiseModeSchema,
  raisesOwn,
  raiseWords,
  raising,
  type SentencePart,
  type StepDefinition,
  text,
  usually,
  value,
} from './definition';
import { circleIn, type Handle } from './handles';

const inputs = z.object({
  shape: z.enum(['box', 'cylinder', 'cone', 'sphere', 'torus']),
  plane: planeRefSchema,
  /** Where its middle stands on the plane; the plane's origin where nothing is picked. */
  places: z.array(placeRefSchema).max(1),
  ...raiseModeSchema,
});
export type PrimitiveInputs = z.infer<typeof inputs>;

const SIZES: Readonly<Record<PrimitiveInputs['shape'], readonly SentencePart[]>> = {
  box: [value('width'), text('by'), value('depth'), text('by'), value('height'), text('high')],
  cylinder: [text('⌀'), value('diameter'), value('height'), text('high')],
  cone: [text('⌀'), value('diameter'), text('to ⌀'), value('top'), value('height'), text('high')],
  sphere: [text('⌀'), value('diameter')],
  torus: [text('⌀'), value('diameter'), text('of a ring ⌀'), value('thickness')],
};

export const primitive: StepDefinition<PrimitiveInputs, 'width' | 'depth' | 'height' | 'diameter' | 'top' | 'thickness'> = {
  kind: 'primitive',
  verb: 'Set up',
  group: 'raise',
  summary: 'a plain box, cylinder, cone, ball or ring',
  known: ['cube', 'block', 'cuboid', 'ball', 'sphere', 'donut', 'torus', 'cylinder', 'cone', 'frustum', 'rod', 'disc', 'solid'],
  needs: 'nothing',
  offers: () => [
    {
      group: 'Raise',
      label: 'Set up a box, cylinder, cone, ball or ring',
      hint: 'as a new body',
      inputs: { shape: 'box', plane: 'level', places: [], mode: 'new', body: null },
    },
  ],
  inputs,
  values: {
    width: { kind: 'length', label: 'width', initial: '40 mm', above: 0 },
    depth: { kind: 'length', label: 'depth', initial: '30 mm', above: 0 },
    height: { kind: 'length', label: 'height', initial: '20 mm', above: 0 },
    diameter: { kind: 'length', label: 'diameter', initial: '30 mm', above: 0 },
    top: { kind: 'length', label: 'diameter at the top', initial: '20 mm', atLeast: 0 },
    thickness: { kind: 'length', label: 'thickness of the ring', initial: '6 mm', above: 0 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Set up'),
      choice('shape', ['box', 'a box'], ['cylinder', 'a cylinder'], ['cone', 'a cone'], ['sphere', 'a ball'], ['torus', 'a ring']),
      ...SIZES[i.shape],
      text('on'),
      { plane: 'plane' },
      ...usually(i.places.length === 0, text('at'), { picks: 'places', what: 'places', most: 1 }),
      ...raiseWords(step),
    ];
  },
  ...raisesOwn,
  handles: ({ inputs: i }, standing) => {
    const plane = standing.frame(i.plane);
    const place = i.places[0] ? standing.place(i.places[0]) : plane?.origin;
    if (!plane || !place) return [];
    const n = normalOf(plane);
    const frame = { ...plane, origin: along(place, n, -dot(minus(place, plane.origin), n)) };
    const high = standing.value('height');
    const size = (value: string, way: Vec3, over: number, per: number, carried: readonly (readonly Vec3[])[] = []): Handle => ({
      value,
      from: along(frame.origin, n, over),
      way,
      per,
      carried,
    });
    const round = (value: string, over: number): Handle => size(value, frame.x, over, 0.5);
    const up = (...carried: Vec3[][]): Handle => size('height', n, 0, 1, carried);
    const radius = standing.value('diameter') / 2;
    if (i.shape === 'box') {
      const [w, d] = [standing.value('width') / 2, standing.value('depth') / 2];
      const floor = [
        [-w, -d],
        [w, -d],
        [w, d],
        [-w, d],
        [-w, -d],
      ].map(([x, y]) => toSpace(frame, { x: x!, y: y! }));
      return [size('width', frame.x, high / 2, 0.5), size('depth', frame.y, high / 2, 0.5), up(floor)];
    }
    if (i.shape === 'cylinder') return [round('diameter', high / 2), up(circleIn(frame, radius))];
    if (i.shape === 'cone') return [round('diameter', 0), round('top', high), up(circleIn(frame, standing.value('top') / 2))];
    return [round('diameter', 0)];
  },
  uses: (i) => {
    const picks = pickUses(i.places);
    return raising.uses(i, { ...picks, planes: [i.plane] });
  },
};
