import { z } from 'zod';
import { idSchema, type StepDefinition, text, value } from './definition';

const inputs = z.object({
  body: idSchema,
  /** The other surfaces. */
  tools: z.array(idSchema).max(60),
});
export type KnitInputs = z.infer<typeof inputs>;

export const knit: StepDefinition<KnitInputs, 'within'> = {
  kind: 'knit',
  verb: 'Knit',
  group: 'combine',
  summary: 'surfaces joined along their borders, small gaps closed; a solid where no border is left',
  known: ['sew', 'stitch', 'join surfaces', 'heal', 'close gaps', 'surfaces together', 'quilt'],
  needs: 'two surfaces',
  offers: (c) =>
    c.skins.length < 2
      ? []
      : [
          {
            group: 'Join and cut',
            label: `Knit ${c.skins.length} surfaces`,
            hint: 'along their borders; what stays open is told',
            inputs: { body: c.skins.at(-1)!.id, tools: c.skins.slice(0, -1).map((s) => s.id) },
          },
        ],
  inputs,
  values: { within: { kind: 'length', label: 'gaps closed up to', initial: '0.001 mm', above: 0, atMost: 2 } },
  sentence: () => [text('Knit'), { body: 'body' }, text('with'), { bodies: 'tools' }, text(', closing gaps up to'), value('within')],
  makes: () => [],
  removes: (i) => i.tools,
  takesSurfaces: true,
  changesBody: (i) => i.body,
  uses: (i) => ({ bodies: [i.body, ...i.tools], profiles: [], planes: [] }),
};
