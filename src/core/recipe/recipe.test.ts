import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { robeHook } from '../../../demo/robe-hook';
import { diffuserBody, steamDiffuser } from '../../../demo/steam-diffuser';
import { evaluateDimensions } from '../dimensions/dimensions';
import { cageOf } from '../form/read';
import { findOutline, turnedVolume } from '../profile/outline';
import { resolveProfile } from '../profile/resolve';
import {
  addDimension,
  addStep,
  bodiesBefore,
  changedOnto,
  enableSteps,
  freshId,
  groupRuns,
  groupSteps,
  moveStep,
  newProject,
  removeStep,
  renameDimension,
  setDimension,
  turnTies,
  usesOf,
} from './edit';
import { parseProject, slug, writeProject } from './file';
import { alternatives, atAnyCopy, edgeName, likeness, mergeNames, numberPieces, sameFace, splitEdgeName } from './names';
import { danglingReferences } from './references';
import { type Project, projectSchema, VERSION } from './schema';
import type { FormInputs } from './steps';
import { stepDefinitions } from './steps';
import { stepValues } from './values';
import { edgeRefWords, edgeWords, faceRefWords, faceWords, stepTitle } from './words';

const text = writeProject(diffuserBody);
const error = (t: string): string => {
  const r = parseProject(t);
  return r.ok ? 'accepted' : r.error;
};
const broken = (edit: (p: Project & Record<string, unknown>) => void): string => {
  const p = structuredClone(diffuserBody) as Project & Record<string, unknown>;
  edit(p);
  return error(JSON.stringify(p));
};

describe('a project file', () => {
  it('reads back as it was written', () => {
    const r = parseProject(text);
    expect(r.ok && r.value).toEqual(diffuserBody);
  });
  it('of the demo is up to date with its script', () => {
    expect(readFileSync(new URL('../../../demo/steam-diffuser.lathe.json', import.meta.url), 'utf8')).toBe(writeProject(steamDiffuser));
  });
  it.each([
    ['', 'empty'],
    ['   ', 'empty'],
    ['{', 'not a whole JSON document'],
    [text.slice(0, 900), 'not a whole JSON document'],
    ['[]', 'not an Ivory Lathe project'],
    ['null', 'not an Ivory Lathe project'],
    ['{"format":"other"}', 'not an Ivory Lathe project'],
    ['{"format":"ivory-lathe"}', 'no valid version'],
    ['{"format":"ivory-lathe","version":"2"}', 'no valid version'],
    [`{"format":"ivory-lathe","version":${VERSION + 1}}`, 'newer version'],
    ['{"format":"ivory-lathe","version":1}', 'could not be brought to version'],
    ['{"format":"ivory-lathe","version":3}', 'could not be brought to version'],
    [`{"format":"ivory-lathe","version":${VERSION}}`, 'damaged at'],
    ['x'.repeat(10_000_000), 'at most 5 MB'],
  ])('that is wrong is refused in one sentence', (t, words) => {
    expect(error(t)).toContain(words);
    expect(error(t).split('\n')).toHaveLength(1);
  });
  it('says where it is damaged', () => {
    expect(broken((p) => Object.assign(p.steps[0]!, { enabled: 'yes' }))).toContain('steps.0.enabled');
    expect(broken((p) => Object.assign(p, { units: 'ell' }))).toContain('units');
    expect(broken((p) => p.dimensions.push({ name: 'height', expr: '1' }))).toContain('two dimensions are called “height”');
    expect(broken((p) => Object.assign(p.steps[1]!, { id: 's1' }))).toContain('“s1” is used twice');
    expect(broken((p) => Object.assign(p.steps[0]!, { kind: 'magic' }))).toContain('does not know');
    expect(broken((p) => Object.assign(p.steps[0]!.inputs, { mode: 'melt' }))).toContain('mode');
    expect(broken((p) => Object.assign(p.steps[0]!, { values: {} }))).toContain('has no angle');
    expect(broken((p) => Object.assign(p.profiles[0]!.curves[0]!, { to: 'nowhere' }))).toContain('“nowhere”');
    expect(broken((p) => Object.assign(p, { marker: 's99' }))).toContain('marker');
  });
  it('of version 1 is brought to today’s version', () => {
    const r = parseProject(readFileSync(new URL('./fixtures/v1.lathe.json', import.meta.url), 'utf8'));
    expect(r.ok ? '' : r.error).toBe('');
    if (!r.ok) return;
    expect(r.value.version).toBe(VERSION);
    expect(r.value.brief.fillBelowBrim).toBe('10 mm');
    expect(r.value.profiles[0]!.curves).toHaveLength(3);
  });
  it('of version 2 keeps its shape: coordinates held by names become dimensions, and the same solid can be turned', () => {
    const r = parseProject(readFileSync(new URL('./fixtures/v2.lathe.json', import.meta.url), 'utf8'));
    expect(r.ok ? '' : r.error).toBe('');
    if (!r.ok) return;
    const { scope } = evaluateDimensions(r.value.dimensions);
    const today = evaluateDimensions(diffuserBody.dimensions).scope;
    r.value.profiles.forEach((p, i) => {
      const [old, now] = [resolveProfile(p, scope), resolveProfile(diffuserBody.profiles[i]!, today)];
      if (!old.ok || !now.ok) throw new Error(`${p.name} does not solve`);
      const [a, b] = [findOutline(old.value, p.name), findOutline(now.value, p.name)];
      if (!a.ok || !b.ok) throw new Error(`${p.name} does not close`);
      expect(turnedVolume(a.value) / turnedVolume(b.value)).toBeCloseTo(1, 9);
    });
    const belly = r.value.profiles[0]!;
    expect(belly.constraints).toContainEqual(expect.objectContaining({ kind: 'across', point: 'p3', value: 'belly', driving: true }));
  });
  it('of version 3 has its profiles on the front plane, halves that follow nothing, and is otherwise today’s', () => {
    const r = parseProject(readFileSync(new URL('./fixtures/v3.lathe.json', import.meta.url), 'utf8'));
    expect(r.ok ? r.value : r.error).toEqual(diffuserBody);
  });
  it('of version 4 has the values its steps gained since, and is otherwise today’s', () => {
    const r = parseProject(readFileSync(new URL('./fixtures/v4.lathe.json', import.meta.url), 'utf8'));
    expect(r.ok ? r.value : r.error).toEqual(robeHook);
  });
  it('of version 5 closes a surface with flat caps, as it did', () => {
    const r = parseProject(readFileSync(new URL('./fixtures/v5.lathe.json', import.meta.url), 'utf8'));
    expect(r.ok ? r.value.version : r.error).toBe(VERSION);
    expect(r.ok && r.value.steps[1]).toEqual({
      id: 's2',
      kind: 'close',
      inputs: { body: 's1' },
      values: { within: '0.05 mm' },
      enabled: true,
    });
  });
  it('of version 6 has cages that repeat nowhere round their axis, and are otherwise as they were', () => {
    const r = parseProject(readFileSync(new URL('./fixtures/v6.lathe.json', import.meta.url), 'utf8'));
    if (!r.ok) throw new Error(r.error);
    expect(r.value.version).toBe(VERSION);
    const { source } = r.value.steps[0]!.inputs as FormInputs;
    expect(source).toMatchObject({ by: 'cage', fold: '1', folded: 1, creases: [[4, 5, 'sharp']] });
    const cage = cageOf(source, evaluateDimensions(r.value.dimensions).scope);
    expect(cage.ok && [cage.value.faces.length, cage.value.creases]).toEqual([6, [[4, 5, 2]]]);
  });
  it('of version 7 has curves that are lines of no face, and is otherwise today’s', () => {
    const r = parseProject(readFileSync(new URL('./fixtures/v7.lathe.json', import.meta.url), 'utf8'));
    expect(r.ok ? r.value : r.error).toEqual(robeHook);
  });
  it('keeps prototype names harmless', () => {
    expect(error(text.replace('"height"', '"__proto__"'))).not.toContain('undefined');
    expect(({} as Record<string, unknown>).polluted).toBeUndefined();
  });
  it('gets a file name that says what it is', () => expect(slug('Steam diffuser', 'Größe 2 / Lid')).toBe('steam-diffuser_gro-e-2-lid'));
});

describe('edits', () => {
  it('a change is made to a step as it is by now, whatever else was changed meanwhile', () => {
    const was = newProject('x').steps[0]!;
    const typed = { ...was, values: { ...was.values, angle: '90°' } };
    const chosen = { ...was, inputs: { ...was.inputs, mode: 'cut' }, note: 'mine' };
    const both = changedOnto(typed, was, chosen);
    expect(both).toEqual({ ...was, values: typed.values, inputs: chosen.inputs, note: 'mine' });
    // What was taken away goes, what was not touched stays.
    const { mode: _, ...rest } = was.inputs;
    expect(changedOnto({ ...typed, enabled: false }, was, { ...was, inputs: rest })).toEqual({ ...typed, enabled: false, inputs: rest });
    expect(changedOnto(was, was, chosen)).toBe(chosen);
  });
  it('rename a dimension everywhere, and nothing else', () => {
    const r = renameDimension(diffuserBody, 'wall', 'skin');
    expect(r.ok).toBe(true);
    if (!r.ok) return;
    const out = writeProject(r.value);
    expect(usesOf(r.value, 'skin')).toEqual(usesOf(diffuserBody, 'wall'));
    expect(usesOf(r.value, 'wall')).toEqual([]);
    expect(out).toContain('mouth + 2*skin');
    expect(out).toContain('wall-min');
    const [before, after] = [evaluateDimensions(diffuserBody.dimensions), evaluateDimensions(r.value.dimensions)];
    expect([...after.values.values()]).toEqual([...before.values.values()]);
  });
  it('refuse a name that is taken, a unit, or no name', () => {
    for (const n of ['height', 'mm', '2x', '']) expect(renameDimension(diffuserBody, 'wall', n).ok).toBe(false);
    expect(addDimension(diffuserBody, 'height', '1').ok).toBe(false);
    expect(addDimension(diffuserBody, 'inset', '1').ok).toBe(true);
  });
  it('never touch the document they start from', () => {
    const before = writeProject(diffuserBody);
    setDimension(diffuserBody, 'wall', '9');
    addStep(diffuserBody, 'shell', { body: 's1', open: [] });
    moveStep(diffuserBody, 's4', 0);
    removeStep(diffuserBody, 's2');
    renameDimension(diffuserBody, 'wall', 'skin');
    expect(writeProject(diffuserBody)).toBe(before);
  });
  it('put a new step at the marker', () => {
    const marked = { ...diffuserBody, marker: 's2' };
    const { project, id } = addStep(marked, 'fillet', { body: 's1', edges: [] });
    expect(project.steps.map((s) => s.id)).toEqual(['s1', 's2', id, 's3', 's4', 's5']);
    expect(project.marker).toBe(id);
    expect(project.steps[2]!.values).toEqual({ radius: '1 mm', end: '1 mm' });
  });
  it('give a new body its name', () => {
    const { project, id } = addStep(diffuserBody, 'revolve', { profile: 'lip', mode: 'new', body: null });
    expect(project.bodies[id]!.name).toBe('Body 2');
    expect(bodiesBefore(project)).toEqual(['s1', id]);
    expect(bodiesBefore(project, 's1')).toEqual([]);
  });
  it('move the marker off a step that goes', () => {
    expect(removeStep({ ...diffuserBody, marker: 's3' }, 's3').marker).toBe('s2');
    expect(removeStep({ ...diffuserBody, marker: 's1' }, 's1').marker).toBeNull();
  });
  it('find ids that are free', () => expect(freshId('s', ['s1', 's3', 's2'])).toBe('s4'));
  it('start a project that is sound', () => expect(error(writeProject(newProject('New')))).toBe('accepted'));
});

describe('references', () => {
  it('of the demo are sound', () => expect(danglingReferences(diffuserBody)).toEqual([]));
  it('to a deleted profile or a later body are reported', () => {
    const p = { ...diffuserBody, profiles: diffuserBody.profiles.slice(1), steps: moveStep(diffuserBody, 's4', 0).steps };
    expect(danglingReferences(p).map((d) => d.step)).toEqual(['s4', 's1']);
  });
});

describe('values of a step', () => {
  const { scope } = evaluateDimensions([{ name: 'wall', expr: '2' }]);
  const values = (kind: string, v: Record<string, string>) => {
    const r = stepValues({ id: 'x', kind, inputs: {}, values: v, enabled: true }, scope);
    return r.ok ? r.value : r.error;
  };
  it('are numbers in mm and radians', () => {
    expect(values('shell', { wall: 'wall*2', floor: '5' })).toEqual({ wall: 4, floor: 5 });
    expect(values('revolve', { angle: '90' })).toEqual({ angle: Math.PI / 2 });
  });
  it.each([
    ['shell', { wall: '-1' }, 'must be more than 0 mm; it is -1 mm'],
    ['shell', { wall: '0' }, 'must be more than 0 mm'],
    ['shell', { wall: 'NaN' }, 'no finite value'],
    ['fillet', { radius: '' }, 'missing'],
    ['revolve', { angle: '400°' }, 'at most 360°'],
  ])('that can’t be are refused: %s %o', (kind, v, words) => expect(values(kind, v)).toContain(words));
});

describe('names', () => {
  const e = edgeName('s2/side', 's1/round(s1/a|s1/b)');
  it('of an edge come in one order and come apart again', () => {
    expect(e).toBe(edgeName('s1/round(s1/a|s1/b)', 's2/side'));
    expect(splitEdgeName(`${e}~2`)).toEqual({ a: 's1/round(s1/a|s1/b)', b: 's2/side', suffix: '~2' });
    expect(splitEdgeName('s1/side')).toBeUndefined();
    // The same at every copy: whichever copy and piece it is of, also deeper within.
    for (const at of ['s2/c1|s1/end', 's1/end|s3/19(s2/c1)', 's1/end#4|s3/7(s2/c1)~2', 's1/end|s9/copy(s3/7(s2/c1))'])
      expect([at, atAnyCopy(at)]).toEqual([at, 's1/end|s2/c1']);
    expect(atAnyCopy('s5/round(s1/end|s3/19(s2/c1))|s1/end')).toBe('s1/end|s5/round(s1/end|s2/c1)');
    expect(atAnyCopy('s4/inner(s3/2(s2/c1))&s1/a|s1/b')).toBe('s1/a&s4/inner(s2/c1)|s1/b');
    expect(atAnyCopy('s1/start|s3/19(s2/c1)')).not.toBe(atAnyCopy('s1/end|s3/19(s2/c1)'));
    expect(atAnyCopy('s1/end')).toBeUndefined();
  });
  it('merged are still each of the two', () => {
    const m = mergeNames(['s2/b', 's1/a', 's1/a']);
    expect(alternatives(m)).toEqual(['s1/a', 's2/b']);
    expect(sameFace('s2/b', m)).toBe(true);
    expect(sameFace('s2/c', m)).toBe(false);
  });
  it('of pieces are counted in the order given', () => expect(numberPieces(['a', 'b', 'a'], (i, j) => j - i)).toEqual(['a#2', 'b', 'a']));
  it('that are near score higher', () => expect(likeness('s1/c3', 's1/c4')).toBeGreaterThan(likeness('s1/c3', 's9/x')));
  it('read as words', () => {
    expect(faceWords('s2/rim', diffuserBody)).toBe('rim of Collar');
    expect(faceWords('s5/rim(s2/rim)', diffuserBody)).toBe('rim left of rim of Collar');
    expect(faceWords('s2/side#2', diffuserBody)).toBe('side of Collar, piece 2');
    expect(faceWords('s5/inner(s1/side)', diffuserBody)).toBe('inside behind the side of Belly');
    const outwards = {
      ...diffuserBody,
      steps: diffuserBody.steps.map((s) => (s.id === 's5' ? { ...s, inputs: { ...s.inputs, side: 'outward' } } : s)),
    };
    expect(faceWords('s5/inner(s1/side)', outwards)).toBe('outside over the side of Belly');
    expect(edgeWords('s1/side|s2/side', diffuserBody)).toBe('edge between side of Belly and side of Collar');
    expect(edgeRefWords({ between: ['s1', 's2'] }, diffuserBody)).toBe('every edge between Belly and Collar');
    expect(faceRefWords({ topOf: 's2' }, diffuserBody)).toBe('topmost flat face of Collar');
    expect(stepTitle('s4', diffuserBody)).toBe('step 4 (Round)');
    expect(faceWords('gone/x', diffuserBody)).toContain('a removed step');
  });
});

it('every step kind reads as a sentence with its values in it', () => {
  for (const step of diffuserBody.steps) {
    const d = stepDefinitions[step.kind]!;
    const parts = d.sentence(step);
    // What a choice brings in is not asked for before.
    const [first] = Object.keys(d.values);
    expect(parts.some((p) => 'value' in p && p.value === first)).toBe(true);
    expect(parts[0]).toEqual({ text: d.verb });
  }
});

describe('groups of steps', () => {
  const p = ['a', 'b', 'c', 'd'].reduce<Project>(
    (q) => addStep(q, 'coil', { plane: 'level', hand: 'right', mode: 'new', body: null }).project,
    {
      ...newProject('t'),
      steps: [],
    },
  );
  const ids = p.steps.map((s) => s.id);
  it('hold neighbours of one name together, and let go of them', () => {
    const grouped = groupSteps(p, [ids[1]!, ids[2]!], 'Springs');
    expect(groupRuns(grouped.steps).map((r) => [r.group, r.steps.length])).toEqual([
      [null, 1],
      ['Springs', 2],
      [null, 1],
    ]);
    expect(projectSchema.safeParse(grouped).success).toBe(true);
    // Moved apart they are two of the same name.
    expect(groupRuns(moveStep(grouped, ids[2]!, 3).steps).map((r) => r.group)).toEqual([null, 'Springs', null, 'Springs']);
    expect(groupSteps(grouped, ids, null).steps.every((s) => !('group' in s))).toBe(true);
    expect(enableSteps(grouped, [ids[1]!, ids[2]!], false).steps.map((s) => s.enabled)).toEqual([true, false, false, true]);
  });
});

it('ties of a loft are turned round one section, and back', () => {
  const inputs = { sections: ['a', 'b', 'c'], paths: [], shifts: '', mode: 'new', body: null };
  const made = addStep({ ...newProject('t'), steps: [] }, 'loft', inputs);
  const shifts = (p: Project): unknown => p.steps.at(-1)!.inputs.shifts;
  const turned = turnTies(made.project, made.id, 1, 0.25);
  expect(shifts(turned)).toBe('0, 0.25, 0');
  expect(shifts(turnTies(turned, made.id, 1, 0.5))).toBe('0, -0.25, 0');
  expect(shifts(turnTies(turned, made.id, 1, -0.25))).toBe('');
});
