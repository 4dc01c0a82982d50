import { z } from 'zod';
import { planeRefSchema } from '../schema';
import {
  bodyFaceSchema,
  choice,
  idSchema,
  pathRefSchema,
  pickUses,
  placed,
  placeRefSchema,
  type SentencePart,
  type StepDefinition,
  text,
  value,
} from './definition';

const inputs = z.object({
  by: z.enum(['line', 'arc', 'tangent', 'spline', 'helix', 'edges', 'blend', 'onto', 'rebuild', 'section', 'meet', 'line-of', 'part']),
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
  /** The face it is laid on or is a line of; the two that meet. */
  faces: z.array(bodyFaceSchema).max(2).optional(),
  /** The body that a plane cuts. */
  body: idSchema.nullable().optional(),
  /** Which way a line of a face runs: one of the two ways of its surface. */
  way: z.enum(['u', 'v']).optional(),
  /** What of a curve is taken, by the places it is parted at. */
  piece: z.enum(['before', 'after', 'between']).optional(),
  /** To the nearest places of the face, or straight along the plane's normal. */
  onto: z.enum(['pulled', 'projected']).optional(),
  /** The ends of the two curves that are joined. */
  ends: z.enum(['end-start', 'end-end', 'start-start', 'start-end']),
});
export type CurveInputs = z.infer<typeof inputs>;

/** Ways to begin one: what it is called, and what is picked first. */
const WAYS: readonly (readonly [string, CurveInputs['by'], string, ('places' | 'paths' | 'faces')?, number?])[] = [
  ['Draw a line in space', 'line', 'through places, its corners rounded', 'places', 100],
  ['Draw an arc in space', 'arc', 'from, through and to a place', 'places', 3],
  ['Draw a tangent arc', 'tangent', 'going on from a curve', 'paths', 1],
  ['Lay a curve on a face', 'onto', 'pulled or projected', 'paths', 1],
  ['Draw a curve again with fewer points', 'rebuild', 'the deviation shown', 'paths', 1],
  ['Draw a smooth curve in space', 'spline', 'through places', 'places', 100],
  ['Draw a helix', 'helix', 'diameter, turns, rise'],
  ['Draw a chain of edges or curves', 'edges', 'put end to end', 'paths', 100],
  ['Draw a blend between two curves', 'blend', 'G0 to G3', 'paths', 2],
  ['Draw where a plane cuts a body', 'section', 'a section as a curve'],
  ['Draw where two faces meet', 'meet', 'of any bodies, also where they only cross', 'faces', 2],
  ['Draw a line of a face', 'line-of', 'along its surface, either way', 'faces', 1],
  ['Draw a piece of a curve', 'part', 'broken at places on it', 'paths', 1],
];

const CALLED: Readonly<Record<CurveInputs['by'], string>> = {
  line: 'line',
  arc: 'arc',
  tangent: 'tangent arc',
  spline: 'smooth curve',
  helix: 'helix',
  edges: 'chain',
  blend: 'blend',
  onto: 'curve on a face',
  rebuild: 'curve drawn again',
  section: 'section',
  meet: 'line where faces meet',
  'line-of': 'line of a face',
  part: 'piece of a curve',
};

const HOW: Readonly<Record<CurveInputs['by'], readonly SentencePart[]>> = {
  line: [{ picks: 'places', what: 'places', most: 100 }, text('its corners rounded by'), value('fillet')],
  arc: [{ picks: 'places', what: 'places', most: 3 }],
  tangent: [
    choice('ends', ['end-start', 'going on from the end of'], ['start-start', 'going on from the start of']),
    { picks: 'paths', what: 'paths', most: 1 },
    text('to'),
    { picks: 'places', what: 'places', most: 1 },
  ],
  onto: [
    { picks: 'paths', what: 'paths', most: 1 },
    choice('onto', ['pulled', 'pulled to the nearest places of'], ['projected', 'projected square to a plane onto']),
    { picks: 'faces', what: 'faces', most: 1 },
  ],
  rebuild: [{ picks: 'paths', what: 'paths', most: 1 }, text('with'), value('points'), text('control points')],
  spline: [{ picks: 'places', what: 'places', most: 100 }],
  section: [{ plane: 'plane' }, text('cuts'), { body: 'body' }, text('nearest to'), { picks: 'places', what: 'places', most: 1 }],
  meet: [{ picks: 'faces', what: 'faces', most: 2 }, text('nearest to'), { picks: 'places', what: 'places', most: 1 }],
  'line-of': [
    { picks: 'faces', what: 'faces', most: 1 },
    choice('way', ['u', 'its one way'], ['v', 'its other way']),
    text('at a share of'),
    value('share'),
    text('or through'),
    { picks: 'places', what: 'places', most: 1 },
  ],
  part: [
    { picks: 'paths', what: 'paths', most: 1 },
    choice('piece', ['before', 'as far as'], ['after', 'from there on:'], ['between', 'between']),
    { picks: 'places', what: 'places', most: 2 },
  ],
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

export const curve: StepDefinition<CurveInputs, 'fillet' | 'diameter' | 'top' | 'turns' | 'pitch' | 'points' | 'strength' | 'share'> = {
  kind: 'curve',
  verb: 'Draw',
  group: 'refer',
  summary: 'a curve in space to sweep along, or to lead a loft',
  known: [
    'spline',
    'polyline',
    'curve in space',
    '3d sketch',
    'spiral',
    'project a curve',
    'edge loop',
    'guide',
    'isocurve',
    'isoparm',
    'wire',
    'intersection curve',
    'cross section',
    'break a curve',
    'divide',
    'trim a curve',
    'split a curve',
  ],
  needs: 'nothing',
  takesFacets: (i) => i.by === 'section',
  offers: (c) =>
    WAYS.map(([label, by, hint, what, most]) => ({
      group: 'Draw',
      label,
      hint,
      inputs: {
        by,
        places: [],
        paths: [],
        plane: placed(c, by === 'section' ? 'front' : 'level'),
        chain: 'smooth',
        join: 'G2',
        ends: 'end-start',
        ...(what === 'faces' ? { faces: [] } : {}),
        ...(by === 'section' ? { body: [...c.solids, ...c.skins, ...c.scans][0]?.id ?? null } : {}),
      },
      ...(what ? { pick: { what, field: what, most: most! } } : {}),
    })),
  inputs,
  values: {
    fillet: { kind: 'length', label: 'radius of its corners', initial: '0 mm', atLeast: 0 },
    diameter: { kind: 'length', label: 'diameter', initial: '30 mm', above: 0 },
    top: { kind: 'length', label: 'diameter at the end', initial: '30 mm', above: 0 },
    turns: { kind: 'number', label: 'turns', initial: '4', above: 0, atMost: 200 },
    pitch: { kind: 'length', label: 'rise per turn', initial: '8 mm' },
    points: { kind: 'number', label: 'control points', initial: '8', whole: true, atLeast: 2, atMost: 200 },
    strength: { kind: 'number', label: 'strength', initial: '1', above: 0, atMost: 2 },
    share: { kind: 'number', label: 'share', initial: '0.5', atLeast: 0, atMost: 1 },
  },
  sentence: (step) => {
    const i = step.inputs;
    return [
      text('Draw'),
      choice(
        'by',
        ['line', 'a line through'],
        ['arc', 'an arc from, through and to'],
        ['tangent', 'a tangent arc'],
        ['spline', 'a smooth curve through'],
        ['helix', 'a helix'],
        ['edges', 'a chain of edges or curves'],
        ['blend', 'a blend between'],
        ['onto', 'a curve laid on a face:'],
        ['rebuild', 'a curve again:'],
        ['section', 'a section: where'],
        ['meet', 'where these meet:'],
        ['line-of', 'a line of'],
        ['part', 'a piece of'],
      ),
      ...HOW[i.by],
      ...(i.by === 'onto' && i.onto === 'projected' ? [text('square to'), { plane: 'plane' }] : []),
    ];
  },
  makes: () => [],
  changesBody: () => null,
  chosen: (i, field, { planes }) => {
    if (field !== 'by') return i;
    // What these are drawn from is picked anew; a tangent arc goes on from one curve, whose ends are named like those of a blend.
    if (i.by === 'tangent') return { ...i, ends: 'end-start', places: [], paths: [] };
    if (i.by === 'section') return { ...i, plane: placed({ planes }, 'front'), places: [] };
    return ['meet', 'line-of', 'part'].includes(i.by) ? { ...i, places: [], faces: [], paths: [] } : i;
  },
  places: 'curve',
  called: (i) => CALLED[i.by],
  uses: (i) => {
    const places = ['line', 'arc', 'tangent', 'spline', 'section', 'meet', 'line-of', 'part'].includes(i.by) ? i.places : [];
    const paths = ['tangent', 'edges', 'blend', 'onto', 'rebuild', 'part'].includes(i.by) ? i.paths : [];
    const faces = ['onto', 'meet', 'line-of'].includes(i.by) ? (i.faces ?? []) : [];
    const plane = i.by === 'helix' || i.by === 'section' || (i.by === 'onto' && i.onto === 'projected');
    const picks = pickUses([...places, ...paths, ...faces]);
    const cut = i.by === 'section' && i.body ? [i.body] : [];
    return { ...picks, bodies: [...picks.bodies, ...cut], planes: plane ? [i.plane] : [] };
  },
};
