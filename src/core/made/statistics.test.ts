import fc from 'fast-check';
import { max, mean, min, sampleStandardDeviation } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { capability, heldBy, repeatability, spreadOf, summary, t95 } from './statistics';

const some = fc.array(fc.double({ min: -500, max: 500, noNaN: true }), { minLength: 2, maxLength: 40 });

describe('figures of pieces', () => {
  it('are those of a general-purpose library (simple-statistics)', () => {
    fc.assert(
      fc.property(some, (values) => {
        const s = summary(values)!;
        expect(s.mean).toBeCloseTo(mean(values), 8);
        expect(s.spread).toBeCloseTo(sampleStandardDeviation(values), 8);
        expect([s.least, s.most, s.count]).toEqual([min(values), max(values), values.length]);
      }),
    );
  });

  it('hold the certified mean and deviation of NIST StRD Michelso (from memory: 299.852400000000, 0.0790105478190518, 100 readings)', () => {
    const thousandths = [
      850, 740, 900, 1070, 930, 850, 950, 980, 980, 880, 1000, 980, 930, 650, 760, 810, 1000, 1000, 960, 960, 960, 940, 960, 940, 880, 800,
      850, 880, 900, 840, 830, 790, 810, 880, 880, 830, 800, 790, 760, 800, 880, 880, 880, 860, 720, 720, 620, 860, 970, 950, 880, 910, 850,
      870, 840, 840, 850, 840, 840, 840, 890, 810, 810, 820, 800, 770, 760, 740, 750, 760, 910, 920, 890, 860, 880, 720, 840, 850, 850, 780,
      890, 840, 780, 810, 760, 810, 790, 810, 820, 850, 870, 870, 810, 740, 810, 940, 950, 800, 810, 870,
    ];
    const s = summary(thousandths.map((v) => 299 + v / 1000))!;
    expect(s.count).toBe(100);
    expect(s.mean).toBeCloseTo(299.8524, 10);
    expect(s.spread).toBeCloseTo(0.0790105478190518, 10);
  });

  it('lie within Student’s limits (table of the NIST e-Handbook, 1.3.6.7.2)', () => {
    for (const [freedom, t] of [
      [1, 12.706],
      [2, 4.303],
      [4, 2.776],
      [9, 2.262],
      [30, 2.042],
      [100, 1.984],
    ] as const)
      expect(t95(freedom)).toBeCloseTo(t, 3);
    // The handbook's own example, ZARR13 (1.3.5.2): 195 readings, mean 9.261460, deviation 0.022789, limits 9.258242 and 9.264679.
    expect((t95(194) * 0.022789) / Math.sqrt(195)).toBeCloseTo((9.264679 - 9.258242) / 2, 5);
  });

  it('tell nothing of too few', () => {
    expect(summary([])).toBeNull();
    expect(summary([3])).toMatchObject({ mean: 3, spread: null, within: null });
    expect(spreadOf([3])).toBeNull();
    expect(repeatability([[3], [4]])).toBeNull();
    expect(capability([3, 3.1], { low: 2, high: 4 })).toBeNull();
    expect(capability([3, 3, 3], { low: 2, high: 4 })).toBeNull();
    expect(capability([3, 3.1, 3.2], { low: null, high: null })).toBeNull();
  });

  it('take repeated readings by what they differ within each piece only', () => {
    expect(repeatability([[10, 10.2], [20, 20.2], [30]])).toBeCloseTo(Math.sqrt(0.02), 12);
  });
});

describe('capability', () => {
  it('is that of the NIST e-Handbook (6.1.6): limits 8 and 20, mean 16, deviation 2: Cp 1.0, Cpk 0.6667', () => {
    // Three pieces with just that mean and deviation.
    const c = capability([14, 16, 18], { low: 8, high: 20 })!;
    expect(c.cp).toBeCloseTo(1, 12);
    expect(c.cpk).toBeCloseTo(2 / 3, 12);
    // Φ(−2) + Φ(−4), from tables of the normal distribution.
    expect(c.outside).toBeCloseTo(0.02275 + 0.00003, 4);
    expect(c.cpkAtLeast).toBeLessThan(c.cpk);
  });

  it('has no Cp where there is but one limit, and the other side counts for nothing', () => {
    const c = capability([14, 16, 18], { low: null, high: 20 })!;
    expect(c.cp).toBeNull();
    expect(c.cpk).toBeCloseTo(2 / 3, 12);
    expect(c.outside).toBeCloseTo(0.02275, 5);
  });

  it('is the same in any unit and from any origin, and turns with the sign', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 3, maxLength: 12 }),
        fc.double({ min: 0.1, max: 30, noNaN: true }),
        fc.double({ min: -50, max: 50, noNaN: true }),
        (values, k, shift) => {
          fc.pre((spreadOf(values) ?? 0) > 0.05);
          const of = (f: (v: number) => number, low: number, high: number) => capability(values.map(f), { low, high })!;
          const plain = of((v) => v, -6, 7);
          const other = of((v) => k * v + shift, k * -6 + shift, k * 7 + shift);
          const turned = of((v) => -v, -7, 6);
          for (const c of [other, turned]) {
            expect(c.cp).toBeCloseTo(plain.cp!, 6);
            expect(c.cpk).toBeCloseTo(plain.cpk, 6);
            expect(c.outside).toBeCloseTo(plain.outside, 6);
          }
        },
      ),
    );
  });
});

describe('a verdict beside what the device can tell', () => {
  it('is open within its uncertainty of a limit, to either side', () => {
    const limits = { low: 9.9, high: 10.1 };
    expect(heldBy(10, limits, 0.03)).toBe('within');
    expect(heldBy(10.08, limits, 0.03)).toBe('unsure');
    expect(heldBy(10.12, limits, 0.03)).toBe('unsure');
    expect(heldBy(10.2, limits, 0.03)).toBe('beyond');
    expect(heldBy(9.7, limits, 0.03)).toBe('beyond');
    expect(heldBy(9.7, { low: null, high: 10 }, 0.03)).toBe('within');
    expect(heldBy(9.7, { low: null, high: null }, 0.03)).toBe('within');
  });
});
