/** What the bench shows beside the document: build results, gauges, selection, looks. Not undoable, not saved. */
import { create } from 'zustand';
import type { PreviewMesh } from '../../core/profile/lathe';
import { EngineClient } from '../../engine/client';
import type { WallForecast } from '../../engine/measure';
import type { BodyScene, MeasureResult, RebuildResult, StepReport } from '../../engine/types';

export type KernelState = 'idle' | 'loading' | 'ready' | 'failed';
export type Picking = { readonly step: string; readonly what: 'faces' | 'edges' } | null;
export interface SectionCut {
  readonly axis: 'x' | 'y' | 'z';
  /** mm */
  readonly offset: number;
}
export interface Mark {
  readonly at: readonly [number, number, number];
  readonly words: string;
  readonly tone: 'info' | 'warn' | 'fail';
  /** Changes with every request, so that asking twice flies there twice. */
  readonly request: number;
}
export type ViewName = 'front' | 'side' | 'above' | 'below' | 'corner';

interface BenchState {
  readonly kernel: KernelState;
  readonly running: { readonly index: number; readonly step: string; readonly since: number } | null;
  readonly measuring: boolean;
  readonly result: RebuildResult | null;
  readonly reports: Readonly<Record<string, StepReport>>;
  readonly scenes: readonly BodyScene[];
  /** Bodies shown are of an earlier state of the sheet. */
  readonly stale: boolean;
  readonly measures: readonly MeasureResult[] | null;
  readonly forecasts: Readonly<Record<string, WallForecast>>;
  readonly preview: readonly PreviewMesh[] | null;
  readonly picking: Picking;
  readonly picked: { readonly body: string; readonly face?: string; readonly edge?: string } | null;
  readonly hover: { readonly words: string; readonly x: number; readonly y: number } | null;
  readonly section: SectionCut | null;
  readonly mark: Mark | null;
  readonly view: { readonly name: ViewName; readonly request: number };
  readonly profile: string | null;
  readonly step: string | null;
}

export const useBench = create<BenchState>(() => ({
  kernel: 'idle',
  running: null,
  measuring: false,
  result: null,
  reports: {},
  scenes: [],
  stale: false,
  measures: null,
  forecasts: {},
  preview: null,
  picking: null,
  picked: null,
  hover: null,
  section: null,
  mark: null,
  view: { name: 'corner', request: 0 },
  profile: null,
  step: null,
}));

export const setBench = useBench.setState;
export const engine = new EngineClient();

let requests = 0;
export const showMark = (at: Mark['at'], words: string, tone: Mark['tone'] = 'info'): void =>
  setBench({ mark: { at, words, tone, request: ++requests } });
export const look = (name: ViewName): void => setBench({ view: { name, request: ++requests } });
