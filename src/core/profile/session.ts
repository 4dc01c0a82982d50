/** Edits under way on the board: what is drawn next, solved; and dragging. */
import type { Point2 } from '../curves/planar';
import type { Scope } from '../dimensions/expression';
import type { Profile } from '../recipe/schema';
import { ok, type Result } from '../result';
import { dimensionTargets, type ProfileError, type ResolvedProfile, resolveProfile, resolveSolved, settled } from './resolve';
import { buildSketch } from './solver/sketch';
import { type Grip, SketchDrag, solveSketch } from './solver/solve';

/**
 * An edit with its shape solved and written in. Where it can't be solved the edit is kept with the shape as drawn, and the error says
 * what can't hold.
 */
export function settle(profile: Profile, scope: Scope): { profile: Profile; error?: ProfileError } {
  const r = resolveProfile(profile, scope);
  return r.ok ? { profile: settled(profile, r.value.sketch) } : { profile, error: r.error };
}

/** The drawn shape of a profile that can't be solved, for showing what contradicts. */
export function asDrawn(profile: Profile, scope: Scope): Result<ResolvedProfile, ProfileError> {
  const targets = dimensionTargets(profile, scope);
  const loose: Profile = { ...profile, derived: [] };
  return resolveSolved(loose, buildSketch(loose, targets.ok ? targets.value : new Map()), scope);
}

export interface ProfileDrag {
  /** The grip moved by (dx, dy) mm from where it was taken hold of, or the gripped radius. */
  readonly move: (dx: number, dy: number, radius?: number) => Result<ResolvedProfile, ProfileError>;
  /** The profile as it now stands, solved. */
  readonly profile: () => Profile;
  /** Where a gripped point was at the start. */
  readonly start: Point2;
}

/** Takes hold of points or a radius of a solved profile. Undefined where the profile has no solved shape. */
export function startDrag(profile: Profile, scope: Scope, grip: Grip): ProfileDrag | undefined {
  const targets = dimensionTargets(profile, scope);
  if (!targets.ok) return undefined;
  const sketch = buildSketch(profile, targets.value);
  if (!solveSketch(sketch).ok) return undefined;
  const drag = new SketchDrag(sketch, grip);
  const first = grip.points?.[0];
  const v = first ? sketch.points.get(first)! : undefined;
  const start = v ? { x: sketch.system.x[v[0]]!, y: sketch.system.x[v[1]]! } : { x: 0, y: 0 };
  let shape = resolveSolved(profile, sketch, scope);
  let good = profile;
  return {
    start,
    move: (dx, dy, radius = 0) => {
      drag.move(dx, dy, radius);
      const next = resolveSolved(profile, sketch, scope);
      if (next.ok) {
        shape = ok(next.value);
        good = settled(profile, sketch);
      }
      return next.ok ? shape : next;
    },
    profile: () => good,
  };
}
