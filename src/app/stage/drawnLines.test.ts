import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../../core/geometry/vectors';
import { pickable, withAllThatGoOn } from './drawnLines';

const piece = (...p: [number, number][]): Vec3[] => p.map(([x, y]) => [x, y, 0]);

describe('lines that go on from each other', () => {
  /** A stretch of a circle of radius 5 about the origin, from one angle to another, degrees. */
  const bow = (from: number, to: number): Vec3[] =>
    Array.from({ length: 33 }, (_, i) => {
      const w = ((from + ((to - from) * i) / 32) * Math.PI) / 180;
      return [5 * Math.cos(w), 5 * Math.sin(w), 0];
    });
  /** Numbers of the lines, each drawn by a step of its own. */
  const chain = (lines: readonly Vec3[][], of: number): number[] => {
    const drawn = pickable(lines.map((points, i) => ({ ref: { step: `${i}` }, points })));
    return withAllThatGoOn(drawn, drawn.lines[of]!.ref).map((r) => Number('step' in r && r.step));
  };
  it('do so without a corner, whichever way each runs, and all round', () => {
    const lines = [
      piece([5, -9], [5, 0]),
      bow(90, 0),
      bow(90, 180),
      piece([0, 5], [0, 9]),
      piece([-5, 0], [-5, -9]),
      piece([20, 0], [30, 0]),
    ];
    expect(chain(lines, 0).toSorted()).toEqual([0, 1, 2, 4]);
    expect(chain(lines, 3)).toEqual([3]);
    expect(chain([bow(0, 120), bow(120, 240), bow(240, 360)], 1).toSorted()).toEqual([0, 1, 2]);
  });
  it('stand for the drawing they belong to by one curve', () => {
    const lines = [
      { ref: { step: 's1' }, points: piece([5, -9], [5, 0]) },
      { ref: { profile: 'p', curve: 'c1' }, points: bow(0, 90) },
      { ref: { profile: 'p', curve: 'c2' }, points: bow(90, 180) },
      { ref: { step: 's2' }, points: piece([-5, 0], [-5, -9]) },
    ];
    expect(withAllThatGoOn(pickable(lines), lines[0]!.ref)).toEqual([{ step: 's1' }, { profile: 'p', curve: 'c1' }, { step: 's2' }]);
  });
});
