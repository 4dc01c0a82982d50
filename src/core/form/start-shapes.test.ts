import { describe, expect, it } from 'vitest';
import { evaluateAs } from '../dimensions/expression';
import { bounds } from '../mesh/mesh';
import { edgeCount, netOf } from './cage';
import { farthest } from './farthest';
import { limitMesh } from './limit';
import { START_SHAPES, startProblem } from './start-shapes';

const made = (key: string, more: Record<string, number> = {}) => {
  const shape = START_SHAPES.find((s) => s.key === key)!;
  const values: Record<string, number> = {};
  for (const f of shape.fields) {
    const r = evaluateAs(f.start, f.of, () => undefined);
    if (!r.ok) throw new Error(r.error);
    expect(startProblem(f, r.value)).toBeNull();
    values[f.key] = r.value;
  }
  const cage = shape.make({ ...values, ...more });
  const net = netOf(cage);
  if (!net.ok) throw new Error(net.error.what);
  return { cage, places: limitMesh(net.value, 4).places, euler: cage.vertices.length - edgeCount(net.value) + cage.faces.length };
};

describe('shapes to start from', () => {
  it('are cages of so many quads: closed, open, or a ring', () => {
    expect([made('box').euler, made('ball').euler, made('tube').euler, made('ring').euler, made('sheet').euler]).toEqual([2, 2, 0, 0, 1]);
    expect(made('box', { i: 5, j: 4, k: 3 }).cage.faces.length).toBe(2 * (20 + 15 + 12));
    expect(made('tube', { s: 20, n: 7 }).cage.faces.length).toBe(140);
    expect(made('ball', { n: 4 }).cage.faces.length).toBe(96);
    expect(made('ring', { s: 6, n: 10 }).cage.faces.length).toBe(60);
    expect(made('sheet', { i: 2, j: 9 }).cage.faces.length).toBe(18);
    for (const s of START_SHAPES) expect(made(s.key).cage.faces.every((f) => f.length === 4)).toBe(true);
  });
  it('are as large on the smooth body as asked for, whatever their counts, and stand on the level plane', () => {
    const spans = (places: Float64Array): number[] => {
      const { min, max } = bounds(places);
      expect(Math.abs(min[2])).toBeLessThan(0.01);
      return [0, 1, 2].map((k) => max[k]! - min[k]!);
    };
    for (const n of [1, 2, 3]) {
      const box = spans(made('box', { w: 120, d: 30, h: 15, i: n, j: n, k: n }).places);
      [120, 30, 15].forEach((s, k) => {
        expect(box[k]).toBeCloseTo(s, 2);
      });
      expect(spans(made('ball', { d: 44, n }).places)[2]).toBeCloseTo(44, 2);
    }
    for (const s of [3, 8]) {
      const tube = made('tube', { d: 96, h: 50, s, n: 5 }).places;
      expect(2 * farthest(tube)).toBeCloseTo(96, 2);
      expect(spans(tube)[2]).toBeCloseTo(50, 2);
      const ring = made('ring', { d: 80, t: 18, s, n: 9 }).places;
      expect(Math.abs(2 * farthest(ring) - 80)).toBeLessThan(0.05);
      expect(Math.abs(spans(ring)[2]! - 18)).toBeLessThan(0.05);
    }
    expect(spans(made('sheet', { w: 70, d: 30 }).places).slice(0, 2)).toEqual([expect.closeTo(70, 2), expect.closeTo(30, 2)]);
  });
  it('refuse counts and sizes that make none, in words', () => {
    const field = (shape: string, key: string) => START_SHAPES.find((s) => s.key === shape)!.fields.find((f) => f.key === key)!;
    expect(startProblem(field('tube', 's'), 2)).toBe('a whole number, 3 to 96');
    expect(startProblem(field('tube', 's'), 7.5)).toBe('a whole number, 3 to 96');
    expect(startProblem(field('box', 'w'), 0)).toBe('a size is more than nothing');
    expect(startProblem(field('box', 'w'), 12)).toBeNull();
  });
});
