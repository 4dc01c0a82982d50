/** An engine of its own that works out sizes, so that the bench stays as it is meanwhile; there may be several. */
import * as Comlink from 'comlink';
import meshKernelUrl from 'manifold-3d/manifold.wasm?url';
import kernelUrl from 'replicad-opencascadejs/wasm?url';
import type { Project, Size } from '../core/recipe/schema';
import type { Result } from '../core/result';
import { openMeshKernel } from '../kernel/hold';
import { openKernel } from '../kernel/open';
import { Engine } from './engine';
import { packed } from './export';
import { AS_IT_IS, drawSheet, type SizeReport, type SizeWriting, workOutSize } from './sizes';
import type { BodyScene, Checkpoint } from './types';

const engine = new Engine({ open: () => openKernel(kernelUrl), openMesh: () => openMeshKernel(meshKernelUrl) });

const api = {
  seed(made: readonly Checkpoint[]): void {
    engine.seed(made);
  },

  async workOut(project: Project, size: Size, writing: SizeWriting | null): Promise<SizeReport> {
    const report = await workOutSize(engine, project, size, writing, meshKernelUrl);
    return report.file?.ok ? Comlink.transfer(report, [report.file.value.bytes.buffer as ArrayBuffer]) : report;
  },

  /** A sheet by itself. @param body the one that is read */
  read(project: Project, body: string | null): Promise<SizeReport> {
    return workOutSize(engine, project, AS_IT_IS, null, meshKernelUrl, body);
  },

  draw(project: Project): Promise<Result<BodyScene[]>> {
    return drawSheet(engine, project);
  },

  pack(files: readonly { readonly name: string; readonly bytes: Uint8Array }[]): Uint8Array {
    const out = packed(files);
    return Comlink.transfer(out, [out.buffer as ArrayBuffer]);
  },
};

export type SizesApi = typeof api;
Comlink.expose(api);
