/** Steps that raise a solid of their own, which other steps may raise again. */
import type { Step } from '../../core/recipe/schema';
import type { RaiseMode, StepKind, StepOf } from '../../core/recipe/steps';
import { raiseExtrude } from './extrude';
import { raiseForm } from './form';
import { raiseLoft } from './loft';
import { raisePrimitive } from './primitive';
import type { Raiser, RaiserOf } from './raise';
import { raiseRevolve, SEAMS } from './revolve';
import { raiseCoil, raiseSweep } from './sweep';
import { raiseWire } from './wire';

type RaisingKind = Extract<StepKind, 'revolve' | 'extrude' | 'loft' | 'sweep' | 'coil' | 'wire' | 'form' | 'primitive'>;

/** @property trials how many ways of raising it there are, where a boolean with the first fails */
export const raisers: { readonly [K in RaisingKind]: { readonly raise: RaiserOf<K>; readonly trials: number } } = {
  revolve: { raise: raiseRevolve, trials: SEAMS.length },
  extrude: { raise: raiseExtrude, trials: 1 },
  loft: { raise: raiseLoft, trials: 1 },
  sweep: { raise: raiseSweep, trials: 1 },
  coil: { raise: raiseCoil, trials: 1 },
  wire: { raise: raiseWire, trials: 1 },
  form: { raise: raiseForm, trials: 1 },
  primitive: { raise: raisePrimitive, trials: SEAMS.length },
};

/** A step that raises something, with its raiser; undefined for any other. Its inputs were read by its own kind's schema. */
export const raisedBy = (step: Step): { readonly step: StepOf<RaiseMode>; readonly raise: Raiser<RaiseMode> } | undefined =>
  Object.hasOwn(raisers, step.kind)
    ? { step: step as unknown as StepOf<RaiseMode>, raise: raisers[step.kind as RaisingKind].raise as Raiser<RaiseMode> }
    : undefined;
