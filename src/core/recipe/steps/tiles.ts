import { z } from 'zod';
import { choice, faceRefSchema, idSchema, type StepDefinition, still, text, usualChoice, usually, value } from './definition';
import { IN_ROWS } from './dimples';

const inputs = z.object({
  /** The small body that is laid, standing on its lowest face. */
  tile: idSchema,
  body: idSchema,
  faces: z.array(faceRefSchema).max(10),
  /** Joined, cut out, or a body each. */
  as: z.enum(['raised', 'sunk', 'apart']),
  /** Rows in line, every other one half a place on, or every row with as many as it takes. */
  pattern: z.enum(['staggered', 'rows', 'rings']),
  /** As many as fit at least distances, or so many rows of so many. */
  by: z.enum(['pitch', 'count']),
  /** Which of the two ways of the face rows run along: round about where it closes, else the longer, or as chosen. */
  way: z.enum(['long', 'u', 'v']),
  /** Towards which borders heights grow less: none, those beside the rows, or the rows' ends too. */
  thin: z.enum(['none', 'sides', 'all']),
  /** Whether the tile itself stays. */
  tooling: z.enum(['used', 'kept']),
});
export type TilesInputs = z.infer<typeof inputs>;

const VALUES = {
  pitch: { kind: 'length', label: 'distance in rows', initial: '10 mm', above: 0 },
  across: { kind: 'length', label: 'distance of rows', initial: '8 mm', above: 0 },
  rows: { kind: 'number', label: 'rows', initial: '3', whole: true, atLeast: 1, atMost: 100 },
  perRow: { kind: 'number', label: 'in each row', initial: '10', whole: true, atLeast: 1, atMost: 200 },
  margin: { kind: 'length', label: 'margin', initial: '1 mm', atLeast: 0 },
  turn: { kind: 'angle', label: 'turn of the tile', initial: '0°' },
  over: { kind: 'length', label: 'thinned over', initial: '5 mm', above: 0 },
  least: { kind: 'number', label: 'share of the height at the border', initial: '0.4', atLeast: 0.05, atMost: 1 },
} satisfies StepDefinition['values'];

export const tiles: StepDefinition<TilesInputs, keyof typeof VALUES> = {
  kind: 'tiles',
  verb: 'Tile',
  group: 'repeat',
  summary: 'a small body laid over a face again and again in true scale, joined, cut out or as bodies of their own',
  known: [
    'flow along surface',
    'wrap a body',
    'tile',
    'tiling',
    'texture',
    'relief',
    'scales',
    'studs',
    'knurl',
    'pattern on a face',
    'surface pattern',
    'brick',
    'ornament',
    'array on surface',
    'emboss',
  ],
  needs: 'two solids: a small one, and one whose face it is laid over',
  offers: (c) => {
    const [tile] = c.solids;
    return tile
      ? c.solids
          .filter((b) => b.id !== tile.id)
          .slice(0, 3)
          .map((b) => ({
            group: 'Repeat',
            label: `Tile ${b.name} with ${tile.name}`,
            hint: 'over a face, in true scale; as many as fit',
            inputs: {
              tile: tile.id,
              body: b.id,
              faces: [],
              as: 'raised',
              pattern: 'staggered',
              by: 'pitch',
              way: 'long',
              thin: 'none',
              tooling: 'used',
            },
            pick: { what: 'faces', field: 'faces', most: 10 },
          }))
      : [];
  },
  inputs,
  values: VALUES,
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Tile'),
      { faces: 'faces' },
      text('of'),
      { body: 'body' },
      text('with'),
      { body: 'tile' },
      choice('as', ['raised', 'joined to it'], ['sunk', 'cut out of it'], ['apart', 'as bodies of their own']),
      text(','),
      ...IN_ROWS,
      ...(i.by === 'pitch'
        ? [value('pitch'), text('in rows'), value('across'), text('apart')]
        : [value('rows'), text('×'), value('perRow')]),
      ...usually(still(step, VALUES, 'margin'), text(', free along borders'), value('margin')),
      ...usually(still(step, VALUES, 'turn'), text(', turned by'), value('turn')),
      ...usually(
        i.way === 'long',
        text(', rows along'),
        choice('way', ['long', 'the longer way of the face'], ['u', 'its one way'], ['v', 'its other way']),
      ),
      ...usually(
        i.thin === 'none',
        text(','),
        choice('thin', ['none', 'as high everywhere'], ['sides', 'lower towards the sides'], ['all', 'lower towards all borders']),
      ),
      ...(i.thin === 'none' ? [] : [text(': ×'), value('least'), text('there, full'), value('over'), text('farther in')]),
      ...usualChoice(i, 'tooling', ['used', 'the tile used up'], ['kept', 'the tile stays']),
    ];
  },
  makes: (i, id) => (i.as === 'apart' ? [id] : []),
  removes: (i) => (i.tooling === 'used' ? [i.tile] : []),
  changesBody: (i) => (i.as === 'apart' ? null : i.body),
  uses: (i) => ({ bodies: [i.body, i.tile], profiles: [], planes: [] }),
};
