/** Kept states: what changed is told change by change, applied again gives the same sheet, and hundreds stay small. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDimension, addStep, emptyProfile, moveStep, patchStep, removeStep, setDimension, setProfile } from '../recipe/edit';
import { parseProject, readProject, writeProject } from '../recipe/file';
import type { Project } from '../recipe/schema';
import { changed, changesBetween } from './changes';
import { bare, forget, history, isKept, keep, keptOf, restored, sinceKept } from './kept';
import { same } from './lists';
import { changedNote, MOST_LETTERS, withNote } from './notes';
import { changeWords } from './words';

const demo = (name: string): Project => {
  const read = parseProject(readFileSync(`demo/${name}.lathe.json`, 'utf8'));
  if (!read.ok) throw new Error(read.error);
  return read.value;
};
const DEMOS = ['steam-diffuser', 'soap-tray', 'robe-hook'].map(demo);
const base = DEMOS[0]!;
const told = (a: Project, b: Project): string[] => changesBetween(a, b).flatMap((c) => changeWords(c, a, b));
const at = (n: number): string => new Date(Date.UTC(2026, 0, 1, 0, n)).toISOString();

/** Any one edit of a sheet, drawn by numbers. */
type Edit = readonly [kind: number, which: number, amount: number];
const pick = <T>(list: readonly T[], n: number): T | undefined => list[n % Math.max(1, list.length)];
function edited(p: Project, [kind, which, amount]: Edit): Project {
  const step = pick(p.steps, which);
  const dimension = pick(p.dimensions, which);
  const profile = pick(p.profiles, which);
  const body = pick(Object.keys(p.bodies), which);
  switch (kind) {
    case 0:
      return dimension ? setDimension(p, dimension.name, `${amount} mm`) : p;
    case 1: {
      const r = addDimension(p, `extra_${amount}`, `${amount} mm`);
      return r.ok ? r.value : p;
    }
    case 2:
      return { ...p, dimensions: p.dimensions.filter((d) => d !== dimension) };
    case 3:
      return { ...p, dimensions: [...p.dimensions].reverse() };
    case 4:
      return step ? moveStep(p, step.id, amount % p.steps.length) : p;
    case 5:
      return step ? removeStep(p, step.id) : p;
    case 6:
      return step && Object.keys(step.values).length > 0
        ? patchStep(p, step.id, { values: { [Object.keys(step.values)[0]!]: `${amount} mm` } })
        : p;
    case 7:
      return step ? { ...p, steps: p.steps.map((s) => (s === step ? { ...s, enabled: !s.enabled } : s)) } : p;
    case 8:
      return addStep(p, 'plane', { by: 'distance', from: 'level' }, { distance: `${amount} mm` }).project;
    case 9:
      return profile
        ? setProfile(p, {
            ...profile,
            points: profile.points.map((q, i) => (i === amount % profile.points.length ? { ...q, x: q.x + amount } : q)),
          })
        : p;
    case 10:
      return setProfile(p, emptyProfile(`new${amount}`, `New ${amount}`));
    case 11:
      return { ...p, profiles: p.profiles.filter((d) => d !== profile) };
    case 12:
      return body ? { ...p, bodies: { ...p.bodies, [body]: { ...p.bodies[body]!, name: `Body ${amount}` } } } : p;
    case 13:
      return { ...p, units: p.units === 'mm' ? 'in' : 'mm', name: `Thing ${amount}` };
    case 14:
      return { ...p, brief: { ...p.brief, targets: [{ gauge: 'height', min: `${amount} mm` }, ...p.brief.targets.slice(1)] } };
    case 15:
      return { ...p, sizes: { dimensions: [], rows: [{ id: 'z1', name: `size ${amount}`, values: [] }] } };
    default: {
      const { sizes: _, ...rest } = p;
      return rest as Project;
    }
  }
}
const edits = fc.array(fc.tuple(fc.integer({ min: 0, max: 16 }), fc.integer({ min: 0, max: 40 }), fc.integer({ min: 1, max: 90 })), {
  maxLength: 25,
});

describe('changes between two states', () => {
  it('applied again give the same sheet, after any edits, either way; none where nothing changed', () => {
    fc.assert(
      fc.property(fc.constantFrom(...DEMOS), edits, (from, list) => {
        const to = list.reduce(edited, from);
        expect(changed(from, changesBetween(from, to))).toEqual(to);
        expect(changed(to, changesBetween(to, from))).toEqual(from);
        expect(changesBetween(to, to)).toEqual([]);
        // As data, too: they are stored as text.
        expect(changed(from, JSON.parse(JSON.stringify(changesBetween(from, to))))).toEqual(JSON.parse(JSON.stringify(to)));
      }),
      { numRuns: 150 },
    );
  });
  it('are told each by itself, and nothing that did not change', () => {
    const one = (edit: Edit): string[] => told(base, edited(base, edit));
    expect(told(base, base)).toEqual([]);
    expect(told(base, setDimension(base, 'wall', '2.6 mm'))).toEqual(['wall 2.2 mm → 2.6 mm']);
    expect(one([1, 0, 7])).toEqual(['extra_7 is new, 7 mm']);
    expect(one([2, 0, 0])).toEqual(['height is gone, it was 140 mm']);
    expect(one([3, 0, 0])).toEqual(['dimensions in another order']);
    expect(told(base, patchStep(base, 's5', { values: { wall: '3 mm' } }))).toEqual(['step 5 (Hollow): wall wall → 3 mm']);
    expect(told(base, patchStep(base, 's5', { inputs: { open: [] } }))).toEqual(['step 5 (Hollow): what it is done to, or how, changed']);
    expect(one([7, 0, 0])).toEqual(['step 1 (Revolve Belly): left out']);
    expect(told(base, removeStep(base, base.steps.at(-1)!.id))).toEqual([expect.stringMatching(/^step 7 \(.+\) is gone$/)]);
    expect(one([8, 0, 7])).toEqual([expect.stringMatching(/^step 8 \(.+\) is new$/)]);
    expect(one([9, 0, 3])).toEqual([expect.stringMatching(/^drawing .+: 1 point changed$/)]);
    expect(one([10, 0, 3])).toEqual(['drawing New 3 is new']);
    expect(told(base, { ...base, units: 'in' })).toEqual(['shown in inches']);
    expect(told(base, { ...base, brief: { ...base.brief, process: 'mould' } })).toEqual(['brief: made by moulding, not printing']);
    const body = Object.keys(base.bodies)[0]!;
    expect(told(base, { ...base, bodies: { ...base.bodies, [body]: { ...base.bodies[body]!, name: 'Jar' } } })).toEqual([
      `Jar: was called ${base.bodies[body]!.name}`,
    ]);
  });
  it('say as many sentences as there were independent edits', () => {
    const values = base.dimensions.map((d) => d.name);
    fc.assert(
      fc.property(fc.subarray(values), fc.subarray(base.steps.map((s) => s.id)), (names, off) => {
        let p = names.reduce((q, n) => setDimension(q, n, '17.5 mm'), base);
        p = { ...p, steps: p.steps.map((s) => (off.includes(s.id) ? { ...s, enabled: !s.enabled } : s)) };
        const words = told(base, p);
        expect(words).toHaveLength(names.length + off.length);
        for (const n of names) expect(words.filter((w) => w.startsWith(`${n} `))).toHaveLength(1);
      }),
      { numRuns: 60 },
    );
  });
});

describe('kept states', () => {
  it('come back each as it was, with what was brought in, through the file', () => {
    fc.assert(
      fc.property(fc.array(edits, { minLength: 1, maxLength: 8 }), (rounds) => {
        let p: Project = base;
        const states: Project[] = [];
        rounds.forEach((list, i) => {
          p = keep(list.reduce(edited, p), `state ${i}`, at(i), 'hand', { volume: i });
          states.push(bare(p));
        });
        expect(isKept(p)).toBe(true);
        const read = readProject(JSON.parse(writeProject(p)));
        if (!read.ok) return;
        keptOf(read.value).forEach((k, i) => {
          const r = restored(read.value, k.id);
          expect(r.ok && bare(r.value)).toEqual(r.ok ? JSON.parse(JSON.stringify(states[i])) : false);
          expect(k.readings).toEqual({ volume: i });
        });
      }),
      { numRuns: 40 },
    );
  });
  it('tell what changed from each to the next, and since the last', () => {
    const first = keep(base, 'as drawn', at(0), 'hand');
    const second = keep(setDimension(first, 'wall', '2.6 mm'), 'thicker', at(1), 'export');
    const now = setDimension(second, 'height', '150 mm');
    expect(history(now).map((h) => [h.kept.name, h.told])).toEqual([
      ['as drawn', []],
      ['thicker', ['wall 2.2 mm → 2.6 mm']],
    ]);
    expect(sinceKept(now)).toEqual(['height 140 mm → 150 mm']);
    expect([isKept(second), isKept(now), sinceKept(base)]).toEqual([true, false, []]);
  });
  it('are forgotten one by one, and the others stay as they were', () => {
    let p: Project = base;
    for (let i = 0; i < 6; i++) p = keep(setDimension(p, 'wall', `${2 + i / 10} mm`), `${i}`, at(i), 'hand');
    const walls = (q: Project): string[] =>
      keptOf(q).map((k) => {
        const r = restored(q, k.id);
        return r.ok ? r.value.dimensions.find((d) => d.name === 'wall')!.expr : r.error;
      });
    for (const [gone, left] of [
      ['k6', [0, 1, 2, 3, 4]],
      ['k1', [1, 2, 3, 4, 5]],
      ['k3', [0, 1, 3, 4, 5]],
    ] as const)
      expect(walls(forget(p, gone))).toEqual(left.map((i) => `${2 + i / 10} mm`));
    expect(forget(p, 'nobody')).toBe(p);
    expect(keptOf(forget(keep(base, '', at(0), 'hand'), 'k1'))).toEqual([]);
  });
  it('of a job of a day are five hundred in less than 2 MB; more than that lose the oldest that nobody named', () => {
    let p: Project = base;
    for (let i = 0; i < 503; i++) {
      p = edited(p, [[0, 6, 9, 7][i % 4]!, i, 1 + (i % 80)]);
      p = keep(p, i < 2 ? `named ${i}` : '', at(i), i < 2 ? 'hand' : 'export', { volume: i, mass: 2 * i });
    }
    expect(keptOf(p)).toHaveLength(500);
    expect(
      keptOf(p)
        .slice(0, 3)
        .map((k) => k.name),
    ).toEqual(['named 0', 'named 1', '']);
    expect(writeProject(p).length).toBeLessThan(2e6);
    expect(JSON.stringify(p).length).toBeLessThan(2e6);
    expect(restored(p, keptOf(p)[0]!.id).ok).toBe(true);
  });
  it('that are damaged are told, not built', () => {
    const p = keep(base, 'x', at(0), 'hand');
    const broken = { ...p, kept: [{ ...keptOf(p)[0]!, state: { format: 'other' } }] };
    expect(restored(broken, 'k1')).toMatchObject({ ok: false });
    expect(restored(p, 'k9')).toMatchObject({ ok: false, error: 'this state is not kept' });
    expect(same({ a: undefined }, {})).toBe(true);
  });
});

describe('notes of the log', () => {
  it('are kept with their day, written over, and gone without words; they are no state of the sheet', () => {
    let p = withNote(base, '  first try  ', '2026-11-01T10:00:00Z');
    p = withNote(withNote(p, '   ', '2026-11-01T11:00:00Z'), 'second', '2026-11-02T10:00:00Z');
    expect(p.notes).toEqual([
      { id: 'n1', at: '2026-11-01T10:00:00Z', text: 'first try' },
      { id: 'n2', at: '2026-11-02T10:00:00Z', text: 'second' },
    ]);
    p = changedNote(changedNote(p, 'n1', 'first, at 215°'), 'n2', ' ');
    expect(p.notes!.map((n) => n.text)).toEqual(['first, at 215°']);
    const kept = keep(p, 'as it is', '2026-11-03T10:00:00Z', 'hand');
    const later = withNote(kept, 'after it', '2026-11-04T10:00:00Z');
    expect(isKept(later)).toBe(true);
    const back = restored(later, 'k1');
    expect(back.ok && back.value.notes).toEqual(later.notes);
    const read = readProject(JSON.parse(writeProject(later)));
    expect(read.ok && read.value.notes).toEqual(later.notes);
    expect(withNote(p, 'x'.repeat(MOST_LETTERS + 5), 'now').notes!.at(-1)!.text).toHaveLength(MOST_LETTERS);
  });
});
