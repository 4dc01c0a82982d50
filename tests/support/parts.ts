/** Short ways to parts in tests: drawings, steps, and what came of them. One engine a test file. */
import { addStep, emptyProfile, newProject, setProfile } from '../../src/core/recipe/edit';
import type { Profile, Project } from '../../src/core/recipe/schema';
import type { ExtrudeInputs, RaiseMode } from '../../src/core/recipe/steps';
import { Engine } from '../../src/engine/engine';
import { polyProfile, testKernel } from './kernel';

export const engine = new Engine({ open: testKernel });

export const empty = (): Project => ({ ...newProject('Part'), profiles: [], steps: [], bodies: {} });
export const flat = (id: string, plane: string, corners: readonly (readonly [number, number])[]): Profile => ({
  ...polyProfile(corners, true),
  id,
  name: id,
  plane,
  half: false,
});
export const circle = (id: string, plane: string, radius: number, at: readonly [number, number] = [0, 0]): Profile => ({
  ...emptyProfile(id, id, plane, false),
  points: [{ id: 'm', x: at[0], y: at[1] }],
  curves: [{ kind: 'circle', id: 'c0', centre: 'm', radius }],
});
export const square = (side: number): (readonly [number, number])[] => [
  [-side / 2, -side / 2],
  [side / 2, -side / 2],
  [side / 2, side / 2],
  [-side / 2, side / 2],
];
export const fresh: RaiseMode = { mode: 'new', body: null };
type Some = Partial<ExtrudeInputs>;
export function extrude(p: Project, profile: Profile, inputs: Some, values: Record<string, string> = {}): Project {
  const with_ = setProfile(p, profile);
  const all: ExtrudeInputs = {
    profile: profile.id,
    extent: 'one',
    way: 'out',
    fill: 'solid',
    faces: [],
    until: null,
    ...fresh,
    ...inputs,
  };
  return addStep(with_, 'extrude', all, values).project;
}
export async function last(p: Project): Promise<{ volume: number; faces: readonly string[]; said: string }> {
  const r = await engine.rebuild(p);
  const s = r.steps[r.steps.length - 1]!;
  const body = r.bodies[r.bodies.length - 1];
  const live = engine.bodies().find((b) => b.id === body?.id);
  return {
    volume: s.state === 'failed' || s.state === 'skipped' ? Number.NaN : (body?.volume ?? Number.NaN),
    faces: live?.body.faces ?? [],
    said: `${s.state}: ${s.message ?? ''}; ${s.why ?? ''}; ${s.tryInstead.join('; ')}`,
  };
}
export const volume = async (p: Project): Promise<number> => {
  const r = await last(p);
  if (Number.isNaN(r.volume)) throw new Error(r.said);
  return r.volume;
};

export const box = (p: Project, sizes: readonly [number, number, number], more: Record<string, unknown> = {}): Project =>
  addStep(
    p,
    'primitive',
    { shape: 'box', plane: 'level', places: [], ...fresh, ...more },
    { width: `${sizes[0]}`, depth: `${sizes[1]}`, height: `${sizes[2]}` },
  ).project;
export const at = (x: number, y: number, z: number): { at: [string, string, string] } => ({ at: [`${x}`, `${y}`, `${z}`] });
export async function bodies(p: Project): Promise<Record<string, number>> {
  const r = await engine.rebuild(p);
  const wrong = r.steps.find((s) => s.state === 'failed' || s.state === 'skipped');
  if (wrong) throw new Error(`${wrong.message}; ${wrong.why}; ${wrong.tryInstead.join('; ')}`);
  return Object.fromEntries(r.bodies.map((b) => [b.id, b.volume]));
}
export const add = (
  p: Project,
  kind: Parameters<typeof addStep>[1],
  inputs: Record<string, unknown>,
  values: Record<string, string> = {},
): Project => addStep(p, kind, inputs, values).project;

/** A pattern in a row across, so far apart; what it repeats is given. */
export const ROW = { what: 'step', step: null, body: null, along: 'row', axis: 'x', paths: [], by: 'spacing', symmetric: 'one', skip: '' };

/** Planes one above the other, with a drawing on each. */
export function stack(drawings: readonly (readonly [number, (id: string, plane: string) => Profile])[]): {
  project: Project;
  ids: string[];
} {
  let project = empty();
  const ids: string[] = [];
  for (const [height, make] of drawings) {
    const lift = addStep(project, 'plane', { by: 'distance', from: 'level' }, { distance: `${height} mm` });
    const id = `at${height}`;
    project = setProfile(lift.project, make(id, lift.id));
    ids.push(id);
  }
  return { project, ids };
}
export const loft = (
  p: { project: Project; ids: string[] },
  more: Record<string, unknown> = {},
  values: Record<string, string> = {},
): Project =>
  add(
    p.project,
    'loft',
    { sections: p.ids, paths: [], rails: 'drawn', skin: 'smooth', run: 'open', start: 'free', end: 'free', shifts: '', ...fresh, ...more },
    values,
  );
export const disc =
  (r: number, at: readonly [number, number] = [0, 0]) =>
  (id: string, plane: string) =>
    circle(id, plane, r, at);
export const block = (side: number) => (id: string, plane: string) => flat(id, plane, square(side));
export const spot =
  (x: number, y: number) =>
  (id: string, plane: string): Profile => ({ ...emptyProfile(id, id, plane, false), points: [{ id: 'p', x, y, reference: true }] });
/** A rectangle 60 × 36 with corners rounded by 8. */
export const rounded = (id: string, plane: string): Profile => {
  const [x, y, r] = [30, 18, 8];
  const pts = {
    a: [-x + r, -y],
    b: [x - r, -y],
    c: [x, -y + r],
    d: [x, y - r],
    e: [x - r, y],
    f: [-x + r, y],
    g: [-x, y - r],
    h: [-x, -y + r],
  };
  const mid = { m1: [x - r, -y + r], m2: [x - r, y - r], m3: [-x + r, y - r], m4: [-x + r, -y + r] };
  return {
    ...emptyProfile(id, id, plane, false),
    points: Object.entries({ ...pts, ...mid }).map(([k, [px, py]]) => ({ id: k, x: px!, y: py! })),
    curves: [
      { kind: 'line', id: 'l1', from: 'a', to: 'b' },
      { kind: 'arc', id: 'r1', from: 'b', to: 'c', centre: 'm1', ccw: true },
      { kind: 'line', id: 'l2', from: 'c', to: 'd' },
      { kind: 'arc', id: 'r2', from: 'd', to: 'e', centre: 'm2', ccw: true },
      { kind: 'line', id: 'l3', from: 'e', to: 'f' },
      { kind: 'arc', id: 'r3', from: 'f', to: 'g', centre: 'm3', ccw: true },
      { kind: 'line', id: 'l4', from: 'g', to: 'h' },
      { kind: 'arc', id: 'r4', from: 'h', to: 'a', centre: 'm4', ccw: true },
    ],
  };
};

export const curve = (p: Project, more: Record<string, unknown>, values: Record<string, string> = {}): { project: Project; id: string } =>
  addStep(
    p,
    'curve',
    { by: 'line', places: [], paths: [], plane: 'level', chain: 'smooth', join: 'G1', ends: 'end-start', ...more },
    values,
  );
export const sweep = (
  p: Project,
  path: object,
  sections: readonly string[],
  more: Record<string, unknown> = {},
  values: Record<string, string> = {},
): Project => add(p, 'sweep', { sections, paths: [path], hold: 'square', ...fresh, ...more }, values);
export const noteOf = async (p: Project): Promise<string> => {
  const s = (await engine.rebuild(p)).steps.at(-1)!;
  return `${s.state}: ${s.note ?? ''} ${s.message ?? ''} ${s.why ?? ''}`;
};
