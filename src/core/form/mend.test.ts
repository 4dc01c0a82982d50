/** Planted faults: each is named at its place, mended alone or all at once, and what is sound is left alone. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { distance } from '../geometry/vectors';
import type { Cage, P3 } from './cage';
import { type FindingKind, findings } from './doctor';
import { NO_SYMMETRY } from './edit/symmetry';
import { bodyMovedBy, mended, mendedAll, type Weights } from './mend';
import { boxCage, gridCage, tubeCage } from './starts';

const setting: Weights<number> = { symmetry: NO_SYMMETRY, weigh: (w) => w, written: (w) => w };
const of = (cage: Cage, kind: FindingKind, panel = false) => findings(cage, panel).filter((f) => f.kind === kind);
const grave = (cage: Cage, panel = false): string[] =>
  findings(cage, panel)
    .filter((f) => f.grave)
    .map((f) => f.kind);
/** A sheet cut open along inner edges of a row: the vertices between its ends are there twice, so far apart. */
function slit(across: number, along: number, row: number, from: number, to: number, gap: number): Cage {
  const sheet = gridCage(10 * across, 10 * along, across, along);
  const at = (i: number, j: number): number => j * (across + 1) + i;
  const vertices = [...sheet.vertices];
  const twin = new Map<number, number>();
  for (let i = from + 1; i < to; i++) {
    const v = at(i, row);
    twin.set(v, vertices.length);
    const [x, y, z] = vertices[v]!;
    vertices.push([x, y + gap, z]);
  }
  // The faces beyond the row take the twins.
  const faces = sheet.faces.map((f) => (f.every((v) => v >= at(0, row)) ? f.map((v) => twin.get(v) ?? v) : f));
  return { ...sheet, vertices, faces };
}
const fin = (height: number, width: number): Cage => {
  const sheet = gridCage(80, 80, 8, 8);
  // One row of vertices raised, with neighbours drawn close to it.
  const vertices = sheet.vertices.map(
    ([x, y, z]): P3 =>
      Math.abs(x) < 1 ? [x, y, z + height] : Math.abs(Math.abs(x) - 10) < 1 ? [(Math.sign(x) * width) / 2, y, z] : [x, y, z],
  );
  return { ...sheet, vertices };
};

describe('planted faults', () => {
  it('slits are found with their width, and welded shut with nothing else moved', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 6, max: 9 }),
        fc.integer({ min: 4, max: 7 }),
        fc.double({ min: 0.02, max: 1, noNaN: true }),
        fc.nat(),
        fc.nat(),
        (across, along, gap, r, k) => {
          const row = 1 + (r % (along - 1));
          const from = 1 + (k % 2);
          const to = from + 3 + (k % 3);
          const cage = slit(across, along, row, from, Math.min(to, across - 1), gap);
          const found = of(cage, 'slit', true);
          expect(found).toHaveLength(1);
          expect(Number(/up to ([\d.]+) mm/.exec(found[0]!.what)![1])).toBeCloseTo(gap, gap < 0.1 ? 3 : 2);
          expect(grave(cage, true)).toEqual(['slit']);
          const made = mended(cage, found[0]!.repair!, setting);
          if (!made.ok) throw new Error(made.error);
          expect(grave(made.value.cage, true)).toEqual([]);
          expect(made.value.cage.vertices.length).toBe((across + 1) * (along + 1));
          const whole = gridCage(10 * across, 10 * along, across, along);
          for (const p of made.value.cage.vertices) {
            const off = Math.min(...whole.vertices.map((q) => distance(p, q)));
            expect(off < 1e-9 || off <= gap).toBe(true);
          }
        },
      ),
      { numRuns: 25 },
    );
  });
  it('a skin that passes through itself is named by its faces, with how long', () => {
    fc.assert(
      fc.property(fc.double({ min: 1.2, max: 2.5, noNaN: true }), fc.integer({ min: 0, max: 3 }), (over, k) => {
        // A wall of a box pushed through the one across.
        const box = boxCage([40, 40, 40], [4, 4, 4]);
        const turn = (p: P3): P3 =>
          [
            [p[0], p[1]],
            [-p[1], p[0]],
            [-p[0], -p[1]],
            [p[1], -p[0]],
          ][k]!.concat(p[2]) as unknown as P3;
        const pushed = box.vertices.map((p): P3 => {
          const [x, y, z] = turn(p);
          const inner = Math.abs(y) < 15 && z > 5 && z < 35;
          return turnBack(k, x > 19 && inner ? [x - 40 * over, y, z] : [x, y, z]);
        });
        expect(of({ ...box, vertices: pushed }, 'crossing').length).toBeGreaterThan(0);
      }),
      { numRuns: 15 },
    );
  });
});
const turnBack = (k: number, p: P3): P3 =>
  [
    [p[0], p[1]],
    [p[1], -p[0]],
    [-p[0], -p[1]],
    [-p[1], p[0]],
  ][k]!.concat(p[2]) as unknown as P3;

describe('what is meant', () => {
  it('grooves and fins however narrow are no faults while the skin does not cross', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 2, max: 40, noNaN: true }),
        fc.double({ min: 1, max: 12, noNaN: true }),
        fc.boolean(),
        (height, width, down) => {
          expect(grave(fin(down ? -height : height, width), true)).toEqual([]);
        },
      ),
      { numRuns: 25 },
    );
  });
  it('ridges round a loop that repeat are not out of round; one place pushed out and an oval are', () => {
    const tube = tubeCage(30, 80, 16, 5);
    const shaped = (by: (i: number) => number): Cage => ({
      ...tube,
      vertices: tube.vertices.map(([x, y, z], v): P3 => (z > 30 && z < 50 ? [x * by(v % 16), y * by(v % 16), z] : [x, y, z])),
    });
    for (const ridge of [0.99, 0.97]) {
      expect(
        of(
          shaped((i) => (i % 2 === 0 ? 1 : ridge)),
          'out-of-round',
        ),
      ).toEqual([]);
      expect(
        of(
          shaped((i) => (i % 4 === 0 ? 1 : ridge)),
          'out-of-round',
        ),
      ).toEqual([]);
      expect(
        of(
          shaped((i) => (i === 3 ? ridge : 1)),
          'out-of-round',
        ).length,
      ).toBeGreaterThan(0);
      expect(
        of(
          shaped((i) => 1 + (1 - ridge) * Math.cos((4 * Math.PI * i) / 16)),
          'out-of-round',
        ).length,
      ).toBeGreaterThan(0);
    }
  });
  it('borders of a panel are', () => {
    const bent = { ...gridCage(80, 60, 4, 3), vertices: gridCage(80, 60, 4, 3).vertices.map(([x, y]): P3 => [x, y, 0.01 * x * x]) };
    expect(findings(bent, true)).toEqual([]);
    expect(grave(bent)).toEqual(['not-flat']);
  });
});

describe('mending all of a kind', () => {
  it('takes vertices out of the middle of edges, one after another, as one change', () => {
    const sheet = gridCage(60, 40, 6, 4);
    const inner = sheet.faces
      .flatMap((f) => f.map((v, i) => [v, f[(i + 1) % f.length]!] as const))
      .filter(([a, b]) => a < b && sheet.faces.filter((f) => f.includes(a) && f.includes(b)).length === 2);
    const split = inner.filter((_, i) => i % 5 === 0);
    let cage: Cage = sheet;
    for (const [a, b] of split) {
      const v = cage.vertices.length;
      const [p, q] = [cage.vertices[a]!, cage.vertices[b]!];
      cage = {
        ...cage,
        vertices: [...cage.vertices, [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, 0]],
        faces: cage.faces.map((f) => {
          const i = f.findIndex((w, j) => (w === a && f[(j + 1) % f.length] === b) || (w === b && f[(j + 1) % f.length] === a));
          return i < 0 ? f : [...f.slice(0, i + 1), v, ...f.slice(i + 1)];
        }),
      };
    }
    expect(of(cage, 'joint', true)).toHaveLength(split.length);
    const made = mendedAll(cage, 'joint', setting, true);
    expect(made).toMatchObject({ done: split.length, left: 0 });
    expect(made.cage.faces.length).toBe(sheet.faces.length);
    expect(findings(made.cage, true)).toEqual([]);
    expect(bodyMovedBy(sheet, made.cage)).toBeLessThan(1e-9);
  });
  it('says how far the body goes', () => {
    const tube = tubeCage(30, 80, 16, 5);
    const raised = { ...tube, vertices: tube.vertices.map(([x, y, z]): P3 => [x, y, z + 3]) };
    // Everything 3 mm up: the borders are 3 mm off, the sides stay on themselves.
    expect(bodyMovedBy(tube, raised)).toBeCloseTo(3, 6);
    expect(bodyMovedBy(tube, tube)).toBeLessThan(1e-9);
  });
});
