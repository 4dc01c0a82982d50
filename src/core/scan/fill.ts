/** Fills holes of a mesh: flat, or bending on from the facets around. */
import { cross, distance, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import type { TriMesh } from '../mesh/mesh';
import { fail, ok, type Result } from '../result';
import { after, type Border, facetVector, placeOf, topologyOf } from './topology';

export type FillKind = 'flat' | 'curved';

/** A hole of more edges is not triangulated: it is a border, or the scan has to be parted first. */
const MOST_EDGES = 260;

/**
 * The triangulation of a closed line of places that bends least and then has the least area.
 * Source: G. Barequet, M. Sharir, "Filling gaps in the boundary of a polyhedron" (1995); P. Liepa, "Filling holes in meshes" (2003), from memory.
 * @param beside the normals of the facets beyond each edge
 */
function covered(places: readonly Vec3[], beside: readonly Vec3[]): [number, number, number][] {
  const n = places.length;
  const normal = (a: number, b: number, c: number): Vec3 =>
    unit(cross(minus(places[b]!, places[a]!), minus(places[c]!, places[a]!))) ?? [0, 0, 0];
  const area = (a: number, b: number, c: number): number =>
    Math.hypot(...cross(minus(places[b]!, places[a]!), minus(places[c]!, places[a]!))) / 2;
  const bend = new Float64Array(n * n);
  const sum = new Float64Array(n * n);
  const mid = new Int32Array(n * n).fill(-1);
  const turned = (u: Vec3, v: Vec3): number =>
    u[0] === 0 && u[1] === 0 && u[2] === 0 ? Math.PI : Math.acos(Math.max(-1, Math.min(1, dot(u, v))));
  for (let span = 2; span < n; span++)
    for (let a = 0; a + span < n; a++) {
      const c = a + span;
      const key = a * n + c;
      bend[key] = Number.POSITIVE_INFINITY;
      for (let b = a + 1; b < c; b++) {
        const own = normal(a, b, c);
        const left = b - a === 1 ? beside[a]! : normal(a, mid[a * n + b]!, b);
        const right = c - b === 1 ? beside[b]! : normal(b, mid[b * n + c]!, c);
        let most = Math.max(bend[a * n + b]!, bend[b * n + c]!, turned(own, left), turned(own, right));
        if (a === 0 && c === n - 1) most = Math.max(most, turned(own, beside[n - 1]!));
        const whole = sum[a * n + b]! + sum[b * n + c]! + area(a, b, c);
        if (most < bend[key]! - 1e-9 || (most < bend[key]! + 1e-9 && whole < sum[key]!)) {
          bend[key] = most;
          sum[key] = whole;
          mid[key] = b;
        }
      }
    }
  const out: [number, number, number][] = [];
  const open: [number, number][] = [[0, n - 1]];
  for (let span = open.pop(); span; span = open.pop()) {
    const [a, c] = span;
    if (c - a < 2) continue;
    const b = mid[a * n + c]!;
    out.push([a, b, c]);
    open.push([a, b], [b, c]);
  }
  return out;
}

/** A mesh that grows and changes while a hole is filled. */
interface Patch {
  readonly places: Vec3[];
  facets: [number, number, number][];
  /** How far the corners lie apart that are wanted at each. */
  readonly apart: number[];
}

const edgeKey = (a: number, b: number): string => (a < b ? `${a} ${b}` : `${b} ${a}`);

/** Edges inside a patch are turned where their opposite corners lie nearer: what comes is as even as it can be. */
function evened(p: Patch): boolean {
  const at = new Map<string, number[]>();
  p.facets.forEach((f, t) => {
    for (let k = 0; k < 3; k++) {
      const key = edgeKey(f[k]!, f[(k + 1) % 3]!);
      at.set(key, [...(at.get(key) ?? []), t]);
    }
  });
  const touched = new Set<number>();
  let any = false;
  for (const [key, facets] of at) {
    if (facets.length !== 2 || facets.some((t) => touched.has(t))) continue;
    const [a, b] = key.split(' ').map(Number) as [number, number];
    const [s, t] = facets as [number, number];
    const c = p.facets[s]!.find((v) => v !== a && v !== b)!;
    const d = p.facets[t]!.find((v) => v !== a && v !== b)!;
    if (at.has(edgeKey(c, d))) continue;
    const angle = (o: number): number => {
      const [u, v] = [unit(minus(p.places[a]!, p.places[o]!)), unit(minus(p.places[b]!, p.places[o]!))];
      return u && v ? Math.acos(Math.max(-1, Math.min(1, dot(u, v)))) : 0;
    };
    if (angle(c) + angle(d) < Math.PI + 1e-6) continue;
    const i = p.facets[s]!.indexOf(a);
    const forward = p.facets[s]![(i + 1) % 3] === b;
    const [from, to] = forward ? [a, b] : [b, a];
    p.facets[s] = [c, from, d];
    p.facets[t] = [d, to, c];
    touched.add(s).add(t);
    any = true;
  }
  return any;
}

/** Facets are parted at their middles until they are as fine as those around. */
function refined(p: Patch, most: number): void {
  for (let round = 0; round < 40; round++) {
    let any = false;
    const next: [number, number, number][] = [];
    for (const f of p.facets) {
      const centre = triple((k) => (p.places[f[0]]![k] + p.places[f[1]]![k] + p.places[f[2]]![k]) / 3);
      const wanted = (p.apart[f[0]]! + p.apart[f[1]]! + p.apart[f[2]]!) / 3;
      const coarse = f.every(
        (v) => Math.SQRT2 * distance(centre, p.places[v]!) > wanted && Math.SQRT2 * distance(centre, p.places[v]!) > p.apart[v]!,
      );
      if (!coarse || p.places.length >= most) {
        next.push(f);
        continue;
      }
      const m = p.places.push(centre) - 1;
      p.apart.push(wanted);
      next.push([f[0], f[1], m], [f[1], f[2], m], [f[2], f[0], m]);
      any = true;
    }
    p.facets = next;
    for (let k = 0; k < 20 && evened(p); k++);
    if (!any) return;
  }
}

/** Weights of the edges of a mesh by the angles across them, and what each corner stands for, mm². Source: U. Pinkall, K. Polthier (1993), from memory. */
function cotangents(places: readonly Vec3[], facets: readonly (readonly [number, number, number])[]) {
  const rows: Map<number, number>[] = places.map(() => new Map());
  const mass = new Float64Array(places.length);
  for (const f of facets)
    for (let k = 0; k < 3; k++) {
      const [o, a, b] = [f[k]!, f[(k + 1) % 3]!, f[(k + 2) % 3]!];
      const [u, v] = [minus(places[a]!, places[o]!), minus(places[b]!, places[o]!)];
      const twice = Math.hypot(...cross(u, v));
      mass[o]! += twice / 6;
      // A sliver would outweigh all others.
      const w = Math.max(-5, Math.min(20, dot(u, v) / Math.max(twice, 1e-9))) / 2;
      rows[a]!.set(b, (rows[a]!.get(b) ?? 0) + w);
      rows[b]!.set(a, (rows[b]!.get(a) ?? 0) + w);
    }
  return { rows, mass };
}

/** Solves a symmetric system for the free entries of x, the others given (conjugate gradients: M. R. Hestenes, E. Stiefel, 1952). */
function settled(operate: (x: Float64Array) => Float64Array, right: Float64Array, x: Float64Array, free: ReadonlySet<number>): void {
  const n = x.length;
  const masked = (v: Float64Array): Float64Array => v.map((z, i) => (free.has(i) ? z : 0));
  const first = operate(x);
  const r = masked(right.map((z, i) => z - first[i]!));
  const way = r.slice();
  let rr = r.reduce((s, z) => s + z * z, 0);
  const enough = rr * 1e-18;
  for (let i = 0; i < 3 * free.size + 60 && rr > enough && rr > 1e-24; i++) {
    const a = masked(operate(way));
    const alpha = rr / way.reduce((s, z, j) => s + z * a[j]!, 0);
    if (!Number.isFinite(alpha)) return;
    for (let v = 0; v < n; v++) {
      x[v] = x[v]! + alpha * way[v]!;
      r[v] = r[v]! - alpha * a[v]!;
    }
    const next = r.reduce((s, z) => s + z * z, 0);
    for (let v = 0; v < n; v++) way[v] = r[v]! + (next / rr) * way[v]!;
    rr = next;
  }
}

const [BENT, ROUND] = [2, 14] as const;

/**
 * Moves the free corners so that the surface bends on evenly from what is held. First the bi-Laplacian of the place vanishes, which meets the surface
 * around without a crease; then the mean curvature is carried in from around and the places follow it, so that a ball goes on as a ball.
 * Source: M. Botsch, L. Kobbelt, "An intuitive framework for real-time freeform modeling" (2004); R. Schneider, L. Kobbelt, "Geometric fairing of
 * irregular meshes for free-form surface design" (2001); both from memory.
 * @param free the corners that may move; the others are held
 * @param rim the corners the hole begins at
 */
function faired(
  places: Vec3[],
  facets: readonly (readonly [number, number, number])[],
  free: ReadonlySet<number>,
  rim: ReadonlySet<number>,
): void {
  const n = places.length;
  const laplacian =
    (rows: readonly ReadonlyMap<number, number>[]) =>
    (x: Float64Array): Float64Array =>
      Float64Array.from(rows, (row, v) => {
        let s = 0;
        for (const [o, w] of row) s += w * (x[v]! - x[o]!);
        return s;
      });
  const column = (k: 0 | 1 | 2): Float64Array => Float64Array.from(places, (p) => p[k]);
  const put = (k: 0 | 1 | 2, x: Float64Array): void => {
    for (const v of free) {
      const p = [...places[v]!] as [number, number, number];
      p[k] = x[v]!;
      places[v] = p;
    }
  };
  for (let round = 0; round < BENT; round++) {
    const { rows, mass } = cotangents(places, facets);
    const l = laplacian(rows);
    // A corner has a curvature only where all its facets are there.
    const whole = new Uint8Array(n);
    for (const v of free) {
      whole[v] = 1;
      for (const o of rows[v]!.keys()) whole[o] = 1;
    }
    for (const k of [0, 1, 2] as const) {
      const x = column(k);
      settled((y) => l(l(y).map((z, v) => (whole[v] ? z / Math.max(mass[v]!, 1e-9) : 0))), new Float64Array(n), x, free);
      put(k, x);
    }
  }
  // Just beside the hole the surface is as it was: its curvature there is what goes on.
  const beside = new Set<number>();
  for (const f of facets) if (f.some((v) => rim.has(v))) for (const v of f) if (!rim.has(v) && !free.has(v)) beside.add(v);
  const inside = new Set([...free, ...rim]);
  const bends = new Float64Array(n);
  for (let round = 0; round < ROUND; round++) {
    const { rows, mass } = cotangents(places, facets);
    const l = laplacian(rows);
    const vectors = places.map((): [number, number, number] => [0, 0, 0]);
    for (const [a, b, c] of facets) {
      const t = cross(minus(places[b]!, places[a]!), minus(places[c]!, places[a]!));
      for (const v of [a, b, c]) vectors[v] = triple((k) => vectors[v]![k] + t[k]!);
    }
    const normals = vectors.map((v) => unit(v) ?? ([0, 0, 0] as const));
    if (round === 0) {
      const [x, y, z] = [0, 1, 2].map((k) => l(column(k as 0 | 1 | 2))) as [Float64Array, Float64Array, Float64Array];
      const own = new Map([...beside].map((v) => [v, dot([x[v]!, y[v]!, z[v]!], normals[v]!) / Math.max(mass[v]!, 1e-9)]));
      // Single places of a scan are rough: each has the mean of those beside it.
      for (const v of beside) {
        const near = [v, ...rows[v]!.keys()].flatMap((o) => own.get(o) ?? []);
        bends[v] = near.reduce((s, w) => s + w, 0) / near.length;
      }
    }
    const curvature = bends.slice();
    settled(l, new Float64Array(n), curvature, inside);
    for (const k of [0, 1, 2] as const) {
      const x = column(k);
      settled(
        l,
        Float64Array.from(normals, (m, v) => curvature[v]! * mass[v]! * m[k]!),
        x,
        free,
      );
      put(k, x);
    }
  }
}

/** A hole can't be filled, and why. */
export interface FillFailure {
  readonly at: Vec3;
  readonly why: string;
}

/**
 * Fills holes; what is added has facets of its own face.
 * @param face the number of the face the new facets are of
 * @returns the mesh with them, or the first hole that can't be filled
 */
export function filled(mesh: TriMesh, borders: readonly Border[], kind: FillKind, face: number): Result<TriMesh, FillFailure> {
  const places: number[] = [];
  const indices: number[] = [];
  const { across } = topologyOf(mesh);
  /** The facet beside each open edge, by the vertex it begins at. */
  const besides = new Map<string, number>();
  for (let h = 0; h < across.length; h++)
    if (across[h]! < 0) besides.set(`${mesh.indices[h]!} ${mesh.indices[after(h)]!}`, Math.floor(h / 3));
  const at = facetsAt(mesh);
  const corners = (t: number): [number, number, number] => triple((k) => mesh.indices[3 * t + k]!);
  const count = mesh.positions.length / 3;
  for (const border of borders) {
    const n = border.vertices.length;
    if (n > MOST_EDGES) return fail({ at: border.centre, why: `it has ${n} edges; holes of up to ${MOST_EDGES} are filled` });
    if (new Set(border.vertices).size < n) return fail({ at: border.centre, why: 'its border touches itself' });
    // What fills it runs the other way round.
    const loop = border.vertices.toReversed();
    const line = loop.map((v) => placeOf(mesh, v));
    const beside = loop.map((v, i): Vec3 => {
      const t = besides.get(`${loop[(i + 1) % n]} ${v}`)!;
      return kind === 'flat' ? border.normal : (unit(facetVector(mesh, t)) ?? border.normal);
    });
    const apart = line.map((p, i) => (distance(p, line[(i + 1) % n]!) + distance(p, line[(i + n - 1) % n]!)) / 2);
    const patch: Patch = { places: line, facets: covered(line, beside), apart };
    for (let k = 0; k < 40 && evened(patch); k++);
    refined(patch, n + 20_000);
    const added = patch.places.length - n;
    if (kind === 'curved' && added > 0) {
      // Two rows of the facets around are held: they say where the surface comes from.
      const rim = new Map<number, number>(loop.map((v, i) => [v, i]));
      const held: number[] = [];
      for (let row = 0, now: readonly number[] = loop; row < 2; row++) {
        const next = new Set(now.flatMap((v) => [...at(v)].flatMap(corners)).filter((v) => !rim.has(v)));
        for (const v of next) {
          rim.set(v, patch.places.length + held.length);
          held.push(v);
        }
        now = [...next];
      }
      const whole = [...patch.places, ...held.map((v) => placeOf(mesh, v))];
      const near = new Set([...rim.keys()].flatMap((v) => [...at(v)]));
      const outside = [...near].map(corners).flatMap((f): [number, number, number][] => {
        const own = f.map((v) => rim.get(v));
        return own.every((v) => v !== undefined) ? [own as [number, number, number]] : [];
      });
      const free = new Set(Array.from({ length: added }, (_, i) => n + i));
      faired(whole, [...patch.facets, ...outside], free, new Set(loop.keys()));
      for (const v of free) patch.places[v] = whole[v]!;
    }
    if (patch.places.some((p) => !p.every(Number.isFinite))) return fail({ at: border.centre, why: 'what fills it does not settle' });
    const first = count + places.length / 3;
    for (const p of patch.places.slice(n)) places.push(...p);
    for (const f of patch.facets) for (const v of f) indices.push(v < n ? loop[v]! : first + v - n);
  }
  return ok({
    positions: Float64Array.from([...mesh.positions, ...places]),
    indices: Uint32Array.from([...mesh.indices, ...indices]),
    faceOf: Uint32Array.from([...mesh.faceOf, ...new Array<number>(indices.length / 3).fill(face)]),
  });
}

/** The facets at each vertex. */
function facetsAt(mesh: TriMesh): (v: number) => Uint32Array {
  const from = new Uint32Array(mesh.positions.length / 3 + 1);
  for (const v of mesh.indices) from[v + 1]!++;
  for (let v = 1; v < from.length; v++) from[v] = from[v]! + from[v - 1]!;
  const at = from.slice();
  const list = new Uint32Array(mesh.indices.length);
  mesh.indices.forEach((v, i) => {
    list[at[v]!++] = Math.floor(i / 3);
  });
  return (v) => list.subarray(from[v]!, from[v + 1]!);
}
