/** Search for the largest value of an operation that passes verification. */

/**
 * Bisects between a value that works and one that does not. The oracle is the operation with its
 * verification, so every trial costs one operation.
 * @param budget time after which no further trial begins, ms
 * @returns the largest value seen to work, or undefined when even the smallest trial fails
 */
export function largestWorking(works: (value: number) => boolean, upTo: number, trials = 7, budget = 6000): number | undefined {
  const started = performance.now();
  let low = 0;
  let high = upTo;
  // A small value first: "cannot be done at all" is another answer than "too large".
  for (const share of [0.5, 0.1, 0.02]) {
    trials--;
    if (works(upTo * share)) {
      low = upTo * share;
      break;
    }
    high = upTo * share;
  }
  if (low === 0) return undefined;
  for (; trials > 0 && performance.now() - started < budget; trials--) {
    const middle: number = (low + high) / 2;
    if (works(middle)) low = middle;
    else high = middle;
  }
  return low;
}

/** Rounded down to three figures, so that the number offered works when typed. */
export function roundDown(value: number): number {
  const step = 10 ** (Math.floor(Math.log10(value)) - 2);
  return Number((Math.floor(value / step + 1e-9) * step).toPrecision(3));
}
