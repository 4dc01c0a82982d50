/**
 * Cages of subdivision forms. A cage is vertices, faces with any number of corners, edges that may be creased and vertices that may be
 * corners; what it stands for is the smooth limit of its refinement (Catmull and Clark 1978), with creases that fade (DeRose, Kass, Truong
 * 1998). A border is a crease of its own and a vertex with one face on the border is a corner, so that open cages keep their outline.
 */
import type { Vec3 } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';

export type P3 = Vec3;

/** Lengths in mm. Weights are numbers, or the expressions of a document that stand for them. */
export interface CageOf<W> {
  readonly vertices: readonly P3[];
  /** Vertices of every face, counter-clockwise seen from outside. */
  readonly faces: readonly (readonly number[])[];
  /** Vertices of an edge and how many refinements it stays sharp; `SHARP` or more stays so for good. */
  readonly creases: readonly (readonly [number, number, W])[];
  readonly corners: readonly (readonly [number, W])[];
}
export type Cage = CageOf<number>;

/** A cage with its weights as numbers. */
export const numbered = <W>(cage: CageOf<W>, weigh: (weight: W) => number): Cage => ({
  ...cage,
  creases: cage.creases.map(([a, b, w]) => [a, b, weigh(w)] as const),
  corners: cage.corners.map(([v, w]) => [v, weigh(w)] as const),
});

export const SHARP = 10;
/** Cages with more faces are refused. */
export const MOST_FACES = 50_000;

/** A cage with its edges and what lies beside them: what refinement works on. Edges are numbered as they are met. */
export interface Net {
  /** Three coordinates a vertex. */
  readonly places: Float64Array;
  /** Where the corners of each face begin, with the end of the last. */
  readonly start: Uint32Array;
  /** By corner: its vertex, and the edge from it to the next corner. */
  readonly vertex: Uint32Array;
  readonly edge: Uint32Array;
  /** Two vertices an edge. */
  readonly ends: Uint32Array;
  /** Two faces an edge, −1 where there is none. */
  readonly sides: Int32Array;
  /** Sharpness by edge, ∞ for good and on borders; by vertex. */
  readonly crease: Float64Array;
  readonly corner: Float64Array;
}

export const vertexCount = (net: Net): number => net.places.length / 3;
export const edgeCount = (net: Net): number => net.ends.length / 2;
export const faceCount = (net: Net): number => net.start.length - 1;
export const placeAt = (net: Net, v: number): P3 => [net.places[3 * v]!, net.places[3 * v + 1]!, net.places[3 * v + 2]!];
export const isQuads = (net: Net): boolean => {
  // Every face, not their corners in all: a triangle and a face of five add up to two quads.
  for (let f = 1; f < net.start.length; f++) if (net.start[f]! - net.start[f - 1]! !== 4) return false;
  return true;
};

/** How many closed lines border a cage. */
export function borderCount(net: Net): number {
  const beside = new Map<number, number[]>();
  for (let e = 0; e < edgeCount(net); e++)
    if (net.sides[2 * e]! < 0 || net.sides[2 * e + 1]! < 0)
      for (const k of [0, 1]) {
        const [v, w] = [net.ends[2 * e + k]!, net.ends[2 * e + 1 - k]!];
        beside.set(v, [...(beside.get(v) ?? []), w]);
      }
  const seen = new Set<number>();
  let count = 0;
  for (const v of beside.keys()) {
    if (seen.has(v)) continue;
    count++;
    for (const waiting = [v]; waiting.length > 0; ) {
      const w = waiting.pop()!;
      if (seen.has(w)) continue;
      seen.add(w);
      waiting.push(...beside.get(w)!);
    }
  }
  return count;
}

const lasting = (w: number): number => (w >= SHARP ? Number.POSITIVE_INFINITY : w);

/** What makes a cage unfit for refinement, in words. */
export interface CageFault {
  readonly what: string;
  readonly vertices: readonly number[];
}

/** The cage with its edges. Fails in words, with the vertices concerned, where it is no surface. */
export function netOf(cage: Cage): Result<Net, CageFault> {
  const n = cage.vertices.length;
  const bad = (what: string, vertices: readonly number[] = []): Result<never, CageFault> => fail({ what, vertices });
  if (cage.faces.length === 0) return bad('The cage has no faces.');
  if (cage.faces.length > MOST_FACES) return bad(`The cage has ${cage.faces.length} faces; at most ${MOST_FACES} are taken.`);
  for (const [v, p] of cage.vertices.entries())
    if (!p.every(Number.isFinite)) return bad(`Vertex ${v} stands at no place that is a number.`, [v]);
  const start = new Uint32Array(cage.faces.length + 1);
  cage.faces.forEach((f, i) => {
    start[i + 1] = start[i]! + f.length;
  });
  const total = start[cage.faces.length]!;
  const [vertex, edge] = [new Uint32Array(total), new Uint32Array(total)];
  const ends: number[] = [];
  const sides: number[] = [];
  const sense: number[] = [];
  const known = new Map<number, number>();
  const used = new Uint8Array(n);
  for (const [f, corners] of cage.faces.entries()) {
    if (corners.length < 3) return bad(`Face ${f} has ${corners.length} corners; a face has three or more.`, corners);
    if (new Set(corners).size < corners.length) return bad(`Face ${f} meets a vertex twice.`, corners);
    for (const [k, v] of corners.entries()) {
      if (!Number.isInteger(v) || v < 0 || v >= n) return bad(`Face ${f} names vertex ${v}, which is not there.`);
      const w = corners[(k + 1) % corners.length]!;
      used[v] = 1;
      const key = v < w ? v * n + w : w * n + v;
      let e = known.get(key);
      if (e === undefined) {
        e = ends.length / 2;
        known.set(key, e);
        ends.push(v, w);
        sides.push(f, -1);
        sense.push(1);
      } else {
        if (sides[2 * e + 1]! >= 0) return bad('Three faces meet in one edge.', [v, w]);
        // Two faces that run along an edge the same way look to different sides.
        if (ends[2 * e] === v) return bad('Two faces that share an edge look to different sides.', [v, w]);
        sides[2 * e + 1] = f;
      }
      vertex[start[f]! + k] = v;
      edge[start[f]! + k] = e;
    }
  }
  const lone = used.indexOf(0);
  if (lone >= 0) return bad(`Vertex ${lone} belongs to no face.`, [lone]);
  const crease = new Float64Array(ends.length / 2);
  for (let e = 0; e < crease.length; e++) if (sides[2 * e + 1]! < 0) crease[e] = Number.POSITIVE_INFINITY;
  for (const [a, b, w] of cage.creases) {
    const e = known.get(a < b ? a * n + b : b * n + a);
    if (e === undefined) return bad('A crease names an edge that is not there.', [a, b]);
    if (!(w >= 0)) return bad('The weight of a crease is 0 or more.', [a, b]);
    crease[e] = Math.max(crease[e]!, lasting(w));
  }
  const corner = new Float64Array(n);
  for (const [v, w] of cage.corners) {
    if (!(v >= 0 && v < n) || !(w >= 0)) return bad('A corner names a vertex that is not there, or has a weight below 0.', [v]);
    corner[v] = lasting(w);
  }
  const net: Net = {
    places: Float64Array.from(cage.vertices.flat()),
    start,
    vertex,
    edge,
    ends: Uint32Array.from(ends),
    sides: Int32Array.from(sides),
    crease,
    corner,
  };
  return fanned(net) ?? ok(withCorners(net));
}

/** A vertex whose faces do not hang together by edges, or the net is fine. */
function fanned(net: Net): Result<never, CageFault> | undefined {
  const n = vertexCount(net);
  const [faces, edges, border] = [new Uint16Array(n), new Uint16Array(n), new Uint16Array(n)];
  for (const v of net.vertex) faces[v]!++;
  for (let e = 0; e < edgeCount(net); e++)
    for (const v of [net.ends[2 * e]!, net.ends[2 * e + 1]!]) {
      edges[v]!++;
      if (net.sides[2 * e + 1]! < 0) border[v]!++;
    }
  // Round a vertex inside there are as many edges as faces; on a border one more, with two border edges.
  for (let v = 0; v < n; v++)
    if (!(border[v] === 0 && edges[v] === faces[v]) && !(border[v] === 2 && edges[v] === faces[v]! + 1))
      return fail({ what: 'Faces touch in a vertex alone, without an edge between them.', vertices: [v] });
  // Inside, two fans that share their vertex alone are told apart by walking round.
  for (const [v, ring] of ringsOf(net).entries())
    if (ring.edges.length !== edges[v])
      return fail({ what: 'Faces touch in a vertex alone, without an edge between them.', vertices: [v] });
  return undefined;
}

/** On a border, a vertex with a single face is a corner. */
function withCorners(net: Net): Net {
  const faces = new Uint16Array(vertexCount(net));
  for (const v of net.vertex) faces[v]!++;
  const corner = net.corner.slice();
  for (let e = 0; e < edgeCount(net); e++)
    if (net.sides[2 * e + 1]! < 0)
      for (const v of [net.ends[2 * e]!, net.ends[2 * e + 1]!]) if (faces[v] === 1) corner[v] = Number.POSITIVE_INFINITY;
  return { ...net, corner };
}

/** What lies round a vertex, in order: edge i leads to `near[i]`, and face i lies between edge i and edge i + 1. */
export interface Ring {
  readonly edges: readonly number[];
  readonly near: readonly number[];
  /** One fewer than edges on a border, and there the first and the last edge are the border's. */
  readonly faces: readonly number[];
  readonly border: boolean;
}

/** Corner of a face at a vertex. */
const cornerOf = (net: Net, f: number, v: number): number => {
  for (let c = net.start[f]!; c < net.start[f + 1]!; c++) if (net.vertex[c] === v) return c;
  return -1;
};
const before = (net: Net, f: number, c: number): number => (c === net.start[f]! ? net.start[f + 1]! - 1 : c - 1);

/** The rings of all vertices, counter-clockwise seen from outside. */
export function ringsOf(net: Net): Ring[] {
  const n = vertexCount(net);
  const first = new Int32Array(n).fill(-1);
  for (let f = 0; f < faceCount(net); f++)
    for (let c = net.start[f]!; c < net.start[f + 1]!; c++) {
      const v = net.vertex[c]!;
      // On a border the ring begins at the face whose edge from the vertex is the border's.
      if (first[v]! < 0 || net.sides[2 * net.edge[c]! + 1]! < 0) first[v] = f;
    }
  return Array.from({ length: n }, (_, v) => ringAt(net, v, first[v]!));
}

/** @param from a face at the vertex; on a border the one whose edge from the vertex is the border's */
export function ringAt(net: Net, v: number, from: number): Ring {
  const [edges, near, faces]: [number[], number[], number[]] = [[], [], []];
  let f = from;
  for (let guard = 0; guard < 1000; guard++) {
    const c = cornerOf(net, f, v);
    const e = net.edge[c]!;
    edges.push(e);
    near.push(net.ends[2 * e] === v ? net.ends[2 * e + 1]! : net.ends[2 * e]!);
    faces.push(f);
    const back = net.edge[before(net, f, c)]!;
    const other = net.sides[2 * back] === f ? net.sides[2 * back + 1]! : net.sides[2 * back]!;
    if (other < 0) {
      edges.push(back);
      near.push(net.ends[2 * back] === v ? net.ends[2 * back + 1]! : net.ends[2 * back]!);
      return { edges, near, faces, border: true };
    }
    if (other === from) break;
    f = other;
  }
  return { edges, near, faces, border: false };
}
