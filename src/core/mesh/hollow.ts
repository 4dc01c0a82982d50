/**
 * The cavity of a body known by its facets: where its kept skin is at least a wall away, found on a grid and cut out of it by marching through
 * tetrahedra (Kuhn's division of the cube: the result is always a closed skin; Doi and Koide 1991, from memory).
 */
import { triple } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import { type Bvh, buildBvh, type ClosestHit, closestOpposing, type RayHit, raycast } from './bvh';
import { bounds, type TriMesh } from './mesh';

/** Grid points at most. */
const MOST_POINTS = 12e6;
/** Grid cells along the side of a block that is filled at once where it is far from the cavity's skin. */
const BLOCK = 4;
/** Rounds in which the cavity gives way where its facets come too near. */
const ROUNDS = 4;

export interface MeshCavity {
  readonly positions: Float64Array;
  readonly indices: Uint32Array;
  /** Least and largest distance of its corners and facet middles within the body from the kept skin, mm. */
  readonly least: number;
  readonly most: number;
}

const near: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
const hit: RayHit = { t: 0, triangle: -1 };
const distance = (bvh: Bvh, x: number, y: number, z: number): number => closestOpposing(bvh, x, y, z, 0, 0, 1, 1, 1e6, near).distance;

/** Triangles of a mesh by their face. */
const some = (mesh: TriMesh, keep: (face: number) => boolean): TriMesh => {
  const list = Array.from(mesh.faceOf.keys()).filter((t) => keep(mesh.faceOf[t]!));
  return {
    positions: mesh.positions,
    indices: Uint32Array.from(list.flatMap((t) => [mesh.indices[3 * t]!, mesh.indices[3 * t + 1]!, mesh.indices[3 * t + 2]!])),
    faceOf: Uint32Array.from(list.map((t) => mesh.faceOf[t]!)),
  };
};

interface Grid {
  readonly from: readonly [number, number, number];
  readonly step: number;
  readonly n: readonly [number, number, number];
}

const indexOf = (g: Grid, i: number, j: number, k: number): number => (k * g.n[1] + j) * g.n[0] + i;

/** Whether each grid point is inside the skin: along every row of the grid, by the crossings met. */
function insideOf(bvh: Bvh, g: Grid): Uint8Array {
  const out = new Uint8Array(g.n[0] * g.n[1] * g.n[2]);
  const reach = g.n[0] * g.step * 2;
  for (let k = 0; k < g.n[2]; k++)
    for (let j = 0; j < g.n[1]; j++) {
      // A little off the grid, so that no ray runs along an edge of the skin.
      const [y, z] = [g.from[1] + (j + 1.3e-5) * g.step, g.from[2] + (k + 2.7e-5) * g.step];
      const crossings: number[] = [];
      let x = g.from[0] - g.step;
      for (;;) {
        raycast(bvh, x, y, z, 1, 0, 0, 1e-9, reach, hit);
        if (hit.triangle < 0) break;
        x += hit.t;
        crossings.push(x);
        x += 1e-7;
      }
      for (let c = 0; c + 1 < crossings.length; c += 2) {
        const first = Math.ceil((crossings[c]! - g.from[0]) / g.step);
        const last = Math.floor((crossings[c + 1]! - g.from[0]) / g.step);
        for (let i = Math.max(0, first); i <= Math.min(g.n[0] - 1, last); i++) out[indexOf(g, i, j, k)] = 1;
      }
    }
  return out;
}

/** The six tetrahedra of a cube, as corners by bits x, y, z. */
const TETRAHEDRA = [
  [0, 1, 3, 7],
  [0, 3, 2, 7],
  [0, 2, 6, 7],
  [0, 6, 4, 7],
  [0, 4, 5, 7],
  [0, 5, 1, 7],
] as const;

/** The skin between positive and other values of a grid; normals look away from the positive side. */
function march(g: Grid, values: Float32Array): { positions: number[]; indices: number[] } {
  const positions: number[] = [];
  const indices: number[] = [];
  const known = new Map<number, number>();
  const total = values.length;
  const place = (p: number): [number, number, number] => {
    const i = p % g.n[0];
    const j = Math.floor(p / g.n[0]) % g.n[1];
    const k = Math.floor(p / (g.n[0] * g.n[1]));
    return [g.from[0] + i * g.step, g.from[1] + j * g.step, g.from[2] + k * g.step];
  };
  const between = (a: number, b: number): number => {
    const key = Math.min(a, b) * total + Math.max(a, b);
    let v = known.get(key);
    if (v === undefined) {
      const [p, q] = [place(a), place(b)];
      const [f, h] = [values[a]!, values[b]!];
      // Never at a grid point itself: a facet there would have no area.
      const t = Math.min(0.999, Math.max(0.001, f / (f - h)));
      v = positions.length / 3;
      positions.push(p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1]), p[2] + t * (q[2] - p[2]));
      known.set(key, v);
    }
    return v;
  };
  const corner = [0, 0, 0, 0, 0, 0, 0, 0];
  for (let k = 0; k + 1 < g.n[2]; k++)
    for (let j = 0; j + 1 < g.n[1]; j++)
      for (let i = 0; i + 1 < g.n[0]; i++) {
        let above = 0;
        for (let c = 0; c < 8; c++) {
          const p = indexOf(g, i + (c & 1), j + ((c >> 1) & 1), k + (c >> 2));
          corner[c] = p;
          if (values[p]! > 0) above++;
        }
        if (above === 0 || above === 8) continue;
        for (const tet of TETRAHEDRA) {
          const inside = tet.filter((c) => values[corner[c]!]! > 0);
          if (inside.length === 0 || inside.length === 4) continue;
          const outside = tet.filter((c) => !(values[corner[c]!]! > 0));
          const v = (a: number, b: number): number => between(corner[a]!, corner[b]!);
          const faces: [number, number, number][] = [];
          if (inside.length === 1) faces.push([v(inside[0]!, outside[0]!), v(inside[0]!, outside[1]!), v(inside[0]!, outside[2]!)]);
          else if (inside.length === 3) faces.push([v(inside[0]!, outside[0]!), v(inside[1]!, outside[0]!), v(inside[2]!, outside[0]!)]);
          else {
            const [a, b] = inside as [number, number];
            const [c, d] = outside as [number, number];
            faces.push([v(a, c), v(a, d), v(b, d)], [v(a, c), v(b, d), v(b, c)]);
          }
          // From a corner inside to one outside: the way the facets look.
          const [from, to] = [place(corner[inside[0]!]!), place(corner[outside[0]!]!)];
          for (const f of faces) {
            const [p, q, r] = f.map((x) => [positions[3 * x]!, positions[3 * x + 1]!, positions[3 * x + 2]!]) as [
              number[],
              number[],
              number[],
            ];
            const u = triple((x) => q[x]! - p[x]!);
            const w = triple((x) => r[x]! - p[x]!);
            const n = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]] as const;
            const way = n[0] * (to[0] - from[0]) + n[1] * (to[1] - from[1]) + n[2] * (to[2] - from[2]);
            indices.push(f[0], ...(way >= 0 ? [f[1], f[2]] : [f[2], f[1]]));
          }
        }
      }
  return { positions, indices };
}

/**
 * @param open faces the cavity opens at; with none it is sealed
 * @param wall least distance from the other faces, mm; kept at every corner and facet middle
 * @param resolution of the grid, mm
 * @returns the closed skin of the cavity, which reaches a little beyond the opening; an error in words where there is none
 */
export function meshCavity(skin: TriMesh, open: ReadonlySet<number>, wall: number, resolution: number): Result<MeshCavity> {
  const box = bounds(skin.positions);
  const over = 2 * resolution;
  const n = box.max.map((m, k) => Math.ceil((m - box.min[k]! + 2 * over) / resolution) + 1) as [number, number, number];
  if (n[0] * n[1] * n[2] > MOST_POINTS) {
    const needed = resolution * Math.cbrt((n[0] * n[1] * n[2]) / MOST_POINTS);
    return fail(`so fine a grid has more than ${MOST_POINTS / 1e6} million points; ${Math.ceil(needed * 10) / 10} mm can be done`);
  }
  const grid: Grid = { from: box.min.map((m) => m - over) as [number, number, number], step: resolution, n };
  const whole = buildBvh(skin);
  const kept = buildBvh(some(skin, (f) => !open.has(f)));
  const inside = insideOf(whole, grid);
  const at = (i: number, k: 0 | 1 | 2): number => grid.from[k] + i * resolution;
  let less = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const value = (i: number, j: number, k: number): number => {
      const [x, y, z] = [at(i, 0), at(j, 1), at(k, 2)];
      const away = distance(kept, x, y, z);
      if (inside[indexOf(grid, i, j, k)]) return away - wall - less;
      // Beyond an opening the cavity goes on for a little, so that it is cut through.
      const out = distance(whole, x, y, z);
      if (near.triangle >= 0 && open.has(skin.faceOf[near.triangle]!)) return Math.min(away - wall - less, over * 0.7 - out);
      return -away - wall;
    };
    const values = new Float32Array(n[0] * n[1] * n[2]);
    const far = resolution * BLOCK * Math.sqrt(3);
    for (let k = 0; k < n[2]; k += BLOCK)
      for (let j = 0; j < n[1]; j += BLOCK)
        for (let i = 0; i < n[0]; i += BLOCK) {
          const [i1, j1, k1] = [Math.min(n[0], i + BLOCK), Math.min(n[1], j + BLOCK), Math.min(n[2], k + BLOCK)];
          // The value changes by no more than the way gone: far from nought a whole block has one sign.
          const first = value(Math.min(i + 2, n[0] - 1), Math.min(j + 2, n[1] - 1), Math.min(k + 2, n[2] - 1));
          const plain = Math.abs(first) > far;
          for (let c = k; c < k1; c++)
            for (let b = j; b < j1; b++) for (let a = i; a < i1; a++) values[indexOf(grid, a, b, c)] = plain ? first : value(a, b, c);
        }
    const { positions, indices } = march(grid, values);
    const opened = open.size > 0 ? throughOpening(positions, indices, whole, open, skin) : indices;
    if (opened.length === 0) return fail('nowhere inside is it that far from the outside');
    const cavity = { positions: Float64Array.from(positions), indices: Uint32Array.from(opened) };
    const { least, most } = walls(cavity, kept, whole, skin, open);
    if (least >= wall - 1e-4) return ok({ ...cavity, least, most });
    less += 1.05 * (wall - least);
  }
  return fail('the grid is too coarse to keep the wall');
}

/** Facets of the pieces that reach beyond an opening; the others would be sealed voids. */
function throughOpening(
  positions: readonly number[],
  indices: readonly number[],
  whole: Bvh,
  open: ReadonlySet<number>,
  skin: TriMesh,
): number[] {
  const count = positions.length / 3;
  const group = Int32Array.from({ length: count }, (_, i) => i);
  const root = (i: number): number => {
    let r = i;
    while (group[r] !== r) r = group[r]!;
    group[i] = r;
    return r;
  };
  for (let t = 0; t < indices.length; t += 3) {
    const a = root(indices[t]!);
    for (const v of [indices[t + 1]!, indices[t + 2]!]) group[root(v)] = a;
  }
  const reaches = new Set<number>();
  for (let v = 0; v < count; v++) {
    const r = root(v);
    if (!reaches.has(r) && beyond(whole, open, skin, positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!)) reaches.add(r);
  }
  const out: number[] = [];
  for (let t = 0; t < indices.length; t += 3) if (reaches.has(root(indices[t]!))) out.push(indices[t]!, indices[t + 1]!, indices[t + 2]!);
  return out;
}

/** Whether a place lies outside, over an opened face. */
function beyond(whole: Bvh, open: ReadonlySet<number>, skin: TriMesh, x: number, y: number, z: number): boolean {
  distance(whole, x, y, z);
  const t = near.triangle;
  if (t < 0 || !open.has(skin.faceOf[t]!)) return false;
  const n = whole.normals;
  return (x - near.x) * n[3 * t]! + (y - near.y) * n[3 * t + 1]! + (z - near.z) * n[3 * t + 2]! > 1e-9;
}

/** Distances from the kept skin of what lies within the body. */
function walls(
  cavity: { positions: Float64Array; indices: Uint32Array },
  kept: Bvh,
  whole: Bvh,
  skin: TriMesh,
  open: ReadonlySet<number>,
): { least: number; most: number } {
  let [least, most] = [Number.POSITIVE_INFINITY, 0];
  const look = (x: number, y: number, z: number): void => {
    const d = distance(kept, x, y, z);
    least = Math.min(least, d);
    if (d > most && !(open.size > 0 && beyond(whole, open, skin, x, y, z))) most = d;
  };
  const p = cavity.positions;
  const seen = new Uint8Array(p.length / 3);
  for (let t = 0; t < cavity.indices.length; t += 3) {
    const [a, b, c] = [cavity.indices[t]!, cavity.indices[t + 1]!, cavity.indices[t + 2]!];
    for (const v of [a, b, c])
      if (!seen[v]) {
        seen[v] = 1;
        look(p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!);
      }
    look(
      (p[3 * a]! + p[3 * b]! + p[3 * c]!) / 3,
      (p[3 * a + 1]! + p[3 * b + 1]! + p[3 * c + 1]!) / 3,
      (p[3 * a + 2]! + p[3 * b + 2]! + p[3 * c + 2]!) / 3,
    );
  }
  return { least, most };
}
