/** Reads one STEP file and is ended: some files hang the reader for good. */
import { expose } from 'comlink';
import kernelUrl from 'replicad-opencascadejs/wasm?url';
import type { Result } from '../core/result';
import { readStep, type StepSolid } from '../kernel/exchange/step-read';
import { openKernel } from '../kernel/open';

const worker = {
  async load(): Promise<void> {
    await openKernel(kernelUrl);
  },
  async read(bytes: Uint8Array): Promise<Result<StepSolid[]>> {
    return readStep(await openKernel(kernelUrl), bytes);
  },
};
export type ImportWorker = typeof worker;
expose(worker);
