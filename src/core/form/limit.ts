/**
 * The smooth limit of a net: places by the masks of Halstead, Kass and DeRose 1993 (creases 1/6, 4/6, 1/6: DeRose, Kass, Truong 1998),
 * tangents by the eigenvectors of refinement (the same; Biermann, Levin, Zorin 2000 for borders; from memory), and position, normal and
 * curvature anywhere on a face by refining about it until it is a plain bicubic patch.
 */
import { edgeCount, faceCount, isQuads, type Net, type P3, type Ring, ringAt, ringsOf, vertexCount } from './cage';
import { levelsToSettle, refine } from './refine';

/** Places of the limit under the vertices of a net of quads whose creases are for good or gone. Three coordinates each. */
export function limitPlaces(net: Net): Float64Array {
  const { places: p, ends, crease, corner, start, vertex } = net;
  const n = vertexCount(net);
  const out = new Float64Array(3 * n);
  const far = new Float64Array(3 * n);
  const sharpFar = new Float64Array(3 * n);
  const count = new Uint16Array(n);
  const sharp = new Uint16Array(n);
  const add = (to: Float64Array, a: number, b: number): void => {
    to[3 * a]! += p[3 * b]!;
    to[3 * a + 1]! += p[3 * b + 1]!;
    to[3 * a + 2]! += p[3 * b + 2]!;
  };
  for (let e = 0; e < edgeCount(net); e++) {
    const a = ends[2 * e]!;
    const b = ends[2 * e + 1]!;
    count[a]!++;
    count[b]!++;
    add(far, a, b);
    add(far, b, a);
    if (crease[e] === 0) continue;
    sharp[a]!++;
    sharp[b]!++;
    add(sharpFar, a, b);
    add(sharpFar, b, a);
  }
  const across = new Float64Array(3 * n);
  for (let f = 0; f < faceCount(net); f++) {
    const c = start[f]!;
    for (let k = 0; k < 4; k++) add(across, vertex[c + k]!, vertex[c + ((k + 2) & 3)]!);
  }
  for (let v = 0; v < n; v++) {
    const k = count[v]!;
    const kind = corner[v]! > 0 || sharp[v]! > 2 ? 2 : sharp[v] === 2 ? 1 : 0;
    for (let c = 3 * v; c < 3 * v + 3; c++) {
      if (kind === 2) out[c] = p[c]!;
      else if (kind === 1) out[c] = (4 * p[c]! + sharpFar[c]!) / 6;
      else out[c] = (k * k * p[c]! + 4 * far[c]! + across[c]!) / (k * (k + 5));
    }
    if (kind === 0 && sharp[v] === 1) out.set(dartPlace(net, v), 3 * v);
  }
  return out;
}

const darts = new Map<number, readonly number[]>();

/**
 * Weights of the limit where a lasting crease ends in a smooth vertex: of the vertex, then of its neighbours from the creased edge round, then
 * of the corners across. What refinement does to the ring about it, carried on until nothing moves.
 */
function dartWeights(n: number): readonly number[] {
  let known = darts.get(n);
  if (known) return known;
  const size = 2 * n + 1;
  const [near, face] = [(i: number) => 1 + ((i + n) % n), (i: number) => 1 + n + ((i + n) % n)];
  const middle = (i: number): number[] => {
    const row = new Array<number>(size).fill(0);
    for (const at of [0, near(i), near(i + 1), face(i)]) row[at]! += 0.25;
    return row;
  };
  const mixed = (...terms: readonly (readonly [number, readonly number[]])[]): number[] =>
    Array.from({ length: size }, (_, i) => terms.reduce((sum, [w, row]) => sum + w * row[i]!, 0));
  const only = (at: number): number[] => Array.from({ length: size }, (_, i) => (i === at ? 1 : 0));
  const rings = Array.from({ length: n }, (_, i) => i);
  const rows = [
    mixed([(n - 2) / n, only(0)], ...rings.flatMap((i) => [[1 / (n * n), only(near(i))] as const, [1 / (n * n), middle(i)] as const])),
    ...rings.map((i) =>
      i === 0
        ? mixed([0.5, only(0)], [0.5, only(near(0))])
        : mixed([0.25, only(0)], [0.25, only(near(i))], [0.25, middle(i)], [0.25, middle(i - 1)]),
    ),
    ...rings.map((i) => middle(i)),
  ];
  let weights = only(0);
  for (let k = 0; k < 120; k++) weights = mixed(...weights.map((w, i) => [w, rows[i]!] as const));
  known = weights;
  darts.set(n, known);
  return known;
}

function dartPlace(net: Net, v: number): P3 {
  const ring = ringAt(net, v, byVertex(net)[v]![0]!);
  const n = ring.faces.length;
  const first = ring.edges.findIndex((e) => net.crease[e]! > 0);
  const weights = dartWeights(n);
  const out: [number, number, number] = [0, 0, 0];
  const put = (w: number, at: number): void => {
    for (let k = 0; k < 3; k++) out[k] = out[k]! + w * net.places[3 * at + k]!;
  };
  put(weights[0]!, v);
  for (let i = 0; i < n; i++) {
    const j = (first + i) % n;
    put(weights[1 + i]!, ring.near[j]!);
    put(weights[1 + n + i]!, opposite(net, ring.faces[j]!, v));
  }
  return out;
}

const minus = (a: P3, b: P3): P3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const cross = (a: P3, b: P3): P3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const unit = (a: P3): P3 => {
  const l = Math.hypot(...a) || 1;
  return [a[0] / l, a[1] / l, a[2] / l];
};

/** Corner of a quad across from a vertex. */
function opposite(net: Net, f: number, v: number): number {
  const c = net.start[f]!;
  for (let k = 0; k < 4; k++) if (net.vertex[c + k] === v) return net.vertex[c + ((k + 2) & 3)]!;
  return v;
}

/** Outward unit normal of the limit at a vertex of a net of quads; of one of its sides, after edge `after` of the ring, where it is sharp. */
export function limitNormal(net: Net, v: number, ring: Ring, after = 0): P3 {
  const at = (i: number): P3 => [net.places[3 * i]!, net.places[3 * i + 1]!, net.places[3 * i + 2]!];
  const sum = (terms: readonly (readonly [number, P3])[]): P3 =>
    terms.reduce<P3>((s, [w, q]) => [s[0] + w * q[0], s[1] + w * q[1], s[2] + w * q[2]], [0, 0, 0]);
  const n = ring.faces.length;
  const face = (i: number): P3 => at(opposite(net, ring.faces[i]!, v));
  const isSharp = (i: number): boolean => net.crease[ring.edges[i]!]! > 0;
  const sharp = ring.edges.map((_, i) => i).filter(isSharp);
  if (net.corner[v]! === 0 && sharp.length < 2 && !ring.border) {
    // The two eigenvectors that refinement shrinks least.
    const a = 1 + Math.cos((2 * Math.PI) / n) + Math.cos(Math.PI / n) * Math.sqrt(2 * (9 + Math.cos((2 * Math.PI) / n)));
    const tangent = (shift: number): P3 =>
      sum(
        ring.near.flatMap((o, i) => {
          const angle = (k: number): number => Math.cos((2 * Math.PI * k) / n - shift);
          return [
            [a * angle(i), at(o)],
            [angle(i) + angle(i + 1), face(i)],
          ] as const;
        }),
      );
    return unit(cross(tangent(0), tangent(Math.PI / 2)));
  }
  // The wedge between the two sharp edges about the side asked for.
  const edges = ring.edges.length;
  let [from, to] = [0, edges - 1];
  if (sharp.length > 0) {
    from = [...sharp].reverse().find((i) => i <= after) ?? (ring.border ? 0 : sharp[sharp.length - 1]! - edges);
    to = sharp.find((i) => i > after) ?? (ring.border ? edges - 1 : sharp[0]! + edges);
  } else if (!ring.border) {
    // A corner without creases: the face itself.
    [from, to] = [after, after + 1];
  }
  const near = (i: number): P3 => at(ring.near[((i % edges) + edges) % edges]!);
  const wedge = (i: number): P3 => face(((i % n) + n) % n);
  const k = to - from - 1;
  const p = at(v);
  const [first, last] = [near(from), near(to)];
  const corner = net.corner[v]! > 0 || sharp.length > 2;
  if (corner) return unit(cross(minus(first, p), minus(last, p)));
  const along = minus(first, last);
  const theta = Math.PI / (k + 1);
  let inward: P3;
  if (k === 0)
    inward = minus(
      sum([
        [0.5, first],
        [0.5, last],
      ]),
      p,
    ).map((x, c) => x + 0 * c) as unknown as P3;
  else {
    const r = (Math.cos(theta) + 1) / Math.sin(theta);
    const terms: [number, P3][] = [
      [4 * r * (Math.cos(theta) - 1), p],
      [-r * (1 + 2 * Math.cos(theta)), first],
      [-r * (1 + 2 * Math.cos(theta)), last],
    ];
    for (let i = 1; i <= k; i++) terms.push([4 * Math.sin(i * theta), near(from + i)]);
    for (let i = 0; i <= k; i++) terms.push([Math.sin(i * theta) + Math.sin((i + 1) * theta), wedge(from + i)]);
    inward = sum(terms);
  }
  return unit(cross(along, inward));
}

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

const facesByVertex = new WeakMap<Net, number[][]>();
function byVertex(net: Net): number[][] {
  let known = facesByVertex.get(net);
  if (!known) {
    known = Array.from({ length: vertexCount(net) }, () => []);
    for (let f = 0; f < faceCount(net); f++) for (let c = net.start[f]!; c < net.start[f + 1]!; c++) known[net.vertex[c]!]!.push(f);
    facesByVertex.set(net, known);
  }
  return known;
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
  const normal = unit(cross(du, dv));
  const dot = (x: P3, y: P3): number => x[0] * y[0] + x[1] * y[1] + x[2] * y[2];
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
  const mix = (of: (i: number) => P3): P3 => [0, 1, 2].map((k) => w.reduce((sum, x, i) => sum + x * of(i)[k]!, 0)) as unknown as P3;
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
  return { point, normal: unit(mix((i) => normals[i]!)), curvatures: null };
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
