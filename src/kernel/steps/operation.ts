import type { Frame } from '../../core/curves/frame';
import type { SpaceCurve } from '../../core/curves/path';
import type { Scope as DimensionScope } from '../../core/dimensions/expression';
import type { Project } from '../../core/recipe/schema';
import type { InputsOf, StepKind, StepOf, ValuesOf } from '../../core/recipe/steps';
import { ok, type Result } from '../../core/result';
import type { Ties } from '../../core/surfaces/loft';
import type { Fix, KernelBody, StepFailure } from '../body';
import type { Estimate } from '../estimate';
import type { Kernel } from '../open';

/**
 * What a step is built from.
 * @typeParam I its inputs; @typeParam V the names of its values
 */
export interface StepContext<I = Readonly<Record<string, unknown>>, V extends string = string> {
  readonly kernel: Kernel;
  readonly project: Project;
  readonly scope: DimensionScope;
  readonly step: StepOf<I>;
  /** Values already worked out: mm, rad or plain. */
  readonly values: Readonly<Record<V, number>>;
  readonly bodies: ReadonlyMap<string, KernelBody>;
  /** Planes placed by earlier steps. */
  readonly planes: ReadonlyMap<string, Frame>;
  /** Curves in space drawn by earlier steps. */
  readonly paths: ReadonlyMap<string, readonly SpaceCurve[]>;
  /** The bodies a profile follows: as they stood before the first step that used it. */
  readonly seenBy: (profile: string) => ReadonlyMap<string, KernelBody>;
}

/** The context of a step of one kind. */
export type ContextOf<K extends StepKind> = StepContext<InputsOf<K>, ValuesOf<K>>;

/** A step that made or changed bodies. */
interface BodiesDone {
  readonly bodies: readonly { readonly id: string; readonly body: KernelBody }[];
  /** Bodies that are gone. */
  readonly gone?: readonly string[];
  /** Volume added (positive) or removed, mm³. */
  readonly volumeChange: number;
  readonly warnings: readonly StepWarning[];
  /** The arithmetic it did for the maker. */
  readonly note?: string;
  readonly ties?: Ties;
  readonly chart?: WallChart;
}

/** Wall by height, mm. */
export interface WallChart {
  readonly limit: number;
  readonly rows: readonly { readonly z: number; readonly least: number; readonly most: number }[];
}

/** A step that placed a plane. */
interface PlaneDone {
  readonly frame: Frame;
  readonly warnings: readonly StepWarning[];
}

/** A step that drew a curve in space. */
interface PathDone {
  readonly path: readonly SpaceCurve[];
  readonly warnings: readonly StepWarning[];
  readonly note?: string;
}

type StepDone = BodiesDone | PlaneDone | PathDone;

export interface StepWarning {
  readonly message: string;
  readonly at?: readonly [number, number, number];
  /** A change that would end it, made with one click. */
  readonly fix?: Fix;
}

export type StepOutcome = Result<StepDone, StepFailure>;
export type StepOperation<I = Readonly<Record<string, unknown>>, V extends string = string> = (context: StepContext<I, V>) => StepOutcome;
export type OperationOf<K extends StepKind> = StepOperation<InputsOf<K>, ValuesOf<K>>;

/** One body changed by a step. */
export const changed = (
  id: string,
  before: KernelBody,
  body: KernelBody,
  warnings: readonly StepWarning[] = [],
  note?: string,
): StepOutcome => ok({ bodies: [{ id, body }], volumeChange: body.volume - before.volume, warnings, ...(note ? { note } : {}) });

/** A step's operation to be tried with other values, with what the shape around it leaves room for. */
export interface Trial {
  readonly works: (value: number) => boolean;
  readonly room: Estimate | undefined;
  /** Why a value does not go, where the outline of the body tells it without a trial. */
  readonly refused?: (value: number) => string | undefined;
  /** Edges that can be tried one by one. */
  readonly edges?: readonly { readonly name: string; readonly room: Estimate | undefined; readonly works: (value: number) => boolean }[];
  /** Whether values of single edges work together. */
  readonly together?: (values: ReadonlyMap<string, number>) => boolean;
}
