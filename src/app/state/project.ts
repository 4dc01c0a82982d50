/** The open project with undo and redo. */
import { temporal } from 'zundo';
import { create } from 'zustand';
import { type DimensionTable, evaluateDimensions } from '../../core/dimensions/dimensions';
import { changedOnto, setStep } from '../../core/recipe/edit';
import type { Project, Step } from '../../core/recipe/schema';

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
/** Changes a step as it was seen, onto what it is by now: two changes made one right after the other both stay. */
export const changeStep = (seen: Step, next: Step): void =>
  change((p) => setStep(p, changedOnto(p.steps.find((s) => s.id === seen.id) ?? seen, seen, next)));
/** Shows millimetres instead of inches, or the other way round. */
export const otherUnits = (): void => change((p) => ({ ...p, units: p.units === 'mm' ? 'in' : 'mm' }));
/** Changes what is no step of the work: it is neither undone nor redone. */
export function aside(edit: (project: Project) => Project): void {
  const { pause, resume } = useProject.temporal.getState();
  pause();
  change(edit);
  resume();
}
/** Parts that stay as they are, wherever the work is brought back to: states that are kept, what was given up, and notes. */
const STAYS = ['kept', 'givenUp', 'notes'] as const satisfies readonly (keyof Project)[];
function keeping(step: () => void): void {
  const before = useProject.getState().project;
  step();
  const now = useProject.getState().project;
  if (now && STAYS.some((part) => now[part] !== before?.[part]))
    aside((p) => ({ ...p, ...Object.fromEntries(STAYS.map((part) => [part, before?.[part]])) }));
}
export const undo = (): void => {
  if (useProject.temporal.getState().pastStates.length > 0) keeping(() => useProject.temporal.getState().undo());
};
export const redo = (): void => keeping(() => useProject.temporal.getState().redo());

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
