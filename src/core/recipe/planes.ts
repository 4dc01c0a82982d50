/** How planes that steps place lie, as far as the document tells. */
import { isOriginPlane, type OriginPlane } from '../curves/frame';
import type { Project } from './schema';
import { stepOf } from './steps';

/** The plane through the origin that a plane is parallel to: through planes at a distance or through a place. Null where only the build can tell. */
export function parallelTo(project: Project, plane: string): OriginPlane | null {
  if (isOriginPlane(plane)) return plane;
  const inputs = stepOf(project, plane, 'plane')?.inputs;
  if (inputs?.by !== 'distance' && inputs?.by !== 'place') return null;
  const { from } = inputs;
  const index = (id: string): number => project.steps.findIndex((s) => s.id === id);
  // Planes are placed from earlier ones only.
  return isOriginPlane(from) || (index(from) >= 0 && index(from) < index(plane)) ? parallelTo(project, from) : null;
}
