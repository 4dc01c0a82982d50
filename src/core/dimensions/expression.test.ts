import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evaluateDimensions } from './dimensions';
import { checkName, evaluateAs, evaluateQuantity, namesIn, renameIn } from './expression';

const none = () => undefined;
const mm = (text: string, dims: Record<string, string> = {}): number | string => {
  const r = evaluateAs(text, 'length', evaluateDimensions(Object.entries(dims).map(([name, expr]) => ({ name, expr }))).scope);
  return r.ok ? r.value : r.error;
};

describe('typed lengths', () => {
  it.each([
    ['140 mm', 140],
    ['82.5', 82.5],
    ['82,5', 82.5],
    ['14cm', 140],
    ['3 1/4 in', 82.55],
    ['3 1/4"', 82.55],
    ['12 3/4 in', 323.85],
    ['5/16"', 7.9375],
    ['5/16 in', 7.9375],
    ["2'", 609.6],
    ['2\' 6"', 762],
    ['1 in + 2', 27.4],
    ['2 * (10 mm + 1 in)', 70.8],
    ['-3 mm', -3],
    ['max(2 mm, 0.25 in, 5)', 6.35],
    ['sqrt(9 mm^2)', 3],
    ['10 mm * sin(30°)', 5],
    ['10 mm * cos(pi/3 * 1 rad)', 5],
    ['round(7.6 mm)', 8],
  ])('reads %s', (text, value) => expect(mm(text)).toBeCloseTo(value, 9));

  it('uses named dimensions', () => {
    expect(mm('wall*2', { wall: '2.4' })).toBeCloseTo(4.8, 12);
    expect(mm('height/3 + wall', { height: '140 mm', wall: '2.4' })).toBeCloseTo(140 / 3 + 2.4, 12);
  });

  it.each([
    ['', 'missing'],
    ['wall', 'no dimension called “wall”'],
    ['30°', 'an angle'],
    ['2 mm * 3 mm', 'an area'],
    ['1/0', 'divides by zero'],
    ['2 mm + 30°', "can't be added"],
    ['2 **', "can't be read"],
    ['process.exit()', 'only named functions'],
    ['"abc"', 'no dimension called'],
    ['f(x) = x', 'can stand here'],
    ['a.sqrt(4)', 'only named functions'],
    ['[1,2,3]', 'can stand here'],
    ['eval(1)', 'no function called “eval”'],
    ['constructor(1)', 'no function called “constructor”'],
    ['constructor', 'no dimension called'],
    ['sqrt(-1)', 'no finite value'],
    ['9^9^9^9', 'no finite value'],
    ['NaN', 'no finite value'],
    ['Infinity', 'no finite value'],
    ['1e999', 'no finite value'],
    ['1'.repeat(201), 'longer than 200'],
    [`${'('.repeat(90)}1${')'.repeat(90)}`, 'nested too deeply'],
    ['min(1)', 'takes 2 to 8'],
  ])('refuses %s in words', (text, words) => expect(String(mm(text))).toContain(words));

  it('reads plain numbers as degrees where an angle is meant', () => {
    const r = evaluateAs('90', 'angle', none);
    expect(r.ok && r.value).toBeCloseTo(Math.PI / 2, 12);
    const s = evaluateAs('0.5 rad', 'angle', none);
    expect(s.ok && s.value).toBeCloseTo(0.5, 12);
  });

  it('agrees with plain arithmetic on random sums of products', () => {
    const n = fc.integer({ min: 1, max: 999 });
    fc.assert(
      fc.property(
        n,
        n,
        n,
        n,
        (a, b, c, d) => Math.abs((mm(`${a} mm * ${b} + ${c} / ${d} * 1 mm`) as number) - (a * b + c / d)) < 1e-9 * a * b,
      ),
    );
  });

  it('never throws, whatever is typed', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (t) => typeof evaluateQuantity(t, none).ok === 'boolean'),
      { numRuns: 400 },
    );
  });
});

describe('named dimensions', () => {
  const errors = (dims: Record<string, string>): Record<string, string> => {
    const table = evaluateDimensions(Object.entries(dims).map(([name, expr]) => ({ name, expr })));
    return Object.fromEntries([...table.values].flatMap(([n, r]) => (r.ok ? [] : [[n, r.error]])));
  };
  it('work in any order', () => expect(mm('mouth', { mouth: 'height/4', height: '2*base', base: '70 mm' })).toBeCloseTo(35, 12));
  it('name a circle', () => {
    const e = errors({ a: 'b + 1', b: 'c * 2', c: 'a' });
    expect(e.a).toContain('a uses b, b uses c, c uses a');
  });
  it('name a dimension that uses itself', () => expect(errors({ a: 'a + 1' }).a).toContain('a uses a'));
  it('say which other one is broken', () => expect(errors({ a: 'nothing', b: 'a*2' }).b).toBe('it uses a, which has no value'));
  it('leave the sound ones alone', () => expect(Object.keys(errors({ a: 'nothing', b: '2' }))).toEqual(['a']));
});

describe('names', () => {
  it.each([['mm'], ['in'], ['sqrt'], ['2a'], ['a b'], [''], ['pi'], ['a'.repeat(41)]])('refuses “%s”', (n) =>
    expect(checkName(n).ok).toBe(false),
  );
  it.each([['height'], ['wall_2'], ['größe'], ['e']])('takes “%s”', (n) => expect(checkName(n).ok).toBe(true));
  it('are found in a text, without units and functions', () =>
    expect(namesIn('max(wall, lip) * 2 mm + height').sort()).toEqual(['height', 'lip', 'wall']));
  it('are renamed without touching anything else', () =>
    expect(renameIn('wall*2 + wallpaper/ wall', 'wall', 'skin')).toBe('skin*2 + wallpaper/ skin'));
});
