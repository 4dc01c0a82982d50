/** Searches the range of the value of a step that failed, or else of the chosen one, while nothing else is going on. */

import { hashText } from '../../core/hash';
import type { Project, Step } from '../../core/recipe/schema';
import { stepDefinitions } from '../../core/recipe/steps';
import type { Ranging } from './asked';
import { engine, setBench, useBench } from './bench';
import { useProject } from './project';

/** Quiet time before a search begins, ms. */
const QUIET = 1200;

/** The value of a step that has a range, where it is done at all. */
const rangedValue = (step: Step | undefined): string | undefined => (step?.enabled ? stepDefinitions[step.kind]?.ranged : undefined);

function keyOf(project: Project, stepId: string): string | null {
  const at = project.steps.findIndex((s) => s.id === stepId);
  const step = project.steps[at];
  const value = rangedValue(step);
  if (!step || !value) return null;
  const rest = { ...step, values: { ...step.values, [value]: '' }, note: '', group: '' };
  const before = project.steps.slice(0, at).map((s) => ({ ...s, note: '', group: '' }));
  return hashText(JSON.stringify([project.dimensions, project.profiles, before, rest]));
}

/** The step whose range is wanted now: what was refused goes before what is merely looked at. */
function wanted(project: Project): string | null {
  const { reports, step } = useBench.getState();
  // What still waits for its picks has nothing to be searched on.
  const refused = project.steps.find((s) => reports[s.id]?.state === 'failed' && !reports[s.id]!.unfinished);
  if (refused && rangedValue(refused)) return refused.id;
  return step !== null && reports[step]?.unfinished ? null : step;
}

async function search(project: Project, stepId: string, key: string): Promise<void> {
  const put = (ranging: Ranging): void => setBench((s) => ({ ranges: { ...s.ranges, [stepId]: ranging } }));
  const current = (): boolean => useBench.getState().ranges[stepId]?.key === key;
  put({ key, done: 0, of: 12, report: null, state: 'searching' });
  const told = useBench.getState().reports[stepId]?.state;
  const state = told === 'done' || told === 'warned' ? 'works' : told === 'failed' ? 'fails' : 'unknown';
  const report = await engine.range(project, stepId, state, (done, of) => {
    const now = useBench.getState().ranges[stepId];
    if (now?.key === key && now.state === 'searching') put({ ...now, done, of });
  });
  if (!current()) return;
  const now = useBench.getState().ranges[stepId]!;
  if (report) put({ ...now, report, state: 'found' });
  else if (now.state === 'searching') put({ ...now, state: 'none' });
}

export function stopSearch(stepId: string): void {
  const now = useBench.getState().ranges[stepId];
  if (now) setBench((s) => ({ ranges: { ...s.ranges, [stepId]: { ...now, state: 'stopped' } } }));
  engine.stopRange();
}

/** Begins a search whenever a step with a range failed or is chosen and the bench is idle; a change of the document gives it up. */
export function startRanging(): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const consider = (): void => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      const { stale, running, measuring, ranges, kernel, tried } = useBench.getState();
      // A change that is being tried has the worker: the search begins when it is through.
      if (Object.values(tried).includes('trying')) return;
      const project = useProject.getState().project;
      const step = project && wanted(project);
      if (!project || !step || stale || running || measuring || kernel !== 'ready') return;
      const key = keyOf(project, step);
      if (!key || ranges[step]?.key === key) return;
      void search(project, step, key);
    }, QUIET);
  };
  const stopBench = useBench.subscribe((s, before) => {
    const same = s.step === before.step && s.stale === before.stale && s.measuring === before.measuring && s.running === before.running;
    if (same && s.tried === before.tried) return;
    // A change of the document, or of what is looked at, ends what was searched for.
    const searching = Object.entries(s.ranges).find(([, r]) => r.state === 'searching')?.[0];
    const project = useProject.getState().project;
    if (searching && (s.stale || !project || wanted(project) !== searching)) {
      engine.stopRange();
      const { [searching]: _, ...rest } = s.ranges;
      setBench({ ranges: rest });
    }
    consider();
  });
  return () => {
    clearTimeout(timer);
    stopBench();
    engine.stopRange();
    setBench({ ranges: {} });
  };
}
