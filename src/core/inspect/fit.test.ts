import { describe, expect, it } from 'vitest';
import { turnedMesh } from '../../../tests/support/meshes';
import { buildBvh } from '../mesh/bvh';
import { fitInto, openingOf } from './fit';

/** A jar: wall 3, inside radius 20 from a floor at 3 up to 60, a neck of radius 12 from 70 to the brim at 90. */
const jar = buildBvh(
  turnedMesh(
    [
      [0, 0],
      [23, 0],
      [23, 61],
      [15, 71],
      [15, 90],
      [12, 90],
      [12, 70],
      [20, 60],
      [20, 3],
      [0, 3],
    ],
    192,
  ),
);
const into = (object: Parameters<typeof fitInto>[1]) => fitInto(jar, object, [0, 0], 3, 90);

describe('an opening', () => {
  it('is the mouth at the top with the floor under it, also where the floor is bored through', () => {
    expect(openingOf(jar)).toMatchObject({ brim: 90, floor: expect.closeTo(3, 6) });
    for (const c of openingOf(jar)!.centre) expect(c).toBeCloseTo(0, 6);
    // A ring for a floor, with a drain of radius 3.
    const drained = buildBvh(
      turnedMesh(
        [
          [3, 0],
          [23, 0],
          [23, 61],
          [20, 61],
          [20, 3],
          [3, 3],
          [3, 0],
        ],
        96,
      ),
    );
    const o = openingOf(drained)!;
    expect([o.brim, o.floor]).toEqual([61, expect.closeTo(3, 6)]);
    const f = fitInto(drained, { kind: 'cylinder', diameter: 30, height: 20 }, o.centre, o.floor, o.brim);
    expect([f.passes, f.rest < 0.05]).toEqual([true, true]);
    expect(f.least.gap).toBeCloseTo(5, 1);
  });
  it('is none in a solid block, nor in a tube without a floor', () => {
    expect(
      openingOf(
        buildBvh(
          turnedMesh(
            [
              [0, 0],
              [20, 0],
              [20, 30],
              [0, 30],
            ],
            48,
          ),
        ),
      ),
    ).toBeNull();
    expect(
      openingOf(
        buildBvh(
          turnedMesh(
            [
              [15, 0],
              [20, 0],
              [20, 30],
              [15, 30],
              [15, 0],
            ],
            48,
          ),
        ),
      ),
    ).toBeNull();
  });
});

describe('something put in', () => {
  it('that is narrower than the neck reaches the floor, with half the difference beside it', () => {
    const f = into({ kind: 'cylinder', diameter: 20, height: 100 });
    expect(f.passes).toBe(true);
    expect(f.rest).toBeLessThan(0.05);
    expect(f.above).toBeCloseTo(100 - 87, 1);
    // 1 mm per side less in a 22 mm hole of a 20 mm part: here 24 less 20, halved.
    expect(f.least.gap).toBeCloseTo(2, 1);
    expect(f.least.at[2]).toBeGreaterThan(69);
  });
  it('that is wider stays above the brim', () => {
    const f = into({ kind: 'cylinder', diameter: 30, height: 40 });
    expect(f.passes).toBe(false);
    // It rests on the rim itself, all of it outside.
    expect(f.rest).toBeCloseTo(87, 0);
    expect(f.above).toBeCloseTo(40, 0);
  });
  it('that is a ball rests on the floor where it passes the neck', () => {
    const f = into({ kind: 'ball', diameter: 22 });
    expect([f.passes, f.rest < 0.05]).toEqual([true, true]);
    expect(f.above).toBeCloseTo(22 - 87, 1);
    expect(f.least.gap).toBeCloseTo(1, 1);
  });
  it('that is a mesh passes as the cylinder it is the mesh of', () => {
    const ring = (z: number) =>
      Array.from({ length: 96 }, (_, i): [number, number, number] => [
        10 * Math.cos((i * Math.PI) / 48),
        10 * Math.sin((i * Math.PI) / 48),
        z,
      ]);
    const places = Array.from({ length: 21 }, (_, k) => ring(5 * k)).flat();
    const [mesh, round] = [
      into({ kind: 'mesh', name: 'rod.stl', places, height: 100 }),
      into({ kind: 'cylinder', diameter: 20, height: 100 }),
    ];
    expect(mesh.passes).toBe(true);
    expect([mesh.rest, mesh.above, mesh.least.gap]).toEqual([round.rest, round.above, round.least.gap].map((v) => expect.closeTo(v, 1)));
    const wide = places.map(([x, y, z]): [number, number, number] => [1.5 * x, 1.5 * y, z]);
    expect(into({ kind: 'mesh', name: 'bar.stl', places: wide, height: 100 }).passes).toBe(false);
  });
  it('that is a box passes by its diagonal, not by its sides', () => {
    expect(into({ kind: 'box', width: 16, depth: 16, height: 30 }).rest).toBeLessThan(0.05);
    // 18 by 18 is 25.5 across its corners, more than 24.
    const f = into({ kind: 'box', width: 18, depth: 18, height: 30 });
    expect(f.rest).toBeGreaterThan(80);
  });
});
