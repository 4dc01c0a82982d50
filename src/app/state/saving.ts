/** Saves the open project, and says what is not saved. */
import { create } from 'zustand';
import type { Project } from '../../core/recipe/schema';
import { wordsOf } from '../../core/result';
import { type SaveOutcome, saveProject } from '../storage/store';
import { useProject } from './project';

export type SaveState = 'saved' | 'saving' | 'changed' | 'deleted' | 'unreadable' | 'error';
export const useSaving = create<{ readonly state: SaveState; readonly why: string; readonly pending: boolean }>(() => ({
  state: 'saved',
  why: '',
  pending: false,
}));

/** Whether changes would be lost if the page went now; what is about to be written is written as it goes. */
export const isUnsaved = (): boolean => {
  const { state, pending } = useSaving.getState();
  return pending && state !== 'saving';
};

/** What is on the page is kept elsewhere. */
export const keptElsewhere = (): void => useSaving.setState({ pending: false });

/** Quiet time before a change is written, and before writing is tried again after it failed, ms. */
const [DELAY, AGAIN] = [350, 4000];

type Save = (id: string, project: Project, rev: number) => Promise<SaveOutcome>;

export interface Saver {
  /** Writes what is pending, now. */
  readonly flush: () => Promise<void>;
  /** Another tab has written a revision, or deleted the project with it. */
  readonly heard: (rev: number, deleted: boolean) => void;
  /** Ends it; what is pending is written first, except where another tab has the say. */
  readonly stop: () => Promise<void>;
}

/**
 * Saves every change a moment later. The revision it builds on and what is pending are its own, so that nothing of it can end up on another revision.
 * At a conflict what is pending stays on the page, and is never written over what the other tab has.
 */
export function autosave(id: string, rev: number, save: Save = saveProject): Saver {
  let known = rev;
  let pending: Project | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let writing: Promise<void> = Promise.resolve();
  let ended = false;
  let lost = false;
  const say = (state: SaveState, why = ''): void => {
    if (!ended) useSaving.setState({ state, why, pending: pending !== null });
  };
  say('saved');
  const lose = (state: 'changed' | 'deleted'): void => {
    lost = true;
    clearTimeout(timer);
    say(state);
  };
  const write = async (): Promise<void> => {
    const project = pending;
    if (!project || lost) return;
    try {
      const outcome = await save(id, project, known);
      if (outcome.saved) {
        known = outcome.rev;
        if (pending === project) pending = null;
        say(pending ? 'saving' : 'saved');
      } else if (outcome.because === 'unreadable') say('unreadable', outcome.why);
      else lose(outcome.because);
    } catch (e) {
      say('error', wordsOf(e));
      clearTimeout(timer);
      timer = setTimeout(() => void flush(), AGAIN);
    }
  };
  const flush = (): Promise<void> => {
    clearTimeout(timer);
    writing = writing.then(write);
    return writing;
  };
  const stopListening = useProject.subscribe((s, before) => {
    if (s.id !== id || before.id !== id || !s.project || s.project === before.project) return;
    pending = s.project;
    if (lost) {
      if (!ended) useSaving.setState({ pending: true });
      return;
    }
    say('saving');
    clearTimeout(timer);
    timer = setTimeout(() => void flush(), DELAY);
  });
  return {
    flush,
    heard: (theirs, deleted) => {
      // Its own writes are announced too.
      if (theirs > known && !lost) lose(deleted ? 'deleted' : 'changed');
    },
    stop: () => {
      stopListening();
      const last = flush();
      ended = true;
      return last.then(() => clearTimeout(timer));
    },
  };
}
