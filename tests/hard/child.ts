/** Reads hostile files, or builds hostile documents, one after the other, and prints a line for each: the parent looks on, and begins another child where one hangs. */

import { readFacets } from '../../src/app/inspect/meshFile';
import { readDxf } from '../../src/core/exchange/dxf';
import { readSvg } from '../../src/core/exchange/svg';
import { cageFromObj } from '../../src/core/form/starts';
import { addStep, newProject } from '../../src/core/recipe/edit';
import { parseProject, readProject } from '../../src/core/recipe/file';
import { Engine } from '../../src/engine/engine';
import { writeStep } from '../../src/kernel/exchange/step';
import { readStep } from '../../src/kernel/exchange/step-read';
import { openKernel } from '../../src/kernel/open';
import { chance } from './chance';
import { hostileDocument, hostileFile, READERS, type Reader } from './hostile';

const [what, from, to, seed] = [process.argv[2]!, ...process.argv.slice(3).map(Number)] as [string, number, number, number];
const say = (line: unknown): void => void process.stdout.write(`${JSON.stringify(line)}\n`);

let kernel = openKernel();
const engine = new Engine({
  open: () => {
    kernel = openKernel();
    return kernel;
  },
});

async function soundStep(): Promise<string> {
  const blank = { ...newProject('Part'), profiles: [], steps: [], bodies: {} };
  const inputs = { shape: 'cylinder', plane: 'level', places: [], mode: 'new', body: null };
  await engine.rebuild(addStep(blank, 'primitive', inputs, { diameter: '30 mm', height: '20 mm' }).project);
  const step = writeStep(await engine.start(), [{ shape: engine.bodies()[0]!.body.shape, title: 'Part' }]);
  if (!step.ok) throw new Error(step.error);
  return new TextDecoder().decode(step.value);
}

const text = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const readers: Record<Reader, (bytes: Uint8Array, name: string) => Promise<{ readonly ok: boolean }>> = {
  svg: async (b) => readSvg(text(b)),
  dxf: async (b) => readDxf(text(b)),
  step: async (b) => {
    const r = readStep(await kernel, b);
    // The page ends the worker after each file.
    if (!r.ok && r.error.includes('breaks its reader')) kernel = openKernel();
    return r;
  },
  cage: async (b) => cageFromObj(text(b)),
  stl: async (b, name) => readFacets(b, name),
  obj: async (b, name) => readFacets(b, name),
  project: async (b) => parseProject(text(b)),
};

// What readers write to the console is theirs.
for (const k of ['log', 'warn', 'error', 'info'] as const) console[k] = () => {};

const sound = what === 'files' ? await soundStep() : '';
await engine.start();
for (let i = from; i < to; i++) {
  const c = chance(seed * 1_000_003 + i);
  say({ i, begun: true });
  let started = performance.now();
  try {
    if (what === 'files') {
      const file = hostileFile(c, READERS[i % READERS.length]!, sound);
      started = performance.now();
      const r = await readers[file.reader](file.bytes, file.name);
      say({ i, kind: file.reader, came: r.ok ? 'read' : 'refused', bytes: file.bytes.length, ms: performance.now() - started });
    } else {
      const read = readProject(hostileDocument(c));
      if (!read.ok) {
        say({ i, kind: 'document', came: 'refused', bytes: 0, ms: performance.now() - started });
        continue;
      }
      const r = await engine.rebuild(read.value);
      // A crash is caught for the project's sake, but it is one.
      const crash = r.steps.find((s) => s.message === 'the kernel gave up on this step');
      const failed = r.steps.some((s) => s.state === 'failed');
      const wordless = r.steps.find((s) => s.state === 'failed' && !(s.message && s.why));
      const wrong = crash ?? wordless;
      say({
        i,
        kind: 'document',
        came: wrong ? 'threw' : failed ? 'told' : 'built',
        why: wrong?.why,
        bytes: 0,
        ms: performance.now() - started,
      });
    }
  } catch (e) {
    say({
      i,
      kind: what,
      came: 'threw',
      why: String(e instanceof Error ? e.stack : e).slice(0, 400),
      bytes: 0,
      ms: performance.now() - started,
    });
  }
}
process.exit(0);
