/** Rounds and bevels of circular edges against Pappus, and how far they go against what can be worked out by hand. */
import { describe, expect, it } from 'vitest';
import { arcAbout, type PlanarCurve } from '../curves/planar';
import { curvesOf, type Meridian, meridianOf, sweptVolume } from './meridian';
import { largestSoftening, type Softening, softened } from './soften';

const line = (ax: number, ay: number, bx: number, by: number): PlanarCurve => ({ kind: 'line', a: { x: ax, y: ay }, b: { x: bx, y: by } });
const turned = (...curves: PlanarCurve[]): Meridian =>
  meridianOf(
    curves.map((curve, i) => ({ curve, face: `c${i}` })),
    true,
  );
const drum = turned(line(0, 0, 30, 0), line(30, 0, 30, 50), line(30, 50, 0, 50));
const post = turned(line(0, 0, 30, 0), line(30, 0, 30, 20), line(30, 20, 15, 20), line(15, 20, 15, 50), line(15, 50, 0, 50));
const round = (index: number, radius: number): Softening => ({ kind: 'round', corner: { loop: 0, index }, radius, face: `round ${index}` });
const volume = (m: Meridian): number => sweptVolume(curvesOf(m));
function cutBack(m: Meridian, ...list: Softening[]): Meridian {
  const r = softened(m, list);
  if (!r.ok) throw new Error(r.error.why);
  return r.value;
}
const goes =
  (m: Meridian, ...corners: number[]) =>
  (r: number): boolean =>
    softened(
      m,
      corners.map((c) => round(c, r)),
    ).ok;

describe('a round of a circular edge', () => {
  it('takes what lies between the corner and its arc', () => {
    // Ring of section r² (1 − π/4); by layers: a disc of 30 less what a quarter circle leaves of it.
    const left = Math.PI * (25 * 25 * 5 + 2 * 25 * ((Math.PI * 25) / 4) + (2 / 3) * 125);
    expect(volume(drum) - volume(cutBack(drum, round(1, 5)))).toBeCloseTo(Math.PI * 900 * 5 - left, 8);
  });
  it('adds in a foot', () => {
    const grown = volume(cutBack(post, round(2, 4))) - volume(post);
    // By layers of the foot: discs from the post out to the quarter circle.
    const layers = Math.PI * (19 * 19 * 4 - 2 * 19 * ((Math.PI * 16) / 4) + (2 / 3) * 64);
    expect(grown).toBeCloseTo(layers - Math.PI * 225 * 4, 8);
  });
  it('goes as far as its faces are wide', () => {
    expect(largestSoftening(goes(drum, 1), 200)).toBeCloseTo(30, 3);
    expect(largestSoftening(goes(drum, 0, 1), 200)).toBeCloseTo(25, 3);
    expect(largestSoftening(goes(post, 2), 200)).toBeCloseTo(15, 3);
    // Before a face that leans, the ball is as large as half the angle allows.
    const leaning = turned(line(0, 0, 25, 0), line(25, 0, 35, 80), line(35, 80, 0, 80));
    const corner = Math.PI - Math.atan2(80, 10);
    expect(largestSoftening(goes(leaning, 0), 200)).toBeCloseTo(25 * Math.tan(corner / 2), 3);
  });
  it('runs on over a face that its neighbour flows into', () => {
    // A side of two halves in one line: the joint is no end.
    const halves = turned(line(0, 0, 30, 0), line(30, 0, 30, 4), line(30, 4, 30, 50), line(30, 50, 0, 50));
    expect(volume(cutBack(halves, round(0, 9)))).toBeCloseTo(volume(cutBack(drum, round(0, 9))), 8);
    const names = cutBack(halves, round(0, 9)).loops[0]!.map((c) => c.face);
    expect(names).not.toContain('c1');
  });
  it('touches a bent side, and says so where that bends too tightly', () => {
    const bulge = turned(
      line(0, 0, 20, 0),
      arcAbout({ x: 0, y: 15 }, 25, Math.atan2(-15, 20), 2 * Math.atan2(15, 20)),
      line(20, 30, 0, 30),
    );
    const m = cutBack(bulge, round(0, 3));
    const arc = m.loops[0]!.find((c) => c.face === 'round 0')!.curve as Extract<PlanarCurve, { kind: 'arc' }>;
    expect(arc.centre.y).toBeCloseTo(3, 9);
    expect(Math.hypot(arc.centre.x, arc.centre.y - 15)).toBeCloseTo(22, 9);
  });
  it('is refused where it would cut into what lies beside it', () => {
    const groove = turned(
      line(0, 0, 30, 0),
      line(30, 0, 30, 20),
      line(30, 20, 28, 20),
      line(28, 20, 28, 21),
      line(28, 21, 30, 21),
      line(30, 21, 30, 50),
      line(30, 50, 0, 50),
    );
    expect(softened(groove, [round(1, 2.5)]).ok).toBe(false);
  });
});

describe('a bevel of a circular edge', () => {
  it('takes the triangle at the corner round about', () => {
    const bevel: Softening = { kind: 'bevel', corner: { loop: 0, index: 1 }, before: 4, after: 6, face: 'bevel' };
    // Pappus: a triangle of 12 mm² with its centroid a third of 6 inside of 30.
    expect(volume(drum) - volume(cutBack(drum, bevel))).toBeCloseTo(2 * Math.PI * 28 * 12, 8);
  });
  it('is refused where a face is too narrow', () => {
    const bevel = (d: number): Softening => ({ kind: 'bevel', corner: { loop: 0, index: 0 }, before: d, after: d, face: 'bevel' });
    expect(softened(post, [bevel(19)]).ok).toBe(true);
    expect(softened(post, [bevel(21)]).ok).toBe(false);
  });
});
