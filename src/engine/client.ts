/**
 * The page's side of the engine: starts the worker, keeps checkpoints, and ends a worker whose kernel call
 * does not return, to go on from the last checkpoint in a new one.
 */
import * as Comlink from 'comlink';
import type { Ask } from '../core/inspect/asks';
import type { Station } from '../core/inspect/sweep';
import type { Printer } from '../core/print/printer';
import type { Measurement, Project, Size } from '../core/recipe/schema';
import { fail, type Result, wordsOf } from '../core/result';
import type { DrawnView } from '../core/shop/sheet';
import type { Pull } from '../core/tooling/pulls';
import type { Milled } from '../core/tooling/sides';
import type { Fix } from '../kernel/body';
import type { ExportFile } from './export';
import { Helper } from './helper';
import type { Answer } from './inspect';
import type { BodyLayers, LayerLoops } from './layers';
import { hasLeft, untilLeft } from './leaving';
import type { NamedLie } from './lies';
import type { WorkOut } from './moves';
import type { RangeReport } from './range';
import type { RangeApi } from './range-worker';
import type { PairReport, PairRequest, ReachReport, ReachRequest } from './reach';
import type { ReachApi } from './reach-worker';
import type { SizeReport, SizeWriting } from './sizes';
import type { SizesApi } from './sizes-worker';
import type { BodyTurning } from './tooling';
import type { BodyScene, Checkpoint, GivenUp, MadeBody, MeasureResult, StepReport } from './types';
import { type Alternative, untried } from './untried';
import type { EngineApi, RebuildAnswer, StepListener } from './worker';

/** Checkpoint text kept on the page, characters. */
const CHECKPOINT_BUDGET = 60e6;
/** After a cancel the worker has this long to answer before it is ended, ms. */
const PATIENCE = 200;
const LATE = Symbol('late');
/** Workers that die one after the other without a step done between them: then the next one would die as well. */
const MOST_DEATHS = 3;

/** A step that runs longer is given up, s: no whole demo takes a quarter of it. */
const STEP_LIMIT = 120;
/** A build that waits longer for what ran before it ends that, s. */
const WAIT_LIMIT = 10;

/** A change that is tried, and a range that is searched, take at most so long, s; the search ends with the trial it is at. */
const [TRIAL_LIMIT, SEARCH_LIMIT] = [60, 60] as const;
/** Bringing a gauge to a value ends with the trial it is at after so long, s. */
const REACH_LIMIT = 120;
/** One size may take so long, s; and so many are worked out at once at most: each holds a kernel of its own. */
const [SIZE_LIMIT, MOST_SIZERS] = [240, 4] as const;

/** What came of a sheet whose worker gave no answer. */
const unbuilt = (size: string, why: string): SizeReport => ({ size, failed: { step: 'the build', why }, gauges: [], ms: 0 });

type Api = Comlink.Remote<EngineApi>;

interface Connection {
  readonly worker: Pick<Worker, 'terminate' | 'addEventListener'>;
  readonly api: Api;
}

function startWorker(): Connection {
  const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
  return { worker, api: Comlink.wrap<EngineApi>(worker) };
}

export class EngineClient {
  private connection: (Connection & { readonly ended: Promise<null>; readonly tellEnd: () => void; readonly stay: () => void }) | null =
    null;
  private readonly checkpoints = new Map<string, Checkpoint>();
  private readonly givenUp = new Map<string, GivenUp>();
  private running: { settle: () => void } | null = null;
  private deaths = 0;
  /** Called when the worker dies while nothing is built. */
  onDeath: () => void = () => {};

  /** @param connectTo starts a worker @param stepLimit seconds a step may run @param waitLimit seconds a build waits for the one before */
  constructor(
    private readonly connectTo: () => Connection = startWorker,
    private readonly stepLimit = STEP_LIMIT,
    private readonly waitLimit = WAIT_LIMIT,
  ) {}

  private connect(): Api {
    if (!this.connection) {
      let tellEnd = (): void => {};
      const ended = new Promise<null>((resolve) => {
        tellEnd = () => resolve(null);
      });
      const mine = { ...this.connectTo(), ended, tellEnd, stay: untilLeft(() => this.leave()) };
      this.connection = mine;
      const { api } = mine;
      // A worker that throws, or whose file can't be fetched, answers nothing any more.
      mine.worker.addEventListener('error', () => {
        if (this.connection !== mine) return;
        this.deaths++;
        this.end();
        // A build goes on in the next worker by itself; else that one has to be given its bodies again.
        if (!this.running) this.onDeath();
      });
      if (this.checkpoints.size > 0) void api.seed([...this.checkpoints.values()]);
      for (const g of this.givenUp.values()) void api.giveUp(g);
    }
    return this.connection.api;
  }

  /** Ends the worker, whatever it does; what was built before comes back in the next one. */
  private end(): void {
    this.connection?.stay();
    this.connection?.worker.terminate();
    this.connection?.tellEnd();
    this.connection = null;
  }

  /** The page goes: a build that runs is not begun again in another worker. */
  private leave(): void {
    this.running?.settle();
    this.end();
  }

  /** What is asked of the worker; null where it is ended before it answers. */
  private async orEnded<T>(ask: (api: Api) => Promise<T>): Promise<T | null> {
    if (hasLeft()) return null;
    const api = this.connect();
    const { ended } = this.connection!;
    return Promise.race([ask(api), ended]);
  }

  /** Loads the kernel; resolves when it is ready. What can't be loaded is let go of, so that the next try begins anew. */
  async start(): Promise<number> {
    const started = await this.orEnded((api) => api.start()).catch((e: unknown) => {
      this.end();
      throw e;
    });
    if (started === null) throw new Error('the worker stopped before it was ready');
    return started;
  }

  /**
   * Builds a project; null when it was cancelled or replaced by a newer request. A step that does not end within the limit is given up: it counts as
   * failed, and the rest is built without it.
   */
  async rebuild(project: Project, onStep: (index: number, step: string, report: StepReport | null) => void): Promise<RebuildAnswer | null> {
    let settle = (): void => {};
    const ended = new Promise<null>((resolve) => {
      settle = () => resolve(null);
    });
    const mine = { settle };
    this.running = mine;
    try {
      for (let first = true; ; first = false) {
        const answer = await Promise.race([this.attempt(project, onStep, first), ended]);
        if (answer === LATE && this.running === mine && !hasLeft()) continue;
        return answer && answer !== LATE && !answer.result.cancelled ? answer : null;
      }
    } finally {
      if (this.running === mine) this.running = null;
    }
  }

  /** One build in the worker there is; late where that had to be ended. @param waits whether something may run before it */
  private async attempt(
    project: Project,
    onStep: (index: number, step: string, report: StepReport | null) => void,
    waits: boolean,
  ): Promise<RebuildAnswer | typeof LATE> {
    // Progress travels on a port of its own and may arrive after the answer: by then it is history.
    let over = false;
    let begun = !waits;
    let at: Omit<GivenUp, 'seconds'> | null = null;
    let seconds = 0;
    const listener: StepListener = (index, step, report, checkpoint, key) => {
      if (checkpoint) this.keep(checkpoint);
      if (over) return;
      if (report) this.deaths = 0;
      begun = true;
      at = report ? null : { key, step };
      seconds = 0;
      onStep(index, step.id, report);
    };
    // Counted, not told by the time of day: a machine that slept has not worked.
    const clock = setInterval(() => {
      seconds++;
      if (at ? seconds < this.stepLimit : begun || seconds < this.waitLimit) return;
      if (at) this.givenUp.set(at.key, { ...at, seconds });
      this.end();
    }, 1000);
    try {
      const answer = await this.orEnded((api) => api.rebuild(project, Comlink.proxy(listener)));
      if (answer === null && this.deaths >= MOST_DEATHS) {
        this.deaths = 0;
        throw new Error('the worker stopped again and again');
      }
      return answer ?? LATE;
    } finally {
      over = true;
      clearInterval(clock);
    }
  }

  /** Stops what runs: between steps if the worker answers in time, else by ending it. Resolves once control is back. */
  async cancel(): Promise<void> {
    const running = this.running;
    if (!running || !this.connection) return;
    const answered = await Promise.race([
      this.connection.api.cancel().then(() => true),
      new Promise<false>((r) => setTimeout(() => r(false), PATIENCE)),
    ]);
    if (!answered) {
      this.end();
      void this.connect().start();
    }
    running.settle();
  }

  /** Drops every result, here and in the worker: another project comes. */
  forget(): void {
    this.checkpoints.clear();
    this.givenUp.clear();
    this.stopRange();
    this.stopSizes();
    void this.connection?.api.forget();
  }

  /** @param onBody called with the gauges of each body as they are known */
  measure(project: Project, onBody: (m: MeasureResult) => void) {
    return this.orEnded((api) => api.measure(project, Comlink.proxy(onBody)));
  }

  forecast(project: Project, stepId: string) {
    return this.orEnded((api) => api.forecast(project, stepId));
  }

  private readonly ranger = new Helper<RangeApi>(
    () => new Worker(new URL('./range-worker.ts', import.meta.url), { type: 'module' }),
    'trying it',
    { seconds: TRIAL_LIMIT, idle: 10 },
  );

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
    return this.beside<RangeReport | null>(
      project,
      stepId,
      async (api, made) => api.search(project, stepId, made, state, SEARCH_LIMIT, Comlink.proxy(onTrial)),
      () => null,
      // A search ends by itself between two trials; the last of them may take as long as any.
      SEARCH_LIMIT + TRIAL_LIMIT,
    );
  }

  /** Tries a proposed change in a worker of its own; null where it was given up. */
  alternative(project: Project, fix: Fix): Promise<Alternative | null> {
    const started = Date.now();
    return this.beside(
      project,
      fix.step,
      (api, made) => api.alternative(project, fix, made),
      (words) => untried(fix, words, Date.now() - started),
    );
  }

  /** Something done to the bodies before a step, in a worker that can be ended at any time; a newer one ends it. */
  private async beside<T>(
    project: Project,
    stepId: string,
    work: (api: Comlink.Remote<RangeApi>, made: MadeBody[]) => Promise<T>,
    unanswered: (words: string) => T,
    seconds: number = TRIAL_LIMIT,
  ): Promise<T | null> {
    this.stopRange();
    const made = await this.orEnded((api) => api.madeBefore(project, stepId));
    if (!made || made.length === 0) return null;
    const r = await this.ranger.ask((api) => work(api, made), seconds);
    if (r.ok) return r.value;
    return r.error.because === 'stopped' ? null : unanswered(r.error.words);
  }

  /** Gives a running search up, at once: a trial can't be interrupted, its worker is ended. */
  stopRange(): void {
    if (this.ranger.busy) this.ranger.stop();
  }

  private readonly reacher = new Helper<ReachApi>(
    () => new Worker(new URL('./reach-worker.ts', import.meta.url), { type: 'module' }),
    'looking for it',
    { seconds: REACH_LIMIT, idle: 60 },
  );

  /** Brings a gauge to what is wanted by one dimension, in a worker of its own; what is built already is not built again. In words where it came to no end. */
  reach(project: Project, request: ReachRequest, onTrial: (done: number, of: number) => void): Promise<Result<ReachReport | null>> {
    return this.reaching((api) => api.reach(project, request, REACH_LIMIT, Comlink.proxy(onTrial)));
  }

  /** Brings two gauges to what is wanted by two dimensions together, likewise. */
  reachPair(project: Project, request: PairRequest, onTrial: (done: number, of: number) => void): Promise<Result<PairReport | null>> {
    return this.reaching((api) => api.pair(project, request, REACH_LIMIT, Comlink.proxy(onTrial)));
  }

  private async reaching<T>(ask: (api: Comlink.Remote<ReachApi>) => Promise<T>): Promise<Result<T>> {
    const made = [...this.checkpoints.values()];
    const r = await this.reacher.ask(async (api) => {
      await api.seed(made);
      return ask(api);
    }, REACH_LIMIT + TRIAL_LIMIT);
    return r.ok ? r : fail(r.error.words);
  }

  /** Gives it up, at once. */
  stopReach(): void {
    if (this.reacher.busy) this.reacher.stop();
  }

  private readonly sizers = Array.from(
    { length: Math.min(MOST_SIZERS, globalThis.navigator?.hardwareConcurrency ?? 1) },
    () =>
      new Helper<SizesApi>(() => new Worker(new URL('./sizes-worker.ts', import.meta.url), { type: 'module' }), 'working it out', {
        seconds: SIZE_LIMIT,
        idle: 30,
      }),
  );
  /** Raised by every new round of work for them; one that began under an older number gives up. */
  private round = 0;

  /**
   * Begins a round of work for the sizers: an older one is given up. As many pieces run at once as there are sizers, in the order they are asked for;
   * what is built already is not built again.
   * @returns what does a piece: null where the round was given up, in words where no answer came
   */
  private beginRound(): <T>(work: (api: Comlink.Remote<SizesApi>) => Promise<T>) => Promise<Result<T> | null> {
    this.stopSizes();
    const mine = this.round;
    const made = [...this.checkpoints.values()];
    const free = [...this.sizers];
    const seeded = new Set<Helper<SizesApi>>();
    const queue: ((sizer: Helper<SizesApi>) => void)[] = [];
    return async (work) => {
      const sizer = free.pop() ?? (await new Promise<Helper<SizesApi>>((go) => queue.push(go)));
      try {
        if (mine !== this.round) return null;
        if (!seeded.has(sizer)) await sizer.ask((api) => api.seed(made));
        seeded.add(sizer);
        const r = mine === this.round ? await sizer.ask(work) : null;
        if (!r || mine !== this.round) return null;
        return r.ok ? r : fail(r.error.words);
      } finally {
        // From hand to hand: nobody gets between.
        const next = queue.shift();
        if (next) next(sizer);
        else free.push(sizer);
      }
    };
  }

  /**
   * Works out sizes in workers of their own, as many at once as the machine has cores.
   * @param onSize called with each as it is known; in words where no answer came
   * @returns false where it was given up
   */
  async sizes(
    project: Project,
    sizes: readonly Size[],
    writing: SizeWriting | null,
    onSize: (report: SizeReport) => void,
  ): Promise<boolean> {
    const one = this.beginRound();
    const all = await Promise.all(
      sizes.map(async (size) => {
        const r = await one((api) => api.workOut(project, size, writing));
        if (r) onSize(r.ok ? r.value : unbuilt(size.id, r.error));
        return r;
      }),
    );
    return all.every((r) => r !== null);
  }

  /** Changed sheets worked out in the same workers. @param body the one that is read */
  trials(body: string | null): WorkOut {
    const one = this.beginRound();
    return async (sheet) => {
      const r = await one((api) => api.read(sheet, body));
      return r && (r.ok ? r.value : unbuilt('', r.error));
    };
  }

  /** Another state of the sheet as it is drawn, built in one of the same workers; in words where it can't be. */
  async draw(sheet: Project): Promise<Result<BodyScene[]>> {
    const one = this.beginRound();
    const r = await one<Result<BodyScene[]>>(async (api) => api.draw(sheet));
    return r === null ? fail('it was given up') : r.ok ? r.value : r;
  }

  /** Gives them up, at once. */
  stopSizes(): void {
    this.round++;
    for (const s of this.sizers) if (s.busy) s.stop();
  }

  /** Files in one, packed beside the page. */
  async pack(files: readonly { readonly name: string; readonly bytes: Uint8Array }[]): Promise<Result<Uint8Array>> {
    const r = await this.sizers[0]!.ask((api) => api.pack(files));
    return r.ok ? r : fail(r.error.words);
  }

  inspect(project: Project, bodyId: string, ask: Ask, onProgress: (share: number) => void): Promise<Answer | null> {
    return this.orEnded<Answer | null>(async (api) => api.inspect(project, bodyId, ask, Comlink.proxy(onProgress)));
  }

  inspectAll(project: Project, bodyId: string, limit: number | null, onProgress: (share: number) => void): Promise<Answer[] | null> {
    return this.orEnded((api) => api.inspectAll(project, bodyId, limit, Comlink.proxy(onProgress)));
  }

  measurements(list: readonly Measurement[]) {
    return this.orEnded((api) => api.measurements(list));
  }

  stopInspecting(): void {
    void this.connect().stopInspecting();
  }

  sectionOutlines(bodyId: string, station: Station) {
    return this.orEnded((api) => api.sectionOutlines(bodyId, station));
  }

  /** The same where the answer may be words: then a worker that ends, or throws, is words as well. */
  private async inWords<T>(ask: (api: Api) => Promise<Result<T>>): Promise<Result<T>> {
    const gaveUp = (e: unknown): Result<T> => fail(`the kernel gave up on it: ${wordsOf(e).slice(0, 200)}`);
    return (await this.orEnded(ask).catch(gaveUp)) ?? fail('the kernel stopped over it; it starts anew, with everything as it was');
  }

  countTriangles(ids: readonly string[], deviation: number): Promise<Result<number>> {
    return this.inWords(async (api) => api.countTriangles(ids, deviation));
  }

  lies(id: string, printer: Printer): Promise<Result<NamedLie[]>> {
    return this.inWords(async (api) => api.lies(id, printer));
  }

  layers(...asked: Parameters<EngineApi['layers']>): Promise<Result<BodyLayers>> {
    return this.inWords(async (api) => api.layers(...asked));
  }

  layer(...asked: Parameters<EngineApi['layer']>): Promise<Result<LayerLoops>> {
    return this.inWords(async (api) => api.layer(...asked));
  }

  pulls(...asked: Parameters<EngineApi['pulls']>): Promise<Result<Pull[]>> {
    return this.inWords(async (api) => api.pulls(...asked));
  }

  milled(...asked: Parameters<EngineApi['milled']>): Promise<Result<Milled>> {
    return this.inWords(async (api) => api.milled(...asked));
  }

  turning(...asked: Parameters<EngineApi['turning']>): Promise<Result<BodyTurning>> {
    return this.inWords(async (api) => api.turning(...asked));
  }

  drawView(...asked: Parameters<EngineApi['drawView']>): Promise<Result<DrawnView>> {
    return this.inWords(async (api) => api.drawView(...asked));
  }

  exportBodies(...asked: Parameters<EngineApi['exportBodies']>): Promise<Result<ExportFile>> {
    return this.inWords(async (api) => api.exportBodies(...asked));
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
