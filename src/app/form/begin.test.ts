/** Forms as they go into the document: a table of rings and its cage stand for one another, and what is begun with is sound. */
import { beforeEach, describe, expect, it } from 'vitest';
import { netOf } from '../../core/form/cage';
import { cageOf, ringFormOf, sourceOf } from '../../core/form/read';
import { type RingForm, ringCage, ringsOf, twists } from '../../core/form/rings';
import { ballCage, boxCage, tubeCage } from '../../core/form/starts';
import { newProject } from '../../core/recipe/edit';
import { parseProject, writeProject } from '../../core/recipe/file';
import type { FormInputs } from '../../core/recipe/steps';
import { startRings } from '../../core/recipe/steps';
import { useBench } from '../state/bench';
import { useProject } from '../state/project';
import { addForm, formFromDrawing, modeFor, ringSource } from './begin';

const none = (): undefined => undefined;
beforeEach(() => {
  useProject.getState().open('p1', newProject('Trial'));
});
const lastForm = () => useProject.getState().project!.steps.at(-1)!;

describe('a form in the document', () => {
  it('begins with a table of rings that can be raised', () => {
    const form = ringFormOf(startRings() as Parameters<typeof ringFormOf>[0], none);
    expect(form.ok && [form.value.sides, form.value.rows.length]).toEqual([12, 5]);
    expect(cageOf(startRings(), none).ok).toBe(true);
  });
  it('is a surface where its borders take no flat cap, and a solid where they do, or there are none', () => {
    const tube = tubeCage(20, 40, 8, 3);
    expect([modeFor(ballCage(30, 2)), modeFor(tube)]).toEqual(['new', 'new']);
    // One vertex of the upper border is pulled up.
    const high = Math.max(...tube.vertices.map((p) => p[2]));
    const pulled = tube.vertices.findIndex((p) => p[2] === high);
    expect(modeFor({ ...tube, vertices: tube.vertices.map((p, i) => (i === pulled ? [p[0], p[1], p[2] + 4] : p)) })).toBe('surface');
  });
  it('as a cage has every place to the last digit, also through a file', () => {
    const ball = ballCage(30, 3);
    addForm(sourceOf(ball));
    const r = parseProject(writeProject(useProject.getState().project!));
    if (!r.ok) throw new Error(r.error);
    const { source } = r.value.steps.at(-1)!.inputs as FormInputs;
    const cage = cageOf(source, none);
    expect(cage.ok && cage.value.vertices.map((p) => p.map((x) => x + 0))).toEqual(ball.vertices.map((p) => p.map((x) => x + 0)));
    expect(useBench.getState().step).toBe(lastForm().id);
  });
  it('as rings says what its cage is: there and back the same', () => {
    const form: RingForm = {
      sides: 16,
      ridge: 2.5,
      rows: [0, 1, 2, 3].map((i) => ({ height: 25 * i, radius: 30 + i, twist: i === 0 ? 0 : 0.3 - 0.05 * i, crease: i === 3 ? 2 : 0 })),
      bottom: 'flat',
      top: 'flat',
    };
    const found = ringsOf(ringCage(form));
    if (!found.ok) throw new Error(found.error);
    const read = ringFormOf(ringSource(found.value.form) as Parameters<typeof ringFormOf>[0], none);
    if (!read.ok) throw new Error(read.error);
    expect(read.value.ridge).toBeCloseTo(2.5, 5);
    expect(twists(read.value.rows).at(-1)).toBeCloseTo(twists(form.rows).at(-1)!, 6);
    for (const [i, r] of read.value.rows.entries()) {
      expect(r.radius).toBeCloseTo(form.rows[i]!.radius, 5);
      expect(r.height).toBeCloseTo(form.rows[i]!.height, 5);
      expect(r.crease).toBe(form.rows[i]!.crease);
    }
  });
  it('is no table where the cage has no rings, and the nearest one where it nearly has', () => {
    expect(ringsOf(boxCage([20, 20, 20], [2, 2, 2]))).toEqual({
      ok: false,
      error: 'a table of rings goes with a tube that is open at both ends',
    });
    const tube = tubeCage(20, 40, 12, 4);
    const pushed = { ...tube, vertices: tube.vertices.map((p, v) => (v === 14 ? ([p[0] + 0.3, p[1], p[2]] as const) : p)) };
    const near = ringsOf(pushed);
    expect(near.ok && near.value.off).toBeGreaterThan(0.2);
    expect(near.ok && near.value.off).toBeLessThan(0.31);
  });
  it('of a drawing stands on the drawing’s plane, turned about the upright axis where it is a half', () => {
    const project = useProject.getState().project!;
    const half = project.profiles.find((p) => p.half)!;
    const before = project.steps.length;
    formFromDrawing(project, half.id);
    expect(useProject.getState().project!.steps.length).toBe(before + 1);
    const { source, plane } = lastForm().inputs as FormInputs;
    expect(plane).toBe('level');
    const cage = cageOf(source, none);
    expect(cage.ok && netOf(cage.value).ok).toBe(true);
    // One that is not there makes nothing.
    formFromDrawing(project, 'nowhere');
    expect(useProject.getState().project!.steps.length).toBe(before + 1);
  });
});
