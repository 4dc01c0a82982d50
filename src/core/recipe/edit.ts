/** Edits of a document as pure functions: the old one is never touched, so undo is free. */
import { checkName, renameIn } from '../dimensions/expression';
import { fail, ok, type Result } from '../result';
import { FORMAT, type Profile, type ProfileCurve, type Project, type Step, VERSION } from './schema';
import { type StepKind, stepDefinitions } from './steps';

/** A first id of the form `s1`, `s2` … that is not taken. */
export function freshId(prefix: string, taken: Iterable<string>): string {
  const used = new Set(taken);
  for (let n = 1; ; n++) if (!used.has(`${prefix}${n}`)) return `${prefix}${n}`;
}

/** An empty sheet with one small turned beaker to start from. */
export function newProject(name: string): Project {
  return {
    format: FORMAT,
    version: VERSION,
    name,
    client: '',
    units: 'mm',
    brief: {
      purpose: '',
      process: 'print',
      material: 'pla',
      uses: [],
      fillBelowBrim: '10 mm',
      targets: [{ gauge: 'height' }, { gauge: 'wall-min' }, { gauge: 'closed' }],
    },
    dimensions: [
      { name: 'height', expr: '80 mm' },
      { name: 'wall', expr: '2 mm' },
    ],
    profiles: [
      {
        id: 'body',
        name: 'Body',
        points: [
          { id: 'p1', x: '0', y: '0' },
          { id: 'p2', x: '25', y: '0' },
          { id: 'p3', x: '30', y: 'height' },
          { id: 'p4', x: '0', y: 'height' },
        ],
        curves: [
          { kind: 'line', id: 'foot', name: 'foot', from: 'p1', to: 'p2' },
          { kind: 'line', id: 'side', name: 'side', from: 'p2', to: 'p3' },
          { kind: 'line', id: 'rim', name: 'rim', from: 'p3', to: 'p4' },
        ],
      },
    ],
    steps: [{ id: 's1', kind: 'revolve', inputs: { profile: 'body', mode: 'new', body: null }, values: { angle: '360°' }, enabled: true }],
    marker: null,
    bodies: { s1: { name: 'Body 1' } },
  };
}

/** Every place of the document that holds an expression, rewritten. */
function mapExpressions(project: Project, f: (text: string) => string): Project {
  const opt = (t: string | undefined): string | undefined => (t === undefined ? undefined : f(t));
  const handle = <T extends { angle: string; weight: string } | undefined>(h: T): T =>
    h ? ({ angle: f(h.angle), weight: f(h.weight) } as T) : h;
  const curve = (c: ProfileCurve): ProfileCurve => {
    if (c.kind !== 'spline') return c;
    const { start, end, ...rest } = c;
    return { ...rest, ...(start ? { start: handle(start) } : {}), ...(end ? { end: handle(end) } : {}) };
  };
  return {
    ...project,
    dimensions: project.dimensions.map((d) => ({ ...d, expr: f(d.expr) })),
    profiles: project.profiles.map((p) => ({
      ...p,
      points: p.points.map((q) => ({ ...q, x: f(q.x), y: f(q.y) })),
      curves: p.curves.map(curve),
    })),
    steps: project.steps.map((s) => ({ ...s, values: Object.fromEntries(Object.entries(s.values).map(([k, v]) => [k, f(v)])) })),
    brief: {
      ...project.brief,
      fillBelowBrim: f(project.brief.fillBelowBrim),
      targets: project.brief.targets.map((t) => {
        const [min, max] = [opt(t.min), opt(t.max)];
        return { gauge: t.gauge, ...(min !== undefined ? { min } : {}), ...(max !== undefined ? { max } : {}) };
      }),
    },
  };
}

export function addDimension(project: Project, name: string, expr: string): Result<Project> {
  const valid = checkName(name);
  if (!valid.ok) return valid;
  if (project.dimensions.some((d) => d.name === name)) return fail(`there is already a dimension called “${name}”`);
  return ok({ ...project, dimensions: [...project.dimensions, { name, expr }] });
}

/** Renames a dimension everywhere it is used; what was typed otherwise stays letter for letter. */
export function renameDimension(project: Project, from: string, to: string): Result<Project> {
  if (from === to) return ok(project);
  const valid = checkName(to);
  if (!valid.ok) return valid;
  if (project.dimensions.some((d) => d.name === to)) return fail(`there is already a dimension called “${to}”`);
  const renamed = mapExpressions(project, (t) => renameIn(t, from, to));
  return ok({ ...renamed, dimensions: renamed.dimensions.map((d) => (d.name === from ? { ...d, name: to } : d)) });
}

export const setDimension = (project: Project, name: string, expr: string): Project => ({
  ...project,
  dimensions: project.dimensions.map((d) => (d.name === name ? { ...d, expr } : d)),
});

/** Where a dimension is used, in words; empty when nothing would break without it. */
export function usesOf(project: Project, name: string): string[] {
  const has = (t: string | undefined): boolean => t !== undefined && renameIn(t, name, `${name}_`) !== t;
  const out: string[] = [];
  for (const d of project.dimensions) if (d.name !== name && has(d.expr)) out.push(`dimension ${d.name}`);
  for (const p of project.profiles) if (p.points.some((q) => has(q.x) || has(q.y))) out.push(`profile ${p.name}`);
  project.steps.forEach((s, i) => {
    if (Object.values(s.values).some(has)) out.push(`step ${i + 1}`);
  });
  for (const t of project.brief.targets) if (has(t.min) || has(t.max)) out.push(`target ${t.gauge}`);
  return out;
}

export const removeDimension = (project: Project, name: string): Project => ({
  ...project,
  dimensions: project.dimensions.filter((d) => d.name !== name),
});

export const setProfile = (project: Project, profile: Profile): Project => ({
  ...project,
  profiles: project.profiles.some((p) => p.id === profile.id)
    ? project.profiles.map((p) => (p.id === profile.id ? profile : p))
    : [...project.profiles, profile],
});

export const removeProfile = (project: Project, id: string): Project => ({
  ...project,
  profiles: project.profiles.filter((p) => p.id !== id),
});

export const setStep = (project: Project, step: Step): Project => ({
  ...project,
  steps: project.steps.map((s) => (s.id === step.id ? step : s)),
});

/** A new step at the marker (or the end), with a body of its own where it makes one. */
export function addStep(
  project: Project,
  kind: StepKind,
  inputs: Record<string, unknown>,
  values: Record<string, string> = {},
): { project: Project; id: string } {
  const definition = stepDefinitions[kind]!;
  const id = freshId('s', [...project.steps.map((s) => s.id), ...Object.keys(project.bodies)]);
  const step: Step = {
    id,
    kind,
    inputs,
    values: { ...Object.fromEntries(Object.entries(definition.values).map(([k, v]) => [k, v.initial])), ...values },
    enabled: true,
  };
  const at = project.marker === null ? project.steps.length : project.steps.findIndex((s) => s.id === project.marker) + 1;
  const bodies = definition.makesBody(inputs)
    ? { ...project.bodies, [id]: { name: `Body ${Object.keys(project.bodies).length + 1}` } }
    : project.bodies;
  return {
    id,
    project: { ...project, steps: project.steps.toSpliced(at, 0, step), bodies, marker: project.marker === null ? null : id },
  };
}

/** Takes a step out; the marker moves to the step before. Bodies keep their names for an undo or a later step. */
export function removeStep(project: Project, id: string): Project {
  const at = project.steps.findIndex((s) => s.id === id);
  if (at < 0) return project;
  const steps = project.steps.toSpliced(at, 1);
  const marker = project.marker === id ? (steps[at - 1]?.id ?? null) : project.marker;
  return { ...project, steps, marker };
}

/** Moves a step to another place in the order. */
export function moveStep(project: Project, id: string, to: number): Project {
  const at = project.steps.findIndex((s) => s.id === id);
  if (at < 0) return project;
  const steps = project.steps.toSpliced(at, 1);
  return { ...project, steps: steps.toSpliced(Math.max(0, Math.min(steps.length, to)), 0, project.steps[at]!) };
}

/** Bodies that exist after the steps before `beforeStep` (all steps when left out). */
export function bodiesBefore(project: Project, beforeStep?: string): string[] {
  const out: string[] = [];
  for (const s of project.steps) {
    if (s.id === beforeStep) break;
    if (stepDefinitions[s.kind]?.makesBody(s.inputs)) out.push(s.id);
  }
  return out;
}
