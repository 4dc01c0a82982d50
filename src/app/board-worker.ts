/** Diagnosis of profiles beside the page: what is free, what repeats, what contradicts. */
import { expose } from 'comlink';
import { findConflict } from '../core/profile/solver/conflict';
import { type Diagnosis, diagnose } from '../core/profile/solver/diagnose';
import { buildSketch } from '../core/profile/solver/sketch';
import { solveSketch } from '../core/profile/solver/solve';
import type { Profile } from '../core/recipe/schema';

export interface BoardReport {
  readonly diagnosis?: Diagnosis;
  /** Constraints that can't hold together. */
  readonly conflict?: readonly string[];
  /** Why nothing is known, in words: the drawing itself stands. */
  readonly stopped?: string;
}

const worker = {
  /** @param targets driving dimensions, mm, rad or plain */
  report(profile: Profile, targets: ReadonlyMap<string, number>): BoardReport {
    const sketch = buildSketch(profile, targets);
    return solveSketch(sketch).ok ? { diagnosis: diagnose(sketch) } : { conflict: findConflict(sketch) };
  },
};
export type BoardWorker = typeof worker;
expose(worker);
