import { z } from 'zod';
import { planeRefSchema } from '../schema';
import { choice, idSchema, type StepDefinition, text, value } from './definition';

const inputs = z.object({
  body: idSchema,
  plane: planeRefSchema,
  /** A lip under the lid that finds its place in the cavity, or none. */
  register: z.enum(['lip', 'none']),
});
export type LidInputs = z.infer<typeof inputs>;

export const lid: StepDefinition<LidInputs, 'gap' | 'lip' | 'thick' | 'clearance'> = {
  kind: 'lid',
  verb: 'Part a lid off',
  group: 'combine',
  summary: 'a lid above a plane, with a gap and a lip that registers it in the cavity',
  known: ['cover', 'cap', 'lip', 'rebate', 'snap', 'closure', 'stopper'],
  needs: 'a solid',
  offers: (c) =>
    c.solids.map((b) => ({
      group: 'Join and cut',
      label: `Part a lid off ${b.name}`,
      hint: 'with a gap, and a lip that registers it',
      inputs: { body: b.id, plane: c.planes[c.planes.length - 1] ?? 'level', register: 'lip' },
    })),
  inputs,
  values: {
    gap: { kind: 'length', label: 'gap between', initial: '0.2 mm', atLeast: 0 },
    lip: { kind: 'length', label: 'height of the lip', initial: '4 mm', above: 0 },
    thick: { kind: 'length', label: 'thickness of the lip', initial: '1.6 mm', above: 0 },
    clearance: { kind: 'length', label: 'clearance per side', initial: '0.2 mm', atLeast: 0 },
  },
  sentence: (step) => [
    text('Part a lid off'),
    { body: 'body' },
    text('above'),
    { plane: 'plane' },
    text(', a gap of'),
    value('gap'),
    text('between,'),
    choice('register', ['lip', 'with a lip'], ['none', 'without a lip']),
    ...(step.inputs.register === 'lip'
      ? [value('lip'), text('deep,'), value('thick'), text('thick, with a clearance per side of'), value('clearance')]
      : []),
  ],
  makes: (_, id) => [id],
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [i.plane] }),
};
