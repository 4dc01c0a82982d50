import { z } from 'zod';
import { combineSchema, combineWords } from './combine';
import { type StepDefinition, text, value } from './definition';

const inputs = z.object(combineSchema);
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
  sentence: (step) => [...combineWords(step.inputs), text(', as a mesh within'), value('deviation')],
  makes: () => [],
  removes: (i) => (i.tooling === 'used' ? i.tools : []),
  changesBody: (i) => i.body,
  takesPieces: true,
  takesFacets: true,
  meshes: true,
  uses: (i) => ({ bodies: [i.body, ...i.tools], profiles: [], planes: [] }),
};
