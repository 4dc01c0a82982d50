import { describe, expect, it } from 'vitest';
import type { ResolvedProfile } from '../profile/resolve';
import { type Cage, edgeCount, netOf } from './cage';
import { cageFromHalf, cageFromOutline, evenly } from './from-drawing';

const drawn = (points: readonly (readonly [number, number])[], closed: boolean): ResolvedProfile => {
  const ends = closed ? [...points, points[0]!] : points;
  return {
    points: new Map(),
    curves: ends.slice(1).map((b, i) => ({
      id: `c${i}`,
      construction: false,
      curve: { kind: 'line', a: { x: ends[i]![0], y: ends[i]![1] }, b: { x: b[0], y: b[1] } },
    })),
  } as unknown as ResolvedProfile;
};
const euler = (c: Cage): number => {
  const net = netOf(c);
  if (!net.ok) throw new Error(net.error.what);
  return c.vertices.length - edgeCount(net.value) + c.faces.length;
};

describe('a cage of a drawing', () => {
  it('takes places at even steps', () => {
    expect(
      evenly(
        [
          { x: 0, y: 0 },
          { x: 3, y: 0 },
          { x: 3, y: 3 },
        ],
        4,
        false,
      ),
    ).toEqual([
      { x: 0, y: 0 },
      { x: 2, y: 0 },
      { x: 3, y: 1 },
      { x: 3, y: 3 },
    ]);
    expect(
      evenly(
        [
          { x: 0, y: 0 },
          { x: 2, y: 0 },
          { x: 2, y: 2 },
          { x: 0, y: 2 },
        ],
        4,
        true,
      ).map((p) => [p.x, p.y]),
    ).toEqual([
      [0, 0],
      [2, 0],
      [2, 2],
      [0, 2],
    ]);
  });
  it('turned is closed where it meets the axis, by quads', () => {
    const cage = cageFromHalf(
      drawn(
        [
          [0, 0],
          [30, 0],
          [30, 50],
          [0, 50],
        ],
        false,
      ),
      'Cup',
      12,
      8,
    );
    if (!cage.ok) throw new Error(cage.error);
    expect(euler(cage.value)).toBe(2);
    expect(cage.value.faces.every((f) => f.length === 4)).toBe(true);
    expect(Math.max(...cage.value.vertices.map((p) => Math.hypot(p[0], p[1])))).toBeCloseTo(30, 6);
    // It looks outwards: turned downwards in the drawing it comes out the same.
    const other = cageFromHalf(
      drawn(
        [
          [0, 50],
          [30, 50],
          [30, 0],
          [0, 0],
        ],
        false,
      ),
      'Cup',
      12,
      8,
    );
    expect(other.ok && euler(other.value)).toBe(2);
  });
  it('turned about the axis beside it is a ring', () => {
    const cage = cageFromHalf(
      drawn(
        [
          [20, 0],
          [30, 0],
          [30, 10],
          [20, 10],
        ],
        true,
      ),
      'Ring',
      12,
      8,
    );
    if (!cage.ok) throw new Error(cage.error);
    expect(euler(cage.value)).toBe(0);
    expect(cage.value.faces.length).toBe(96);
  });
  it('drawn up has the outline all the way, and says when there is none', () => {
    const cage = cageFromOutline(
      drawn(
        [
          [-20, -10],
          [20, -10],
          [20, 10],
          [-20, 10],
        ],
        true,
      ),
      () => undefined,
      12,
      40,
    );
    if (!cage.ok) throw new Error(cage.error);
    expect(cage.value.vertices.length).toBe(36);
    expect(Math.max(...cage.value.vertices.map((p) => p[2]))).toBe(40);
    expect(
      cageFromOutline(
        drawn(
          [
            [0, 0],
            [20, 0],
            [20, 20],
          ],
          false,
        ),
        () => undefined,
        12,
        40,
      ),
    ).toMatchObject({ ok: false });
  });
});
