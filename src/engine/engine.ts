/**
 * The rebuild: ordered steps to bodies. Every step is keyed by its own numbers and its input's key, so that
 * only what changed is computed. Bodies are also held as text, from which a fresh kernel can go on when the
 * old one's heap has grown or a call had to be ended.
 */
import { evaluateDimensions } from '../core/dimensions/dimensions';
import { hashText } from '../core/hash';
import { resolveProfile } from '../core/profile/resolve';
import type { Project, Step } from '../core/recipe/schema';
import { type StepKind, stepDefinitions } from '../core/recipe/steps';
import { stepValues } from '../core/recipe/values';
import { bodyWords, stepTitle } from '../core/recipe/words';
import type { KernelBody } from '../kernel/body';
import { heapBytes, type Kernel } from '../kernel/open';
import { areaOf, boundsOf, edgesWithFaces, facesOf, volumeOf } from '../kernel/shapes';
import { operations } from '../kernel/steps';
import type { BodyReport, Checkpoint, RebuildResult, StepReport } from './types';

export interface EngineOptions {
  readonly open: () => Promise<Kernel>;
  /** The kernel is renewed from checkpoints once its heap is larger, bytes. */
  readonly heapLimit?: number;
  /** Results kept. */
  readonly cacheSize?: number;
  /** Lets messages in between steps. */
  readonly pause?: () => Promise<void>;
}

interface Entry {
  readonly report: StepReport;
  /** Null for a step that failed. */
  readonly made: { readonly body: string; readonly brep: string; readonly faces: readonly string[]; readonly volume: number } | null;
  live: KernelBody | null;
}

export const DEFAULT_HEAP_LIMIT = 700e6;
const DEFAULT_CACHE = 120;

export interface BuiltBody {
  readonly id: string;
  readonly body: KernelBody;
  readonly key: string;
}

export class Engine {
  private kernel: Kernel | null = null;
  private readonly cache = new Map<string, Entry>();
  private built = new Map<string, { key: string }>();
  /** Reports of bodies that are at hand: bounds and volumes of splines take a while. */
  private readonly described = new WeakMap<KernelBody, BodyReport>();
  private generation = 0;
  renewals = 0;

  constructor(private readonly options: EngineOptions) {}

  async start(): Promise<Kernel> {
    this.kernel ??= await this.options.open();
    return this.kernel;
  }

  get heap(): number {
    return this.kernel ? heapBytes(this.kernel) : 0;
  }

  /** Stops the running rebuild before its next step. */
  cancel(): void {
    this.generation++;
  }

  /** Takes over results of an engine that had to be ended. */
  seed(checkpoints: readonly Checkpoint[]): void {
    for (const c of checkpoints)
      this.cache.set(c.key, { report: c.report, made: { body: c.body, brep: c.brep, faces: c.faces, volume: c.volume }, live: null });
  }

  /** A fresh kernel; nothing is lost, because bodies come back from their text. */
  async renew(): Promise<void> {
    for (const e of this.cache.values()) e.live = null;
    this.kernel = null;
    this.renewals++;
    await this.start();
  }

  /** Forgets every result, as benchmarks need it. */
  clear(): void {
    this.cache.clear();
  }

  /**
   * Builds the project down to its marker.
   * @param onStep called before (report null) and after each step
   */
  async rebuild(
    project: Project,
    onStep: (index: number, step: Step, report: StepReport | null, checkpoint: Checkpoint | null) => void = () => {},
  ): Promise<RebuildResult> {
    const mine = ++this.generation;
    const started = performance.now();
    let kernel = await this.start();
    if (this.heap > (this.options.heapLimit ?? DEFAULT_HEAP_LIMIT)) {
      await this.renew();
      kernel = this.kernel!;
    }
    const { scope } = evaluateDimensions(project.dimensions);
    const bodies = new Map<string, KernelBody>();
    const keys = new Map<string, { key: string }>();
    const reports: StepReport[] = [];
    /** Bodies whose last step failed, with that step: what follows on them waits. */
    const broken = new Map<string, string>();
    const markerIndex = project.marker === null ? project.steps.length - 1 : project.steps.findIndex((s) => s.id === project.marker);
    let computed = 0;

    for (const [index, step] of project.steps.entries()) {
      if (this.generation !== mine) return this.result(reports, [], started, computed, true);
      const skip = (message: string): void => {
        reports.push({ ...blank(step), state: 'skipped', message });
      };
      if (index > markerIndex) {
        skip('waits below the marker');
        continue;
      }
      if (!step.enabled) {
        skip('switched off');
        continue;
      }
      const definition = stepDefinitions[step.kind]!;
      const target = definition.changesBody(step.inputs);
      const culprit = target ? broken.get(target) : undefined;
      if (culprit) {
        skip(`waits for ${stepTitle(culprit, project)}`);
        continue;
      }
      const values = stepValues(step, scope);
      if (!values.ok) {
        const report = failed(step, values.error, 'a value of this step can’t be used', ['correct the value']);
        reports.push(report);
        broken.set(target ?? step.id, step.id);
        onStep(index, step, report, null);
        continue;
      }
      const key = this.keyOf(project, step, values.value, scope, target ? keys.get(target)?.key : undefined);
      let entry = this.cache.get(key);
      if (entry) {
        // Least recently used goes first.
        this.cache.delete(key);
        this.cache.set(key, entry);
        if (entry.made && !entry.live) entry.live = this.restore(kernel, entry.made);
        const report: StepReport = { ...entry.report, ms: 0, cached: true };
        reports.push(report);
        onStep(index, step, report, null);
      } else {
        onStep(index, step, null, null);
        await this.options.pause?.();
        if (this.generation !== mine) return this.result(reports, [], started, computed, true);
        entry = this.compute(kernel, project, step, values.value, scope, bodies);
        computed++;
        if (this.kernel) this.remember(key, entry);
        else {
          // The kernel crashed: what it did is not kept, and the bodies so far come back in a new one.
          kernel = await this.start();
          for (const [id, { key: k }] of keys) {
            const before = this.cache.get(k);
            if (!before?.made) continue;
            before.live = this.restore(kernel, before.made);
            bodies.set(id, before.live);
          }
        }
        reports.push(entry.report);
        const checkpoint: Checkpoint | null = entry.made ? { key, ...entry.made, report: entry.report } : null;
        onStep(index, step, entry.report, checkpoint);
        await this.options.pause?.();
      }
      if (entry.made && entry.live) {
        bodies.set(entry.made.body, entry.live);
        keys.set(entry.made.body, { key });
      } else broken.set(target ?? step.id, step.id);
    }
    if (this.generation !== mine) return this.result(reports, [], started, computed, true);
    this.built = keys;
    const bodyReports = [...bodies].map(([id, body]) => this.describe(kernel, project, id, body));
    return this.result(reports, bodyReports, started, computed, false);
  }

  private result(steps: StepReport[], bodies: BodyReport[], started: number, computed: number, cancelled: boolean): RebuildResult {
    return { cancelled, ms: performance.now() - started, steps, bodies, computed, heap: this.heap, renewals: this.renewals };
  }

  /** The bodies of the last finished rebuild. */
  bodies(): BuiltBody[] {
    const out: BuiltBody[] = [];
    for (const [id, { key }] of this.built) {
      const entry = this.cache.get(key);
      if (!entry?.made) continue;
      entry.live ??= this.restore(this.kernel!, entry.made);
      out.push({ id, body: entry.live, key });
    }
    return out;
  }

  /** The body a step works on, as it was before the step; for saying beforehand what the step will do. */
  bodyBefore(project: Project, stepId: string): KernelBody | null {
    const { scope } = evaluateDimensions(project.dimensions);
    const keys = new Map<string, string>();
    for (const step of project.steps) {
      const target = stepDefinitions[step.kind]!.changesBody(step.inputs);
      if (step.id === stepId) {
        const key = target ? keys.get(target) : undefined;
        const entry = key ? this.cache.get(key) : undefined;
        if (!entry?.made) return null;
        entry.live ??= this.restore(this.kernel!, entry.made);
        return entry.live;
      }
      if (!step.enabled) continue;
      const values = stepValues(step, scope);
      if (!values.ok) continue;
      const key = this.keyOf(project, step, values.value, scope, target ? keys.get(target) : undefined);
      const made = this.cache.get(key)?.made;
      if (made) keys.set(made.body, key);
    }
    return null;
  }

  private keyOf(
    project: Project,
    step: Step,
    values: Record<string, number>,
    scope: Parameters<typeof resolveProfile>[1],
    bodyKey: string | undefined,
  ): string {
    const profile = project.profiles.find((p) => p.id === step.inputs.profile);
    let drawn: unknown = null;
    if (profile) {
      const r = resolveProfile(profile, scope);
      drawn = r.ok ? r.value.curves.map((c) => [c.id, c.curve]) : r.error.message;
    }
    // Failures quote names, so what is quoted belongs to the key.
    return hashText(JSON.stringify([step.id, step.kind, step.inputs, values, drawn, profile?.name ?? null, bodyKey ?? null]));
  }

  private compute(
    kernel: Kernel,
    project: Project,
    step: Step,
    values: Record<string, number>,
    scope: Parameters<typeof resolveProfile>[1],
    bodies: ReadonlyMap<string, KernelBody>,
  ): Entry {
    const t0 = performance.now();
    let report: StepReport;
    try {
      const outcome = operations[step.kind as StepKind]({ kernel, project, scope, step, values, bodies });
      const ms = performance.now() - t0;
      if (!outcome.ok) {
        const f = outcome.error;
        report = { ...failed(step, f.what, f.why, f.tryInstead), ms, at: f.at ?? null };
        return { report, made: null, live: null };
      }
      const { body, result, volumeChange, warnings } = outcome.value;
      kernel.BRepTools.Clean(result.shape, true);
      const brep = kernel.BRepToolsWrapper.Write(result.shape);
      report = {
        ...blank(step),
        state: warnings.length > 0 ? 'warned' : 'done',
        ms,
        message: warnings[0]?.message ?? null,
        warnings,
        volumeChange,
        faces: result.faces.length,
      };
      return { report, made: { body, brep, faces: result.faces, volume: result.volume }, live: result };
    } catch (e) {
      // A crash of the kernel is this step's failure, never the project's loss; a new kernel takes over.
      this.kernel = null;
      for (const c of this.cache.values()) c.live = null;
      report = {
        ...failed(step, 'the kernel gave up on this step', String(e instanceof Error ? e.message : e).slice(0, 200), [
          'change its value a little',
        ]),
        ms: performance.now() - t0,
      };
      return { report, made: null, live: null };
    }
  }

  private remember(key: string, entry: Entry): void {
    this.cache.set(key, entry);
    const limit = this.options.cacheSize ?? DEFAULT_CACHE;
    for (const k of this.cache.keys()) {
      if (this.cache.size <= limit) break;
      this.cache.delete(k);
    }
  }

  private restore(kernel: Kernel, made: NonNullable<Entry['made']>): KernelBody {
    return { shape: kernel.BRepToolsWrapper.Read(made.brep), faces: made.faces, volume: made.volume };
  }

  private describe(kernel: Kernel, project: Project, id: string, body: KernelBody): BodyReport {
    const known = this.described.get(body);
    if (known) return { ...known, name: bodyWords(id, project) };
    const { volume, centroid } = volumeOf(kernel, body.shape);
    const report: BodyReport = {
      id,
      name: bodyWords(id, project),
      // Every body here has passed verification, which includes a closed skin.
      closed: true,
      volume,
      area: areaOf(kernel, body.shape),
      bbox: boundsOf(kernel, body.shape),
      centroid,
      faces: body.faces.length,
      edges: edgesWithFaces(kernel, facesOf(kernel, body.shape)).length,
    };
    this.described.set(body, report);
    return report;
  }
}

const blank = (step: Step): StepReport => ({
  id: step.id,
  kind: step.kind,
  state: 'done',
  ms: 0,
  cached: false,
  message: null,
  why: null,
  tryInstead: [],
  warnings: [],
  at: null,
  volumeChange: null,
  faces: null,
});

const failed = (step: Step, message: string, why: string, tryInstead: readonly string[]): StepReport => ({
  ...blank(step),
  state: 'failed',
  message,
  why,
  tryInstead,
});
