/** Facets kept small inside a project file: places to a grain, each as the way from the one before. */
import { packBytes, unpackBytes } from '../exchange/packed';
import type { TriMesh } from '../mesh/mesh';
import { fail, ok, type Result } from '../result';

/** More facets are not kept. */
export const MOST_FACETS = 2_000_000;

/** Numbers by seven bits a byte, the sign in the lowest. */
class Writer {
  private bytes = new Uint8Array(1 << 16);
  private at = 0;
  put(n: number): void {
    let left = n < 0 ? -2 * n - 1 : 2 * n;
    if (this.at + 8 > this.bytes.length) {
      const more = new Uint8Array(2 * this.bytes.length);
      more.set(this.bytes);
      this.bytes = more;
    }
    while (left >= 128) {
      this.bytes[this.at++] = 128 + (left % 128);
      left = Math.floor(left / 128);
    }
    this.bytes[this.at++] = left;
  }
  done(): Uint8Array {
    return this.bytes.subarray(0, this.at);
  }
}

/**
 * @param mesh with shared corners
 * @param places after the point that are kept of its coordinates
 */
export function packMesh({ positions, indices }: TriMesh, places: number): string {
  const grain = 10 ** -places;
  const order = new Int32Array(positions.length / 3).fill(-1);
  const out = new Writer();
  out.put(places);
  out.put(indices.length / 3);
  let next = 0;
  const last = [0, 0, 0];
  for (const v of indices) {
    // A corner that was not there yet is followed by its place.
    if (order[v]! < 0) {
      order[v] = next++;
      out.put(0);
      for (let k = 0; k < 3; k++) {
        const q = Math.round(positions[3 * v + k]! / grain);
        out.put(q - last[k]!);
        last[k] = q;
      }
    } else out.put(next - order[v]!);
  }
  return packBytes(out.done(), 4);
}

/** @returns an error in words for what is no packed mesh */
export function unpackMesh(packed: string): Result<TriMesh> {
  const bytes = unpackBytes(packed);
  if (!bytes.ok) return bytes;
  const damaged = fail('what the project keeps of the scan is damaged');
  let at = 0;
  const take = (): number => {
    let [n, by] = [0, 1];
    for (;;) {
      const b = bytes.value[at++];
      if (b === undefined || by > 2 ** 50) return Number.NaN;
      n += (b % 128) * by;
      if (b < 128) break;
      by *= 128;
    }
    return n % 2 ? -(n + 1) / 2 : n / 2;
  };
  const grain = 10 ** -take();
  const count = take();
  if (!(count >= 1 && count <= MOST_FACETS)) return damaged;
  const indices = new Uint32Array(3 * count);
  // No more places than corners.
  const positions = new Float64Array(9 * count);
  let next = 0;
  const last = [0, 0, 0];
  for (let i = 0; i < indices.length; i++) {
    const back = take();
    if (back === 0) {
      indices[i] = next;
      for (let k = 0; k < 3; k++) {
        last[k] = last[k]! + take();
        positions[3 * next + k] = last[k]! * grain;
      }
      next++;
    } else if (back > 0 && back <= next) indices[i] = next - back;
    else return damaged;
  }
  const places = positions.slice(0, 3 * next);
  return places.every(Number.isFinite) ? ok({ positions: places, indices, faceOf: new Uint32Array(count) }) : damaged;
}
