import { z } from 'zod';
import { planeRefSchema } from '../schema';
import { choice, idSchema, placed, type StepDefinition, text, usually } from './definition';

const inputs = z.object({
  body: idSchema,
  by: z.enum(['plane', 'profile', 'body']),
  plane: planeRefSchema,
  profile: idSchema.nullable(),
  tool: idSchema.nullable(),
  /** Which pieces stay: all as bodies of their own, or those on one side. */
  keep: z.enum(['all', 'first', 'second']),
  /** Whether the body or surface that parts it stays. */
  tooling: z.enum(['kept', 'used']).optional(),
});
export type SplitInputs = z.infer<typeof inputs>;

const SIDES: Readonly<Record<SplitInputs['by'], readonly [string, string]>> = {
  plane: ['what lies above it', 'what lies below it'],
  profile: ['what lies left of the line', 'what lies right of the line'],
  body: ['what lies outside it, or before a surface', 'what lies inside it, or behind a surface'],
};

/** What lies on the other side of a plane, by how that lies: behind it, seen from where its normal points to. */
const BEHIND = { level: 'lower part', front: 'rear part', side: 'left part' } as const;

export const split: StepDefinition<SplitInputs, never> = {
  kind: 'split',
  verb: 'Split',
  group: 'combine',
  summary: 'part a body by a plane, a line, a surface or a body, or trim it to one',
  known: ['slice', 'divide', 'trim', 'part', 'section', 'parting line', 'cut in two', 'cut off'],
  needs: 'a body',
  offers: (c) => {
    // By what was drawn or raised for it last.
    const line = c.profiles.findLast((p) => p.open && !p.used && !p.half)?.id ?? null;
    return [...c.solids, ...c.skins].map((b) => {
      const skin = c.skins.find((k) => k.id === c.raised?.body && k.id !== b.id)?.id ?? null;
      return {
        group: 'Join and cut',
        label: `Split ${b.name}`,
        hint: 'by a plane, a line or a body',
        inputs: {
          body: b.id,
          by: line ? 'profile' : skin ? 'body' : 'plane',
          plane: placed(c, c.across(b.id) ?? 'level'),
          profile: line,
          tool: line ? null : skin,
          keep: 'all',
          ...(skin && !line ? { tooling: 'used' } : {}),
        },
      };
    });
  },
  inputs,
  values: {},
  sentence: (step) => {
    const i = step.inputs;
    const [first, second] = SIDES[i.by];
    return [
      text('Split'),
      { body: 'body' },
      choice('by', ['plane', 'by the plane'], ['profile', 'by the line'], ['body', 'by the body or surface']),
      i.by === 'plane' ? { plane: 'plane' } : i.by === 'profile' ? { profile: 'profile' } : { body: 'tool' },
      ...usually(
        i.keep === 'all',
        text('and keep'),
        choice('keep', ['all', 'every piece as a body'], ['first', first], ['second', second]),
      ),
      ...(i.by === 'body'
        ? usually((i.tooling ?? 'kept') === 'kept', text(','), choice('tooling', ['kept', 'which stays'], ['used', 'which is used up']))
        : []),
    ];
  },
  makes: (i, id) => (i.keep === 'all' ? [id] : []),
  part: (i, plane) => {
    if (i.keep !== 'all') return null;
    if (i.by === 'body') return { of: i.body, words: 'inner part' };
    const lies = i.by === 'plane' ? plane(i.plane) : null;
    return { of: i.body, words: lies ? BEHIND[lies] : 'other part' };
  },
  chosen: (i, field, { drawings }) => (field === 'by' && i.by === 'profile' && !i.profile ? { ...i, profile: drawings.at(-1) ?? null } : i),
  removes: (i) => (i.by === 'body' && i.tooling === 'used' && i.tool ? [i.tool] : []),
  takesSurfaces: true,
  takesPieces: true,
  changesBody: (i) => i.body,
  uses: (i) => ({
    bodies: [i.body, ...(i.by === 'body' && i.tool ? [i.tool] : [])],
    profiles: i.by === 'profile' && i.profile ? [i.profile] : [],
    planes: i.by === 'plane' ? [i.plane] : [],
  }),
};
