/** How long prints took, and how much they used, against what was reckoned: by that, later ones are reckoned better. */
import type { Batch } from './document';

export interface Pace {
  /** Time that is taken for every second that is reckoned, and material for every gram; null where nothing was logged. */
  readonly time: number | null;
  readonly material: number | null;
}

/** Of all batches together: long prints count for more than short ones. */
export function paceOf(batches: readonly Batch[]): Pace {
  const share = (did: (b: Batch) => number | undefined, reckoned: (b: Batch) => number | undefined): number | null => {
    const told = batches.filter((b) => did(b) && reckoned(b));
    const sum = (f: (b: Batch) => number | undefined): number => told.reduce((s, b) => s + f(b)!, 0);
    return told.length > 0 ? sum(did) / sum(reckoned) : null;
  };
  return {
    time: share(
      (b) => b.took,
      (b) => b.reckoned?.seconds,
    ),
    material: share(
      (b) => b.used,
      (b) => b.reckoned?.grams,
    ),
  };
}
