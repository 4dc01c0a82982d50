/** What holds for every cage: the limit moves with it, stays within it, keeps its symmetry, and joins its patches without a gap. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { triple } from '../geometry/vectors';
import { surfaceAt } from '../surfaces/space';
import { type Cage, netOf, type P3 } from './cage';
import { limitAt, limitMesh, limitOn, vertexLimits } from './limit';
import { patchesOf } from './patches';
import { refined } from './refine';
import { ballCage, boxCage, gridCage, torusCage } from './starts';

const net = (c: Cage) => {
  const r = netOf(c);
  if (!r.ok) throw new Error(r.error.what);
  return r.value;
};
const share = fc.double({ min: 0, max: 1, noNaN: true });
const shift = fc.double({ min: -0.18, max: 0.18, noNaN: true });

/** A box, a ball or a ring whose vertices are pushed about a little, some of its edges creased. */
const cages = fc
  .record({
    start: fc.constantFrom(boxCage([2, 2, 2], [2, 1, 1]), ballCage(1, 2), torusCage(1.5, 0.5, 4, 6)),
    push: fc.array(fc.tuple(shift, shift, shift), { minLength: 60, maxLength: 60 }),
    creased: fc.array(fc.tuple(fc.nat(), fc.constantFrom(0.4, 1, 1.7, 2, 10)), { maxLength: 6 }),
  })
  .map(({ start, push, creased }): Cage => {
    const vertices = start.vertices.map((v, i): P3 => [v[0] + push[i % 60]![0], v[1] + push[i % 60]![1], v[2] + push[i % 60]![2]]);
    const creases = creased.map(([i, w]): [number, number, number] => {
      const face = start.faces[i % start.faces.length]!;
      return [face[0]!, face[1]!, w];
    });
    return { ...start, vertices, creases };
  });

describe('the limit of a cage', () => {
  it('moves as the cage is moved, stretched and sheared', () => {
    fc.assert(
      fc.property(cages, fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 12, maxLength: 12 }), (cage, m) => {
        const map = ([x, y, z]: P3): P3 => triple((k) => m[4 * k]! * x + m[4 * k + 1]! * y + m[4 * k + 2]! * z + m[4 * k + 3]!);
        const [a, b] = [vertexLimits(net(cage)).places, vertexLimits(net({ ...cage, vertices: cage.vertices.map(map) })).places];
        for (let v = 0; v < a.length; v += 3) {
          const moved = map([a[v]!, a[v + 1]!, a[v + 2]!]);
          for (let k = 0; k < 3; k++) expect(Math.abs(b[v + k]! - moved[k]!)).toBeLessThan(1e-10);
        }
      }),
      { numRuns: 60 },
    );
  });
  it('lies within the bounds of the cage, and does not change by refining', () => {
    fc.assert(
      fc.property(cages, (cage) => {
        const own = net(cage);
        const mesh = limitMesh(own, 2);
        for (let k = 0; k < 3; k++) {
          const all = cage.vertices.map((v) => v[k]!);
          const [low, high] = [Math.min(...all) - 1e-12, Math.max(...all) + 1e-12];
          for (let i = k; i < mesh.places.length; i += 3) expect(mesh.places[i]! >= low && mesh.places[i]! <= high).toBe(true);
        }
        const [a, b] = [vertexLimits(own).places, vertexLimits(refined(own, 2)).places];
        for (let i = 0; i < a.length; i++) expect(Math.abs(a[i]! - b[i]!)).toBeLessThan(1e-10);
      }),
      { numRuns: 60 },
    );
  });
  it('meets itself over every edge of two faces', () => {
    fc.assert(
      fc.property(cages, share, fc.nat(), (cage, s, pick) => {
        const n = net(cage);
        const e = pick % (n.ends.length / 2);
        const [f, g] = [n.sides[2 * e]!, n.sides[2 * e + 1]!];
        const corner = (face: number): number => [0, 1, 2, 3].find((k) => n.edge[n.start[face]! + k] === e)!;
        // From the first end on the one face, and from the other end on the other.
        const half = s / 2;
        const a = limitOn(n, f, corner(f), 2 * half, 0).point;
        const b = limitOn(n, g, (corner(g) + 1) % 4, 0, 2 * half).point;
        const first = n.vertex[n.start[f]! + corner(f)];
        const second = n.vertex[n.start[g]! + ((corner(g) + 1) % 4)];
        expect(first).toBe(second);
        for (let k = 0; k < 3; k++) expect(Math.abs(a[k]! - b[k]!)).toBeLessThan(1e-7);
      }),
      { numRuns: 80 },
    );
  });
  it('keeps the mirror image of a cage to 1e-12', () => {
    fc.assert(
      fc.property(cages, (cage) => {
        const flipped: Cage = {
          ...cage,
          vertices: cage.vertices.map(([x, y, z]): P3 => [-x, y, z]),
          faces: cage.faces.map((f) => f.toReversed()),
        };
        const [a, b] = [vertexLimits(net(cage)).places, vertexLimits(net(flipped)).places];
        for (let v = 0; v < a.length; v += 3) {
          expect(Math.abs(a[v]! + b[v]!)).toBeLessThan(1e-12);
          expect(Math.abs(a[v + 1]! - b[v + 1]!)).toBeLessThan(1e-12);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('the patches of a cage', () => {
  it('meet without a gap: every border is shared to rounding', () => {
    fc.assert(
      fc.property(cages, (cage) => {
        const { patches } = patchesOf(net({ ...cage, creases: cage.creases.filter(([, , w]) => w >= 10 || w === 0) }), 3);
        // Corners of patches stand in groups: each is met by another patch, or by the same one where it closes.
        const corners = patches.flatMap(({ surface: s }) => {
          const [u, v] = [s.u.knots, s.v.knots];
          const ends = [
            [u[0]!, v[0]!],
            [u[u.length - 1]!, v[0]!],
            [u[0]!, v[v.length - 1]!],
            [u[u.length - 1]!, v[v.length - 1]!],
          ] as const;
          return ends.map(([a, b]) => surfaceAt(s, a, b));
        });
        for (const [i, p] of corners.entries())
          expect(corners.some((q, j) => j !== i && Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) < 1e-9)).toBe(true);
      }),
      { numRuns: 25 },
    );
  });
});

describe('where a lasting crease ends', () => {
  it('the normal is that of the skin right beside', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(shift, shift, shift), { minLength: 60, maxLength: 60 }), fc.nat(3), (push, way) => {
        const sheet = gridCage(4, 4, 4, 4);
        const at = (i: number, j: number): number => 5 * j + i;
        const vertices = sheet.vertices.map((p, i): P3 => [p[0] + push[i]![0], p[1] + push[i]![1], 3 * push[i]![2]]);
        const line = [
          [at(2, 2), at(3, 2), at(4, 2)],
          [at(2, 2), at(1, 2), at(0, 2)],
          [at(2, 2), at(2, 3), at(2, 4)],
          [at(2, 2), at(2, 1), at(2, 0)],
        ][way]!;
        const creases: [number, number, number][] = [
          [line[0]!, line[1]!, 10],
          [line[1]!, line[2]!, 10],
        ];
        const own = net({ ...sheet, vertices, creases });
        const { normals } = vertexLimits(own);
        const v = at(2, 2);
        const normal = [0, 1, 2].map((k) => normals[3 * v + k]!);
        const turn = (n: readonly number[]): number =>
          Math.acos(
            Math.min(
              1,
              n.reduce((s, x, k) => s + x * normal[k]!, 0),
            ),
          );
        // Faces about the vertex: the nearer a place the nearer its normal.
        const off = (s: number): number => {
          let most = 0;
          for (let f = 0; f < 16; f++) {
            const k = sheet.faces[f]!.indexOf(v);
            if (k < 0) continue;
            const uv = (
              [
                [s, s],
                [1 - s, s],
                [1 - s, 1 - s],
                [s, 1 - s],
              ] as const
            )[k]!;
            most = Math.max(most, turn(limitAt(own, f, uv[0], uv[1]).normal));
          }
          return most;
        };
        expect(off(2 ** -9)).toBeLessThan(0.02);
        expect(off(2 ** -9)).toBeLessThan(Math.max(1e-4, off(2 ** -3)));
      }),
      { numRuns: 40 },
    );
  });
});
