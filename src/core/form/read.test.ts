/** Forms in the document: expressions over named dimensions, renaming, and what is refused in words. */
import { describe, expect, it } from 'vitest';
import { twistedTower } from '../../../demo/twisted-tower';
import { evaluateDimensions } from '../dimensions/dimensions';
import { renameDimension, typedTexts, usesOf } from '../recipe/edit';
import { parseProject, writeProject } from '../recipe/file';
import { type FormInputs, type FormSource, mapSource } from '../recipe/steps';
import { cageOf, ringFormOf } from './read';
import { boxCage, tubeCage } from './starts';

const inputs = twistedTower.steps[0]!.inputs as FormInputs;
const rings = inputs.source as Extract<FormSource, { by: 'rings' }>;
const { scope } = evaluateDimensions(twistedTower.dimensions);
const cage = (more: Partial<Extract<FormSource, { by: 'cage' }>> = {}): FormSource => {
  const c = boxCage([20, 20, 20], [1, 1, 1]);
  return {
    by: 'cage',
    vertices: c.vertices.map((v) => [...v] as [number, number, number]),
    faces: c.faces.map((f) => [...f]),
    creases: [],
    corners: [],
    mirror: [],
    fold: '1',
    folded: 1,
    ...more,
  };
};

describe('a ring table with expressions', () => {
  it('is read over the dimensions: heights, radii, twists', () => {
    const form = ringFormOf(rings, scope);
    if (!form.ok) throw new Error(form.error);
    expect(form.value.rows).toHaveLength(7);
    expect(form.value.rows[6]!.height).toBe(160);
    expect(form.value.rows[3]!.height).toBeCloseTo(80, 9);
    expect(form.value.rows[0]!.radius).toBeCloseTo(33, 9);
    expect((form.value.rows[2]!.twist * 180) / Math.PI).toBeCloseTo(21, 9);
  });
  it('says which cell can’t be read', () => {
    const wrong = (column: 'height' | 'radius' | 'twist' | 'crease', text: string): string => {
      const r = ringFormOf({ ...rings, rows: rings.rows.map((row, i) => (i === 2 ? { ...row, [column]: text } : row)) }, scope);
      return r.ok ? 'read' : r.error;
    };
    expect(wrong('radius', 'nowhere / 2')).toMatch(/^radius of ring 3: /);
    expect(wrong('twist', '3 mm')).toMatch(/^twist of ring 3: /);
    expect(wrong('height', '500 mm')).toMatch(/ring 4 does not stand over ring 3/);
    expect(ringFormOf({ ...rings, sides: '2.5' }, scope)).toMatchObject({ ok: false });
  });
});

describe('a cage in the document', () => {
  it('has crease weights by expression', () => {
    const soft = cageOf(cage({ creases: [[0, 1, 'twist / 12°']], corners: [[0, '2']] }), scope);
    expect(soft.ok && soft.value.creases).toEqual([[0, 1, expect.closeTo(2, 9)]]);
    expect(soft.ok && soft.value.corners).toEqual([[0, 2]]);
  });
  it('is refused in words where it is none, or a weight is none', () => {
    expect(cageOf(cage({ faces: [[0, 1, 99]] }), scope)).toMatchObject({ ok: false, error: expect.stringMatching(/not there/) });
    expect(cageOf(cage({ creases: [[0, 1, 'soft']] }), scope)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/weight of a crease/),
    });
    expect(cageOf(cage({ creases: [[0, 7, '1']] }), scope)).toMatchObject({ ok: false });
  });
});

describe('the dimensions of a form', () => {
  it('are found where they are used, and renamed there', () => {
    expect(usesOf(twistedTower, 'twist')).toEqual(['step 1']);
    const renamed = renameDimension(twistedTower, 'twist', 'turn');
    if (!renamed.ok) throw new Error(renamed.error);
    const texts = typedTexts(renamed.value.steps[0]!.inputs);
    expect(texts.filter((t) => t.includes('turn -'))).toHaveLength(6);
    expect(texts.some((t) => t.includes('twist'))).toBe(false);
    const again = ringFormOf(
      (renamed.value.steps[0]!.inputs as FormInputs).source as typeof rings,
      evaluateDimensions(renamed.value.dimensions).scope,
    );
    expect(again).toEqual(ringFormOf(rings, scope));
  });
  it('of cages are those of their weights', () => {
    const seen: string[] = [];
    mapSource(cage({ creases: [[0, 1, 'soft']], corners: [[2, 'hard']] }), (t) => {
      seen.push(t);
      return t;
    });
    expect(seen).toEqual(['1', 'soft', 'hard']);
  });
  it('and the form itself come back from a file', () => {
    const read = parseProject(writeProject(twistedTower));
    expect(read.ok && read.value).toEqual(twistedTower);
  });
  it('say how often a cage repeats round its axis: the sectors are made anew, the weights of their creases kept', () => {
    const tube = tubeCage(20, 40, 12, 3);
    const six = cage({
      vertices: tube.vertices.map(([x, y, z]) => [x, y, z]),
      faces: tube.faces.map((f) => [...f]),
      creases: [0, 1, 2, 3, 4, 5].map((k) => [12 + 2 * k, 13 + 2 * k, 'soft'] as [number, number, string]),
      fold: 'petals',
      folded: 6,
    });
    const at = (petals: string) =>
      cageOf(
        six,
        evaluateDimensions([
          { name: 'petals', expr: petals },
          { name: 'soft', expr: '1.5' },
        ]).scope,
      );
    const nine = at('9');
    if (!nine.ok) throw new Error(nine.error);
    expect(nine.value.vertices.length).toBe(54);
    expect(nine.value.creases).toHaveLength(9);
    expect(nine.value.creases.every((c) => c[2] === 1.5)).toBe(true);
    expect(at('2.5')).toMatchObject({ ok: false, error: expect.stringContaining('whole number of times') });
    const same = at('6');
    expect(same.ok && same.value.vertices).toEqual(tube.vertices);
    // What is kept alike only where it is so has no sectors that could be more or fewer.
    if (six.by !== 'cage') throw new Error('a cage is wanted');
    const part = cageOf({ ...six, creases: [], corners: [], fold: '9', partly: true }, evaluateDimensions([]).scope);
    expect(part.ok && part.value.vertices).toEqual(tube.vertices);
  });
});
