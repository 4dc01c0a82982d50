/** Tries proposed changes before they are taken: their figures beside the button, the body on the stage. */
import type { Project } from '../../core/recipe/schema';
import { stepDefinitions } from '../../core/recipe/steps';
import type { Fix } from '../../engine/types';
import { engine, setBench, useBench } from './bench';
import { useProject } from './project';
import { stopSearch } from './ranging';

/** The name a tried change goes by. */
export const tried = (fix: Fix): string => `${fix.step} ${fix.words}`;

/** Whether a change is of a step that can be done beside the rebuild. */
export const canBeTried = (project: Project, fix: Fix): boolean =>
  stepDefinitions[fix.kind ?? project.steps.find((s) => s.id === fix.step)?.kind ?? '']?.tried === true;

const without = (key: string): void => setBench((s) => ({ tried: Object.fromEntries(Object.entries(s.tried).filter(([k]) => k !== key)) }));

/** Changes that are not begun again by themselves. */
const stopped = new Set<string>();

/** @param show put the body on the stage once it is there */
export async function tryOut(project: Project, fix: Fix, show = true): Promise<void> {
  const key = tried(fix);
  // One thing at a time is tried beside the rebuild.
  for (const [step, r] of Object.entries(useBench.getState().ranges)) if (r.state === 'searching') stopSearch(step);
  for (const [k, t] of Object.entries(useBench.getState().tried)) if (t === 'trying') without(k);
  setBench((s) => ({ tried: { ...s.tried, [key]: 'trying' } }));
  const found = await engine.alternative(project, fix).catch(() => null);
  if (useBench.getState().tried[key] !== 'trying') return;
  if (!found) {
    // Nothing came of it, and would not the next time: it is left to the hand.
    stopped.add(key);
    without(key);
  } else setBench((s) => ({ tried: { ...s.tried, [key]: found }, shown: show && found.scene ? key : s.shown }));
}

export function giveUp(fix: Fix): void {
  // What was stopped by hand is not begun again by itself.
  stopped.add(tried(fix));
  without(tried(fix));
  engine.stopRange();
}

/** Quiet time before trying begins, ms; and the most that is tried of one failed step. */
const [QUIET, MOST] = [300, 4];

/** The changes that a failed step proposes and nothing is known of yet. */
function untried(project: Project): Fix | undefined {
  const { result, tried: known } = useBench.getState();
  const failed = result?.steps.find((s) => s.state === 'failed' && s.fixes.length > 0);
  return failed?.fixes
    .filter((f) => canBeTried(project, f))
    .slice(0, MOST)
    .find((f) => known[tried(f)] === undefined && !stopped.has(tried(f)));
}

/** Tries what a failed step proposes while nothing else is going on, so that what is offered first works. */
export function startTrying(): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const consider = (): void => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      const { stale, running, kernel, tried: known } = useBench.getState();
      const project = useProject.getState().project;
      if (!project || stale || running || kernel !== 'ready' || Object.values(known).includes('trying')) return;
      const next = untried(project);
      if (next) void tryOut(project, next, false);
    }, QUIET);
  };
  const stop = useBench.subscribe((s, before) => {
    if (s.stale && !before.stale) {
      stopped.clear();
      // What was being tried belongs to a sheet that is gone.
      if (Object.values(before.tried).includes('trying')) engine.stopRange();
    }
    if (s.result !== before.result || s.running !== before.running || s.tried !== before.tried) consider();
  });
  return () => {
    clearTimeout(timer);
    stop();
  };
}
