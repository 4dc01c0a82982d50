/** A kernel of its own for searching ranges and trying changes, so that a rebuild never waits for a trial. */
import * as Comlink from 'comlink';
import meshKernelUrl from 'manifold-3d/manifold.wasm?url';
import kernelUrl from 'replicad-opencascadejs/wasm?url';
import type { Project } from '../core/recipe/schema';
import type { Fix } from '../kernel/body';
import { type Kernel, openKernel } from '../kernel/open';
import { tryAlternative } from './alternative';
import { type RangeReport, searchRange } from './range';
import type { MadeBody } from './types';
import type { Alternative } from './untried';

let kernel: Promise<Kernel> | undefined;

const api = {
  async search(
    project: Project,
    stepId: string,
    made: readonly MadeBody[],
    state: 'works' | 'fails' | 'unknown',
    seconds: number,
    onTrial: (done: number, of: number) => void,
  ): Promise<RangeReport | null> {
    kernel ??= openKernel(kernelUrl);
    const ends = performance.now() + 1000 * seconds;
    return searchRange(await kernel, project, stepId, made, state, async (done, of) => {
      onTrial(done, of);
      return performance.now() < ends;
    });
  },
  async alternative(project: Project, fix: Fix, made: readonly MadeBody[]): Promise<Alternative> {
    kernel ??= openKernel(kernelUrl);
    return tryAlternative(await kernel, project, fix, made, meshKernelUrl);
  },
};

export type RangeApi = typeof api;
Comlink.expose(api);
