import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { timeFrom, timeWords } from './time';

describe('times', () => {
  it('are typed as one says them', () => {
    for (const [text, seconds] of [
      ['2 h 10', 7800],
      ['2h10 min', 7800],
      ['2:10', 7800],
      ['130', 7800],
      ['130 min', 7800],
      ['1,5 h', 5400],
      ['3 h', 10_800],
    ] as const)
      expect(timeFrom(text)).toEqual({ ok: true, value: seconds });
    for (const text of ['', 'soon', '0', '-5', '2:70', '2 h 10 s', '1e9']) expect(timeFrom(text).ok, text).toBe(false);
  });

  it('read back as they are told, to the minute', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5000 }), (minutes) => {
        expect(timeFrom(timeWords(60 * minutes))).toEqual({ ok: true, value: 60 * minutes });
      }),
    );
  });
});
