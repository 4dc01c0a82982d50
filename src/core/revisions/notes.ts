/** Notes of the log, written by hand: no state of the sheet, and never undone with it. */
import { freshId } from '../recipe/edit';
import type { LogNote, Project } from '../recipe/schema';

/** So many are kept; the oldest go first. */
const MOST = 1000;

export const notesOf = (p: Project): readonly LogNote[] => p.notes ?? [];

/** One more; nothing for an empty one. @param at when, ISO 8601 */
export function withNote(p: Project, text: string, at: string): Project {
  const words = text.trim();
  if (words === '') return p;
  const id = freshId(
    'n',
    notesOf(p).map((n) => n.id),
  );
  return { ...p, notes: [...notesOf(p), { id, at, text: words.slice(0, MOST_LETTERS) }].slice(-MOST) };
}

/** With other words; away where there are none left. */
export const changedNote = (p: Project, id: string, text: string): Project => ({
  ...p,
  notes: notesOf(p).flatMap((n) => (n.id !== id ? [n] : text.trim() === '' ? [] : [{ ...n, text: text.trim().slice(0, MOST_LETTERS) }])),
});

/** Letters of one at most. */
export const MOST_LETTERS = 2000;
