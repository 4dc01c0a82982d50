import { describe, expect, it } from 'vitest';
import { evaluateAs } from '../../core/dimensions/expression';
import { edgeCount, netOf } from '../../core/form/cage';
import { START_SHAPES, startProblem } from './startShapes';

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
  return { cage, euler: cage.vertices.length - edgeCount(net.value) + cage.faces.length };
};

describe('shapes to start from', () => {
  it('are cages of so many quads: closed, open, or a ring', () => {
    expect([made('box').euler, made('ball').euler, made('tube').euler, made('ring').euler, made('sheet').euler]).toEqual([2, 2, 0, 0, 1]);
    expect(made('box', { i: 5, j: 4, k: 3 }).cage.faces.length).toBe(2 * (20 + 15 + 12));
    expect(made('tube', { s: 20, n: 7 }).cage.faces.length).toBe(120);
    expect(made('ball', { n: 4 }).cage.faces.length).toBe(96);
    expect(made('ring', { s: 6, n: 10 }).cage.faces.length).toBe(60);
    expect(made('sheet', { i: 2, j: 9 }).cage.faces.length).toBe(18);
    for (const s of START_SHAPES) expect(made(s.key).cage.faces.every((f) => f.length === 4)).toBe(true);
  });
  it('are as large as asked for', () => {
    const box = made('box', { w: 120, d: 30, h: 15 }).cage.vertices;
    const span = (k: number): number => Math.max(...box.map((p) => p[k]!)) - Math.min(...box.map((p) => p[k]!));
    expect([span(0), span(1), span(2)]).toEqual([120, 30, 15]);
    expect(Math.max(...made('tube', { r: 22 }).cage.vertices.map((p) => Math.hypot(p[0], p[1])))).toBeCloseTo(22, 9);
  });
  it('refuse counts and sizes that make none, in words', () => {
    const field = (shape: string, key: string) => START_SHAPES.find((s) => s.key === shape)!.fields.find((f) => f.key === key)!;
    expect(startProblem(field('tube', 's'), 2)).toBe('a whole number, 3 to 96');
    expect(startProblem(field('tube', 's'), 7.5)).toBe('a whole number, 3 to 96');
    expect(startProblem(field('box', 'w'), 0)).toBe('a size is more than nothing');
    expect(startProblem(field('box', 'w'), 12)).toBeNull();
  });
});
