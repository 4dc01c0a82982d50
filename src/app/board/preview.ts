import { carried, isFront, isOriginPlane, ORIGIN_PLANES } from '../../core/curves/frame';
import { withFollowed } from '../../core/profile/follow';
import { latheMesh, type PreviewMesh } from '../../core/profile/lathe';
import { findOutline } from '../../core/profile/outline';
import { type ResolvedProfile, resolveProfile } from '../../core/profile/resolve';
import type { Project } from '../../core/recipe/schema';
import { stepValues } from '../../core/recipe/values';
import type { ProfilePlace } from '../../engine/types';
import { tableOf } from '../state/project';

/**
 * Triangles turned on the page for every body-adding revolve, with one profile replaced by its draft. Null where it can't be turned.
 * @param places where profiles lie that are not on a plane through the origin, from the last build
 */
export function previewMeshes(
  project: Project,
  draftId: string,
  draft: ResolvedProfile,
  places: ReadonlyMap<string, ProfilePlace> = new Map(),
): PreviewMesh[] | null {
  const scope = tableOf(project).scope;
  const out: PreviewMesh[] = [];
  for (const step of project.steps) {
    if (step.kind !== 'revolve' || !step.enabled || step.inputs.mode === 'cut') continue;
    const profile = project.profiles.find((p) => p.id === step.inputs.profile);
    if (!profile) continue;
    const place = places.get(profile.id);
    const frame = isOriginPlane(profile.plane) ? ORIGIN_PLANES[profile.plane] : place?.frame;
    const resolved = profile.id === draftId ? draft : resolvedOf(resolveProfile(withFollowed(profile, place?.follows ?? undefined), scope));
    const outline = resolved ? findOutline(resolved, profile.name) : null;
    const values = stepValues(step, scope);
    if (!outline?.ok || !values.ok || !frame) {
      if (profile.id === draftId) return null;
      continue;
    }
    const mesh = latheMesh(outline.value, 96, values.value.angle);
    out.push(isFront(frame) ? mesh : { ...mesh, positions: carried(frame, mesh.positions), normals: carried(frame, mesh.normals, true) });
  }
  return out.length > 0 ? out : null;
}

const resolvedOf = (r: ReturnType<typeof resolveProfile>): ResolvedProfile | undefined => (r.ok ? r.value : undefined);
