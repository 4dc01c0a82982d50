import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../geometry/vectors';
import { arcInSpace, pathAlong, spaceAt, tangentArc } from './path';
import { rebuild } from './rebuild';

const quarter = (s: number): Vec3 => [20 * Math.cos((s * Math.PI) / 2), 20 * Math.sin((s * Math.PI) / 2), 0];

describe('a curve with a chosen number of control points', () => {
  it('nears what it was as they grow, and keeps its ends', () => {
    const off = [4, 6, 8, 12].map((n) => rebuild(quarter, n).deviation);
    for (let i = 1; i < off.length; i++) expect(off[i]!).toBeLessThan(off[i - 1]!);
    // The best cubic with fixed ends misses a quarter circle by less than the well-known Bézier with k = 0.5523 does: 2.7e-4 r.
    expect(off[0]).toBeLessThan(20 * 2.8e-4);
    const made = rebuild(quarter, 8);
    expect(made.spline.poles[0]).toEqual([20, 0, 0]);
    expect(made.spline.poles[7]![1]).toBeCloseTo(20, 9);
    expect(made.spline.poles).toHaveLength(8);
  });
  it('finds a cubic again as it was', () => {
    const cubic = (t: number): Vec3 => [30 * t, 12 * t * (1 - t), 8 * t * t * t];
    expect(rebuild(cubic, 4).deviation).toBeLessThan(1e-6);
  });
  it('is a line or a parabola where there are no more points', () => {
    expect(rebuild((t) => [10 * t, 0, 0], 2).deviation).toBeLessThan(1e-12);
    expect(rebuild((t) => [10 * t, 5 * t * t, 0], 3).deviation).toBeLessThan(1e-6);
  });
});

describe('arcs in space', () => {
  it('pass through three places', () => {
    const arc = arcInSpace([10, 0, 5], [0, 10, 5], [-10, 0, 5])!;
    expect(pathAlong([arc]).length).toBeCloseTo(10 * Math.PI, 8);
    expect(Math.hypot(...spaceAt(arc, 0.3).p.slice(0, 2))).toBeCloseTo(10, 9);
    expect(arcInSpace([0, 0, 0], [1, 1, 1], [2, 2, 2])).toBeUndefined();
  });
  it('leave in a direction and end where asked', () => {
    const arc = tangentArc([0, 0, 0], [0, 0, 1], [10, 0, 10])!;
    const path = pathAlong([arc]);
    expect(path.length).toBeCloseTo(5 * Math.PI, 8);
    expect(path.at(0).direction[2]).toBeCloseTo(1, 9);
    expect(path.at(1).point.map((v) => Math.round(v * 1e9) / 1e9)).toEqual([10, 0, 10]);
    expect(path.at(1).direction[0]).toBeCloseTo(1, 9);
    expect(pathAlong([tangentArc([0, 0, 0], [1, 0, 0], [7, 0, 0])!]).straight).toBe(true);
    expect(tangentArc([0, 0, 0], [1, 0, 0], [-7, 0, 0])).toBeUndefined();
  });
});
