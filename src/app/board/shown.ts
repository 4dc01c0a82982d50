/** What the board shows: the form or the drawing one is at. */
import type { Profile, Project } from '../../core/recipe/schema';
import { type FormInputs, isOf, type StepOf } from '../../core/recipe/steps';
import { usesOfStep } from '../../core/recipe/uses';
import type { Room } from '../state/bench';

type Shown =
  | { readonly form: StepOf<FormInputs>; readonly profile?: undefined }
  | { readonly form?: undefined; readonly profile: Profile | undefined };

/**
 * The form that is selected; else the drawing that was chosen; else the form that is the last step, where none is selected, or the last drawing that
 * a step up to the selected one is made from.
 * @param step what is selected; it may be gone @param chosen the drawing that was chosen last; it may be gone
 */
export function shownOnBoard(project: Project, step: string | null, chosen: string | null): Shown {
  const at = project.steps.findIndex((s) => s.id === step);
  const now = project.steps.at(at);
  const profile = project.profiles.find((p) => p.id === chosen);
  if (isOf(now, 'form') && (at >= 0 || !profile)) return { form: now };
  if (profile) return { profile };
  const before = at < 0 ? project.steps : project.steps.slice(0, at + 1);
  const made = before.flatMap((s) => usesOfStep(project, s).profiles);
  return { profile: project.profiles.find((p) => p.id === made.at(-1)) ?? project.profiles[0] };
}

/** What decides how much room the board takes. */
export interface BoardUse {
  /** How the room was shared by hand. */
  readonly room: Room;
  readonly step: string | null;
  /** A drawing was asked for since the step was selected. */
  readonly drawing: boolean;
  /** Something is asked for, on the stage or on the drawing: both are there to pick from. */
  readonly asked: boolean;
}

/** What of the room the board takes: most of it, its share, or a strip, where what one is at has neither drawing nor form. */
export function boardRoom(project: Project, { room, step, drawing, asked }: BoardUse): 'most' | 'share' | 'strip' {
  if (room === 'board') return 'most';
  if (room === 'stage') return 'strip';
  const now = project.steps.find((s) => s.id === step);
  // An empty sheet has nothing to show on it.
  if (!now && !drawing && project.profiles.length === 0 && project.steps.length === 0) return 'strip';
  if (!now || drawing || asked || isOf(now, 'form')) return 'share';
  return usesOfStep(project, now).profiles.length > 0 ? 'share' : 'strip';
}
