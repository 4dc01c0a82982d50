import type { Scope as DimensionScope } from '../../core/dimensions/expression';
import type { Project, Step } from '../../core/recipe/schema';
import type { Result } from '../../core/result';
import type { KernelBody, StepFailure } from '../body';
import type { Kernel } from '../open';

export interface StepContext {
  readonly kernel: Kernel;
  readonly project: Project;
  readonly scope: DimensionScope;
  readonly step: Step;
  /** Values already worked out: mm, rad or plain. */
  readonly values: Readonly<Record<string, number>>;
  readonly bodies: ReadonlyMap<string, KernelBody>;
}

export interface StepDone {
  readonly body: string;
  readonly result: KernelBody;
  /** Volume added (positive) or removed, mm³. */
  readonly volumeChange: number;
  readonly warnings: readonly StepWarning[];
}

export interface StepWarning {
  readonly message: string;
  readonly at?: readonly [number, number, number];
}

export type StepOutcome = Result<StepDone, StepFailure>;
export type StepOperation = (context: StepContext) => StepOutcome;
