/** Outlines given a thickness on skins known by formula: volumes by Pappus and by quadrature, closed and sound for the kernel. */
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import type { Point2 } from '../core/curves/planar';
import type { Vec3 } from '../core/geometry/vectors';
import type { OutlineCurve } from '../core/profile/outline';
import type { Region } from '../core/profile/regions';
import { volumeOf } from './amounts';
import { facesOf } from './shapes';
import { verifySolid } from './verify';
import { wrappedSolid } from './wrapped';

const R = 20;
const onCylinder = ({ x, y }: Point2, over: number): Vec3 => [(R + over) * Math.sin(x / R), -(R + over) * Math.cos(x / R), y];
const line = (id: string, a: Point2, b: Point2): OutlineCurve => ({ id, curve: { kind: 'line', a, b }, reversed: false });
const rectangle = (x0: number, y0: number, x1: number, y1: number): OutlineCurve[] => {
  const p: Point2[] = [
    { x: x0, y: y0 },
    { x: x1, y: y0 },
    { x: x1, y: y1 },
    { x: x0, y: y1 },
  ];
  return p.map((a, i) => line(`${x0}.${i}`, a, p[(i + 1) % 4]!));
};
const circle = (x: number, y: number, r: number, sweep = 2 * Math.PI): OutlineCurve => ({
  id: `o${x}`,
  curve: { kind: 'arc', a: { x: x + r, y }, b: { x: x + r, y }, mid: { x: x - r, y }, centre: { x, y }, radius: r, start: 0, sweep },
  reversed: false,
});
const region = (outer: readonly OutlineCurve[], ...holes: readonly (readonly OutlineCurve[])[]): Region => ({
  outer,
  holes,
  area: 0,
  centroid: { x: 0, y: 0 },
  length: 0,
});
/** What lies between two heights over an area of a cylinder (Pappus). */
const over = (area: number, low: number, high: number): number => (area / R) * (((R + high) ** 2 - (R + low) ** 2) / 2);

async function made(r: Region, low: number, high: number, at = onCylinder) {
  const kernel = await testKernel();
  const done = wrappedSolid(kernel, at, r, low, high);
  if (!done.ok) throw new Error(done.error);
  const verified = verifySolid(kernel, done.value.shape, { simple: true });
  return {
    verified,
    volume: volumeOf(kernel, done.value.shape).volume,
    faces: done.value.faces,
    count: facesOf(kernel, done.value.shape).length,
  };
}

describe('an outline on a cylinder', () => {
  it.each([
    ['a rectangle', region(rectangle(-12, 3, 15, 11)), 27 * 8, 6],
    ['a circle', region([circle(2, 5, 6)]), Math.PI * 36, 4],
    ['a plate with a round hole', region(rectangle(-20, -10, 20, 10), [circle(1, 2, 5)]), 800 - Math.PI * 25, 8],
    ['drawn the other way round', region([circle(2, 5, 6, -2 * Math.PI)], rectangle(0, 3, 4, 7)), Math.PI * 36 - 16, 8],
  ])('is %s as thick as asked, above the skin and below it', async (_, r, area, faces) => {
    for (const [low, high] of [
      [0, 1.5],
      [-0.3, 2],
      [-1, 0.25],
    ] as const) {
      const m = await made(r, low, high);
      expect(m.verified.ok).toBe(true);
      expect(m.volume / over(area, low, high)).toBeCloseTo(1, 6);
      expect([m.count, m.faces.length]).toEqual([faces, faces]);
    }
  });
});
