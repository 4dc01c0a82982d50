/** Long texts kept small inside a project file: deflated, as base64. */
import { deflateSync, Inflate, strFromU8, strToU8 } from 'fflate';
import { fail, ok, type Result } from '../result';

/** More than this is not unpacked: a small text may claim to be an endless one. */
export const MAX_UNPACKED = 60_000_000;

export function pack(text: string): string {
  const bytes = deflateSync(strToU8(text), { level: 9 });
  let out = '';
  for (let i = 0; i < bytes.length; i += 0x8000) out += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(out);
}

/** @returns an error in words for what is no packed text, or unpacks to too much */
export function unpack(packed: string): Result<string> {
  try {
    const bytes = Uint8Array.from(atob(packed), (c) => c.charCodeAt(0));
    const parts: Uint8Array[] = [];
    let size = 0;
    const inflate = new Inflate((chunk) => {
      size += chunk.length;
      if (size > MAX_UNPACKED) throw new RangeError('too large');
      parts.push(chunk);
    });
    // In pieces, so that the size is seen before all of it is there.
    for (let i = 0; i < bytes.length; i += 0x4000) inflate.push(bytes.subarray(i, i + 0x4000), i + 0x4000 >= bytes.length);
    const all = new Uint8Array(size);
    let at = 0;
    for (const p of parts) {
      all.set(p, at);
      at += p.length;
    }
    return ok(strFromU8(all));
  } catch (e) {
    return fail(e instanceof RangeError ? 'what was brought in unpacks to more than 60 MB' : 'what was brought in is damaged');
  }
}
