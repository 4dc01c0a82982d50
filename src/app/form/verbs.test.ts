/** Every verb of the cage's board: its sentence asks for what its edit needs, and what comes of its first values is a cage or words. */
import { describe, expect, it } from 'vitest';
import { evaluateAs } from '../../core/dimensions/expression';
import { type Cage, netOf } from '../../core/form/cage';
import { applyEdit, type Edit } from '../../core/form/edit/edit';
import { borders, loops, type Picked } from '../../core/form/edit/select';
import { NO_SYMMETRY } from '../../core/form/edit/symmetry';
import { tubeCage } from '../../core/form/starts';
import { type Field, type Values, VERBS, type Verb } from './verbs';

const fieldsOf = (v: Verb): Field[] => v.sentence.filter((s): s is Field => typeof s !== 'string');
const firstValues = (v: Verb): Values => {
  const out: Record<string, number | string> = {};
  for (const f of fieldsOf(v)) {
    if ('choices' in f) out[f.key] = f.choices[0]![0];
    else if ('body' in f) out[f.key] = 'file';
    else {
      const r = evaluateAs(f.start, f.of, () => undefined);
      if (!r.ok) throw new Error(`${v.key}: ${f.start}: ${r.error}`);
      out[f.key] = r.value;
    }
  }
  return out;
};

/** An open tube: something every verb can be tried on, by what it works on. */
const tube: Cage = tubeCage(20, 60, 12, 5);
const ring: Picked = loops(tube, { kind: 'edges', edges: [[24, 25]] });
const PICKS: Partial<Record<string, Picked>> = {
  place: { kind: 'vertices', vertices: [30] },
  straighten: {
    kind: 'edges',
    edges: [
      [0, 12],
      [12, 24],
    ],
  },
  loop: { kind: 'edges', edges: [[12, 24]] },
  split: { kind: 'edges', edges: [[12, 24]] },
  bridge: borders(tube),
  fill: { kind: 'edges', edges: [[0, 1]] },
  connect: { kind: 'vertices', vertices: [12, 25] },
  weld: { kind: 'vertices', vertices: [24, 25] },
  extrude: { kind: 'faces', faces: [14, 15] },
  'extrude-by': { kind: 'faces', faces: [14, 15] },
  inset: { kind: 'faces', faces: [14, 15] },
  delete: { kind: 'faces', faces: [14, 15] },
  dissolve: { kind: 'faces', faces: [14, 15] },
};

describe('the verbs', () => {
  it('have keys, words and fields of their own, each field once', () => {
    expect(new Set(VERBS.map((v) => v.key)).size).toBe(VERBS.length);
    expect(new Set(VERBS.map((v) => v.words)).size).toBe(VERBS.length);
    for (const v of VERBS) {
      const keys = fieldsOf(v).map((f) => f.key);
      expect([v.key, new Set(keys).size]).toEqual([v.key, keys.length]);
      for (const f of fieldsOf(v)) expect(f.label.length).toBeGreaterThan(0);
    }
  });
  it('do everything a cage can be told to do', () => {
    const all: Record<Edit['do'], true> = {
      move: true,
      'move-normal': true,
      scale: true,
      rotate: true,
      place: true,
      flatten: true,
      straighten: true,
      'space-evenly': true,
      'make-round': true,
      slide: true,
      pull: true,
      extrude: true,
      'extrude-by': true,
      inset: true,
      'insert-loop': true,
      bevel: true,
      bridge: true,
      fill: true,
      weld: true,
      split: true,
      connect: true,
      delete: true,
      dissolve: true,
      crease: true,
      uncrease: true,
    };
    expect(new Set(VERBS.map((v) => v.make(firstValues(v)).do))).toEqual(new Set(Object.keys(all)));
  });
  it.each(VERBS.map((v) => [v.key, v] as const))('make a cage of their first values, or say why not: %s', (_, verb) => {
    const edit = verb.make(firstValues(verb));
    const picked = PICKS[verb.key] ?? ring;
    if (verb.on) expect(verb.on).toContain(picked.kind);
    // What is pulled onto is put in where the body is known.
    const given: Edit = edit.do === 'pull' ? { ...edit, nearest: ([x, y]) => [x, y, 31] } : edit;
    const r = applyEdit(tube, picked, given, { symmetry: NO_SYMMETRY, weigh: Number });
    expect([verb.key, r.ok ? '' : r.error]).toEqual([verb.key, '']);
    if (r.ok) expect(netOf({ ...r.value.cage, creases: [], corners: [] }).ok).toBe(true);
  });
  it('are soft only where something moves', () => {
    for (const v of VERBS.filter((x) => x.soft)) expect(['move', 'move-normal', 'scale', 'rotate']).toContain(v.make(firstValues(v)).do);
  });
  it('read what is typed: a crease keeps its expression, a fill its way, a weld its distance', () => {
    const verb = (key: string): Verb => VERBS.find((v) => v.key === key)!;
    expect(verb('crease').make({ w: 'sharp * 2' })).toEqual({ do: 'crease', weight: 'sharp * 2' });
    expect(verb('fill').make({ way: 'fan' })).toEqual({ do: 'fill', way: 'fan' });
    expect(verb('weld').make({ how: 'near', d: 0.2 })).toEqual({ do: 'weld', within: 0.2 });
    expect(verb('weld').make({ how: 'one', d: 0.2 })).toEqual({ do: 'weld', within: null });
    expect(verb('round').make({ size: 'given', d: 40, on: 'cage', angles: 'even' })).toEqual({
      do: 'make-round',
      diameter: 40,
      even: true,
      onBody: false,
    });
    expect(verb('rotate').make({ a: 1, axis: 'y', about: 'axis' })).toEqual({ do: 'rotate', angle: 1, axis: [0, 1, 0], about: [0, 0, 0] });
    expect(verb('bridge').make({ r: -2, t: 1.4 })).toEqual({ do: 'bridge', rings: 0, turn: 1 });
  });
});
