/** One size of a thing: the whole sheet built with what it sets, read, and written where that is asked. */
import type { GaugeReading } from '../core/brief/gauges';
import { judge, judgedBody } from '../core/brief/judge';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import type { Project, Size } from '../core/recipe/schema';
import { stepTitle } from '../core/recipe/words';
import { fail, ok, type Result } from '../core/result';
import { withSize } from '../core/sizes/sizes';
import type { Engine } from './engine';
import { type ExportFile, exportBodies, partsOf } from './export';
import { measureBody, sceneOf } from './measure';
import type { BodyScene, ExportFormat } from './types';

export interface SizeWriting {
  readonly format: ExportFormat;
  /** mm. */
  readonly deviation: number;
}

export interface SizeReport {
  readonly size: string;
  /** The step that can't be made, as it is called, and why; undefined where all could. */
  readonly failed?: { readonly step: string; readonly why: string };
  /** Of the body the brief judges; none where it is not built. */
  readonly gauges: readonly GaugeReading[];
  readonly ms: number;
  /** What was written, where that was asked and all could be made. */
  readonly file?: Result<ExportFile>;
}

/** A sheet by itself, as a size that sets nothing. */
export const AS_IT_IS: Size = { id: '', name: '', values: [] };

/** The bodies of a sheet as they are drawn, those that are put out of sight aside; in words where a step can't be made. */
export async function drawSheet(engine: Engine, project: Project): Promise<Result<BodyScene[]>> {
  const result = await engine.rebuild(project);
  const wrong = result.steps.find((s) => s.state === 'failed');
  if (wrong) return fail(`${stepTitle(wrong.id, project)}: ${[wrong.message, wrong.why].filter(Boolean).join(': ')}`);
  const kernel = await engine.start();
  return ok(engine.bodies().flatMap(({ id, body }) => (project.bodies[id]?.hidden ? [] : [sceneOf(kernel, project, id, body)])));
}

/** @param body the one that is read; where null, the one the brief judges @returns what it reads, or which step can't be made so */
export async function workOutSize(
  engine: Engine,
  sheet: Project,
  size: Size,
  writing: SizeWriting | null,
  meshKernelUrl?: string,
  body: string | null = null,
): Promise<SizeReport> {
  const started = performance.now();
  const project = withSize(sheet, size);
  const { scope } = evaluateDimensions(project.dimensions);
  const result = await engine.rebuild(project);
  const kernel = await engine.start();
  const wrong = result.steps.find((s) => s.state === 'failed');
  const bodies = engine.bodies();
  const judged = wrong ? null : judgedBody(project, bodies, (b) => b.id, body);
  const measured = judged && (await measureBody(kernel, project, scope, judged.id, judged.body, async () => true, meshKernelUrl));
  const gauges = judged ? judge(project, scope, judged.id, measured?.readings ?? null) : [];
  const shown = bodies.filter((b) => !project.bodies[b.id]?.hidden);
  const file =
    writing && !wrong && bodies.length > 0
      ? exportBodies(
          kernel,
          partsOf(project, shown.length > 0 ? shown : bodies),
          writing.format,
          writing.deviation,
          `${project.name} ${size.name}`,
        )
      : undefined;
  return {
    size: size.id,
    ...(wrong ? { failed: { step: stepTitle(wrong.id, project), why: [wrong.message, wrong.why].filter(Boolean).join(': ') } } : {}),
    gauges,
    ms: performance.now() - started,
    ...(file ? { file } : {}),
  };
}
