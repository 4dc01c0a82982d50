/** The open project with undo and redo, and its autosave. */
import { temporal } from 'zundo';
import { create } from 'zustand';
import { type DimensionTable, evaluateDimensions } from '../../core/dimensions/dimensions';
import type { Project } from '../../core/recipe/schema';
import { saveProject } from '../storage/store';

interface ProjectState {
  readonly id: string | null;
  readonly project: Project | null;
  readonly open: (id: string, project: Project) => void;
  readonly close: () => void;
  /** One undoable change. */
  readonly change: (edit: (project: Project) => Project) => void;
}

export const useProject = create<ProjectState>()(
  temporal(
    (set) => ({
      id: null,
      project: null,
      open: (id, project) => set({ id, project }),
      close: () => set({ id: null, project: null }),
      change: (edit) => set((s) => (s.project ? { project: edit(s.project) } : s)),
    }),
    { partialize: (s) => ({ project: s.project }), limit: 200, equality: (a, b) => a.project === b.project },
  ),
);

export const change = (edit: (project: Project) => Project): void => useProject.getState().change(edit);
export const undo = (): void => {
  if (useProject.temporal.getState().pastStates.length > 0) useProject.temporal.getState().undo();
};
export const redo = (): void => useProject.temporal.getState().redo();

/** Opens a project without leaving a way to undo into the one before. */
export function openProject(id: string, project: Project): void {
  useProject.getState().open(id, project);
  useProject.temporal.getState().clear();
}

let lastDimensions: Project['dimensions'] | null = null;
let lastTable: DimensionTable = evaluateDimensions([]);
/** The dimension table of a project, worked out once per change. */
export function tableOf(project: Project): DimensionTable {
  if (project.dimensions !== lastDimensions) {
    lastDimensions = project.dimensions;
    lastTable = evaluateDimensions(project.dimensions);
  }
  return lastTable;
}

type SaveState = 'saved' | 'saving' | 'conflict' | 'error';
interface Saving {
  readonly state: SaveState;
  readonly rev: number;
}
export const useSaving = create<Saving>(() => ({ state: 'saved', rev: 0 }));

const DELAY = 350;

/** Saves every change of the open project a moment later; stops at a conflict with another tab. */
export function startAutosave(id: string, rev: number): () => void {
  useSaving.setState({ state: 'saved', rev });
  let timer: ReturnType<typeof setTimeout> | undefined;
  let pending: Project | null = null;
  let writing: Promise<void> = Promise.resolve();
  const flush = (): void => {
    clearTimeout(timer);
    const project = pending;
    pending = null;
    if (!project) return;
    writing = writing.then(async () => {
      const saving = useSaving.getState();
      if (saving.state === 'conflict') return;
      try {
        const outcome = await saveProject(id, project, saving.rev);
        useSaving.setState(outcome.saved ? { state: pending ? 'saving' : 'saved', rev: outcome.rev } : { state: 'conflict' });
      } catch {
        useSaving.setState({ state: 'error' });
      }
    });
  };
  const stop = useProject.subscribe((s, before) => {
    if (s.id !== id || s.project === before.project || !s.project || before.id !== id) return;
    pending = s.project;
    if (useSaving.getState().state !== 'conflict') useSaving.setState({ state: 'saving' });
    clearTimeout(timer);
    timer = setTimeout(flush, DELAY);
  });
  window.addEventListener('pagehide', flush);
  return () => {
    stop();
    flush();
    window.removeEventListener('pagehide', flush);
  };
}
