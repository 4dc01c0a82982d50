/**
 * The smooth limit of a net: under its vertices by masks, and position, normal and curvature anywhere on a face by refining about it until it
 * is a plain bicubic patch.
 */
import { cross, dot, triple } from '../geometry/vectors';
import { faceCount, isQuads, type Net, type P3, ringAt, ringsOf, vertexCount } from './cage';
import { byVertex, direction, limitNormal, limitPlaces, opposite } from './masks';
import { levelsToSettle, refine } from './refine';

/** A net to refine and to read limits from: quads only, and no crease fading. */
export function settled(net: Net): { net: Net; levels: number } {
  let [out, levels] = [net, 0];
  const least = Math.max(levelsToSettle(net), isQuads(net) ? 0 : 1);
  while (levels < least) {
    out = refine(out);
    levels++;
  }
  return { net: out, levels };
}

/** Limit places and normals under the vertices of a net of any faces. */
export function vertexLimits(net: Net): { places: Float64Array; normals: Float64Array } {
  const { net: fine } = settled(net);
  const all = limitPlaces(fine);
  const n = vertexCount(net);
  const rings = ringsOf(fine);
  const normals = new Float64Array(3 * n);
  for (let v = 0; v < n; v++) normals.set(limitNormal(fine, v, rings[v]!), 3 * v);
  return { places: all.slice(0, 3 * n), normals };
}

export interface LimitPoint {
  readonly point: P3;
  readonly normal: P3;
  /** Principal curvatures, 1/mm, positive where convex, largest first; null at a place where they have no bounds or are not known. */
  readonly curvatures: readonly [number, number] | null;
}

/** How deep a face is refined about a place that stays beside something irregular. */
const DEEPEST = 15;

/**
 * The limit on a face of a net.
 * @param corner which sub-quad of the face: the one at this corner
 * @param s from the corner towards the next one, 1 at the middle of the edge; @param t towards the one before
 */
export function limitOn(net: Net, face: number, corner: number, s: number, t: number): LimitPoint {
  const local = neighbourhood(net, face);
  const fine = refine(local.net);
  return descend(fine, local.net.start[local.face]! + corner, s, t, 1);
}

/** The limit on a quad: u from its first corner to the second, v from the first to the fourth. */
export function limitAt(net: Net, face: number, u: number, v: number): LimitPoint {
  const local = neighbourhood(net, face);
  return descend(local.net, local.face, u, v, 0);
}

function descend(start: Net, startFace: number, startU: number, startV: number, startDepth: number): LimitPoint {
  let [net, face, u, v] = [start, startFace, startU, startV];
  for (let depth = startDepth; ; depth++) {
    const patch = regularPatch(net, face);
    if (patch) return onPatch(patch, u, v);
    if (depth >= DEEPEST) return onCorners(net, face, u, v);
    const local = neighbourhood(net, face);
    const fine = refine(local.net);
    const c = local.net.start[local.face]!;
    // The quarter it lies in, as that quarter runs: from its corner to the next and to the one before.
    const [right, upper] = [u > 0.5, v > 0.5];
    if (!right && !upper) [face, u, v] = [c, 2 * u, 2 * v];
    else if (right && !upper) [face, u, v] = [c + 1, 2 * v, 2 * (1 - u)];
    else if (right) [face, u, v] = [c + 2, 2 * (1 - u), 2 * (1 - v)];
    else [face, u, v] = [c + 3, 2 * (1 - v), 2 * u];
    net = fine;
  }
}

/** The faces about a face as a net of their own: all that its limit depends on. */
function neighbourhood(net: Net, face: number): { net: Net; face: number } {
  const mine = new Set<number>();
  for (let c = net.start[face]!; c < net.start[face + 1]!; c++) mine.add(net.vertex[c]!);
  const about = [...facesAbout(net, mine)];
  const index = new Map<number, number>();
  const edges = new Map<number, number>();
  const start = new Uint32Array(about.length + 1);
  const [vertex, edge]: [number[], number[]] = [[], []];
  about.forEach((f, i) => {
    for (let c = net.start[f]!; c < net.start[f + 1]!; c++) {
      const v = net.vertex[c]!;
      if (!index.has(v)) index.set(v, index.size);
      const e = net.edge[c]!;
      if (!edges.has(e)) edges.set(e, edges.size);
      vertex.push(index.get(v)!);
      edge.push(edges.get(e)!);
    }
    start[i + 1] = vertex.length;
  });
  const places = new Float64Array(3 * index.size);
  const corner = new Float64Array(index.size);
  for (const [v, i] of index) {
    for (let k = 0; k < 3; k++) places[3 * i + k] = net.places[3 * v + k]!;
    corner[i] = net.corner[v]!;
  }
  const local = new Map(about.map((f, i) => [f, i]));
  const ends = new Uint32Array(2 * edges.size);
  const sides = new Int32Array(2 * edges.size).fill(-1);
  const crease = new Float64Array(edges.size);
  for (const [e, i] of edges) {
    ends[2 * i] = index.get(net.ends[2 * e]!)!;
    ends[2 * i + 1] = index.get(net.ends[2 * e + 1]!)!;
    crease[i] = net.crease[e]!;
    const two = [net.sides[2 * e]!, net.sides[2 * e + 1]!].map((f) => (f < 0 ? undefined : local.get(f))).filter((f) => f !== undefined);
    two.forEach((f, k) => {
      sides[2 * i + k] = f;
    });
  }
  return {
    net: { places, start, vertex: Uint32Array.from(vertex), edge: Uint32Array.from(edge), ends, sides, crease, corner },
    face: local.get(face)!,
  };
}

function facesAbout(net: Net, vertices: ReadonlySet<number>): Set<number> {
  const out = new Set<number>();
  const known = byVertex(net);
  for (const v of vertices) for (const f of known[v]!) out.add(f);
  return out;
}

/** The sixteen control points of a quad whose neighbourhood is plain, row by row along v. */
function regularPatch(net: Net, face: number): P3[] | undefined {
  const c = net.start[face]!;
  if (net.start[face + 1]! - c !== 4) return undefined;
  const known = byVertex(net);
  const corners = [0, 1, 2, 3].map((k) => net.vertex[c + k]!);
  for (const v of corners) {
    const faces = known[v]!;
    if (faces.length !== 4 || net.corner[v]! > 0) return undefined;
    let ends = 0;
    for (const f of faces) {
      const d = net.start[f]!;
      if (net.start[f + 1]! - d !== 4) return undefined;
      for (let k = 0; k < 4; k++) {
        if (net.vertex[d + k] !== v) continue;
        const [e, back] = [net.edge[d + k]!, net.edge[d + ((k + 3) & 3)]!];
        if (net.crease[e]! > 0 || net.crease[back]! > 0) return undefined;
        ends++;
      }
    }
    if (ends !== 4) return undefined;
  }
  // Where each of the sixteen lies: found from the ring of the corner nearest to it.
  const grid = new Array<number>(16);
  const put = (i: number, j: number, v: number): void => {
    grid[4 * j + i] = v;
  };
  for (const [k, [ci, cj, du, dv]] of (
    [
      [1, 1, -1, -1],
      [2, 1, 1, -1],
      [2, 2, 1, 1],
      [1, 2, -1, 1],
    ] as const
  ).entries()) {
    const v = corners[k]!;
    put(ci, cj, v);
    const ring = ringAt(net, v, face);
    if (ring.border || ring.near.length !== 4) return undefined;
    // Edge 0 leads to the next corner of the face and the ring runs counter-clockwise, so edges 2 and 3 lead away from the face.
    const [two, three] = [ring.near[2]!, ring.near[3]!];
    const across = opposite(net, ring.faces[2]!, v);
    const along = k % 2 === 0;
    // Away from the face: edge 2 goes on from the next corner, edge 3 from the one before.
    if (along) {
      put(ci + du, cj, two);
      put(ci, cj + dv, three);
    } else {
      put(ci, cj + dv, two);
      put(ci + du, cj, three);
    }
    put(ci + du, cj + dv, across);
  }
  return grid.map((v) => [net.places[3 * v]!, net.places[3 * v + 1]!, net.places[3 * v + 2]!] as const);
}

/** Uniform cubic B-spline weights with first and second derivatives. */
function weights(t: number): [number[], number[], number[]] {
  const s = 1 - t;
  return [
    [s ** 3 / 6, (3 * t ** 3 - 6 * t ** 2 + 4) / 6, (-3 * t ** 3 + 3 * t ** 2 + 3 * t + 1) / 6, t ** 3 / 6],
    [-(s ** 2) / 2, (3 * t ** 2 - 4 * t) / 2, (-3 * t ** 2 + 2 * t + 1) / 2, t ** 2 / 2],
    [s, 3 * t - 2, -3 * t + 1, t],
  ];
}

function onPatch(points: readonly P3[], u: number, v: number): LimitPoint {
  const [a, b] = [weights(u), weights(v)];
  const sum = (i: number, j: number): P3 => {
    const out: [number, number, number] = [0, 0, 0];
    for (let r = 0; r < 4; r++)
      for (let c = 0; c < 4; c++) {
        const w = a[i]![c]! * b[j]![r]!;
        const q = points[4 * r + c]!;
        for (let k = 0; k < 3; k++) out[k] = out[k]! + w * q[k]!;
      }
    return out;
  };
  const [du, dv] = [sum(1, 0), sum(0, 1)];
  const normal = direction(cross(du, dv));
  const [E, F, G] = [dot(du, du), dot(du, dv), dot(dv, dv)];
  const [L, M, N] = [sum(2, 0), sum(1, 1), sum(0, 2)].map((d) => dot(d, normal)) as [number, number, number];
  const det = E * G - F * F;
  if (!(det > 1e-18 * (E + G) ** 2)) return { point: sum(0, 0), normal, curvatures: null };
  const mean = (E * N - 2 * F * M + G * L) / (2 * det);
  const root = Math.sqrt(Math.max(0, mean * mean - (L * N - M * M) / det));
  return { point: sum(0, 0), normal, curvatures: [root - mean, -mean - root] };
}

/** Between the limits under the corners of a face that has become tiny. */
function onCorners(net: Net, face: number, u: number, v: number): LimitPoint {
  const c = net.start[face]!;
  const all = limitPlaces(net);
  const corners = [0, 1, 2, 3].map((k) => net.vertex[c + k]!);
  const w = [(1 - u) * (1 - v), u * (1 - v), u * v, (1 - u) * v];
  const mix = (of: (i: number) => P3): P3 => triple((k) => w.reduce((sum, x, i) => sum + x * of(i)[k]!, 0));
  const point = mix((i) => [all[3 * corners[i]!]!, all[3 * corners[i]! + 1]!, all[3 * corners[i]! + 2]!]);
  const normals = corners.map((o) => {
    const known = byVertex(net)[o]!;
    const begin = known.find((f) => {
      for (let q = net.start[f]!; q < net.start[f + 1]!; q++) if (net.vertex[q] === o) return net.sides[2 * net.edge[q]! + 1]! < 0;
      return false;
    });
    const ring = ringAt(net, o, begin ?? face);
    return limitNormal(net, o, ring, ring.faces.indexOf(face));
  });
  return { point, normal: direction(mix((i) => normals[i]!)), curvatures: null };
}

/** The limit as triangles, so many levels finer than the cage. Indices, and three coordinates a vertex for places and normals. */
export function limitMesh(
  net: Net,
  levels: number,
): { places: Float64Array; normals: Float32Array; indices: Uint32Array; faceOf: Uint32Array } {
  let fine = net;
  let from: Uint32Array | undefined;
  const least = Math.max(levels, levelsToSettle(net), isQuads(net) ? 0 : 1);
  for (let k = 0; k < least; k++) {
    const parents = new Uint32Array(fine.vertex.length);
    for (let f = 0; f < faceCount(fine); f++) parents.fill(from ? from[f]! : f, fine.start[f], fine.start[f + 1]);
    from = parents;
    fine = refine(fine);
  }
  const places = limitPlaces(fine);
  const m = faceCount(fine);
  const indices = new Uint32Array(6 * m);
  const faceOf = new Uint32Array(2 * m);
  const normals = new Float32Array(places.length);
  for (let f = 0; f < m; f++) {
    const c = 4 * f;
    const [a, b, d, e] = [fine.vertex[c]!, fine.vertex[c + 1]!, fine.vertex[c + 2]!, fine.vertex[c + 3]!];
    indices[6 * f] = a;
    indices[6 * f + 1] = b;
    indices[6 * f + 2] = d;
    indices[6 * f + 3] = a;
    indices[6 * f + 4] = d;
    indices[6 * f + 5] = e;
    faceOf[2 * f] = faceOf[2 * f + 1] = from ? from[f]! : f;
    const [i, j, k, l] = [3 * a, 3 * b, 3 * d, 3 * e];
    const [ux, uy, uz] = [places[k]! - places[i]!, places[k + 1]! - places[i + 1]!, places[k + 2]! - places[i + 2]!];
    const [vx, vy, vz] = [places[l]! - places[j]!, places[l + 1]! - places[j + 1]!, places[l + 2]! - places[j + 2]!];
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    for (const o of [i, j, k, l]) {
      normals[o]! += x;
      normals[o + 1]! += y;
      normals[o + 2]! += z;
    }
  }
  for (let o = 0; o < normals.length; o += 3) {
    const l = Math.sqrt(normals[o]! ** 2 + normals[o + 1]! ** 2 + normals[o + 2]! ** 2) || 1;
    normals[o]! /= l;
    normals[o + 1]! /= l;
    normals[o + 2]! /= l;
  }
  return { places, normals, indices, faceOf };
}
