/** Brings solids of a STEP file, or the facets of a scan, into the project: read in a worker with a time limit, kept as text, one step to put them in. */
import { transfer } from 'comlink';
import { toast } from 'sonner';
import { pack } from '../../core/exchange/packed';
import { addStep, freshId } from '../../core/recipe/edit';
import type { Result } from '../../core/result';
import { fail } from '../../core/result';
import { Helper } from '../../engine/helper';
import { MAX_STEP_BYTES, type StepSolid } from '../../kernel/exchange/step-read';
import { readScanOf } from '../files/read';
import type { ImportWorker } from '../import-worker';
import { setBench } from '../state/bench';
import { change, useProject } from '../state/project';
import { chooseFile } from '../ui/chooseFile';

/** Reading may take so long, s, or so long a megabyte; the kernel may take so long to come. */
const [PATIENCE, A_MB, LOADING] = [10, 2, 60] as const;

const helper = new Helper<ImportWorker>(
  () => new Worker(new URL('../import-worker.ts', import.meta.url), { type: 'module' }),
  'its reader',
  { seconds: LOADING, idle: 10 },
);
/** What the project keeps of all that is brought in, characters: its file stays below 5 MB. */
const ROOM = 3_500_000;

async function readInWorker(file: File, say: (what: string) => void): Promise<Result<StepSolid[]>> {
  if (file.size > MAX_STEP_BYTES) return fail(`The file is ${(file.size / 1e6).toFixed(1)} MB; up to ${MAX_STEP_BYTES / 1e6} MB are read.`);
  const bytes = new Uint8Array(await file.arrayBuffer());
  say('loading the kernel');
  const loaded = await helper.ask((api) => api.load());
  if (!loaded.ok) return fail(`${file.name} was not read: ${loaded.error.words}.`);
  const seconds = Math.max(PATIENCE, (A_MB * file.size) / 1e6);
  say(`reading, for ${Math.round(seconds)} s at most`);
  const read = await helper.ask(async (api) => api.read(transfer(bytes, [bytes.buffer])), seconds);
  helper.stop();
  return read.ok ? read.value : fail(`${file.name} was not read: ${read.error.words}. It may be damaged.`);
}

async function bringInStep(file: File): Promise<void> {
  const waiting = toast.loading(`${file.name}…`);
  const read = await readInWorker(file, (what) => toast.loading(`${file.name}: ${what}…`, { id: waiting }));
  toast.dismiss(waiting);
  if (!read.ok) {
    toast.error(read.error);
    return;
  }
  const solids = read.value.map((s) => pack(s.brep));
  if (!fits(file.name, solids)) return;
  putIn(file.name, { solids }, 'bring', (key) => ({ file: key, count: solids.length }));
}

/** Whether the project has room for more that is brought in; says so where it has not. */
function fits(name: string, texts: readonly string[]): boolean {
  const size = texts.reduce((n, s) => n + s.length, 0);
  const there = Object.values(useProject.getState().project?.imports ?? {}).reduce(
    (n, f) => n + (f.scan?.length ?? 0) + f.solids.reduce((m, s) => m + s.length, 0),
    0,
  );
  if (there + size <= ROOM) return true;
  const besides = there > 0 ? `, beside ${(there / 1e6).toFixed(1)} MB that are there` : '';
  toast.error(`${name} takes ${(size / 1e6).toFixed(1)} MB of the project file${besides}, which has ${ROOM / 1e6} MB for such things.`);
  return false;
}

/** Puts what was read into the project, with the step that brings it in; its body bears the file's name. */
function putIn(
  file: string,
  held: { readonly solids: string[]; readonly scan?: string },
  kind: 'bring' | 'scan',
  inputs: (key: string) => Record<string, unknown>,
): void {
  const name = file.replace(/\.\w+$/, '').slice(0, 80) || 'brought in';
  let id = '';
  change((p) => {
    const key = freshId('file', Object.keys(p.imports ?? {}));
    const r = addStep({ ...p, imports: { ...p.imports, [key]: { name, ...held } } }, kind, inputs(key));
    id = r.id;
    return { ...r.project, bodies: { ...r.project.bodies, [id]: { ...r.project.bodies[id]!, name } } };
  });
  setBench({ step: id });
}

async function bringInScan(file: File): Promise<void> {
  const waiting = toast.loading(`${file.name}…`);
  const read = await readScanOf(file);
  toast.dismiss(waiting);
  if (!read.ok) toast.error(read.error);
  else if (fits(file.name, [read.value.packed])) {
    const { packed, unit } = read.value;
    putIn(file.name, { solids: [], scan: packed }, 'scan', (key) => ({ file: key, unit }));
  }
}

/** Asks for the file. */
export const chooseScanFile = (): void => chooseFile('.stl,.obj,.ply,.3mf,.glb', (file) => void bringInScan(file));

/** Asks for the file. */
export const chooseStepFile = (): void => chooseFile('.step,.stp', (file) => void bringInStep(file));
