/** How strongly each dimension moves each reading, where the sheet stands. */
import type { Mover } from './mover';
import type { Readings, Spot } from './sweep';

/** What one dimension does. */
export interface Effect {
  readonly dimension: string;
  /** The change it is told for, as it would be typed: `1 mm`. */
  readonly by: string;
  /** How many such changes its whole value is; one where it stands at nought. */
  readonly steps: number;
  /** By gauge, in its own unit: what it changes by with that. Nothing for what it does not move. */
  readonly moves: ReadonlyMap<string, number>;
  /** Why it can't be told, in words. */
  readonly why?: string;
}

/** How far it is tried either way, as a share of the value. */
const TRY = 0.01;
/** Changes smaller than this share of the reading are the reading's own noise, not an effect. */
const NOISE = 2e-6;

/**
 * By central differences (one-sided where one side can't be made), which are right to the square of the hundredth that is tried.
 * @param now what is read where the sheet stands
 * @param probe makes the sheet with a value; null gives up
 */
export async function effectOf(mover: Mover, now: Readings, probe: (at: number) => Promise<Spot | null>): Promise<Effect | null> {
  const h = mover.whole ? 1 : TRY * Math.abs(mover.from) || mover.step;
  const told = { dimension: mover.name, by: mover.text(mover.step), steps: Math.abs(mover.from || mover.step) / mover.step };
  const [less, more] = await Promise.all([probe(mover.from - h), probe(mover.from + h)]);
  if (!less || !more) return null;
  const moves = new Map<string, number>();
  if (!less.read && !more.read) return { ...told, moves, why: more.why ?? less.why ?? '' };
  for (const [gauge, { value }] of now) {
    if (value === null) continue;
    const at = (s: Spot): number | null => (s.read ? (s.read.get(gauge)?.value ?? null) : value);
    const [a, b] = [at(less), at(more)];
    if (a === null || b === null) continue;
    const slope = (b - a) / ((less.read ? h : 0) + (more.read ? h : 0));
    if (Math.abs(b - a) > NOISE * Math.max(Math.abs(value), 1e-9)) moves.set(gauge, slope * mover.step);
  }
  return { ...told, moves };
}

/** What moves a gauge, the strongest first: what changes it most for the same share of its own size. */
export const movingOn = (effects: readonly Effect[], gauge: string): { readonly effect: Effect; readonly change: number }[] =>
  effects
    .flatMap((effect) => {
      const change = effect.moves.get(gauge);
      return change === undefined ? [] : [{ effect, change }];
    })
    .toSorted((a, b) => Math.abs(b.change * b.effect.steps) - Math.abs(a.change * a.effect.steps));
