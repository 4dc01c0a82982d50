import { z } from 'zod';
import { choice, idSchema, type StepDefinition, text } from './definition';

const side = z.enum(['first', 'second']);
const inputs = z.object({
  body: idSchema,
  /** The surface that trims it, and is trimmed by it. */
  tool: idSchema.nullable(),
  /** Which side of the other surface stays of either. */
  keep: side,
  keepTool: side,
});
export type TrimInputs = z.infer<typeof inputs>;

export const trim: StepDefinition<TrimInputs, never> = {
  kind: 'trim',
  verb: 'Trim',
  group: 'combine',
  summary: 'two surfaces trimmed by each other and joined along where they meet; a solid where no border is left',
  known: ['mutual trim', 'trim each other', 'trim and join', 'cut surfaces', 'intersect surfaces', 'trim surfaces'],
  needs: 'two surfaces',
  offers: (c) =>
    c.skins.length < 2
      ? []
      : [
          {
            group: 'Join and cut',
            label: `Trim ${c.skins[1]!.name} and ${c.skins[0]!.name} by each other`,
            hint: 'one side of either stays, joined along where they meet',
            inputs: { body: c.skins[1]!.id, tool: c.skins[0]!.id, keep: 'first', keepTool: 'first' },
          },
        ],
  inputs,
  values: {},
  sentence: () => [
    text('Trim'),
    { body: 'body' },
    text('and'),
    { body: 'tool' },
    text('by each other, keeping of the first'),
    choice('keep', ['first', 'what lies before the second'], ['second', 'what lies behind it']),
    text('and of the second'),
    choice('keepTool', ['first', 'what lies before the first'], ['second', 'what lies behind it']),
  ],
  makes: () => [],
  removes: (i) => (i.tool ? [i.tool] : []),
  takesSurfaces: true,
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body, ...(i.tool ? [i.tool] : [])], profiles: [], planes: [] }),
};
