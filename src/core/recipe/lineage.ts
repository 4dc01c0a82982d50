/** Which steps a body comes of. */
import type { Project, Step } from './schema';
import { stepDefinitions } from './steps';

/** Whether a body is what was measured of a part or a copy of that, not what is made. */
export function isScan({ steps }: Pick<Project, 'steps'>, body: string): boolean {
  // What is copied stands before its copy.
  for (let end = steps.length, of = body; ; ) {
    const at = steps.findIndex((s) => s.id === of);
    const made = steps[at];
    if (!made || at >= end) return false;
    if (made.kind === 'scan') return true;
    const copied = stepDefinitions[made.kind]?.copies?.(made.inputs);
    if (!copied) return false;
    [end, of] = [at, copied];
  }
}

/** Steps that made or changed a body, or bodies it was made from, in the order of the sheet; those after the marker or switched off count not. */
export function stepsBehind(project: Project, body: string): Step[] {
  const end = project.marker === null ? project.steps.length : project.steps.findIndex((s) => s.id === project.marker) + 1;
  const live = project.steps.slice(0, end === 0 ? project.steps.length : end).filter((s) => s.enabled);
  const wanted = new Set([body]);
  const out: Step[] = [];
  // Backwards: what a step uses is behind whatever it makes.
  for (const step of live.toReversed()) {
    const definition = stepDefinitions[step.kind];
    if (!definition) continue;
    const made = [...definition.makes(step.inputs, step.id), definition.changesBody(step.inputs)];
    if (!made.some((id) => id !== null && wanted.has(id))) continue;
    out.unshift(step);
    for (const b of definition.uses(step.inputs).bodies) wanted.add(b);
  }
  return out;
}
