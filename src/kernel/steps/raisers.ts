/** Steps that raise a solid of their own, which other steps may raise again. */
import { raiseExtrude } from './extrude';
import { raiseForm } from './form';
import { raiseLoft } from './loft';
import { raisePrimitive } from './primitive';
import type { Raiser } from './raise';
import { raiseRevolve, SEAMS } from './revolve';
import { raiseCoil, raiseSweep } from './sweep';

/** @property trials how many ways of raising it there are, where a boolean with the first fails */
export const raisers: Readonly<Record<string, { readonly raise: Raiser; readonly trials: number } | undefined>> = {
  revolve: { raise: raiseRevolve, trials: SEAMS.length },
  extrude: { raise: raiseExtrude, trials: 1 },
  loft: { raise: raiseLoft, trials: 1 },
  sweep: { raise: raiseSweep, trials: 1 },
  coil: { raise: raiseCoil, trials: 1 },
  form: { raise: raiseForm, trials: 1 },
  primitive: { raise: raisePrimitive, trials: SEAMS.length },
};
