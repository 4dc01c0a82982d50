import { z } from 'zod';
import { along } from '../../geometry/vectors';
import { choice, idSchema, type StepDefinition, text, usualChoice, value } from './definition';

const inputs = z.object({
  body: idSchema,
  /** Before the surface, behind it, half to either side; or the surface only moved. */
  side: z.enum(['front', 'back', 'both', 'moved']),
  /** Its ends stand along the surface's normals, or lie in the planes of its borders. */
  ends: z.enum(['normal', 'square']).optional(),
});
export type ThickenInputs = z.infer<typeof inputs>;

export const thicken: StepDefinition<ThickenInputs, 'wall'> = {
  kind: 'thicken',
  verb: 'Give a wall to',
  group: 'hollow',
  summary: 'a surface becomes a solid of an even wall, or is offset along its normals',
  known: ['thicken', 'offset a surface', 'solidify', 'add thickness', 'sheet'],
  needs: 'a surface',
  offers: (c) =>
    c.skins.map((b) => ({
      group: 'Hollow',
      label: `Give a wall to ${b.name}`,
      hint: 'before it, behind it, or half to either side',
      inputs: { body: b.id, side: 'front' },
    })),
  inputs,
  values: { wall: { kind: 'length', label: 'wall', initial: '2 mm', above: 0 } },
  sentence: (step) => [
    text('Give a wall to'),
    { body: 'body' },
    text('of'),
    value('wall'),
    choice(
      'side',
      ['front', 'before it'],
      ['back', 'behind it'],
      ['both', 'half to either side'],
      ['moved', 'only moving it, without a wall'],
    ),
    ...(step.inputs.side === 'moved'
      ? []
      : usualChoice(step.inputs, 'ends', ['normal', 'its ends across the surface'], ['square', 'its ends flush with its borders'])),
  ],
  handles: ({ id, inputs: i }, standing) => {
    const outer = i.side === 'front' || i.side === 'back' ? standing.face(new RegExp(`^${id}/outer\\(`)) : undefined;
    return outer ? [{ value: 'wall', from: along(outer.at, outer.normal, -standing.value('wall')), way: outer.normal }] : [];
  },
  makes: () => [],
  changesBody: (i) => i.body,
  tried: true,
  takesSurfaces: true,
  ranged: 'wall',
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
