import { z } from 'zod';
import {
  bodyFaceSchema,
  idSchema,
  pickUses,
  placeRefSchema,
  type StepDefinition,
  still,
  text,
  usualChoice,
  usually,
  value,
} from './definition';

const inputs = z.object({
  body: idSchema,
  /** The face of another body that it is set on. */
  faces: z.array(bodyFaceSchema).max(1),
  /** Where: at the nearest place of the face; at its middle where nothing is picked. */
  places: z.array(placeRefSchema).max(1),
  result: z.enum(['moved', 'copied']),
});
export type SetOnInputs = z.infer<typeof inputs>;

const VALUES = {
  along: { kind: 'length', label: 'along the face', initial: '0 mm' },
  up: { kind: 'length', label: 'up the face', initial: '0 mm' },
  turn: { kind: 'angle', label: 'turn', initial: '0°' },
  sunk: { kind: 'length', label: 'sunk by', initial: '0 mm' },
} satisfies StepDefinition['values'];

export const seton: StepDefinition<SetOnInputs, keyof typeof VALUES> = {
  kind: 'seton',
  verb: 'Set on a face',
  group: 'combine',
  summary: 'a body stands on a face of another, square to it, where one says; it stays there as the face changes',
  known: [
    'place on surface',
    'orient on surface',
    'attach',
    'stick',
    'drop on',
    'snap to face',
    'stamp',
    'normal to surface',
    'position',
    'seat',
  ],
  needs: 'two bodies',
  offers: (c) => {
    const all = [...c.solids, ...c.skins];
    return all.length < 2
      ? []
      : all.slice(0, 3).map((b) => ({
          group: 'Join and cut',
          label: `Set ${b.name} on a face`,
          hint: 'square to it, at a place',
          inputs: { body: b.id, faces: [], places: [], result: 'moved' },
          pick: { what: 'faces', field: 'faces', most: 1 },
        }));
  },
  inputs,
  values: VALUES,
  sentence: (step) => [
    text('Set'),
    { body: 'body' },
    text('on'),
    { picks: 'faces', what: 'faces', most: 1 },
    ...usually(step.inputs.places.length === 0, text('nearest to'), { picks: 'places', what: 'places', most: 1 }),
    ...usually(still(step, VALUES, 'along'), text(','), value('along'), text('along it')),
    ...usually(still(step, VALUES, 'up'), text(','), value('up'), text('up')),
    ...usually(still(step, VALUES, 'turn'), text(', turned by'), value('turn')),
    ...usually(still(step, VALUES, 'sunk'), text(', sunk by'), value('sunk')),
    ...usualChoice(step.inputs, 'result', ['moved', 'itself'], ['copied', 'as a copy']),
  ],
  makes: (i, id) => (i.result === 'copied' ? [id] : []),
  copies: (i) => (i.result === 'copied' ? i.body : null),
  changesBody: (i) => (i.result === 'moved' ? i.body : null),
  takesSurfaces: true,
  takesPieces: true,
  takesFacets: true,
  uses: (i) => {
    const picks = pickUses([...i.faces, ...i.places]);
    return { ...picks, bodies: [...new Set([i.body, ...picks.bodies])], planes: [] };
  },
};
