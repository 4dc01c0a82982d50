/** States of the sheet that are kept: by hand, when something leaves, and before the work goes back to one. */
import type { GaugeReading } from '../../core/brief/gauges';
import type { KeptState, Project } from '../../core/recipe/schema';
import type { Result } from '../../core/result';
import { forget, isKept, keep, keptOf, restored } from '../../core/revisions/kept';
import { useBench } from './bench';
import { aside, change, useProject } from './project';

/** Gauges as they are kept: none while they are still those of an older state. */
export function readingsOf(
  gauges: readonly GaugeReading[],
  { stale, measuring }: { readonly stale: boolean; readonly measuring: boolean } = useBench.getState(),
): Record<string, number> {
  return stale || measuring ? {} : Object.fromEntries(gauges.flatMap((g) => (g.applies && g.value !== null ? [[g.id, g.value]] : [])));
}

/** @param gauges as they stand @returns false where it is kept already: what leaves twice is kept once */
export function keepState(name: string, by: KeptState['by'], gauges: readonly GaugeReading[]): boolean {
  const { project } = useProject.getState();
  if (!project || (by !== 'hand' && isKept(project))) return false;
  aside((p) => keep(p, name, new Date().toISOString(), by, readingsOf(gauges)));
  return true;
}

export const forgetState = (id: string): void => aside((p) => forget(p, id));
export const renameState = (id: string, name: string): void =>
  aside((p) => ({ ...p, kept: keptOf(p).map((k) => (k.id === id ? { ...k, name } : k)) }));

/** The sheet becomes what it was; what it is now is kept first, and undo brings it back. In words where it can't be read. */
export function goBackTo(id: string, gauges: readonly GaugeReading[]): Result<Project> {
  const project = useProject.getState().project!;
  const there = restored(project, id);
  if (!there.ok) return there;
  keepState('', 'return', gauges);
  change((p) => ({ ...there.value, kept: p.kept }));
  return there;
}
