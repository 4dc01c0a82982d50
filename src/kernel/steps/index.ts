/** The geometry of every step kind; a kind without one is a compile error. */
import type { StepKind } from '../../core/recipe/steps';
import { bring } from './bring';
import { combine } from './combine';
import { curve } from './curve';
import { draft } from './draft';
import { fillet } from './fillet';
import { mirror } from './mirror';
import { move } from './move';
import type { StepOperation } from './operation';
import { pattern } from './pattern';
import { plane } from './plane';
import { raiseStep } from './raise';
import { raisers } from './raisers';
import { remove } from './remove';
import { shell } from './shell';
import { split } from './split';

export type { StepContext, StepDone, StepOutcome, StepWarning } from './operation';

const raised = (kind: StepKind): StepOperation => raiseStep(raisers[kind]!.raise, raisers[kind]!.trials);

export const operations: Readonly<Record<StepKind, StepOperation>> = {
  revolve: raised('revolve'),
  extrude: raised('extrude'),
  loft: raised('loft'),
  sweep: raised('sweep'),
  coil: raised('coil'),
  primitive: raised('primitive'),
  bring,
  combine,
  split,
  remove,
  move,
  draft,
  mirror,
  pattern,
  fillet,
  shell,
  plane,
  curve,
};
