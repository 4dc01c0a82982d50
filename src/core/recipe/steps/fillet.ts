import { z } from 'zod';
import { choice, edgeRefSchema, expressionSchema, idSchema, type Offer, type StepDefinition, text, usualChoice, value } from './definition';

const inputs = z.object({
  body: idSchema,
  edges: z.array(edgeRefSchema).max(200),
  /** One radius for all, one that changes along each edge, or one for each edge. */
  radii: z.enum(['same', 'along', 'each']).optional(),
  /** Radii of single edges, where these have their own. */
  own: z
    .array(z.object({ edge: z.string().max(1200), value: expressionSchema }))
    .max(200)
    .optional(),
  /** A rolling ball's arc, or a section whose curvature begins and ends with the faces'. */
  section: z.enum(['arc', 'smooth']).optional(),
  /** All at once, or outer and inner corners one after the other. */
  order: z.enum(['together', 'convex', 'concave']).optional(),
});
export type FilletInputs = z.infer<typeof inputs>;

export const fillet: StepDefinition<FilletInputs, 'radius' | 'end'> = {
  kind: 'fillet',
  verb: 'Round',
  group: 'soften',
  summary: 'round edges, evenly, along their length or each on its own',
  known: ['fillet', 'blend edges', 'radius', 'rounding', 'edge blend', 'soften', 'corner', 'ease', 'edge'],
  needs: 'a body',
  offers: (c) => [
    ...[...c.solids, ...c.skins].map(
      (b): Offer<FilletInputs> => ({
        group: 'Soften',
        label: 'Round edges',
        hint: `of ${b.name}; pick them on the stage`,
        inputs: { body: b.id, edges: [] },
        pick: { what: 'edges', field: 'edges' },
      }),
    ),
    ...c.solids.map(
      (b): Offer<FilletInputs> => ({
        group: 'Soften',
        label: 'Smooth edges, curvature-continuous',
        hint: `of ${b.name}; no jump where the round begins`,
        inputs: { body: b.id, edges: [], section: 'smooth' },
        pick: { what: 'edges', field: 'edges' },
      }),
    ),
  ],
  inputs,
  values: {
    radius: { kind: 'length', label: 'radius', initial: '1 mm', above: 0 },
    end: { kind: 'length', label: 'radius at the upper end', initial: '1 mm', above: 0 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Round'),
      { edges: 'edges' },
      ...usualChoice(i, 'section', ['arc', 'by a rolling ball'], ['smooth', 'curvature-continuous']),
      i.section === 'smooth'
        ? choice('radii', ['same', 'to'], ['each', 'each to its own, else to'])
        : choice('radii', ['same', 'to'], ['along', 'from their lower ends to the upper, from'], ['each', 'each to its own, else to']),
      value('radius'),
      ...(i.radii === 'along' ? [text('to'), value('end')] : []),
      ...(i.radii === 'each' ? [{ edgeValues: 'own', edges: 'edges', otherwise: 'radius' } as const] : []),
      ...(i.edges.length > 1 && i.section !== 'smooth'
        ? usualChoice(i, 'order', ['together', 'all at once'], ['convex', 'outer corners first'], ['concave', 'inner corners first'])
        : []),
    ];
  },
  handles: ({ id }, standing) => {
    const round = standing.face(new RegExp(`^${id}/round\\(`));
    return round ? [{ value: 'radius', from: round.at, way: round.normal }] : [];
  },
  makes: () => [],
  // A radius that changes along the edge is a ball's.
  chosen: (i, field) => (field === 'section' && i.section === 'smooth' && i.radii === 'along' ? { ...i, radii: 'same' } : i),
  takesPieces: true,
  takesSurfaces: true,
  changesBody: (i) => i.body,
  tried: true,
  ranged: 'radius',
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [], expressions: i.radii === 'each' }),
};
