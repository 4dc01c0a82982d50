/** How far the exact faces of forms lie from the smooth limits of their cages. */
import { type Frame, isOriginPlane, ORIGIN_PLANES, overPlane } from '../curves/frame';
import type { Scope } from '../dimensions/expression';
import { stepsBehind } from '../recipe/lineage';
import type { Project } from '../recipe/schema';
import type { FormInputs } from '../recipe/steps';
import { netOf, type P3 } from './cage';
import { patchesOf } from './patches';
import { cageOf } from './read';

/** Refinements about irregular vertices, by how closely the faces of a form follow. */
export const LEVELS = { well: 4, finely: 6 } as const;

const known = new WeakMap<object, { scope: Scope; value: number; at: P3 }>();

/**
 * The largest distance of a body's faces from the limits of the cages it comes of, mm; null for a body that comes of none.
 * @returns `at` on the limit, null where the form stands on a plane that is not one through the origin
 */
export function formDeviation(project: Project, scope: Scope, body: string): { value: number; at: P3 | null } | null {
  let worst: { value: number; at: P3 | null } | null = null;
  for (const step of stepsBehind(project, body)) {
    if (step.kind !== 'form') continue;
    const inputs = step.inputs as FormInputs;
    let found = known.get(inputs);
    if (!found || found.scope !== scope) {
      const cage = cageOf(inputs.source, scope);
      const net = cage.ok ? netOf(cage.value) : null;
      if (!net?.ok) continue;
      found = { scope, ...patchesOf(net.value, LEVELS[inputs.follow]).deviation };
      known.set(inputs, found);
    }
    const plane: Frame | null = isOriginPlane(inputs.plane) ? ORIGIN_PLANES[inputs.plane] : null;
    if (!worst || found.value > worst.value) worst = { value: found.value, at: plane ? overPlane(plane, found.at) : null };
  }
  return worst;
}
