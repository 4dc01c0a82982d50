/** Spline surfaces as they are handed about. */
import type { Vec3 } from '../geometry/vectors';

/** A spline surface by its poles, one row for every pole along u; knots with their repeats and as many as poles + degree + 1. */
export interface PoleSurface {
  readonly degrees: readonly [number, number];
  readonly knots: readonly [readonly number[], readonly number[]];
  readonly poles: readonly (readonly Vec3[])[];
  /** Of each pole; all alike where they are left out. */
  readonly weights?: readonly (readonly number[])[];
  /** Part of its parameters that counts, of each way from and to; all where it is left out. */
  readonly range?: readonly [readonly [number, number], readonly [number, number]];
}
