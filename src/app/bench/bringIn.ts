/** Brings solids of a STEP file into the project: read in a worker of its own with a time limit, kept as text, one step to put them in. */
import { transfer, wrap } from 'comlink';
import { toast } from 'sonner';
import { pack } from '../../core/exchange/packed';
import { addStep, freshId } from '../../core/recipe/edit';
import type { Result } from '../../core/result';
import { fail } from '../../core/result';
import { MAX_STEP_BYTES, type StepSolid } from '../../kernel/exchange/step-read';
import type { ImportWorker } from '../import-worker';
import { setBench } from '../state/bench';
import { change } from '../state/project';
import { chooseFile } from '../ui/chooseFile';

/** Reading may take this long, ms. */
const PATIENCE = 60_000;
/** What the project keeps of all that is brought in, characters: its file stays below 5 MB. */
const ROOM = 3_500_000;

async function readInWorker(file: File): Promise<Result<StepSolid[]>> {
  if (file.size > MAX_STEP_BYTES) return fail(`The file is ${(file.size / 1e6).toFixed(1)} MB; up to ${MAX_STEP_BYTES / 1e6} MB are read.`);
  const bytes = new Uint8Array(await file.arrayBuffer());
  const worker = new Worker(new URL('../import-worker.ts', import.meta.url), { type: 'module' });
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<Result<StepSolid[]>>((resolve) => {
    timer = setTimeout(() => resolve(fail(`The STEP file was not read within ${PATIENCE / 1000} s; it may be damaged.`)), PATIENCE);
  });
  const broken = new Promise<Result<StepSolid[]>>((resolve) => {
    worker.onerror = () => resolve(fail('The STEP file broke its reader.'));
  });
  try {
    const api = wrap<ImportWorker>(worker);
    const read = api.read(transfer(bytes, [bytes.buffer])).catch(() => fail('The STEP file broke its reader.'));
    return await Promise.race([read, late, broken]);
  } finally {
    clearTimeout(timer);
    worker.terminate();
  }
}

async function bringInStep(file: File): Promise<void> {
  const waiting = toast.loading(`Reading ${file.name}…`);
  const read = await readInWorker(file);
  toast.dismiss(waiting);
  if (!read.ok) {
    toast.error(read.error);
    return;
  }
  const solids = read.value.map((s) => pack(s.brep));
  const size = solids.reduce((n, s) => n + s.length, 0);
  if (size > ROOM) {
    toast.error(`${file.name} takes ${(size / 1e6).toFixed(1)} MB of the project file, which has ${ROOM / 1e6} MB for such things.`);
    return;
  }
  const name = file.name.replace(/\.(step|stp)$/i, '').slice(0, 80) || 'brought in';
  let id = '';
  change((p) => {
    const key = freshId('file', Object.keys(p.imports ?? {}));
    const withFile = { ...p, imports: { ...p.imports, [key]: { name, solids } } };
    const r = addStep(withFile, 'bring', { file: key, count: solids.length });
    id = r.id;
    return { ...r.project, bodies: { ...r.project.bodies, [id]: { ...r.project.bodies[id]!, name } } };
  });
  setBench({ step: id });
}

/** Asks for the file. */
export const chooseStepFile = (): void => chooseFile('.step,.stp', (file) => void bringInStep(file));
