/** Ranges of sheets whose ends are known, and effects whose slopes are. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { effectOf } from './effects';
import { type Mover, outwards } from './mover';
import { type Reading, type Spot, sweep } from './sweep';

type At = Pick<Mover, 'from' | 'whole' | 'kind'>;
const at = (from: number, kind: Mover['kind'] = 'length', whole = false): At => ({ from, kind, whole });

/** Made between two values; read by a formula, off the brief outside of two others. */
const sheet =
  (made: readonly [number, number], brief: readonly [number, number], tried: number[] = []) =>
  async (value: number): Promise<Spot> => {
    tried.push(value);
    if (value < made[0]) return { at: value, read: null, why: 'too small' };
    if (value > made[1]) return { at: value, read: null, why: 'too large' };
    const reading = (v: number, off: boolean): Reading => ({ value: v, off });
    return {
      at: value,
      read: new Map([
        ['low', reading(value, value < brief[0])],
        ['high', reading(value ** 2, value > brief[1])],
      ]),
    };
  };
const NONE = [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY] as const;

describe('a range', () => {
  it('is told with both ends to a hundredth, why there is nothing beyond, and which gauge ends the brief', async () => {
    const r = await sweep(at(50), sheet([31.4, 77], [42, 60]));
    expect(r.stopped).toBe(false);
    const { low, high } = r.range!;
    expect([low.why, high.why]).toEqual(['too small', 'too large']);
    expect(low.at).toBeGreaterThanOrEqual(31.4);
    expect(low.at).toBeLessThan(31.4 * 1.011);
    expect(high.at).toBeLessThanOrEqual(77);
    expect(high.at).toBeGreaterThan(77 * 0.989);
    expect([r.brief!.low.gauge, r.brief!.high.gauge]).toEqual(['low', 'high']);
    expect(Math.abs(r.brief!.low.at / 42 - 1)).toBeLessThan(0.011);
    expect(Math.abs(r.brief!.high.at / 60 - 1)).toBeLessThan(0.011);
  });
  it('holds for any two ends about any value, in no more than two dozen trials a side', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.double({ min: 0.3, max: 900, noNaN: true }),
        fc.double({ min: 0.04, max: 0.999, noNaN: true }),
        fc.double({ min: 1.001, max: 20, noNaN: true }),
        async (from, below, above) => {
          const tried: number[] = [];
          const r = await sweep(at(from), sheet([from * below, from * above], NONE, tried));
          const { low, high } = r.range!;
          expect(low.at / (from * below)).toBeGreaterThanOrEqual(1);
          expect(low.at / (from * below)).toBeLessThan(1.0102);
          expect(high.at / (from * above)).toBeLessThanOrEqual(1);
          expect(high.at / (from * above)).toBeGreaterThan(0.9898);
          // Nothing is tried twice.
          expect(new Set(tried).size).toBe(tried.length);
          expect(tried.length).toBeLessThan(48);
        },
      ),
      { numRuns: 200 },
    );
  });
  it('is as far as it was looked where nothing ends it: that is said as no reason', async () => {
    const r = await sweep(at(10), sheet(NONE, NONE));
    expect([r.range!.low.why, r.range!.high.why]).toEqual([null, null]);
    expect(r.range!.low.at).toBeCloseTo(0.3, 9);
    expect(r.range!.high.at).toBeCloseTo(210, 9);
    expect([r.brief!.low.gauge, r.brief!.high.gauge]).toEqual([null, null]);
  });
  it('of a count is whole numbers, to the last that goes', async () => {
    const tried: number[] = [];
    const r = await sweep(at(22, 'number', true), sheet([9, 31], [12, 24], tried));
    expect(tried.every(Number.isInteger)).toBe(true);
    expect([r.range!.low.at, r.range!.high.at]).toEqual([9, 31]);
    expect([r.brief!.low.at, r.brief!.high.at]).toEqual([12, 24]);
    expect((await sweep(at(2, 'number', true), sheet([1, 99], NONE))).range!.low).toEqual({ at: 1, why: null });
  });
  it('is found beside a value that can’t be made, and the brief beside one that is off', async () => {
    const beyond = await sweep(at(50), sheet([20, 44], NONE));
    expect(beyond.range!.high.at).toBeLessThanOrEqual(44);
    expect(beyond.range!.high.at).toBeGreaterThan(43.5);
    expect(beyond.range!.low.at).toBeLessThan(20.3);
    const under = await sweep(at(50), sheet([55, 80], [70, 75]));
    expect(under.range!.low.at).toBeLessThan(55.6);
    expect(Math.abs(under.brief!.low.at / 70 - 1)).toBeLessThan(0.011);
    expect((await sweep(at(50), sheet([1e4, 1e5], NONE))).range).toBeNull();
    // One that is off all over is left aside: the rest is told without it.
    const aside = await sweep(at(50), sheet([40, 60], [100, 55]));
    expect(aside.aside).toEqual(['low']);
    expect(Math.abs(aside.brief!.high.at / 55 - 1)).toBeLessThan(0.011);
    // Two that are never home together.
    const never = await sweep(at(50), sheet([40, 60], [52, 48]));
    expect([never.aside, never.brief]).toEqual([[], null]);
  });
  it('about nought goes both ways, and is given up when that is asked', async () => {
    const r = await sweep(at(0), sheet([-4, 3], NONE));
    expect(r.range!.low.at).toBeLessThan(-3.9);
    expect(r.range!.high.at).toBeGreaterThan(2.9);
    let left = 5;
    const given = await sweep(at(50), async (v) => (left-- > 0 ? sheet(NONE, NONE)(v) : null));
    expect([given.stopped, given.spots.length]).toEqual([true, 5]);
  });
  it('is looked for on its own side of nought', () => {
    for (const from of [12, -12]) {
      for (const sign of [1, -1] as const)
        for (const v of outwards(at(from), sign)) {
          expect(Math.sign(v)).toBe(Math.sign(from));
          expect(Math.sign(v - from)).toBe(sign);
        }
    }
  });
});

describe('an effect', () => {
  const mover = (from: number, step: number, whole = false): Mover => ({
    ...at(from, whole ? 'number' : 'length', whole),
    name: 'd',
    step,
    at: () => {
      throw new Error('not asked');
    },
    text: (v) => `${v} mm`,
  });
  const readings = (d: number) =>
    new Map([
      ['volume', { value: (Math.PI / 6) * d ** 3, off: false }],
      ['still', { value: 7, off: false }],
      ['none', { value: null, off: false }],
    ]);
  const ball = async (d: number): Promise<Spot> => ({ at: d, read: readings(d) });
  it('of a ball’s diameter on its volume is its derivative, to the square of what was tried', async () => {
    const e = (await effectOf(mover(40, 1), readings(40), ball))!;
    expect(e.by).toBe('1 mm');
    // d/dd of π d³ / 6; a central difference of 1 % is off by a third of 1e-4 of it.
    expect(Math.abs(e.moves.get('volume')! / ((Math.PI / 2) * 40 ** 2) - 1)).toBeLessThan(4e-5);
    expect([...e.moves.keys()]).toEqual(['volume']);
  });
  it('is told from one side where the other can’t be made, and of none that neither can', async () => {
    const one = (await effectOf(mover(40, 1), readings(40), async (d) => (d > 40 ? { at: d, read: null, why: 'no room' } : ball(d))))!;
    expect(Math.abs(one.moves.get('volume')! / ((Math.PI / 2) * 40 ** 2) - 1)).toBeLessThan(0.011);
    const none = (await effectOf(mover(40, 1), readings(40), async (d) => ({ at: d, read: null, why: 'no room' })))!;
    expect([none.moves.size, none.why]).toEqual([0, 'no room']);
    expect(await effectOf(mover(40, 1), readings(40), async () => null)).toBeNull();
  });
  it('of a count is of one more', async () => {
    const e = (await effectOf(mover(6, 1, true), new Map([['mass', { value: 12, off: false }]]), async (n) => ({
      at: n,
      read: new Map([['mass', { value: 2 * n, off: false }]]),
    })))!;
    expect(e.moves.get('mass')).toBeCloseTo(2, 12);
  });
});
