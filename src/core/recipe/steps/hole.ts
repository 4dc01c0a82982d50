import { z } from 'zod';
import { normalOf } from '../../curves/frame';
import { triple } from '../../geometry/vectors';
import { planeRefSchema } from '../schema';
import {
  choice,
  idSchema,
  pickUses,
  piecesSchema,
  piecesWords,
  placeRefSchema,
  type StepDefinition,
  text,
  value,
  withPieces,
} from './definition';

const inputs = z.object({
  body: idSchema,
  /** Where holes stand; each goes along the plane's normal. */
  places: z.array(placeRefSchema).max(100),
  plane: planeRefSchema,
  depth: z.enum(['through', 'blind']),
  ...piecesSchema,
});
export type HoleInputs = z.infer<typeof inputs>;

export const hole: StepDefinition<HoleInputs, 'part' | 'clearance' | 'deep'> = {
  kind: 'hole',
  verb: 'Bore for',
  group: 'combine',
  summary: 'holes for drains and fixings, as wide as what goes in and its clearance',
  known: ['drill', 'hole', 'screw hole', 'drain', 'clearance', 'tap', 'vent', 'bolt'],
  needs: 'a solid',
  offers: (c) =>
    c.solids.map((b) => ({
      group: 'Join and cut',
      label: `Bore holes into ${b.name}`,
      hint: 'for drains and fixings; as wide as what goes in and its clearance',
      inputs: { body: b.id, places: [], plane: 'level', depth: 'through' },
      pick: { what: 'places', field: 'places', most: 100 },
    })),
  inputs,
  values: {
    part: { kind: 'length', label: 'diameter of what goes in', initial: '4 mm', above: 0 },
    clearance: { kind: 'length', label: 'clearance per side', initial: '0.2 mm', atLeast: 0 },
    deep: { kind: 'length', label: 'depth', initial: '10 mm', above: 0 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Bore for'),
      text('⌀'),
      value('part'),
      text('with'),
      value('clearance'),
      text('per side into'),
      { body: 'body' },
      text('at'),
      { picks: 'places', what: 'places', most: 100 },
      text('square to'),
      { plane: 'plane' },
      choice('depth', ['through', 'right through'], ['blind', 'from each place down to']),
      ...(i.depth === 'blind' ? [value('deep')] : []),
      ...piecesWords(i),
    ];
  },
  handles: ({ inputs: i }, standing) => {
    const frame = standing.frame(i.plane);
    const place = i.places[0] && standing.place(i.places[0]);
    if (!frame || !place) return [];
    const n = normalOf(frame);
    return [
      { value: 'part', from: place, way: frame.x, per: 0.5 },
      ...(i.depth === 'blind' ? [{ value: 'deep', from: place, way: triple((k) => -n[k]) }] : []),
    ];
  },
  makes: (i, id) => (i.pieces === 'each' ? [id] : []),
  takesPieces: true,
  changesBody: (i) => i.body,
  uses: (i) => {
    const picks = pickUses(i.places);
    return withPieces(i, { ...picks, bodies: [i.body, ...picks.bodies], planes: [i.plane] });
  },
};
