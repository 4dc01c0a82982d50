/** Joins, cuts and intersections of bodies turned about one axis: against mensuration, and laws that hold for any two. */
import { describe, expect, it } from 'vitest';
import { randomTurnedBodies } from '../../../tests/support/turned';
import { arcAbout, type PlanarCurve } from '../curves/planar';
import { type Combination, combined, touchesItself } from './combine';
import { curvesOf, type Meridian, meridianOf, placedMeridian, sweptVolume } from './meridian';

const line = (ax: number, ay: number, bx: number, by: number): PlanarCurve => ({ kind: 'line', a: { x: ax, y: ay }, b: { x: bx, y: by } });
const drum = (name: string, r: number, low: number, high: number): Meridian =>
  meridianOf(
    [
      { face: `${name}.foot`, curve: line(0, low, r, low) },
      { face: `${name}.side`, curve: line(r, low, r, high) },
      { face: `${name}.top`, curve: line(r, high, 0, high) },
    ],
    true,
  );
const ring = (r: number, z: number, k: number): Meridian =>
  meridianOf([{ face: 'bead', curve: arcAbout({ x: r, y: z }, k, 0, 2 * Math.PI) }], false);
const volume = (m: readonly Meridian[]): number => m.reduce((sum, x) => sum + sweptVolume(curvesOf(x)), 0);
function made(a: Meridian, b: Meridian, how: Combination): Meridian[] {
  const r = combined(a, b, how);
  if (!r.ok) throw new Error(r.error);
  return r.value;
}
const faces = (m: readonly Meridian[]): string[][] => m.map((x) => x.loops.flatMap((l) => l.map((c) => c.face).filter(Boolean)));

describe('bodies turned about one axis', () => {
  it('joined on a shared face lose it, and what is left of it keeps its name', () => {
    const both = made(drum('a', 20, 0, 30), drum('b', 10, 30, 50), 'join');
    expect(faces(both)).toEqual([['a.foot', 'a.side', 'a.top', 'b.side', 'b.top']]);
    expect(volume(both)).toBeCloseTo(Math.PI * (400 * 30 + 100 * 20), 8);
  });
  it('of one width stacked on each other keep both sides', () => {
    const both = made(drum('a', 20, 0, 30), drum('b', 20, 30, 50), 'join');
    expect(faces(both)).toEqual([['a.foot', 'a.side', 'b.side', 'b.top']]);
  });
  it('that overlap in part of a face give that part both names', () => {
    const both = made(drum('a', 20, 0, 30), drum('b', 20, 10, 50), 'join');
    expect(faces(both)).toEqual([['a.foot', 'a.side', 'a.side&b.side', 'b.side', 'b.top']]);
  });
  it('cut through fall apart into two', () => {
    const two = made(drum('a', 20, 0, 30), drum('b', 30, 10, 20), 'cut');
    expect(two).toHaveLength(2);
    expect(volume(two)).toBeCloseTo(Math.PI * 400 * 20, 8);
  });
  it('cut inside have a closed hollow', () => {
    const [one] = made(drum('a', 20, 0, 30), ring(12, 15, 3), 'cut');
    expect(one!.loops).toHaveLength(2);
    expect(volume([one!])).toBeCloseTo(Math.PI * 400 * 30 - 2 * Math.PI ** 2 * 12 * 9, 8);
  });
  it('have nothing in common where they only touch', () => {
    expect(made(drum('a', 20, 0, 30), drum('b', 20, 30, 50), 'common')).toEqual([]);
  });
  it('with a bead on the rim take three quarters of it', () => {
    const beaded = made(drum('a', 20, 0, 30), ring(20, 30, 3), 'join');
    // A quarter of the ring's section lies within, its centroid 4 r / 3π inside of the ring's own circle (Pappus).
    const within = 2 * Math.PI * (20 - (4 * 3) / (3 * Math.PI)) * ((Math.PI * 9) / 4);
    expect(volume(beaded)).toBeCloseTo(Math.PI * 400 * 30 + 2 * Math.PI ** 2 * 20 * 9 - within, 8);
    expect(faces(beaded)[0]!.filter((f) => f === 'bead')).toHaveLength(1);
  });
  it('that touch along a circle alone are found to', () => {
    const cone = (low: number, high: number, tip: number): Meridian =>
      meridianOf(
        [
          { face: 'in', curve: line(10, low, 20, tip) },
          { face: 'out', curve: line(20, tip, 10, high) },
          { face: 'back', curve: line(10, high, 10, low) },
        ],
        false,
      );
    const pair = made(cone(0, 20, 10), placedMeridian(cone(0, 20, 10), 1, 1, 20), 'join');
    expect(pair.some(touchesItself)).toBe(false);
    expect(touchesItself({ loops: pair.flatMap((m) => m.loops) })).toBe(true);
  });
});

describe('any two of them', () => {
  const bodies = randomTurnedBodies(60, 3000);
  const pairs = bodies.slice(1).map((b, i) => [bodies[i]!, b] as const);
  it('have as much together as each for itself less what they share', () => {
    let told = 0;
    for (const [a, b] of pairs) {
      const [joined, common, rest] = (['join', 'common', 'cut'] as const).map((how) => combined(a.meridian, b.meridian, how));
      if (!joined!.ok || !common!.ok || !rest!.ok) continue;
      told++;
      const [A, B] = [volume([a.meridian]), volume([b.meridian])];
      expect((volume(joined!.value) + volume(common!.value) - A - B) / (A + B)).toBeCloseTo(0, 8);
      expect((volume(rest!.value) + volume(common!.value) - A) / A).toBeCloseTo(0, 8);
    }
    expect(told).toBeGreaterThan(0.95 * pairs.length);
  });
  it('are the same in either order, and turned upside down', () => {
    for (const [a, b] of pairs.slice(0, 20)) {
      const ways = [
        combined(a.meridian, b.meridian, 'join'),
        combined(b.meridian, a.meridian, 'join'),
        combined(placedMeridian(a.meridian, 1, -1, 0), placedMeridian(b.meridian, 1, -1, 0), 'join'),
        combined(placedMeridian(a.meridian, 3, 1, 5), placedMeridian(b.meridian, 3, 1, 5), 'join'),
      ];
      if (!ways.every((w) => w.ok)) continue;
      const [v, w, x, y] = ways.map((r) => (r.ok ? volume(r.value) : 0));
      for (const other of [w!, x!, y! / 27]) expect(other / v!).toBeCloseTo(1, 9);
    }
  });
  it('cut by themselves are gone, and joined with themselves are what they were', () => {
    for (const { meridian } of bodies.slice(0, 20)) {
      expect(made(meridian, meridian, 'cut')).toEqual([]);
      expect(volume(made(meridian, meridian, 'join')) / volume([meridian])).toBeCloseTo(1, 10);
    }
  });
});
