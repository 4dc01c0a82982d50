import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cross, dot, minus, type Vec3 } from '../geometry/vectors';
import { facing, ORIGIN_PLANES } from './frame';
import { bent, carriedFrames, pathAlong, polyline, type SpaceCurve, spaceAt, splineThroughPlaces, straightLine } from './path';
import { arcAbout } from './planar';

const helix = (radius: number, pitch: number, turns: number, end = radius): SpaceCurve => ({
  kind: 'helix',
  frame: ORIGIN_PLANES.level,
  radius,
  end,
  pitch,
  turns,
});
const near = (a: readonly number[], b: readonly number[], digits = 9): void => {
  for (const [i, v] of a.entries()) expect(v).toBeCloseTo(b[i]!, digits);
};

const soften = (curves: readonly SpaceCurve[], radius: number): SpaceCurve[] => {
  const r = bent(curves, radius);
  if (!r.ok) throw new Error(`at most ${r.error.most}`);
  return r.value;
};

describe('a curve in space', () => {
  it.each<[string, SpaceCurve]>([
    ['helix', helix(15, 8, 3)],
    ['tapering helix', helix(15, 8, 3, 6)],
    ['arc', { kind: 'planar', frame: facing([1, 2, 3], [4, 5, 6]), curve: arcAbout({ x: 1, y: 2 }, 7, 0.3, 2) }],
    [
      'spline',
      splineThroughPlaces([
        [0, 0, 0],
        [10, 3, 1],
        [14, 9, 7],
        [20, 10, 20],
      ]),
    ],
  ])('%s has derivatives that agree with differences', (_, c) => {
    for (const t of [0.1, 0.37, 0.62, 0.9]) {
      const h = 1e-5;
      const [a, m, b] = [spaceAt(c, t - h), spaceAt(c, t), spaceAt(c, t + h)];
      near(
        m.d1,
        minus(b.p, a.p).map((v) => v / (2 * h)),
        3,
      );
      near(
        m.d2,
        minus(b.d1, a.d1).map((v) => v / (2 * h)),
        3,
      );
    }
  });
  it('as a helix has the curvature r / (r² + c²) of the textbooks', () => {
    const path = pathAlong([helix(15, 8, 3)]);
    const c = 8 / (2 * Math.PI);
    expect(path.length).toBeCloseTo(3 * Math.hypot(2 * Math.PI * 15, 8), 6);
    for (const s of [0.05, 0.4, 0.95]) expect(Math.hypot(...path.at(s).bend)).toBeCloseTo(15 / (225 + c * c), 9);
  });
});

describe('a path', () => {
  it('is run at even pace by the share of its length', () => {
    const path = pathAlong([
      splineThroughPlaces([
        [0, 0, 0],
        [30, 2, 1],
        [34, 19, 7],
        [60, 20, 20],
      ]),
    ]);
    const n = 200;
    let before = path.at(0).point;
    for (let i = 1; i <= n; i++) {
      const p = path.at(i / n).point;
      expect((Math.hypot(...minus(p, before)) / path.length) * n).toBeCloseTo(1, 2);
      before = p;
    }
  });
  it('knows its corners, its tangent joints, and whether it closes', () => {
    const square: Vec3[] = [
      [0, 0, 0],
      [40, 0, 0],
      [40, 30, 0],
      [0, 30, 0],
      [0, 0, 0],
    ];
    const sharp = pathAlong(polyline(square));
    expect(sharp.closed).toBe(true);
    expect(sharp.corners.map((c) => Math.round((c.angle * 180) / Math.PI))).toEqual([90, 90, 90, 90]);
    const soft = pathAlong(soften(polyline(square.slice(0, 4)), 5));
    expect(soft.corners).toEqual([]);
    expect(soft.joints).toHaveLength(4);
    expect(soft.length).toBeCloseTo(110 - 20 + 5 * Math.PI, 9);
    expect(pathAlong([straightLine([1, 2, 3], [4, 6, 3])])).toMatchObject({ straight: true, closed: false, length: 5 });
  });
  it('with rounds touches its corners’ sides, whatever way it turns', () => {
    const place = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -50, max: 50 }))) as fc.Arbitrary<[number, number, number]>;
    fc.assert(
      fc.property(place, place, place, (a, b, c) => {
        const [u, w] = [minus(b, a), minus(c, b)];
        fc.pre(Math.hypot(...u) > 20 && Math.hypot(...w) > 20 && Math.hypot(...cross(u, w)) > 0.2 * Math.hypot(...u) * Math.hypot(...w));
        const made = bent(polyline([a, b, c]), 2);
        fc.pre(made.ok);
        const path = pathAlong(soften(polyline([a, b, c]), 2));
        expect(path.corners).toEqual([]);
        near(path.at(0).point, a);
        near(path.at(1).point, c, 6);
        // Fine enough to land on the round of the least turn: 2 mm · 0.2 rad on a path of some 300 mm.
        expect(Math.max(...Array.from({ length: 2001 }, (_, i) => Math.hypot(...path.at(i / 2000).bend)))).toBeCloseTo(0.5, 6);
      }),
    );
  });
  it('that is too short for its rounds says where, and the largest that goes, by the tangent of half the turn', () => {
    // 90° and 60° at the ends of a stretch of 10: R (tan 45° + tan 30°) = 10.
    const most = 10 / (1 + Math.tan(Math.PI / 6));
    const places: Vec3[] = [
      [-40, 0, 0],
      [0, 0, 0],
      [0, 10, 0],
      [-40 * Math.sin(Math.PI / 3), 10 + 40 * Math.cos(Math.PI / 3), 0],
    ];
    const line = polyline(places);
    const short = bent(line, most * 1.001);
    expect(!short.ok && short.error.most).toBeCloseTo(most, 12);
    expect(!short.ok && short.error.at).toEqual([0, 10, 0]);
    expect(pathAlong(soften(line, most)).corners).toEqual([]);
  });
  it('that is closed is bent at its first place too', () => {
    const ring = bent(
      polyline([
        [0, 0, 0],
        [30, 0, 0],
        [30, 20, 0],
        [0, 20, 0],
        [0, 0, 0],
      ]),
      4,
    );
    const path = pathAlong(ring.ok ? ring.value : []);
    expect(path.closed).toBe(true);
    expect(path.corners).toEqual([]);
    expect(path.length).toBeCloseTo(100 - 32 + 8 * Math.PI, 9);
  });
  it('has no bend where a curve meets a line at a corner, and says where', () => {
    const arc: SpaceCurve = { kind: 'planar', frame: ORIGIN_PLANES.level, curve: arcAbout({ x: 0, y: 0 }, 10, 0, Math.PI / 2) };
    const r = bent([arc, straightLine([0, 10, 0], [0, 30, 0])], 1);
    expect(r).toMatchObject({ ok: false, error: { most: 0, at: [expect.closeTo(0, 9), 10, 0] } });
  });
});

describe('frames carried along a path', () => {
  it('stay square to it and to each other', () => {
    const path = pathAlong([
      splineThroughPlaces([
        [0, 0, 0],
        [30, 2, 1],
        [34, 19, 7],
        [60, 20, 20],
      ]),
    ]);
    const frames = carriedFrames(path, [0, 0, 1]);
    for (let i = 0; i <= 50; i++) {
      const { x, y } = frames.at(i / 50);
      const d = path.at(i / 50).direction;
      expect(dot(x, d)).toBeCloseTo(0, 9);
      expect(dot(x, y)).toBeCloseTo(0, 9);
      near(cross(x, y), d);
    }
  });
  it('do not turn at all on a plane path: up stays up', () => {
    const path = pathAlong([{ kind: 'planar', frame: ORIGIN_PLANES.level, curve: arcAbout({ x: 0, y: 0 }, 30, 0, 4) }]);
    const frames = carriedFrames(path, [0, 0, 1]);
    for (let i = 0; i <= 20; i++) near(frames.at(i / 20).x, [0, 0, 1], 7);
  });
  it('turn against the helix’s own normal by its torsion c / (r² + c²) for every millimetre', () => {
    const c = 12 / (2 * Math.PI);
    const path = pathAlong([helix(15, 12, 2)]);
    const normal = (s: number): Vec3 => {
      const b = path.at(s).bend;
      const l = Math.hypot(...b);
      return [b[0] / l, b[1] / l, b[2] / l];
    };
    const frames = carriedFrames(path, normal(0));
    const angle = (s: number): number => {
      const [x, n, d] = [frames.at(s).x, normal(s), path.at(s).direction];
      return Math.atan2(dot(cross(x, n), d), dot(x, n));
    };
    const torsion = c / (225 + c * c);
    for (const s of [0.1, 0.3]) expect(Math.abs(angle(s))).toBeCloseTo(torsion * s * path.length, 4);
  });
  it('meet themselves on a closed path', () => {
    const ring = pathAlong(
      soften(
        polyline([
          [20, 0, 0],
          [40, 0, 0],
          [40, 30, 10],
          [0, 30, 10],
          [0, 0, 0],
          [20, 0, 0],
        ]),
        6,
      ),
    );
    expect(ring.closed).toBe(true);
    const frames = carriedFrames(ring, [0, 0, 1]);
    near(frames.at(0).x, frames.at(0.999999).x, 4);
  });
});
