import { z } from 'zod';
import { idSchema, type StepDefinition, text, usually, value } from './definition';

const inputs = z.object({
  body: idSchema,
  /** What it is pulled onto; null while it is not chosen. */
  onto: idSchema.nullable(),
});
export type DrapeInputs = z.infer<typeof inputs>;

export const drape: StepDefinition<DrapeInputs, 'within' | 'clear'> = {
  kind: 'drape',
  verb: 'Pull a surface onto a body',
  group: 'combine',
  summary: 'a sheet of quads comes to lie on a scan or another body, within a tolerance or at a clearance',
  known: ['drape', 'shrinkwrap', 'snap to mesh', 'conform', 'pull to mesh', 'retopology', 'fit to scan'],
  needs: 'a surface formed by a cage, and a scan or another body',
  offers: (c) =>
    c.cages.flatMap((b) =>
      [...c.scans, ...c.solids, ...c.skins]
        .filter((o) => o.id !== b.id)
        .slice(0, 3)
        .map((o) => ({
          group: 'Join and cut' as const,
          label: `Pull ${b.name} onto ${o.name}`,
          hint: 'until it lies within a tolerance of it',
          inputs: { body: b.id, onto: o.id },
        })),
    ),
  inputs,
  values: {
    within: { kind: 'length', label: 'tolerance', initial: '0.15 mm', above: 0, atMost: 20 },
    clear: { kind: 'length', label: 'clearance', initial: '0 mm', atLeast: 0, atMost: 50 },
  },
  sentence: (step) => [
    text('Pull'),
    { body: 'body' },
    text('onto'),
    { body: 'onto' },
    text(', within'),
    value('within'),
    ...usually(/^0\s*(mm|in)?$/.test(step.values.clear ?? ''), text(','), value('clear'), text('clear of it')),
  ],
  makes: () => [],
  changesBody: (i) => i.body,
  takesSurfaces: true,
  takesFacets: true,
  uses: (i) => ({ bodies: [i.body, ...(i.onto ? [i.onto] : [])], profiles: [], planes: [] }),
};
