import { describe, expect, it } from 'vitest';
import { meshCavity } from './hollow';
import { massProperties, openEdgeCount, type TriMesh } from './mesh';

/** A box from the origin, faces in the order x−, x+, y−, y+, z−, z+. */
function box(a: number, b: number, c: number): TriMesh {
  const positions = Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [a * (i & 1), b * ((i >> 1) & 1), c * (i >> 2)]));
  const quads = [
    [0, 4, 6, 2],
    [1, 3, 7, 5],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 2, 3, 1],
    [4, 5, 7, 6],
  ];
  return {
    positions,
    indices: Uint32Array.from(quads.flatMap(([p, q, r, s]) => [p!, q!, r!, p!, r!, s!])),
    faceOf: Uint32Array.from(quads.flatMap((_, i) => [i, i])),
  };
}
const asMesh = (c: { positions: Float64Array; indices: Uint32Array }): TriMesh => ({ ...c, faceOf: new Uint32Array(c.indices.length / 3) });

describe('a cavity on a grid', () => {
  it('in a box is the smaller box, closed, and keeps the wall everywhere', () => {
    const found = meshCavity(box(30, 24, 20), new Set(), 3, 0.5);
    if (!found.ok) throw new Error(found.error);
    const skin = asMesh(found.value);
    expect(openEdgeCount(skin)).toBe(0);
    const { volume } = massProperties(skin);
    expect(volume / (24 * 18 * 14)).toBeGreaterThan(0.985);
    expect(volume).toBeLessThanOrEqual(24 * 18 * 14);
    expect(found.value.least).toBeGreaterThanOrEqual(3 - 1e-4);
    expect(found.value.least).toBeLessThan(3.1);
  });
  it('opens at the faces that are open, and reaches through them', () => {
    const found = meshCavity(box(30, 24, 20), new Set([5]), 3, 0.5);
    if (!found.ok) throw new Error(found.error);
    let top = 0;
    for (let i = 2; i < found.value.positions.length; i += 3) top = Math.max(top, found.value.positions[i]!);
    expect(top).toBeGreaterThan(20);
    expect(openEdgeCount(asMesh(found.value))).toBe(0);
  });
  it('says where there is no room, and where the grid would be too fine', () => {
    expect(meshCavity(box(10, 10, 10), new Set(), 5.2, 0.5)).toEqual({
      ok: false,
      error: 'nowhere inside is it that far from the outside',
    });
    const fine = meshCavity(box(100, 100, 100), new Set(), 3, 0.05);
    expect(fine.ok ? '' : fine.error).toMatch(/^so fine a grid has more than 12 million points; 0\.\d mm can be done$/);
  });
});
