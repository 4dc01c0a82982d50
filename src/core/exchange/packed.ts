/** Long texts kept small inside a project file: deflated, as base64. */
import { deflateSync, Inflate, strFromU8, strToU8 } from 'fflate';
import { fail, ok, type Result } from '../result';

/** More than this is not unpacked of one text, nor of all that a project holds: a small text may claim to be an endless one. */
export const MAX_UNPACKED = 60_000_000;

export const pack = (text: string): string => packBytes(strToU8(text));

/** @param level of deflating: the lower the faster, and the larger by a few hundredths */
export function packBytes(all: Uint8Array, level: 4 | 9 = 9): string {
  const bytes = deflateSync(all, { level });
  let out = '';
  for (let i = 0; i < bytes.length; i += 0x8000) out += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(out);
}

/** Hands on what is unpacked in pieces, so that the size is seen before all of it is there. @param most bytes; more throws */
function inflated(packed: string, most: number, take: (chunk: Uint8Array) => void): number {
  const text = atob(packed);
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < bytes.length; i++) bytes[i] = text.charCodeAt(i);
  let size = 0;
  const inflate = new Inflate((chunk) => {
    size += chunk.length;
    if (size > most) throw new RangeError('too large');
    take(chunk);
  });
  for (let i = 0; i < bytes.length; i += 0x4000) inflate.push(bytes.subarray(i, i + 0x4000), i + 0x4000 >= bytes.length);
  return size;
}

/** Whether all of these unpack to what is allowed together; nothing of them is kept. What is damaged counts as nothing: reading it tells. */
export function unpackWithinLimit(all: Iterable<string>): boolean {
  let left = MAX_UNPACKED;
  for (const packed of all)
    try {
      left -= inflated(packed, left, () => {});
    } catch (e) {
      if (e instanceof RangeError) return false;
    }
  return true;
}

/** @returns an error in words for what is no packed text, or unpacks to too much */
export function unpack(packed: string): Result<string> {
  const bytes = unpackBytes(packed);
  return bytes.ok ? ok(strFromU8(bytes.value)) : bytes;
}

/** As `unpack`, of what is no text. */
export function unpackBytes(packed: string): Result<Uint8Array> {
  try {
    const parts: Uint8Array[] = [];
    const size = inflated(packed, MAX_UNPACKED, (chunk) => parts.push(chunk));
    const all = new Uint8Array(size);
    let at = 0;
    for (const p of parts) {
      all.set(p, at);
      at += p.length;
    }
    return ok(all);
  } catch (e) {
    return fail(e instanceof RangeError ? 'what was brought in unpacks to more than 60 MB' : 'what was brought in is damaged');
  }
}
