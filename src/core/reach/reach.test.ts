/** Readings with known formulas brought to what is wanted. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Probe, reachValue } from './reach';

const of =
  (f: (x: number) => number | null) =>
  async (at: number): Promise<Probe> => {
    const value = f(at);
    return value === null || !Number.isFinite(value) ? { at, value: null, why: `nothing at ${at.toFixed(1)}` } : { at, value };
  };
const from = (f: (x: number) => number | null, x: number, target: number, trials = 40) =>
  reachValue(of(f), { from: x, now: f(x)!, target, trials });

describe('a value is found', () => {
  it('of a ball by its mass, of a frustum by what it holds, near and far', async () => {
    const ball = (d: number): number => (Math.PI * d ** 3 * 1.24e-3) / 6;
    const r = await from(ball, 40, 100);
    expect(r.at).toBeCloseTo(Math.cbrt((100 * 6) / (Math.PI * 1.24e-3)), 5);
    const frustum = (h: number): number => ((Math.PI * h) / 3) * (20 ** 2 + 20 * 30 + 30 ** 2);
    expect((await from(frustum, 80, 2 * frustum(70))).at).toBeCloseTo(140, 4);
    expect((await from(frustum, 80, frustum(20))).at).toBeCloseTo(20, 4);
    expect((await from(frustum, 80, frustum(80))).probes).toHaveLength(1);
  });
  it('the nearer of two, whichever side it lies on', async () => {
    const hill = (x: number): number => 100 - (x - 50) ** 2;
    expect((await from(hill, 55, 51)).at).toBeCloseTo(57, 5);
    expect((await from(hill, 45, 51)).at).toBeCloseTo(43, 5);
  });
  it('for any smooth reading that rises or falls, in no more trials than it was given', async () => {
    const kinds = [
      (x: number, a: number) => a * x ** 2,
      (x: number, a: number) => a / x,
      (x: number, a: number) => a * Math.sqrt(x),
      (x: number, a: number) => a * Math.exp(x / 40),
    ];
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: 3 }),
        fc.double({ min: 0.5, max: 9, noNaN: true }),
        fc.double({ min: 10, max: 90, noNaN: true }),
        fc.double({ min: 0.2, max: 1.8, noNaN: true }),
        async (k, a, x, share) => {
          const f = (v: number): number => kinds[k]!(v, a);
          const r = await from(f, x, f(x * share));
          expect(Math.abs(r.at! / (x * share) - 1)).toBeLessThan(1e-5);
          expect(r.probes.length).toBeLessThanOrEqual(41);
        },
      ),
      { numRuns: 150 },
    );
  });
});

describe('all values', () => {
  const all = (f: (x: number) => number | null, x: number, target: number) => reachValue(of(f), { from: x, now: f(x)!, target, all: true });
  it('are found on both sides, the nearest first, each once', async () => {
    const r = await all((x) => 100 - (x - 50) ** 2, 55, 51);
    expect([r.at!, ...r.others.map((p) => p.at)].map((v) => Number(v.toFixed(5)))).toEqual([57, 43]);
    const wave = await all((x) => 5 + Math.sin(x / 9), 50, 5.2);
    const roots = [wave.at!, ...wave.others.map((p) => p.at)];
    for (const v of roots) expect(5 + Math.sin(v / 9)).toBeCloseTo(5.2, 5);
    expect(new Set(roots.map((v) => v.toFixed(4))).size).toBe(roots.length);
    expect(roots.length).toBeGreaterThanOrEqual(3);
    // Where it stands is one of them.
    const here = await all((x) => (x - 40) ** 2, 50, 100);
    expect([here.at, Number(here.others[0]!.at.toFixed(5))]).toEqual([50, 30]);
  });
  it('of what rises all along is one, and of what never comes there none', async () => {
    expect((await all((x) => x ** 3, 50, 60 ** 3)).others).toEqual([]);
    const none = await all((x) => x ** 2, 50, 1e7);
    expect([none.at, none.others]).toEqual([null, []]);
  });
});

describe('what is not reached', () => {
  it('is told with how far it goes, and why not farther', async () => {
    const f = (x: number): number | null => (x > 60 ? null : x ** 2);
    const r = await from(f, 50, 10_000);
    expect([r.at, r.stopped]).toEqual([null, false]);
    expect(r.high.at).toBeGreaterThan(59.4);
    expect(r.high.at).toBeLessThanOrEqual(60);
    expect(r.high.why).toMatch(/^nothing at 6/);
    expect(r.low.why).toBeNull();
  });
  it('a reading that jumps past what is wanted, or does not move, is not said to be reached', async () => {
    expect((await from(() => 5, 10, 6)).at).toBeNull();
    const jump = await from((x) => (x < 10.05 ? 1 : 3), 10, 2, 60);
    expect([jump.at, jump.value]).toEqual([null, null]);
  });
  it('is given up when it is stopped', async () => {
    let left = 5;
    const r = await reachValue(
      of((x) => x),
      { from: 10, now: 10, target: 18.5, tick: async () => left-- > 0 },
    );
    expect([r.at, r.stopped]).toEqual([null, true]);
    expect(r.probes).toHaveLength(6);
  });
});
