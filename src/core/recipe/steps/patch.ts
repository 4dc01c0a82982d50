import { z } from 'zod';
import { pathRefSchema, pickUses, type StepDefinition, text } from './definition';

/** Edges and curves of a border. */
const MOST = 40;

const inputs = z.object({
  /** The border's edges and curves that the patch only meets. */
  paths: z.array(pathRefSchema).max(MOST),
  /** Those it passes smoothly: on from the face of an edge, square to the plane of a flat curve. */
  smooth: z.array(pathRefSchema).max(MOST),
});
export type PatchInputs = z.infer<typeof inputs>;

export const patch: StepDefinition<PatchInputs, never> = {
  kind: 'patch',
  verb: 'Patch',
  group: 'raise',
  summary: 'one smooth surface within a closed border of edges and curves',
  known: ['fill', 'fill surface', 'n-sided', 'boundary surface', 'surface from edges', 'surface from curves', 'span', 'cover'],
  needs: 'nothing',
  offers: () => [
    {
      group: 'Raise',
      label: 'Patch a border',
      hint: 'a smooth surface within edges, drawn lines and curves in space',
      inputs: { paths: [], smooth: [] },
      pick: { what: 'paths', field: 'paths', most: MOST },
    },
  ],
  inputs,
  values: {},
  sentence: () => [
    text('Patch within'),
    { picks: 'paths', what: 'paths', most: MOST },
    text(', passing smoothly'),
    { picks: 'smooth', what: 'paths', most: MOST },
  ],
  makes: (_, id) => [id],
  changesBody: () => null,
  uses: (i) => ({ ...pickUses([...i.paths, ...i.smooth]), planes: [] }),
};
