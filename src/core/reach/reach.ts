/** Which value of a dimension brings a reading to what is wanted: the nearest one, found from where it stands. */

/** What came of one value. */
export interface Probe {
  readonly at: number;
  /** Null where nothing is built, or it has no such reading. */
  readonly value: number | null;
  /** Why it is null, in words. */
  readonly why?: string;
}

/** The outermost value that was tried and goes, on one side, and why the next does not. */
interface Limit {
  readonly at: number;
  readonly value: number;
  /** Null where no more was tried. */
  readonly why: string | null;
}

export interface Reach {
  /** Null where it is not reached. */
  readonly at: number | null;
  readonly value: number | null;
  /** Where else it is that, the nearest first; none unless all were asked for. */
  readonly others: readonly { readonly at: number; readonly value: number }[];
  /** All that was tried, the lowest first. */
  readonly probes: readonly Probe[];
  readonly low: Limit;
  readonly high: Limit;
  readonly stopped: boolean;
}

export interface ReachOptions {
  /** Where the dimension stands, and what is read there. */
  readonly from: number;
  readonly now: number;
  readonly target: number;
  /** A reading counts as reached within this share of the target. */
  readonly within?: number;
  readonly trials?: number;
  /** Goes on after the nearest, as far as it is looked on both sides. */
  readonly all?: boolean;
  /** Called before each trial; false gives up. */
  readonly tick?: (done: number, of: number) => Promise<boolean>;
}

/** How far from where it stands it is looked, step by step, as shares of that. */
const STEPS = [0.01, 0.04, 0.1, 0.2, 0.35, 0.6, 0.9] as const;
/** Nearer than this share of what is wanted, or it is not reached. */
export const JUMP = 1e-4;
/** The end of what goes is known to this share of the value. */
const END = 0.01;

/**
 * Looks outwards from where it stands, first the way the reading goes towards what is wanted; between two places on either side of that it is
 * closed in on by false position with halved weights (the Illinois rule: Dowell and Jarratt 1971, from memory).
 * @param probe must answer alike for alike
 */
export async function reachValue(probe: (at: number) => Promise<Probe>, o: ReachOptions): Promise<Reach> {
  const { from, now, target, within = 1e-7, all = false, trials = all ? 90 : 40, tick = async () => true } = o;
  const near = Math.max(Math.abs(target), 1e-12) * within;
  const known = new Map<number, Probe>([[from, { at: from, value: now }]]);
  let [done, stopped] = [0, false];
  const tried = async (at: number): Promise<Probe> => {
    const before = known.get(at);
    if (before) return before;
    if (done >= trials || !(await tick(done, trials))) {
      stopped = true;
      return { at, value: null, why: 'it was stopped' };
    }
    done++;
    const p = await probe(at);
    known.set(at, p);
    return p;
  };
  const off = (p: Probe): number => p.value! - target;
  /** Between two places whose readings lie on either side. */
  const closeIn = async (a: Probe, b: Probe): Promise<Probe | null> => {
    let [p, q, fp, fq] = [a, b, off(a), off(b)];
    for (let side = 0; ; ) {
      const best = Math.abs(off(p)) < Math.abs(off(q)) ? p : q;
      if (Math.abs(off(best)) <= near || Math.abs(p.at - q.at) <= 1e-12 * Math.abs(q.at)) return best;
      const share = fp / (fp - fq);
      const at = p.at + (q.at - p.at) * Math.min(0.99, Math.max(0.01, Number.isFinite(share) ? share : 0.5));
      const mid = await tried(at);
      if (stopped) return null;
      // A place between that does not go: there is no way through it.
      if (mid.value === null) return null;
      if (off(mid) * off(p) > 0) {
        [p, fp] = [mid, off(mid)];
        if (side === 1) fq /= 2;
        side = 1;
      } else {
        [q, fq] = [mid, off(mid)];
        if (side === -1) fp /= 2;
        side = -1;
      }
    }
  };
  /** From where it stands outwards on one side; what is reached there, the first of it unless all are asked for. */
  const along = async (sign: 1 | -1): Promise<Probe[]> => {
    const found: Probe[] = [];
    const cross = async (a: Probe, b: Probe): Promise<boolean> => {
      // What was met exactly belongs to the stretch that ended there.
      if (off(b) * off(a) > 0 || off(a) === 0) return false;
      const there = await closeIn(a, b);
      if (there) found.push(there);
      return !all;
    };
    let last = known.get(from)!;
    for (const step of STEPS) {
      const next = await tried(from + sign * step * (Math.abs(from) || 1));
      if (stopped) return found;
      if (next.value === null) {
        // As far as it goes.
        let [good, bad] = [last, next];
        while (Math.abs(bad.at - good.at) > END * Math.abs(from || 1)) {
          const mid = await tried((good.at + bad.at) / 2);
          if (stopped) return found;
          if (mid.value === null) bad = mid;
          else {
            if (await cross(good, mid)) return found;
            good = mid;
          }
        }
        return found;
      }
      if (await cross(last, next)) return found;
      last = next;
    }
    return found;
  };
  // Where a reading jumps past what is wanted, closing in ends beside it.
  const reached = (p: Probe): boolean => Math.abs(off(p)) <= Math.max(near, JUMP * Math.abs(target));
  const result = (found: readonly Probe[]): Reach => {
    const there = found.filter(reached).toSorted((a, b) => Math.abs(a.at - from) - Math.abs(b.at - from));
    const [best, ...others] = there.filter((p, i) => !there.slice(0, i).some((q) => Math.abs(q.at - p.at) <= 1e-6 * Math.abs(p.at)));
    const probes = [...known.values()].toSorted((a, b) => a.at - b.at);
    const start = probes.findIndex((p) => p.at === from);
    const limit = (way: 1 | -1): Limit => {
      let i = start;
      while (probes[i + way] && probes[i + way]!.value !== null) i += way;
      return { at: probes[i]!.at, value: probes[i]!.value!, why: probes[i + way]?.why ?? null };
    };
    return {
      at: best?.at ?? null,
      value: best?.value ?? null,
      others: others.map((p) => ({ at: p.at, value: p.value! })),
      probes,
      low: limit(-1),
      high: limit(1),
      stopped,
    };
  };
  const start = known.get(from)!;
  if (Math.abs(now - target) <= near && !all) return result([start]);
  const [up, down] = [await tried(from + STEPS[0] * (Math.abs(from) || 1)), await tried(from - STEPS[0] * (Math.abs(from) || 1))];
  if (all) return result([...(Math.abs(now - target) <= near ? [start] : []), ...(await along(1)), ...(await along(-1))]);
  for (const p of [up, down]) if (p.value !== null && off(p) * off(start) <= 0) return result([(await closeIn(start, p)) ?? p]);
  const gain = (p: Probe): number => (p.value === null ? Number.NEGATIVE_INFINITY : Math.abs(off(start)) - Math.abs(off(p)));
  const order: (1 | -1)[] = gain(up) >= gain(down) ? [1, -1] : [-1, 1];
  for (const sign of order) {
    if (stopped) break;
    const found = await along(sign);
    if (found.length > 0) return result(found);
  }
  return result([]);
}
