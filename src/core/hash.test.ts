import fc from 'fast-check';
import { expect, it } from 'vitest';
import { hashText } from './hash';

it('gives the same key for the same text, and other keys for others', () => {
  const seen = new Map<string, string>();
  fc.assert(
    fc.property(fc.string({ maxLength: 40 }), (t) => {
      const key = hashText(t);
      expect(hashText(t)).toBe(key);
      expect(seen.get(key) ?? t).toBe(t);
      seen.set(key, t);
    }),
    { numRuns: 2000 },
  );
});
