import { z } from 'zod';
import { along, distance, minus, unit, type Vec3 } from '../../geometry/vectors';
import {
  bodyFaceSchema,
  choice,
  idSchema,
  pathRefSchema,
  pickUses,
  raiseModeSchema,
  raisesOwn,
  raiseWords,
  type StepDefinition,
  type StepOf,
  skinUses,
  still,
  text,
  usualChoice,
  usually,
  value,
} from './definition';
import { middleOfLines, type Standing } from './handles';
import { type Carry, carrying, swept } from './quick';

const inputs = z.object({
  /** Drawings where they stand along the path. */
  sections: z.array(idSchema).max(20),
  /** The path; a drawn curve or an edge brings all that goes on from it smoothly. */
  paths: z.array(pathRefSchema).max(1),
  hold: z.enum(['square', 'fixed', 'guided', 'surface']),
  /** A second rail: the section turns to it and grows with its distance. */
  rail: z.array(pathRefSchema).max(1).optional(),
  grow: z.enum(['both', 'across']).optional(),
  /** The face the path runs along, to which the section keeps upright. */
  ground: z.array(bodyFaceSchema).max(1).optional(),
  ...raiseModeSchema,
});
export type SweepInputs = z.infer<typeof inputs>;

const VALUES = {
  twist: { kind: 'angle', label: 'twist', initial: '0°' },
  scale: { kind: 'number', label: 'size at the end', initial: '1', above: 0, atMost: 100 },
} satisfies StepDefinition['values'];

/** The section's lines and the path from where they stand; undefined where another rail leads it too. */
function ledAlong({ inputs: i }: StepOf<SweepInputs>, standing: Standing) {
  const drawn = i.sections[0] ? standing.drawing(i.sections[0]) : undefined;
  const picked = i.paths[0] ? standing.line(i.paths[0]) : undefined;
  const middle = drawn && middleOfLines(drawn.lines);
  if (!drawn || !picked || !middle || picked.length < 2 || i.hold === 'guided' || i.hold === 'surface') return undefined;
  const path = distance(middle, picked[0]!) <= distance(middle, picked.at(-1)!) ? picked : picked.toReversed();
  return { lines: drawn.lines, path, square: i.hold === 'square' };
}

export const sweep: StepDefinition<SweepInputs, 'twist' | 'scale'> = {
  kind: 'sweep',
  verb: 'Sweep',
  group: 'raise',
  summary: 'carry a section along a path',
  known: ['pipe', 'tube', 'follow a path', 'rail', 'wire', 'hose', 'handle', 'band', 'rib on a surface'],
  needs: 'a drawing',
  offers: (c) => {
    const section = c.profiles.filter((p) => !p.half).at(-1);
    const path = c.curves[0];
    if (!section) return [];
    return [
      {
        group: 'Raise',
        label: 'Sweep a drawing along a path',
        hint: 'an edge, a drawn line or a curve in space',
        inputs: { sections: [section.id], paths: path ? [{ step: path }] : [], hold: 'square', mode: 'new', body: null },
        ...(path ? {} : { pick: { what: 'paths', field: 'paths', most: 1 } }),
      },
    ];
  },
  inputs,
  values: VALUES,
  sentence: (step) => [
    text('Sweep'),
    { profiles: 'sections' },
    text('along'),
    { picks: 'paths', what: 'paths', most: 1 },
    ...usualChoice(
      step.inputs,
      'hold',
      ['square', 'kept square to it'],
      ['fixed', 'only moved along'],
      ['guided', 'led by a second rail'],
      ['surface', 'kept upright on a face'],
    ),
    ...(step.inputs.hold === 'surface' ? [{ picks: 'ground', what: 'faces', most: 1 } as const] : []),
    ...(step.inputs.hold === 'guided'
      ? [
          { picks: 'rail', what: 'paths', most: 1 } as const,
          choice('grow', ['both', 'height and width growing with it'], ['across', 'only the width growing with it']),
        ]
      : []),
    ...usually(still(step, VALUES, 'twist'), text('twisted by'), value('twist')),
    ...usually(still(step, VALUES, 'scale'), text('size at the end ×'), value('scale')),
    ...raiseWords(step),
  ],
  ...raisesOwn,
  handles: (step, standing) => {
    const led = ledAlong(step, standing);
    if (!led || step.inputs.sections.length > 1) return [];
    const twist = standing.value('twist');
    const last = led.path.length - 1;
    const centre = led.path.at(-1)!;
    const corners = led.lines.flat();
    const at = (p: Vec3, k: Carry): Vec3 => carrying(led.path, k).at(p, last);
    const how = { square: led.square, twist: 0, size: 1 };
    const far = corners.reduce((m, p) => (distance(at(p, how), centre) > distance(at(m, how), centre) + 1e-9 ? p : m), corners[0]!);
    const straight = at(far, how);
    const direction = unit(minus(centre, led.path.at(-2)!));
    const out = unit(minus(at(far, { ...how, twist }), centre));
    if (!direction || !out) return [];
    return [
      { value: 'twist', from: along(centre, minus(straight, centre), standing.value('scale')), about: { place: centre, direction } },
      { value: 'scale', from: centre, way: out, per: distance(straight, centre) },
    ];
  },
  quick: (step, standing) => {
    const led = ledAlong(step, standing);
    if (!led || step.inputs.sections.length > 1) return null;
    return [swept(led.lines, led.path, { square: led.square, twist: standing.value('twist'), size: standing.value('scale') })];
  },
  uses: (i) => {
    const own = skinUses(i);
    const rail = pickUses(i.hold === 'guided' ? (i.rail ?? []) : i.hold === 'surface' ? (i.ground ?? []) : []);
    return {
      ...own,
      bodies: [...own.bodies, ...rail.bodies],
      profiles: [...new Set([...own.profiles, ...rail.profiles])],
      paths: [...(own.paths ?? []), ...rail.paths],
    };
  },
};
