/** What the schema alone can't say: ids are unique, curves have their points, steps are of known kinds. */
import { isOriginPlane } from '../curves/frame';
import { pointsOf, refsOf } from '../profile/solver/terms';
import type { Profile, Project } from './schema';
import { stepDefinitions } from './steps';
import { usesOfStep } from './uses';

const FRAME: ReadonlySet<string> = new Set(['origin', 'axis', 'level']);

function twice(ids: readonly string[]): string | undefined {
  const seen = new Set<string>();
  for (const i of ids) {
    if (seen.has(i)) return i;
    seen.add(i);
  }
  return undefined;
}

/** What a profile refers to and does not have, in words. */
function checkProfile(profile: Profile, points: ReadonlySet<string>): string | undefined {
  const where = `of the profile ${profile.name}`;
  for (const c of profile.curves) {
    const missing = pointsOf(c).find((n) => !points.has(n));
    if (missing) return `the curve ${c.id} ${where} refers to a point “${missing}” that does not exist`;
    if (c.kind === 'spline') {
      const loose = Object.keys(c.at ?? {}).find((p) => !c.through.includes(p));
      if (loose) return `the curve ${c.id} ${where} has a handle at a point “${loose}” it does not run through`;
    }
  }
  const own = new Set([...points, ...profile.curves.map((c) => c.id), ...FRAME]);
  // What follows a body comes and goes with it.
  const known = { has: (ref: string) => own.has(ref) || profile.projections.some((p) => ref.startsWith(`${p.id}-`)) };
  if (profile.points.some((p) => FRAME.has(p.id)) || profile.curves.some((c) => FRAME.has(c.id)))
    return `an id ${where} is one of ${[...FRAME].join(', ')}, which have a meaning of their own`;
  for (const c of profile.constraints) {
    const missing = refsOf(c).find((r) => !known.has(r));
    if (missing) return `the constraint ${c.id} ${where} refers to “${missing}”, which does not exist`;
  }
  for (const d of profile.derived) {
    const missing = [...d.of, ...('line' in d ? [d.line] : []), ...('centre' in d ? [d.centre] : [])].find((r) => !known.has(r));
    if (missing) return `the derived geometry ${d.id} ${where} refers to “${missing}”, which does not exist`;
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
    double = twice(
      [profile.points, profile.curves, profile.constraints, profile.derived, profile.projections].flatMap((list) => list.map((e) => e.id)),
    );
    if (double) return `the id “${double}” is used twice in the profile ${profile.name}`;
    const inside = checkProfile(profile, points);
    if (inside) return inside;
  }
  for (const step of project.steps) {
    if (isOriginPlane(step.id)) return `a step is called “${step.id}”, which is a plane through the origin`;
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
  const planes = new Set<string>();
  for (const step of project.steps) {
    const definition = stepDefinitions[step.kind];
    if (!definition) continue;
    for (const profile of definition.uses(step.inputs).profiles)
      if (!project.profiles.some((p) => p.id === profile)) out.push({ step: step.id, what: `the profile “${profile}” does not exist` });
    const uses = usesOfStep(project, step);
    for (const body of uses.bodies) if (!bodies.has(body)) out.push({ step: step.id, what: `no earlier step makes the body “${body}”` });
    for (const plane of uses.planes)
      if (!isOriginPlane(plane) && !planes.has(plane)) out.push({ step: step.id, what: `no earlier step places the plane “${plane}”` });
    for (const b of definition.removes?.(step.inputs, [...bodies]) ?? []) bodies.delete(b);
    for (const b of definition.makes(step.inputs, step.id)) bodies.add(b);
    if (step.kind === 'plane') planes.add(step.id);
  }
  return out;
}
