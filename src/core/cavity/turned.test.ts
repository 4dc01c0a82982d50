/** Turned cavities against what geometry allows, measured in space and not by their own maths. */
import { describe, expect, it } from 'vitest';
import { buildBvh, type ClosestHit, closestOpposing } from '../mesh/bvh';
import type { TriMesh } from '../mesh/mesh';
import { radiusAt, turnedCavity } from './turned';

/** A closed skin r(θ, z), capped flat below and above; faces 0 side, 1 bottom, 2 top. */
function pot(r: (w: number, z: number) => number, height: number, round = 180, rows = 90): TriMesh {
  const positions: number[] = [];
  const indices: number[] = [];
  const faceOf: number[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i < round; i++) {
      const [w, z] = [(2 * Math.PI * i) / round, (height * j) / rows];
      positions.push(r(w, z) * Math.cos(w), r(w, z) * Math.sin(w), z);
    }
  const put = (face: number, ...ids: number[]): void => {
    indices.push(...ids);
    faceOf.push(face);
  };
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < round; i++) {
      const [a, b] = [j * round + i, j * round + ((i + 1) % round)];
      put(0, a, b, b + round);
      put(0, a, b + round, a + round);
    }
  const centre = positions.length / 3;
  positions.push(0, 0, 0, 0, 0, height);
  for (let i = 0; i < round; i++) {
    put(1, centre, (i + 1) % round, i);
    put(2, centre + 1, rows * round + i, rows * round + ((i + 1) % round));
  }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices), faceOf: Uint32Array.from(faceOf) };
}

const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
const options = { wall: 3, floor: 4, open: new Set([2]), deflection: 0 };
const kept = (m: TriMesh): TriMesh => {
  const keep = Array.from(m.faceOf.keys()).filter((t) => m.faceOf[t] !== 2);
  return {
    positions: m.positions,
    indices: Uint32Array.from(keep.flatMap((t) => [m.indices[3 * t]!, m.indices[3 * t + 1]!, m.indices[3 * t + 2]!])),
    faceOf: Uint32Array.from(keep.map((t) => m.faceOf[t]!)),
  };
};

/** Least distance of the cavity from the skin by 1° × 1 mm, in space. */
function leastWall(mesh: TriMesh, c: Parameters<typeof radiusAt>[0]): number {
  const bvh = buildBvh(kept(mesh));
  let least = Number.POSITIVE_INFINITY;
  for (let z = c.bottom; z <= c.top; z += 1)
    for (let deg = 0; deg < 360; deg++) {
      const w = (deg * Math.PI) / 180;
      const r = radiusAt(c, z);
      closestOpposing(bvh, r * Math.cos(w), r * Math.sin(w), z, 0, 0, 1, 1, 50, hit);
      least = Math.min(least, hit.distance);
    }
  return least;
}

/** The largest turned cavity by brute force: every ring grown until a place of it comes nearer than the wall. */
function idealVolume(mesh: TriMesh, bottom: number, top: number, wall: number): number {
  const bvh = buildBvh(kept(mesh));
  let volume = 0;
  const dz = 2;
  for (let z = bottom + dz / 2; z < top; z += dz) {
    let ring = Number.POSITIVE_INFINITY;
    for (let deg = 0; deg < 360; deg += 4) {
      const [x, y] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
      let r = 0;
      // Sphere tracing outwards: the distance never allows a step through the skin.
      for (let k = 0; k < 60; k++) {
        closestOpposing(bvh, r * x, r * y, z, 0, 0, 1, 1, 200, hit);
        const step = hit.distance - wall;
        r += step;
        if (step < 1e-4) break;
      }
      ring = Math.min(ring, r);
    }
    volume += Math.PI * ring * ring * dz;
  }
  return volume;
}

describe('a turned cavity', () => {
  const lobed = pot((w, z) => (30 + 6 * Math.sin((Math.PI * z) / 90)) * (1 + 0.05 * Math.cos(14 * (w + z / 60))), 120);
  const fluted = pot((w) => 28 - 2.5 * Math.abs(Math.sin(6 * w)), 100);
  const waisted = pot((_, z) => 26 + 8 * Math.cos((4 * Math.PI * z) / 120), 120);
  it.each([
    ['of a twisted pot of fourteen lobes', lobed],
    ['of a fluted column', fluted],
    ['of a vase with two waists', waisted],
  ])('%s keeps the wall everywhere, and at least 97 % of what is possible', (_, mesh) => {
    const made = turnedCavity(mesh, options);
    if (!made.ok) throw new Error(made.error);
    const c = made.value;
    expect(leastWall(mesh, c)).toBeGreaterThanOrEqual(3);
    expect(c.bottom).toBeGreaterThanOrEqual(4 - 1e-3);
    expect(c.volume / idealVolume(mesh, c.bottom, c.top, 3)).toBeGreaterThan(0.97);
    expect(c.points).toBeLessThanOrEqual(24);
    // The chart says the same as the measurement.
    expect(Math.min(...c.chart.map((row) => row.wall))).toBeGreaterThanOrEqual(3);
    expect(Math.min(...c.chart.map((row) => row.wall))).toBeLessThan(3.2);
  });
  it('of a plain cylinder is the cylinder that is left', () => {
    const made = turnedCavity(
      pot(() => 25, 80),
      options,
    );
    if (!made.ok) throw new Error(made.error);
    expect(made.value.points).toBe(6);
    expect(made.value.volume / (Math.PI * 22 * 22 * 76)).toBeGreaterThan(0.99);
  });
  it('leans back by no more than 45° where it is to print', () => {
    const flared = pot((_, z) => (z < 60 ? 40 : 40 - 26 * Math.min(1, (z - 60) / 10)), 100);
    const steep = (printable: boolean): number => {
      const made = turnedCavity(flared, { ...options, printable });
      if (!made.ok) throw new Error(made.error);
      const c = made.value;
      return (
        Math.max(
          ...Array.from(
            { length: 200 },
            (_, i) => radiusAt(c, c.bottom + ((c.top - c.bottom) * i) / 200) - radiusAt(c, c.bottom + ((c.top - c.bottom) * (i + 1)) / 200),
          ),
        ) /
        ((c.top - c.bottom) / 200)
      );
    };
    expect(steep(true)).toBeLessThan(1.001);
    expect(steep(false)).toBeGreaterThan(1.5);
  });
  it('is refused in words where there is no room, or no axis', () => {
    const none = turnedCavity(
      pot(() => 3, 40),
      options,
    );
    expect(none.ok ? '' : none.error).toContain('no room for a cavity of 3.00 mm wall');
    const aside = pot(() => 10, 40);
    for (let i = 0; i < aside.positions.length; i += 3) aside.positions[i] = aside.positions[i]! + 30;
    expect(turnedCavity(aside, options)).toMatchObject({ ok: false, error: 'the axis does not pass through its top' });
  });
});
