/** Tries a proposed change before it is taken: its figures beside the button, its body on the stage. */
import type { Project } from '../../core/recipe/schema';
import type { Fix } from '../../engine/types';
import { engine, setBench, useBench } from './bench';
import { stopSearch } from './ranging';

/** The name a tried change goes by. */
export const tried = (fix: Fix): string => `${fix.step} ${fix.words}`;

const without = (key: string): void => setBench((s) => ({ tried: Object.fromEntries(Object.entries(s.tried).filter(([k]) => k !== key)) }));

export async function tryOut(project: Project, fix: Fix): Promise<void> {
  const key = tried(fix);
  // One thing at a time is tried beside the rebuild.
  for (const [step, r] of Object.entries(useBench.getState().ranges)) if (r.state === 'searching') stopSearch(step);
  for (const [k, t] of Object.entries(useBench.getState().tried)) if (t === 'trying') without(k);
  setBench((s) => ({ tried: { ...s.tried, [key]: 'trying' } }));
  const found = await engine.alternative(project, fix).catch(() => null);
  if (useBench.getState().tried[key] !== 'trying') return;
  if (!found) without(key);
  else setBench((s) => ({ tried: { ...s.tried, [key]: found }, shown: found.scene ? key : s.shown }));
}

export function giveUp(fix: Fix): void {
  without(tried(fix));
  engine.stopRange();
}
