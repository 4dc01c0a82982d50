import { z } from 'zod';
import { choice, idSchema, type StepDefinition, text, usualChoice, value } from './definition';

const inputs = z.object({
  body: idSchema,
  mode: z.enum(['join', 'cut', 'common']),
  tools: z.array(idSchema).max(60),
  /** Whether the tools stay as bodies of their own. */
  tooling: z.enum(['used', 'kept']),
});
export type MeshCombineInputs = z.infer<typeof inputs>;

export const meshcombine: StepDefinition<MeshCombineInputs, 'deviation'> = {
  kind: 'meshcombine',
  verb: 'Combine as a mesh',
  group: 'combine',
  summary: 'by facets, for printing only: hundreds of struts in seconds; nothing exact can be done to the body afterwards',
  known: ['mesh boolean', 'lattice', 'grille', 'strut', 'infill'],
  needs: 'two bodies',
  offers: (c) =>
    c.solids.length < 2
      ? []
      : [
          {
            group: 'Join and cut',
            label: 'Combine bodies as a mesh',
            hint: 'by facets, for printing only: lattices of many struts in seconds',
            inputs: { body: c.solids[1]!.id, mode: 'common', tools: [c.solids[0]!.id], tooling: 'used' },
          },
        ],
  inputs,
  values: { deviation: { kind: 'length', label: 'deviation', initial: '0.02 mm', atLeast: 1e-3, atMost: 5 } },
  sentence: (step) => [
    text('Combine'),
    { body: 'body' },
    choice('mode', ['join', 'joined with'], ['cut', 'cut by'], ['common', 'kept in common with']),
    { bodies: 'tools' },
    ...usualChoice(step.inputs, 'tooling', ['used', 'which are used up'], ['kept', 'which stay']),
    text(', as a mesh within'),
    value('deviation'),
  ],
  makes: () => [],
  removes: (i) => (i.tooling === 'used' ? i.tools : []),
  changesBody: (i) => i.body,
  takesPieces: true,
  takesFacets: true,
  meshes: true,
  uses: (i) => ({ bodies: [i.body, ...i.tools], profiles: [], planes: [] }),
};
