import { deflateSync, strToU8 } from 'fflate';
import { expect, it } from 'vitest';
import { MAX_UNPACKED, pack, unpack, unpackWithinLimit } from './packed';

it('a packed text comes back as it was, and is smaller', () => {
  const text = 'Locations 0\nCurves 12 ±½\n'.repeat(4000);
  const packed = pack(text);
  expect(packed.length).toBeLessThan(text.length / 20);
  expect(unpack(packed)).toEqual({ ok: true, value: text });
});
it('what is damaged, or unpacks to far more than it shows, is refused in words', () => {
  expect(unpack('no base64 at all!')).toEqual({ ok: false, error: 'what was brought in is damaged' });
  expect(unpack(btoa('plain'))).toEqual({ ok: false, error: 'what was brought in is damaged' });
  const bytes = deflateSync(strToU8('a'.repeat(MAX_UNPACKED + 10)));
  let raw = '';
  for (const b of bytes) raw += String.fromCharCode(b);
  expect(unpack(btoa(raw))).toEqual({ ok: false, error: 'what was brought in unpacks to more than 60 MB' });
});
it('many small texts are allowed together what one is', () => {
  const third = pack('a'.repeat(MAX_UNPACKED / 3));
  expect(third.length).toBeLessThan(100_000);
  expect(unpackWithinLimit([third, third, third])).toBe(true);
  expect(unpackWithinLimit([third, third, third, pack('b')])).toBe(false);
  expect(unpackWithinLimit(['no base64 at all!'])).toBe(true);
});
