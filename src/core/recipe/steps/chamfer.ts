import { z } from 'zod';
import { choice, edgeRefSchema, idSchema, type StepDefinition, text, usualChoice, value } from './definition';

const inputs = z.object({
  body: idSchema,
  edges: z.array(edgeRefSchema).max(200),
  /** The same distance on both faces, two distances, or a distance and an angle. */
  by: z.enum(['distance', 'two', 'angle']),
  /** Which of the edge's two faces the first distance lies on, by the order of their names. */
  side: z.enum(['first', 'second']),
});
export type ChamferInputs = z.infer<typeof inputs>;

export const chamfer: StepDefinition<ChamferInputs, 'distance' | 'second' | 'angle'> = {
  kind: 'chamfer',
  verb: 'Chamfer',
  group: 'soften',
  summary: 'bevel edges by one distance, by two, or by a distance and an angle',
  known: ['bevel', 'break an edge', 'edge', 'countersink'],
  needs: 'a body',
  offers: (c) =>
    [...c.solids, ...c.skins].map((b) => ({
      group: 'Soften',
      label: 'Chamfer edges',
      hint: `of ${b.name}; pick them on the stage`,
      inputs: { body: b.id, edges: [], by: 'distance', side: 'first' },
      pick: { what: 'edges', field: 'edges' },
    })),
  inputs,
  values: {
    distance: { kind: 'length', label: 'distance', initial: '1 mm', above: 0 },
    second: { kind: 'length', label: 'distance on the other face', initial: '2 mm', above: 0 },
    angle: { kind: 'angle', label: 'angle to the first face', initial: '45°', above: 0, atMost: (89 * Math.PI) / 180 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Chamfer'),
      { edges: 'edges' },
      text('by'),
      value('distance'),
      ...usualChoice(i, 'by', ['distance', 'on both faces'], ['two', 'and'], ['angle', 'at an angle of']),
      ...(i.by === 'two' ? [value('second')] : i.by === 'angle' ? [value('angle')] : []),
      ...(i.by === 'distance' ? [] : [choice('side', ['first', 'from the first face'], ['second', 'from the other face'])]),
    ];
  },
  handles: ({ id }, standing) => {
    const bevel = standing.face(new RegExp(`^${id}/chamfer\\(`));
    return bevel ? [{ value: 'distance', from: bevel.at, way: bevel.normal }] : [];
  },
  makes: () => [],
  takesPieces: true,
  takesSurfaces: true,
  changesBody: (i) => i.body,
  tried: true,
  ranged: 'distance',
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
