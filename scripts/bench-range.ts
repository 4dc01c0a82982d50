/** How many operations, and how long against one of them, the range of a round takes on a body of some thirty faces. */
import { performance } from 'node:perf_hooks';
import { addStep, newProject } from '../src/core/recipe/edit';
import type { Project } from '../src/core/recipe/schema';
import { Engine } from '../src/engine/engine';
import { searchRange } from '../src/engine/range';
import { openKernel } from '../src/kernel/open';

const engine = new Engine({ open: () => openKernel() });
const add = (p: Project, kind: Parameters<typeof addStep>[1], inputs: Record<string, unknown>, values: Record<string, string>): Project =>
  addStep(p, kind, inputs, values).project;
const row = { along: 'row', axis: 'x', paths: [], by: 'spacing', symmetric: 'both', skip: '' };

let p: Project = { ...newProject('Bench'), profiles: [], steps: [], bodies: {} };
p = add(p, 'primitive', { shape: 'box', plane: 'level', places: [], mode: 'new', body: null }, { width: '120', depth: '40', height: '20' });
p = add(
  p,
  'primitive',
  { shape: 'box', plane: 'level', places: [{ at: ['0', '0', '15'] }], mode: 'cut', body: 's1' },
  { width: '8', depth: '60', height: '10' },
);
p = add(p, 'pattern', { ...row, what: 'step', step: 's2', body: 's1' }, { count: '7', length: '16 mm' });
p = add(p, 'fillet', { body: 's1', edges: [{ edge: 's1/front|s1/right' }] }, { radius: '2 mm' });
const built = await engine.rebuild(p);
const last = built.steps.at(-1)!;
if (last.state !== 'done') throw new Error(`${last.message}: ${last.why}`);
const kernel = await engine.start();
const started = performance.now();
const found = await searchRange(kernel, p, 's4', engine.madeBefore(p, 's4'), 'works');
const ms = performance.now() - started;
console.log(
  `range of one round on a body of ${built.bodies[0]!.faces} faces: up to ${found!.most!.toFixed(2)} mm in ${found!.trials.length} trials, ${ms.toFixed(0)} ms; one such operation ${last.ms.toFixed(0)} ms, ratio ${(ms / last.ms).toFixed(1)}`,
);
