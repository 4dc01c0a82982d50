/** What the bench is asked for: picks on the stage, and the range of a value. */
import type { PickKind } from '../../core/recipe/steps';
import type { RangeReport } from '../../engine/range';

/** A step's list of picks, or the edges a profile follows. */
type PickTarget =
  | { readonly step: string; readonly field: string; readonly most?: number }
  | { readonly profile: string; readonly body: string }
  /** Something to measure from or to. */
  | { readonly measure: true };

export interface Picking {
  readonly target: PickTarget;
  readonly what: PickKind | 'edges' | 'things' | 'spots';
}

/** What is known of the range of a step's value. */
export interface Ranging {
  /** What it was searched for: everything the step is built from but the value itself. */
  readonly key: string;
  readonly done: number;
  readonly of: number;
  readonly report: RangeReport | null;
  readonly state: 'searching' | 'found' | 'stopped' | 'none';
}

/** A frame on the stage: opposite corners, pixels. */
export interface ScreenFrame {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}
