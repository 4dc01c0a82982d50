import { seeded } from '../../src/core/mesh/wall';

/** Numbers that come the same for the same seed, so that what was found can be found again. */
export interface Chance {
  /** From 0 up to, not including, 1. */
  readonly share: () => number;
  /** A whole number below n. */
  readonly below: (n: number) => number;
  readonly of: <T>(list: readonly T[]) => T;
}

export function chance(seed: number): Chance {
  const share = seeded(seed);
  const below = (n: number): number => Math.floor(share() * n);
  return { share, below, of: (list) => list[below(list.length)]! };
}
