/** The geometry of every step kind; a kind without one is a compile error. */
import type { StepKind } from '../../core/recipe/steps';
import { bring } from './bring';
import { cavity } from './cavity';
import { chamfer, chamferTrial } from './chamfer';
import { close } from './close';
import { combine } from './combine';
import { curve } from './curve';
import { draft } from './draft';
import { fillet, filletTrial } from './fillet';
import { fullround } from './fullround';
import { hole } from './hole';
import { lid } from './lid';
import { meshhollow } from './meshhollow';
import { mirror } from './mirror';
import { move } from './move';
import type { StepContext, StepOperation, Trial } from './operation';
import { pattern } from './pattern';
import { plane } from './plane';
import { raiseStep } from './raise';
import { raisers } from './raisers';
import { remove } from './remove';
import { shell, shellTrial } from './shell';
import { split } from './split';
import { thicken, thickenTrial } from './thicken';

export type { StepContext, StepOutcome, Trial } from './operation';

const raised = (kind: StepKind): StepOperation => raiseStep(raisers[kind]!.raise, raisers[kind]!.trials);

export const operations: Readonly<Record<StepKind, StepOperation>> = {
  revolve: raised('revolve'),
  extrude: raised('extrude'),
  loft: raised('loft'),
  sweep: raised('sweep'),
  coil: raised('coil'),
  primitive: raised('primitive'),
  form: raised('form'),
  bring,
  combine,
  split,
  remove,
  move,
  draft,
  mirror,
  pattern,
  fillet,
  fullround,
  chamfer,
  shell,
  cavity,
  meshhollow,
  thicken,
  close,
  lid,
  hole,
  plane,
  curve,
};

/** How the range of a step's value is searched for, by kind. */
export const trials: Readonly<Record<string, ((context: StepContext) => Promise<Trial | undefined>) | undefined>> = {
  fillet: async (c) => filletTrial(c),
  chamfer: async (c) => chamferTrial(c),
  shell: shellTrial,
  thicken: thickenTrial,
};
