/**
 * The page's side of the engine: starts the worker, keeps checkpoints, and ends a worker whose kernel call
 * does not return, to go on from the last checkpoint in a new one.
 */
import * as Comlink from 'comlink';
import type { Ask } from '../core/inspect/asks';
import type { Station } from '../core/inspect/sweep';
import type { Measurement, Project } from '../core/recipe/schema';
import type { Fix } from '../kernel/body';
import type { Alternative } from './alternative';
import type { Answer } from './inspect';
import type { RangeReport } from './range';
import type { RangeApi } from './range-worker';
import type { Checkpoint, ExportFormat, MadeBody, MeasureResult, StepReport } from './types';
import type { EngineApi, RebuildAnswer } from './worker';

/** Checkpoint text kept on the page, characters. */
const CHECKPOINT_BUDGET = 60e6;
/** After a cancel the worker has this long to answer before it is ended, ms. */
const PATIENCE = 250;

export class EngineClient {
  private worker: Worker | null = null;
  private api: Comlink.Remote<EngineApi> | null = null;
  private readonly checkpoints = new Map<string, Checkpoint>();
  private running: { settle: () => void } | null = null;

  private connect(): Comlink.Remote<EngineApi> {
    if (!this.api) {
      this.worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
      this.api = Comlink.wrap<EngineApi>(this.worker);
      if (this.checkpoints.size > 0) void this.api.seed([...this.checkpoints.values()]);
    }
    return this.api;
  }

  /** Loads the kernel; resolves when it is ready. */
  start(): Promise<number> {
    return this.connect().start();
  }

  /** Builds a project; null when it was cancelled or replaced by a newer request. */
  async rebuild(project: Project, onStep: (index: number, step: string, report: StepReport | null) => void): Promise<RebuildAnswer | null> {
    // Progress travels on a port of its own and may arrive after the answer: by then it is history.
    let over = false;
    const listener = (index: number, step: string, report: StepReport | null, checkpoint: Checkpoint | null): void => {
      if (checkpoint) this.keep(checkpoint);
      if (!over) onStep(index, step, report);
    };
    let settle = (): void => {};
    const ended = new Promise<null>((resolve) => {
      settle = () => resolve(null);
    });
    const mine = { settle };
    this.running = mine;
    try {
      const answer = await Promise.race([this.connect().rebuild(project, Comlink.proxy(listener)), ended]);
      return answer && !answer.result.cancelled ? answer : null;
    } finally {
      over = true;
      if (this.running === mine) this.running = null;
    }
  }

  /** Stops what runs: between steps if the worker answers in time, else by ending it. Resolves once control is back. */
  async cancel(): Promise<void> {
    const running = this.running;
    if (!running || !this.api) return;
    const answered = await Promise.race([
      this.api.cancel().then(() => true),
      new Promise<false>((r) => setTimeout(() => r(false), PATIENCE)),
    ]);
    if (!answered) {
      this.worker?.terminate();
      this.worker = null;
      this.api = null;
      void this.connect().start();
    }
    running.settle();
  }

  /** Drops every result, here and in the worker: another project comes. */
  forget(): void {
    this.checkpoints.clear();
    this.stopRange();
    void this.api?.forget();
  }

  /** @param onBody called with the gauges of each body as they are known */
  measure(project: Project, onBody: (m: MeasureResult) => void) {
    return this.connect().measure(project, Comlink.proxy(onBody));
  }

  forecast(project: Project, stepId: string) {
    return this.connect().forecast(project, stepId);
  }

  private ranger: { worker: Worker; api: Comlink.Remote<RangeApi>; settle: () => void } | null = null;

  /**
   * Searches the range of a step's value in a worker of its own.
   * @returns null where there is none to be found, or the search was given up
   */
  range(
    project: Project,
    stepId: string,
    state: 'works' | 'fails' | 'unknown',
    onTrial: (done: number, of: number) => void,
  ): Promise<RangeReport | null> {
    return this.beside(project, stepId, (api, made) => api.search(project, stepId, made, state, Comlink.proxy(onTrial)));
  }

  /** Tries a proposed change in a worker of its own; null where it was given up. */
  alternative(project: Project, fix: Fix): Promise<Alternative | null> {
    return this.beside(project, fix.step, (api, made) => api.alternative(project, fix, made));
  }

  /** Something done to the bodies before a step, in a worker that can be ended at any time; a newer one ends it. */
  private async beside<T>(
    project: Project,
    stepId: string,
    work: (api: Comlink.Remote<RangeApi>, made: MadeBody[]) => Promise<T>,
  ): Promise<T | null> {
    this.stopRange();
    const made = await this.connect().madeBefore(project, stepId);
    if (made.length === 0) return null;
    const worker = new Worker(new URL('./range-worker.ts', import.meta.url), { type: 'module' });
    const api = Comlink.wrap<RangeApi>(worker);
    let settle = (): void => {};
    const ended = new Promise<null>((resolve) => {
      settle = () => resolve(null);
    });
    const mine = { worker, api, settle };
    this.ranger = mine;
    try {
      return await Promise.race([work(api, made), ended]);
    } finally {
      worker.terminate();
      if (this.ranger === mine) this.ranger = null;
    }
  }

  /** Gives a running search up, at once: a trial can't be interrupted, its worker is ended. */
  stopRange(): void {
    this.ranger?.worker.terminate();
    this.ranger?.settle();
    this.ranger = null;
  }

  inspect(project: Project, bodyId: string, ask: Ask, onProgress: (share: number) => void): Promise<Answer | null> {
    return this.connect().inspect(project, bodyId, ask, Comlink.proxy(onProgress));
  }

  inspectAll(project: Project, bodyId: string, limit: number | null, onProgress: (share: number) => void): Promise<Answer[] | null> {
    return this.connect().inspectAll(project, bodyId, limit, Comlink.proxy(onProgress));
  }

  measurements(list: readonly Measurement[]) {
    return this.connect().measurements(list);
  }

  stopInspecting(): void {
    void this.connect().stopInspecting();
  }

  sectionOutlines(bodyId: string, station: Station) {
    return this.connect().sectionOutlines(bodyId, station);
  }

  countTriangles(bodyId: string, deviation: number) {
    return this.connect().countTriangles(bodyId, deviation);
  }

  exportBody(bodyId: string, format: ExportFormat, deviation: number, project: string, bodyName: string) {
    return this.connect().exportBody(bodyId, format, deviation, project, bodyName);
  }

  private keep(checkpoint: Checkpoint): void {
    this.checkpoints.set(checkpoint.key, checkpoint);
    let total = 0;
    const size = (c: Checkpoint): number => c.made.reduce((n, m) => n + m.brep.length, 0);
    for (const c of this.checkpoints.values()) total += size(c);
    for (const [key, c] of this.checkpoints) {
      if (total <= CHECKPOINT_BUDGET) break;
      this.checkpoints.delete(key);
      total -= size(c);
    }
  }
}
