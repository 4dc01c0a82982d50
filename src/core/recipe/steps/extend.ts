import { z } from 'zod';
import { edgeRefSchema, idSchema, type StepDefinition, text, usualChoice, value } from './definition';

/** Borders of a surface at a time. */
const MOST = 12;

const inputs = z.object({
  body: idSchema,
  /** Its borders, each with what goes on from it smoothly. */
  edges: z.array(edgeRefSchema).max(MOST),
  onward: z.enum(['tangent', 'curvature']),
});
export type ExtendInputs = z.infer<typeof inputs>;

export const extend: StepDefinition<ExtendInputs, 'length'> = {
  kind: 'extend',
  verb: 'Extend',
  group: 'combine',
  summary: 'a surface made longer beyond its borders, straight on or bending on',
  known: ['extension', 'lengthen', 'untrim', 'grow a surface', 'extrapolate', 'longer'],
  needs: 'a surface',
  offers: (c) =>
    c.skins.map((b) => ({
      group: 'Join and cut',
      label: `Extend ${b.name}`,
      hint: 'beyond borders that are picked',
      inputs: { body: b.id, edges: [], onward: 'tangent' },
      pick: { what: 'edges', field: 'edges', most: MOST },
    })),
  inputs,
  values: { length: { kind: 'length', label: 'length', initial: '10 mm', above: 0 } },
  sentence: ({ inputs: i }) => [
    text('Extend'),
    { body: 'body' },
    text('beyond'),
    { edges: 'edges' },
    text('by'),
    value('length'),
    ...usualChoice(i, 'onward', ['tangent', 'straight on'], ['curvature', 'bending on as it does']),
  ],
  makes: () => [],
  takesSurfaces: true,
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
