import { z } from 'zod';
import { choice, idSchema, type StepDefinition, text } from './definition';

const inputs = z.object({ mode: z.enum(['delete', 'keep']), bodies: z.array(idSchema).max(60) });
export type RemoveInputs = z.infer<typeof inputs>;

export const remove: StepDefinition<RemoveInputs, never> = {
  kind: 'remove',
  verb: 'Put away',
  group: 'combine',
  summary: 'take bodies away that only helped',
  known: ['take away', 'delete a body', 'remove a body', 'discard', 'hide', 'clean up'],
  needs: 'two bodies',
  offers: (c) => {
    const bodies = [...c.solids, ...c.skins];
    return bodies.length < 2
      ? []
      : [
          ...bodies.map((b) => ({
            group: 'Join and cut' as const,
            label: `Put ${b.name} away`,
            hint: 'it only helped',
            inputs: { mode: 'delete' as const, bodies: [b.id] },
          })),
          { group: 'Join and cut', label: 'Put bodies away', hint: 'that only helped', inputs: { mode: 'delete', bodies: [] } },
        ];
  },
  inputs,
  values: {},
  sentence: () => [text('Put away'), choice('mode', ['delete', 'the body'], ['keep', 'all but the body']), { bodies: 'bodies' }],
  makes: () => [],
  takesFacets: true,
  removes: (i, there) => (i.mode === 'delete' ? i.bodies : there.filter((b) => !i.bodies.includes(b))),
  changesBody: () => null,
  uses: (i) => ({ bodies: i.bodies, profiles: [], planes: [] }),
};
