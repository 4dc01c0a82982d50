/** Which values of two dimensions bring two readings to what is wanted together. */
import { JUMP } from './reach';

type Two = readonly [number, number];

/** What came of two values together. */
export interface PairProbe {
  readonly at: Two;
  /** Null where nothing is built, or one of the readings is not there. */
  readonly values: Two | null;
  readonly why?: string;
}

export interface PairReach {
  /** Null where they are not reached. */
  readonly at: Two | null;
  /** Read there; where they are not reached, at the nearest that was made. */
  readonly values: Two;
  readonly nearest: Two;
  /** Why no nearer one could be made; null where it could, and was no nearer. */
  readonly why: string | null;
  readonly trials: number;
  readonly stopped: boolean;
}

export interface PairOptions {
  readonly from: Two;
  readonly now: Two;
  readonly targets: Two;
  /** Readings count as reached within this share of the targets. */
  readonly within?: number;
  readonly trials?: number;
  readonly tick?: (done: number, of: number) => Promise<boolean>;
}

/** A share that slopes are first taken over, and the largest change of one step. */
const [TRY, STRIDE] = [0.01, 0.3] as const;

/**
 * Broyden's method (C. G. Broyden 1965, "good" update, from memory) with steps halved until they are made and come nearer; slopes are taken anew once
 * where that fails.
 * @param probe must answer alike for alike
 */
export async function reachPair(probe: (at: Two) => Promise<PairProbe>, o: PairOptions): Promise<PairReach> {
  const { from, targets, within = 1e-7, trials = 60, tick = async () => true } = o;
  const scale: Two = [Math.abs(from[0]) || 1, Math.abs(from[1]) || 1];
  const size: Two = [Math.max(Math.abs(targets[0]), 1e-12), Math.max(Math.abs(targets[1]), 1e-12)];
  const off = (values: Two): Two => [(values[0] - targets[0]) / size[0], (values[1] - targets[1]) / size[1]];
  const length = ([a, b]: Two): number => Math.hypot(a, b);
  let [done, stopped] = [0, false];
  let why: string | null = null;
  const tried = async (at: Two): Promise<PairProbe | null> => {
    if (done >= trials || !(await tick(done, trials))) {
      stopped = true;
      return null;
    }
    done++;
    return probe(at);
  };
  /** Change of both residuals with a share of each dimension; null where neither side of one can be made, or it was given up. */
  const slopes = async (at: Two, f: Two): Promise<[Two, Two] | null> => {
    const columns: Two[] = [];
    for (const k of [0, 1] as const) {
      let column: Two | null = null;
      for (const h of [TRY, -TRY]) {
        const p = await tried(k === 0 ? [at[0] + h * scale[0], at[1]] : [at[0], at[1] + h * scale[1]]);
        if (!p) return null;
        if (!p.values) {
          why = p.why ?? '';
          continue;
        }
        const g = off(p.values);
        column = [(g[0] - f[0]) / h, (g[1] - f[1]) / h];
        break;
      }
      if (!column) return null;
      columns.push(column);
    }
    const [a, b] = columns as [Two, Two];
    return [
      [a[0], b[0]],
      [a[1], b[1]],
    ];
  };
  let [at, f]: [Two, Two] = [from, off(o.now)];
  let j: [Two, Two] | null = null;
  let fresh = false;
  while (length(f) > within) {
    if (!j) {
      j = await slopes(at, f);
      fresh = true;
      if (!j) break;
    }
    const det = j[0][0] * j[1][1] - j[0][1] * j[1][0];
    const big = Math.max(...j.flat().map(Math.abs));
    if (Math.abs(det) <= 1e-9 * big * big) {
      if (fresh) {
        why ??= 'both dimensions move both readings alike';
        break;
      }
      j = null;
      continue;
    }
    let step: Two = [-(j[1][1] * f[0] - j[0][1] * f[1]) / det, -(j[0][0] * f[1] - j[1][0] * f[0]) / det];
    // Of shares of where they stand now: near nought a third of what it began at is too far.
    const reach = Math.max(
      Math.abs(step[0] * scale[0]) / (Math.abs(at[0]) || scale[0]),
      Math.abs(step[1] * scale[1]) / (Math.abs(at[1]) || scale[1]),
    );
    if (reach > STRIDE) step = [(step[0] * STRIDE) / reach, (step[1] * STRIDE) / reach];
    let moved = false;
    for (let k = 0; k < 7 && !stopped; k++) {
      const next: Two = [at[0] + step[0] * scale[0], at[1] + step[1] * scale[1]];
      const p = await tried(next);
      if (!p) break;
      const g = p.values && off(p.values);
      if (!g) why = p.why ?? '';
      else {
        // Rank one: the slopes as they would have told this step's change.
        const told: Two = [j[0][0] * step[0] + j[0][1] * step[1], j[1][0] * step[0] + j[1][1] * step[1]];
        const n = step[0] ** 2 + step[1] ** 2;
        const e: Two = [(g[0] - f[0] - told[0]) / n, (g[1] - f[1] - told[1]) / n];
        const row = (r: Two, x: number): Two => [r[0] + x * step[0], r[1] + x * step[1]];
        j = [row(j[0], e[0]), row(j[1], e[1])];
        if (length(g) < length(f)) {
          why = null;
          [at, f, moved, fresh] = [next, g, true, false];
          break;
        }
      }
      step = [step[0] / 2, step[1] / 2];
    }
    if (stopped) break;
    if (moved) continue;
    if (fresh) break;
    j = null;
  }
  const reached = Math.abs(f[0]) <= Math.max(within, JUMP) && Math.abs(f[1]) <= Math.max(within, JUMP);
  const values: Two = [f[0] * size[0] + targets[0], f[1] * size[1] + targets[1]];
  return { at: reached ? at : null, values, nearest: at, why, trials: done, stopped: stopped && !reached };
}
