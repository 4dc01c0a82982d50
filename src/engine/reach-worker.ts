/** An engine of its own that tries values of a dimension, so that the bench stays as it is meanwhile. */
import * as Comlink from 'comlink';
import meshKernelUrl from 'manifold-3d/manifold.wasm?url';
import kernelUrl from 'replicad-opencascadejs/wasm?url';
import type { Project } from '../core/recipe/schema';
import { openMeshKernel } from '../kernel/hold';
import { openKernel } from '../kernel/open';
import { Engine } from './engine';
import { type PairReport, type PairRequest, type ReachReport, type ReachRequest, reachGauge, reachGauges } from './reach';
import type { Checkpoint } from './types';

const engine = new Engine({ open: () => openKernel(kernelUrl), openMesh: () => openMeshKernel(meshKernelUrl) });

/** Tells of each trial, and gives up between two when its time is over. */
const timed = (seconds: number, onTrial: (done: number, of: number) => void) => {
  const ends = performance.now() + 1000 * seconds;
  return async (done: number, of: number): Promise<boolean> => {
    onTrial(done, of);
    return performance.now() < ends;
  };
};

const api = {
  seed(made: readonly Checkpoint[]): void {
    engine.seed(made);
  },

  reach(
    project: Project,
    request: ReachRequest,
    seconds: number,
    onTrial: (done: number, of: number) => void,
  ): Promise<ReachReport | null> {
    return reachGauge(engine, project, request, timed(seconds, onTrial), meshKernelUrl);
  },

  pair(project: Project, request: PairRequest, seconds: number, onTrial: (done: number, of: number) => void): Promise<PairReport | null> {
    return reachGauges(engine, project, request, timed(seconds, onTrial), meshKernelUrl);
  },
};

export type ReachApi = typeof api;
Comlink.expose(api);
