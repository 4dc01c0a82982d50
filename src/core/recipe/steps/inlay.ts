import { z } from 'zod';
import { choice, idSchema, type StepDefinition, text, usually, value } from './definition';

/** Drawings that a body is parted by at once. */
const MOST = 12;

const inputs = z.object({
  body: idSchema,
  /** Outlines: what lies within those of each drawing becomes a part of its own. */
  profiles: z.array(idSchema).max(MOST),
  /** Through all of the body, or from the drawing so far into it. */
  depth: z.enum(['blind', 'through']),
});
export type InlayInputs = z.infer<typeof inputs>;

export const inlay: StepDefinition<InlayInputs, 'deep'> = {
  kind: 'inlay',
  verb: 'Part',
  group: 'combine',
  summary: 'a body parted by outlines and texts into pieces that fill each other, for colours',
  known: [
    'inlay',
    'colour parts',
    'multicolour',
    'engrave',
    'numerals',
    'lettering',
    'text',
    'emboss text',
    'split by outline',
    'partition',
    'insert',
  ],
  needs: 'a solid and an outline',
  offers: (c) => {
    const drawn = c.profiles.filter((p) => !p.half && (p.closed || p.onFace));
    const waiting = drawn.filter((p) => !p.used);
    return drawn.length === 0
      ? []
      : c.solids.map((b) => ({
          group: 'Join and cut',
          label: `Part ${b.name} by outlines`,
          hint: 'pieces that fill each other, each drawing one of its own',
          inputs: {
            body: b.id,
            profiles: (waiting.length > 0 ? waiting : drawn.slice(0, 1)).map((p) => p.id).slice(0, MOST),
            depth: 'blind',
          },
        }));
  },
  inputs,
  values: { deep: { kind: 'length', label: 'depth', initial: '0.8 mm', above: 0 } },
  sentence: ({ inputs: i }) => [
    text('Part'),
    { body: 'body' },
    text('by'),
    { profiles: 'profiles' },
    ...usually(i.depth === 'blind', choice('depth', ['blind', 'from the drawing down to'], ['through', 'right through'])),
    ...(i.depth === 'blind' ? [value('deep'), text('deep')] : []),
  ],
  makes: (i, id) => i.profiles.map((_, k) => (k === 0 ? id : `${id}_${k + 1}`)),
  part: (i) => ({ of: i.body, words: 'inlay' }),
  changesBody: (i) => i.body,
  takesPieces: true,
  uses: (i) => ({ bodies: [i.body], profiles: i.profiles, planes: [] }),
};
