/** How the facets of a scan hang together: islands, borders, and what is wrong with them. */
import { faceNormal } from '../form/starts';
import { distance, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { DirectedEdges } from '../mesh/edges';
import type { TriMesh } from '../mesh/mesh';

/** A closed line of open edges. */
export interface Border {
  /** Vertices in the direction in which the facets beside them run. */
  readonly vertices: readonly number[];
  /** mm. */
  readonly length: number;
  readonly centre: Vec3;
  /** Unit, of the plane it lies nearest to, to the side the facets face. */
  readonly normal: Vec3;
  /** How far it lies off that plane at most, mm. */
  readonly off: number;
}

interface Island {
  /** mm². */
  readonly area: number;
}

export interface Topology {
  /** For each corner of each facet, the corner that lies across the edge which begins there; −1 at a border. */
  readonly across: Int32Array;
  /** The island each facet belongs to; the largest is 0. */
  readonly islandOf: Int32Array;
  readonly islands: readonly Island[];
  /** The longest first. */
  readonly borders: readonly Border[];
}

export const placeOf = (mesh: TriMesh, v: number): Vec3 => triple((k) => mesh.positions[3 * v + k]!);

/** Twice the area of a facet, along its normal. */
export const facetVector = ({ positions: p, indices }: TriMesh, t: number): [number, number, number] => {
  const [a, b, c] = [3 * indices[3 * t]!, 3 * indices[3 * t + 1]!, 3 * indices[3 * t + 2]!];
  const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
  const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
};

const twiceArea = (mesh: TriMesh, t: number): number => {
  const [x, y, z] = facetVector(mesh, t);
  return Math.sqrt(x * x + y * y + z * z);
};

/** The corner after a corner of the same facet. */
export const after = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);

/**
 * Facets that can stand beside each other: no edge is used twice in the same direction, none is doubled, none without area.
 * @returns the mesh without the others, and how many were left out
 */
export function manifold(mesh: TriMesh): { readonly mesh: TriMesh; readonly dropped: number } {
  const { indices } = mesh;
  const used = new DirectedEdges(indices.length);
  const kept: number[] = [];
  for (let t = 0; t < mesh.faceOf.length; t++) {
    const [a, b, c] = [indices[3 * t]!, indices[3 * t + 1]!, indices[3 * t + 2]!];
    if (a === b || b === c || c === a || twiceArea(mesh, t) < 1e-12) continue;
    if (used.has(a, b) || used.has(b, c) || used.has(c, a)) continue;
    used.put(a, b, t);
    used.put(b, c, t);
    used.put(c, a, t);
    kept.push(t);
  }
  if (kept.length === mesh.faceOf.length) return { mesh, dropped: 0 };
  return { mesh: ofFacets(mesh, kept), dropped: mesh.faceOf.length - kept.length };
}

/** A mesh of some of the facets; vertices that none of them uses are left out. */
export function ofFacets(mesh: TriMesh, facets: readonly number[]): TriMesh {
  const given = new Int32Array(mesh.positions.length / 3).fill(-1);
  const places = new Float64Array(mesh.positions.length);
  let count = 0;
  const indices = new Uint32Array(3 * facets.length);
  facets.forEach((t, i) => {
    for (let k = 0; k < 3; k++) {
      const v = mesh.indices[3 * t + k]!;
      if (given[v]! < 0) {
        for (let x = 0; x < 3; x++) places[3 * count + x] = mesh.positions[3 * v + x]!;
        given[v] = count++;
      }
      indices[3 * i + k] = given[v]!;
    }
  });
  return { positions: places.slice(0, 3 * count), indices, faceOf: Uint32Array.from(facets, (t) => mesh.faceOf[t]!) };
}

const known = new WeakMap<TriMesh, Topology>();

/** Found once as long as the mesh lives. @param mesh with shared corners, no edge used twice in the same direction */
export function topologyOf(mesh: TriMesh): Topology {
  const before = known.get(mesh);
  if (before) return before;
  const found = findTopology(mesh);
  known.set(mesh, found);
  return found;
}

function findTopology(mesh: TriMesh): Topology {
  const { indices } = mesh;
  const begin = new DirectedEdges(indices.length);
  for (let h = 0; h < indices.length; h++) begin.put(indices[h]!, indices[after(h)]!, h);
  const across = new Int32Array(indices.length);
  for (let h = 0; h < indices.length; h++) across[h] = begin.get(indices[after(h)]!, indices[h]!);
  const { islandOf, islands } = islandsOf(mesh, across);
  return { across, islandOf, islands, borders: bordersOf(mesh, across) };
}

function islandsOf(mesh: TriMesh, across: Int32Array): Pick<Topology, 'islandOf' | 'islands'> {
  const count = mesh.faceOf.length;
  const found = new Int32Array(count).fill(-1);
  const islands: (Island & { readonly own: number })[] = [];
  for (let seed = 0; seed < count; seed++) {
    if (found[seed]! >= 0) continue;
    const own = islands.length;
    const open = [seed];
    found[seed] = own;
    let area = 0;
    for (let t = open.pop(); t !== undefined; t = open.pop()) {
      area += twiceArea(mesh, t) / 2;
      for (let k = 0; k < 3; k++) {
        const other = across[3 * t + k]!;
        if (other < 0) continue;
        const o = Math.floor(other / 3);
        if (found[o]! >= 0) continue;
        found[o] = own;
        open.push(o);
      }
    }
    islands.push({ area, own });
  }
  islands.sort((a, b) => b.area - a.area);
  const rank = new Int32Array(islands.length);
  islands.forEach((i, k) => {
    rank[i.own] = k;
  });
  return { islandOf: found.map((i) => rank[i]!), islands: islands.map(({ area }) => ({ area })) };
}

function bordersOf(mesh: TriMesh, across: Int32Array): Border[] {
  const seen = new Uint8Array(across.length);
  const out: Border[] = [];
  for (let h = 0; h < across.length; h++) {
    if (across[h]! >= 0 || seen[h]) continue;
    const vertices: number[] = [];
    let at = h;
    while (!seen[at]) {
      seen[at] = 1;
      vertices.push(mesh.indices[at]!);
      // Round the next corner, from facet to facet, to the open edge that begins there.
      at = after(at);
      while (across[at]! >= 0) at = after(across[at]!);
    }
    for (const loop of untangled(vertices)) out.push(borderOf(mesh, loop));
  }
  return out.toSorted((a, b) => b.length - a.length);
}

/** Where a border comes by a place again, what lies between is a border of its own. */
function untangled(vertices: readonly number[]): number[][] {
  const out: number[][] = [];
  const line: number[] = [];
  const at = new Map<number, number>();
  for (const v of vertices) {
    const before = at.get(v);
    if (before !== undefined) {
      const loop = line.splice(before);
      for (const w of loop) at.delete(w);
      out.push(loop);
    }
    at.set(v, line.length);
    line.push(v);
  }
  out.push(line);
  return out;
}

function borderOf(mesh: TriMesh, vertices: readonly number[]): Border {
  const places = vertices.map((v) => placeOf(mesh, v));
  const lengths = places.map((p, i) => distance(p, places[(i + 1) % places.length]!));
  const length = lengths.reduce((a, b) => a + b, 0);
  // By the length that each place stands for.
  const centre = triple((k) =>
    places.reduce((s, p, i) => s + (p[k] * (lengths[i]! + lengths[(i + places.length - 1) % places.length]!)) / (2 * length), 0),
  );
  // Facets run round a hole the other way than they do round what would fill it.
  const normal = unit(faceNormal(places.toReversed().map((p) => minus(p, centre)))) ?? [0, 0, 1];
  const off = Math.max(...places.map((p) => Math.abs(dot(minus(p, centre), normal))));
  return { vertices, length, centre, normal, off };
}

/** Smooth normals at the vertices, by the areas of the facets around. */
export function vertexNormals(mesh: TriMesh): Float64Array {
  const out = new Float64Array(mesh.positions.length);
  for (let t = 0; t < mesh.faceOf.length; t++) {
    const n = facetVector(mesh, t);
    for (let k = 0; k < 3; k++) for (let x = 0; x < 3; x++) out[3 * mesh.indices[3 * t + k]! + x]! += n[x]!;
  }
  for (let v = 0; v < out.length; v += 3) {
    const l = Math.hypot(out[v]!, out[v + 1]!, out[v + 2]!) || 1;
    for (let x = 0; x < 3; x++) out[v + x] = out[v + x]! / l;
  }
  return out;
}
