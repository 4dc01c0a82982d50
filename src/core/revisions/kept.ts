/**
 * States of a sheet that are kept: the newest whole, the older ones as the changes that lead back to them, so that hundreds stay small. They belong to
 * the project, go into its file, and are no state themselves.
 */
import { readProject } from '../recipe/file';
import { type KeptState, MOST_WORDS, type Project } from '../recipe/schema';
import { fail, type Result } from '../result';
import { ASIDE, type Change, changed, changesBetween } from './changes';
import { changeWords } from './words';

/** States of a project at most; the oldest that nobody named go first. */
const MOST_KEPT = 500;

/** A state without what is no part of it. */
export function bare(p: Project): Project {
  const rest: Partial<Project> = { ...p };
  for (const part of ASIDE) delete rest[part];
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
  const all = [...older, { id: `k${n}`, name: name.trim().slice(0, MOST_WORDS), at, by, readings: { ...readings }, state }];
  return {
    ...p,
    kept:
      all.length > MOST_KEPT
        ? without(
            all,
            Math.max(
              0,
              all.findIndex((k) => k.by !== 'hand'),
            ),
          )
        : all,
  };
}

/** One state less: what led back over it leads past it. */
export function forget(p: Project, id: string): Project {
  const all = keptOf(p);
  const at = all.findIndex((k) => k.id === id);
  return at < 0 ? p : { ...p, kept: without(all, at) };
}

function without(all: readonly KeptState[], at: number): KeptState[] {
  const states = statesOf(all).toSpliced(at, 1);
  return all.toSpliced(at, 1).map(({ state: _, back: __, ...rest }, i) => {
    const [state, next] = [states[i]!, states[i + 1]];
    return next ? { ...rest, back: changesBetween(next, state) } : { ...rest, state };
  });
}

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
      ...Object.fromEntries(ASIDE.flatMap((part) => (p[part] === undefined ? [] : [[part, p[part]]]))),
    });
  } catch {
    return fail('this state is damaged');
  }
}

const sentences = (from: Project, to: Project): string[] => changesBetween(from, to).flatMap((c) => changeWords(c, from, to));

/** Kept states with what changed from each to the next, in sentences, the newest last. */
export function history(p: Project): { readonly kept: KeptState; readonly told: string[] }[] {
  const all = keptOf(p);
  const states = statesOf(all);
  return all.map((kept, i) => ({ kept, told: i === 0 ? [] : sentences(states[i - 1]!, states[i]!) }));
}

/** What changed since the last state that was kept, in sentences. */
export function sinceKept(p: Project): string[] {
  const last = keptOf(p).at(-1)?.state as Project | undefined;
  return last ? sentences(last, bare(p)) : [];
}
