import { z } from 'zod';
import { choice, faceRefSchema, idSchema, type StepDefinition, still, text, usually, value } from './definition';

const inputs = z.object({
  body: idSchema,
  faces: z.array(faceRefSchema).max(10),
  /** Into the body or out of it. */
  shape: z.enum(['dimples', 'bumps']),
  /** Rows in line, every other one half a place on, or every row with as many as it takes. */
  pattern: z.enum(['staggered', 'rows', 'rings']),
  /** As many as fit at a least distance, or so many rows of so many. */
  by: z.enum(['pitch', 'count']),
  /** Which of the two ways of the face rows run along. */
  way: z.enum(['u', 'v']).optional(),
});
export type DimplesInputs = z.infer<typeof inputs>;

/** How rows lie, and what says how many there are. */
export const IN_ROWS = [
  choice(
    'pattern',
    ['staggered', 'every other row half a place on'],
    ['rows', 'in rows in line'],
    ['rings', 'each row with as many as it takes'],
  ),
  text(','),
  choice('by', ['pitch', 'as many as fit, at least apart'], ['count', 'rows and in each:']),
] as const;

export const dimples: StepDefinition<DimplesInputs, 'diameter' | 'depth' | 'rim' | 'pitch' | 'rows' | 'perRow' | 'margin'> = {
  kind: 'dimples',
  verb: 'Dimple',
  group: 'combine',
  summary: 'dimples or bumps over faces, spaced along them, their rims rounded',
  known: [
    'bump',
    'knob',
    'texture',
    'golf ball',
    'pattern on a face',
    'studs',
    'surface pattern',
    'massage',
    'grip',
    'nub',
    'detail',
    'emboss',
  ],
  needs: 'a solid',
  offers: (c) =>
    c.solids.map((b) => ({
      group: 'Repeat',
      label: `Dimples or bumps on ${b.name}`,
      hint: 'over the faces picked; as many as fit',
      inputs: { body: b.id, faces: [], shape: 'dimples', pattern: 'staggered', by: 'pitch' },
      pick: { what: 'faces', field: 'faces', most: 10 },
    })),
  inputs,
  values: {
    diameter: { kind: 'length', label: 'diameter', initial: '9 mm', above: 0 },
    depth: { kind: 'length', label: 'depth', initial: '1.8 mm', above: 0 },
    rim: { kind: 'length', label: 'radius of the rim', initial: '0.5 mm', atLeast: 0 },
    pitch: { kind: 'length', label: 'distance', initial: '12 mm', above: 0 },
    rows: { kind: 'number', label: 'rows', initial: '4', whole: true, atLeast: 1, atMost: 100 },
    perRow: { kind: 'number', label: 'in each row', initial: '10', whole: true, atLeast: 1, atMost: 200 },
    margin: { kind: 'length', label: 'margin', initial: '1 mm', atLeast: 0 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      choice('shape', ['dimples', 'Dimples'], ['bumps', 'Bumps']),
      text('⌀'),
      value('diameter'),
      text(','),
      value('depth'),
      text(i.shape === 'bumps' ? 'high' : 'deep'),
      text(', rims rounded by'),
      value('rim'),
      text(', over'),
      { faces: 'faces' },
      text('of'),
      { body: 'body' },
      text(','),
      ...IN_ROWS,
      ...(i.by === 'pitch' ? [value('pitch')] : [value('rows'), text('×'), value('perRow')]),
      ...usually(still(step, dimples.values, 'margin'), text(', free along borders'), value('margin')),
      ...usually((i.way ?? 'u') === 'u', text(', rows along'), choice('way', ['u', 'the one way of the face'], ['v', 'its other way'])),
    ];
  },
  makes: () => [],
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
