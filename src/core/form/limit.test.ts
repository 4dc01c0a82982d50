/**
 * Limits against OpenSubdiv 3.5.0 (Debian's libosd-dev; an independent library, single precision: the files tell how they were made), against
 * published masks, and against the closed form of a sphere-like cube's symmetry.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Cage, netOf, type P3 } from './cage';
import { limitAt, limitMesh, limitOn, vertexLimits } from './limit';
import { refine, refined } from './refine';

interface Reference {
  readonly name: string;
  readonly cage: { verts: P3[]; faces: number[][]; creases: [number, number, number][]; corners: [number, number][] };
  readonly vertexLimits: { p: P3; n: P3 }[];
  readonly samples: { f: number; k: number; s: number; t: number; u?: number; v?: number; p: P3; n: P3 }[];
}
const folder = 'tests/fixtures/subdivision';
const references = readdirSync(folder).map((f) => JSON.parse(readFileSync(`${folder}/${f}`, 'utf8')) as Reference);
const net = (c: Cage) => {
  const r = netOf(c);
  if (!r.ok) throw new Error(r.error.what);
  return r.value;
};
const cageOf = (r: Reference): Cage => ({ vertices: r.cage.verts, faces: r.cage.faces, creases: r.cage.creases, corners: r.cage.corners });
const angle = (a: P3, b: P3): number =>
  Math.atan2(
    Math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]),
    a[0] * b[0] + a[1] * b[1] + a[2] * b[2],
  );
const apart = (a: P3, b: P3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

describe.each(references)('$name', (r) => {
  const own = net(cageOf(r));
  const size = Math.max(...r.cage.verts.flat().map(Math.abs)) * 2;
  it('has its limit where the reference has it, under every vertex', () => {
    const { places } = vertexLimits(own);
    for (const [v, { p }] of r.vertexLimits.entries())
      expect(apart([places[3 * v]!, places[3 * v + 1]!, places[3 * v + 2]!], p) / size).toBeLessThan(1e-6);
  });
  it('has it there at every sample too, with its normal', () => {
    for (const s of r.samples) {
      const q = limitOn(own, s.f, s.k, s.s, s.t);
      expect(apart(q.point, s.p) / size).toBeLessThan(1e-6);
      expect(angle(q.normal, s.n)).toBeLessThan(1e-4);
    }
  });
  it('reads the same by the coordinates of a whole quad', () => {
    for (const s of r.samples.filter((x) => x.u !== undefined && r.cage.faces[x.f]!.length === 4).slice(0, 40))
      expect(apart(limitAt(own, s.f, s.u!, s.v!).point, s.p) / size).toBeLessThan(1e-6);
  });
});

const cube: Cage = {
  vertices: [0, 1, 2, 3, 4, 5, 6, 7].map((i): P3 => [i & 1 ? 1 : -1, i & 2 ? 1 : -1, i & 4 ? 1 : -1]),
  faces: [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ],
  creases: [],
  corners: [],
};

describe('the limit', () => {
  it('under a vertex of valence n is (n² v + 4 Σe + Σf) / (n (n + 5)) (Halstead, Kass, DeRose 1993; from memory)', () => {
    // A corner of a cube: v, three neighbours that differ from it in one sign, three diagonals in two.
    const { places } = vertexLimits(net(cube));
    const expected = (9 * 1 + 4 * (1 + 1 - 1) + (1 - 1 - 1)) / 24;
    for (let i = 0; i < 24; i++) expect(Math.abs(places[i]!)).toBeCloseTo(expected, 12);
  });
  it('does not change by refining', () => {
    const own = net(cube);
    const a = vertexLimits(own);
    const b = vertexLimits(refined(own, 3));
    for (let i = 0; i < 24; i++) expect(b.places[i]!).toBeCloseTo(a.places[i]!, 12);
  });
  it('of a cube with all its edges sharp is the cube', () => {
    const sharp: Cage = {
      ...cube,
      creases: cube.faces.flatMap((f) => f.map((v, k): [number, number, number] => [v, f[(k + 1) % 4]!, 10])),
    };
    const mesh = limitMesh(net(sharp), 2);
    for (let i = 0; i < mesh.places.length; i += 3)
      expect(Math.max(...[0, 1, 2].map((k) => Math.abs(mesh.places[i + k]!)))).toBeCloseTo(1, 12);
  });
  it('of a flat sheet bends nowhere; of a tube it bends by its radius', () => {
    const n = 32;
    const tube: Cage = {
      vertices: [0, 1, 2, 3].flatMap((j) =>
        Array.from({ length: n }, (_, i): P3 => [20 * Math.cos((2 * Math.PI * i) / n), 20 * Math.sin((2 * Math.PI * i) / n), 10 * j]),
      ),
      faces: [0, 1, 2].flatMap((j) =>
        Array.from({ length: n }, (_, i) => [j * n + i, j * n + ((i + 1) % n), (j + 1) * n + ((i + 1) % n), (j + 1) * n + i]),
      ),
      creases: [],
      corners: [],
    };
    const q = limitAt(net(tube), n, 0.3, 0.4);
    const r = Math.hypot(q.point[0], q.point[1]);
    // A uniform cubic B-spline through a regular n-gon is nearly its circle.
    expect(q.curvatures![0] * r).toBeCloseTo(1, 2);
    expect(q.curvatures![1]).toBeCloseTo(0, 9);
  });
});

describe('what is no cage', () => {
  const words = (c: Partial<Cage>): string => {
    const r = netOf({ ...cube, ...c });
    return r.ok ? 'taken' : r.error.what;
  };
  it('is refused in words', () => {
    expect(words({ faces: [] })).toMatch(/no faces/);
    expect(words({ faces: [...cube.faces, [0, 7, 9]] })).toMatch(/not there/);
    expect(words({ faces: [...cube.faces, [0, 1]] })).toMatch(/three or more/);
    expect(words({ faces: [...cube.faces, [0, 1, 0]] })).toMatch(/twice/);
    expect(words({ faces: [...cube.faces, [0, 1, 7]] })).toMatch(/Three faces meet/);
    expect(words({ faces: cube.faces.map((f, i) => (i === 0 ? f.toReversed() : f)) })).toMatch(/different sides/);
    expect(words({ vertices: cube.vertices.map((v, i) => (i === 0 ? [Number.NaN, 0, 0] : v)) })).toMatch(/no place that is a number/);
    expect(words({ vertices: [...cube.vertices, [0, 0, 0]] })).toMatch(/belongs to no face/);
    expect(words({ creases: [[0, 7, 2]] })).toMatch(/edge that is not there/);
    // Two cubes that share one vertex.
    const second = cube.vertices.slice(1).map(([x, y, z]): P3 => [x - 2, y - 2, z - 2]);
    const moved = cube.faces.map((f) => f.map((v) => (v === 7 ? 0 : v + 8)));
    expect(words({ vertices: [...cube.vertices, ...second], faces: [...cube.faces, ...moved] })).toMatch(/vertex alone|not there/);
  });
});

describe('refining', () => {
  it('makes a quad of every corner and keeps the surface closed', () => {
    const fine = refine(net(cube));
    expect(fine.vertex.length / 4).toBe(24);
    expect(fine.places.length / 3).toBe(26);
    expect([...fine.sides].every((f) => f >= 0)).toBe(true);
  });
});
