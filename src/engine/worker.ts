/** The engine behind a worker's door. One rebuild or measurement runs at a time; a newer one replaces it. */
import * as Comlink from 'comlink';
import meshKernelUrl from 'manifold-3d/manifold.wasm?url';
import kernelUrl from 'replicad-opencascadejs/wasm?url';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import { evaluateAs } from '../core/dimensions/expression';
import type { Ask } from '../core/inspect/asks';
import type { Station } from '../core/inspect/sweep';
import { triangleCount } from '../core/mesh/mesh';
import type { Printer } from '../core/print/printer';
import type { Measurement, Project, Step } from '../core/recipe/schema';
import { stepOf } from '../core/recipe/steps';
import { stepValues } from '../core/recipe/values';
import { bodyWords } from '../core/recipe/words';
import { fail, ok, type Result } from '../core/result';
import type { DrawnView } from '../core/shop/sheet';
import type { Pull } from '../core/tooling/pulls';
import type { Milled } from '../core/tooling/sides';
import type { KernelBody } from '../kernel/body';
import { openMeshKernel } from '../kernel/hold';
import { type Kernel, openKernel } from '../kernel/open';
import { selectFaces } from '../kernel/select';
import { Engine } from './engine';
import { type ExportFile, type ExportPart, exportApart, exportBodies, exportMesh } from './export';
import { type Answer, inspectAll, inspectBody, measurements, sectionOutlines } from './inspect';
import { type BodyLayers, bodyLayer, bodyLayers, type LayerLoops, type Lying } from './layers';
import { type NamedLie, namedLies } from './lies';
import { forecastWall, measureBody, sceneOf } from './measure';
import { type BodyTurning, bodyMilled, bodyPulls, bodyTurning } from './tooling';
import type {
  BodyScene,
  Checkpoint,
  ExportFormat,
  GivenUp,
  MadeBody,
  MeasureResult,
  RebuildResult,
  StepReport,
  WallForecast,
} from './types';
import { drawView, type ViewAsk } from './views';

/** Lets waiting messages in. A message channel is not slowed down the way timers are. */
const channel = new MessageChannel();
const waiting: (() => void)[] = [];
channel.port1.onmessage = () => waiting.shift()?.();
const pause = (): Promise<void> =>
  new Promise((resolve) => {
    waiting.push(resolve);
    channel.port2.postMessage(0);
  });

const engine = new Engine({ open: () => openKernel(kernelUrl), openMesh: () => openMeshKernel(meshKernelUrl), pause });
/** Raised by every new request; work that began under an older number gives up. */
let turn = 0;
/** Raised by every new question of the inspection page. */
let question = 0;
const scenes = new Map<string, BodyScene>();
/** Readings by body and fill line. */
const measured = new Map<string, MeasureResult>();
const KEPT_READINGS = 32;
/** Requests go one after another: kernel calls must not interleave. */
let queue: Promise<unknown> = Promise.resolve();

function next<T>(work: () => Promise<T>): Promise<T> {
  const run = queue.then(work, work);
  queue = run.catch(() => {});
  return run;
}

/** Something asked of a built body, in its turn, with progress; null when it was stopped or a newer request came. */
function asked<T>(
  bodyId: string,
  onProgress: (share: number) => void,
  work: (kernel: Kernel, body: KernelBody, tick: (share: number) => Promise<boolean>) => Promise<T | null>,
): Promise<T | null> {
  const mine = turn;
  const own = ++question;
  return next(async () => {
    const kernel = await engine.start();
    const built = engine.bodies().find((b) => b.id === bodyId);
    if (!built) return null;
    let told = 0;
    const tick = async (share: number): Promise<boolean> => {
      if (performance.now() - told > 100) {
        told = performance.now();
        onProgress(share);
      }
      await pause();
      return mine === turn && own === question;
    };
    return (await tick(0)) ? work(kernel, built.body, tick) : null;
  });
}

/** Something long that is no question of one body: a build goes before it, and it is begun anew after that. @param work null where the tick gave up */
async function givingWay<T>(work: (kernel: Kernel, tick: () => Promise<boolean>) => Promise<T | null>): Promise<T> {
  for (;;) {
    const done = await next(async () => {
      const mine = turn;
      return work(await engine.start(), async () => {
        await pause();
        return mine === turn;
      });
    });
    if (done !== null) return done;
  }
}

/** Something of one built body, or that it is not built. */
function ofBody<T>(id: string, work: (body: KernelBody) => T): T | Result<never> {
  const built = engine.bodies().find((b) => b.id === id);
  return built ? work(built.body) : fail(NOT_BUILT);
}

/** All bodies of the last rebuild, by their names. */
const built = (): Map<string, KernelBody> => new Map(engine.bodies().map((b) => [b.id, b.body]));

export interface RebuildAnswer {
  readonly result: RebuildResult;
  /** Absent where the rebuild was cancelled. */
  readonly scenes: readonly BodyScene[] | null;
}

export type StepListener = (
  index: number,
  step: { readonly id: string; readonly kind: string },
  report: StepReport | null,
  checkpoint: Checkpoint | null,
  key: string,
) => void;

const api = {
  /** Loads the kernel. @returns its heap in bytes */
  async start(): Promise<number> {
    await engine.start();
    return engine.heap;
  },

  seed(checkpoints: readonly Checkpoint[]): void {
    engine.seed(checkpoints);
  },

  /** Takes a step as failed that an ended worker did not finish. */
  giveUp(step: GivenUp): void {
    engine.giveUp(step);
  },

  cancel(): void {
    turn++;
    engine.cancel();
  },

  /** Drops every result, once what runs has given up. */
  forget(): Promise<void> {
    turn++;
    engine.cancel();
    return next(async () => {
      engine.clear();
      scenes.clear();
      measured.clear();
    });
  },

  rebuild(project: Project, onStep: StepListener): Promise<RebuildAnswer> {
    const mine = ++turn;
    engine.cancel();
    return next(async () => {
      if (mine !== turn) return { result: cancelledResult, scenes: null };
      const result = await engine.rebuild(
        project,
        (index: number, { id, kind }: Step, report, checkpoint, key) => void onStep(index, { id, kind }, report, checkpoint, key),
      );
      if (result.cancelled || mine !== turn) return { result: { ...result, cancelled: true }, scenes: null };
      const kernel = await engine.start();
      const out: BodyScene[] = [];
      for (const { id, body, key } of engine.bodies()) {
        await pause();
        if (mine !== turn) return { result: { ...result, cancelled: true }, scenes: null };
        let scene = scenes.get(key);
        if (!scene) {
          scene = sceneOf(kernel, project, id, body);
          scenes.set(key, scene);
          if (scenes.size > 8) scenes.delete(scenes.keys().next().value!);
        }
        // Bodies may be renamed without being built anew.
        out.push({ ...scene, name: bodyWords(id, project) });
      }
      return { result, scenes: out };
    });
  },

  /**
   * Gauges of every body of the last rebuild; null when a newer request came.
   * @param onBody called with each as it is known: the first ones do not wait for the last
   */
  measure(project: Project, onBody: (m: MeasureResult) => void): Promise<MeasureResult[] | null> {
    const mine = turn;
    return next(async () => {
      const { scope } = evaluateDimensions(project.dimensions);
      const kernel = await engine.start();
      const out: MeasureResult[] = [];
      const below = evaluateAs(project.brief.fillBelowBrim, 'length', scope);
      for (const { id, body, key } of engine.bodies()) {
        // A body that stayed as it was reads as it did.
        const under = `${key} ${id} ${below.ok ? below.value : ''}`;
        const known = measured.get(under);
        if (known) {
          out.push(known);
          continue;
        }
        const m = await measureBody(
          kernel,
          project,
          scope,
          id,
          body,
          async () => {
            await pause();
            return mine === turn;
          },
          meshKernelUrl,
        );
        if (!m) return null;
        measured.set(under, m);
        if (measured.size > KEPT_READINGS) measured.delete(measured.keys().next().value!);
        out.push(m);
        onBody(m);
      }
      return mine === turn ? out : null;
    });
  },

  /** What the wall of a shell step will swallow; null where it can't be said or a newer request came. */
  forecast(project: Project, stepId: string): Promise<WallForecast | null> {
    const mine = turn;
    return next(async () => {
      if (mine !== turn) return null;
      const step = stepOf(project, stepId, 'shell');
      if (!step) return null;
      const kernel = await engine.start();
      const body = engine.bodyBefore(project, stepId);
      if (!body) return null;
      const values = stepValues(step, evaluateDimensions(project.dimensions).scope);
      if (!values.ok) return null;
      const { inputs } = step;
      const open = selectFaces(kernel, body, inputs.open);
      if (!open.ok) return null;
      const opened = new Set(open.value.map((f) => f.index));
      const tick = async (): Promise<boolean> => {
        await pause();
        return mine === turn;
      };
      return forecastWall(kernel, project, stepId, body, opened, values.value.wall!, tick, inputs.side);
    });
  },

  /** A question of the inspection page; null when it was stopped or a newer request came. */
  inspect(project: Project, bodyId: string, ask: Ask, onProgress: (share: number) => void): Promise<Answer | null> {
    return asked(bodyId, onProgress, (kernel, body, tick) => inspectBody(kernel, project, bodyId, body, ask, tick, meshKernelUrl, built()));
  },

  /** Every question at once, for a report; null when it was stopped or a newer request came. */
  inspectAll(project: Project, bodyId: string, limit: number | null, onProgress: (share: number) => void): Promise<Answer[] | null> {
    return asked(bodyId, onProgress, (kernel, body, tick) =>
      inspectAll(kernel, project, bodyId, body, limit, tick, meshKernelUrl, built()),
    );
  },

  /** The document's measurements, as the bodies stand. */
  measurements(list: readonly Measurement[]) {
    return next(async () => measurements(await engine.start(), built(), list).list);
  },

  stopInspecting(): void {
    question++;
  },

  sectionOutlines(bodyId: string, station: Station) {
    return next(async () => {
      const kernel = await engine.start();
      const built = engine.bodies().find((b) => b.id === bodyId);
      return built ? sectionOutlines(kernel, built.body, station) : null;
    });
  },

  /** The bodies a step is built from, as text, for a search beside the rebuild. */
  madeBefore(project: Project, stepId: string): MadeBody[] {
    return engine.madeBefore(project, stepId);
  },

  /** How many triangles a mesh export would have. */
  countTriangles(ids: readonly string[], deviation: number): Promise<Result<number>> {
    return next(async () => {
      const kernel = await engine.start();
      let sum = 0;
      for (const id of ids) {
        const built = engine.bodies().find((b) => b.id === id);
        const mesh = built ? exportMesh(kernel, built.body, deviation) : fail(NOT_BUILT);
        if (!mesh.ok) return mesh;
        sum += triangleCount(mesh.value);
      }
      return ok(sum);
    });
  },

  /** Ways a body can lie on a printer's bed. */
  lies(id: string, printer: Printer): Promise<Result<NamedLie[]>> {
    return next(async () => {
      const kernel = await engine.start();
      return ofBody(id, (body) => namedLies(kernel, body, printer));
    });
  },

  /** A body in layers as it lies on a bed, and what one of them looks like. */
  layers(id: string, lying: Lying, layer: number): Promise<Result<BodyLayers>> {
    return givingWay(async (kernel, tick) => ofBody(id, (body) => bodyLayers(kernel, body, lying, layer, tick)));
  },

  layer(id: string, lying: Lying, layer: number, k: number): Promise<Result<LayerLoops>> {
    return next(async () => {
      const kernel = await engine.start();
      return ofBody(id, (body) => ok(bodyLayer(kernel, body, lying, layer, k)));
    });
  },

  /** Ways a mould could come off a body. @param limit least draft, rad */
  pulls(id: string, limit: number): Promise<Result<Pull[]>> {
    return givingWay(async (kernel, tick) => ofBody(id, (body) => bodyPulls(kernel, body, limit, tick)));
  },

  /** From how many sides a body is milled. */
  milled(id: string): Promise<Result<Milled>> {
    return givingWay(async (kernel, tick) => ofBody(id, (body) => bodyMilled(kernel, body, tick)));
  },

  /** A body on the lathe. */
  turning(id: string): Promise<Result<BodyTurning>> {
    return next(async () => {
      const kernel = await engine.start();
      return ofBody(id, (body) => bodyTurning(kernel, body));
    });
  },

  /** One view of bodies for a drawing. */
  drawView(ids: readonly string[], ask: ViewAsk): Promise<Result<DrawnView>> {
    return givingWay(async (kernel, tick) => {
      const bodies = engine.bodies().filter((b) => ids.includes(b.id));
      if (bodies.length === 0) return fail(NOT_BUILT);
      const view = await drawView(kernel, bodies, ask, tick);
      return view && ok(view);
    });
  },

  /** One file of the bodies that are named, where they stand. @param apart one for each, packed together */
  exportBodies(
    named: readonly (Omit<ExportPart, 'body'> & { readonly id: string })[],
    format: ExportFormat,
    deviation: number,
    project: string,
    apart: boolean,
  ): Promise<Result<ExportFile>> {
    return next(async () => {
      const kernel = await engine.start();
      const parts = named.flatMap(({ id, ...called }) =>
        engine.bodies().flatMap((b) => (b.id === id ? [{ body: b.body, ...called }] : [])),
      );
      if (parts.length < named.length) return fail(NOT_BUILT);
      const file = (apart ? exportApart : exportBodies)(kernel, parts, format, deviation, project);
      return file.ok ? Comlink.transfer(file, [file.value.bytes.buffer as ArrayBuffer]) : file;
    });
  },
};

const NOT_BUILT = 'this body is not built';

const cancelledResult: RebuildResult = {
  cancelled: true,
  ms: 0,
  steps: [],
  bodies: [],
  planes: new Map(),
  paths: new Map(),
  profiles: new Map(),
  computed: 0,
  heap: 0,
  renewals: 0,
};

export type EngineApi = typeof api;
Comlink.expose(api);
