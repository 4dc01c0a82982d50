import { z } from 'zod';
import {
  choice,
  idSchema,
  pathRefSchema,
  pickUses,
  raiseModeSchema,
  raisesOwn,
  raiseWords,
  type StepDefinition,
  skinUses,
  still,
  text,
  usualChoice,
  usually,
  value,
} from './definition';

const inputs = z.object({
  /** Drawings where they stand along the path. */
  sections: z.array(idSchema).max(20),
  /** The path; a drawn curve or an edge brings all that goes on from it smoothly. */
  paths: z.array(pathRefSchema).max(1),
  hold: z.enum(['square', 'fixed', 'guided']),
  /** A second rail: the section turns to it and grows with its distance. */
  rail: z.array(pathRefSchema).max(1).optional(),
  grow: z.enum(['both', 'across']).optional(),
  ...raiseModeSchema,
});
export type SweepInputs = z.infer<typeof inputs>;

const VALUES = {
  twist: { kind: 'angle', label: 'twist', initial: '0°' },
  scale: { kind: 'number', label: 'size at the end', initial: '1', above: 0, atMost: 100 },
} satisfies StepDefinition['values'];

export const sweep: StepDefinition<SweepInputs, 'twist' | 'scale'> = {
  kind: 'sweep',
  verb: 'Sweep',
  group: 'raise',
  summary: 'carry a section along a path',
  known: ['pipe', 'tube', 'follow a path', 'rail', 'wire', 'hose', 'handle'],
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
    ...usualChoice(step.inputs, 'hold', ['square', 'kept square to it'], ['fixed', 'only moved along'], ['guided', 'led by a second rail']),
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
  uses: (i) => {
    const own = skinUses(i);
    const rail = pickUses(i.hold === 'guided' ? (i.rail ?? []) : []);
    return {
      ...own,
      bodies: [...own.bodies, ...rail.bodies],
      profiles: [...new Set([...own.profiles, ...rail.profiles])],
      paths: [...(own.paths ?? []), ...rail.paths],
    };
  },
};
