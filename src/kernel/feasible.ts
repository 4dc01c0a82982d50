/**
 * The range of a value that works: an estimate from the shape around it, confirmed by doing the operation with its verification. Trials are
 * few, because every one costs an operation.
 */

export interface Tried {
  readonly value: number;
  readonly works: boolean;
}

export interface Found {
  /** Largest value seen to work, mm; null where none did. */
  readonly most: number | null;
  /** Smallest value above it seen to fail; null where none failed. */
  readonly failsAt: number | null;
  /** Smallest value tried that works. */
  readonly least: number | null;
  /** Values that failed although a larger one works. */
  readonly gaps: readonly number[];
  readonly trials: readonly Tried[];
  /** It was stopped before its end. */
  readonly stopped: boolean;
}

export interface Search {
  /** Largest value the shape leaves room for, where that could be read. */
  readonly estimate?: number;
  /** A value that is known to work or to fail, such as the one that stands in the sheet. */
  readonly known?: Tried;
  /** Trials at most. */
  readonly trials?: number;
  /** How closely the end is bracketed, share of the value. */
  readonly within?: number;
  /** Called between trials; false stops. */
  readonly tick?: (done: number, of: number) => Promise<boolean>;
}

/** @param works the operation with its verification */
export async function feasible(works: (value: number) => boolean, search: Search = {}): Promise<Found> {
  const budget = search.trials ?? 12;
  const within = search.within ?? 0.01;
  const tried: Tried[] = [];
  let stopped = false;
  const all = (): Tried[] => [...(search.known ? [search.known] : []), ...tried].sort((a, b) => a.value - b.value);
  const known = (value: number): Tried | undefined => all().find((t) => Math.abs(t.value / value - 1) < 1e-9);
  const attempt = async (value: number): Promise<boolean | undefined> => {
    const before = known(value);
    if (before) return before.works;
    if (tried.length >= budget) return undefined;
    if (search.tick && !(await search.tick(tried.length, budget))) {
      stopped = true;
      return undefined;
    }
    const ok = works(value);
    tried.push({ value, works: ok });
    return ok;
  };
  const top = (): number | undefined =>
    all()
      .filter((t) => t.works)
      .at(-1)?.value;
  const above = (low: number): number | undefined => all().find((t) => !t.works && t.value > low)?.value;

  // The estimate from just below and just above: where it is right, two trials are all there is to do.
  const guess = search.estimate ?? (search.known ? search.known.value * 2 : 1);
  const near = within * 0.45;
  if (await attempt(guess * (1 - near))) {
    let next = guess * (1 + near);
    for (let k = 0; k < 4 && (await attempt(next)); k++) next *= 2;
  } else if (!stopped) {
    for (const share of [0.5, 0.12, 0.02]) {
      if (top() !== undefined && top()! >= guess * share) break;
      if ((await attempt(guess * share)) || stopped) break;
    }
  }
  // Halving what lies between, by ratio.
  for (;;) {
    const low = top();
    if (low === undefined || stopped) break;
    const high = above(low);
    if (high === undefined || high / low <= 1 + within) break;
    if ((await attempt(Math.sqrt(low * high))) === undefined) break;
  }
  // Below: what is small need not work because what is large does.
  const most = top();
  if (most !== undefined && !stopped) {
    await attempt(most / 20);
    await attempt(most * 0.6);
  }
  const end = top() ?? null;
  const list = all();
  return {
    most: end,
    failsAt: end === null ? (list.find((t) => !t.works)?.value ?? null) : (above(end) ?? null),
    least: list.find((t) => t.works)?.value ?? null,
    gaps: end === null ? [] : list.filter((t) => !t.works && t.value < end).map((t) => t.value),
    trials: tried,
    stopped,
  };
}
