import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { minus, type Vec3 } from '../geometry/vectors';
import { facing, heightOver, normalOf, ORIGIN_PLANES, toSpace } from './frame';
import { carry, type Motion, mirrorIn, moved, scaleFrom, shiftBy, turnAbout } from './motion';

const place = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -80, max: 80, noNaN: true }))) as fc.Arbitrary<[number, number, number]>;
const way = place.filter((v) => Math.hypot(...v) > 1);
const near = (a: readonly number[], b: readonly number[], digits = 8): void => {
  for (const [i, v] of a.entries()) expect(v).toBeCloseTo(b[i]!, digits);
};
const span = (k: Motion, p: Vec3, q: Vec3): number => Math.hypot(...minus(moved(k, p), moved(k, q)));

describe('a motion', () => {
  it('keeps all distances: shifts, turns, mirror images, carrying', () => {
    fc.assert(
      fc.property(way, place, place, place, fc.double({ min: -7, max: 7, noNaN: true }), (d, o, p, q, w) => {
        for (const k of [shiftBy(d), turnAbout(o, d, w), mirrorIn(facing(d, o)), carry(ORIGIN_PLANES.side, facing(d, o))])
          expect(span(k, p, q)).toBeCloseTo(Math.hypot(...minus(p, q)), 7);
      }),
    );
  });
  it('that turns leaves its line, and two quarter turns make a half', () => {
    fc.assert(
      fc.property(way, place, place, (d, o, p) => {
        const quarter = turnAbout(o, d, Math.PI / 2);
        near(moved(quarter, [o[0] + d[0], o[1] + d[1], o[2] + d[2]]), [o[0] + d[0], o[1] + d[1], o[2] + d[2]]);
        near(moved(quarter, moved(quarter, p)), moved(turnAbout(o, d, Math.PI), p), 7);
      }),
    );
    near(moved(turnAbout([0, 0, 0], [0, 0, 1], Math.PI / 2), [1, 0, 5]), [0, 1, 5]);
  });
  it('that mirrors leaves its plane, changes sides, and undoes itself', () => {
    fc.assert(
      fc.property(way, place, place, (d, o, p) => {
        const f = facing(d, o);
        const image = moved(mirrorIn(f), p);
        expect(heightOver(f, image)).toBeCloseTo(-heightOver(f, p), 7);
        near(moved(mirrorIn(f), image), p, 7);
      }),
    );
  });
  it('that scales does so from its place', () => {
    near(moved(scaleFrom([1, 1, 1], 3), [2, 1, 0]), [4, 1, -2]);
  });
  it('that carries takes drawing onto drawing, normal onto normal', () => {
    const to = facing([1, 2, -1], [5, 6, 7]);
    const k = carry(ORIGIN_PLANES.front, to);
    near(moved(k, toSpace(ORIGIN_PLANES.front, { x: 3, y: -4 })), toSpace(to, { x: 3, y: -4 }));
    near(minus(moved(k, normalOf(ORIGIN_PLANES.front)), moved(k, [0, 0, 0])), normalOf(to));
  });
});
