/** What stands about a drawing, and how a place falls onto it. */
import { describe, expect, it } from 'vitest';
import { ORIGIN_PLANES, shifted } from '../curves/frame';
import { evaluateDimensions } from '../dimensions/dimensions';
import { emptyProfile } from '../recipe/edit';
import { type Around, edgesIn, liesAlong, nearestAround, seenIn } from './around';
import { resolveProfile } from './resolve';
import { snap } from './snap';

const square: Around = {
  words: 'Body 1',
  lines: [
    [
      { x: 10, y: 10 },
      { x: 30, y: 10 },
      { x: 30, y: 40 },
    ],
  ],
};

describe('what stands about a drawing', () => {
  it('is seen square to its plane; only parallel planes are', () => {
    expect(liesAlong(ORIGIN_PLANES.level, shifted(ORIGIN_PLANES.level, 30))).toBe(true);
    expect(liesAlong(ORIGIN_PLANES.level, { ...ORIGIN_PLANES.level, x: [-1, 0, 0] })).toBe(true);
    expect(liesAlong(ORIGIN_PLANES.level, ORIGIN_PLANES.front)).toBe(false);
    expect(
      seenIn(ORIGIN_PLANES.front, [
        [
          [1, 7, 2],
          [3, -9, 4],
        ],
      ]),
    ).toEqual([
      [
        { x: 1, y: 2 },
        { x: 3, y: 4 },
      ],
    ]);
  });
  it('are the edges that lie in the plane, each as one line, and none elsewhere', () => {
    // An edge of two stretches along the top of a box, one up its side, another along its top.
    const stretches = [
      [-20, 15, 20, 0, 15, 20],
      [0, 15, 20, 20, 15, 20],
      [20, 15, 0, 20, 15, 20],
      [20, 15, 20, 20, -15, 20.0004],
    ];
    const [segments, edgeOf] = [Float32Array.from(stretches.flat()), Uint32Array.from([0, 0, 1, 2])];
    const top = edgesIn(shifted(ORIGIN_PLANES.level, 20), segments, edgeOf);
    expect(top.map((l) => l.map((p) => [p.x, p.y]))).toEqual([
      [
        [-20, 15],
        [0, 15],
        [20, 15],
      ],
      [
        [20, 15],
        [20, -15],
      ],
    ]);
    expect(edgesIn(shifted(ORIGIN_PLANES.level, 10), segments, edgeOf)).toEqual([]);
  });
});

describe('a place', () => {
  it('falls onto the end of a line before the line itself, and onto nothing out of reach', () => {
    expect(nearestAround([square], { x: 10.4, y: 10.3 }, 1)).toEqual({ at: { x: 10, y: 10 }, reason: 'end of Body 1', end: true });
    expect(nearestAround([square], { x: 20.2, y: 9.6 }, 1)).toEqual({ at: { x: 20.2, y: 10 }, reason: 'on Body 1', end: false });
    expect(nearestAround([square], { x: 20, y: 12 }, 1)).toBeUndefined();
    expect(nearestAround([], { x: 20, y: 12 }, 1)).toBeUndefined();
  });
  it('falls onto it after what is drawn and before the grid, and says so', () => {
    const resolved = resolveProfile(
      { ...emptyProfile('p', 'P'), points: [{ id: 'a', x: 10.2, y: 10 }], curves: [] },
      evaluateDimensions([]).scope,
    );
    if (!resolved.ok) throw new Error(resolved.error.message);
    const fall = (x: number, y: number) => snap(resolved.value, { x, y }, 1, 5, { around: [square] });
    expect(fall(10.1, 10.1).point).toBe('a');
    expect(fall(29.6, 39.7)).toEqual({ at: { x: 30, y: 40 }, reason: 'end of Body 1', keep: [] });
    expect(fall(23.3, 10.4)).toEqual({ at: { x: 23.3, y: 10 }, reason: 'on Body 1', keep: [] });
    expect(fall(23.3, 18).reason).toContain('grid');
  });
});
