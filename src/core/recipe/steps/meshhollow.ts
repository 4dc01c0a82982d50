import { z } from 'zod';
import { faceRefSchema, idSchema, type StepDefinition, text, value } from './definition';

const inputs = z.object({
  body: idSchema,
  open: z.array(faceRefSchema).max(100),
});
export type MeshHollowInputs = z.infer<typeof inputs>;

export const meshhollow: StepDefinition<MeshHollowInputs, 'wall' | 'resolution'> = {
  kind: 'meshhollow',
  verb: 'Hollow as a mesh',
  group: 'hollow',
  summary: 'the last resort: a cavity of facets, for printing only; nothing exact can be done to the body afterwards',
  known: ['hollow a mesh', 'voxel', 'print hollow'],
  needs: 'a solid',
  offers: (c) =>
    c.solids.map((b) => ({
      group: 'Hollow',
      label: `Hollow ${b.name} as a mesh`,
      hint: 'the last resort, for printing only',
      inputs: { body: b.id, open: [] },
      pick: { what: 'faces', field: 'open' },
    })),
  inputs,
  values: {
    wall: { kind: 'length', label: 'least wall', initial: '2 mm', above: 0 },
    resolution: { kind: 'length', label: 'resolution', initial: '1 mm', atLeast: 0.05, atMost: 20 },
  },
  sentence: () => [
    text('Hollow'),
    { body: 'body' },
    text('as a mesh, keeping at least'),
    value('wall'),
    text('at a resolution of'),
    value('resolution'),
    text(', open at'),
    { faces: 'open' },
  ],
  makes: () => [],
  changesBody: (i) => i.body,
  tried: true,
  meshes: true,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
