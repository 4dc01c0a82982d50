import { z } from 'zod';
import { choice, idSchema, type StepDefinition, text, value } from './definition';

const inputs = z.object({
  body: idSchema,
  /** Flat caps; flat ones on borders nearly flat; patches that follow the border; or the surface cut back to a plane first. */
  caps: z.enum(['flat', 'flatten', 'patch', 'trim']).optional(),
});
export type CloseInputs = z.infer<typeof inputs>;

export const close: StepDefinition<CloseInputs, 'within'> = {
  kind: 'close',
  verb: 'Close',
  group: 'combine',
  summary: 'cap the open borders of a surface, which makes it a solid',
  known: ['cap', 'patch', 'fill', 'stitch', 'sew', 'knit', 'make solid', 'lid'],
  needs: 'a surface',
  offers: (c) =>
    c.skins.map((b) => ({
      group: 'Hollow',
      label: `Close ${b.name}`,
      hint: 'with caps or patches, to a solid',
      inputs: { body: b.id },
    })),
  inputs,
  values: { within: { kind: 'length', label: 'a border may leave its plane by', initial: '0.05 mm', above: 0, atMost: 1 } },
  sentence: (step) => [
    text('Close'),
    { body: 'body' },
    choice(
      'caps',
      ['flat', 'with flat caps'],
      ['flatten', 'with flat caps on borders that leave their plane by no more than'],
      ['patch', 'with patches that follow its borders'],
      ['trim', 'with flat caps, cut back to a plane where a border is not flat'],
    ),
    ...(step.inputs.caps === 'flatten' ? [value('within')] : []),
    text('to a solid'),
  ],
  makes: () => [],
  changesBody: (i) => i.body,
  tried: true,
  takesSurfaces: true,
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
