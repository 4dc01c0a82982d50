/** What a proposed change comes to, as plain data for the page. */
import type { Fix } from '../kernel/body';
import type { BodyScene } from './types';

/** A change that was tried, plain data. */
export interface Alternative {
  readonly words: string;
  readonly step: string;
  /** Why it does not work; null where it does. */
  readonly why: string | null;
  readonly figures: {
    /** mm. */
    readonly thinnest: number | null;
    readonly thickest: number | null;
    /** g; null for a material without a density. */
    readonly mass: number | null;
    /** To the brim, mm³; null for what holds nothing. */
    readonly capacity: number | null;
    readonly volume: number;
  } | null;
  readonly scene: BodyScene | null;
  readonly ms: number;
}

/** A change that does not work, or was not tried to its end. @param ms how long that took */
export const untried = (fix: Fix, why: string, ms: number): Alternative => ({
  words: fix.words,
  step: fix.step,
  why,
  figures: null,
  scene: null,
  ms,
});
