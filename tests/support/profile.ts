/** Profiles for tests in short: coordinates as texts, arcs by the point they run through. */
import { evaluateDimensions, type NamedDimension } from '../../src/core/dimensions/dimensions';
import { emptyProfile } from '../../src/core/recipe/edit';
import { liftProfile, type OldProfile } from '../../src/core/recipe/lift-profile';
import type { Profile } from '../../src/core/recipe/schema';

/** What is written with names is held by dimensions, a plain 0 by the axis or the base level, other numbers are just drawn. */
export const written = (profile: OldProfile, dimensions: readonly NamedDimension[] = []): Profile => ({
  ...emptyProfile(profile.id, profile.name),
  ...liftProfile(profile, evaluateDimensions(dimensions).scope),
});
