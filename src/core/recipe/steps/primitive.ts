import { z } from 'zod';
import { type Frame, normalOf, toSpace } from '../../curves/frame';
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
import { circleIn, type Handle, type Standing } from './handles';
import { prism, type QuickSkin, spun } from './quick';

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

/** Its plane, with the place it stands at as the origin. */
function floorOf(i: PrimitiveInputs, standing: Standing): Frame | undefined {
  const plane = standing.frame(i.plane);
  const place = i.places[0] ? standing.place(i.places[0]) : plane?.origin;
  if (!plane || !place) return undefined;
  const n = normalOf(plane);
  return { ...plane, origin: along(place, n, -dot(minus(place, plane.origin), n)) };
}

/** A closed rectangle about a plane's origin. */
const rectangle = (frame: Frame, width: number, depth: number): Vec3[] =>
  [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
    [-1, -1],
  ].map(([x, y]) => toSpace(frame, { x: (x! * width) / 2, y: (y! * depth) / 2 }));

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
    const frame = floorOf(i, standing);
    if (!frame) return [];
    const n = normalOf(frame);
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
      const floor = rectangle(frame, standing.value('width'), standing.value('depth'));
      return [size('width', frame.x, high / 2, 0.5), size('depth', frame.y, high / 2, 0.5), up(floor)];
    }
    if (i.shape === 'cylinder') return [round('diameter', high / 2), up(circleIn(frame, radius))];
    if (i.shape === 'cone') return [round('diameter', 0), round('top', high), up(circleIn(frame, standing.value('top') / 2))];
    return [round('diameter', 0)];
  },
  quick: ({ inputs: i }, standing) => {
    const frame = floorOf(i, standing);
    if (!frame) return null;
    const [high, radius] = [standing.value('height'), standing.value('diameter') / 2];
    const n = normalOf(frame);
    const over = (x: number, h: number): Vec3 => along(along(frame.origin, frame.x, x), n, h);
    /** A half outline, turned about the upright of its plane. */
    const round = (...line: Vec3[]): QuickSkin[] => [spun([line], frame.origin, n, 2 * Math.PI)];
    const arc = (middle: number, r: number, from: number, to: number): Vec3[] =>
      Array.from({ length: 37 }, (_, k) => from + ((to - from) * k) / 36).map((t) => over(middle + r * Math.cos(t), r * Math.sin(t)));
    switch (i.shape) {
      case 'box':
        return [prism({ frame, lines: [rectangle(frame, standing.value('width'), standing.value('depth'))] }, 0, high)];
      case 'cylinder':
        return round(over(0, 0), over(radius, 0), over(radius, high), over(0, high));
      case 'cone':
        return round(over(0, 0), over(radius, 0), over(standing.value('top') / 2, high), over(0, high));
      case 'sphere':
        return round(...arc(0, radius, -Math.PI / 2, Math.PI / 2));
      case 'torus':
        return round(...arc(radius, standing.value('thickness') / 2, 0, 2 * Math.PI));
    }
  },
  uses: (i) => {
    const picks = pickUses(i.places);
    return raising.uses(i, { ...picks, planes: [i.plane] });
  },
};
