/** What the schema alone can't say: ids are unique, curves have their points, steps are of known kinds. */
import { isOriginPlane } from '../curves/frame';
import { pointsOf, refsOf } from '../profile/solver/terms';
import type { Profile, Project } from './schema';
import { pieceOf, stepDefinitions } from './steps';
import { usesOfStep } from './uses';

const FRAME: ReadonlySet<string> = new Set(['origin', 'axis', 'level']);

/** What makes a document unusable, in words, and the path to what would have to go for it to be usable. */
export interface Broken {
  readonly words: string;
  readonly path: readonly (string | number)[];
}

/** The last of a list that bears the id of another. */
function twice(ids: readonly string[]): { readonly id: string; readonly at: number } | undefined {
  const at = ids.findLastIndex((id, i) => ids.indexOf(id) < i);
  return at < 0 ? undefined : { id: ids[at]!, at };
}

/** What a profile refers to and does not have. */
function checkProfile(profile: Profile): Broken | undefined {
  const where = `of the profile ${profile.name}`;
  const points = new Set(profile.points.map((p) => p.id));
  for (const [i, c] of profile.curves.entries()) {
    const path = ['curves', i];
    const missing = pointsOf(c).find((n) => !points.has(n));
    if (missing) return { words: `the curve ${c.id} ${where} refers to a point “${missing}” that does not exist`, path };
    if (c.kind === 'spline') {
      const loose = Object.keys(c.at ?? {}).find((p) => !c.through.includes(p));
      if (loose) return { words: `the curve ${c.id} ${where} has a handle at a point “${loose}” it does not run through`, path };
    }
  }
  for (const list of ['points', 'curves'] as const) {
    const i = profile[list].findIndex((e) => FRAME.has(e.id));
    if (i >= 0) return { words: `an id ${where} is one of ${[...FRAME].join(', ')}, which have a meaning of their own`, path: [list, i] };
  }
  const own = new Set([...points, ...profile.curves.map((c) => c.id), ...FRAME]);
  // What follows a body comes and goes with it.
  const known = (ref: string): boolean => own.has(ref) || profile.projections.some((p) => ref.startsWith(`${p.id}-`));
  for (const [i, c] of profile.constraints.entries()) {
    const missing = refsOf(c).find((r) => !known(r));
    if (missing) return { words: `the constraint ${c.id} ${where} refers to “${missing}”, which does not exist`, path: ['constraints', i] };
  }
  for (const [i, d] of profile.derived.entries()) {
    const missing = [...d.of, ...('line' in d ? [d.line] : []), ...('centre' in d ? [d.centre] : [])].find((r) => !known(r));
    if (missing)
      return { words: `the derived geometry ${d.id} ${where} refers to “${missing}”, which does not exist`, path: ['derived', i] };
  }
  return undefined;
}

/** The lists of a profile whose entries share one space of ids. */
const SHARED = ['points', 'curves', 'constraints', 'derived', 'projections'] as const;

/** The first thing that makes a document unusable; undefined when it is sound. */
export function checkReferences(project: Project): Broken | undefined {
  const name = twice(project.dimensions.map((d) => d.name));
  if (name) return { words: `two dimensions are called “${name.id}”`, path: ['dimensions', name.at] };
  for (const list of ['profiles', 'steps'] as const) {
    const double = twice(project[list].map((e) => e.id));
    if (double) return { words: `the id “${double.id}” is used twice`, path: [list, double.at] };
  }
  for (const [i, profile] of project.profiles.entries()) {
    const all = SHARED.flatMap((list) => profile[list].map((e, at) => ({ id: e.id, path: [list, at] })));
    const double = twice(all.map((e) => e.id));
    if (double)
      return {
        words: `the id “${double.id}” is used twice in the profile ${profile.name}`,
        path: ['profiles', i, ...all[double.at]!.path],
      };
    const inside = checkProfile(profile);
    if (inside) return { ...inside, path: ['profiles', i, ...inside.path] };
  }
  for (const [i, step] of project.steps.entries()) {
    const path = ['steps', i];
    if (isOriginPlane(step.id)) return { words: `a step is called “${step.id}”, which is a plane through the origin`, path };
    const definition = stepDefinitions[step.kind];
    if (!definition) return { words: `the step “${step.id}” is of a kind “${step.kind}” that this version does not know`, path };
    const parsed = definition.inputs.safeParse(step.inputs);
    if (!parsed.success) {
      const issue = parsed.error.issues[0]!;
      return {
        words: `the step “${step.id}” is damaged at ${issue.path.join('.') || 'its inputs'}: ${issue.message}`,
        path: [...path, 'inputs', ...issue.path.map((k) => (typeof k === 'symbol' ? String(k) : k))],
      };
    }
    const missing = Object.keys(definition.values).find((v) => step.values[v] === undefined);
    if (missing) return { words: `the step “${step.id}” has no ${missing}`, path };
  }
  if (project.marker !== null && !project.steps.some((s) => s.id === project.marker))
    return { words: 'its marker points to a step that does not exist', path: ['marker'] };
  return undefined;
}

/** References of steps to profiles and earlier bodies that no longer exist: such a step fails in words when built. */
export function danglingReferences(project: Project): { step: string; what: string }[] {
  const out: { step: string; what: string }[] = [];
  const bodies = new Set<string>();
  const planes = new Set<string>();
  const earlier = new Set<string>();
  for (const step of project.steps) {
    const definition = stepDefinitions[step.kind];
    if (!definition) continue;
    for (const profile of definition.uses(step.inputs).profiles)
      if (!project.profiles.some((p) => p.id === profile)) out.push({ step: step.id, what: `the profile “${profile}” does not exist` });
    const uses = usesOfStep(project, step);
    // How many pieces there are only the build can tell.
    const piece = (body: string): boolean => earlier.has(pieceOf(body)?.step ?? '');
    for (const body of uses.bodies)
      if (!bodies.has(body) && !piece(body)) out.push({ step: step.id, what: `no earlier step makes the body “${body}”` });
    for (const plane of uses.planes)
      if (!isOriginPlane(plane) && !planes.has(plane)) out.push({ step: step.id, what: `no earlier step places the plane “${plane}”` });
    for (const b of definition.removes?.(step.inputs, [...bodies]) ?? []) bodies.delete(b);
    for (const b of definition.makes(step.inputs, step.id)) bodies.add(b);
    if (definition.places === 'plane') planes.add(step.id);
    earlier.add(step.id);
  }
  return out;
}
