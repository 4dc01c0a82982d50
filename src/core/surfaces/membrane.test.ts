import { describe, expect, it } from 'vitest';
import { triple, type Vec3 } from '../geometry/vectors';
import { membrane } from './membrane';
import { surfaceAt } from './space';

/** A circle of radius 10 lifted by the real part of a complex power: its harmonic patch is that power all over the disc. */
const lifted =
  (k: number) =>
  (share: number): Vec3 => {
    const a = 2 * Math.PI * share;
    return [10 * Math.cos(a), 10 * Math.sin(a), 2 * Math.cos(k * a)];
  };

describe('a patch over a border', () => {
  // Dirichlet's problem on the disc: ρᵏ cos kθ (any textbook on potential theory).
  it.each([2, 3, 5])('is the harmonic function of its border, cos %iθ', (k) => {
    const [patch] = membrane([{ at: lifted(k), length: 20 * Math.PI }]);
    for (let i = 0; i < 40; i++)
      for (const r of [0, 0.2, 0.55, 0.8, 0.97, 1]) {
        const p = surfaceAt(patch!, i / 40, r);
        const rho = Math.hypot(p[0], p[1]) / 10;
        const theta = Math.atan2(p[1], p[0]);
        expect(Math.abs(p[2] - 2 * rho ** k * Math.cos(k * theta))).toBeLessThan(1e-3);
      }
  });
  it('in pieces meets the border and the pieces beside it', () => {
    const corner: Vec3[] = [
      [0, 0, 0],
      [20, 0, 3],
      [20, 20, 0],
      [0, 20, 3],
    ];
    const pieces = corner.map((a, i) => {
      const b = corner[(i + 1) % 4]!;
      return { at: (t: number): Vec3 => triple((c) => a[c]! + t * (b[c]! - a[c]!)), length: Math.hypot(20, 3) };
    });
    const patches = membrane(pieces);
    for (const [i, p] of patches.entries())
      for (const t of [0, 0.13, 0.5, 0.77, 1]) {
        expect(Math.hypot(...surfaceAt(p, t, 1).map((x, c) => x - pieces[i]!.at(t)[c]!))).toBeLessThan(1e-6);
        const [mine, next] = [surfaceAt(p, 1, t), surfaceAt(patches[(i + 1) % 4]!, 0, t)];
        expect(Math.hypot(...mine.map((x, c) => x - next[c]!))).toBeLessThan(1e-9);
      }
    // The middle of a saddle through four corners lies at their mean height.
    expect(surfaceAt(patches[0]!, 0.5, 0)[2]).toBeCloseTo(1.5, 6);
  });
});
