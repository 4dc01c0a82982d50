/** What is saved and when, with a store of one's own: nothing is written over another tab's work, and nothing is called saved that is not. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { newProject } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import type { SaveOutcome } from '../storage/store';
import { change, openProject, useProject } from './project';
import { autosave, isUnsaved, useSaving } from './saving';

const store = { rev: 1, doc: newProject('Stored') as Project, deleted: false, broken: false, writes: 0 };
const save = async (_: string, project: Project, rev: number): Promise<SaveOutcome> => {
  await Promise.resolve();
  if (store.broken) throw new Error('no room');
  if (store.deleted) return { saved: false, because: 'deleted' };
  if (store.rev !== rev) return { saved: false, because: 'changed' };
  if (project.name === '') return { saved: false, because: 'unreadable', why: 'at name: empty' };
  Object.assign(store, { rev: rev + 1, doc: project, writes: store.writes + 1 });
  return { saved: true, rev: rev + 1 };
};
const rename = (name: string): void => change((p) => ({ ...p, name }));
const state = (): string => useSaving.getState().state;
const later = (ms: number): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  vi.useFakeTimers();
  Object.assign(store, { rev: 1, doc: newProject('Stored'), deleted: false, broken: false, writes: 0 });
  openProject('p1', newProject('Mine'));
});
afterEach(() => {
  useProject.getState().close();
  vi.useRealTimers();
});

describe('saving', () => {
  it('writes a moment after the last change, once, and says so', async () => {
    const saver = autosave('p1', 1, save);
    expect(state()).toBe('saved');
    rename('A');
    rename('B');
    expect(state()).toBe('saving');
    await later(1000);
    expect([state(), store.doc.name, store.writes]).toEqual(['saved', 'B', 1]);
    await saver.stop();
  });
  it('of a change that was made while another was written is not lost', async () => {
    const saver = autosave('p1', 1, save);
    rename('A');
    const first = saver.flush();
    await Promise.resolve();
    rename('B');
    await first;
    expect(state()).toBe('saving');
    await later(1000);
    expect([state(), store.doc.name]).toEqual(['saved', 'B']);
    await saver.stop();
  });
  it('never writes mine over theirs once theirs was taken, not even what is committed while it is', async () => {
    const saver = autosave('p1', 1, save);
    Object.assign(store, { rev: 2, doc: newProject('Theirs') });
    saver.heard(2, false);
    // Nothing of this page's own is lost yet.
    expect([state(), isUnsaved()]).toEqual(['changed', false]);
    // A field that is left commits what was typed in it.
    rename('Mine, typed');
    expect([state(), isUnsaved()]).toEqual(['changed', true]);
    const stopping = saver.stop();
    openProject('p1', store.doc);
    const next = autosave('p1', store.rev, save);
    await stopping;
    await later(10_000);
    expect([state(), store.doc.name, store.rev, store.writes]).toEqual(['saved', 'Theirs', 2, 0]);
    await next.stop();
  });
  it('finds out by itself that another tab wrote, or deleted', async () => {
    for (const [what, words] of [
      [{ rev: 5 }, 'changed'],
      [{ deleted: true }, 'deleted'],
    ] as const) {
      Object.assign(store, { rev: 1, deleted: false }, what);
      const saver = autosave('p1', 1, save);
      rename(`${words} elsewhere`);
      await later(1000);
      expect(state()).toBe(words);
      await saver.stop();
    }
    expect(store.writes).toBe(0);
  });
  it('is not mistaken by news of its own writes or of older ones', async () => {
    const saver = autosave('p1', 1, save);
    rename('A');
    await later(1000);
    saver.heard(2, false);
    saver.heard(1, false);
    expect(state()).toBe('saved');
    await saver.stop();
  });
  it('is tried again by itself when the storage refuses, without a new edit', async () => {
    const saver = autosave('p1', 1, save);
    store.broken = true;
    rename('A');
    await later(1000);
    expect([state(), isUnsaved(), useSaving.getState().why]).toEqual(['error', true, 'no room']);
    store.broken = false;
    await later(5000);
    expect([state(), store.doc.name]).toEqual(['saved', 'A']);
    await saver.stop();
  });
  it('refuses what could not be read again, and goes on with the next change', async () => {
    const saver = autosave('p1', 1, save);
    rename('');
    await later(1000);
    expect([state(), store.doc.name]).toEqual(['unreadable', 'Stored']);
    rename('Sound');
    await later(1000);
    expect([state(), store.doc.name]).toEqual(['saved', 'Sound']);
    await saver.stop();
  });
  it('writes what is pending when it ends, and says nothing after that', async () => {
    const saver = autosave('p1', 1, save);
    rename('Last');
    await saver.stop();
    expect(store.doc.name).toBe('Last');
    rename('Afterwards');
    await later(5000);
    expect(store.doc.name).toBe('Last');
  });
});
