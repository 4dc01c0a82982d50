/** Sizes that trades have names for, to begin a named dimension with: each with what is measured and where it stands. */

export interface StandardSizes {
  readonly name: string;
  /** What the length is of. */
  readonly measures: string;
  readonly source: string;
  /** What a dimension of it is called where it has no name yet. */
  readonly called: string;
  /** The trade's word for each, with its length as an expression. */
  readonly sizes: readonly (readonly [string, string])[];
}

const FROM_MEMORY = 'from memory: measure the piece';

export const STANDARDS: readonly StandardSizes[] = [
  {
    name: 'Finger ring',
    measures: 'inner diameter; the size is the inner circumference in mm',
    source: 'ISO 8653',
    called: 'ring',
    sizes: Array.from({ length: 36 }, (_, i): [string, string] => [`${41 + i}`, `${41 + i} mm / pi`]),
  },
  {
    name: 'Pipe thread G',
    measures: 'major diameter',
    source: `ISO 228-1, ${FROM_MEMORY}`,
    called: 'thread',
    sizes: [
      ['1/8', '9.728 mm'],
      ['1/4', '13.157 mm'],
      ['3/8', '16.662 mm'],
      ['1/2', '20.955 mm'],
      ['3/4', '26.441 mm'],
      ['1', '33.249 mm'],
      ['1 1/4', '41.91 mm'],
      ['1 1/2', '47.803 mm'],
      ['2', '59.614 mm'],
    ],
  },
  {
    name: 'Steel pipe',
    measures: 'outer diameter',
    source: `ISO 4200, series 1, ${FROM_MEMORY}`,
    called: 'pipe',
    sizes: (
      [
        ['10', 17.2],
        ['15', 21.3],
        ['20', 26.9],
        ['25', 33.7],
        ['32', 42.4],
        ['40', 48.3],
        ['50', 60.3],
        ['65', 76.1],
        ['80', 88.9],
        ['100', 114.3],
      ] as const
    ).map(([dn, d]) => [`DN ${dn}`, `${d} mm`]),
  },
  {
    name: 'Copper tube',
    measures: 'outer diameter',
    source: `EN 1057, ${FROM_MEMORY}`,
    called: 'tube',
    sizes: [10, 12, 15, 18, 22, 28, 35, 42, 54].map((d) => [`${d}`, `${d} mm`]),
  },
  {
    name: 'Hose',
    measures: 'inner diameter',
    source: 'common practice, no source',
    called: 'hose',
    sizes: [
      ['1/2 in', '12.7 mm'],
      ['5/8 in', '15.9 mm'],
      ['3/4 in', '19 mm'],
      ['1 in', '25.4 mm'],
    ],
  },
  {
    name: 'Wrist',
    measures: 'circumference of a band; measure the wrist where you can',
    source: 'common practice, no source',
    called: 'wrist',
    sizes: [
      ['child', '140 mm'],
      ['small', '155 mm'],
      ['medium', '170 mm'],
      ['large', '185 mm'],
      ['very large', '200 mm'],
    ],
  },
];
