/** Edits of a document as pure functions: the old one is never touched, so undo is free. */

import { ORIGIN_PLANES } from '../curves/frame';
import { checkName, renameIn } from '../dimensions/expression';
import type { Place } from '../made/document';
import { typedOf, withTypedOf } from '../profile/typed';
import { fail, ok, type Result } from '../result';
import { withoutColumn } from '../sizes/sizes';
import { isScan } from './lineage';
import { parallelTo } from './planes';
import {
  type Constraint,
  type Derived,
  FORMAT,
  type MeasuredThing,
  type Profile,
  type ProfileCurve,
  type Project,
  type Step,
  VERSION,
} from './schema';
import { type Around, type FormSource, mapSource, type PlaceRef, type StepKind, stepDefinitions } from './steps';

/** A first id of the form `s1`, `s2` … that is not taken. */
export function freshId(prefix: string, taken: Iterable<string>): string {
  const used = new Set(taken);
  for (let n = 1; ; n++) if (!used.has(`${prefix}${n}`)) return `${prefix}${n}`;
}

/** A drawing with nothing on it yet. */
export const emptyProfile = (id: string, name: string, plane = 'front', half = true): Profile => ({
  id,
  name,
  plane,
  half,
  projections: [],
  points: [],
  curves: [],
  constraints: [],
  derived: [],
});

/** An empty sheet. */
export const emptyProject = (name: string): Project => ({ ...newProject(name), dimensions: [], profiles: [], steps: [], bodies: {} });

/** A sheet with one small turned beaker on it. */
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
        ...emptyProfile('body', 'Body'),
        points: [
          { id: 'p1', x: 0, y: 0 },
          { id: 'p2', x: 25, y: 0 },
          { id: 'p3', x: 30, y: 80 },
          { id: 'p4', x: 0, y: 80 },
        ],
        curves: [
          { kind: 'line', id: 'foot', name: 'foot', from: 'p1', to: 'p2' },
          { kind: 'line', id: 'side', name: 'side', from: 'p2', to: 'p3' },
          { kind: 'line', id: 'rim', name: 'rim', from: 'p3', to: 'p4' },
        ],
        constraints: [
          { kind: 'coincident', id: 'k1', a: 'p1', b: 'origin' },
          { kind: 'horizontal', id: 'k2', a: 'p1', b: 'p2' },
          { kind: 'on-curve', id: 'k3', point: 'p4', curve: 'axis' },
          { kind: 'horizontal', id: 'k4', a: 'p3', b: 'p4' },
          { kind: 'distance', id: 'd1', a: 'level', b: 'p4', direction: 'vertical', value: 'height', driving: true },
        ],
      },
    ],
    steps: [{ id: 's1', kind: 'revolve', inputs: { profile: 'body', mode: 'new', body: null }, values: { angle: '360°' }, enabled: true }],
    marker: null,
    bodies: { s1: { name: 'Body 1' } },
  };
}

/** Inputs hold expressions too: places that were typed, values of single edges, tables and creases of forms. */
function withTyped(inputs: Record<string, unknown>, f: (text: string) => string): Record<string, unknown> {
  const places = inputs.places as readonly PlaceRef[] | undefined;
  const own = inputs.own as readonly { edge: string; value: string }[] | undefined;
  const source = inputs.source as FormSource | undefined;
  return {
    ...inputs,
    ...(places ? { places: places.map((p) => ('at' in p ? { at: p.at.map(f) } : p)) } : {}),
    ...(own ? { own: own.map((o) => ({ ...o, value: f(o.value) })) } : {}),
    ...(source ? { source: mapSource(source, f) } : {}),
  };
}

/** The expressions of a step's inputs. */
export function typedTexts(inputs: Record<string, unknown>): string[] {
  const out: string[] = [];
  withTyped(inputs, (t) => {
    out.push(t);
    return t;
  });
  return out;
}

/** Every place of the document that holds an expression, rewritten. */
function mapExpressions(project: Project, f: (text: string) => string): Project {
  const opt = (t: string | undefined): string | undefined => (t === undefined ? undefined : f(t));
  const constraint = (c: Constraint): Constraint => ('value' in c ? { ...c, value: f(c.value) } : c);
  const curve = (c: ProfileCurve): ProfileCurve => (c.kind === 'text' ? withTypedOf(c, f) : c);
  const derived = (d: Derived): Derived => {
    switch (d.kind) {
      case 'offset':
        return { ...d, distance: f(d.distance) };
      case 'linear':
        return { ...d, angle: f(d.angle), count: f(d.count), length: f(d.length), margin: f(d.margin), gap: f(d.gap) };
      case 'circular':
        return { ...d, count: f(d.count), angle: f(d.angle) };
      case 'mirror':
        return d;
    }
  };
  return {
    ...project,
    dimensions: project.dimensions.map((d) => ({ ...d, expr: f(d.expr) })),
    ...(project.sizes ? { sizes: { ...project.sizes, rows: project.sizes.rows.map((r) => ({ ...r, values: r.values.map(f) })) } } : {}),
    ...(project.shop
      ? { shop: { ...project.shop, views: project.shop.views.map((v) => (v.cut === undefined ? v : { ...v, cut: f(v.cut) })) } }
      : {}),
    ...(project.made ? { made: { ...project.made, places: project.made.places.map((p) => place(p, f)) } } : {}),
    profiles: project.profiles.map((p) => ({
      ...p,
      curves: p.curves.map(curve),
      constraints: p.constraints.map(constraint),
      derived: p.derived.map(derived),
    })),
    steps: project.steps.map((s) => ({
      ...s,
      inputs: withTyped(s.inputs, f),
      values: Object.fromEntries(Object.entries(s.values).map(([k, v]) => [k, f(v)])),
    })),
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

/** A place that is measured on parts, with what was typed of it mapped. */
function place(p: Place, f: (text: string) => string): Place {
  const of: Place['of'] =
    p.of.kind === 'named' ? { ...p.of, dimension: f(p.of.dimension) } : p.of.kind === 'typed' ? { ...p.of, value: f(p.of.value) } : p.of;
  return {
    ...p,
    of,
    ...(p.over === undefined ? {} : { over: f(p.over) }),
    ...(p.under === undefined ? {} : { under: f(p.under) }),
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
  return ok({
    ...renamed,
    dimensions: renamed.dimensions.map((d) => (d.name === from ? { ...d, name: to } : d)),
    ...(renamed.sizes ? { sizes: { ...renamed.sizes, dimensions: renamed.sizes.dimensions.map((n) => (n === from ? to : n)) } } : {}),
  });
}

export const setDimension = (project: Project, name: string, expr: string): Project => ({
  ...project,
  dimensions: project.dimensions.map((d) => (d.name === name ? { ...d, expr } : d)),
});

/** Every expression a profile holds. */
const profileTexts = (p: Profile): string[] => [
  ...p.constraints.flatMap((c) => ('value' in c ? [c.value] : [])),
  ...p.curves.flatMap((c) => (c.kind === 'text' ? typedOf(c) : [])),
  ...p.derived.flatMap((d) =>
    d.kind === 'offset'
      ? [d.distance]
      : d.kind === 'linear'
        ? [d.angle, d.count, d.length, d.margin, d.gap]
        : d.kind === 'circular'
          ? [d.count, d.angle]
          : [],
  ),
];

/** Where a dimension is used, in words; empty when nothing would break without it. */
export function usesOf(project: Project, name: string): string[] {
  const has = (t: string | undefined): boolean => t !== undefined && renameIn(t, name, `${name}_`) !== t;
  const out: string[] = [];
  for (const d of project.dimensions) if (d.name !== name && has(d.expr)) out.push(`dimension ${d.name}`);
  for (const p of project.profiles) if (profileTexts(p).some(has)) out.push(`profile ${p.name}`);
  project.steps.forEach((s, i) => {
    if ([...Object.values(s.values), ...typedTexts(s.inputs)].some(has)) out.push(`step ${i + 1}`);
  });
  for (const t of project.brief.targets) if (has(t.min) || has(t.max)) out.push(`target ${t.gauge}`);
  for (const r of project.sizes?.rows ?? []) if (r.values.some(has)) out.push(`size ${r.name}`);
  return out;
}

export const removeDimension = (project: Project, name: string): Project => ({
  ...project,
  dimensions: project.dimensions.filter((d) => d.name !== name),
  ...(project.sizes ? { sizes: withoutColumn(project.sizes, name) } : {}),
});

/** A profile in the place of the one with its id; what is drawn on it is drawn on those linked with it too. */
export const setProfile = (project: Project, profile: Profile): Project => ({
  ...project,
  profiles: project.profiles.some((p) => p.id === profile.id)
    ? project.profiles.map((p) =>
        p.id === profile.id ? profile : profile.link && p.link === profile.link ? { ...p, ...drawn(profile) } : p,
      )
    : [...project.profiles, profile],
});

/** What linked drawings share: all but where they lie and what they are called. */
const drawn = ({ half, projections, points, curves, constraints, derived }: Profile): Partial<Profile> => ({
  half,
  projections,
  points,
  curves,
  constraints,
  derived,
});

export const removeProfile = (project: Project, id: string): Project => ({
  ...project,
  profiles: project.profiles.filter((p) => p.id !== id),
});

/** A step in the place of the one with its id; bodies it makes get names. */
/**
 * A change that was made to a step as it was seen, made to it as it is by now.
 * @param was what was seen @param next that with the change
 */
export function changedOnto(now: Step, was: Step, next: Step): Step {
  const merged = <T>(a: Readonly<Record<string, T>>, b: Readonly<Record<string, T>>, c: Readonly<Record<string, T>>): Record<string, T> => {
    const out = { ...a };
    for (const k of new Set([...Object.keys(b), ...Object.keys(c)])) {
      if (b[k] === c[k]) continue;
      if (k in c) out[k] = c[k]!;
      else delete out[k];
    }
    return out;
  };
  if (now === was || now.kind !== was.kind) return next;
  return {
    ...(merged<unknown>(now, was, next) as typeof now),
    inputs: merged(now.inputs, was.inputs, next.inputs),
    values: merged(now.values, was.values, next.values),
  };
}

export const setStep = (project: Project, step: Step): Project => ({
  ...project,
  steps: project.steps.map((s) => (s.id === step.id ? step : s)),
  bodies: withNamedBodies(project, step.kind, step.inputs, step.id),
});

/** Names for the bodies that a step makes and that have none yet: parts are called by where they lie, others numbered. */
function withNamedBodies(project: Project, kind: string, inputs: Record<string, unknown>, stepId: string): Project['bodies'] {
  const definition = stepDefinitions[kind];
  let out = project.bodies;
  for (const id of definition?.makes(inputs, stepId) ?? []) {
    if (out[id]) continue;
    const part = definition?.part?.(inputs, (ref) => parallelTo(project, ref));
    const whole = part && out[part.of]?.name;
    out = { ...out, [id]: { name: whole ? partName(whole, part.words, out) : `Body ${Object.keys(out).length + 1}` } };
  }
  return out;
}

/** “Pot, lower part”; of a part again a part of the whole, with a number where there is one called so. */
function partName(whole: string, part: string, bodies: Project['bodies']): string {
  const name = `${whole.replace(/, [a-z]+ part( \d+)?$/, '')}, ${part}`;
  const taken = new Set(Object.values(bodies).map((b) => b.name));
  for (let n = 1; ; n++) {
    const numbered = n === 1 ? name : `${name} ${n}`;
    if (!taken.has(numbered)) return numbered;
  }
}

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
  const bodies = withNamedBodies(project, kind, inputs, id);
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

/** The same step once more, after it; one that made bodies makes others. */
export function duplicateStep(project: Project, id: string): Project {
  const at = project.steps.findIndex((s) => s.id === id);
  const step = project.steps[at];
  if (!step) return project;
  const fresh = freshId('s', [...project.steps.map((s) => s.id), ...Object.keys(project.bodies)]);
  const bodies = withNamedBodies(project, step.kind, step.inputs, fresh);
  return { ...project, bodies, steps: project.steps.toSpliced(at + 1, 0, { ...step, id: fresh }) };
}

/** Moves a step to another place in the order. */
export function moveStep(project: Project, id: string, to: number): Project {
  const at = project.steps.findIndex((s) => s.id === id);
  if (at < 0) return project;
  const steps = project.steps.toSpliced(at, 1);
  return { ...project, steps: steps.toSpliced(Math.max(0, Math.min(steps.length, to)), 0, project.steps[at]!) };
}

/** Steps in their order, neighbours of one group together. */
export function groupRuns(steps: readonly Step[]): { readonly group: string | null; readonly steps: readonly Step[] }[] {
  const runs: { group: string | null; steps: Step[] }[] = [];
  for (const s of steps) {
    const last = runs.at(-1);
    if (last && s.group !== undefined && last.group === s.group) last.steps.push(s);
    else runs.push({ group: s.group ?? null, steps: [s] });
  }
  return runs;
}

/** Puts steps under a name, or takes them out of their group. */
export function groupSteps(project: Project, ids: readonly string[], name: string | null): Project {
  const steps = project.steps.map((s) => {
    if (!ids.includes(s.id)) return s;
    const { group: _, ...rest } = s;
    return name === null ? rest : { ...rest, group: name };
  });
  return { ...project, steps };
}

/** Switches steps on or off together. */
export const enableSteps = (project: Project, ids: readonly string[], enabled: boolean): Project => ({
  ...project,
  steps: project.steps.map((s) => (ids.includes(s.id) ? { ...s, enabled } : s)),
});

/** Turns the ties of one section of a loft round it by a share of its length. */
export function turnTies(project: Project, stepId: string, section: number, by: number): Project {
  const step = project.steps.find((s) => s.id === stepId);
  if (!step) return project;
  const sections = (step.inputs.sections as unknown[] | undefined) ?? [];
  const typed = String(step.inputs.shifts ?? '').split(',');
  const shifts = sections.map((_, k) => {
    const before = Number(typed[k]?.trim() || 0) || 0;
    const after = k === section ? before + by : before;
    // Half a turn either way says all there is to say.
    return Math.round((after - Math.round(after)) * 1e4) / 1e4;
  });
  return setStep(project, { ...step, inputs: { ...step.inputs, shifts: shifts.every((x) => x === 0) ? '' : shifts.join(', ') } });
}

/** Changes some of a step's choices and values, or makes it a step of another kind. */
export function patchStep(
  project: Project,
  id: string,
  patch: {
    readonly kind?: string;
    readonly inputs?: Readonly<Record<string, unknown>>;
    readonly values?: Readonly<Record<string, string>>;
  },
): Project {
  const step = project.steps.find((s) => s.id === id);
  if (!step) return project;
  const other = patch.kind && patch.kind !== step.kind ? stepDefinitions[patch.kind] : undefined;
  if (patch.kind && other) {
    const initial = Object.fromEntries(Object.entries(other.values).map(([k, v]) => [k, v.initial]));
    return setStep(project, { ...step, kind: patch.kind, inputs: { ...patch.inputs }, values: { ...initial, ...patch.values } });
  }
  return setStep(project, { ...step, inputs: { ...step.inputs, ...patch.inputs }, values: { ...step.values, ...patch.values } });
}

/** Puts another name in the place of a pick that is lost, wherever a step holds it. */
export function replacePick(project: Project, stepId: string, lost: string, found: string): Project {
  const swap = (v: unknown): unknown => {
    if (v === lost) return found;
    if (Array.isArray(v)) return v.map(swap);
    if (v && typeof v === 'object') return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, swap(x)]));
    return v;
  };
  const step = project.steps.find((s) => s.id === stepId);
  return step ? setStep(project, { ...step, inputs: swap(step.inputs) as Step['inputs'] }) : project;
}

/** Planes that exist before a step (all where left out), the ones through the origin first. */
export function planesBefore(project: Project, beforeStep?: string, also?: string): string[] {
  const out: string[] = Object.keys(ORIGIN_PLANES);
  for (const s of project.steps) {
    if (s.id === beforeStep) break;
    if (stepDefinitions[s.kind]?.places === 'plane') out.push(s.id);
  }
  if (also !== undefined && !out.includes(also)) out.push(also);
  return out;
}

/** Curves in space that exist before a step (all where left out), by the step that draws them. */
export function curvesBefore(project: Project, beforeStep?: string): string[] {
  const at = project.steps.findIndex((s) => s.id === beforeStep);
  return project.steps.slice(0, at < 0 ? undefined : at).flatMap((s) => (stepDefinitions[s.kind]?.places === 'curve' ? [s.id] : []));
}

/** Earlier steps that raise something, which can be repeated. */
export function raisingBefore(project: Project, beforeStep: string): Step[] {
  const at = project.steps.findIndex((s) => s.id === beforeStep);
  return project.steps.slice(0, at < 0 ? undefined : at).filter((s) => stepDefinitions[s.kind]?.again);
}

/**
 * Bodies that exist after the steps before `beforeStep` (all steps when left out).
 * @param built what a step made as far as it was built: of pieces only that tells how many there are
 */
export function bodiesBefore(project: Project, beforeStep?: string, built?: (step: string) => readonly string[] | undefined): string[] {
  let out: string[] = [];
  for (const s of project.steps) {
    if (s.id === beforeStep) break;
    const d = stepDefinitions[s.kind];
    const gone = new Set(d?.removes?.(s.inputs, out));
    if (gone.size > 0) out = out.filter((b) => !gone.has(b));
    out.push(...(d?.makes(s.inputs, s.id) ?? []));
    if (s.enabled) for (const id of built?.(s.id) ?? []) if (!out.includes(id)) out.push(id);
  }
  return out;
}

/** Keeps a measurement, of one thing or between two, after the others. */
export function addMeasurement(project: Project, a: MeasuredThing, b: MeasuredThing | null): Project {
  const list = project.measures ?? [];
  const id = freshId(
    'm',
    list.map((m) => m.id),
  );
  return { ...project, measures: [...list, b ? { id, a, b } : { id, a }] };
}

export const removeMeasurement = (project: Project, id: string): Project => ({
  ...project,
  measures: (project.measures ?? []).filter((m) => m.id !== id),
});

/** What there is to choose from beside a step. */
export function thereBeside(project: Project, step: string): Around {
  const used = new Set(project.steps.flatMap((s) => (s.id === step ? [] : (stepDefinitions[s.kind]?.uses(s.inputs).profiles ?? []))));
  const ids = project.profiles.map((p) => p.id);
  return {
    planes: planesBefore(project, step),
    bodies: bodiesBefore(project, step).toSorted((a, b) => Number(isScan(project, b)) - Number(isScan(project, a))),
    drawings: [...ids.filter((id) => used.has(id)), ...ids.filter((id) => !used.has(id))],
  };
}
