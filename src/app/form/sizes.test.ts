import { describe, expect, it } from 'vitest';
import { ORIGIN_PLANES } from '../../core/curves/frame';
import { farthest } from '../../core/form/farthest';
import { boxCage } from '../../core/form/starts';
import { nearestOn } from './nearest';
import { scaledText } from './RingSizes';

describe('sizes of rings', () => {
  it('are scaled as numbers where they are plain, and as expressions where they have names', () => {
    expect(scaledText('30 mm', 1.1)).toBe('33 mm');
    expect(scaledText(' -2.5mm ', 2)).toBe('-5 mm');
    expect(scaledText('foot / 2 + 3 mm', 1.25)).toBe('(foot / 2 + 3 mm) * 1.25');
    expect(scaledText('1 in', 2)).toBe('(1 in) * 2');
  });
  it('read the widest place about the axis', () => {
    expect(farthest([3, 4, 9, 1, 0, 0, 0, -2, 5])).toBe(5);
    expect(farthest([])).toBe(0);
  });
});

describe('the nearest place on a mesh', () => {
  const box = boxCage([20, 20, 20], [1, 1, 1]);
  const facets = box.faces.flatMap((f) => [f[0]!, f[1]!, f[2]!, f[0]!, f[2]!, f[3]!]);
  const positions = Float32Array.from(box.vertices.flat());
  it('is found over the level plane, by indices or by facets one after another', () => {
    const soup = Float32Array.from(facets.flatMap((v) => [...box.vertices[v]!]));
    for (const near of [nearestOn(positions, ORIGIN_PLANES.level, Uint32Array.from(facets)), nearestOn(soup, ORIGIN_PLANES.level)]) {
      expect(near([0, 0, 35])!.map((x) => Math.round(1e5 * x) / 1e5 + 0)).toEqual([0, 0, 20]);
      expect(near([30, 2, 7])!.map((x) => Math.round(1e5 * x) / 1e5 + 0)).toEqual([10, 2, 7]);
    }
  });
  it('is told over the plane of the form, whichever that is', () => {
    // On the front plane a cage's third way runs against y.
    const near = nearestOn(positions, ORIGIN_PLANES.front, Uint32Array.from(facets));
    const at = near([0, 10, 40])!;
    expect(at[0]).toBeCloseTo(0, 5);
    expect(at[1]).toBeCloseTo(10, 5);
    expect(at[2]).toBeCloseTo(10, 5);
  });
});
