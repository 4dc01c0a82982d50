import { afterEach, beforeEach, expect, it } from 'vitest';
import { addStep, newProject, patchStep, removeStep } from '../../core/recipe/edit';
import type { StepReport } from '../../engine/types';
import { setBench } from './bench';
import { startGivingUp } from './givingUp';
import { change, openProject, undo, useProject } from './project';

const now = () => useProject.getState().project!;
/** Plays what the engine says of the last step. */
function told(state: StepReport['state'], why: string | null = null, unfinished = false): void {
  const step = now().steps.at(-1)!;
  const report = { id: step.id, kind: step.kind, state, message: why && "it can't be hollowed", why, unfinished } as StepReport;
  setBench((s) => ({ stale: false, reports: { ...s.reports, [step.id]: report } }));
}
const wall = (text: string): void => change((p) => patchStep(p, p.steps.at(-1)!.id, { values: { wall: text } }));
const drop = (): void => change((p) => removeStep(p, p.steps.at(-1)!.id));

let stop = (): void => {};
beforeEach(() => {
  setBench({ reports: {}, stale: false });
  openProject('p', newProject('Beaker'));
  stop = startGivingUp();
  change((p) => addStep(p, 'shell', { body: p.steps[0]!.id, open: [] }, { wall: '3 mm' }).project);
});
afterEach(() => stop());

it('keeps what was tried and why it was refused, once the step is taken away; undo leaves it', async () => {
  told('failed', 'the bead leaves no room');
  setBench({ stale: true });
  wall('2 mm');
  told('failed', 'the bead leaves no room');
  told('failed', 'the bead leaves no room');
  expect(now().givenUp).toBeUndefined();
  drop();
  await Promise.resolve();
  expect(now().givenUp).toMatchObject([
    {
      step: 'step 2 (Hollow)',
      kind: 'shell',
      tries: ['3 mm', '2 mm'].map((t) => ({ with: `wall ${t}`, why: "it can't be hollowed: the bead leaves no room" })),
    },
  ]);
  undo();
  await Promise.resolve();
  expect([now().steps.length, now().givenUp!.length]).toEqual([2, 1]);
  // A road that is undone is given up as well.
  told('failed', 'no room at all');
  undo();
  undo();
  await Promise.resolve();
  expect([now().steps.length, now().givenUp!.length]).toEqual([1, 2]);
});

it('says nothing of what worked in the end, of what waited for its picks, nor of an older sheet', async () => {
  told('failed', 'the bead leaves no room');
  told('done');
  drop();
  await Promise.resolve();
  expect(now().givenUp).toBeUndefined();
  change((p) => addStep(p, 'shell', { body: p.steps[0]!.id, open: [] }, {}).project);
  told('failed', 'nothing is picked', true);
  drop();
  await Promise.resolve();
  expect(now().givenUp).toBeUndefined();
});
