/** Rings, starts, patches and the layout's findings, against closed forms and against the limit itself. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { triple } from '../geometry/vectors';
import { flowThrough } from '../surfaces/flow';
import { type SplineSpace, surfaceAt } from '../surfaces/space';
import { type Cage, faceCount, netOf } from './cage';
import { findings } from './doctor';
import { limitAt, limitMesh, vertexLimits } from './limit';
import { type FormPatch, patchesOf } from './patches';
import {
  bentSeries,
  type RingForm,
  ringCage,
  ringCageOnLimit,
  ringProblem,
  ringsOf,
  series,
  seriesAlong,
  twists,
  withRingCount,
} from './rings';
import { ballCage, boxCage, cageFromObj, drawnUpCage, faceArea, gridCage, torusCage, tubeCage, turnedCage } from './starts';

const net = (c: Cage) => {
  const r = netOf(c);
  if (!r.ok) throw new Error(r.error.what);
  return r.value;
};
const DEGREE = Math.PI / 180;
const vase = (more: Partial<RingForm> = {}): RingForm => ({
  sides: 12,
  ridge: 0,
  rows: [26, 34, 36, 30, 28].map((radius, i) => ({ height: 25 * i, radius, twist: i === 0 ? 0 : (40 - 5 * i) * DEGREE, crease: 0 })),
  bottom: 'round',
  top: 'flat',
  ...more,
});

/** Volume enclosed by patches that close, mm³. */
const volumeWithin = (patches: readonly FormPatch[]): number => {
  const knots = ({ knots: k }: SplineSpace): number[] => [k[0]!, k[0]!, k[0]!, ...k, k.at(-1)!, k.at(-1)!, k.at(-1)!];
  return patches.reduce(
    (v, { surface: f }) => v + flowThrough({ degrees: [3, 3], knots: [knots(f.u), knots(f.v)], poles: f.poles }).volume,
    0,
  );
};

describe('a form by rings', () => {
  it('measures on the body what its table says, ring by ring, ridges and twist and all', () => {
    for (const form of [vase(), vase({ ridge: 3, bottom: 'flat' }), vase({ top: 'round', sides: 16 })]) {
      const cage = ringCageOnLimit(form);
      if (!cage.ok) throw new Error(cage.error);
      const { places } = vertexLimits(net(cage.value));
      const turned = twists(form.rows);
      for (const [j, r] of form.rows.entries())
        for (let i = 0; i < form.sides; i++) {
          const v = 3 * (j * form.sides + i);
          const radius = i % 2 === 1 ? r.radius - form.ridge : r.radius;
          expect(Math.hypot(places[v]!, places[v + 1]!)).toBeCloseTo(radius, 6);
          expect(places[v + 2]!).toBeCloseTo(r.height, 6);
          const off = Math.atan2(places[v + 1]!, places[v]!) - ((2 * Math.PI * i) / form.sides + turned[j]!);
          expect(Math.cos(off)).toBeCloseTo(1, 9);
        }
    }
  });
  it('has series over a middle value and along a drawn line', () => {
    expect(bentSeries(5, 30, 42, 30)).toEqual([30, 39, 42, 39, 30]);
    expect(bentSeries(3, 1, 7, 5)).toEqual([1, 7, 5]);
    const line = [
      { x: 0, y: 0 },
      { x: 20, y: 0 },
      { x: 40, y: 40 },
      { x: 30, y: 60 },
      { x: 0, y: 60 },
    ];
    expect(seriesAlong(line, [0, 20, 40, 50, 60])).toEqual({ ok: true, value: [20, 30, 40, 35, 30] });
    expect(seriesAlong(line, [61])).toEqual({ ok: false, error: 'the line does not reach the height of 61 mm' });
  });
  it('is read back off a cage that has it, whatever its vertices are numbered', () => {
    const form: RingForm = {
      sides: 12,
      ridge: 2,
      rows: [0, 1, 2, 3, 4].map((i) => ({
        height: 20 * i,
        radius: 30 + 3 * i,
        twist: i === 0 ? 0 : 0.2 - 0.03 * i,
        crease: i === 2 ? 2 : 0,
      })),
      bottom: 'flat',
      top: 'flat',
    };
    const cage = ringCage(form);
    // Numbered anew, so that nothing depends on how it was made.
    const order = cage.vertices.map((_, v) => (v * 7 + 3) % cage.vertices.length);
    const vertices: (typeof cage.vertices)[number][] = [];
    for (const [v, to] of order.entries()) vertices[to] = cage.vertices[v]!;
    const again = ringsOf({
      vertices,
      faces: cage.faces.map((f) => f.map((v) => order[v]!)).reverse(),
      creases: cage.creases.map(([a, b, w]) => [order[a]!, order[b]!, w] as const),
      corners: [],
    });
    if (!again.ok) throw new Error(again.error);
    expect(again.value.off).toBeLessThan(1e-9);
    expect(again.value.form.sides).toBe(12);
    expect(again.value.form.ridge).toBeCloseTo(2, 9);
    for (const [i, r] of again.value.form.rows.entries())
      for (const k of ['height', 'radius', 'crease'] as const) expect(r[k]).toBeCloseTo(form.rows[i]![k], 9);
    expect(twists(again.value.form.rows).at(-1)!).toBeCloseTo(twists(form.rows).at(-1)!, 9);
    // The same body comes of it.
    const [a, b] = [ringCage(again.value.form), cage];
    for (const p of b.vertices)
      expect(Math.min(...a.vertices.map((q) => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])))).toBeLessThan(1e-9);
    expect(ringsOf(boxCage([20, 20, 20], [2, 2, 2]))).toMatchObject({ ok: false });
  });
  it('sums its twists: 40°, 35°, 30°, 25°, 20°, 15° are 165°', () => {
    const steps = series(6, 40, -5);
    expect(steps).toEqual([40, 35, 30, 25, 20, 15]);
    const rows = [0, ...steps].map((t, i) => ({ height: 10 * i, radius: 20, twist: t * DEGREE, crease: 0 }));
    expect(twists(rows).at(-1)! / DEGREE).toBeCloseTo(165, 9);
  });
  it('keeps its shape with another number of rings', () => {
    const { rows } = vase();
    const more = withRingCount(rows, 9);
    expect(more).toHaveLength(9);
    for (const [i, r] of rows.entries()) {
      expect(more[2 * i]!.height).toBeCloseTo(r.height, 9);
      expect(more[2 * i]!.radius).toBeCloseTo(r.radius, 9);
      expect(twists(more)[2 * i]!).toBeCloseTo(twists(rows)[i]!, 9);
    }
    const back = withRingCount(more, 5);
    for (const [i, r] of rows.entries()) expect(back[i]!.radius).toBeCloseTo(r.radius, 6);
  });
  it('says in words what stands against it', () => {
    expect(ringProblem(vase())).toBeNull();
    expect(ringProblem(vase({ sides: 2 }))).toMatch(/3 to/);
    expect(ringProblem(vase({ sides: 10 }))).toMatch(/divided by four/);
    expect(ringProblem(vase({ sides: 9, bottom: 'flat', ridge: 1 }))).toMatch(/even number/);
    expect(ringProblem(vase({ ridge: 40 }))).toMatch(/ridges/);
    expect(ringProblem(vase({ rows: vase().rows.slice(0, 1) }))).toMatch(/rings/);
    expect(ringProblem(vase({ rows: vase().rows.toReversed() }))).toMatch(/stand over/);
    expect(ringProblem(vase({ rows: vase().rows.map((r) => ({ ...r, radius: -1 })) }))).toMatch(/more than 0/);
  });
  it('is a cage of quads without a pole, closed where both ends are round', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 6 }),
        fc.integer({ min: 2, max: 8 }),
        fc.double({ min: -0.5, max: 0.5, noNaN: true }),
        (q, count, twist) => {
          const rows = Array.from({ length: count }, (_, i) => ({ height: 20 * i, radius: 30 + 3 * (i % 3), twist, crease: 0 }));
          const cage = ringCage({ sides: 4 * q, ridge: 0, rows, bottom: 'round', top: 'round' });
          const n = net(cage);
          expect(cage.faces.every((f) => f.length === 4)).toBe(true);
          expect([...n.sides].every((f) => f >= 0)).toBe(true);
          // Euler: a ball.
          expect(cage.vertices.length - n.ends.length / 2 + faceCount(n)).toBe(2);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('patches', () => {
  const places = [0, 0.17, 0.5, 0.83, 1];
  const cornerOf = (c: number, x: number, y: number): [number, number] =>
    c === 0 ? [x, y] : c === 1 ? [1 - y, x] : c === 2 ? [1 - x, 1 - y] : [y, 1 - x];
  it.each([
    ['a ring', torusCage(40, 15, 8, 12), 4],
    ['a tube', tubeCage(30, 80, 8, 5), 2],
    ['a sheet with its corners', gridCage(80, 60, 4, 3), 1],
  ] as const)('of %s are exact to 1e-9 of its size, and few', async (_, cage, count) => {
    const n = net(cage);
    const skin = patchesOf(n, 4);
    expect(skin.patches).toHaveLength(count);
    expect(skin.deviation.value / 100).toBeLessThan(1e-9);
    // Every patch passes through the limit under the middle of each of its faces, wherever that lies on it.
    const { regionsOf } = await import('./regions');
    for (const [r, region] of regionsOf(n).entries())
      region.cells.forEach((row, j) => {
        row.forEach((p, i) => {
          for (const x of places)
            for (const y of places) {
              const exact = limitAt(n, p.face, ...cornerOf(p.corner, x, y)).point;
              const q = surfaceAt(skin.patches[r]!.surface, i + x, j + y);
              expect(Math.hypot(q[0] - exact[0], q[1] - exact[1], q[2] - exact[2]) / 100).toBeLessThan(1e-9);
            }
        });
      });
  });
  it('of cages with at most eight irregular vertices are sixteen or fewer, and what they miss is told', () => {
    for (const cage of [boxCage([80, 60, 50], [3, 2, 2]), ballCage(35, 3), ringCage(vase()), ringCage(vase({ top: 'round' }))]) {
      const skin = patchesOf(net(cage), 4);
      expect(skin.irregular).toBeLessThanOrEqual(8);
      expect(skin.patches.length).toBeLessThanOrEqual(16);
      expect(skin.deviation.value).toBeGreaterThan(0);
      expect(skin.deviation.value).toBeLessThan(0.07);
      // Finer levels come nearer.
      expect(patchesOf(net(cage), 6).deviation.value).toBeLessThan(skin.deviation.value / 3);
    }
  });
  it('enclose the volume of the limit: of a ring of many faces that of Pappus', () => {
    const n = net(torusCage(40, 15, 48, 96));
    // The limit of a fine cage is a little inside its circle: by 1 − cos(2π/n) of a third.
    const shrunk = (k: number): number => (2 + Math.cos((2 * Math.PI) / k)) / 3;
    const [R, r] = [40 * shrunk(96), 15 * shrunk(48)];
    expect(volumeWithin(patchesOf(n, 3).patches) / (2 * Math.PI ** 2 * R * r * r)).toBeCloseTo(1, 2);
    const box = net(boxCage([80, 60, 50], [3, 2, 2]));
    const mesh = limitMesh(box, 5);
    let volume = 0;
    for (let t = 0; t < mesh.indices.length; t += 3) {
      const [a, b, c] = triple((k) => 3 * mesh.indices[t + k]!);
      const p = mesh.places;
      volume +=
        (p[a]! * (p[b + 1]! * p[c + 2]! - p[b + 2]! * p[c + 1]!) +
          p[a + 1]! * (p[b + 2]! * p[c]! - p[b]! * p[c + 2]!) +
          p[a + 2]! * (p[b]! * p[c + 1]! - p[b + 1]! * p[c]!)) /
        6;
    }
    expect(volumeWithin(patchesOf(box, 5).patches) / volume).toBeCloseTo(1, 3);
  });
});

describe('starts', () => {
  it('are closed or open as they should be, and look outwards', () => {
    for (const [cage, closed] of [
      [boxCage([10, 20, 30], [2, 3, 1]), true],
      [ballCage(20, 3), true],
      [torusCage(30, 8, 6, 9), true],
      [tubeCage(20, 50, 7, 3), false],
      [gridCage(20, 30, 2, 2), false],
    ] as const) {
      const n = net(cage);
      expect([...n.sides].every((f) => f >= 0)).toBe(closed);
      expect(findings(cage).filter((f) => f.grave)).toEqual([]);
    }
    for (const p of ballCage(20, 3).vertices) expect(Math.hypot(p[0], p[1], p[2] - 20)).toBeCloseTo(20, 9);
  });
  it('from a profile turned and from an outline drawn up', () => {
    const bowl = turnedCage(
      [
        [10, 0],
        [30, 20],
        [34, 50],
      ],
      8,
    );
    expect(bowl.ok && bowl.value.faces.length).toBe(16);
    expect(
      turnedCage(
        [
          [0, 0],
          [30, 20],
        ],
        8,
      ).ok,
    ).toBe(false);
    const square = drawnUpCage(
      [
        [0, 0],
        [20, 0],
        [20, 10],
        [0, 10],
      ],
      30,
      3,
    );
    expect(square.faces).toHaveLength(8);
    expect(faceArea(square.faces[0]!.map((v) => square.vertices[v]!))).toBeCloseTo(20 * 15, 9);
  });
  it('from an OBJ take its faces, and refuse in words what is no cage', () => {
    const cube =
      'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 0 0 1\nv 1 0 1\nv 1 1 1\nv 0 1 1\nvn 0 0 1\nf 4/1 3/1 2/1 1/1\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf -5 -8 -4 -1\n';
    const read = cageFromObj(cube);
    expect(read.ok && [read.value.vertices.length, read.value.faces.length]).toEqual([8, 6]);
    const words = (t: string): string => {
      const r = cageFromObj(t);
      return r.ok ? 'taken' : r.error;
    };
    expect(words('v 0 0 0\n')).toMatch(/no faces/);
    expect(words('v 0 0 x\nf 1 1 1\n')).toMatch(/no number/);
    expect(words('v 0 0 0\nv 1 0 0\nf 1 2 9\n')).toMatch(/not there/);
    expect(words('v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n')).toMatch(/no area/);
    expect(words(`${cube}f 1 2 7\n`)).toMatch(/Three faces meet|different sides/);
    const million = `v 0 0 0\nv 1 0 0\nv 0 1 0\n${'f 1 2 3\n'.repeat(60_000)}`;
    expect(words(million)).toMatch(/a mesh, not a cage/);
  });
});
