/** Cages to start from, by sizes and counts. */
import type { Kind } from '../../core/dimensions/expression';
import type { Cage } from '../../core/form/cage';
import { ballCage, boxCage, gridCage, torusCage, tubeCage } from '../../core/form/starts';

export interface StartField {
  readonly key: string;
  readonly label: string;
  readonly of: Kind;
  readonly start: string;
  /** Of counts. */
  readonly least?: number;
  readonly most?: number;
}
export interface StartShape {
  readonly key: string;
  readonly words: string;
  readonly fields: readonly StartField[];
  readonly make: (v: Readonly<Record<string, number>>) => Cage;
}

const mm = (key: string, label: string, start: number): StartField => ({ key, label, of: 'length', start: `${start} mm` });
const count = (key: string, label: string, start: number, least: number, most = 60): StartField => ({
  key,
  label,
  of: 'number',
  start: `${start}`,
  least,
  most,
});

export const START_SHAPES: readonly StartShape[] = [
  {
    key: 'box',
    words: 'box',
    fields: [
      mm('w', 'width', 80),
      mm('d', 'depth', 60),
      mm('h', 'height', 40),
      count('i', 'quads across', 3, 1),
      count('j', 'quads deep', 2, 1),
      count('k', 'quads high', 2, 1),
    ],
    make: (v) => boxCage([v.w!, v.d!, v.h!], [v.i!, v.j!, v.k!]),
  },
  {
    key: 'tube',
    words: 'cylinder',
    fields: [mm('r', 'radius', 30), mm('h', 'height', 80), count('s', 'sides', 12, 3, 96), count('n', 'rings', 5, 2)],
    make: (v) => tubeCage(v.r!, v.h!, v.s!, v.n!),
  },
  {
    key: 'ball',
    words: 'ball',
    fields: [mm('r', 'radius', 30), count('n', 'quads along an edge', 2, 1, 30)],
    make: (v) => ballCage(v.r!, v.n!),
  },
  {
    key: 'ring',
    words: 'ring',
    fields: [
      mm('r', 'radius of the ring', 35),
      mm('t', 'radius of its tube', 12),
      count('s', 'sides of the tube', 8, 3),
      count('n', 'quads round', 12, 3, 96),
    ],
    make: (v) => torusCage(v.r!, v.t!, v.s!, v.n!),
  },
  {
    key: 'sheet',
    words: 'sheet',
    fields: [mm('w', 'width', 80), mm('d', 'depth', 60), count('i', 'quads across', 4, 1), count('j', 'quads deep', 3, 1)],
    make: (v) => gridCage(v.w!, v.d!, v.i!, v.j!),
  },
];

/** What stands against a value of a start, in words; null for nothing. */
export function startProblem(f: StartField, value: number): string | null {
  if (f.of === 'length') return value > 0 ? null : 'a size is more than nothing';
  return Number.isInteger(value) && value >= f.least! && value <= f.most! ? null : `a whole number, ${f.least} to ${f.most}`;
}
