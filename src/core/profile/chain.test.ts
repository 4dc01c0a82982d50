import { describe, expect, it } from 'vitest';
import { arc, line, noNames, sketchProfile } from '../../../tests/support/sketch';
import { chainWith, openLine } from './chain';
import { resolveProfile } from './resolve';

const drawn = (...args: Parameters<typeof sketchProfile>) => {
  const r = resolveProfile(sketchProfile(...args), noNames);
  if (!r.ok) throw new Error(r.error.message);
  return r.value;
};

describe('the open line a surface is raised from', () => {
  it('is all that is drawn, run from end to end whatever way each curve was drawn', () => {
    const r = drawn({ a: [0, 0], b: [10, 0], c: [10, 10], d: [20, 10] }, [line('cb'), line('ab'), line('dc')]);
    const chain = openLine(r);
    expect(chain.ok).toBe(true);
    if (!chain.ok || !chain.value) return;
    expect(chain.value.map((c) => c.id).sort()).toEqual(['ab', 'cb', 'dc']);
    chain.value.slice(1).forEach((c, i) => {
      expect(c.curve.a).toEqual(chain.value![i]!.curve.b);
    });
  });
  it('is none where an outline is closed', () => {
    const r = openLine(drawn({ a: [0, 0], b: [10, 0], c: [10, 10] }, [line('ab'), line('bc'), line('ca')]));
    expect(r).toEqual({ ok: true, value: undefined });
  });
  it('leaves construction lines aside', () => {
    const r = openLine(drawn({ a: [0, 0], b: [10, 0], c: [40, 40] }, [line('ab'), { ...line('bc'), construction: true }]));
    expect(r.ok && r.value?.map((c) => c.id)).toEqual(['ab']);
  });
  it('is refused in words where nothing is drawn, or pieces lie apart', () => {
    expect(openLine(drawn({ a: [0, 0] }, []))).toEqual({ ok: false, error: 'nothing is drawn yet' });
    const apart = openLine(drawn({ a: [0, 0], b: [10, 0], c: [30, 0], d: [40, 0] }, [line('ab'), line('cd')]));
    expect(apart.ok ? '' : apart.error).toContain('do not hang together');
  });
});

it('a chain keeps the names of its curves, arcs turned round with them', () => {
  const r = drawn({ a: [0, 0], b: [10, 0], c: [20, 10], m: [10, 10] }, [arc('bcm'), line('ba')]);
  const chain = chainWith(r.curves, 'ba');
  expect(chain.map((c) => c.id)).toHaveLength(2);
  expect(chainWith(r.curves, 'none')).toEqual([]);
});
