import { describe, expect, it } from 'vitest';
import { isFlat, topFace } from './flat';

/** A strip of n facet pairs, 10 wide, bent about an axis a radius off, or flat where it has none; turned out of the axes and moved away. */
function strip(radius: number, n = 8): Parameters<typeof isFlat>[0] {
  const positions: number[] = [];
  for (let i = 0; i <= n; i++) {
    const s = (10 * i) / n;
    const [x, z] = Number.isFinite(radius) ? [radius * Math.sin(s / radius), radius * (1 - Math.cos(s / radius))] : [s, 0];
    for (const y of [0, 7]) positions.push(0.6 * x - 0.8 * z + 120, y - 40, 0.8 * x + 0.6 * z + 55);
  }
  const indices = Array.from({ length: n }, (_, i) => [2 * i, 2 * i + 1, 2 * i + 2, 2 * i + 1, 2 * i + 3, 2 * i + 2]).flat();
  return {
    positions: Float32Array.from(positions),
    indices: Uint32Array.from(indices),
    faceOf: new Uint32Array(2 * n),
    faceNames: ['strip', 'without facets'],
  };
}

describe('a flat face', () => {
  it('is one whose facets lie on one plane, wherever it stands', () => {
    expect(isFlat(strip(Number.POSITIVE_INFINITY), 0)).toBe(true);
  });
  it.each([5, 50, 500])('is none that is bent by a radius of %s mm', (radius) => {
    expect(isFlat(strip(radius), 0)).toBe(false);
  });
  it('is the topmost where it is level and no other level one is higher; a slanted one may reach above it', () => {
    const faces = [
      [0, 0, 3, 4, 0, 3, 0, 4, 3],
      [0, 0, 8, 4, 0, 8, 0, 4, 8],
      [0, 0, 5, 4, 0, 5, 0, 4, 12],
    ];
    const body = (list: readonly number[]): Parameters<typeof topFace>[0] => ({
      positions: Float32Array.from(list.flatMap((f) => faces[f]!)),
      indices: Uint32Array.from(list.flatMap((_, k) => [3 * k, 3 * k + 1, 3 * k + 2])),
      faceOf: Uint32Array.from(list.map((_, k) => k)),
      faceNames: list.map((f) => `face ${f}`),
    });
    expect(topFace(body([0, 1, 2]))).toBe('face 1');
    expect(topFace(body([2, 0]))).toBe('face 0');
    expect(topFace(body([2]))).toBeUndefined();
  });
  it('is none that has no facets, or is not there', () => {
    expect(isFlat(strip(Number.POSITIVE_INFINITY), 1)).toBe(false);
    expect(isFlat(strip(Number.POSITIVE_INFINITY), 2)).toBe(false);
  });
});
