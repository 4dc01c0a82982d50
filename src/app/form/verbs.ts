/** What can be done to a cage: sentences with fields, and the edits they stand for. */
import type { Kind } from '../../core/dimensions/expression';
import type { P3 } from '../../core/form/cage';
import type { Edit, Regions } from '../../core/form/edit/edit';
import type { FillWay } from '../../core/form/edit/join';
import type { PickKind } from '../../core/form/edit/select';
import type { Symmetry } from '../../core/form/edit/symmetry';

/** A key with its words; `images` where it is about images by symmetry, and what is taken first where a cage repeats about its axis. */
type Choice = readonly [key: string, words: string, about?: 'images'];

export type Field =
  | { readonly key: string; readonly label: string; readonly of: Kind; readonly start: string }
  | { readonly key: string; readonly label: string; readonly choices: readonly Choice[] }
  /** A body other than the form's own. */
  | { readonly key: string; readonly label: string; readonly body: true };

/** Read values by field: numbers of the kind asked for, texts of choices. */
export type Values = Readonly<Record<string, number | string>>;

export interface Verb {
  readonly key: string;
  readonly group: string;
  readonly words: string;
  /** What it works on; anything where it is left out. */
  readonly on?: readonly PickKind[];
  /** Words and fields in the order of the sentence. */
  readonly sentence: readonly (string | Field)[];
  /** A move that others near it may follow. */
  readonly soft?: true;
  readonly make: (v: Values) => Edit;
}

const n = (v: Values, key: string): number => v[key] as number;
const three = (v: Values): P3 => [n(v, 'x'), n(v, 'y'), n(v, 'z')];
const length = (key: string, label: string, start: string): Field => ({ key, label, of: 'length', start });
const number = (key: string, label: string, start: string): Field => ({ key, label, of: 'number', start });
const xyz = (of: Kind, start: string): (string | Field)[] =>
  (['x', 'y', 'z'] as const).flatMap((k) => [k, { key: k, label: k, of, start }]);
const ABOUT: Field = {
  key: 'about',
  label: 'about what',
  choices: [
    ['middle', 'its middle'],
    ['axis', 'the origin'],
  ],
};
const about = (v: Values): { about?: P3 } => (v.about === 'axis' ? { about: [0, 0, 0] } : {});

const APART: Choice = ['apart', 'each image for itself', 'images'];
/** Nothing to choose where there are no images. */
const REGIONS: Field = { key: 'as', label: 'faces', choices: [['one', 'as one with its images'], APART] };
const regions = (v: Values): Regions => v.as as Regions;

/** The choices of a field on a cage that repeats so many times about its axis, or is mirrored; the first is what is taken. */
export function choicesOf(field: { readonly choices: readonly Choice[] }, { mirror, fold }: Symmetry): readonly Choice[] {
  if (mirror.length === 0 && fold === 1) return field.choices.filter((c) => c[2] !== 'images');
  return fold > 1 ? field.choices.toSorted((a, b) => Number(b[2] === 'images') - Number(a[2] === 'images')) : field.choices;
}

export const VERBS: readonly Verb[] = [
  {
    key: 'move',
    group: 'move',
    words: 'move',
    soft: true,
    sentence: ['Move by', ...xyz('length', '0 mm')],
    make: (v) => ({ do: 'move', by: three(v) }),
  },
  {
    key: 'out',
    group: 'move',
    words: 'move outwards',
    soft: true,
    sentence: ['Move out along the normals by', length('d', 'distance', '1 mm')],
    make: (v) => ({ do: 'move-normal', distance: n(v, 'd') }),
  },
  {
    key: 'scale',
    group: 'move',
    words: 'scale',
    soft: true,
    sentence: ['Scale by', ...xyz('number', '1'), 'about', ABOUT],
    make: (v) => ({ do: 'scale', by: three(v), ...about(v) }),
  },
  {
    key: 'rotate',
    group: 'move',
    words: 'turn',
    soft: true,
    sentence: [
      'Turn by',
      { key: 'a', label: 'angle', of: 'angle', start: '15°' },
      'about',
      {
        key: 'axis',
        label: 'axis',
        choices: [
          ['z', 'z'],
          ['x', 'x'],
          ['y', 'y'],
        ],
      },
      'through',
      ABOUT,
    ],
    make: (v) => ({
      do: 'rotate',
      angle: n(v, 'a'),
      axis: [Number(v.axis === 'x'), Number(v.axis === 'y'), Number(v.axis === 'z')],
      ...about(v),
    }),
  },
  {
    key: 'place',
    group: 'move',
    words: 'put in its place',
    on: ['vertices'],
    sentence: ['Put the vertex at', ...xyz('length', '0 mm')],
    make: (v) => ({ do: 'place', at: three(v) }),
  },
  {
    key: 'slide',
    group: 'move',
    words: 'slide',
    on: ['edges', 'vertices'],
    sentence: ['Slide the row by', number('s', 'share', '0.25'), 'of the edges beside it'],
    make: (v) => ({ do: 'slide', share: n(v, 's') }),
  },
  {
    key: 'pull',
    group: 'move',
    words: 'pull onto',
    sentence: [
      'Pull',
      {
        key: 'on',
        label: 'what is pulled',
        choices: [
          ['body', 'the smooth body'],
          ['cage', 'the cage'],
        ],
      },
      'onto',
      { key: 'body', label: 'body', body: true },
    ],
    make: (v) => ({ do: 'pull', nearest: () => undefined, onBody: v.on === 'body' }),
  },

  {
    key: 'flatten',
    group: 'put right',
    words: 'flatten',
    sentence: [
      'Flatten',
      {
        key: 'to',
        label: 'plane',
        choices: [
          ['fit', 'as fits best'],
          ['x', 'square to x'],
          ['y', 'square to y'],
          ['z', 'square to z'],
        ],
      },
    ],
    make: (v) => ({ do: 'flatten', to: v.to as 'fit' }),
  },
  {
    key: 'straighten',
    group: 'put right',
    words: 'straighten',
    sentence: ['Make the row straight between its ends'],
    make: () => ({ do: 'straighten' }),
  },
  { key: 'even', group: 'put right', words: 'space evenly', sentence: ['Space the row evenly'], make: () => ({ do: 'space-evenly' }) },
  {
    key: 'round',
    group: 'put right',
    words: 'make round',
    sentence: [
      'Make the loop round,',
      {
        key: 'size',
        label: 'size',
        choices: [
          ['mean', 'as wide as it is'],
          ['given', 'as wide as given'],
        ],
      },
      '⌀',
      length('d', 'diameter', '40 mm'),
      {
        key: 'on',
        label: 'where it is round',
        choices: [
          ['body', 'on the body'],
          ['cage', 'on the cage'],
        ],
      },
      {
        key: 'angles',
        label: 'angles',
        choices: [
          ['kept', 'angles as they are'],
          ['even', 'at even angles'],
        ],
      },
    ],
    make: (v) => ({
      do: 'make-round',
      diameter: v.size === 'given' ? n(v, 'd') : null,
      even: v.angles === 'even',
      onBody: v.on === 'body',
    }),
  },

  {
    key: 'extrude',
    group: 'build',
    words: 'extrude',
    on: ['faces', 'edges'],
    sentence: ['Extrude by', length('d', 'distance', '5 mm'), REGIONS],
    make: (v) => ({ do: 'extrude', distance: n(v, 'd'), as: regions(v) }),
  },
  {
    key: 'extrude-by',
    group: 'build',
    words: 'extrude along',
    on: ['faces', 'edges'],
    sentence: ['Extrude along', ...xyz('length', '0 mm'), REGIONS],
    make: (v) => ({ do: 'extrude-by', by: three(v), as: regions(v) }),
  },
  {
    key: 'inset',
    group: 'build',
    words: 'inset',
    on: ['faces'],
    sentence: [
      'Inset by',
      length('d', 'distance', '2 mm'),
      {
        key: 'as',
        label: 'faces',
        choices: [['one', 'as one'], APART, ['each', 'each face for itself']],
      },
    ],
    make: (v) => ({ do: 'inset', distance: n(v, 'd'), as: v.as as Regions | 'each' }),
  },
  {
    key: 'bridge',
    group: 'build',
    words: 'bridge',
    sentence: ['Bridge two openings with', number('r', 'rings between', '0'), 'rings between, turned on by', number('t', 'turn', '0')],
    make: (v) => ({ do: 'bridge', rings: Math.max(0, Math.round(n(v, 'r'))), turn: Math.round(n(v, 't')) }),
  },
  {
    key: 'fill',
    group: 'build',
    words: 'fill',
    sentence: [
      'Fill with',
      {
        key: 'way',
        label: 'with',
        choices: [
          ['grid', 'a grid of quads'],
          ['quads', 'quads about a middle'],
          ['fan', 'triangles about a middle'],
          ['one', 'one face'],
        ],
      },
    ],
    make: (v) => ({ do: 'fill', way: v.way as FillWay }),
  },

  {
    key: 'loop',
    group: 'cut',
    words: 'insert a loop',
    on: ['edges'],
    sentence: [
      'Put a loop across at',
      number('s', 'share', '0.5'),
      'of the edge,',
      {
        key: 'keep',
        label: 'shape',
        choices: [
          ['cage', 'on the cage'],
          ['shape', 'keeping the body’s shape'],
        ],
      },
    ],
    make: (v) => ({ do: 'insert-loop', share: n(v, 's'), keepShape: v.keep === 'shape' }),
  },
  {
    key: 'bevel',
    group: 'cut',
    words: 'bevel',
    on: ['edges'],
    sentence: ['Hold the row by loops', length('d', 'distance', '2 mm'), 'to either side'],
    make: (v) => ({ do: 'bevel', distance: n(v, 'd') }),
  },
  {
    key: 'split',
    group: 'cut',
    words: 'split edges',
    on: ['edges'],
    sentence: ['Split each edge at', number('s', 'share', '0.5'), 'of its length'],
    make: (v) => ({ do: 'split', share: n(v, 's') }),
  },
  {
    key: 'connect',
    group: 'cut',
    words: 'join vertices',
    on: ['vertices'],
    sentence: ['Join the vertices by an edge through their face'],
    make: () => ({ do: 'connect' }),
  },

  {
    key: 'weld',
    group: 'build',
    words: 'weld',
    sentence: [
      'Weld',
      {
        key: 'how',
        label: 'which',
        choices: [
          ['one', 'into one'],
          ['near', 'those within'],
        ],
      },
      length('d', 'distance', '0.1 mm'),
    ],
    make: (v) => ({ do: 'weld', within: v.how === 'near' ? n(v, 'd') : null }),
  },
  {
    key: 'dissolve',
    group: 'take away',
    words: 'dissolve',
    sentence: ['Take it out; the faces about it become one'],
    make: () => ({ do: 'dissolve' }),
  },
  { key: 'delete', group: 'take away', words: 'delete', sentence: ['Delete; an opening is left'], make: () => ({ do: 'delete' }) },

  {
    key: 'crease',
    group: 'sharpen',
    words: 'crease',
    on: ['edges', 'vertices'],
    sentence: ['Stays sharp for', number('w', 'weight', '2'), 'refinements (10 for good)'],
    make: (v) => ({ do: 'crease', weight: v.w }),
  },
  {
    key: 'uncrease',
    group: 'sharpen',
    words: 'smooth again',
    on: ['edges', 'vertices'],
    sentence: ['Smooth again'],
    make: () => ({ do: 'uncrease' }),
  },
];
