import { describe, expect, it } from 'vitest';
import { turnedMesh } from '../../../tests/support/meshes';
import { hullOf } from '../geometry/hull';
import { massProperties } from '../mesh/mesh';
import { footprint, standOf } from './stand';

describe('a hull', () => {
  it('keeps the corners and drops what lies between and within', () => {
    const hull = hullOf([
      [0, 0],
      [4, 0],
      [4, 3],
      [0, 3],
      [2, 0],
      [2, 1],
      [1, 2],
    ]);
    expect(hull).toHaveLength(4);
    const area = hull.reduce((sum, p, i) => sum + p[0] * hull[(i + 1) % 4]![1] - hull[(i + 1) % 4]![0] * p[1], 0) / 2;
    // Left about: its area is positive.
    expect(area).toBe(12);
  });
});

describe('standing', () => {
  it('of a block on its side tips over the nearer edge: atan of half the width over half the height', () => {
    const foot = hullOf([
      [-10, -4],
      [10, -4],
      [10, 4],
      [-10, 4],
    ]);
    expect(standOf(foot, 0, [0, 0, 15]).tipping).toBeCloseTo(Math.atan(4 / 15), 12);
    expect(standOf(foot, 0, [0, 3, 15]).tipping).toBeCloseTo(Math.atan(1 / 15), 12);
    expect(standOf(foot, 5, [0, 0, 15]).tipping).toBeCloseTo(Math.atan(4 / 10), 12);
  });
  it('of a frustum on its narrow end is by its foot, not by its width', () => {
    const mesh = turnedMesh(
      [
        [0, 0],
        [10, 0],
        [30, 40],
        [0, 40],
      ],
      256,
    );
    const foot = footprint(mesh);
    for (const [x, y] of foot) expect(Math.hypot(x, y)).toBeCloseTo(10, 9);
    // Centre of a frustum: h (R² + 2Rr + 3r²) / 4 (R² + Rr + r²) from the end of radius R.
    const z = (40 * (100 + 2 * 10 * 30 + 3 * 900)) / (4 * (100 + 300 + 900));
    expect(standOf(foot, 0, massProperties(mesh).centroid).tipping).toBeCloseTo(Math.atan(10 / z), 3);
  });
});
