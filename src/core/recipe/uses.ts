/** What a step is built from, with what its profiles lie on and follow. */
import type { Project, Step } from './schema';
import { stepDefinitions, type Uses } from './steps';

export function usesOfStep(project: Project, step: Step): Uses {
  const own = stepDefinitions[step.kind]!.uses(step.inputs);
  const profiles = own.profiles.flatMap((id) => project.profiles.filter((p) => p.id === id));
  return {
    ...own,
    bodies: [...new Set([...own.bodies, ...profiles.flatMap((p) => p.projections.map((q) => q.body))])],
    planes: [...new Set([...own.planes, ...profiles.map((p) => p.plane)])],
  };
}
