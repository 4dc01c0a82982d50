/**
 * The rebuild: ordered steps to bodies. Every step is keyed by its own numbers and its input's key, so that
 * only what changed is computed. Bodies are also held as text, from which a fresh kernel can go on when the
 * old one's heap has grown or a call had to be ended.
 */
import { type Frame, isOriginPlane } from '../core/curves/frame';
import { lineAlong, type SpaceCurve } from '../core/curves/path';
import type { Scope } from '../core/dimensions/expression';
import { bounds, massProperties } from '../core/mesh/mesh';
import type { Follows } from '../core/profile/follow';
import { quotable } from '../core/recipe/quoted';
import type { Project, Step } from '../core/recipe/schema';
import { stepDefinitions } from '../core/recipe/steps';
import { usesOfStep } from '../core/recipe/uses';
import { stepValues } from '../core/recipe/values';
import { bodyWords, stepTitle } from '../core/recipe/words';
import { fail, type Result, wordsOf } from '../core/result';
import { topologyOf } from '../core/scan/topology';
import { areaOf, volumeOf } from '../kernel/amounts';
import type { KernelBody, StepFailure } from '../kernel/body';
import { takeChecked } from '../kernel/clock';
import { followsOf } from '../kernel/follow';
import { openMeshKernel } from '../kernel/hold';
import { heapBytes, type Kernel, scoped } from '../kernel/open';
import { frameOf } from '../kernel/placed';
import { scanMesh } from '../kernel/scans';
import { boundsOf, edgesWithFaces, facesOf, unmeshed } from '../kernel/shapes';
import { operationOf, type StepContext, type StepOutcome } from '../kernel/steps';
import { type BorderLoop, borderLoops } from '../kernel/surface';
import { roughOf } from '../kernel/tessellate';
import { blank, failed, type Spoken, saysTheSame } from './step-report';
import { bodyKey, Trail } from './trail';
import { turnedAmounts } from './turned-measure';
import type { BodyReport, Checkpoint, GivenUp, MadeBody, ProfilePlace, RebuildResult, StepReport } from './types';

export interface EngineOptions {
  readonly open: () => Promise<Kernel>;
  /** The kernel is renewed from checkpoints once its heap is larger, bytes. */
  readonly heapLimit?: number;
  /** Results kept. */
  readonly cacheSize?: number;
  /** Loads what cuts meshes, before a step that needs it. */
  readonly openMesh?: () => Promise<unknown>;
  /** Lets messages in between steps. */
  readonly pause?: () => Promise<void>;
}

interface Entry {
  readonly report: StepReport;
  /** Null for a step that failed or makes no bodies. */
  readonly made: readonly MadeBody[] | null;
  readonly gone: readonly string[];
  readonly live: Map<string, KernelBody>;
  /** The plane a step placed, or the curve it drew. */
  readonly frame?: Frame;
  readonly path?: readonly SpaceCurve[];
  /** It came to no end in time, in an engine that was ended. */
  readonly givenUp?: true;
  /** The names and the values as typed that its words may quote. */
  readonly under?: Spoken;
}

const DEFAULT_HEAP_LIMIT = 700e6;
const DEFAULT_CACHE = 120;

export interface BuiltBody {
  readonly id: string;
  readonly body: KernelBody;
  readonly key: string;
}

export class Engine {
  private kernel: Kernel | null = null;
  private opening: Promise<Kernel> | null = null;
  private readonly cache = new Map<string, Entry>();
  private built: ReadonlyMap<string, string> = new Map();
  /** Reports of bodies that are at hand: bounds and volumes of splines take a while. */
  private readonly described = new WeakMap<KernelBody, BodyReport>();
  private generation = 0;
  renewals = 0;

  constructor(private readonly options: EngineOptions) {}

  async start(): Promise<Kernel> {
    if (this.kernel) return this.kernel;
    // Asked for twice at once it is opened once: shapes of one kernel are nothing to another.
    this.opening ??= this.options.open().finally(() => {
      this.opening = null;
    });
    this.kernel = await this.opening;
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
    for (const c of checkpoints) this.cache.set(c.key, { report: c.report, made: c.made, gone: c.gone, live: new Map() });
  }

  /** Counts a step as failed without running it: an engine that ran it had to be ended. */
  giveUp({ key, step, seconds }: GivenUp): void {
    this.cache.set(key, {
      report: failed(step, 'this step was given up', `it ran for ${seconds} s without an end`, [
        ...(stepDefinitions[step.kind]?.tooLong ? [stepDefinitions[step.kind]!.tooLong!] : []),
        'change one of its values, or make what it works on simpler',
        'close the project and open it again to have it tried once more as it is',
      ]),
      givenUp: true,
      made: null,
      gone: [],
      live: new Map(),
    });
  }

  /** A fresh kernel; nothing is lost, because bodies come back from their text. */
  async renew(): Promise<void> {
    for (const e of this.cache.values()) e.live.clear();
    this.kernel = null;
    this.renewals++;
    await this.start();
  }

  /** Forgets every result: another project, or a benchmark. */
  clear(): void {
    this.cache.clear();
    this.built = new Map();
  }

  /**
   * Builds the project down to its marker.
   * @param onStep called before (report null) and after each step; its key tells results apart
   */
  async rebuild(
    project: Project,
    onStep: (index: number, step: Step, report: StepReport | null, checkpoint: Checkpoint | null, key: string) => void = () => {},
  ): Promise<RebuildResult> {
    const mine = ++this.generation;
    const started = performance.now();
    let kernel = await this.start();
    if (this.heap > (this.options.heapLimit ?? DEFAULT_HEAP_LIMIT)) {
      await this.renew();
      kernel = this.kernel!;
    }
    if (project.steps.some((s) => s.enabled && stepDefinitions[s.kind]?.meshes)) await (this.options.openMesh ?? openMeshKernel)();
    const trail = new Trail(project);
    const names = quotable(project);
    const reports: StepReport[] = [];
    /** Bodies and planes whose last step failed, with that step: what follows on them waits. */
    const broken = new Map<string, string>();
    const markerIndex = project.marker === null ? project.steps.length - 1 : project.steps.findIndex((s) => s.id === project.marker);
    let computed = 0;

    for (const [index, step] of project.steps.entries()) {
      if (this.generation !== mine) return this.result(reports, null, started, computed, true);
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
      const uses = usesOfStep(project, step);
      const culprit = [...uses.bodies, ...uses.planes, ...(uses.paths ?? [])].map((id) => broken.get(id)).find((id) => id !== undefined);
      if (culprit) {
        skip(`waits for ${stepTitle(culprit, project)}`);
        broken.set(target ?? step.id, culprit);
        continue;
      }
      const values = stepValues(step, trail.scope);
      if (!values.ok) {
        const report = failed(step, values.error, 'a value of this step can’t be used', ['correct the value']);
        reports.push(report);
        broken.set(target ?? step.id, step.id);
        onStep(index, step, report, null, '');
        continue;
      }
      trail.look(step);
      const key = trail.keyOf(step, values.value);
      const spoken: Spoken = { names, values: JSON.stringify(step.values) };
      let entry = this.cache.get(key);
      if (entry?.under && !saysTheSame(entry.report, entry.under, spoken)) entry = undefined;
      if (entry) {
        // Least recently used goes first.
        this.cache.delete(key);
        this.cache.set(key, entry);
        // What its kind is for may be had another way.
        const ways = entry.givenUp ? { fixes: stepDefinitions[step.kind]?.otherwise?.(step) ?? [] } : {};
        const report: StepReport = { ...entry.report, ...ways, ms: 0, checkMs: 0, cached: true };
        reports.push(report);
        onStep(index, step, report, null, key);
      } else {
        onStep(index, step, null, null, key);
        await this.options.pause?.();
        if (this.generation !== mine) return this.result(reports, null, started, computed, true);
        entry = { ...this.compute(kernel, project, step, values.value, trail), under: spoken };
        computed++;
        if (this.kernel) this.remember(key, entry);
        else {
          // The kernel crashed: what it did is not kept, and the bodies so far come back in a new one.
          kernel = await this.start();
          for (const place of [trail, ...trail.seen.values()])
            for (const [id, k] of place.keys) {
              const before = this.liveBody(kernel, k);
              if (before) place.bodies.set(id, before);
            }
        }
        reports.push(entry.report);
        const checkpoint: Checkpoint | null = entry.made ? { key, made: entry.made, gone: entry.gone, report: entry.report } : null;
        onStep(index, step, entry.report, checkpoint, key);
        await this.options.pause?.();
      }
      if (entry.made)
        for (const made of entry.made) {
          const body = this.liveBody(kernel, bodyKey(key, made.id));
          if (body) trail.bodies.set(made.id, body);
        }
      trail.take(step, key, entry);
      if (entry.report.state === 'failed') broken.set(target ?? step.id, step.id);
    }
    if (this.generation !== mine) return this.result(reports, null, started, computed, true);
    this.built = trail.keys;
    return this.result(reports, { kernel, project, trail }, started, computed, false);
  }

  private result(
    steps: StepReport[],
    end: { kernel: Kernel; project: Project; trail: Trail } | null,
    started: number,
    computed: number,
    cancelled: boolean,
  ): RebuildResult {
    const bodies = end ? [...end.trail.bodies].map(([id, body]) => this.describe(end.kernel, end.project, id, body)) : [];
    const profiles = end ? this.placeProfiles(end.kernel, end.project, end.trail) : new Map<string, ProfilePlace>();
    const planes = end?.trail.planes ?? new Map<string, Frame>();
    const paths = new Map([...(end?.trail.paths ?? [])].map(([id, curves]) => [id, lineAlong(curves)]));
    const ms = performance.now() - started;
    return { cancelled, ms, steps, bodies, planes, paths, profiles, computed, heap: this.heap, renewals: this.renewals };
  }

  /** Where each profile lies and what it follows there, for the board. */
  private placeProfiles(kernel: Kernel, project: Project, trail: Trail): Map<string, ProfilePlace> {
    const out = new Map<string, ProfilePlace>();
    for (const p of project.profiles) {
      const frame = frameOf(p.plane, trail.planes, project);
      if (!frame.ok) {
        out.set(p.id, { frame: null, follows: null, problem: `${frame.error.what}: ${frame.error.why}` });
        continue;
      }
      if (p.projections.length === 0 && isOriginPlane(p.plane)) continue;
      const follows: Result<Follows, StepFailure> = followsOf(kernel, project, p, frame.value, trail.seenBy(p.id).bodies);
      out.set(p.id, {
        frame: frame.value,
        follows: follows.ok ? follows.value : null,
        problem: follows.ok ? null : `${follows.error.what}: ${follows.error.why}`,
      });
    }
    return out;
  }

  /** The bodies of the last finished rebuild. */
  bodies(): BuiltBody[] {
    const out: BuiltBody[] = [];
    for (const [id, key] of this.built) {
      const body = this.liveBody(this.kernel!, key);
      if (body) out.push({ id, body, key });
    }
    return out;
  }

  /** What there is before a step, as far as it is computed. Undefined for a step the project does not have. */
  private trailBefore(project: Project, stepId: string): { trail: Trail; step: Step } | undefined {
    const trail = new Trail(project);
    for (const step of project.steps) {
      if (step.id === stepId) return { trail, step };
      if (!step.enabled) continue;
      const values = stepValues(step, trail.scope);
      if (!values.ok) continue;
      trail.look(step);
      const key = trail.keyOf(step, values.value);
      const entry = this.cache.get(key);
      if (entry) trail.take(step, key, entry);
    }
    return undefined;
  }

  /** The body a step works on, as it was before the step; for saying beforehand what the step will do. */
  bodyBefore(project: Project, stepId: string): KernelBody | null {
    const before = this.trailBefore(project, stepId);
    if (!before) return null;
    const target = stepDefinitions[before.step.kind]!.changesBody(before.step.inputs);
    const key = target ? before.trail.keys.get(target) : undefined;
    return (key && this.liveBody(this.kernel!, key)) || null;
  }

  /** The bodies a step is built from, as text, as they stood before it; what is not computed yet is left out. */
  madeBefore(project: Project, stepId: string): MadeBody[] {
    const before = this.trailBefore(project, stepId);
    if (!before) return [];
    return usesOfStep(project, before.step).bodies.flatMap((id) => {
      const key = before.trail.keys.get(id);
      const found = key && this.madeBy(key)?.made;
      return found ? [{ ...found, id }] : [];
    });
  }

  private compute(kernel: Kernel, project: Project, step: Step, values: Record<string, number>, trail: Trail): Entry {
    const t0 = performance.now();
    takeChecked();
    /** Building and checking apart. */
    const took = (): { ms: number; checkMs: number } => {
      const checkMs = takeChecked();
      return { ms: performance.now() - t0 - checkMs, checkMs };
    };
    let report: StepReport;
    try {
      const outcome =
        needsSolid(project, step, trail.bodies) ??
        operationOf(step.kind)({
          kernel,
          project,
          scope: trail.scope,
          step,
          values,
          bodies: trail.bodies,
          planes: trail.planes,
          paths: trail.paths,
          seenBy: (profile) => trail.seenBy(profile).bodies,
        });
      const times = took();
      if (!outcome.ok) {
        const f = outcome.error;
        report = {
          ...failed(step, f.what, f.why, f.tryInstead),
          ...times,
          unfinished: f.unfinished ?? false,
          at: f.at ?? null,
          ties: f.ties ?? null,
          lost: f.lost ?? null,
          fixes: f.fixes ?? [],
        };
        return { report, made: null, gone: [], live: new Map() };
      }
      const { warnings } = outcome.value;
      const told = {
        state: warnings.length > 0 ? 'warned' : 'done',
        message: warnings[0]?.message ?? null,
        warnings: warnings.map(({ fix: _, ...w }) => w),
        fixes: warnings.flatMap((w) => w.fix ?? []),
      } as const;
      if ('frame' in outcome.value)
        return { report: { ...blank(step), ...told, ...times }, made: null, gone: [], live: new Map(), frame: outcome.value.frame };
      if ('path' in outcome.value)
        return {
          report: { ...blank(step), ...told, note: outcome.value.note ?? null, ...times },
          made: null,
          gone: [],
          live: new Map(),
          path: outcome.value.path,
        };
      const { bodies, gone, volumeChange, note, ties, chart } = outcome.value;
      const live = new Map(bodies.map((b) => [b.id, b.body]));
      const made = bodies.map(({ id, body }): MadeBody => {
        // Without facets, which stay on the body for the next step.
        const brep = scoped((s) => kernel.BRepToolsWrapper.Write(unmeshed(kernel, s, body.shape)));
        return {
          id,
          brep,
          faces: body.faces,
          volume: body.volume,
          ...(body.pieces ? { pieces: body.pieces } : {}),
          ...(body.surface ? { surface: true } : {}),
          ...(body.facets && body.mesh ? { mesh: body.mesh } : {}),
          ...(body.turned ? { turned: body.turned } : {}),
          ...(body.straight ? { straight: body.straight } : {}),
          ...(body.form ? { form: body.form } : {}),
        };
      });
      const faces = bodies.reduce((n, b) => n + b.body.faces.length, 0);
      report = {
        ...blank(step),
        ...told,
        note: note ?? null,
        ...times,
        volumeChange,
        faces: bodies.length > 0 ? faces : null,
        made: bodies.map((b) => b.id),
        ties: ties ?? null,
        chart: chart ?? null,
      };
      return { report, made, gone: gone ?? [], live };
    } catch (e) {
      // A crash of the kernel is this step's failure, never the project's loss; a new kernel takes over.
      this.kernel = null;
      for (const c of this.cache.values()) c.live.clear();
      report = {
        ...failed(step, 'the kernel gave up on this step', wordsOf(e).slice(0, 200), ['change its value a little']),
        ...took(),
      };
      return { report, made: null, gone: [], live: new Map() };
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

  /** The text a body's key stands for, with the result it is part of. */
  private madeBy(key: string): { entry: Entry; made: MadeBody } | undefined {
    const [stepKey, id] = key.split('/') as [string, string];
    const entry = this.cache.get(stepKey);
    const made = entry?.made?.find((m) => m.id === id);
    return entry && made && { entry, made };
  }

  /** The body a key stands for, brought back from its text where needed. */
  private liveBody(kernel: Kernel, key: string): KernelBody | undefined {
    const found = this.madeBy(key);
    if (!found) return undefined;
    const { entry, made } = found;
    const known = entry.live.get(made.id);
    if (known) return known;
    const body = bodyFromText(kernel, made);
    entry.live.set(made.id, body);
    return body;
  }

  private describe(kernel: Kernel, project: Project, id: string, body: KernelBody): BodyReport {
    const known = this.described.get(body);
    if (known) return { ...known, name: bodyWords(id, project) };
    const { volume, centroid, area, bbox } = amounts(kernel, body);
    const borders = body.surface ? bordersOf(kernel, body) : [];
    const report: BodyReport = {
      id,
      name: bodyWords(id, project),
      // Every solid here has passed verification, which includes a closed skin.
      closed: !body.surface,
      facets: body.facets === true,
      borders,
      volume: body.surface ? 0 : volume,
      area,
      bbox,
      centroid,
      faces: body.faces.length,
      edges: edgesWithFaces(kernel, facesOf(kernel, body.shape)).length,
    };
    this.described.set(body, report);
    return report;
  }
}

/** Open borders of a surface, or of the facets of a scan. */
function bordersOf(kernel: Kernel, body: KernelBody): readonly BorderLoop[] {
  const mesh = scanMesh(body);
  return mesh
    ? topologyOf(mesh).borders.map(({ length, centre, off }) => ({ length, offPlane: off, at: centre }))
    : borderLoops(kernel, body.shape);
}

/** What a body measures: exactly, or of a body of facets by these, mm, mm² and mm³. */
function amounts(kernel: Kernel, body: KernelBody): Pick<BodyReport, 'volume' | 'centroid' | 'area' | 'bbox'> {
  const facets = scanMesh(body);
  if (facets) return { ...massProperties(facets), bbox: bounds(facets.positions) };
  const turned = body.turned && turnedAmounts(body.turned);
  if (turned) return turned;
  return { ...volumeOf(kernel, body.shape), area: areaOf(kernel, body.shape), bbox: boundsOf(kernel, body.shape, roughOf(kernel, body)) };
}

/** A body back from its text. */
const bodyFromText = (kernel: Kernel, made: MadeBody): KernelBody => ({
  shape: kernel.BRepToolsWrapper.Read(made.brep),
  faces: made.faces,
  volume: made.volume,
  ...(made.pieces ? { pieces: made.pieces } : {}),
  ...(made.surface ? { surface: true } : {}),
  ...(made.mesh ? { mesh: made.mesh, facets: true } : {}),
  ...(made.turned ? { turned: made.turned } : {}),
  ...(made.straight ? { straight: made.straight } : {}),
  ...(made.form ? { form: made.form } : {}),
});

/** What a step that is built from bodies alone is done with, beside the rebuild. */
export function contextBeside(
  kernel: Kernel,
  project: Project,
  scope: Scope,
  step: Step,
  values: Readonly<Record<string, number>>,
  made: readonly MadeBody[],
): StepContext {
  const bodies = new Map(made.map((m): [string, KernelBody] => [m.id, bodyFromText(kernel, m)]));
  return { kernel, project, scope, step, values, bodies, planes: new Map(), paths: new Map(), seenBy: () => bodies };
}

/** What changes a body is done to a solid, unless the kind of step says otherwise. */
function needsSolid(project: Project, step: Step, bodies: ReadonlyMap<string, KernelBody>): StepOutcome | undefined {
  const definition = stepDefinitions[step.kind]!;
  const id = definition.changesBody(step.inputs);
  const mesh = usesOfStep(project, step).bodies.find((b) => bodies.get(b)?.facets);
  const takes = typeof definition.takesFacets === 'function' ? definition.takesFacets(step.inputs) : definition.takesFacets;
  if (mesh && !takes)
    return fail({
      what: `${stepTitle(step.id, project)} can’t be done with ${bodyWords(mesh, project)}`,
      why: 'it is a mesh, and nothing exact is left to work on',
      tryInstead: ['put this step before the one that made it a mesh', 'make it another way'],
    });
  const body = id ? bodies.get(id) : undefined;
  if (id && body?.pieces && !definition.takesPieces) {
    const parted = project.steps.findLast((s) => s.inputs.pieces === 'together' && (s.id === id || s.inputs.body === id));
    return fail({
      what: `${stepTitle(step.id, project)} can’t be done to ${bodyWords(id, project)}`,
      why: `it is ${body.pieces} pieces that lie apart`,
      tryInstead: ['make each piece a body of its own'],
      fixes: parted
        ? [{ words: `each piece a body of its own, in ${stepTitle(parted.id, project)}`, step: parted.id, inputs: { pieces: 'each' } }]
        : [],
    });
  }
  if (!id || definition.takesSurfaces || !body?.surface) return undefined;
  return fail({
    what: `${stepTitle(step.id, project)} can’t be done to ${bodyWords(id, project)}`,
    why: 'it is a surface and has no inside',
    tryInstead: ['give it a wall, or close it, first', 'choose a solid'],
  });
}
