/** The geometry of every step kind; a kind without one is a compile error. */
import type { RaiseMode, StepKind } from '../../core/recipe/steps';
import { bridge } from './bridge';
import { bring } from './bring';
import { cavity } from './cavity';
import { chamfer, chamferTrial } from './chamfer';
import { close } from './close';
import { combine } from './combine';
import { curve } from './curve';
import { dimples } from './dimples';
import { draft } from './draft';
import { drape } from './drape';
import { extend } from './extend';
import { fillet, filletTrial } from './fillet';
import { fullround } from './fullround';
import { hole } from './hole';
import { inlay } from './inlay';
import { knit } from './knit';
import { lid } from './lid';
import { meshcombine } from './meshcombine';
import { meshhollow } from './meshhollow';
import { mirror } from './mirror';
import { move } from './move';
import { network } from './network';
import type { ContextOf, OperationOf, StepContext, StepOperation, Trial } from './operation';
import { patch } from './patch';
import { pattern } from './pattern';
import { plane } from './plane';
import { type Raiser, raiseStep } from './raise';
import { raisers } from './raisers';
import { remove } from './remove';
import { scan } from './scan';
import { scanclean } from './scanclean';
import { scanfit } from './scanfit';
import { scanplace } from './scanplace';
import { seton } from './seton';
import { shell, shellTrial } from './shell';
import { split } from './split';
import { thicken, thickenTrial } from './thicken';
import { tiles } from './tiles';
import { trim } from './trim';
import { wrap } from './wrap';

export type { StepContext, StepOutcome, Trial } from './operation';

const raised = <I extends RaiseMode, V extends string>({ raise, trials }: { raise: Raiser<I, V>; trials: number }): StepOperation<I, V> =>
  raiseStep(raise, trials);

const operations: { readonly [K in StepKind]: OperationOf<K> } = {
  revolve: raised(raisers.revolve),
  extrude: raised(raisers.extrude),
  loft: raised(raisers.loft),
  sweep: raised(raisers.sweep),
  coil: raised(raisers.coil),
  wire: raised(raisers.wire),
  primitive: raised(raisers.primitive),
  form: raised(raisers.form),
  bring,
  combine,
  split,
  remove,
  move,
  dimples,
  extend,
  draft,
  drape,
  mirror,
  pattern,
  seton,
  fillet,
  fullround,
  chamfer,
  shell,
  cavity,
  meshhollow,
  inlay,
  knit,
  meshcombine,
  thicken,
  tiles,
  trim,
  wrap,
  close,
  lid,
  hole,
  plane,
  curve,
  bridge,
  network,
  patch,
  scan,
  scanclean,
  scanplace,
  scanfit,
};

/** The geometry of a step of any kind. Its inputs were read by the kind's own schema, so they are what its operation takes. */
export const operationOf = (kind: string): StepOperation => operations[kind as StepKind] as StepOperation;

/** How the range of a step's value is searched for, by kind. */
const trials: { readonly [K in StepKind]?: (context: ContextOf<K>) => Promise<Trial | undefined> } = {
  fillet: async (c) => filletTrial(c),
  chamfer: async (c) => chamferTrial(c),
  shell: shellTrial,
  thicken: thickenTrial,
};

/** The trial of a step of any kind, as `operationOf`; undefined where no value of it has a range. */
export const trialOf = (kind: string): ((context: StepContext) => Promise<Trial | undefined>) | undefined =>
  trials[kind as StepKind] as ((context: StepContext) => Promise<Trial | undefined>) | undefined;
