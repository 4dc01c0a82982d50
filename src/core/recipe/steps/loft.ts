import { z } from 'zod';
import { chained } from '../../curves/chained';
import { type Frame, normalOf } from '../../curves/frame';
import { dot, minus, triple, type Vec3 } from '../../geometry/vectors';
import {
  choice,
  type Offer,
  pathRefSchema,
  raiseModeSchema,
  raisesOwn,
  raiseWords,
  type StepDefinition,
  sectionRefSchema,
  skinUses,
  text,
  usualChoice,
  usually,
  value,
} from './definition';
import { type Handle, middleOfLines, type Standing } from './handles';
import { lofted } from './quick';

const inputs = z.object({
  /** Sections in their order; a drawing with a single point and no curve is a point. */
  sections: z.array(sectionRefSchema).max(40),
  /** Curves that lead the skin; a curve of a drawing brings its whole chain. */
  paths: z.array(pathRefSchema).max(6),
  rails: z.enum(['drawn', 'snapped']),
  skin: z.enum(['smooth', 'ruled']),
  run: z.enum(['open', 'closed']),
  start: z.enum(['free', 'square']),
  end: z.enum(['free', 'square']),
  /** How far each section's matching is turned round, in shares of its length, with commas between. */
  shifts: z.string().max(200),
  ...raiseModeSchema,
});
export type LoftInputs = z.infer<typeof inputs>;

/** One line for each section; undefined where one is no drawing, or several lines. */
function linesOf(i: LoftInputs, standing: Standing): { line: readonly Vec3[]; frame: Frame }[] | undefined {
  const out: { line: readonly Vec3[]; frame: Frame }[] = [];
  for (const s of i.sections) {
    const drawn = typeof s === 'string' ? standing.drawing(s) : undefined;
    const [line, ...others] = drawn ? chained(drawn.lines) : [];
    if (!drawn || !line || others.length > 0) return undefined;
    out.push({ line, frame: drawn.frame });
  }
  return out;
}

export const loft: StepDefinition<LoftInputs, 'startWeight' | 'endWeight'> = {
  kind: 'loft',
  verb: 'Loft',
  group: 'raise',
  summary: 'a skin through sections, led by rails',
  known: [
    'ruled surface',
    'surface between curves',
    'surface between edges',
    'blend sections',
    'skin over sections',
    'through sections',
    'transition',
    'morph',
  ],
  needs: 'something to loft through',
  offers: (c) => {
    const flat = c.profiles.filter((p) => !p.half);
    // Outlines that nothing is built from yet are meant.
    const unused = flat.filter((p) => p.closed && !p.used);
    // What lies across the others is another thing, and of those in one plane the last is meant.
    const [waiting = []] = unused
      .toReversed()
      .map((last) =>
        unused
          .filter((p) => p.along === last.along || p.along === null || last.along === null)
          .filter((p, i, all) => all.findLastIndex((q) => q.plane === p.plane) === i),
      )
      .sort((a, b) => b.length - a.length);
    const begun = { paths: [], rails: 'drawn', skin: 'smooth', run: 'open', start: 'free', end: 'free', shifts: '' } as const;
    const lines: Offer<LoftInputs>[] =
      c.curves.length + c.solids.length + c.skins.length + flat.length === 0
        ? []
        : [
            {
              group: 'Raise',
              label: 'Loft a surface through lines',
              hint: 'edges, drawn lines and curves in space',
              pick: { what: 'paths', field: 'sections', most: 40 },
              inputs: { ...begun, paths: [], sections: [], skin: 'ruled', mode: 'surface', body: null },
            },
          ];
    if (flat.length === 0 || (flat.length < 2 && c.solids.length === 0)) return lines;
    const toFace = c.solids.length > 0 && (flat.length < 2 || waiting.length === 1);
    return [
      {
        group: 'Raise',
        label: flat.length < 2 ? `Loft from a face to ${flat[0]!.name}` : 'Loft through drawings and faces',
        hint: 'sections, and rails if you like',
        ...(toFace ? { pick: { what: 'faces', field: 'sections', most: 40 } } : {}),
        inputs: {
          ...begun,
          paths: [],
          sections: (waiting.length > (toFace ? 0 : 1) ? waiting : flat.slice(0, 2)).map((p) => p.id),
          mode: 'new',
          body: null,
        },
      },
      ...lines,
    ];
  },
  inputs,
  values: {
    startWeight: { kind: 'number', label: 'strength at the start', initial: '1', above: 0, atMost: 10 },
    endWeight: { kind: 'number', label: 'strength at the end', initial: '1', above: 0, atMost: 10 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Loft'),
      { profiles: 'sections', anything: true },
      ...usualChoice(i, 'skin', ['smooth', 'smoothly'], ['ruled', 'straight from one to the next']),
      ...usualChoice(i, 'run', ['open', 'from the first to the last'], ['closed', 'and back to the first']),
      ...usually(i.paths.length === 0, text('along'), { picks: 'paths', what: 'paths', most: 6 }),
      ...(i.paths.length > 0 ? [choice('rails', ['drawn', 'as drawn'], ['snapped', 'pulled onto the sections'])] : []),
      ...(i.run === 'open' && i.skin === 'smooth'
        ? [
            ...usually(
              i.start === 'free',
              text('starting'),
              choice('start', ['free', 'freely'], ['square', 'square to its plane, strength']),
            ),
            ...(i.start === 'square' ? [value('startWeight')] : []),
            ...usually(i.end === 'free', text('ending'), choice('end', ['free', 'freely'], ['square', 'square to its plane, strength'])),
            ...(i.end === 'square' ? [value('endWeight')] : []),
          ]
        : []),
      ...(i.paths.length === 0 ? usually(i.shifts.trim() === '', text('matching turned by'), { shares: 'shifts' }) : []),
      ...raiseWords(step),
    ];
  },
  ...raisesOwn,
  handles: ({ inputs: i }, standing) => {
    const sections = linesOf(i, standing);
    if (!sections || sections.length < 2 || i.run !== 'open' || i.skin !== 'smooth') return [];
    const end = (value: string, at: number, next: number): Handle[] => {
      const [here, there] = [middleOfLines([sections[at]!.line]), middleOfLines([sections[next]!.line])];
      if (!here || !there) return [];
      const n = normalOf(sections[at]!.frame);
      const towards = minus(there, here);
      // A strength of 1 leads as far as a third of the way.
      return [{ value, from: here, way: triple((k) => Math.sign(dot(towards, n) || 1) * n[k]), per: Math.hypot(...towards) / 3 }];
    };
    const last = sections.length - 1;
    return [...(i.start === 'square' ? end('startWeight', 0, 1) : []), ...(i.end === 'square' ? end('endWeight', last, last - 1) : [])];
  },
  quick: ({ inputs: i }, standing) => {
    const sections = linesOf(i, standing);
    return sections && sections.length > 1 && i.paths.length === 0
      ? [
          lofted(
            sections.map((s) => s.line),
            i.skin === 'smooth',
            i.run === 'closed',
          ),
        ]
      : null;
  },
  uses: skinUses,
};
