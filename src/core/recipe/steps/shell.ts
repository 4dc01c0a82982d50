import { z } from 'zod';
import { along } from '../../geometry/vectors';
import { fixed } from '../../units/units';
import { faceRefSchema, idSchema, type OtherWay, type StepDefinition, type StepOf, text, usualChoice, usually, value } from './definition';

const inputs = z.object({
  body: idSchema,
  open: z.array(faceRefSchema).max(100),
  /** Where the wall goes from the skin that is there. */
  side: z.enum(['inward', 'outward', 'centred']).optional(),
  /** Faces with a wall of their own. */
  other: z.array(faceRefSchema).max(20).optional(),
});
export type ShellInputs = z.infer<typeof inputs>;

/**
 * Ways to hollow a body that an even wall can't be given, or not in time.
 * @param wall mm, where it is known; else as it is typed
 */
export function otherHollows(step: StepOf<ShellInputs>, wall?: number): OtherWay[] {
  const { body, open, side } = step.inputs;
  if ((side ?? 'inward') !== 'inward') return [];
  const asked = step.values.wall ?? `${wall} mm`;
  const words = wall === undefined ? asked : `${fixed(wall, 2)} mm`;
  const cavity = { body, open, plane: 'level', rim: 'round', lean: 'free' };
  const values = { wall: asked, floor: asked };
  const turned: OtherWay[] =
    open.length > 0
      ? [
          { words: `Turn a smooth cavity that keeps ${words} at least instead`, step: step.id, kind: 'cavity', inputs: cavity, values },
          {
            words: `Hollow it section by section, keeping ${words} at least`,
            step: step.id,
            kind: 'cavity',
            inputs: { ...cavity, rim: 'sections' },
            values,
          },
        ]
      : [];
  const resolution = wall === undefined ? `(${asked}) / 2` : `${Math.max(0.2, Math.round(5 * wall) / 10)} mm`;
  return [
    ...turned,
    {
      words: 'Hollow it as a mesh, for printing only',
      step: step.id,
      kind: 'meshhollow',
      inputs: { body, open },
      values: { wall: asked, resolution },
    },
  ];
}

export const shell: StepDefinition<ShellInputs, 'wall' | 'floor'> = {
  kind: 'shell',
  verb: 'Hollow',
  group: 'hollow',
  summary: 'hollow a body to an even wall, open at the faces picked',
  known: ['shell', 'hollow out', 'thin wall', 'wall thickness', 'cavity', 'empty', 'offset'],
  needs: 'a solid',
  offers: (c) =>
    c.solids.flatMap((b) => {
      const values = c.dimension('wall') ? { values: { wall: 'wall' } } : {};
      return [
        {
          group: 'Hollow',
          label: `Hollow ${b.name}`,
          hint: 'open at its topmost flat face',
          inputs: { body: b.id, open: [{ topOf: c.topOf(b.id) }] },
          ...values,
        },
        {
          group: 'Hollow',
          label: `Hollow ${b.name}, open where I pick`,
          hint: 'pick the faces on the stage',
          inputs: { body: b.id, open: [] },
          pick: { what: 'faces', field: 'open' },
          ...values,
        },
      ];
    }),
  inputs,
  values: {
    wall: { kind: 'length', label: 'wall', initial: '2 mm', above: 0 },
    floor: { kind: 'length', label: 'wall of its own', initial: '3 mm', above: 0 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Hollow'),
      { body: 'body' },
      text('to'),
      value('wall'),
      ...usualChoice(
        i,
        'side',
        ['inward', 'inwards'],
        ['outward', 'outwards, what is there becoming the cavity'],
        ['centred', 'half to either side'],
      ),
      text('open at'),
      { faces: 'open' },
      ...(i.side === 'outward' || i.side === 'centred'
        ? []
        : usually(
            (i.other?.length ?? 0) === 0,
            text('with a wall of its own for'),
            { faces: 'other' },
            ...((i.other?.length ?? 0) > 0 ? [value('floor')] : []),
          )),
    ];
  },
  handles: ({ id, inputs: i }, standing) => {
    const side = i.side ?? 'inward';
    if (side === 'centred') return [];
    // What was laid on outwards keeps the kernel's word for it.
    const made = standing.face(side === 'inward' ? new RegExp(`^${id}/inner\\(`) : new RegExp(`^${id}/(inner|outer)\\([^|]*\\)`));
    return made ? [{ value: 'wall', from: along(made.at, made.normal, -standing.value('wall')), way: made.normal }] : [];
  },
  makes: () => [],
  changesBody: (i) => i.body,
  tried: true,
  tooLong: 'hollow it before its last details: move this step up before them',
  ranged: 'wall',
  otherwise: (step) => otherHollows(step),
  uses: (i) => ({ bodies: [i.body], profiles: [], planes: [] }),
};
