/** What turned vessels hold and how thick they are, against mensuration. */
import { describe, expect, it } from 'vitest';
import { arcAbout, type PlanarCurve } from '../curves/planar';
import { turnedHolding } from './holds';
import { type Meridian, meridianOf } from './meridian';
import { thinnestAndThickest } from './walls';

const line = (ax: number, ay: number, bx: number, by: number): PlanarCurve => ({ kind: 'line', a: { x: ax, y: ay }, b: { x: bx, y: by } });
function through(...p: [number, number][]): PlanarCurve[] {
  return p.slice(1).map(([x, y], i) => line(p[i]![0], p[i]![1], x, y));
}
const turned = (curves: readonly PlanarCurve[], onAxis = true): Meridian =>
  meridianOf(
    curves.map((curve, i) => ({ curve, face: `c${i}` })),
    onAxis,
  );
const frustum = (h: number, a: number, b: number): number => (Math.PI / 3) * h * (a * a + a * b + b * b);
const none = () => false;

describe('a turned vessel', () => {
  const cup = turned(through([0, 0], [32, 0], [42, 100], [40, 100], [30, 3], [0, 3]));
  it('holds a frustum to its brim and to any level', () => {
    const held = turnedHolding(cup)!;
    expect([held.brim, held.floor]).toEqual([100, 3]);
    expect(held.toBrim).toBeCloseTo(frustum(97, 30, 40), 7);
    const r = (z: number): number => 30 + ((z - 3) * 10) / 97;
    expect(held.below(50)).toBeCloseTo(frustum(47, 30, r(50)), 7);
    expect(held.mouth(3)).toBeCloseTo(2 * r(97), 9);
  });
  it('of a ball holds a cap', () => {
    const bowl = turned([
      arcAbout({ x: 0, y: 0 }, 40, -Math.PI / 2, Math.PI / 2),
      line(40, 0, 37, 0),
      arcAbout({ x: 0, y: 0 }, 37, 0, -Math.PI / 2),
    ]);
    const held = turnedHolding(bowl)!;
    expect(held.toBrim).toBeCloseTo((2 / 3) * Math.PI * 37 ** 3, 7);
    expect(held.below(-20)).toBeCloseTo((Math.PI * 17 ** 2 * (3 * 37 - 17)) / 3, 7);
  });
  it('holds to its lowest rim, and a collar that stands higher in the middle does not count', () => {
    // A trough round a post: its outer rim is at 20, the post at 30.
    const trough = turned(through([0, 0], [40, 0], [40, 20], [38, 20], [38, 4], [12, 4], [12, 30], [0, 30]));
    const held = turnedHolding(trough)!;
    expect(held.brim).toBe(20);
    expect(held.toBrim).toBeCloseTo(Math.PI * (38 * 38 - 12 * 12) * 16, 7);
  });
  it('with a hole in its floor holds nothing, nor does a solid, nor a closed hollow', () => {
    expect(turnedHolding(turned(through([5, 0], [32, 0], [32, 50], [30, 50], [30, 3], [5, 3], [5, 0]), false))).toBeNull();
    expect(turnedHolding(turned(through([0, 0], [30, 0], [30, 40], [0, 40])))).toBeNull();
    const shut = [
      arcAbout({ x: 0, y: 0 }, 40, -Math.PI / 2, Math.PI),
      line(0, 40, 0, 37),
      arcAbout({ x: 0, y: 0 }, 37, Math.PI / 2, -Math.PI),
      line(0, -37, 0, -40),
    ];
    const m: Meridian = { loops: [shut.map((curve, i) => ({ curve, face: i % 2 === 0 ? `c${i}` : '' }))] };
    expect(turnedHolding(m)).toBeNull();
  });
  it('with a recess under its foot does not count that', () => {
    const footed = turned(through([0, 4], [20, 4], [20, 0], [32, 0], [32, 50], [30, 50], [30, 7], [0, 7]));
    expect(turnedHolding(footed)!.toBrim).toBeCloseTo(Math.PI * 900 * 43, 7);
  });
});

describe('its wall', () => {
  it('is what is left between two frustums, and the floor', () => {
    const even = turned(through([0, 0], [30, 0], [30, 60], [28, 60], [28, 5], [0, 5]));
    const { thinnest, thickest } = thinnestAndThickest(even, none);
    expect(thinnest!.thickness).toBeCloseTo(2, 9);
    expect(thickest!.thickness).toBeCloseTo(5, 9);
    const leaning = turned(through([0, 0], [30, 0], [40, 60], [37, 60], [28, 4], [0, 4]));
    // Nearest at the rim or the floor: two lines that are not parallel.
    const { thinnest: least } = thinnestAndThickest(leaning, none);
    expect(least!.thickness).toBeLessThan(3);
    expect(least!.thickness).toBeGreaterThan(2);
  });
  it('of a solid ball is its diameter, of a ring its own', () => {
    const ball = turned([arcAbout({ x: 0, y: 0 }, 25, -Math.PI / 2, Math.PI)]);
    expect(thinnestAndThickest(ball, none).thinnest!.thickness).toBeCloseTo(50, 6);
    const ring = turned([arcAbout({ x: 30, y: 0 }, 8, 0, 2 * Math.PI)], false);
    const { thinnest, thickest } = thinnestAndThickest(ring, none);
    expect([thinnest!.thickness, thickest!.thickness]).toEqual([expect.closeTo(16, 6), expect.closeTo(16, 6)]);
  });
  it('between two balls that are not about one middle is least where they are nearest', () => {
    const shell = [
      arcAbout({ x: 0, y: 0 }, 40, -Math.PI / 2, Math.PI),
      line(0, 40, 0, 38),
      arcAbout({ x: 0, y: 2 }, 36, Math.PI / 2, -Math.PI),
      line(0, -34, 0, -40),
    ];
    const m: Meridian = { loops: [shell.map((curve, i) => ({ curve, face: i % 2 === 0 ? `c${i}` : '' }))] };
    const { thinnest, thickest } = thinnestAndThickest(m, none);
    expect(thinnest!.thickness).toBeCloseTo(2, 6);
    expect(thickest!.thickness).toBeCloseTo(6, 6);
  });
});
