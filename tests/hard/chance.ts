/** Numbers that come the same for the same seed, so that what was found can be found again. */
export interface Chance {
  /** From 0 up to, not including, 1. */
  readonly share: () => number;
  /** A whole number below n. */
  readonly below: (n: number) => number;
  readonly of: <T>(list: readonly T[]) => T;
}

/** Mulberry32, a generator of 32 bits in the public domain (from memory). */
export function chance(seed: number): Chance {
  let a = seed >>> 0;
  const share = (): number => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const below = (n: number): number => Math.floor(share() * n);
  return { share, below, of: (list) => list[below(list.length)]! };
}
