import { describe, expect, it } from 'vitest';
import { evaluateDimensions } from '../../core/dimensions/dimensions';
import { evaluateAs } from '../../core/dimensions/expression';
import { readSpace, type TypedPlace } from './places';

const { scope } = evaluateDimensions([{ name: 'drop', expr: '30 mm' }]);
const read = (text: string, last?: TypedPlace): readonly (number | string)[] => {
  const r = readSpace(text, scope, last);
  if (!r.ok) return [r.error];
  return r.value.map((p) => {
    const v = evaluateAs(p, 'length', scope);
    return v.ok ? v.value : v.error;
  });
};

describe('a place in space', () => {
  it.each([
    ['0, 20 mm, drop / 2', [0, 20, 15]],
    ['1 in; -2; 3', [25.4, -2, 3]],
    ['max(3, 4), 2, min(1, 2)', [4, 2, 1]],
  ] as const)('%s', (text, at) => {
    expect(read(text)).toEqual(at);
  });
  it('goes on from the last typed one, following what that follows', () => {
    const last = ['10 mm', '-5 mm', 'drop'] as const;
    expect(read('@5, -5, 2 - 7', last)).toEqual([15, -10, 25]);
    const r = readSpace('@0, -5, -drop', scope, ['0', '0 mm', 'drop']);
    expect(r).toEqual({ ok: true, value: ['0', '-5', 'drop + (-drop)'] });
    expect(readSpace('@5, 0.2 mm, 1 in', scope, ['10', '0.1 mm', '2 mm'])).toEqual({ ok: true, value: ['15', '0.3 mm', '2 mm + (1 in)'] });
    // A dimension that happens to be nought is kept.
    const { scope: flat } = evaluateDimensions([{ name: 'rise', expr: '0 mm' }]);
    expect(readSpace('@1, 2, rise', flat, ['0', '0', '7 mm'])).toEqual({ ok: true, value: ['1', '2', '7 mm + (rise)'] });
  });
  it.each(['', '1, 2', '1, 2, 3, 4', 'a, b, c', '1, 2, 3 kg', '@1, 2, 3'])('“%s” is refused in words', (text) => {
    expect(readSpace(text, scope).ok).toBe(false);
  });
});
