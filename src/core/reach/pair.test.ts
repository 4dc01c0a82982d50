/** Two readings with known formulas brought to what is wanted by two dimensions. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type PairProbe, reachPair } from './pair';

type Two = readonly [number, number];
const of =
  (f: (x: number, y: number) => Two | null) =>
  async (at: Two): Promise<PairProbe> => {
    const values = f(...at);
    return values?.every(Number.isFinite)
      ? { at, values }
      : { at, values: null, why: `nothing at ${at.map((v) => v.toFixed(1)).join(', ')}` };
  };
const from = (f: (x: number, y: number) => Two | null, at: Two, targets: Two) => reachPair(of(f), { from: at, now: f(...at)!, targets });

/** A beaker of diameter d and height h, 2 mm thick: what it holds in L and its own volume in cm³ (mensuration). */
const beaker = (d: number, h: number): Two | null => {
  if (d <= 4 || h <= 2) return null;
  const held = Math.PI * (d / 2 - 2) ** 2 * (h - 2);
  return [held / 1e6, ((Math.PI / 4) * d * d * h - held) / 1e3];
};

describe('two values are found together', () => {
  it('of a beaker by what it holds and by its material, wherever it begins', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.double({ min: 30, max: 120, noNaN: true }),
        fc.double({ min: 40, max: 160, noNaN: true }),
        fc.double({ min: 0.7, max: 1.35, noNaN: true }),
        fc.double({ min: 0.7, max: 1.35, noNaN: true }),
        async (d, h, a, b) => {
          const want = beaker(d * a, h * b)!;
          const r = await from(beaker, [d, h], want);
          // Two beakers may hold the same of the same material: what is read is what counts.
          expect(r.at).not.toBeNull();
          const got = beaker(...r.at!)!;
          expect(Math.abs(got[0] / want[0] - 1)).toBeLessThan(1e-6);
          expect(Math.abs(got[1] / want[1] - 1)).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 150 },
    );
  });
  it('where each moves its own only, and where nothing has to change', async () => {
    const r = await from((x, y) => [x ** 3, 1 / y], [4, 5], [100, 0.125]);
    expect(r.at![0]).toBeCloseTo(Math.cbrt(100), 5);
    expect(r.at![1]).toBeCloseTo(8, 5);
    expect(await from((x, y) => [x, y], [4, 5], [4, 5])).toMatchObject({ at: [4, 5], trials: 0 });
  });
});

describe('what two can’t reach', () => {
  it('is told with the nearest that is made and why no nearer is', async () => {
    // Wider than 80 there is none: half a litre at 50 mm high would be.
    const r = await from((d, h) => (d > 80 ? null : [beaker(d, h)![0], h]), [60, 80], [0.5, 50]);
    expect(r.at).toBeNull();
    expect(r.why).toMatch(/^nothing at/);
    expect(r.nearest[0]).toBeLessThanOrEqual(80);
  });
  it('where both move both alike', async () => {
    const r = await from((x, y) => [x + y, 2 * x + 2 * y], [4, 5], [12, 20]);
    expect([r.at, r.why]).toEqual([null, 'both dimensions move both readings alike']);
  });
  it('ends when it is given up, with no more trials than it was given', async () => {
    let left = 4;
    const r = await reachPair(of(beaker), { from: [60, 80], now: beaker(60, 80)!, targets: [0.5, 90], tick: async () => left-- > 0 });
    expect([r.at, r.stopped, r.trials]).toEqual([null, true, 4]);
    const few = await reachPair(
      of((x, y) => [Math.sin(x * 40) + 2, Math.cos(y * 40) + 2]),
      {
        from: [1, 1],
        now: [2.7, 1.3],
        targets: [9, 9],
        trials: 30,
      },
    );
    expect(few.trials).toBeLessThanOrEqual(30);
    expect(few.at).toBeNull();
  });
});
