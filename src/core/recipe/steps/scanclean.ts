import { z } from 'zod';
import { choice, idSchema, type StepDefinition, text, usualChoice, usually, value } from './definition';

const inputs = z.object({
  body: idSchema,
  /** Which borders stay open. */
  keep: z.enum(['round', 'outer', 'all', 'none']),
  /** Holes are filled flat, or bending on from what is around. */
  fill: z.enum(['curved', 'flat']),
});
export type ScanCleanInputs = z.infer<typeof inputs>;

export const scanclean: StepDefinition<ScanCleanInputs, 'least' | 'round' | 'smooth'> = {
  kind: 'scanclean',
  verb: 'Clean a scan',
  group: 'combine',
  summary: 'strays and doubled facets go, holes are filled, roughness is smoothed',
  known: ['repair', 'heal', 'fill holes', 'islands', 'noise', 'smooth', 'denoise', 'watertight', 'remesh'],
  needs: 'a scan',
  offers: (c) =>
    c.scans.map((b) => ({
      group: 'Refer',
      label: `Clean ${b.name}`,
      hint: 'strays go, holes are filled',
      inputs: { body: b.id, keep: 'outer', fill: 'curved' },
    })),
  inputs,
  values: {
    least: { kind: 'number', label: 'islands of less than this share of the largest go, %', initial: '5', atLeast: 0, atMost: 99 },
    round: { kind: 'number', whole: true, label: 'holes that stay', initial: '1', atLeast: 0, atMost: 500 },
    smooth: { kind: 'number', whole: true, label: 'rounds of smoothing', initial: '0', atLeast: 0, atMost: 200 },
  },
  sentence: (step) => [
    text('Clean'),
    { body: 'body' },
    text(': fill'),
    choice(
      'keep',
      ['outer', 'all holes but its border'],
      ['round', 'all but its border and the roundest'],
      ['none', 'every hole, the largest too'],
      ['all', 'no hole'],
    ),
    ...(step.inputs.keep === 'round' ? [value('round')] : []),
    ...(step.inputs.keep === 'all' ? [] : usualChoice(step.inputs, 'fill', ['curved', 'bending on'], ['flat', 'flat'])),
    ...usually(step.values.least === '5', text(', islands below'), value('least'), text('% go')),
    ...usually(step.values.smooth === '0', text(', smoothed in'), value('smooth'), text('rounds')),
  ],
  makes: () => [],
  changesBody: (i) => i.body,
  takesSurfaces: true,
  takesPieces: true,
  takesFacets: true,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
