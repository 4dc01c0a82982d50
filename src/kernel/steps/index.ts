/** The geometry of every step kind; a kind without one is a compile error. */
import type { StepKind } from '../../core/recipe/steps';
import { fillet } from './fillet';
import type { StepOperation } from './operation';
import { revolve } from './revolve';
import { shell } from './shell';

export type { StepContext, StepDone, StepOutcome, StepWarning } from './operation';

export const operations: Readonly<Record<StepKind, StepOperation>> = { revolve, fillet, shell };
