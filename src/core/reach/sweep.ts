/** How far a sheet goes with one of its dimensions, what ends it either way, and what is read over that range. */
import { type Mover, outwards } from './mover';

export interface Reading {
  /** In the gauge's unit; null where there is none. */
  readonly value: number | null;
  /** Off what the brief asks for. */
  readonly off: boolean;
}
export type Readings = ReadonlyMap<string, Reading>;

/** What came of one value. */
export interface Spot {
  readonly at: number;
  /** By gauge; null where the sheet can't be made. */
  readonly read: Readings | null;
  /** Why it can't be made, in words. */
  readonly why?: string;
}

export interface SweepEnd {
  /** The outermost value that goes. */
  readonly at: number;
  /** Why none beyond does; null where no more was tried. */
  readonly why: string | null;
}

interface BriefEnd {
  /** The outermost value at which the brief is met. */
  readonly at: number;
  /** Which gauge is off beyond; null where the sheet itself ends there. */
  readonly gauge: string | null;
}

export interface Sweep {
  /** All that was made, the lowest value first. */
  readonly spots: readonly Spot[];
  /** Null where nothing that was tried could be made. */
  readonly range: { readonly low: SweepEnd; readonly high: SweepEnd } | null;
  /** Gauges that are off at every value: this dimension does not bring them home. */
  readonly aside: readonly string[];
  /** Where the brief is met but for those, about where the dimension stands or as near as that comes; null where nowhere. */
  readonly brief: { readonly low: BriefEnd; readonly high: BriefEnd } | null;
  readonly stopped: boolean;
}

/** An end is known to this share of the value. */
const END = 0.01;
/** What stands at nought is known to so much instead, mm, rad or plain. */
const AT_NOUGHT = 0.01;

/**
 * Goes outwards from where it stands on both sides at once, and closes in on each end. Between two neighbouring values that both go it is taken
 * that all do: what fails only in between is not seen.
 * @param probe makes the sheet with a value; null gives up
 * @param onSpot called with all that is known so far
 */
export async function sweep(
  mover: Pick<Mover, 'from' | 'whole' | 'kind'>,
  probe: (at: number) => Promise<Spot | null>,
  onSpot: (spots: readonly Spot[]) => void = () => {},
): Promise<Sweep> {
  const known = new Map<number, Spot>();
  let stopped = false;
  const sorted = (): Spot[] => [...known.values()].toSorted((a, b) => a.at - b.at);
  const made = (): Spot[] => sorted().filter((s) => s.read !== null);
  const tried = async (at: number): Promise<Spot | null> => {
    const before = known.get(at);
    if (before) return before;
    const spot = stopped ? null : await probe(at);
    if (!spot) {
      stopped = true;
      return null;
    }
    known.set(at, spot);
    onSpot(made());
    return spot;
  };
  const apart = (a: Spot, b: Spot): boolean => {
    const gap = Math.abs(a.at - b.at);
    return mover.whole ? gap > 1 : gap > Math.max(END * Math.min(Math.abs(a.at), Math.abs(b.at)), AT_NOUGHT * END);
  };
  /** The last that does and the first that doesn't, as near each other as an end is known. */
  const closeIn = async (good: Spot, bad: Spot, does: (s: Spot) => boolean): Promise<readonly [Spot, Spot]> => {
    let [g, b] = [good, bad];
    while (apart(g, b)) {
      const half = (g.at + b.at) / 2;
      const mid = await tried(mover.whole ? Math.round(half) : half);
      if (!mid) break;
      if (does(mid)) g = mid;
      else b = mid;
    }
    return [g, b];
  };
  /** From one that goes outwards, as far as it goes. */
  const along = async (start: Spot, sign: 1 | -1): Promise<SweepEnd> => {
    let last = start;
    for (const at of outwards(mover, sign)) {
      if (sign * (at - start.at) <= 0) continue;
      const next = await tried(at);
      if (!next) break;
      if (next.read) last = next;
      else {
        const [good, bad] = await closeIn(last, next, (s) => s.read !== null);
        return { at: good.at, why: bad.why ?? '' };
      }
    }
    return { at: last.at, why: null };
  };
  /** The nearest that goes: where it stands, else outwards on both sides in turn. */
  const nearest = async (): Promise<Spot | null> => {
    const [up, down] = [outwards(mover, 1), outwards(mover, -1)];
    for (let i = -1; i < Math.max(up.length, down.length); i++)
      for (const at of i < 0 ? [mover.from] : [up[i], down[i]]) {
        const spot = at === undefined ? null : await tried(at);
        if (spot?.read) return spot;
      }
    return null;
  };

  const start = await nearest();
  if (!start) return { spots: [], range: null, aside: [], brief: null, stopped };
  // What failed on the way to the nearest lies beside it: the end there is closed in on, not looked for outwards.
  const end = async (sign: 1 | -1): Promise<SweepEnd> => {
    const failed = sorted().filter((s) => s.read === null && sign * (s.at - start.at) > 0);
    const wall = failed.toSorted((a, b) => sign * (a.at - b.at))[0];
    if (!wall) return along(start, sign);
    const [good, bad] = await closeIn(start, wall, (s) => s.read !== null);
    return { at: good.at, why: bad.why ?? '' };
  };
  const [low, high] = await Promise.all([end(-1), end(1)]);

  const within = made().filter((s) => s.at >= low.at && s.at <= high.at);
  const aside = [...within[0]!.read!.keys()].filter((g) => within.every((s) => s.read!.get(g)?.off));
  const off = (s: Spot): string | undefined => [...(s.read ?? [])].find(([g, r]) => r.off && !aside.includes(g))?.[0];
  const met = (s: Spot): boolean => s.read !== null && off(s) === undefined;
  const good = within.filter(met).toSorted((a, b) => Math.abs(a.at - mover.from) - Math.abs(b.at - mover.from))[0];
  const briefEnd = async (sign: 1 | -1): Promise<BriefEnd> => {
    const way = within.filter((s) => sign * (s.at - good!.at) >= 0).toSorted((a, b) => sign * (a.at - b.at));
    const bad = way.findIndex((s) => !met(s));
    if (bad < 0) return { at: way.at(-1)!.at, gauge: null };
    const [last, first] = await closeIn(way[bad - 1]!, way[bad]!, met);
    return { at: last.at, gauge: off(first) ?? null };
  };
  const [from, to] = good ? await Promise.all([briefEnd(-1), briefEnd(1)]) : [null, null];
  return { spots: made(), range: { low, high }, aside, brief: from && to && { low: from, high: to }, stopped };
}
