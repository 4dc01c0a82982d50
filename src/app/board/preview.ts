import { latheMesh, type PreviewMesh } from '../../core/profile/lathe';
import { findOutline } from '../../core/profile/outline';
import { resolveProfile } from '../../core/profile/resolve';
import type { Profile, Project } from '../../core/recipe/schema';
import { stepValues } from '../../core/recipe/values';
import { tableOf } from '../state/project';

/** Triangles turned on the page for every body-adding revolve, with one profile replaced by its draft. Null where it can't be turned. */
export function previewMeshes(project: Project, draft: Profile): PreviewMesh[] | null {
  const scope = tableOf(project).scope;
  const out: PreviewMesh[] = [];
  for (const step of project.steps) {
    if (step.kind !== 'revolve' || !step.enabled || step.inputs.mode === 'cut') continue;
    const profile = step.inputs.profile === draft.id ? draft : project.profiles.find((p) => p.id === step.inputs.profile);
    if (!profile) continue;
    const resolved = resolveProfile(profile, scope);
    const outline = resolved.ok ? findOutline(resolved.value, profile.name) : null;
    const values = stepValues(step, scope);
    if (!outline?.ok || !values.ok) {
      if (profile === draft) return null;
      continue;
    }
    out.push(latheMesh(outline.value, 96, values.value.angle));
  }
  return out.length > 0 ? out : null;
}
