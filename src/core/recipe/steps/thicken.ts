import { z } from 'zod';
import { along } from '../../geometry/vectors';
import { planeRefSchema } from '../schema';
import { choice, idSchema, type StepDefinition, text, usualChoice, value } from './definition';

const inputs = z.object({
  body: idSchema,
  /** Before the surface, behind it, half to either side; the surface only moved; or pushed straight along a plane's normal, or against it. */
  side: z.enum(['front', 'back', 'both', 'moved', 'along', 'against']),
  /** The plane whose normal it is pushed along. */
  plane: planeRefSchema.optional(),
  /** Its ends stand along the surface's normals, or lie in the planes of its borders. */
  ends: z.enum(['normal', 'square']).optional(),
});
export type ThickenInputs = z.infer<typeof inputs>;

/** Its wall is as thick along one direction everywhere, and its ends stand along that. */
export const isStraight = (side: ThickenInputs['side']): side is 'along' | 'against' => side === 'along' || side === 'against';

export const thicken: StepDefinition<ThickenInputs, 'wall'> = {
  kind: 'thicken',
  verb: 'Give a wall to',
  group: 'hollow',
  summary: 'a surface becomes a solid of an even wall, or is offset along its normals',
  known: ['thicken', 'offset a surface', 'solidify', 'add thickness', 'sheet', 'upright walls', 'extrude a surface', 'pad a surface'],
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
      ['along', 'straight along the normal of'],
      ['against', 'straight against the normal of'],
    ),
    ...(isStraight(step.inputs.side) ? [{ plane: 'plane' }] : []),
    ...(step.inputs.side === 'moved' || isStraight(step.inputs.side)
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
  chosen: (i) => (isStraight(i.side) && !i.plane ? { ...i, plane: 'level' } : i),
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: isStraight(i.side) ? [i.plane ?? 'level'] : [] }),
};
