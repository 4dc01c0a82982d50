/** What a proposed change would come to, tried beside the rebuild: the body and its figures, nothing of it taken. */
import { materialOf } from '../core/brief/judge';
import { massOf } from '../core/brief/materials';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import { patchStep } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';
import { stepDefinitions } from '../core/recipe/steps';
import { stepValues } from '../core/recipe/values';
import type { Fix } from '../kernel/body';
import { openMeshKernel } from '../kernel/hold';
import type { Kernel } from '../kernel/open';
import { operationOf } from '../kernel/steps';
import { contextBeside } from './engine';
import { measureBody, sceneOf } from './measure';
import type { MadeBody } from './types';
import { type Alternative, untried } from './untried';

/**
 * Does a step with a change and measures the body.
 * @param made the bodies the step is built from
 * @param meshKernelUrl where the mesh library is served; left out in Node
 */
export async function tryAlternative(
  kernel: Kernel,
  project: Project,
  fix: Fix,
  made: readonly MadeBody[],
  meshKernelUrl?: string,
): Promise<Alternative> {
  const started = performance.now();
  const none = (why: string): Alternative => untried(fix, why, performance.now() - started);
  const changed = patchStep(project, fix.step, fix);
  const step = changed.steps.find((s) => s.id === fix.step);
  if (!step) return none('the step is not there');
  const { scope } = evaluateDimensions(changed.dimensions);
  const values = stepValues(step, scope);
  if (!values.ok) return none(values.error);
  const target = stepDefinitions[step.kind]!.changesBody(step.inputs);
  await openMeshKernel(meshKernelUrl);
  const outcome = operationOf(step.kind)(contextBeside(kernel, changed, scope, step, values.value, made));
  if (!outcome.ok) return none(`${outcome.error.what}: ${outcome.error.why}`);
  const body = 'bodies' in outcome.value ? outcome.value.bodies.find((b) => b.id === target)?.body : undefined;
  if (!body || !target) return none('it changes no body');
  const measured = await measureBody(kernel, changed, scope, target, body, async () => true, meshKernelUrl);
  const readings = measured!.readings;
  return {
    words: fix.words,
    step: fix.step,
    why: null,
    figures: {
      thinnest: readings.wallMin,
      thickest: readings.wallMax,
      mass: massOf(readings.volume, materialOf(changed, target)) ?? null,
      capacity: readings.capacityBrim,
      volume: readings.volume,
    },
    scene: sceneOf(kernel, changed, target, body),
    ms: performance.now() - started,
  };
}
