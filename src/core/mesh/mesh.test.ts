import Module from 'manifold-3d';
import { beforeAll, describe, expect, it } from 'vitest';
import { buildBvh, type ClosestHit, closestOpposing, type RayHit, raycast } from './bvh';
import { bounds, massProperties, openEdgeCount, type TriMesh, weld } from './mesh';
import { contains, loopArea, regions, sliceMesh } from './slice';
import { ballAt, measureWall, seeded } from './wall';

type Solid = { getMesh(): { vertProperties: Float32Array; triVerts: Uint32Array }; volume(): number; surfaceArea(): number };
let m: Awaited<ReturnType<typeof Module>>;
beforeAll(async () => {
  m = await Module();
  m.setup();
});
const meshOf = (s: Solid): TriMesh => {
  const g = s.getMesh();
  return {
    positions: Float64Array.from(g.vertProperties),
    indices: Uint32Array.from(g.triVerts),
    faceOf: new Uint32Array(g.triVerts.length / 3),
  };
};
const soup = (mesh: TriMesh): TriMesh => ({
  positions: Float64Array.from([...mesh.indices].flatMap((i) => [...mesh.positions.slice(3 * i, 3 * i + 3)])),
  indices: Uint32Array.from(mesh.indices, (_, k) => k),
  faceOf: mesh.faceOf,
});

describe('a mesh', () => {
  // Independent library: manifold-3d.
  it('has the volume and area that manifold-3d computes', () => {
    for (const s of [m.Manifold.cube([20, 30, 40]), m.Manifold.sphere(25, 64), m.Manifold.cylinder(50, 10, 20, 48)]) {
      const mine = massProperties(meshOf(s));
      expect(mine.volume / s.volume()).toBeCloseTo(1, 6);
      expect(mine.area / s.surfaceArea()).toBeCloseTo(1, 6);
    }
  });
  it('has its centroid in the middle', () =>
    expect(massProperties(meshOf(m.Manifold.cube([20, 30, 40]))).centroid.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([10, 15, 20]));
  it('welds a triangle soup to a closed skin', () => {
    const welded = weld(soup(meshOf(m.Manifold.sphere(25, 32))));
    expect(openEdgeCount(welded)).toBe(0);
    expect(welded.positions.length).toBeLessThan(soup(meshOf(m.Manifold.sphere(25, 32))).positions.length / 4);
  });
  it('counts open edges: three for a missing triangle, more for a flipped one', () => {
    const whole = meshOf(m.Manifold.cube([1, 1, 1]));
    expect(openEdgeCount({ ...whole, indices: whole.indices.slice(3) })).toBe(3);
    const flipped = Uint32Array.from(whole.indices);
    [flipped[0], flipped[1]] = [flipped[1]!, flipped[0]!];
    expect(openEdgeCount({ ...whole, indices: flipped })).toBeGreaterThan(0);
  });
  it('drops triangles that lose a corner', () => {
    const t: TriMesh = {
      positions: Float64Array.from([0, 0, 0, 1, 0, 0, 1, 0, 1e-9]),
      indices: Uint32Array.from([0, 1, 2]),
      faceOf: new Uint32Array(1),
    };
    expect(weld(t).indices).toHaveLength(0);
  });
});

describe('queries', () => {
  const random = seeded(3);
  it('find the same first hit as trying every triangle', () => {
    const mesh = meshOf(m.Manifold.sphere(20, 32).subtract(m.Manifold.cylinder(60, 6, 6, 24, true)));
    const bvh = buildBvh(mesh);
    const hit: RayHit = { t: 0, triangle: -1 };
    const one: RayHit = { t: 0, triangle: -1 };
    for (let i = 0; i < 60; i++) {
      const o = [random() * 60 - 30, random() * 60 - 30, 40] as const;
      const d = [random() - 0.5, random() - 0.5, -1];
      const l = Math.hypot(...d);
      raycast(bvh, ...o, d[0]! / l, d[1]! / l, d[2]! / l, 0, 200, hit);
      let best = 200;
      for (let t = 0; t < mesh.faceOf.length; t++) {
        const single = buildBvh({ positions: mesh.positions, indices: mesh.indices.slice(3 * t, 3 * t + 3), faceOf: new Uint32Array(1) });
        raycast(single, ...o, d[0]! / l, d[1]! / l, d[2]! / l, 0, 200, one);
        if (one.triangle >= 0) best = Math.min(best, one.t);
      }
      expect(hit.t).toBeCloseTo(best, 9);
    }
  });
  it('find the closest point of a box from inside and outside', () => {
    const bvh = buildBvh(meshOf(m.Manifold.cube([20, 20, 20], true)));
    const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
    expect(closestOpposing(bvh, 0, 0, 4, 0, 0, 1, 1, Infinity, hit).distance).toBeCloseTo(6, 12);
    expect(closestOpposing(bvh, 13, 14, 0, 0, 0, 1, 1, Infinity, hit).distance).toBeCloseTo(5, 12);
  });
  it('skip triangles that do not oppose the sample', () => {
    const bvh = buildBvh(meshOf(m.Manifold.cube([20, 20, 20], true)));
    const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
    // Near the corner, looking from the top: only the bottom opposes it.
    expect(closestOpposing(bvh, 9, 0, 9, 0, 0, 1, -0.5, Infinity, hit).distance).toBeCloseTo(19, 12);
  });
});

describe('wall by the inscribed ball', () => {
  it('is the gap between parallel skins and the diameter of a rod', () => {
    const plate = buildBvh(meshOf(m.Manifold.cube([80, 60, 3])));
    expect(ballAt(plate, [40, 30, 3], [0, 0, 1], 100).thickness).toBeCloseTo(3, 6);
    const rod = buildBvh(meshOf(m.Manifold.cylinder(80, 5, 5, 256, true)));
    expect(ballAt(rod, [5, 0, 0], [1, 0, 0], 100).thickness).toBeCloseTo(10, 2);
  });
  it('finds the thin place of an eccentric bore', async () => {
    const body = m.Manifold.cylinder(40, 20, 20, 180).subtract(m.Manifold.cylinder(60, 15, 15, 180, true).translate([3, 0, 20]));
    const r = (await measureWall(meshOf(body), { samples: 4000 }))!;
    expect(r.thinnest!.thickness).toBeCloseTo(2, 1);
    expect(Math.abs(r.thinnest!.at[1])).toBeLessThan(3);
  });
  it('is not fooled by the sharp rim of a cup', async () => {
    const cup = m.Manifold.cylinder(50, 20, 20, 120).subtract(m.Manifold.cylinder(60, 17, 17, 120).translate([0, 0, 4]));
    const r = (await measureWall(meshOf(cup), { samples: 4000 }))!;
    expect(r.thinnest!.thickness).toBeGreaterThan(2.97);
    expect(r.thickest!.thickness).toBeGreaterThan(3.9);
    expect(r.thickest!.thickness).toBeLessThan(6);
  });
  it('gives up when asked to', async () => expect(await measureWall(meshOf(m.Manifold.cube([9, 9, 9])), { tick: () => false })).toBeNull());
  it('refuses an empty mesh', async () => {
    await expect(measureWall({ positions: new Float64Array(), indices: new Uint32Array(), faceOf: new Uint32Array() })).rejects.toThrow(
      RangeError,
    );
  });
});

describe('sections', () => {
  const tube = () => meshOf(m.Manifold.cylinder(50, 20, 20, 200).subtract(m.Manifold.cylinder(160, 15, 15, 200, true)));
  it('of a tube are one region with one hole and the area of its ring', () => {
    const s = sliceMesh(tube(), { normal: [0, 0, 1], offset: 20 });
    expect(s.chains).toEqual([]);
    const r = regions(s);
    expect(r).toHaveLength(1);
    expect(r[0]!.holes).toHaveLength(1);
    expect((Math.abs(loopArea(r[0]!.outer)) - Math.abs(loopArea(r[0]!.holes[0]!))) / (Math.PI * 175)).toBeCloseTo(1, 2);
  });
  it('along the axis are two rectangles', () => {
    const s = sliceMesh(tube(), { normal: [0, 1, 0], offset: 0.01 });
    expect(regions(s)).toHaveLength(2);
  });
  it('close even through vertices, and count holes as negative', () => {
    const cube = meshOf(m.Manifold.cube([10, 10, 10]));
    for (const offset of [0, 5, 10 - 1e-12]) expect(sliceMesh(cube, { normal: [0, 0, 1], offset }).chains).toEqual([]);
    const areas = sliceMesh(tube(), { normal: [0, 0, 1], offset: 20 })
      .loops.map(loopArea)
      .sort((a, b) => a - b);
    expect(areas[0]!).toBeLessThan(0);
    expect(areas[1]!).toBeGreaterThan(0);
  });
  it('of an open skin run from border to border, wherever its facets begin', () => {
    const whole = tube();
    // Without the facets beyond x = 5 the ring at any height is two arcs, outside and inside.
    const kept = [...whole.faceOf.keys()].filter((t) => [0, 1, 2].every((k) => whole.positions[3 * whole.indices[3 * t + k]!]! < 5));
    const open = { ...whole, indices: Uint32Array.from(kept.flatMap((t) => [...whole.indices.subarray(3 * t, 3 * t + 3)])) };
    const { loops, chains } = sliceMesh(open, { normal: [0, 0, 1], offset: 20 });
    expect([loops.length, chains.length]).toEqual([0, 2]);
    const length = (l: readonly (readonly number[])[]): number =>
      l.slice(1).reduce((s, p, i) => s + Math.hypot(p[0]! - l[i]![0]!, p[1]! - l[i]![1]!), 0);
    // An arc of radius r up to x = 5 has 2 r (π − acos(5 / r)).
    const arcs = [20, 15].map((r) => 2 * r * (Math.PI - Math.acos(5 / r)));
    for (const [i, l] of chains
      .map(length)
      .toSorted((a, b) => b - a)
      .entries())
      expect(Math.abs(l - arcs[i]!)).toBeLessThan(1.3);
  });
  it('miss a body that lies elsewhere', () => expect(sliceMesh(tube(), { normal: [0, 0, 1], offset: 99 }).loops).toHaveLength(0));
  it('know inside from outside', () => {
    const square = [
      [0, 0],
      [4, 0],
      [4, 4],
      [0, 4],
    ] as const;
    expect(contains(square, [2, 2])).toBe(true);
    expect(contains(square, [5, 2])).toBe(false);
  });
});

it('bounds hold every vertex', () => expect(bounds(Float64Array.from([1, 2, 3, -4, 5, 0]))).toEqual({ min: [-4, 2, 0], max: [1, 5, 3] }));
