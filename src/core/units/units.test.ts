import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  formatArea,
  formatCapacity,
  formatInchFraction,
  formatLength,
  formatVolume,
  MM_PER_INCH,
  shortNumber,
  shownIn,
  wordsIn,
} from './units';

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
    expect(formatVolume(421_600, 'mm')).toBe('421.6 cm³');
    expect(formatVolume(27.648, 'mm')).toBe('0.028 cm³');
    expect(formatVolume(27.648, 'in')).toBe('0.0017 in³');
    expect(formatVolume(0, 'mm')).toBe('0.0 cm³');
    expect(formatVolume(1_250_000, 'mm')).toBe('1.250 L');
  });
  it('shows volumes, areas and contents of a project in inches in its units', () => {
    // 16.387064 cm³ and 6.4516 cm² by the inch; 29.5735 mL a US fluid ounce, 28.3495 g an ounce (NIST Handbook 44, appendix C).
    expect(formatVolume(163_870.64, 'in')).toBe('10.00 in³');
    expect(formatArea(645.16, 'in')).toBe('1.000 in²');
    expect(formatCapacity(473_176.473, 'in')).toBe('16.00 fl oz');
    expect(formatCapacity(473_176.473, 'mm')).toBe('473.2 cm³');
    expect(shownIn(453.59237, 'g', 1, 'in')).toEqual({ text: '16.00', unit: 'oz' });
    expect(shownIn(3, '°', 1, 'in')).toEqual({ text: '3.0', unit: '°' });
  });
  it('says sentences in inches, and nothing else in them', () => {
    expect(wordsIn('the wall would be 0.99 mm; 25.4 mm works', 'in')).toBe('the wall would be 0.039 in; 1.00 in works');
    expect(wordsIn('a block of 25.4 × 50.8 mm, 127.0 cm² of it', 'in')).toBe('a block of 1.00 × 2.00 in, 19.69 in² of it');
    expect(wordsIn('from 2.54 to 5.08 mm, 3 of 4 edges at 30°', 'in')).toBe('from 0.100 to 0.200 in, 3 of 4 edges at 30°');
    expect(wordsIn('2 mm²/s, 4 g/cm³, 12 mmol and step 3', 'in')).toBe('2 mm²/s, 4 g/cm³, 12 mmol and step 3');
    expect(wordsIn('12.00 mm', 'mm')).toBe('12.00 mm');
    // Every figure that a sentence names is the one it was, to the decimals it is given with.
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e7 }), (n) => {
        const mm = n / 100;
        const said = wordsIn(`the gap is ${mm.toFixed(2)} mm wide`, 'in');
        const inches = Number(/is ([\d.]+) in wide$/.exec(said)![1]);
        return Math.abs(inches * MM_PER_INCH - mm) <= 0.0005 * MM_PER_INCH + 1e-9;
      }),
    );
  });
  it('writes a dragged value so that it reads back within half a micrometre', () => {
    fc.assert(fc.property(fc.double({ min: -1e4, max: 1e4, noNaN: true }), (v) => Math.abs(Number(shortNumber(v)) - v) <= 0.5e-3 + 1e-9));
  });
});
