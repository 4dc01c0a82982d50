/** A recipe of 20 steps: what an edit at its end and at its start costs, against the time its steps take. */
import { addStep, newProject, setStep } from '../src/core/recipe/edit';
import type { Project } from '../src/core/recipe/schema';
import { Engine } from '../src/engine/engine';
import { openKernel } from '../src/kernel/open';

const STEPS = 20;
const add = (p: Project, shape: string, mode: object, at: string[], values: Record<string, string>): Project =>
  addStep(p, 'primitive', { shape, plane: 'level', places: [{ at }], ...mode }, values).project;
let project: Project = { ...newProject('Twenty steps'), profiles: [], steps: [], bodies: {} };
project = add(project, 'box', { mode: 'new', body: null }, ['0', '0', '0'], { width: '220', depth: '60', height: '20' });
for (let i = 1; i < STEPS; i++)
  project = add(
    project,
    'cylinder',
    { mode: i % 2 === 1 ? 'cut' : 'join', body: 's1' },
    [`${-100 + i * 10}`, `${i % 3 === 0 ? 12 : -12}`, '0'],
    i % 2 === 1 ? { diameter: '8', height: '20' } : { diameter: '9', height: '26' },
  );

const engine = new Engine({ open: () => openKernel() });
await engine.start();
/** Rebuilds, and says how many steps were computed, in which time, and what the steps themselves took. */
async function rebuild(what: string, p: Project): Promise<void> {
  const t = performance.now();
  const r = await engine.rebuild(p);
  const total = performance.now() - t;
  const failed = r.steps.filter((s) => s.state !== 'done');
  if (failed.length > 0) throw new Error(`${what}: ${failed[0]!.id} is not done: ${failed[0]!.note}`);
  const sum = r.steps.reduce((s, x) => s + x.ms, 0);
  const ratio = r.computed === STEPS ? `, ${(total / sum).toFixed(3)} times the sum of its steps, ${sum.toFixed(0)} ms` : '';
  console.log(`${what}: ${r.computed} of ${STEPS} steps computed in ${total.toFixed(0)} ms${ratio}`);
}
const edited = (at: number, key: string, value: string): Project => {
  const step = project.steps[at]!;
  return setStep(project, { ...step, values: { ...step.values, [key]: value } } as typeof step);
};
await rebuild('cold', project);
engine.clear();
await rebuild('warm', project);
await rebuild('edit of the last step', edited(STEPS - 1, 'diameter', '7'));
await rebuild('edit of the first step', edited(0, 'width', '230'));
await rebuild('nothing changed', edited(0, 'width', '230'));
