/** A kernel of its own for searching ranges, so that a rebuild never waits for a trial. */
import * as Comlink from 'comlink';
import kernelUrl from 'replicad-opencascadejs/wasm?url';
import type { Project } from '../core/recipe/schema';
import { type Kernel, openKernel } from '../kernel/open';
import { type RangeReport, searchRange } from './range';
import type { MadeBody } from './types';

let kernel: Promise<Kernel> | undefined;

const api = {
  async search(
    project: Project,
    stepId: string,
    made: readonly MadeBody[],
    state: 'works' | 'fails' | 'unknown',
    onTrial: (done: number, of: number) => void,
  ): Promise<RangeReport | null> {
    kernel ??= openKernel(kernelUrl);
    return searchRange(await kernel, project, stepId, made, state, async (done, of) => {
      onTrial(done, of);
      return true;
    });
  },
};

export type RangeApi = typeof api;
Comlink.expose(api);
