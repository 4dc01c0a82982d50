import { beforeEach, describe, expect, it, vi } from 'vitest';
import { newProject, setDimension } from '../../core/recipe/edit';
import type { Project } from '../../core/recipe/schema';
import type { SizeReport } from '../../engine/sizes';

/** Plays the engine: what was asked waits until it is told, or is given up. */
let waiting: { sheet: Project; answer: (r: SizeReport | null) => void }[] = [];
let rounds = 0;
vi.mock('./bench', () => ({
  engine: {
    trials: () => {
      const mine = ++rounds;
      return (sheet: Project) =>
        new Promise<SizeReport | null>((resolve) => waiting.push({ sheet, answer: (r) => resolve(mine === rounds ? r : null) }));
    },
    stopSizes: () => {
      rounds++;
      for (const w of waiting.splice(0)) w.answer(null);
    },
  },
}));
const { ALL, closeMoving, lookAt, standsFor, stopLooking, useMoving } = await import('./moving');

const sheet = newProject('Beaker');
const heightOf = (p: Project): number => Number.parseFloat(p.dimensions.find((d) => d.name === 'height')!.expr);
/** Made up to 100 mm high; off the brief above 90. */
const report = (p: Project): SizeReport => {
  const h = heightOf(p);
  const gauge = {
    id: 'height',
    label: 'Height',
    unit: 'mm',
    digits: 2,
    min: null,
    max: 90,
    target: '≤ 90',
    applies: true,
    words: '',
  } as const;
  return h > 100
    ? { size: '', failed: { step: 'step 1', why: 'too high' }, gauges: [], ms: 1 }
    : { size: '', gauges: [{ ...gauge, value: h, verdict: h > 90 ? 'fail' : 'pass' }], ms: 1 };
};
const turn = () => new Promise((r) => setTimeout(r, 0));
const answerAll = async (): Promise<void> => {
  for (let i = 0; i < 200; i++) {
    for (const w of waiting.splice(0)) w.answer(report(w.sheet));
    await turn();
  }
};

beforeEach(() => {
  closeMoving();
  waiting = [];
});

describe('what a dimension moves', () => {
  it('comes spot by spot, then with its ends', async () => {
    const done = lookAt('height', sheet, 's1');
    await turn();
    waiting.splice(0)[0]!.answer(report(sheet));
    await turn();
    expect(useMoving.getState()).toMatchObject({ searching: true, trials: 1, sweep: null });
    expect(useMoving.getState().spots.map((s) => s.at)).toEqual([80]);
    await answerAll();
    await done;
    const { sweep, searching } = useMoving.getState();
    expect(searching).toBe(false);
    expect(sweep!.range!.high).toMatchObject({ why: 'step 1: too high' });
    expect(sweep!.brief!.high.gauge).toBe('height');
  });
  it('stands while only that dimension changes; what all move stands for the sheet alone', async () => {
    const done = lookAt('height', sheet, 's1');
    await answerAll();
    await done;
    const moved = (name: string) => standsFor(useMoving.getState(), setDimension(sheet, name, '3 mm'));
    expect([moved('height'), moved('wall')]).toEqual([true, false]);
    expect(standsFor(useMoving.getState(), { ...sheet, name: 'Jar' })).toBe(true);
    const all = lookAt(ALL, sheet, 's1');
    await answerAll();
    await all;
    expect([moved('height'), useMoving.getState().effects.length]).toEqual([false, 2]);
    expect(standsFor(useMoving.getState(), { ...sheet, steps: [...sheet.steps] })).toBe(false);
  });
  it('keeps what is known where it is given up, and what was left says nothing any more', async () => {
    const given = lookAt('height', sheet, 's1');
    await turn();
    waiting.splice(0)[0]!.answer(report(sheet));
    await turn();
    stopLooking();
    await given;
    expect(useMoving.getState()).toMatchObject({ searching: false, trouble: 'it was stopped before its ends were found' });
    expect(useMoving.getState().spots).toHaveLength(1);
    const old = lookAt('height', sheet, 's1');
    const left = waiting.splice(0);
    const next = lookAt('wall', sheet, 's1');
    for (const w of left) w.answer(report(w.sheet));
    await old;
    expect(useMoving.getState()).toMatchObject({ of: 'wall', searching: true, spots: [], trouble: null });
    closeMoving();
    await next;
    expect(useMoving.getState().of).toBeNull();
  });
});
