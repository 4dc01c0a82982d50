import { Bezier } from 'bezier-js';
import { describe, expect, it } from 'vitest';
import { curvatureAt, tangentAt, tightestRadius } from './planar';
import { type Contact, smoothSection } from './section-blend';

const corner: [Contact, Contact] = [
  { at: { x: -4, y: 0 }, along: { x: 1, y: 0 }, curvature: 0 },
  { at: { x: 0, y: -4 }, along: { x: 0, y: 1 }, curvature: 0 },
];

describe('a curvature-continuous section', () => {
  it('leaves flat faces without a bend and bends hardly tighter than an arc would', () => {
    const c = smoothSection(...corner)!;
    for (const t of [0, 1]) expect(Math.abs(curvatureAt(c, t))).toBeLessThan(1e-9);
    expect(tangentAt(c, 0)).toEqual({ x: expect.closeTo(1, 9), y: expect.closeTo(0, 9) });
    expect(tangentAt(c, 1)).toEqual({ x: expect.closeTo(0, 9), y: expect.closeTo(-1, 9) });
    expect(tightestRadius(c)).toBeGreaterThan(0.88 * 4);
  });
  it('takes over the curvature of curved faces, by an independent library', () => {
    const c = smoothSection({ ...corner[0], curvature: -1 / 30 }, { ...corner[1], curvature: 1 / 12 })!;
    if (c.kind !== 'spline') throw new Error('a spline is expected');
    // Its types leave the reading of curvature out.
    const known = new Bezier(c.spline.poles.map(([x, y]) => ({ x: x!, y: y! }))) as unknown as { curvature(t: number): { k: number } };
    // bezier-js counts a bend to the right in these axes by its own sign; at the far end the curve runs against `along`.
    expect(Math.abs(known.curvature(0).k)).toBeCloseTo(1 / 30, 6);
    expect(Math.abs(known.curvature(1).k)).toBeCloseTo(1 / 12, 6);
    expect(curvatureAt(c, 0)).toBeCloseTo(-1 / 30, 6);
    expect(curvatureAt(c, 1)).toBeCloseTo(-1 / 12, 6);
  });
  it('is none between faces whose tangents part', () => {
    expect(smoothSection(corner[0], { ...corner[1], along: { x: 0, y: -1 } })).toBeUndefined();
  });
});
