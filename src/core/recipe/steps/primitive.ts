import { z } from 'zod';
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
  uses: (i) => {
    const picks = pickUses(i.places);
    return raising.uses(i, { ...picks, planes: [i.plane] });
  },
};
