/** An engine of its own that tries values of a dimension, so that the bench stays as it is meanwhile. */
import * as Comlink from 'comlink';
import meshKernelUrl from 'manifold-3d/manifold.wasm?url';
import kernelUrl from 'replicad-opencascadejs/wasm?url';
import type { Project } from '../core/recipe/schema';
import { openMeshKernel } from '../kernel/hold';
import { openKernel } from '../kernel/open';
import { Engine } from './engine';
import { type ReachReport, type ReachRequest, reachGauge } from './reach';
import type { Checkpoint } from './types';

const engine = new Engine({ open: () => openKernel(kernelUrl), openMesh: () => openMeshKernel(meshKernelUrl) });

const api = {
  async reach(
    project: Project,
    request: ReachRequest,
    made: readonly Checkpoint[],
    seconds: number,
    onTrial: (done: number, of: number) => void,
  ): Promise<ReachReport | null> {
    engine.seed(made);
    const ends = performance.now() + 1000 * seconds;
    return reachGauge(
      engine,
      project,
      request,
      async (done, of) => {
        onTrial(done, of);
        return performance.now() < ends;
      },
      meshKernelUrl,
    );
  },
};

export type ReachApi = typeof api;
Comlink.expose(api);
