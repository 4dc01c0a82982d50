/** Forms in the kernel: where they stand, what they are called, what they are joined to, and why some can't be. */
import { beforeAll, describe, expect, it } from 'vitest';
import { add, empty, engine, extrude, flat, last, square } from '../../../tests/support/parts';
import type { Cage, P3 } from '../../core/form/cage';
import { applyEdit } from '../../core/form/edit/edit';
import { byPlane } from '../../core/form/edit/select';
import { NO_SYMMETRY } from '../../core/form/edit/symmetry';
import { sourceOf } from '../../core/form/read';
import { ballCage, boxCage, gridCage, tubeCage } from '../../core/form/starts';
import { setDimension } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import type { FormInputs, FormSource } from '../../core/recipe/steps';

const raised = (source: FormSource, more: Partial<FormInputs> = {}, on: Project = empty()): Project =>
  add(on, 'form', { source, plane: 'level', follow: 'well', mode: 'new', body: null, ...more });
const report = async (p: Project) => {
  const r = await engine.rebuild(p);
  const s = r.steps.at(-1)!;
  if (s.state === 'failed') throw new Error(`${s.message}: ${s.why}`);
  return { body: r.bodies.at(-1)!, step: s };
};

beforeAll(() => engine.start(), 60_000);

describe('a form', () => {
  it('is the same body on whatever plane it stands', async () => {
    const box = boxCage([60, 40, 30], [3, 2, 2]);
    const level = (await report(raised(sourceOf(box)))).body;
    expect(level.bbox.max[2]).toBeCloseTo(30, 4);
    const front = (await report(raised(sourceOf(box), { plane: 'front' }))).body;
    expect(front.volume / level.volume).toBeCloseTo(1, 9);
    // What is above on the level plane stands before the front plane.
    expect(front.bbox.min[1]).toBeCloseTo(-30, 4);
    expect(front.bbox.max[0]! - front.bbox.min[0]!).toBeCloseTo(level.bbox.max[0]! - level.bbox.min[0]!, 4);
    const side = (await report(raised(sourceOf(box), { plane: 'side' }))).body;
    expect(side.area / level.area).toBeCloseTo(1, 8);
  });
  it('follows more finely when it is told to', async () => {
    const off = (note: string | null): number => Number(/within ([\d.]+) mm/.exec(note ?? '')?.[1] ?? 0);
    const well = (await report(raised(sourceOf(ballCage(30, 2))))).step;
    const finely = (await report(raised(sourceOf(ballCage(30, 2)), { follow: 'finely' }))).step;
    expect(off(well.note)).toBeGreaterThan(0);
    expect(off(finely.note)).toBeLessThan(off(well.note));
  });
  it('has faces named by the cage, that stay when the cage is scaled', async () => {
    const box = boxCage([60, 40, 30], [3, 2, 2]);
    const one = await last(raised(sourceOf(box)));
    expect(one.faces.every((f) => /^s1\/f\d+$/.test(f))).toBe(true);
    expect(new Set(one.faces).size).toBe(one.faces.length);
    const wide = { ...box, vertices: box.vertices.map(([x, y, z]): P3 => [1.4 * x, y, z]) };
    expect(new Set((await last(raised(sourceOf(wide)))).faces)).toEqual(new Set(one.faces));
    const tube = await last(raised(sourceOf(tubeCage(20, 40, 8, 4))));
    expect(tube.faces).toEqual(expect.arrayContaining(['s1/bottom', 's1/top']));
  });
  it('repeats by a dimension, sector by sector', async () => {
    const tube = tubeCage(20, 40, 12, 4);
    // Every second column further in: six petals.
    const petals = { ...tube, vertices: tube.vertices.map(([x, y, z], v): P3 => (v % 2 === 0 ? [x, y, z] : [0.8 * x, 0.8 * y, z])) };
    const p = raised(
      { ...sourceOf(petals), ...{ fold: 'petals', folded: 6 } },
      {},
      { ...empty(), dimensions: [{ name: 'petals', expr: '6' }] },
    );
    const six = (await report(p)).body;
    const nine = (await report(setDimension(p, 'petals', '9'))).body;
    // As wide, and with as many sectors fuller between them.
    expect(nine.bbox.max[2]).toBeCloseTo(six.bbox.max[2]!, 6);
    expect(nine.volume).not.toBeCloseTo(six.volume, 0);
    const broken = await last(setDimension(p, 'petals', '2.5'));
    expect(broken.said).toMatch(/^failed: the form can’t be raised; it repeats a whole number of times/);
  });
  it('joins a body it stands on, and is cut from one', async () => {
    const block = extrude(empty(), flat('plan', 'level', square(80)), {}, { length: '20 mm' });
    const ball = ballCage(20, 2);
    const lifted = (dz: number): Cage => ({ ...ball, vertices: ball.vertices.map(([x, y, z]): P3 => [x, y, z + dz]) });
    const [up, down] = [lifted(8), lifted(-6)];
    const joined = await last(raised(sourceOf(up), { mode: 'join', body: 's1' }, block));
    const cut = await last(raised(sourceOf(down), { mode: 'cut', body: 's1' }, block));
    const alone = (await report(raised(sourceOf(ball)))).body.volume;
    expect(joined.volume).toBeGreaterThan(80 * 80 * 20);
    expect(joined.volume).toBeLessThan(80 * 80 * 20 + alone);
    expect(cut.volume).toBeLessThan(80 * 80 * 20);
    expect(cut.volume).toBeGreaterThan(80 * 80 * 20 - alone);
  });
  it('is a surface where it is left open, with its border', async () => {
    const sheet = await report(raised(sourceOf(gridCage(80, 60, 4, 3)), { mode: 'surface' }));
    expect(sheet.body.closed).toBe(false);
    // A border of straight rows keeps its outline: its corners are corners.
    expect(sheet.body.area).toBeCloseTo(80 * 60, 4);
    expect(sheet.step.note).toContain('1 open border');
  });
});

describe('a form that can’t be', () => {
  it('says that its border is no plane, where, and what would do', async () => {
    const box = boxCage([60, 40, 30], [3, 2, 2]);
    const r = applyEdit(
      box,
      byPlane(box, 'faces', { normal: [0, 0, 1], offset: 30 }, 'on'),
      { do: 'delete' },
      { symmetry: NO_SYMMETRY, weigh: (w) => w },
    );
    if (!r.ok) throw new Error(r.error);
    const bent = {
      ...r.value.cage,
      vertices: r.value.cage.vertices.map(([x, y, z]): P3 => (z > 29 && x > 29 && y > 19 ? [x, y, z + 4] : [x, y, z])),
    };
    const { said } = await last(raised(sourceOf(bent)));
    expect(said).toMatch(
      /^failed: the form can’t be closed; one of its borders lies up to \d\.\d\d mm off its plane; make it a surface and close that/,
    );
  });
  it('says that a weight is no number, or names what is not there', async () => {
    const creased: Cage = { ...boxCage([20, 20, 20], [1, 1, 1]), creases: [[0, 1, 1]] };
    const lost = await last(raised({ ...sourceOf(creased), creases: [[0, 1, 'sharp']] }));
    expect(lost.said).toMatch(/^failed: the form can’t be raised; the weight of a crease: /);
  });
  it('says that its skin runs through itself', async () => {
    // Turned inside out at the waist.
    const tube = tubeCage(20, 60, 8, 6);
    const crossed = { ...tube, vertices: tube.vertices.map(([x, y, z]): P3 => (z > 20 && z < 40 ? [-x, -y, 60 - z] : [x, y, z])) };
    const { said } = await last(raised(sourceOf(crossed)));
    expect(said).toMatch(/^failed: the form can’t be (raised|closed)/);
  });
});
