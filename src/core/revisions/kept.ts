/**
 * States of a sheet that are kept: the newest whole, the older ones as the changes that lead back to them, so that hundreds stay small. They belong to
 * the project, go into its file, and are no state themselves.
 */
import { readProject } from '../recipe/file';
import type { KeptState, Project } from '../recipe/schema';
import { fail, type Result } from '../result';
import { type Change, changed, changesBetween } from './changes';

/** States of a project at most; the oldest that nobody named go first. */
const MOST_KEPT = 500;

/** A state without what is no part of it. */
export function bare(p: Project): Project {
  const { kept: _, imports: __, givenUp: ___, ...rest } = p;
  return rest as Project;
}

export const keptOf = (p: Project): readonly KeptState[] => p.kept ?? [];

/** Whether a sheet is as it was kept last. */
export const isKept = (p: Project): boolean => {
  const last = keptOf(p).at(-1);
  return last !== undefined && changesBetween(last.state as Project, bare(p)).length === 0;
};

/** The sheet with its state kept. @param by what kept it @param readings gauges as they stand */
export function keep(p: Project, name: string, at: string, by: KeptState['by'], readings: Readonly<Record<string, number>> = {}): Project {
  const before = keptOf(p);
  const ids = new Set(before.map((k) => k.id));
  let n = before.length + 1;
  while (ids.has(`k${n}`)) n++;
  const last = before.at(-1);
  const state = bare(p);
  const older: KeptState[] = before.slice(0, -1);
  if (last) {
    const { state: was, ...rest } = last;
    older.push({ ...rest, back: changesBetween(state, was as Project) });
  }
  const all = [...older, { id: `k${n}`, name: name.trim().slice(0, 120), at, by, readings: { ...readings }, state }];
  return { ...p, kept: all.length > MOST_KEPT ? pruned(all) : all };
}

/** One state less: what led back over it leads past it. */
export function forget(p: Project, id: string): Project {
  const all = keptOf(p);
  const at = all.findIndex((k) => k.id === id);
  if (at < 0) return p;
  const states = statesOf(all);
  const left = all.filter((_, i) => i !== at);
  const whole = states.filter((_, i) => i !== at);
  return { ...p, kept: left.map((k, i) => packed(k, whole, i)) };
}

/** A kept state as it is stored among others. */
function packed(k: KeptState, states: readonly Project[], i: number): KeptState {
  const { state: _, back: __, ...rest } = k;
  return i === states.length - 1 ? { ...rest, state: states[i]! } : { ...rest, back: changesBetween(states[i + 1]!, states[i]!) };
}

const pruned = (all: readonly KeptState[]): KeptState[] => {
  const gone = Math.max(
    0,
    all.findIndex((k) => k.by !== 'hand'),
  );
  const states = statesOf(all);
  const left = all.filter((_, i) => i !== gone);
  const whole = states.filter((_, i) => i !== gone);
  return left.map((k, i) => packed(k, whole, i));
};

/** All that are kept, each brought back from the next. */
function statesOf(all: readonly KeptState[]): Project[] {
  const out: Project[] = new Array(all.length);
  for (let i = all.length - 1; i >= 0; i--)
    out[i] = i === all.length - 1 ? (all[i]!.state as Project) : changed(out[i + 1]!, (all[i]!.back ?? []) as Change[]);
  return out;
}

/** A kept state as a sheet, with what was brought in and all that is kept; in words where it can't be read. */
export function restored(p: Project, id: string): Result<Project> {
  const all = keptOf(p);
  const at = all.findIndex((k) => k.id === id);
  if (at < 0) return fail('this state is not kept');
  try {
    return readProject({
      ...statesOf(all)[at],
      ...(p.imports ? { imports: p.imports } : {}),
      kept: p.kept,
      ...(p.givenUp ? { givenUp: p.givenUp } : {}),
    });
  } catch {
    return fail('this state is damaged');
  }
}

/** Kept states with what changed from each to the next, the newest last. @param words says a change */
export function history(
  p: Project,
  words: (change: Change, before: Project, after: Project) => string[],
): { readonly kept: KeptState; readonly told: string[] }[] {
  const all = keptOf(p);
  const states = statesOf(all);
  return all.map((kept, i) => ({
    kept,
    told: i === 0 ? [] : changesBetween(states[i - 1]!, states[i]!).flatMap((c) => words(c, states[i - 1]!, states[i]!)),
  }));
}

/** What changed since the last state that was kept. */
export function sinceKept(p: Project, words: (change: Change, before: Project, after: Project) => string[]): string[] {
  const last = keptOf(p).at(-1)?.state as Project | undefined;
  const now = bare(p);
  return last ? changesBetween(last, now).flatMap((c) => words(c, last, now)) : [];
}
