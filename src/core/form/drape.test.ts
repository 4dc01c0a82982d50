/** Cages pulled onto meshes, against closed forms: balls, cylinders, planes; and against an independent library's closest points. */
import * as THREE from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { normally, seeded, TAP, tapScan } from '../../../demo/scans';
import { arcOf, turnedMesh } from '../../../tests/support/meshes';
import type { TriMesh } from '../mesh/mesh';
import { bounds } from '../mesh/mesh';
import { manifold } from '../scan/topology';
import { type CageOf, type Net, netOf } from './cage';
import { type Draped, type DrapeWish, drape } from './drape';
import { limitMesh } from './limit';
import { gridCage } from './starts';

type P = [number, number, number];
const netFrom = (cage: CageOf<number>): Net => {
  const net = netOf(cage);
  if (!net.ok) throw new Error(net.error.what);
  return net.value;
};
const sheet = (width: number, depth: number, at: P, cells: readonly [number, number] = [6, 4]): Net => {
  const cage = gridCage(width, depth, ...cells);
  return netFrom({ ...cage, vertices: cage.vertices.map(([x, y, z]): P => [x + at[0], y + at[1], z + at[2]]) });
};
const onto = (net: Net, mesh: TriMesh, wish: DrapeWish): Draped => {
  const found = drape(net, mesh, wish);
  if (!found.ok) throw new Error(found.error.why);
  return found.value;
};
const placesOf = (net: Net, levels: number): P[] => {
  const { places } = limitMesh(net, levels);
  return Array.from({ length: places.length / 3 }, (_, i): P => [places[3 * i]!, places[3 * i + 1]!, places[3 * i + 2]!]);
};
/** The tap without noise, by many facets. */
function tap(ns = 240, nf = 160): TriMesh {
  const long = TAP.straight + TAP.bend * TAP.bent;
  const [positions, indices]: [number[], number[]] = [[], []];
  for (let j = 0; j <= nf; j++) for (let i = 0; i <= ns; i++) positions.push(...TAP.place((i * long) / ns, (j / nf - 0.5) * 2 * TAP.seen));
  for (let j = 0; j < nf; j++)
    for (let i = 0; i < ns; i++) {
      const a = j * (ns + 1) + i;
      indices.push(a, a + 1, a + ns + 2, a, a + ns + 2, a + ns + 1);
    }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices), faceOf: new Uint32Array(indices.length / 3) };
}
const ball = turnedMesh(arcOf(20, 0, 0, Math.PI, 140), 160);
const flat = (positions: readonly number[], indices: readonly number[]): TriMesh => ({
  positions: Float64Array.from(positions),
  indices: Uint32Array.from(indices),
  faceOf: new Uint32Array(indices.length / 3),
});

describe('a sheet pulled onto a body', () => {
  it('lies on a ball: every place of it at the radius, and at the radius with the clearance', () => {
    for (const clear of [0, 0.5, 2]) {
      const found = onto(sheet(20, 16, [0, 0, 22]), ball, { within: 0.02, clear });
      for (const p of placesOf(found.net, 4)) expect(Math.abs(Math.hypot(...p) - 20 - clear)).toBeLessThan(0.022);
      expect(found.beyond).toBe(0);
    }
  });
  it('tells what it lies off as an independent library measures it', () => {
    const mesh = tap();
    const found = onto(sheet(40, 24, [40, 0, 15]), mesh, { within: 0.15, clear: 0 });
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(mesh.positions.slice(), 3));
    g.setIndex(new THREE.BufferAttribute(mesh.indices.slice(), 1));
    const tree = new MeshBVH(g);
    const most = Math.max(...placesOf(found.net, 5).map((p) => tree.closestPointToPoint(new THREE.Vector3(...p))!.distance));
    // Four times as densely as it was judged: no more than a little beyond what was told.
    expect(most).toBeLessThan(0.15);
    expect(most).toBeLessThan(1.1 * found.off + 1e-3);
    expect(most).toBeGreaterThan(0.8 * found.off);
  });
  it('goes finer where its quads can’t follow, and no finer than is needed', () => {
    const coarse = (within: number): Draped => onto(sheet(60, 26, [55, 0, 15], [2, 2]), tap(), { within, clear: 0 });
    const [wide, near] = [coarse(1.5), coarse(0.02)];
    expect(near.finer).toBeGreaterThan(wide.finer);
    expect(wide.off).toBeLessThan(1.5);
    expect(near.off).toBeLessThan(0.02);
  });
  it('does not follow the roughness of a scan: nearer to the part than to its noise', () => {
    const [smooth, random] = [tap(120, 80), seeded(3)];
    // By 0.06 mm about the true skin, along no direction in particular.
    const rough = { ...smooth, positions: smooth.positions.map((x) => x + 0.06 * normally(random)) };
    const found = onto(sheet(40, 20, [40, 0, 15]), rough, { within: 0.3, clear: 0 });
    const off = placesOf(found.net, 3).map(([x, y, z]) => {
      // Along the straight part the skin at x is an ellipse.
      const r = TAP.radius(x);
      const f = Math.atan2(y / r, z / (r * TAP.flat));
      return Math.hypot(y - r * Math.sin(f), z - r * TAP.flat * Math.cos(f));
    });
    expect(Math.sqrt(off.reduce((s, d) => s + d * d, 0) / off.length)).toBeLessThan(0.03);
    expect(found.rms).toBeGreaterThan(0.02);
  });
  it('is the same turned and moved, and grows with what it lies on', () => {
    const turn = ([x, y, z]: P): P => [y + 7, 3 - x, z - 11];
    const by = (a: Float64Array): Float64Array =>
      Float64Array.from(Array.from({ length: a.length / 3 }, (_, i) => turn([a[3 * i]!, a[3 * i + 1]!, a[3 * i + 2]!])).flat());
    const thrice = (a: Float64Array): Float64Array => a.map((x) => 3 * x);
    const [net, mesh] = [sheet(40, 20, [40, 0, 15]), tap(90, 60)];
    const wish = { within: 0.1, clear: 0.2 };
    const plain = onto(net, mesh, wish);
    const turned = onto({ ...net, places: by(net.places) }, { ...mesh, positions: by(mesh.positions) }, wish);
    const grown = onto({ ...net, places: thrice(net.places) }, { ...mesh, positions: thrice(mesh.positions) }, { within: 0.3, clear: 0.6 });
    const expected = by(plain.net.places);
    for (const [i, x] of turned.net.places.entries()) expect(Math.abs(x - expected[i]!)).toBeLessThan(1e-3);
    expect(grown.off / plain.off).toBeCloseTo(3, 2);
    expect(grown.over / plain.over).toBeCloseTo(9, 2);
  });
  it('stands before the side the facets face, whichever way the sheet itself looks', () => {
    const cage = gridCage(20, 16, 6, 4);
    const vertices = cage.vertices.map(([x, y]): P => [x, y, 22]);
    for (const faces of [cage.faces, cage.faces.map((f) => f.toReversed())]) {
      const found = onto(netFrom({ ...cage, vertices, faces }), ball, { within: 0.05, clear: 1 });
      for (const p of placesOf(found.net, 2)) expect(Math.abs(Math.hypot(...p) - 21)).toBeLessThan(0.055);
    }
  });
  it('goes straight on beyond a border, and says how much of it does', () => {
    // A plate of 40 × 40 at height 0, half of the sheet beside it.
    const plate = flat([-20, -20, 0, 20, -20, 0, 20, 20, 0, -20, 20, 0], [0, 1, 2, 0, 2, 3]);
    const found = onto(sheet(20, 10, [20, 0, 4]), plate, { within: 0.01, clear: 0 });
    for (const p of placesOf(found.net, 3)) expect(Math.abs(p[2])).toBeLessThan(0.01);
    expect(found.over).toBeCloseTo(100, -1);
    expect(found.beyond).toBeCloseTo(100, -1);
    expect(found.beyondAt![0]).toBeGreaterThan(25);
  });
});

describe('what can’t be', () => {
  it('nearer than a scan is rough says how near it came, and that is kept when it is asked for', () => {
    const scan = manifold(tapScan(4, { noise: 0.08, step: 1.5, gaps: 0, strays: 0 })).mesh;
    // Before the middle of one of its facets, along its normal, as it lay.
    const { min, max } = bounds(scan.positions);
    const middle = min.map((m, k) => (m + max[k]!) / 2) as P;
    const net = sheet(14, 10, [middle[0], middle[1], max[2] + 2], [4, 3]);
    const tight = drape(net, scan, { within: 0.01, clear: 0, finest: 3 });
    if (tight.ok) throw new Error('nearer than the noise');
    expect(tight.error.reached).toBeGreaterThan(0.05);
    const loose = onto(net, scan, { within: 1.02 * tight.error.reached!, clear: 0, finest: 3 });
    expect(loose.off).toBeLessThanOrEqual(1.02 * tight.error.reached!);
  });
  it('round to another side is refused with its place, and so is what lies beside it all', () => {
    // A sheet through the middle of a ball has no side of it to itself.
    const through = drape(sheet(60, 60, [0, 0, 0.5], [8, 8]), ball, { within: 0.5, clear: 0 });
    expect(through.ok).toBe(false);
    if (!through.ok) expect(through.error.at).toBeDefined();
    const plate = flat([0, 0, 0, 5, 0, 0, 0, 5, 0], [0, 1, 2]);
    expect(drape(sheet(10, 10, [50, 0, 3]), plate, { within: 0.5, clear: 0 })).toMatchObject({
      ok: false,
      error: { why: 'none of it lies over it' },
    });
    expect(drape(sheet(10, 10, [0, 0, 3]), flat([], []), { within: 0.5, clear: 0 }).ok).toBe(false);
  });
});
