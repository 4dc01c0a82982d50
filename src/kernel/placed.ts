/** Profiles where their planes put them, with what they follow of the bodies as these stand. */
import { type Frame, isOriginPlane, ORIGIN_PLANES } from '../core/curves/frame';
import { withFollowed } from '../core/profile/follow';
import { type ResolvedProfile, resolveProfile } from '../core/profile/resolve';
import type { Profile, Project } from '../core/recipe/schema';
import { stepTitle } from '../core/recipe/words';
import { fail, ok, type Result } from '../core/result';
import type { StepFailure } from './body';
import { followsOf } from './follow';
import type { StepContext } from './steps/operation';

export interface PlacedProfile {
  readonly profile: Profile;
  readonly frame: Frame;
  readonly resolved: ResolvedProfile;
}

/** The plane a reference means, as far as it is placed yet. */
export function frameOf(ref: string, planes: ReadonlyMap<string, Frame>, project: Project): Result<Frame, StepFailure> {
  if (isOriginPlane(ref)) return ok(ORIGIN_PLANES[ref]);
  const frame = planes.get(ref);
  if (frame) return ok(frame);
  return fail({
    what: 'its plane is not there',
    why: `${stepTitle(ref, project)} places no plane before this step`,
    tryInstead: ['choose another plane', 'move the step that places it up'],
  });
}

/** A profile of the document, solved, on its plane. */
export function placedProfile(context: StepContext, id: string): Result<PlacedProfile, StepFailure> {
  const { project } = context;
  const drawn = project.profiles.find((p) => p.id === id);
  if (!drawn)
    return fail({ what: 'there is nothing drawn to build from', why: 'its profile was deleted', tryInstead: ['choose another profile'] });
  const frame = frameOf(drawn.plane, context.planes, project);
  if (!frame.ok) return frame;
  const follows = followsOf(context.kernel, project, drawn, frame.value, context.seenBy(id));
  if (!follows.ok) return follows;
  const profile = withFollowed(drawn, follows.value);
  const resolved = resolveProfile(profile, context.scope);
  if (!resolved.ok)
    return fail({ what: `${drawn.name} can't be drawn`, why: resolved.error.message, tryInstead: ['correct the value on the board'] });
  return ok({ profile, frame: frame.value, resolved: resolved.value });
}
