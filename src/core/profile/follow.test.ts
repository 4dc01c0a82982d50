/** Curves that follow bodies: put in and taken out, held on to, never moved; and which regions of a drawing are filled. */
import { describe, expect, it } from 'vitest';
import { arc, circle, line, noNames, sketchProfile } from '../../../tests/support/sketch';
import { arcAbout } from '../curves/planar';
import {
  addStep,
  bodiesBefore,
  curvesBefore,
  duplicateStep,
  emptyProfile,
  newProject,
  planesBefore,
  renameDimension,
  usesOf,
} from '../recipe/edit';
import { parseProject, writeProject } from '../recipe/file';
import type { Profile } from '../recipe/schema';
import { chainWith } from './chain';
import { addConstraint, addCurve, addPoint } from './draw';
import { addProjection, type Follows, followedIds, projectionOf, removeProjection, withFollowed, withoutFollowed } from './follow';
import { material } from './material';
import { relationsFor } from './relate';
import { resolveProfile } from './resolve';
import { startDrag } from './session';
import { diagnose } from './solver/diagnose';

const base = addProjection(emptyProfile('p', 'P', 'level', false), { body: 's1', what: { kind: 'section' }, outline: false }).profile;
const follows = (x: number): Follows =>
  new Map([
    [
      'f1',
      [
        { id: 'ha', curve: { kind: 'line', a: { x: 0, y: 0 }, b: { x, y: 0 } }, words: 'side of Body' },
        { id: 'hb', curve: arcAbout({ x: 0, y: 0 }, x, 0, 2 * Math.PI), words: 'rim of Body' },
      ],
    ],
  ]);
/** A point that holds on to the end of the line that is followed. */
const held = (): Profile => {
  const p = addPoint(base, { x: 11, y: 1 });
  const q = addPoint(p.profile, { x: 20, y: 9 });
  const l = addCurve(q.profile, { kind: 'line', from: p.id, to: q.id });
  return addConstraint(l.profile, { kind: 'coincident', a: p.id, b: 'f1-ha-b' }).profile;
};
const solved = (p: Profile) => {
  const r = resolveProfile(p, noNames);
  if (!r.ok) throw new Error(r.error.message);
  return r.value;
};

describe('what a profile follows', () => {
  it('is put in as curves of its kinds, and comes out without a trace', () => {
    const full = withFollowed(base, follows(30));
    expect(full.curves.map((c) => [c.id, c.kind, c.construction])).toEqual([
      ['f1-ha', 'line', true],
      ['f1-hb', 'circle', true],
    ]);
    expect(withoutFollowed(full)).toEqual(base);
    expect(withFollowed(base, undefined)).toBe(base);
    const now = follows(30);
    expect(withFollowed(base, now)).toBe(withFollowed(base, now));
    expect(projectionOf(full, 'f1-hb')?.id).toBe('f1');
  });
  it('holds what is tied to it, and takes it along when the body changes', () => {
    for (const x of [10, 14, 18]) {
      const r = solved(withFollowed(held(), follows(x)));
      expect(r.points.get('p1')!.x).toBeCloseTo(x, 9);
    }
  });
  it('counts no freedom, is offered no relation of its own, and can’t be dragged', () => {
    const full = withFollowed(base, follows(30));
    expect(diagnose(solved(full).sketch)).toMatchObject({ freedoms: 0, repeats: [] });
    expect(relationsFor(full, ['f1-ha', 'f1-hb'], false)).toEqual([]);
    const drag = startDrag(full, noNames, { points: ['f1-ha-b'] });
    drag?.move(5, 5);
    expect(solved(full).points.get('f1-ha-b')).toEqual({ x: 30, y: 0 });
  });
  it('that is gone is named where something holds on to it', () => {
    const r = resolveProfile(withFollowed(held(), new Map([['f1', []]])), noNames);
    expect(r.ok ? '' : r.error.message).toContain('not found on the body it follows');
  });
  it('let go of, takes what held on to it with it and nothing else', () => {
    const gone = removeProjection(withFollowed(held(), follows(30)), 'f1');
    expect(gone.projections).toEqual([]);
    expect(gone.constraints).toEqual([]);
    expect(gone.curves).toHaveLength(1);
  });
  it('has ids that last: made from names, pieces of one name counted', () => {
    const ids = followedIds(['s1/side', 's1/rim', 's1/side']);
    expect(ids[2]).toBe(`${ids[0]}n2`);
    expect(followedIds(['s1/rim', 's1/side'])).toEqual([ids[1], ids[0]]);
  });
});

describe('regions are filled', () => {
  const circles = (...radii: number[]): Profile =>
    sketchProfile(
      { m: [0, 0] },
      radii.map((r, i) => circle('m', r, `o${i}`)),
    );
  const areas = (p: Profile): number[] => {
    const r = material(solved(p), false, 'solid', 1, noNames);
    if (!r.ok) throw new Error(r.error);
    return r.value.map((k) => Math.round(k.area / Math.PI));
  };
  it('every second one from the outside in', () => {
    expect(areas(circles(10))).toEqual([100]);
    expect(areas(circles(10, 6))).toEqual([64]);
    expect(areas(circles(10, 6, 2)).sort((a, b) => a - b)).toEqual([4, 64]);
    expect(areas(circles(10, 8, 6, 4)).sort((a, b) => a - b)).toEqual([20, 36]);
  });
  it('not where lines cross without a point, or nothing closes', () => {
    const cross = sketchProfile({ a: [0, 0], b: [10, 10], c: [0, 10], d: [10, 0] }, [line('ab'), line('cd')]);
    const r = material(solved(cross), false, 'solid', 1, noNames);
    expect(r.ok ? '' : r.error).toContain('cross without a point at 5.00, 5.00');
    const open = material(solved(sketchProfile({ a: [0, 0], b: [10, 10] }, [line('ab')])), false, 'solid', 1, noNames);
    expect(open.ok ? '' : open.error).toContain('an end is loose');
  });
  it('as a wall along an open line, about it', () => {
    const l = sketchProfile({ a: [0, 0], b: [30, 0], c: [40, 10], m: [30, 10] }, [line('ab'), arc('bcm')]);
    const r = material(solved(l), false, 'about', 2, noNames);
    expect(r.ok ? r.value[0]!.area : 0).toBeCloseTo(2 * (30 + 5 * Math.PI), 6);
  });
});

it('a chain is what hangs together with a curve, run from end to end', () => {
  const p = sketchProfile({ a: [0, 0], b: [10, 0], c: [10, 10], d: [40, 40], e: [50, 50] }, [line('cb'), line('ab'), line('de')]);
  const chain = chainWith(solved(p).curves, 'ab');
  expect(chain.map(({ curve: c }) => [c.a, c.b])).toEqual([
    [
      { x: 0, y: 0 },
      { x: 10, y: 0 },
    ],
    [
      { x: 10, y: 0 },
      { x: 10, y: 10 },
    ],
  ]);
});

describe('steps that are not of a body', () => {
  const first = addStep(newProject('P'), 'plane', { by: 'place', from: 'level', places: [{ at: ['0', 'wall*2', '0'] }] });
  const curve = addStep(first.project, 'curve', {
    by: 'line',
    places: [],
    paths: [],
    plane: 'level',
    chain: 'smooth',
    join: 'G1',
    ends: 'end-start',
  });
  it('are offered to later ones only', () => {
    expect(planesBefore(curve.project)).toEqual(['front', 'side', 'level', 's2']);
    expect(planesBefore(curve.project, 's2')).toEqual(['front', 'side', 'level']);
    expect([curvesBefore(curve.project), curvesBefore(curve.project, 's3')]).toEqual([['s3'], []]);
  });
  it('hold expressions that follow a dimension’s name', () => {
    expect(usesOf(first.project, 'wall')).toContain('step 2');
    const r = renameDimension(first.project, 'wall', 'skin');
    expect(r.ok && JSON.stringify(r.value.steps[1]!.inputs)).toContain('skin*2');
  });
  it('survive a file, and damaged ones are refused where they are damaged', () => {
    const again = parseProject(writeProject(curve.project));
    expect(again.ok ? again.value : again.error).toEqual(curve.project);
    const bad = {
      ...curve.project,
      steps: curve.project.steps.map((s) => (s.id === 's2' ? { ...s, inputs: { by: 'place', from: 'level' } } : s)),
    };
    const refused = parseProject(writeProject(bad));
    expect(refused.ok ? '' : refused.error).toContain('“s2” is damaged at places');
  });
  it('a duplicate stands after its step and names bodies of its own', () => {
    const p = duplicateStep(newProject('P'), 's1');
    expect(p.steps.map((s) => s.id)).toEqual(['s1', 's2']);
    expect(bodiesBefore(p)).toEqual(['s1', 's2']);
    expect(p.bodies.s2!.name).toBe('Body 2');
  });
  it('bodies that are used up or put away are not there any more', () => {
    let p = duplicateStep(newProject('P'), 's1');
    p = addStep(p, 'combine', { body: 's1', mode: 'join', tools: ['s2'], tooling: 'used' }).project;
    expect([bodiesBefore(p), bodiesBefore(p, 's3')]).toEqual([['s1'], ['s1', 's2']]);
    const kept = addStep(duplicateStep(newProject('P'), 's1'), 'remove', { mode: 'keep', bodies: ['s2'] }).project;
    expect(bodiesBefore(kept)).toEqual(['s2']);
  });
});
