/** Search for the largest value of an operation that passes verification. */

/** A refusal with its search takes no longer than so many times what was refused. */
const WITHIN = 5;
/** Limits read off a shape are tried this share of them. */
const BELOW = 0.995;
/** Trials that take less than this together are always made, ms. */
const SHORT = 400;

/**
 * Bisects between a value that works and one that does not. The oracle is the operation with its verification, so every trial costs one operation.
 * @param guess what the shape around it leaves room for, if that is known: tried first, a hair below
 * @param took how long the trial that was refused took, ms: all that are made after it take four times that at most, as far as one alone does not
 * @returns the largest value seen to work; undefined where none was found in time
 */
export function largestWorking(
  works: (value: number) => boolean,
  upTo: number,
  took: number,
  { trials = 7, guess }: { readonly trials?: number; readonly guess?: number | undefined } = {},
): number | undefined {
  const started = performance.now();
  let longest = 0;
  const timed = (value: number): boolean => {
    const t = performance.now();
    const goes = works(value);
    longest = Math.max(longest, performance.now() - t);
    return goes;
  };
  const budget = Math.max(SHORT, (WITHIN - 1) * took);
  /** Whether one more trial as long as the longest so far ends in time. */
  const left = (): boolean => performance.now() - started + longest <= budget;
  let low = 0;
  let high = upTo;
  if (guess !== undefined && guess < upTo && left()) {
    trials--;
    if (timed(guess * BELOW)) {
      low = guess * BELOW;
      high = Math.min(upTo, guess * (2 - BELOW));
    } else high = guess * BELOW;
  }
  // A small value first: "cannot be done at all" is another answer than "too large".
  const top = high;
  for (const share of low > 0 ? [] : [0.5, 0.1, 0.02]) {
    if (!left()) return undefined;
    trials--;
    if (timed(top * share)) {
      low = top * share;
      break;
    }
    high = top * share;
  }
  if (low === 0) return undefined;
  for (; trials > 0 && left(); trials--) {
    const middle: number = (low + high) / 2;
    if (timed(middle)) low = middle;
    else high = middle;
  }
  return low;
}

/** Rounded down to three figures, so that the number offered works when typed. */
export function roundDown(value: number): number {
  const step = 10 ** (Math.floor(Math.log10(value)) - 2);
  return Number((Math.floor(value / step + 1e-9) * step).toPrecision(3));
}
