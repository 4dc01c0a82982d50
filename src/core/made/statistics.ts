/**
 * Figures of a few measured pieces. Sources: NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.5.2 (limits of a mean), 7.1.6 and 6.1.6 (capability);
 * A. F. Bissell, How reliable is your capability index?, Applied Statistics 39 (1990); ISO 14253-1 (verdicts beside the uncertainty of measurement).
 */
import jStat from 'jstat';

/** A limit that is null is none. */
export interface Limits {
  readonly low: number | null;
  readonly high: number | null;
}

export const meanOf = (values: readonly number[]): number => values.reduce((s, v) => s + v, 0) / values.length;

/** Sum of the squares off their mean. */
const squares = (values: readonly number[]): number => {
  const mean = meanOf(values);
  return values.reduce((s, v) => s + (v - mean) ** 2, 0);
};

/** Standard deviation of a sample; null of fewer than two. */
export const spreadOf = (values: readonly number[]): number | null =>
  values.length < 2 ? null : Math.sqrt(squares(values) / (values.length - 1));

/** How many standard deviations to either side hold 95 %, of so many degrees of freedom. */
export const t95 = (freedom: number): number => jStat.studentt.inv(0.975, freedom);

export interface Summary {
  readonly count: number;
  readonly mean: number;
  readonly least: number;
  readonly most: number;
  /** Of one piece from the next; null of fewer than two. */
  readonly spread: number | null;
  /** The mean of all that will ever be made lies within so much of this one, at 95 %; null of fewer than two. */
  readonly within: number | null;
}

/** @param values one of each piece */
export function summary(values: readonly number[]): Summary | null {
  if (values.length === 0) return null;
  const spread = spreadOf(values);
  return {
    count: values.length,
    mean: meanOf(values),
    least: Math.min(...values),
    most: Math.max(...values),
    spread,
    within: spread === null ? null : (t95(values.length - 1) * spread) / Math.sqrt(values.length),
  };
}

/** How far repeated readings of the same thing lie apart: their common standard deviation; null where nothing was read twice. */
export function repeatability(groups: readonly (readonly number[])[]): number | null {
  const freedom = groups.reduce((n, g) => n + Math.max(0, g.length - 1), 0);
  return freedom === 0 ? null : Math.sqrt(groups.reduce((s, g) => s + (g.length > 1 ? squares(g) : 0), 0) / freedom);
}

export interface Capability {
  /** Room between the limits in six spreads; null where there is but one limit. */
  readonly cp: number | null;
  /** Room from the mean to the nearer limit in three spreads. */
  readonly cpk: number;
  /** It is at least so much, at 95 %. */
  readonly cpkAtLeast: number;
  /** Share of pieces that will lie outside, were they spread as a bell. */
  readonly outside: number;
}

/** One-sided, 95 %. */
const Z95 = 1.6448536269514722;

/** How well pieces keep within limits; null of fewer than three pieces, of pieces that are all alike, and without limits. */
export function capability(values: readonly number[], { low, high }: Limits): Capability | null {
  const n = values.length;
  const spread = spreadOf(values);
  if (n < 3 || spread === null || spread === 0 || (low === null && high === null)) return null;
  const mean = meanOf(values);
  const room = [...(low === null ? [] : [mean - low]), ...(high === null ? [] : [high - mean])];
  const cpk = Math.min(...room) / (3 * spread);
  const beyond = (r: number): number => jStat.normal.cdf(-r / spread, 0, 1);
  return {
    cp: low === null || high === null ? null : (high - low) / (6 * spread),
    cpk,
    cpkAtLeast: cpk - Z95 * Math.sqrt(1 / (9 * n) + cpk ** 2 / (2 * (n - 1))),
    outside: Math.min(
      1,
      room.reduce((s, r) => s + beyond(r), 0),
    ),
  };
}

/** Within its limits, beyond them, or nearer to one than the device can tell. */
export type Held = 'within' | 'beyond' | 'unsure';

/** @param off what the reading is trusted to */
export function heldBy(value: number, { low, high }: Limits, off: number): Held {
  const room = Math.min(low === null ? Number.POSITIVE_INFINITY : value - low, high === null ? Number.POSITIVE_INFINITY : high - value);
  return room >= off ? 'within' : room < -off ? 'beyond' : 'unsure';
}
