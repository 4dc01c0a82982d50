/** Properties that hold for any figures: areas kept, hulls that hold, clearances by half, patches within their borders. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arcOf, turnedMesh, withVoid } from '../../../tests/support/meshes';
import { curvatureAt, tangentAt } from '../curves/planar';
import { smoothSection } from '../curves/section-blend';
import { hullOf } from '../geometry/hull';
import { triple, type Vec3 } from '../geometry/vectors';
import { buildBvh } from '../mesh/bvh';
import { insideOut, massProperties, normalAt, openEdgeCount, weld } from '../mesh/mesh';
import { ballAt, tellsWall } from '../mesh/wall';
import { membrane } from '../surfaces/membrane';
import { surfaceAt } from '../surfaces/space';
import { extremes, facetsOf, histogramOf, pairs } from './facets';
import { fitInto } from './fit';

const size = fc.double({ min: 2, max: 80, noNaN: true });
const drum = (r: number, h: number, n = 64) =>
  turnedMesh(
    [
      [0, 0],
      [r, 0],
      [r, h],
      [0, h],
    ],
    n,
  );

describe('facets of any drum', () => {
  it('have its area, and every one of their sides is shared by two', () => {
    fc.assert(
      fc.property(size, size, fc.double({ min: 0.1, max: 1, noNaN: true }), (r, h, share) => {
        const skin = drum(r, h, 24);
        const f = facetsOf(skin, share * Math.max(r, h), 4000);
        const area = f.areas.reduce((s, a) => s + a, 0);
        expect(area / massProperties(skin).area).toBeCloseTo(1, 5);
        // Sides are halved where they are too long, whoever they belong to: no facet stands alone.
        let shared = 0;
        pairs(f, () => {
          shared++;
        });
        expect(shared).toBeGreaterThan(f.faceOf.length);
      }),
      { numRuns: 10 },
    );
  });
  it('give up the least readings first, apart from each other, and count each once', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 10, noNaN: true }), { minLength: 400, maxLength: 400 }), (values) => {
        const f = facetsOf(drum(20, 30, 48), 6, 4000);
        const own = Float32Array.from({ length: f.faceOf.length }, (_, i) => values[i % values.length]!);
        const list = extremes(f, own, 6, 5);
        for (const [k, i] of list.entries()) {
          if (k > 0) expect(own[i]!).toBeGreaterThanOrEqual(own[list[k - 1]!]!);
          for (const j of list.slice(0, k))
            expect(Math.hypot(...[0, 1, 2].map((c) => f.centres[3 * i + c]! - f.centres[3 * j + c]!))).toBeGreaterThan(5);
        }
        const h = histogramOf(own, f.areas, 12);
        expect(h.areas.reduce((s, a) => s + a, 0)).toBeCloseTo(
          f.areas.reduce((s, a) => s + a, 0),
          3,
        );
      }),
      { numRuns: 6 },
    );
  });
});

describe('a hull of any places', () => {
  it('has all of them to its left', () => {
    const place = fc.tuple(fc.double({ min: -50, max: 50, noNaN: true }), fc.double({ min: -50, max: 50, noNaN: true }));
    fc.assert(
      fc.property(fc.array(place, { minLength: 3, maxLength: 40 }), (places) => {
        const hull = hullOf(places);
        if (hull.length < 3) return;
        for (const [x, y] of places)
          for (let i = 0; i < hull.length; i++) {
            const [a, b] = [hull[i]!, hull[(i + 1) % hull.length]!];
            expect((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])).toBeGreaterThan(-1e-6);
          }
      }),
      { numRuns: 60 },
    );
  });
});

describe('a part in any bore', () => {
  it('has half of the difference per side, and goes in when there is one', () => {
    fc.assert(
      fc.property(fc.double({ min: 6, max: 30, noNaN: true }), fc.double({ min: -0.3, max: 0.3, noNaN: true }), (bore, share) => {
        fc.pre(Math.abs(share) > 0.03);
        const part = 2 * bore * (1 - share);
        const cup = buildBvh(
          turnedMesh(
            [
              [0, 0],
              [bore + 4, 0],
              [bore + 4, 50],
              [bore, 50],
              [bore, 4],
              [0, 4],
            ],
            180,
          ),
        );
        const f = fitInto(cup, { kind: 'cylinder', diameter: part, height: 30 }, [0, 0], 4, 50);
        expect(f.passes).toBe(share > 0);
        if (share > 0) expect(Math.abs(f.least.gap - (bore - part / 2))).toBeLessThan(0.02 * bore);
      }),
      { numRuns: 4 },
    );
  });
});

describe('a curvature-continuous section of any corner', () => {
  it('leaves both faces in their direction and with their curvature', () => {
    const angle = fc.double({ min: 0.4, max: 2.6, noNaN: true });
    const bend = fc.double({ min: -0.04, max: 0.04, noNaN: true });
    fc.assert(
      fc.property(angle, size, size, bend, bend, (turn, a, b, ka, kb) => {
        const along = { x: Math.cos(turn), y: Math.sin(turn) };
        const c = smoothSection(
          { at: { x: -a, y: 0 }, along: { x: 1, y: 0 }, curvature: ka },
          { at: { x: b * along.x, y: b * along.y }, along: { x: -along.x, y: -along.y }, curvature: kb },
        )!;
        expect(curvatureAt(c, 0)).toBeCloseTo(ka, 6);
        // At the far end it runs against its direction, which turns the sign.
        expect(curvatureAt(c, 1)).toBeCloseTo(-kb, 6);
        expect(tangentAt(c, 0).x).toBeCloseTo(1, 9);
        expect(tangentAt(c, 1).x).toBeCloseTo(along.x, 9);
      }),
      { numRuns: 60 },
    );
  });
});

describe('a patch over any border', () => {
  it('stays within the border’s own bounds', () => {
    const wave = fc.tuple(
      fc.integer({ min: 2, max: 6 }),
      fc.double({ min: -4, max: 4, noNaN: true }),
      fc.double({ min: 0, max: 6, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(wave, { minLength: 1, maxLength: 3 }), (waves) => {
        const at = (s: number): Vec3 => {
          const a = 2 * Math.PI * s;
          return [20 * Math.cos(a), 20 * Math.sin(a), waves.reduce((z, [k, h, p]) => z + h * Math.cos(k * a + p), 0)];
        };
        const heights = Array.from({ length: 720 }, (_, i) => at(i / 720)[2]);
        const [low, high] = [Math.min(...heights), Math.max(...heights)];
        const [patch] = membrane([{ at, length: 2 * Math.PI * 20 }]);
        for (let i = 0; i < 24; i++)
          for (const r of [0, 0.3, 0.6, 0.9, 0.98]) {
            const z = surfaceAt(patch!, i / 24, r)[2];
            expect(z).toBeGreaterThan(low - 2e-3);
            expect(z).toBeLessThan(high + 2e-3);
          }
      }),
      { numRuns: 8 },
    );
  });
});

describe('a skin welded', () => {
  it('keeps what is known of its facets, and the normal between corners is of length one', () => {
    const skin = turnedMesh(arcOf(10, 0, 0, Math.PI, 12), 24);
    const loose = {
      positions: Float64Array.from([...skin.indices].flatMap((i) => [...skin.positions.subarray(3 * i, 3 * i + 3)])),
      indices: Uint32Array.from(skin.indices.keys()),
      faceOf: skin.faceOf,
      skewed: Uint8Array.from(skin.faceOf, (_, t) => (t % 7 === 0 ? 1 : 0)),
      // On a ball the normal is the place itself.
      normals: Float32Array.from([...skin.indices].flatMap((i) => [...skin.positions.subarray(3 * i, 3 * i + 3)].map((x) => x / 10))),
    };
    const welded = weld(loose);
    expect(openEdgeCount(welded)).toBe(0);
    expect(welded.skewed).toEqual(loose.skewed);
    const bvh = buildBvh(welded);
    for (let t = 0; t < welded.faceOf.length; t += 5) {
      const n = normalAt(welded, bvh.normals, t, 0.2, 0.5);
      expect(Math.hypot(...n)).toBeCloseTo(1, 9);
      const [a, b, c] = triple((k) => welded.indices[3 * t + k]!);
      const p = [0, 1, 2].map(
        (k) => 0.3 * welded.positions[3 * a + k]! + 0.2 * welded.positions[3 * b + k]! + 0.5 * welded.positions[3 * c + k]!,
      );
      const l = Math.hypot(...p);
      expect(n[0] * p[0]! + n[1] * p[1]! + n[2] * p[2]!).toBeCloseTo(l, 2);
    }
    // Without them the facet's own normal stands.
    expect(normalAt(skin, bvh.normals, 4, 0.3, 0.3)).toEqual([...bvh.normals.subarray(12, 15)]);
  });
  it('turned inside out has its volume the other way round, and its normals with it', () => {
    const skin = drum(10, 20);
    expect(massProperties(insideOut(skin)).volume).toBeCloseTo(-massProperties(skin).volume, 6);
    const bent = { ...skin, normals: Float32Array.from({ length: 3 * skin.indices.length }, (_, i) => [1, 0, 0][i % 3]!) };
    const bvh = buildBvh(insideOut(bent));
    expect(normalAt(insideOut(bent), bvh.normals, 0, 0.3, 0.3)).toEqual([-1, expect.closeTo(0, 9), expect.closeTo(0, 9)]);
  });
  it('tells a wall where the other side is met across it, and none where nothing is met or a facet leans away', () => {
    const shell = withVoid(drum(20, 40), drum(17, 34));
    const bvh = buildBvh(shell);
    const ball = ballAt(bvh, [20, 0.1, 17], [1, 0, 0], 30);
    expect(ball.thickness).toBeCloseTo(3, 1);
    expect(tellsWall(bvh, [20, 0.1, 17], ball)).toBe(true);
    expect(tellsWall(bvh, [20, 0.1, 17], { ...ball, triangle: -1 })).toBe(false);
    expect(tellsWall(bvh, [20, 0.1, 17], { ...ball, contact: [19.9, 0.1, 17] })).toBe(false);
    const leaning = { ...bvh, mesh: { ...shell, skewed: new Uint8Array(shell.faceOf.length).fill(1) } };
    expect(tellsWall(leaning, [20, 0.1, 17], ball)).toBe(false);
  });
});
