import { z } from 'zod';
import { planeRefSchema } from '../schema';
import { choice, pathRefSchema, pickUses, placeRefSchema, type SentencePart, type StepDefinition, text, value } from './definition';

const inputs = z.object({
  by: z.enum(['line', 'spline', 'helix', 'edges', 'blend']),
  /** Places it runs through. */
  places: z.array(placeRefSchema).max(100),
  /** Edges it is a chain of, or the two curves it blends between. */
  paths: z.array(pathRefSchema).max(100),
  /** What a helix goes about: the plane's normal through its origin. */
  plane: planeRefSchema,
  /** Whether edges that go on without a corner come too. */
  chain: z.enum(['smooth', 'picked']),
  /** How the blend passes into its curves. */
  join: z.enum(['G0', 'G1', 'G2', 'G3']),
  /** The ends of the two curves that are joined. */
  ends: z.enum(['end-start', 'end-end', 'start-start', 'start-end']),
});
export type CurveInputs = z.infer<typeof inputs>;

const HOW: Readonly<Record<CurveInputs['by'], readonly SentencePart[]>> = {
  line: [{ picks: 'places', what: 'places', most: 100 }, text('its corners rounded by'), value('fillet')],
  spline: [{ picks: 'places', what: 'places', most: 100 }],
  helix: [
    text('⌀'),
    value('diameter'),
    text('to ⌀'),
    value('top'),
    text('with'),
    value('turns'),
    text('turns of'),
    value('pitch'),
    text('about'),
    { plane: 'plane' },
  ],
  edges: [
    { picks: 'paths', what: 'paths', most: 100 },
    choice('chain', ['smooth', 'and what goes on from them smoothly'], ['picked', 'and nothing more']),
  ],
  blend: [
    { picks: 'paths', what: 'paths', most: 2 },
    choice(
      'ends',
      ['end-start', 'from end to start'],
      ['end-end', 'from end to end'],
      ['start-start', 'from start to start'],
      ['start-end', 'from start to end'],
    ),
    choice('join', ['G0', 'position only'], ['G1', 'G1, tangent'], ['G2', 'G2, curvature too'], ['G3', 'G3, its change too']),
    text('strength'),
    value('strength'),
  ],
};

export const curve: StepDefinition<CurveInputs> = {
  kind: 'curve',
  verb: 'Draw',
  group: 'refer',
  summary: 'a curve in space to sweep along, or to lead a loft',
  inputs,
  values: {
    fillet: { kind: 'length', label: 'radius of its corners', initial: '0 mm', atLeast: 0 },
    diameter: { kind: 'length', label: 'diameter', initial: '30 mm', above: 0 },
    top: { kind: 'length', label: 'diameter at the end', initial: '30 mm', above: 0 },
    turns: { kind: 'number', label: 'turns', initial: '4', above: 0, atMost: 200 },
    pitch: { kind: 'length', label: 'rise per turn', initial: '8 mm' },
    strength: { kind: 'number', label: 'strength', initial: '1', above: 0, atMost: 2 },
  },
  sentence: (step) => {
    const i = step.inputs as CurveInputs;
    return [
      text('Draw'),
      choice(
        'by',
        ['line', 'a line through'],
        ['spline', 'a smooth curve through'],
        ['helix', 'a helix'],
        ['edges', 'a chain of edges'],
        ['blend', 'a blend between'],
      ),
      ...HOW[i.by],
    ];
  },
  makes: () => [],
  changesBody: () => null,
  uses: (i) => {
    const picks = [...(i.by === 'line' || i.by === 'spline' ? i.places : []), ...(i.by === 'edges' || i.by === 'blend' ? i.paths : [])];
    return { ...pickUses(picks), planes: i.by === 'helix' ? [i.plane] : [] };
  },
};
