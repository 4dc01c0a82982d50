import { describe, expect, it } from 'vitest';
import { evaluateDimensions } from '../../core/dimensions/dimensions';
import { emptyProfile } from '../../core/recipe/edit';
import { readPlace } from './place';
import { mirrorLineOf } from './tools';

describe('the line that is mirrored about', () => {
  const profile = {
    ...emptyProfile('p', 'P', 'front', false),
    points: ['a', 'b', 'c', 'd', 'e'].map((id, i) => ({ id, x: i, y: i * i })),
    curves: [
      { kind: 'line' as const, id: 'ab', from: 'a', to: 'b' },
      { kind: 'line' as const, id: 'bc', from: 'b', to: 'c' },
      { kind: 'line' as const, id: 'de', from: 'd', to: 'e' },
      { kind: 'line' as const, id: 'cd', from: 'c', to: 'd', construction: true as const },
    ],
  };
  const of = (...ids: string[]) =>
    mirrorLineOf(
      profile,
      ids.map((id) => ({ kind: id === 'axis' || id === 'level' ? ('frame' as const) : ('curve' as const), id })),
    );
  it('is one of the frame, a construction line or one apart that was chosen last; else the axis', () => {
    expect(of('ab', 'bc')).toBe('axis');
    expect(of('ab', 'bc', 'de')).toBe('de');
    expect(of('ab', 'bc', 'cd')).toBe('cd');
    expect(of('de', 'ab', 'bc')).toBe('axis');
    expect(of('ab', 'level', 'de')).toBe('level');
    expect(of()).toBe('axis');
  });
});

describe('a typed place', () => {
  const { scope } = evaluateDimensions([{ name: 'belly', expr: '60 mm' }]);
  it.each([
    ['25, 0', 25, 0],
    ['belly/2, 1 in', 30, 25.4],
    ['@5, -3', 15, 17],
    ['@10 < 90°', 10, 30],
    ['20 < 180', -20, 0],
    ['max(3, 4), 2', 4, 2],
  ])('%s', (text, x, y) => {
    const r = readPlace(text, scope, { x: 10, y: 20 });
    expect(r.ok && r.value.x).toBeCloseTo(x, 9);
    expect(r.ok && r.value.y).toBeCloseTo(y, 9);
  });
  it.each([['25'], ['@5, 3 kg'], ['a, b'], ['']])('“%s” is refused in words', (text) => {
    const r = readPlace(text, scope, { x: 0, y: 0 });
    expect(r.ok).toBe(false);
  });
  it('is a length alone where a size is asked for, and only there', () => {
    const right = (size: number) => ({ x: 10 + size, y: 20 });
    expect(readPlace('belly/4', scope, undefined, right)).toEqual({ ok: true, value: { x: 25, y: 20 } });
    expect(readPlace('25, 0', scope, undefined, right)).toEqual({ ok: true, value: { x: 25, y: 0 } });
    for (const text of ['0', '-3', '@3', '3 kg', '']) expect(readPlace(text, scope, { x: 0, y: 0 }, right).ok).toBe(false);
  });
  it('can’t follow a last place that is not there', () => {
    const r = readPlace('@5, 3', scope, undefined);
    expect(!r.ok && r.error).toBe('there is no last place to measure from');
  });
});
