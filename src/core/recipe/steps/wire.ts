import { z } from 'zod';
import { chained } from '../../curves/chained';
import { facing } from '../../curves/frame';
import { cross, minus, unit } from '../../geometry/vectors';
import {
  choice,
  pathRefSchema,
  pickUses,
  raiseModeSchema,
  raisesOwn,
  raiseWords,
  raising,
  type StepDefinition,
  still,
  text,
  usualChoice,
  usually,
  value,
} from './definition';
import { circleIn } from './handles';
import { swept } from './quick';

/** Edges and curves a wire may run along. */
const MOST = 100;

const inputs = z.object({
  /** Edges and curves, which hang together. */
  paths: z.array(pathRefSchema).max(MOST),
  /** Whether edges that go on without a corner come too. */
  chain: z.enum(['smooth', 'picked']),
  inside: z.enum(['solid', 'hollow']),
  ...raiseModeSchema,
});
export type WireInputs = z.infer<typeof inputs>;

const VALUES = {
  wire: { kind: 'length', label: 'diameter', initial: '6 mm', above: 0 },
  wall: { kind: 'length', label: 'wall', initial: '1 mm', above: 0 },
  bend: { kind: 'length', label: 'bend radius', initial: '12 mm', above: 0 },
} satisfies StepDefinition['values'];

export const wire: StepDefinition<WireInputs, 'wire' | 'wall' | 'bend'> = {
  kind: 'wire',
  verb: 'Bend',
  group: 'raise',
  summary: 'a round wire or tube along edges and curves',
  known: ['pipe', 'tube', 'tubing', 'hose', 'rod', 'bar', 'cable', 'bent wire', 'wireframe', 'round sweep', 'rail'],
  needs: 'nothing',
  offers: (c) => [
    {
      group: 'Raise',
      label: 'Bend a wire or tube',
      hint: 'round, along edges, drawn lines and curves in space',
      inputs: { paths: c.curves[0] ? [{ step: c.curves[0] }] : [], chain: 'smooth', inside: 'solid', mode: 'new', body: null },
      ...(c.curves[0] ? {} : { pick: { what: 'paths', field: 'paths', most: MOST } }),
    },
  ],
  inputs,
  values: VALUES,
  sentence: (step) => [
    text('Bend'),
    choice('inside', ['solid', 'a wire of ⌀'], ['hollow', 'a tube of ⌀']),
    value('wire'),
    ...(step.inputs.inside === 'hollow' ? [text('with a wall of'), value('wall')] : []),
    text('along'),
    { picks: 'paths', what: 'paths', most: MOST },
    ...usualChoice(step.inputs, 'chain', ['smooth', 'and what goes on from them smoothly'], ['picked', 'and nothing more']),
    ...usually(still(step, VALUES, 'bend'), text('its corners bent to R'), value('bend')),
    ...raiseWords(step),
  ],
  ...raisesOwn,
  handles: ({ inputs: i }, standing) => {
    const path = i.paths[0] && standing.line(i.paths[0]);
    const way = path && unit(minus(path[1]!, path[0]!));
    const out = way && unit(cross(way, Math.abs(way[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]));
    return path && out ? [{ value: 'wire', from: path[0]!, way: out, per: 0.5 }] : [];
  },
  quick: ({ inputs: i }, standing) => {
    const radius = standing.value('wire') / 2;
    // Corners are bent by the build alone.
    return chained(i.paths.flatMap((p) => [standing.line(p) ?? []])).map((path) =>
      swept([circleIn(facing(minus(path[1]!, path[0]!), path[0]!), radius)], path, { square: true, twist: 0, size: 1 }),
    );
  },
  uses: (i) => raising.uses(i, { ...pickUses(i.paths), planes: [] }),
};
