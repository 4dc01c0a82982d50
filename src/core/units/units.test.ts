import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatInchFraction, formatLength, formatVolume, MM_PER_INCH, shortNumber } from './units';

describe('units', () => {
  it('an inch is exactly 25.4 mm (international inch, 1959)', () => expect(MM_PER_INCH).toBe(25.4));
  it('writes lengths in the unit asked for', () => {
    expect(formatLength(142, 'mm', 1)).toBe('142.0 mm');
    expect(formatLength(25.4, 'in', 2)).toBe('1.000 in');
    expect(formatLength(-0.0001)).toBe('0.00 mm');
  });
  it('writes inches as whole and lowest fraction', () => {
    expect(formatInchFraction(82.55)).toBe('3 1/4 in');
    expect(formatInchFraction(7.9375)).toBe('5/16 in');
    expect(formatInchFraction(50.8)).toBe('2 in');
    expect(formatInchFraction(-25.4 * 1.5)).toBe('-1 1/2 in');
  });
  it('shows litres from a litre on', () => {
    expect(formatVolume(421_600)).toBe('421.6 cm³');
    expect(formatVolume(1_250_000)).toBe('1.250 L');
  });
  it('writes a dragged value so that it reads back within half a micrometre', () => {
    fc.assert(fc.property(fc.double({ min: -1e4, max: 1e4, noNaN: true }), (v) => Math.abs(Number(shortNumber(v)) - v) <= 0.5e-3 + 1e-9));
  });
});
