/** Files that a user brings, read beside the page within a time that goes with their size. */
import type { Remote } from 'comlink';
import type { PlaneDrawing } from '../../core/exchange/drawing';
import type { Cage } from '../../core/form/cage';
import type { Project } from '../../core/recipe/schema';
import { fail, type Result } from '../../core/result';
import { Helper } from '../../engine/helper';
import type { FilesWorker } from '../files-worker';
import type { MeshPlaces } from '../inspect/meshFile';
import type { ReadScan } from './scan-file';

/** Time for the worker itself to come, and for each megabyte, s; at most so many. */
const [START, A_MB, MOST] = [6, 2, 14] as const;

const helper = new Helper<FilesWorker>(
  () => new Worker(new URL('../files-worker.ts', import.meta.url), { type: 'module' }),
  'The reader',
  // Its memory goes with it.
  { seconds: MOST, idle: 0 },
);

async function read<T>(file: File, work: (api: Remote<FilesWorker>) => Promise<Result<T>>): Promise<Result<T>> {
  const seconds = Math.min(MOST, START + (A_MB * file.size) / 1e6);
  const r = await helper.ask(work, seconds);
  return r.ok ? r.value : fail(`${file.name} was not read: ${r.error.words.replace(/^The/, 'the')}. It may be damaged.`);
}

export const readDrawing = (file: File): Promise<Result<PlaneDrawing>> =>
  read(file, async (api) => {
    const r = await api.drawing(await file.text(), file.name);
    return r.ok ? r : fail(`${file.name}: ${r.error}`);
  });
export const readProjectFile = (file: File): Promise<Result<Project>> => read(file, async (api) => api.project(await file.text()));
export const readCage = (file: File): Promise<Result<Cage>> => read(file, async (api) => api.cage(await file.text()));
const bytesOf = async (file: File): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer());
export const readMesh = (file: File): Promise<Result<MeshPlaces>> => read(file, async (api) => api.mesh(await bytesOf(file), file.name));
export const readScanOf = (file: File): Promise<Result<ReadScan>> => read(file, async (api) => api.scan(await bytesOf(file), file.name));
export const readFacetsOf = (file: File): Promise<Result<Float32Array>> =>
  read(file, async (api) => api.facets(await bytesOf(file), file.name));
