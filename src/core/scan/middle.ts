/** The plane about which a scan is most nearly its own mirror image. */
import { along, cross, distance, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { axesOf, momentsOf, solveDense } from '../linear';
import { type ClosestHit, closestOpposing, sharedBvh } from '../mesh/bvh';
import { type TriMesh, triangleNormals } from '../mesh/mesh';
import { smoothed } from './clean';
import { type Border, facetVector, placeOf, topologyOf, vertexNormals } from './topology';

export interface MiddlePlane {
  readonly at: Vec3;
  /** Unit. */
  readonly normal: Vec3;
  /** How far places lie from the mirrored scan, root of the mean square, mm. */
  readonly residual: number;
  /** Share of the places that have a partner on the other side. */
  readonly share: number;
}

/** Places that are mirrored while one searches, and once one is near. */
const [FEW, MANY] = [250, 8000] as const;
/** Rounds of smoothing before places are compared. */
const SMOOTH = 30;
/** Rounds more for the normals: they feel roughness most. */
const SMOOTHER = 200;
/** Directions tried all round. */
const DIRECTIONS = 140;
/** A pair farther apart than so many times the middle one is none. */
const TRIMMED = 6;

/** Directions spread evenly over half a ball. Source: spherical Fibonacci lattice (R. Swinbank, R. J. Purser, 2006), from memory. */
const spread = (count: number): Vec3[] =>
  Array.from({ length: count }, (_, i) => {
    const z = (i + 0.5) / count;
    const r = Math.sqrt(1 - z * z);
    const a = i * Math.PI * (3 - Math.sqrt(5));
    return [r * Math.cos(a), r * Math.sin(a), z];
  });

/** Places on the facets, each standing for as much area as any other. */
export function evenPlaces(mesh: TriMesh, count: number): Vec3[] {
  const { positions: p, indices } = mesh;
  const areas = new Float64Array(mesh.faceOf.length);
  let whole = 0;
  for (let t = 0; t < areas.length; t++) {
    whole += Math.hypot(...facetVector(mesh, t)) / 2;
    areas[t] = whole;
  }
  const out: Vec3[] = [];
  let t = 0;
  for (let i = 0; i < count; i++) {
    const wanted = ((i + 0.5) / count) * whole;
    while (t < areas.length - 1 && areas[t]! < wanted) t++;
    // Within a facet the shares follow a sequence that leaves no gaps.
    let [u, v] = [(i * 0.7548776662466927) % 1, (i * 0.5698402909980532) % 1];
    if (u + v > 1) [u, v] = [1 - u, 1 - v];
    const [a, b, c] = triple((k) => 3 * indices[3 * t + k]!);
    out.push(triple((k) => p[a + k]! * (1 - u - v) + p[b + k]! * u + p[c + k]! * v));
  }
  return out;
}

/** Places along the longest border, evenly, with the direction across it within the surface, each of the mean of those around. */
function rimOf(mesh: TriMesh, borders: readonly Border[]): { readonly place: Vec3; readonly out: Vec3 }[] {
  const border = borders[0];
  if (!border || border.vertices.length < 3 * AROUND) return [];
  const normals = vertexNormals(mesh);
  const n = border.vertices.length;
  const mean = (f: (v: number) => Vec3, i: number): Vec3 =>
    triple(
      (k) =>
        Array.from({ length: 2 * AROUND + 1 }, (_, d) => f(border.vertices[(i + d - AROUND + n) % n]!)[k]).reduce((a, b) => a + b, 0) /
        (2 * AROUND + 1),
    );
  const even = border.vertices.map((_, i) => mean((v) => placeOf(mesh, v), i));
  return even.flatMap((place, i) => {
    const along = minus(even[(i + AROUND) % n]!, even[(i + n - AROUND) % n]!);
    const out = unit(
      cross(
        along,
        mean((v) => triple((k) => normals[3 * v + k]!), i),
      ),
    );
    return out ? [{ place, out }] : [];
  });
}

/** Places of a border either side of one, by which it is made even. */
const AROUND = 3;

const mirrored = (p: Vec3, at: Vec3, n: Vec3): Vec3 => along(p, n, -2 * dot(minus(p, at), n));

interface Pair {
  readonly place: Vec3;
  readonly image: Vec3;
  readonly near: Vec3;
  readonly normal: Vec3;
  readonly gap: number;
}

/** Searched for all round. */
export function middlePlane(scan: TriMesh): MiddlePlane | undefined {
  if (scan.faceOf.length < 20) return undefined;
  // Normals of rough facets lead astray: what is compared is smooth, the same on both sides.
  const { mesh } = smoothed(scan, SMOOTH);
  const bvh = sharedBvh(mesh);
  const normals = triangleNormals(smoothed(mesh, SMOOTHER).mesh);
  // Smoothing leaves the borders where they are.
  const { borders } = topologyOf(scan);
  const rim = new Uint8Array(mesh.positions.length / 3);
  for (const b of borders) for (const v of b.vertices) rim[v] = 1;
  const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
  const all = evenPlaces(mesh, MANY);
  const few = all.filter((_, i) => i % Math.floor(MANY / FEW) === 0);
  const centre = triple((k) => all.reduce((s, p) => s + p[k]!, 0) / all.length);
  const size = Math.sqrt(all.reduce((s, p) => s + dot(minus(p, centre), minus(p, centre)), 0) / all.length);
  /** The partner of a place: none where the nearest lies at a border, which is where the scan ends. */
  const pairOf = (place: Vec3, at: Vec3, n: Vec3): Pair | undefined => {
    const image = mirrored(place, at, n);
    closestOpposing(bvh, ...image, 0, 0, 1, 1, size, hit);
    if (hit.triangle < 0) return undefined;
    const t = hit.triangle;
    if ([0, 1, 2].some((k) => rim[mesh.indices[3 * t + k]!])) return undefined;
    return {
      place,
      image,
      near: [hit.x, hit.y, hit.z],
      normal: [normals[3 * t]!, normals[3 * t + 1]!, normals[3 * t + 2]!],
      gap: hit.distance,
    };
  };
  const within = (found: readonly Pair[]): Pair[] => {
    const middle = found.map((p) => p.gap).toSorted((a, b) => a - b)[Math.floor(found.length / 2)] ?? 0;
    return found.filter((p) => p.gap <= TRIMMED * middle + 1e-9);
  };
  const pairs = (places: readonly Vec3[], at: Vec3, n: Vec3): Pair[] =>
    within(places.map((p) => pairOf(p, at, n)).filter((p) => p !== undefined));
  const rims = rimOf(scan, borders);
  /** Partners along the longest border, which says most where the part is nearly flat: across it, within the surface. */
  const rimPairs = (at: Vec3, n: Vec3): Pair[] =>
    within(
      rims.flatMap(({ place }): Pair[] => {
        const image = mirrored(place, at, n);
        const near = rims.reduce((a, b) => (distance(b.place, image) < distance(a.place, image) ? b : a));
        const normal = near.out;
        return [
          {
            place,
            image,
            near: near.place,
            normal,
            gap: Math.abs(dot(minus(image, near.place), normal)) + distance(image, near.place) / 20,
          },
        ];
      }),
    );
  /** How bad a plane is: the mean of what its images lie off, each up to a tenth of the size. */
  const cost = (at: Vec3, n: Vec3): number =>
    few.reduce((s, p) => {
      closestOpposing(bvh, ...mirrored(p, at, n), 0, 0, 1, 1, size / 10, hit);
      return s + hit.distance ** 2;
    }, 0);
  /** The plane that carries places to their partners best. */
  const byPlaces = (found: readonly Pair[]): { at: Vec3; normal: Vec3 } => {
    const mean = (f: (p: Pair) => Vec3): Vec3 => triple((k) => found.reduce((s, p) => s + f(p)[k]!, 0) / found.length);
    const [p0, q0] = [mean((p) => p.place), mean((p) => p.near)];
    const m = [0, 1, 2].map((i) =>
      [0, 1, 2].map((j) =>
        found.reduce((s, p) => {
          const [a, b] = [minus(p.place, p0), minus(p.near, q0)];
          return s + (a[i]! * b[j]! + a[j]! * b[i]!) / 2;
        }, 0),
      ),
    );
    return { at: triple((k) => (p0[k] + q0[k]) / 2), normal: axesOf(m)[0]!.axis };
  };
  /** One step of least squares on how far images lie off the facets they are nearest to: places may slide along. */
  const byPlanes = (found: readonly Pair[], at: Vec3, n: Vec3): { at: Vec3; normal: Vec3 } => {
    const e1 = unit(cross(n, Math.abs(n[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]))!;
    const e2 = cross(n, e1);
    const rows = [0, 1, 2].map(() => [0, 0, 0]);
    const rhs = [0, 1, 2].map(() => [0] as number[]);
    for (const { place, image, near, normal } of found) {
      const d = minus(place, at);
      const h = dot(d, n);
      // The image moves by −2 (h · dn + (d · dn) n) when the normal turns, by 2n when the plane moves out by one.
      const by = (dn: Vec3): number => -2 * (h * dot(dn, normal) + dot(d, dn) * dot(n, normal));
      const j = [by(e1), by(e2), 2 * dot(n, normal)];
      const off = dot(minus(image, near), normal);
      for (let a = 0; a < 3; a++) {
        for (let b = 0; b < 3; b++) rows[a]![b] = rows[a]![b]! + j[a]! * j[b]!;
        rhs[a]![0] = rhs[a]![0]! - j[a]! * off;
      }
    }
    // What the shape does not say stays as it is.
    const most = Math.max(rows[0]![0]!, rows[1]![1]!, rows[2]![2]! * size * size);
    rows[0]![0] = rows[0]![0]! + 1e-9 * most;
    rows[1]![1] = rows[1]![1]! + 1e-9 * most;
    rows[2]![2] = rows[2]![2]! + (1e-9 * most) / (size * size);
    const [a, b, c] = solveDense(rows, rhs).map((r) => r[0]!) as [number, number, number];
    return { at: along(at, n, c), normal: unit(along(along(n, e1, a), e2, b)) ?? n };
  };
  const better = (from: { at: Vec3; normal: Vec3 }, places: readonly Vec3[], rounds: number, slide: boolean) => {
    let now = from;
    for (let i = 0; i < rounds; i++) {
      const inner = pairs(places, now.at, now.normal);
      const found = slide && places === all ? [...inner, ...rimPairs(now.at, now.normal)] : inner;
      if (found.length < 12) break;
      const next = slide ? byPlanes(found, now.at, now.normal) : byPlaces(found);
      const turn = Math.abs(dot(next.normal, now.normal));
      const moved = Math.abs(dot(minus(next.at, now.at), now.normal));
      now = next;
      if (turn > 1 - 1e-12 && moved < 1e-6 * size) break;
    }
    return now;
  };
  const begin = [...axesOf(momentsOf(all.map((p) => minus(p, centre)))).map((a) => a.axis), ...spread(DIRECTIONS)]
    .map((normal) => ({ at: centre, normal, cost: cost(centre, normal) }))
    .toSorted((a, b) => a.cost - b.cost)
    .slice(0, 8);
  const near = begin
    .map((b) => better(better(b, few, 12, false), few, 12, true))
    .map((b) => ({ ...b, cost: cost(b.at, b.normal) }))
    .toSorted((a, b) => a.cost - b.cost)[0];
  if (!near) return undefined;
  const last = better(near, all, 40, true);
  const found = pairs(all, last.at, last.normal);
  if (found.length < 12) return undefined;
  const off = found.map((p) => dot(minus(p.image, p.near), p.normal));
  // Of places that are told apart by turning round, the one that points to the right, back or up.
  const s = [...last.normal].find((x) => Math.abs(x) > 0.3)! < 0 ? -1 : 1;
  return {
    at: last.at,
    normal: triple((k) => s * last.normal[k]!),
    residual: Math.sqrt(off.reduce((a, d) => a + d * d, 0) / off.length),
    share: found.length / all.length,
  };
}
