/** The cage that is worked on, from the document and back into it: one edit is one change, and what is refused changes nothing. */
import { beforeEach, describe, expect, it } from 'vitest';
import { soapDish } from '../../../demo/soap-dish';
import { twistedTower } from '../../../demo/twisted-tower';
import { byPlane, countOf, nothing } from '../../core/form/edit/select';
import { asymmetry } from '../../core/form/edit/symmetry';
import { readProject } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { redo, undo, useProject } from './project';
import { cageStep, letGo, readCage, setShaping, shape, stillPicked, useShaping } from './shaping';

const now = (): Project => useProject.getState().project!;
const read = () => readCage(cageStep(now(), 's1')!.source, now())!;

beforeEach(() => {
  useProject.getState().open('p1', soapDish);
  useProject.temporal.getState().clear();
  letGo();
});

describe('the cage that is worked on', () => {
  it('is that of the chosen step, when it has one', () => {
    expect(cageStep(soapDish, 's1')?.source.faces.length).toBe(64);
    expect(cageStep(soapDish, 's2')).toBeNull();
    expect(cageStep(soapDish, null)).toBeNull();
    expect(cageStep(twistedTower, 's1')).toBeNull();
  });
  it('is read once for a table of dimensions', () => {
    expect(read()).toBe(read());
    expect(read().symmetry).toEqual({ mirror: ['x', 'y'], fold: 1 });
  });
  it('is edited by one change of the document, on both sides, and goes back and forth exactly', () => {
    const before = now();
    const rim = byPlane(read().texts, 'vertices', { normal: [0, 0, 1], offset: 30 }, 'on');
    setShaping({ picked: rim, kind: 'vertices' });
    expect(shape('s1', { do: 'move', by: [0, 0, 3] })).toBe(true);
    const after = now();
    expect(Math.max(...read().cage.vertices.map((p) => p[2]))).toBe(33);
    expect(asymmetry(read().cage, read().symmetry)).toBe(0);
    expect(countOf(useShaping.getState().picked)).toBe(countOf(rim));
    undo();
    expect(now()).toBe(before);
    redo();
    expect(now()).toBe(after);
    // A file of it reads back as it is.
    const again = readProject(JSON.parse(JSON.stringify(after)));
    expect(again.ok && again.value).toEqual(after);
  });
  it('stays as it was where an edit is refused, and the words stand there', () => {
    const before = now();
    expect(shape('s1', { do: 'extrude', distance: 3, as: 'one' })).toBe(false);
    expect(useShaping.getState().refusal).toBe('nothing is picked');
    setShaping({ picked: { kind: 'faces', faces: [0, 1] }, kind: 'faces' });
    expect(shape('s1', { do: 'inset', distance: 500, as: 'one' })).toBe(false);
    expect(useShaping.getState().refusal).toContain('there is no room');
    expect(now()).toBe(before);
    expect(shape('s2', { do: 'delete' })).toBe(false);
  });
  it('keeps weights as they were typed', () => {
    const border = byPlane(read().texts, 'edges', { normal: [0, 0, 1], offset: 13 }, 'on');
    expect(countOf(border)).toBeGreaterThan(10);
    expect(shape('s1', { do: 'crease', weight: 'drain / 5 mm + 1' }, border)).toBe(true);
    const { source } = cageStep(now(), 's1')!;
    expect(new Set(source.creases.map((c) => c[2]))).toEqual(new Set(['drain / 5 mm + 1']));
    expect(read().cage.creases.every((c) => c[2] === 2)).toBe(true);
  });
  it('lets go of what is not there any more', () => {
    const { texts } = read();
    expect(stillPicked({ kind: 'faces', faces: [0, 63] }, texts)).toEqual({ kind: 'faces', faces: [0, 63] });
    expect(stillPicked({ kind: 'faces', faces: [64] }, texts)).toEqual(nothing('faces'));
    expect(stillPicked({ kind: 'vertices', vertices: [1000] }, texts)).toEqual(nothing('vertices'));
    expect(stillPicked({ kind: 'edges', edges: [[0, 1]] }, texts).kind).toBe('edges');
    // Two vertices without an edge between them are no edge.
    const far = texts.vertices.length - 1;
    expect(stillPicked({ kind: 'edges', edges: [[0, far]] }, texts)).toEqual(nothing('edges'));
  });
});
