/** Two minutes to begin with: what to do next, told one thing at a time, each until it was done. It can be left at any time. */
import { create } from 'zustand';
import type { Project } from '../../core/recipe/schema';
import { stepDefinitions } from '../../core/recipe/steps';

/** What a new hand did so far. */
export interface Seen {
  readonly project: Project;
  /** How each step of the sheet came out. */
  readonly states: Readonly<Record<string, string | undefined>>;
  readonly cutOpen: boolean;
  readonly page: string;
}

export interface Stop {
  readonly words: string;
  readonly done: (s: Seen) => boolean;
}

const hollows = (s: Seen): readonly (string | undefined)[] =>
  s.project.steps.filter((step) => stepDefinitions[step.kind]?.group === 'hollow').map((step) => s.states[step.id]);

export const TOUR: readonly Stop[] = [
  { words: 'Choose “A turned beaker”: a body to try things on.', done: (s) => s.project.steps.length > 0 },
  { words: 'Press N and choose “Hollow Body 1”: it is opened at its top.', done: (s) => hollows(s).length > 0 },
  {
    words: 'Its wall stands in the sentence on the left. Type 40 mm there: you are told why it can’t be, and what can.',
    done: (s) => hollows(s).includes('failed'),
  },
  {
    words: 'Take one of the ways out, or type 2.4 mm. The last good body stays until then.',
    done: (s) => hollows(s).some((state) => state === 'done' || state === 'warned'),
  },
  { words: 'Press C to cut it open, and drag to turn it. On the right stands what you made, measured.', done: (s) => s.cutOpen },
  { words: 'Go to Make, and save it in the format its maker wants.', done: (s) => s.page === 'make' },
];

interface TourState {
  /** The project it is about; null while there is none. */
  readonly project: string | null;
  readonly at: number;
}
export const useTour = create<TourState>(() => ({ project: null, at: 0 }));
export const beginTour = (project: string): void => useTour.setState({ project, at: 0 });
export const leaveTour = (): void => useTour.setState({ project: null });

/** Where it stands now: what is done is passed, one after the other. */
export function passed(at: number, seen: Seen): number {
  let now = at;
  while (now < TOUR.length && TOUR[now]!.done(seen)) now++;
  return now;
}
