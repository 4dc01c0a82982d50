/** What moves what: the dimension that is looked at over all it goes to, or all of them where the sheet stands, worked out beside the bench. */
import { create } from 'zustand';
import type { Effect } from '../../core/reach/effects';
import type { Spot, Sweep } from '../../core/reach/sweep';
import { buildsAlike } from '../../core/recipe/matters';
import type { Project } from '../../core/recipe/schema';
import { wordsOf } from '../../core/result';
import { effectsOf, sweepDimension } from '../../engine/moves';
import { engine } from './bench';

/** Stands for all dimensions; no name of one. */
export const ALL = '*';

export interface MovingState {
  /** A dimension, all of them, or none. */
  readonly of: string | null;
  /** What it was worked out from. */
  readonly sheet: Project | null;
  readonly searching: boolean;
  readonly trials: number;
  readonly spots: readonly Spot[];
  readonly sweep: Sweep | null;
  readonly effects: readonly Effect[];
  /** The value whose readings are told, of those that were tried. */
  readonly at: number | null;
  /** Why there is nothing more, in words. */
  readonly trouble: string | null;
}

const NOTHING: MovingState = {
  of: null,
  sheet: null,
  searching: false,
  trials: 0,
  spots: [],
  sweep: null,
  effects: [],
  at: null,
  trouble: null,
};
export const useMoving = create<MovingState>(() => NOTHING);

/** Whether what is known still stands for a sheet: the dimension that is looked at may have any value. */
export const standsFor = ({ of, sheet: worked }: MovingState, sheet: Project): boolean =>
  worked !== null && of !== null && buildsAlike(worked, sheet, of === ALL ? null : of);

/** Raised by every new look: one that was left says nothing any more. */
let run = 0;

/** @param of a dimension, or all of them @param body the one that is read */
export async function lookAt(of: string, sheet: Project, body: string): Promise<void> {
  const mine = ++run;
  useMoving.setState({ ...NOTHING, of, sheet, searching: true });
  const current = (): boolean => mine === run;
  const put = (more: Partial<MovingState>): void => {
    if (current()) useMoving.setState(more);
  };
  try {
    const ask = engine.trials(body);
    const counted: typeof ask = async (changed) => {
      const report = await ask(changed);
      if (report && current()) useMoving.setState((s) => ({ trials: s.trials + 1 }));
      return report;
    };
    if (of === ALL) {
      const effects = await effectsOf(counted, sheet, (e) => put({ effects: [...useMoving.getState().effects, e] }));
      put({ searching: false, ...(effects ? {} : { trouble: 'it was given up, or the sheet can’t be made as it stands' }) });
    } else {
      const sweep = await sweepDimension(counted, sheet, of, (spots) => put({ spots }));
      put({
        searching: false,
        sweep,
        spots: sweep?.spots ?? [],
        ...(sweep?.stopped ? { trouble: 'it was stopped before its ends were found' } : {}),
      });
    }
  } catch (e) {
    put({ searching: false, trouble: wordsOf(e) });
  }
}

/** Gives it up; what is known stays. */
export function stopLooking(): void {
  if (!useMoving.getState().searching) return;
  engine.stopSizes();
}

export function closeMoving(): void {
  stopLooking();
  run++;
  useMoving.setState(NOTHING);
}
