/** The inspection page's questions: asked of the built body, answered in the worker, shown on the stage. */
import { create } from 'zustand';
import { judgedBody } from '../../core/brief/judge';
import { type Ask, standardAsks } from '../../core/inspect/asks';
import type { LostMeasure, MeasureReading } from '../../core/inspect/measured';
import { planeOf } from '../../core/inspect/sweep';
import { addMeasurement } from '../../core/recipe/edit';
import type { MeasuredThing } from '../../core/recipe/schema';
import type { Answer } from '../../engine/inspect';
import { engine, setBench, useBench } from './bench';
import { change, useProject } from './project';

interface InspectState {
  readonly ask: Ask;
  readonly body: string | null;
  /** Share done of a running question; null where none runs. */
  readonly progress: number | null;
  readonly answer: Answer | null;
  /** The section that is shown, by its row. */
  readonly row: number | null;
  /** Outlines of it, or of a stack of sections, in space, mm. */
  readonly outlines: readonly (readonly (readonly [number, number, number])[])[];
  /** Many sections are shown at once, as contours. */
  readonly stack: boolean;
  /** Readings of the document's measurements; their lines stay on the stage whatever is asked. */
  readonly measured: readonly (MeasureReading | LostMeasure)[];
  /** The first of two things, while the second is still to be picked. */
  readonly first: MeasuredThing | null;
}

export const useInspect = create<InspectState>(() => ({
  ask: standardAsks(null).walls,
  body: null,
  progress: null,
  answer: null,
  row: null,
  outlines: [],
  stack: false,
  measured: [],
  first: null,
}));
const set = useInspect.setState;

let latest = 0;

/** Asks the question that is set of the chosen body; what was asked before is given up. */
export async function inspect(): Promise<void> {
  const mine = ++latest;
  const project = useProject.getState().project;
  const { result, stale } = useBench.getState();
  const { ask: asked, body } = useInspect.getState();
  const ask = asked.what === 'measure' ? { ...asked, list: project?.measures ?? [] } : asked;
  const id = project && judgedBody(project, result?.bodies ?? [], (b) => b.id, body)?.id;
  if (!project || !id || stale) return set({ progress: null });
  set({ progress: 0 });
  // Progress travels on a port of its own and may arrive after the answer.
  const answer = await engine
    .inspect(project, id, ask, (share) => {
      if (mine === latest && useInspect.getState().progress !== null) set({ progress: share });
    })
    .catch(() => null);
  if (mine !== latest) return;
  set({ progress: null, ...(answer ? { answer, row: null, outlines: [] } : {}) });
  if (answer?.what === 'sections') {
    const thinnest = answer.rows.reduce((best, r, i) => ((r.least ?? Infinity) < (answer.rows[best]!.least ?? Infinity) ? i : best), 0);
    showRow(thinnest);
  }
}

export function stopInspecting(): void {
  latest++;
  engine.stopInspecting();
  set({ progress: null });
}

/** Sections of a stack that are drawn at once. */
const STACK = 24;
let drawn = 0;

/** Shows a section by its row: its plane and its outlines. */
export function showRow(row: number): void {
  set({ row });
  void outline();
}

export function showStack(stack: boolean): void {
  set({ stack });
  void outline();
}

async function outline(): Promise<void> {
  const mine = ++drawn;
  const { answer, row, stack } = useInspect.getState();
  if (answer?.what !== 'sections' || row === null) return;
  const every = Math.max(1, Math.floor(answer.rows.length / STACK));
  const rows = stack ? answer.rows.filter((_, i) => i % every === 0) : [answer.rows[row]!];
  const found: [number, number, number][][] = [];
  for (const r of rows) {
    const section = await engine.sectionOutlines(answer.body, planeOf(r));
    // A newer place was pointed at: what is on its way is not drawn.
    if (mine !== drawn) return;
    if (section) found.push(...section.places);
  }
  set({ outlines: found });
}

/** Reads the document's measurements again. */
export async function remeasure(): Promise<void> {
  const list = useProject.getState().project?.measures ?? [];
  const found = list.length > 0 ? ((await engine.measurements(list).catch(() => null)) ?? []) : [];
  // Meanwhile others may have been taken: those are read with the next build.
  if (useProject.getState().project?.measures === list || list.length === 0) set({ measured: found });
}

/** Keeps a measurement in the document, where it is read anew with every build. */
export function keepMeasurement(a: MeasuredThing, b: MeasuredThing | null): void {
  set({ first: null });
  change((p) => addMeasurement(p, a, b));
}

/** Takes what was picked on the stage: the first thing waits for the second. */
export function pickMeasured(thing: MeasuredThing): void {
  const { first } = useInspect.getState();
  if (!first) return set({ first: thing });
  if (JSON.stringify(first) !== JSON.stringify(thing)) keepMeasurement(first, thing);
}

export const setFirst = (first: MeasuredThing | null): void => set({ first });

/** Sets a question and asks it. */
export function ask(next: Ask): void {
  // What is only looked at is there already: another look at it measures nothing.
  if (next.what === 'reflection' && useInspect.getState().answer?.what === 'reflection') return set({ ask: next });
  set({ ask: next, ...(next.what === useInspect.getState().ask.what ? {} : { answer: null, row: null, outlines: [] }) });
  void inspect();
}

export function chooseBody(body: string): void {
  set({ body, answer: null, row: null, outlines: [] });
  void inspect();
}

/** Asks again whenever the body is built anew, while the page is open. @param limit least wall of the brief, mm */
export function startInspecting(limit: number | null): () => void {
  const { ask: asked } = useInspect.getState();
  if (asked.what === 'walls' && asked.limit === null) set({ ask: { ...asked, limit } });
  void inspect();
  let result = useBench.getState().result;
  const stop = useBench.subscribe((s) => {
    if (s.result === result || s.stale) return;
    result = s.result;
    set({ answer: null, row: null, outlines: [] });
    void inspect();
    void remeasure();
  });
  return () => {
    stop();
    stopInspecting();
    setBench({ picking: null });
    set({ answer: null, row: null, outlines: [], first: null });
  };
}
