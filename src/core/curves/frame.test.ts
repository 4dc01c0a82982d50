import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cross, dot, minus, type Vec3 } from '../geometry/vectors';
import { fitPlanar } from './fit';
import {
  allOverPlane,
  between,
  type Frame,
  facing,
  fromWorldOrigin,
  heightOver,
  normalOf,
  ORIGIN_PLANES,
  parallelThrough,
  shifted,
  throughThree,
  tilted,
  toPlane,
  toSpace,
} from './frame';

const vector = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -200, max: 200, noNaN: true }))) as fc.Arbitrary<[number, number, number]>;
const direction = vector.filter((v) => Math.hypot(...v) > 1);
const place = fc.record({ x: fc.double({ min: -99, max: 99, noNaN: true }), y: fc.double({ min: -99, max: 99, noNaN: true }) });
const near = (a: readonly number[], b: readonly number[], digits = 9): void => {
  for (const [i, v] of a.entries()) expect(v).toBeCloseTo(b[i]!, digits);
};
const square = (f: Frame): void => {
  expect(dot(f.x, f.y)).toBeCloseTo(0, 12);
  expect(Math.hypot(...f.x)).toBeCloseTo(1, 12);
  expect(Math.hypot(...f.y)).toBeCloseTo(1, 12);
};
const good = (r: ReturnType<typeof throughThree>): Frame => {
  if (!r.ok) throw new Error(r.error);
  return r.value;
};

describe('a plane', () => {
  it('through the origin looks at the viewer, to the right, or up', () => {
    near(normalOf(ORIGIN_PLANES.front), [0, -1, 0]);
    near(normalOf(ORIGIN_PLANES.side), [1, 0, 0]);
    near(normalOf(ORIGIN_PLANES.level), [0, 0, 1]);
  });
  it('gives a place back that was put on it, and drops one beside it square onto it', () => {
    fc.assert(
      fc.property(direction, vector, place, fc.double({ min: -50, max: 50, noNaN: true }), (n, o, p, h) => {
        const f = facing(n, o);
        square(f);
        const on = toSpace(f, p);
        const above = toSpace(shifted(f, h), p);
        const q = toPlane(f, above);
        expect(Math.hypot(q.x - p.x, q.y - p.y)).toBeLessThan(1e-9);
        expect(heightOver(f, above)).toBeCloseTo(h, 9);
        expect(heightOver(f, on)).toBeCloseTo(0, 9);
      }),
    );
  });
  it('that faces a direction has across level, and up leaning upwards', () => {
    fc.assert(
      fc.property(direction, (n) => {
        const f = fromWorldOrigin(n, [3, 4, 5]);
        near(cross(normalOf(f), n), [0, 0, 0], 7);
        expect(f.x[2]).toBeCloseTo(0, 12);
        expect(f.y[2]).toBeGreaterThanOrEqual(-1e-12);
        // A plane within 1e-9 of level is taken as level: some 5e-9 at this distance from the origin.
        expect(heightOver(f, [3, 4, 5])).toBeCloseTo(0, 7);
        // Its origin is the world's, dropped onto it.
        near(cross(f.origin, normalOf(f)), [0, 0, 0], 6);
      }),
    );
  });
  it('through a place stays parallel, and the drawing moves along the normal only', () => {
    const f = parallelThrough(ORIGIN_PLANES.level, [7, 8, 30]);
    near(f.origin, [0, 0, 30]);
    near(toSpace(f, { x: 2, y: 3 }), [2, 3, 30]);
  });
  it('turned about a line keeps the line, and leans by the angle', () => {
    const f = tilted(ORIGIN_PLANES.level, [0, 10, 0], [1, 0, 0], Math.PI / 6);
    expect(heightOver(f, [55, 10, 0])).toBeCloseTo(0, 12);
    expect(dot(normalOf(f), [0, 0, 1])).toBeCloseTo(Math.cos(Math.PI / 6), 12);
    // A place 10 in front of the line goes down by 10 sin 30° where the far side goes up.
    near(toSpace(f, { x: 0, y: 0 }), [0, 10 - 10 * Math.cos(Math.PI / 6), -5]);
  });
  it('through three places holds all three; three in a line fix none', () => {
    fc.assert(
      fc.property(vector, direction, direction, (a, u, v) => {
        fc.pre(Math.hypot(...cross(u, v)) > 50);
        const three: Vec3[] = [a, [a[0] + u[0], a[1] + u[1], a[2] + u[2]], [a[0] + v[0], a[1] + v[1], a[2] + v[2]]];
        const f = good(throughThree(three[0]!, three[1]!, three[2]!));
        for (const p of three) expect(heightOver(f, p)).toBeCloseTo(0, 6);
      }),
    );
    expect(throughThree([0, 0, 0], [1, 1, 1], [5, 5, 5]).ok).toBe(false);
  });
  it('between two parallel ones lies half-way, between two that lean halves their angle', () => {
    const low = facing([0, 0, -1], [0, 0, 10]);
    const high = facing([0, 0, 1], [0, 0, 40]);
    const middle = good(between(low, high));
    expect(Math.abs(normalOf(middle)[2])).toBeCloseTo(1, 12);
    expect(heightOver(middle, [9, 9, 25])).toBeCloseTo(0, 12);
    expect(between(low, facing([0, 0, 1], [5, 5, 10])).ok).toBe(false);
    // A wedge of 60° with its edge along x at z = 5: the sides y ≥ 0, rising at 0° and 60°.
    const floor = facing([0, 0, -1], [0, 0, 5]);
    const roof = facing([0, -Math.sin(Math.PI / 3), Math.cos(Math.PI / 3)], [0, 0, 5]);
    const half = good(between(floor, roof));
    for (const p of [
      [3, 0, 5],
      [0, Math.cos(Math.PI / 6), 5 + Math.sin(Math.PI / 6)],
    ] as const)
      expect(heightOver(half, p)).toBeCloseTo(0, 12);
  });
  it('carries what was drawn about the upright axis along, without a mirror image', () => {
    const f = tilted(shifted(ORIGIN_PLANES.side, 12), [1, 2, 3], [1, 1, 0], 0.7);
    // Across, against the normal, up: as the front plane has them.
    const corners = new Float32Array([0, 0, 0, 1, 0, 0, 0, 0, -1, 0, 1, 0]);
    const c = allOverPlane(f, corners);
    const at = (i: number): Vec3 => [c[3 * i]!, c[3 * i + 1]!, c[3 * i + 2]!];
    near(at(1), toSpace(f, { x: 1, y: 0 }), 5);
    near(at(3), toSpace(f, { x: 0, y: 1 }), 5);
    expect(dot(cross(minus(at(1), at(0)), minus(at(2), at(0))), minus(at(3), at(0)))).toBeCloseTo(1, 5);
  });
});

describe('a fitted spline', () => {
  it('keeps to a curve within the tolerance, measured against the curve itself', () => {
    // An ellipse and a logarithmic spiral, from their equations.
    for (const at of [
      (t: number) => ({ x: 30 * Math.cos(3 * t), y: 12 * Math.sin(3 * t) }),
      (t: number) => ({ x: 5 * Math.exp(t) * Math.cos(4 * t), y: 5 * Math.exp(t) * Math.sin(4 * t) }),
    ]) {
      const made = fitPlanar(at, 1e-6)!;
      expect(made.deviation).toBeLessThanOrEqual(1e-6);
      near([made.curve.a.x, made.curve.a.y, made.curve.b.x, made.curve.b.y], [at(0).x, at(0).y, at(1).x, at(1).y]);
    }
  });
  it('does not exist for a point', () => expect(fitPlanar(() => ({ x: 1, y: 1 }), 1e-6)).toBeUndefined());
});
