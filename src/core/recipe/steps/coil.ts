import { z } from 'zod';
import { facing, normalOf } from '../../curves/frame';
import { spaceAt } from '../../curves/path';
import { along, minus } from '../../geometry/vectors';
import { planeRefSchema } from '../schema';
import { choice, placed, raiseModeSchema, raisesOwn, raiseWords, raising, type StepDefinition, text, value } from './definition';
import { circleIn } from './handles';
import { swept } from './quick';

const inputs = z.object({ plane: planeRefSchema, hand: z.enum(['right', 'left']), ...raiseModeSchema });
export type CoilInputs = z.infer<typeof inputs>;

export const coil: StepDefinition<CoilInputs, 'wire' | 'diameter' | 'top' | 'turns' | 'pitch'> = {
  kind: 'coil',
  verb: 'Coil',
  group: 'raise',
  summary: 'a round wire in a helix',
  known: ['spring', 'helix', 'thread', 'screw thread', 'spiral', 'winding'],
  needs: 'nothing',
  offers: (c) => [
    {
      group: 'Raise',
      label: 'Coil a wire',
      hint: 'a helix of round wire',
      inputs: { plane: placed(c, 'level'), hand: 'right', mode: 'new', body: null },
    },
  ],
  inputs,
  values: {
    wire: { kind: 'length', label: 'wire', initial: '2 mm', above: 0 },
    diameter: { kind: 'length', label: 'diameter', initial: '30 mm', above: 0 },
    top: { kind: 'length', label: 'diameter at the end', initial: '30 mm', above: 0 },
    turns: { kind: 'number', label: 'turns', initial: '5', above: 0, atMost: 60 },
    pitch: { kind: 'length', label: 'rise per turn', initial: '6 mm' },
  },
  sentence: (step) => [
    text('Coil'),
    text('a wire ⌀'),
    value('wire'),
    text('round ⌀'),
    value('diameter'),
    text('to ⌀'),
    value('top'),
    text('in'),
    value('turns'),
    choice('hand', ['right', 'right-handed turns of'], ['left', 'left-handed turns of']),
    value('pitch'),
    text('on'),
    { plane: 'plane' },
    ...raiseWords(step),
  ],
  ...raisesOwn,
  handles: ({ inputs: i }, standing) => {
    const frame = standing.frame(i.plane);
    if (!frame) return [];
    const n = normalOf(frame);
    const end = along(frame.origin, n, standing.value('turns') * standing.value('pitch'));
    return [
      { value: 'diameter', from: frame.origin, way: frame.x, per: 0.5 },
      { value: 'top', from: end, way: frame.x, per: 0.5 },
      { value: 'pitch', from: frame.origin, way: n, per: standing.value('turns'), carried: [circleIn(frame, standing.value('top') / 2)] },
    ];
  },
  quick: ({ inputs: i }, standing) => {
    const frame = standing.frame(i.plane);
    if (!frame) return null;
    const [turns, wire, hand] = [standing.value('turns'), standing.value('wire'), i.hand === 'left' ? -1 : 1];
    // A left hand turns the other way and rises the same.
    const [radius, end] = [standing.value('diameter') / 2, standing.value('top') / 2];
    const helix = { kind: 'helix', frame, radius, end, pitch: hand * standing.value('pitch'), turns: hand * turns } as const;
    const count = Math.ceil(36 * turns);
    const path = Array.from({ length: count + 1 }, (_, k) => spaceAt(helix, k / count).p);
    return [swept([circleIn(facing(minus(path[1]!, path[0]!), path[0]!), wire / 2)], path, { square: true, twist: 0, size: 1 })];
  },
  uses: (i) => raising.uses(i, { bodies: [], profiles: [], planes: [i.plane] }),
};
