/** Reads files beside the page: whatever is in them, the page stays free, and a reader that hangs is ended. */
import { expose, transfer } from 'comlink';
import { readDxf } from '../core/exchange/dxf';
import { readSvg } from '../core/exchange/svg';
import { cageFromObj } from '../core/form/starts';
import { parseProject } from '../core/recipe/file';
import type { Result } from '../core/result';
import { readScan } from './files/scan-file';
import { readFacets, readMeshFile } from './inspect/meshFile';

const worker = {
  /** A plane drawing, by the ending of its file's name. */
  drawing: (text: string, name: string) => (/\.dxf$/i.test(name) ? readDxf(text) : readSvg(text)),
  project: (text: string) => parseProject(text),
  cage: (text: string) => cageFromObj(text),
  mesh: (bytes: Uint8Array, name: string) => readMeshFile(bytes, name),
  scan: (bytes: Uint8Array, name: string) => readScan(bytes, name),
  facets(bytes: Uint8Array, name: string): Result<Float32Array> {
    const r = readFacets(bytes, name);
    return r.ok ? transfer(r, [r.value.buffer]) : r;
  },
};
export type FilesWorker = typeof worker;
expose(worker);
