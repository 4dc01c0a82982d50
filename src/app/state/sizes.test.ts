import { beforeEach, describe, expect, it, vi } from 'vitest';
import { newProject, setDimension } from '../../core/recipe/edit';
import type { Project, Size } from '../../core/recipe/schema';
import type { SizeReport } from '../../engine/sizes';

type OnSize = (report: SizeReport) => void;
/** Plays the engine: what was asked waits until it is told. */
const asked: { sizes: readonly Size[]; onSize: OnSize; over: (done: boolean) => void; break: (e: Error) => void }[] = [];
vi.mock('./bench', () => ({
  engine: {
    sizes: (_: Project, sizes: readonly Size[], __: unknown, onSize: OnSize) =>
      new Promise<boolean>((resolve, reject) => asked.push({ sizes, onSize, over: resolve, break: reject })),
    stopSizes: () => asked.at(-1)?.over(false),
  },
}));
const { forgetSizes, knownOf, stopSizes, useSizes, workOut } = await import('./sizes');

const row = (id: string, ...values: string[]): Size => ({ id, name: id, values });
const rows = [row('a', '50 mm'), row('b', '60 mm')];
const sheet: Project = { ...newProject('Beaker'), sizes: { dimensions: ['height'], rows } };
const report = (size: string): SizeReport => ({ size, gauges: [], ms: 1 });
const known = (p: Project, r: Size) => knownOf(useSizes.getState().worked, p, r);

beforeEach(() => {
  forgetSizes();
  asked.length = 0;
});

describe('sizes that are worked out', () => {
  it('are known as they come, and what was written is handed on but not kept', async () => {
    const done = workOut(sheet, rows);
    expect([...useSizes.getState().waiting]).toEqual(['a', 'b']);
    const file = { ok: true as const, value: { name: 'x.step', bytes: new Uint8Array(3), triangles: null } };
    asked[0]!.onSize({ ...report('b'), file });
    expect([...useSizes.getState().waiting]).toEqual(['a']);
    expect(known(sheet, rows[1]!)).toEqual(report('b'));
    asked[0]!.onSize(report('a'));
    asked[0]!.over(true);
    expect(await done).toEqual([report('a'), { ...report('b'), file }]);
    expect(useSizes.getState().waiting.size).toBe(0);
  });
  it('are forgotten when what they hang on changes, and only then', async () => {
    const done = workOut(sheet, rows);
    asked[0]!.onSize(report('a'));
    asked[0]!.over(true);
    await done;
    expect(known({ ...sheet, name: 'Jar', units: 'in' }, rows[0]!)).toBeDefined();
    expect(known({ ...sheet, sizes: { ...sheet.sizes!, rows: [rows[1]!] } }, rows[0]!)).toBeDefined();
    expect(known(setDimension(sheet, 'wall', '3 mm'), rows[0]!)).toBeUndefined();
    expect(known(sheet, row('a', '51 mm'))).toBeUndefined();
    expect(known({ ...sheet, brief: { ...sheet.brief, targets: [] } }, rows[0]!)).toBeUndefined();
    expect(known({ ...sheet, sizes: { ...sheet.sizes!, dimensions: ['wall'] } }, rows[0]!)).toBeUndefined();
  });
  it('that were given up leave the next ones alone', async () => {
    const first = workOut(sheet, rows);
    stopSizes();
    const second = workOut(sheet, [rows[0]!]);
    expect(await first).toBeNull();
    expect([...useSizes.getState().waiting]).toEqual(['a']);
    asked[1]!.onSize(report('a'));
    asked[1]!.over(true);
    expect(await second).toEqual([report('a')]);
  });
  it('whose engine breaks say so', async () => {
    const done = workOut(sheet, rows);
    asked[0]!.break(new Error('no kernel'));
    expect(await done).toBeNull();
    expect(useSizes.getState()).toMatchObject({ trouble: 'no kernel', waiting: new Set() });
  });
});
