/** Faces beside their own images, picks put together, and cages that are symmetric only in part. */
import { describe, expect, it } from 'vitest';
import { corners, does, edges, faces, facing, refuses } from '../../../../tests/support/cages';
import { minus } from '../../geometry/vectors';
import type { Cage, P3 } from '../cage';
import { boxCage, faceArea, tubeCage } from '../starts';
import { borders, combined, countOf, goingOn } from './select';
import { aloneIn, asymmetry, partnersOf, type Symmetry, snapped } from './symmetry';

describe('what touches its own images', () => {
  const eight: Symmetry = { mirror: [], fold: 8 };
  const tube = tubeCage(48, 96, 8, 6);
  const exact = (c: Cage, s: Symmetry): Cage => {
    const p = partnersOf(c, s);
    if (!p.ok) throw new Error(p.error.what);
    return snapped(c, p.value);
  };
  const cage = exact(tube, eight);
  const column = facing(cage, [Math.cos(Math.PI / 8), Math.sin(Math.PI / 8), 0]);

  it('is drawn out column by column where each image is for itself, and as one sleeve where not', () => {
    expect(column).toHaveLength(5);
    const apart = does(cage, faces(column), { do: 'extrude', distance: 6, as: 'apart' }, eight);
    // Every column is drawn out between walls of its own: two long ones and two ends.
    expect(countOf(apart.picked)).toBe(40);
    expect(apart.cage.faces.length).toBe(40 + 8 * (2 * 5 + 2));
    expect(apart.cage.vertices.length).toBe(48 + 8 * 12);
    expect(asymmetry(apart.cage, eight)).toBeLessThan(1e-12);
    // Each panel keeps its width and stands 6 mm out (area of a panel: side of an octagon times height).
    const side = 2 * 48 * Math.sin(Math.PI / 8);
    const panel = (f: number): number => faceArea(corners(apart.cage, f));
    expect(apart.picked.kind === 'faces' && apart.picked.faces.reduce((s, f) => s + panel(f), 0)).toBeCloseTo(8 * side * 96, 6);
    const one = does(cage, faces(column), { do: 'extrude', distance: 6, as: 'one' }, eight);
    expect(one.cage.faces.length).toBe(40 + 16);
  });
  it('is set in column by column: strips between them stay, twice as wide as the inset', () => {
    const made = does(cage, faces(column), { do: 'inset', distance: 5, as: 'apart' }, eight);
    const side = 2 * 48 * Math.sin(Math.PI / 8);
    expect(made.picked.kind === 'faces' && made.picked.faces.reduce((s, f) => s + faceArea(corners(made.cage, f)), 0)).toBeCloseTo(
      8 * (side - 10) * 86,
      6,
    );
    const ridged = does(made.cage, made.picked, { do: 'move-normal', distance: -8 }, eight);
    expect(asymmetry(ridged.cage, eight)).toBeLessThan(1e-12);
  });
  it('goes along a direction that is turned with each image', () => {
    const out: P3 = [Math.cos(Math.PI / 8), Math.sin(Math.PI / 8), 0];
    const by = out.map((x) => 7 * x) as unknown as P3;
    const along = does(cage, faces(column), { do: 'extrude-by', by, as: 'apart' }, eight).cage;
    const normal = does(cage, faces(column), { do: 'extrude', distance: 7, as: 'apart' }, eight).cage;
    expect(along.faces).toEqual(normal.faces);
    along.vertices.forEach((p, v) => {
      expect(Math.hypot(...minus(p, normal.vertices[v]!))).toBeLessThan(1e-9);
    });
  });
  it('keeps whole what was picked over more than one image, and a column over its own middle plane', () => {
    const sixteen = exact(tubeCage(48, 96, 16, 3), eight);
    const two = [0, 1].flatMap((k) => {
      const a = (2 * Math.PI * (k + 0.5)) / 16;
      return facing(sixteen, [Math.cos(a), Math.sin(a), 0]);
    });
    const made = does(sixteen, faces(two), { do: 'extrude', distance: 2, as: 'apart' }, eight);
    expect(made.cage.faces.length).toBe(32 + 8 * (2 * 2 + 2 * 2));
    const both: Symmetry = { mirror: ['x'], fold: 8 };
    const mirrored = does(exact(sixteen, both), faces(two), { do: 'extrude', distance: 2, as: 'apart' }, both);
    expect(mirrored.cage.faces.length).toBe(32 + 8 * (2 * 2 + 2 * 2));
  });
  it('meets its mirror image as one, or by itself', () => {
    const box = boxCage([60, 40, 30], [2, 1, 1]);
    const x: Symmetry = { mirror: ['x'], fold: 1 };
    const top = facing(box, [0, 0, 1]);
    expect(does(box, faces(top.slice(0, 1)), { do: 'extrude', distance: 5, as: 'one' }, x).cage.faces.length).toBe(box.faces.length + 6);
    // By themselves they would have two walls in one place.
    expect(refuses(box, faces(top.slice(0, 1)), { do: 'extrude', distance: 5, as: 'apart' }, x)).toContain('inset them first');
    const narrow = does(box, faces(top.slice(0, 1)), { do: 'inset', distance: 4, as: 'apart' }, x);
    expect(does(narrow.cage, narrow.picked, { do: 'extrude', distance: 5, as: 'apart' }, x).cage.faces.length).toBe(box.faces.length + 16);
  });
});

describe('picks', () => {
  it('are replaced, added to, narrowed or toggled by what is found', () => {
    const [own, found] = [faces([1, 2, 3]), faces([3, 4])];
    expect(combined('replace', own, found)).toEqual(found);
    expect(combined('add', own, found)).toEqual(faces([1, 2, 3, 4]));
    expect(combined('narrow', own, found)).toEqual(faces([3]));
    expect(combined('toggle', own, found)).toEqual(faces([1, 2, 4]));
    // An edge is the same from either end; of another kind there is nothing to add to.
    expect(combined('narrow', edges([5, 1]), edges([1, 5], [2, 3]))).toEqual(edges([5, 1]));
    expect(combined('add', own, edges([0, 1]))).toEqual(edges([0, 1]));
  });
  it('go on over the side of a face that was nearest: up the column, or round the row', () => {
    const tube = tubeCage(30, 60, 8, 6);
    const f = 17;
    const [a, b, c] = tube.faces[f]! as [number, number, number, number];
    const level = (v: number, w: number): boolean => tube.vertices[v]![2] === tube.vertices[w]![2];
    const [side, upright] = level(a, b)
      ? ([
          [a, b],
          [b, c],
        ] as const)
      : ([
          [b, c],
          [a, b],
        ] as const);
    expect(countOf(goingOn(tube, faces([f]), side))).toBe(5);
    expect(countOf(goingOn(tube, faces([f]), upright))).toBe(8);
    expect(countOf(goingOn(tube, edges(side), undefined))).toBe(8);
  });
});

describe('a cage that is symmetric only in part', () => {
  const partly: Symmetry = { mirror: [], fold: 8, partly: true };
  const eight: Symmetry = { mirror: [], fold: 8 };
  /** A closed tube with a stem whose end is bent aside. */
  const bent = (() => {
    const tube = tubeCage(48, 96, 8, 6);
    const closed = does(tube, borders(tube), { do: 'fill', way: 'one' }).cage;
    const top = facing(closed, [0, 0, 1]);
    const inner = does(closed, faces(top), { do: 'inset', distance: 30, as: 'one' });
    const stem = does(inner.cage, inner.picked, { do: 'extrude', distance: 25, as: 'one' });
    const long = does(stem.cage, stem.picked, { do: 'extrude', distance: 25, as: 'one' });
    return does(long.cage, long.picked, { do: 'rotate', axis: [0, 1, 0], angle: 0.6 }).cage;
  })();
  const column = (c: Cage): number[] =>
    facing(c, [Math.cos(Math.PI / 8), Math.sin(Math.PI / 8), 0]).filter((f) => corners(c, f).every((p) => p[2] < 97));

  it('is refused as a whole, and known to be so but for the bent end', () => {
    expect(refuses(bent, faces(column(bent)), { do: 'extrude', distance: 2, as: 'apart' }, eight)).toMatch(/is not the same 8 times round/);
    const p = partnersOf(bent, partly);
    if (!p.ok) throw new Error(p.error.what);
    // The eight vertices that were turned aside, and no others.
    expect(aloneIn(p.value)).toHaveLength(8);
    expect(aloneIn(p.value).every((v) => bent.vertices[v]![2] > 122)).toBe(true);
  });
  it('has its columns pulled in alike while the bent end stays to the last digit', () => {
    const ends = bent.vertices.filter((p) => p[2] > 122);
    const set = does(bent, faces(column(bent)), { do: 'inset', distance: 5, as: 'apart' }, partly);
    const pulled = does(set.cage, set.picked, { do: 'move-normal', distance: -8 }, partly).cage;
    expect(pulled.faces.length).toBe(bent.faces.length + 8 * 12);
    expect(pulled.vertices.filter((p) => p[2] > 122)).toEqual(ends);
    expect(asymmetry(pulled, partly)).toBeLessThan(1e-12);
  });
  it('moves what stands alone by itself', () => {
    const ends = bent.vertices.flatMap((p, v) => (p[2] > 122 ? [v] : []));
    const moved = does(bent, { kind: 'vertices', vertices: ends.slice(0, 1) }, { do: 'move', by: [1, 2, 3] }, partly).cage;
    moved.vertices.forEach((p, v) => {
      expect(Math.hypot(...minus(p, bent.vertices[v]!))).toBeCloseTo(v === ends[0] ? Math.sqrt(14) : 0, 9);
    });
  });
  it('has an opening without an image filled once', () => {
    const open = { ...bent, faces: bent.faces.filter((_, f) => !corners(bent, f).every((p) => p[2] > 122)) };
    const filled = does(open, borders(open), { do: 'fill', way: 'fan' }, partly);
    expect(filled.cage.faces.length).toBe(open.faces.length + 8);
    expect(borders(filled.cage)).toEqual({ kind: 'edges', edges: [] });
  });
});
