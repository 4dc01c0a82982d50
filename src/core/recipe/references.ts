/** What the schema alone can't say: ids are unique, curves have their points, steps are of known kinds. */
import type { Project } from './schema';
import { stepDefinitions } from './steps';

function twice(ids: readonly string[]): string | undefined {
  const seen = new Set<string>();
  for (const i of ids) {
    if (seen.has(i)) return i;
    seen.add(i);
  }
  return undefined;
}

/** The first thing that makes a document unusable, in words; undefined when it is sound. */
export function checkReferences(project: Project): string | undefined {
  let double = twice(project.dimensions.map((d) => d.name));
  if (double) return `two dimensions are called “${double}”`;
  double = twice(project.profiles.map((p) => p.id)) ?? twice(project.steps.map((s) => s.id));
  if (double) return `the id “${double}” is used twice`;
  for (const profile of project.profiles) {
    const points = new Set(profile.points.map((p) => p.id));
    double = twice([...profile.points.map((p) => p.id), ...profile.curves.map((c) => c.id)]);
    if (double) return `the id “${double}” is used twice in the profile ${profile.name}`;
    for (const c of profile.curves) {
      const needed = [c.from, c.to, ...(c.kind === 'arc' ? [c.through] : c.kind === 'spline' ? c.through : [])];
      const missing = needed.find((n) => !points.has(n));
      if (missing) return `the curve ${c.id} of the profile ${profile.name} refers to a point “${missing}” that does not exist`;
    }
  }
  for (const step of project.steps) {
    const definition = stepDefinitions[step.kind];
    if (!definition) return `the step “${step.id}” is of a kind “${step.kind}” that this version does not know`;
    const parsed = definition.inputs.safeParse(step.inputs);
    if (!parsed.success) {
      const issue = parsed.error.issues[0]!;
      return `the step “${step.id}” is damaged at ${issue.path.join('.') || 'its inputs'}: ${issue.message}`;
    }
    for (const v of Object.keys(definition.values)) if (step.values[v] === undefined) return `the step “${step.id}” has no ${v}`;
  }
  if (project.marker !== null && !project.steps.some((s) => s.id === project.marker))
    return 'its marker points to a step that does not exist';
  return undefined;
}

/** References of steps to profiles and earlier bodies that no longer exist: such a step fails in words when built. */
export function danglingReferences(project: Project): { step: string; what: string }[] {
  const out: { step: string; what: string }[] = [];
  const bodies = new Set<string>();
  for (const step of project.steps) {
    const definition = stepDefinitions[step.kind];
    if (!definition) continue;
    const profile = step.inputs.profile;
    if (typeof profile === 'string' && !project.profiles.some((p) => p.id === profile))
      out.push({ step: step.id, what: `the profile “${profile}” does not exist` });
    const body = definition.changesBody(step.inputs);
    if (body && !bodies.has(body)) out.push({ step: step.id, what: `no earlier step makes the body “${body}”` });
    if (definition.makesBody(step.inputs)) bodies.add(step.id);
  }
  return out;
}
