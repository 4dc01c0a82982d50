import { describe, expect, it } from 'vitest';
import { evaluateDimensions } from '../../core/dimensions/dimensions';
import { resolveProfile } from '../../core/profile/resolve';
import { settle } from '../../core/profile/session';
import { type DrawTool, drawShape, type Place, placeOfSize } from '../../core/profile/shapes';
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
    expect(readPlace('belly/4', scope, undefined, right)).toEqual({ ok: true, value: { x: 25, y: 20, size: 'belly/4' } });
    expect(readPlace('25, 0', scope, undefined, right)).toEqual({ ok: true, value: { x: 25, y: 0 } });
    for (const text of ['0', '-3', '@3', '3 kg', '']) expect(readPlace(text, scope, { x: 0, y: 0 }, right).ok).toBe(false);
  });
  it('can’t follow a last place that is not there', () => {
    const r = readPlace('@5, 3', scope, undefined);
    expect(!r.ok && r.error).toBe('there is no last place to measure from');
  });
});

describe('a typed place that names a dimension', () => {
  const sizes = (wide: string) => evaluateDimensions([{ name: 'wide', expr: wide }]).scope;
  const options = { sides: 6, degree: 3, text: 'a', textHeight: '5 mm', construction: false };
  /** What is drawn at places typed one after the other, with the width it was drawn at, and where its points then lie at another. */
  function drawn(tool: DrawTool, texts: readonly string[], then: string) {
    const scope = sizes('60 mm');
    const places: Place[] = [];
    for (const t of texts) {
      const at = places.map((p) => p.at);
      const r = readPlace(t, scope, at.at(-1), (size) => placeOfSize(tool, at, size));
      if (!r.ok) throw new Error(r.error);
      const { x, y, typed, size } = r.value;
      places.push({ at: { x, y }, ...(typed ? { typed } : {}), ...(size ? { size } : {}) });
    }
    const made = drawShape(emptyProfile('p', 'P', 'front', false), tool, places, options);
    if (!made.ok) throw new Error(made.error);
    const settled = settle(made.value.profile, scope);
    expect(settled.error).toBeUndefined();
    const r = resolveProfile(settled.profile, sizes(then));
    if (!r.ok) throw new Error(JSON.stringify(r.error));
    return { profile: settled.profile, points: [...r.value.points.values()].map((p) => [p.x, p.y]), curves: r.value.curves };
  }
  it('follows it, on either side of the origin, whatever is drawn', () => {
    for (const tool of ['line', 'spline', 'control'] as const) {
      const { points } = drawn(
        tool,
        ['-wide/2, 3', 'wide/2-6, wide', '@wide/6, 2', 'wide, -wide'].slice(0, tool === 'line' ? 2 : 4),
        '66 mm',
      );
      expect(points[0]).toEqual([expect.closeTo(-33, 9), expect.closeTo(3, 9)]);
      expect(points[1]).toEqual([expect.closeTo(27, 9), expect.closeTo(66, 9)]);
      if (tool === 'line') continue;
      expect(points[2]![0]).toBeCloseTo(27 + 11, 9);
      expect(points[3]).toEqual([expect.closeTo(66, 9), expect.closeTo(-66, 9)]);
    }
  });
  it('is run through by an arc and by a circle wherever it goes', () => {
    const arc = drawn('arc', ['-wide/2, 1', 'wide/2, 1', '1e-6 mm, 1 mm + wide/4'], '80 mm');
    const [c] = arc.curves.map((k) => k.curve);
    // Radius of the arc over a chord and its rise (published: c²/8h + h/2).
    expect(c?.kind === 'arc' && c.radius).toBeCloseTo(80 ** 2 / (8 * 20) + 10, 4);
    const circle = drawn('circle', ['3, wide/6', '3 mm + wide/2, wide/6'], '80 mm');
    expect(circle.curves[0]!.curve).toMatchObject({ radius: expect.closeTo(40, 9) });
  });
  it('as a size alone is a radius that follows', () => {
    expect(drawn('circle', ['3,4', 'wide/4'], '80 mm').curves[0]!.curve).toMatchObject({ radius: expect.closeTo(20, 9) });
    const slot = drawn('slot', ['0,0', '20,0', 'wide/20'], '80 mm').curves.map((c) => c.curve);
    for (const c of slot) if (c.kind === 'arc') expect(c.radius).toBeCloseTo(4, 9);
    expect(slot.filter((c) => c.kind === 'arc')).toHaveLength(2);
  });
  it('holds nothing where it names nothing, or is nothing', () => {
    expect(drawn('spline', ['-30, 3', '4, 5'], '60 mm').profile.constraints).toEqual([]);
    const { constraints } = drawn('spline', ['-30, 3', 'wide - 60 mm, 10'], '60 mm').profile;
    expect(constraints).toMatchObject([{ direction: 'vertical', value: '10' }]);
  });
});
