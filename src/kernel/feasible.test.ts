import { describe, expect, it } from 'vitest';
import { feasible } from './feasible';

const upTo = (limit: number) => {
  let calls = 0;
  return {
    works: (v: number) => {
      calls++;
      return v <= limit;
    },
    calls: () => calls,
  };
};

describe('the range of a value', () => {
  it('takes few trials where the estimate is right', async () => {
    const t = upTo(15);
    const r = await feasible(t.works, { estimate: 15 });
    expect(r.most! / 15).toBeGreaterThan(0.99);
    expect(r.failsAt! / r.most!).toBeLessThan(1.01);
    expect(t.calls()).toBeLessThanOrEqual(4);
  });
  it('is bracketed to a hundredth in at most twelve trials, wherever the end lies', async () => {
    for (const limit of [0.013, 0.2, 1.9, 7.41, 30, 140])
      for (const estimate of [limit * 0.35, limit * 1.4, limit * 6]) {
        const t = upTo(limit);
        const r = await feasible(t.works, { estimate });
        expect(t.calls()).toBeLessThanOrEqual(12);
        expect(r.most).toBeLessThanOrEqual(limit);
        expect(r.failsAt).toBeGreaterThan(limit);
        expect(r.failsAt! / r.most! - 1).toBeLessThan(0.035);
      }
  });
  it('starts from a value that is known', async () => {
    const t = upTo(4);
    const r = await feasible(t.works, { known: { value: 3.9, works: true } });
    expect(r.most).toBeGreaterThanOrEqual(3.9);
    expect(t.calls()).toBeLessThanOrEqual(10);
  });
  it('is honest about gaps, about nothing that works, and about being stopped', async () => {
    const gap = await feasible((v) => v <= 10 && Math.abs(v - 6) > 0.5, { estimate: 10 });
    expect(gap.most).toBeCloseTo(10, 0);
    expect(gap.gaps.some((g) => Math.abs(g - 6) <= 0.5)).toBe(true);
    const none = await feasible(() => false, { estimate: 5 });
    expect([none.most, none.least]).toEqual([null, null]);
    expect(none.failsAt).toBeLessThan(0.2);
    const stopped = await feasible((v) => v < 3, { estimate: 30, tick: async (done) => done < 2 });
    expect(stopped.stopped).toBe(true);
    expect(stopped.trials.length).toBe(2);
  });
});
