/**
 * Shrinkage to begin with where nothing was measured yet: linear, from the file to the finished part. Handbook values and common practice, from memory;
 * a maker's data sheet and a measured part go before them. What is printed of a filament is what is left after the machine's own correction.
 */
import type { Brief } from '../recipe/schema';

interface Typical {
  /** Shares of a length, from the least that is usual to the most. */
  readonly from: number;
  readonly to: number;
  readonly words: string;
}

const PRINTED: Readonly<Record<string, Typical>> = {
  pla: { from: 0.001, to: 0.004, words: 'printed PLA' },
  petg: { from: 0.002, to: 0.006, words: 'printed PETG' },
  abs: { from: 0.005, to: 0.009, words: 'printed ABS' },
  pa12: { from: 0.008, to: 0.015, words: 'printed PA 12' },
  resin: { from: 0.002, to: 0.008, words: 'cured resin' },
};
const FIRED: Readonly<Record<string, Typical>> = {
  stoneware: { from: 0.1, to: 0.13, words: 'stoneware, dried and fired' },
  porcelain: { from: 0.12, to: 0.17, words: 'porcelain, dried and fired' },
};
const CAST: Readonly<Record<string, Typical>> = {
  aluminium: { from: 0.011, to: 0.014, words: 'cast aluminium' },
  brass: { from: 0.014, to: 0.017, words: 'cast brass' },
  steel: { from: 0.018, to: 0.025, words: 'cast steel' },
};
const MOULDED: Readonly<Record<string, Typical>> = {
  pla: { from: 0.003, to: 0.005, words: 'moulded PLA' },
  petg: { from: 0.002, to: 0.006, words: 'moulded PETG' },
  abs: { from: 0.004, to: 0.007, words: 'moulded ABS' },
  pa12: { from: 0.008, to: 0.02, words: 'moulded PA 12' },
};
const BY: Readonly<Record<Brief['process'], Readonly<Record<string, Typical>>>> = {
  print: { ...FIRED, ...PRINTED },
  mould: { ...FIRED, ...CAST, ...MOULDED },
  cast: { ...CAST, ...FIRED },
  mill: {},
  turn: {},
};

/** What is usual for a material made some way; undefined where nothing shrinks, or it is not known. */
export const typicalShrinkage = (process: Brief['process'], material: string): Typical | undefined => BY[process][material];
