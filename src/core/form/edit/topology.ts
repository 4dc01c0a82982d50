/** What lies beside what in a cage: edges by their vertices, loops that run on over vertices of four edges, rings that cross quads. */
import type { Result } from '../../result';
import { type CageFault, type CageOf, edgeCount, type Net, netOf, type Ring, ringsOf } from '../cage';

/** An edge by its two vertices. */
export type Edge = readonly [number, number];

export interface Topology {
  readonly net: Net;
  readonly rings: readonly Ring[];
  /** Number of the edge between two vertices, −1 where there is none. */
  edge(a: number, b: number): number;
  /** The face in which an edge runs from a to b, −1 where there is none. */
  faceAlong(a: number, b: number): number;
}

/** Larger than any vertex number: two of them make one key. */
const KEY = 2 ** 24;
export const edgeKey = (a: number, b: number): number => (a < b ? a * KEY + b : b * KEY + a);
export const edgeOfKey = (key: number): Edge => [Math.floor(key / KEY), key % KEY];

const known = new WeakMap<CageOf<unknown>, Result<Topology, CageFault>>();

/** The topology of a cage, worked out once; its weights play no part in it. */
export function topologyOf(cage: CageOf<unknown>): Result<Topology, CageFault> {
  let found = known.get(cage);
  if (!found) {
    const net = netOf({ vertices: cage.vertices, faces: cage.faces, creases: [], corners: [] });
    found = net.ok ? { ok: true, value: topology(net.value) } : net;
    known.set(cage, found);
  }
  return found;
}

function topology(net: Net): Topology {
  const index = new Map<number, number>();
  for (let e = 0; e < edgeCount(net); e++) index.set(edgeKey(net.ends[2 * e]!, net.ends[2 * e + 1]!), e);
  const edge = (a: number, b: number): number => index.get(edgeKey(a, b)) ?? -1;
  return {
    net,
    rings: ringsOf(net),
    edge,
    faceAlong: (a, b) => {
      const e = edge(a, b);
      if (e < 0) return -1;
      // The first face of an edge is the one that named it, from its first end to its second.
      return net.ends[2 * e] === a ? net.sides[2 * e]! : net.sides[2 * e + 1]!;
    },
  };
}

export const endsOf = (net: Net, e: number): Edge => [net.ends[2 * e]!, net.ends[2 * e + 1]!];
export const isBorder = (net: Net, e: number): boolean => net.sides[2 * e + 1]! < 0;
export const facesBeside = (net: Net, e: number): number[] => [net.sides[2 * e]!, net.sides[2 * e + 1]!].filter((f) => f >= 0);

/** The vertex after and the one before a vertex of a face. */
export function besideIn(face: readonly number[], v: number): { next: number; before: number } {
  const i = face.indexOf(v);
  return { next: face[(i + 1) % face.length]!, before: face[(i + face.length - 1) % face.length]! };
}

/** How a loop runs on at the far end of an edge: straight across a vertex of four edges, along the border on a border. */
function onward(t: Topology, from: number, at: number): number | undefined {
  const ring = t.rings[at]!;
  const i = ring.near.indexOf(from);
  if (ring.border) {
    if (i !== 0 && i !== ring.near.length - 1) return undefined;
    return ring.near[i === 0 ? ring.near.length - 1 : 0];
  }
  return ring.near.length === 4 ? ring.near[(i + 2) % 4] : undefined;
}

/** The vertices of the loop through an edge, in order; where it closes the first is not repeated. */
export function loopThrough(t: Topology, [a, b]: Edge): { vertices: number[]; closed: boolean } {
  const walk = (from: number, at: number): { vertices: number[]; closed: boolean } => {
    const out = [from, at];
    for (let [p, q] = [from, at]; ; ) {
      const next = onward(t, p, q);
      if (next === undefined) return { vertices: out, closed: false };
      if (next === from && q !== at) return { vertices: out, closed: true };
      if (out.includes(next)) return { vertices: out, closed: false };
      out.push(next);
      [p, q] = [q, next];
    }
  };
  const ahead = walk(a, b);
  if (ahead.closed) return ahead;
  const back = walk(b, a);
  const met = new Set(ahead.vertices);
  return {
    vertices: [
      ...back.vertices
        .slice(2)
        .filter((v) => !met.has(v))
        .reverse(),
      ...ahead.vertices,
    ],
    closed: false,
  };
}

/** The edges of a loop, in its order. */
export const edgesOfLoop = ({ vertices, closed }: { readonly vertices: readonly number[]; readonly closed: boolean }): Edge[] =>
  vertices.flatMap((v, i): Edge[] => (i + 1 < vertices.length ? [[v, vertices[i + 1]!]] : closed ? [[v, vertices[0]!]] : []));

export interface Crossing {
  /** Edges crossed, all running the same way. */
  readonly edges: readonly Edge[];
  /** Quads crossed: the i-th lies between edge i and edge i + 1. */
  readonly faces: readonly number[];
  readonly closed: boolean;
}

/** The ring of edges across the quads from an edge on, to both sides, until it closes or meets a border or a face that is no quad. */
export function ringAcross(t: Topology, faces: CageOf<unknown>['faces'], [a, b]: Edge): Crossing {
  const walk = (edge: Edge, first: number): { edges: Edge[]; faces: number[]; closed: boolean } => {
    const out: { edges: Edge[]; faces: number[]; closed: boolean } = { edges: [], faces: [], closed: false };
    let [[p, q], f] = [edge, first];
    for (let guard = 0; f >= 0 && guard < faces.length; guard++) {
      const face = faces[f]!;
      if (face.length !== 4) return out;
      // The quad runs from p to q, so the edge across runs from the vertex before p to the one after q.
      const turned = besideIn(face, p).next === q;
      const next: Edge = turned ? [besideIn(face, p).before, besideIn(face, q).next] : [besideIn(face, p).next, besideIn(face, q).before];
      out.faces.push(f);
      if ((next[0] === a && next[1] === b) || (next[0] === b && next[1] === a)) return { ...out, closed: true };
      out.edges.push(next);
      const beside = facesBeside(t.net, t.edge(next[0], next[1]));
      f = beside.find((g) => g !== f) ?? -1;
      [p, q] = next;
    }
    return out;
  };
  const [one, other] = [t.faceAlong(a, b), t.faceAlong(b, a)];
  const ahead = walk([a, b], one);
  if (ahead.closed) return { edges: [[a, b], ...ahead.edges], faces: ahead.faces, closed: true };
  const back = walk([a, b], other);
  return {
    edges: [...back.edges.toReversed(), [a, b], ...ahead.edges],
    faces: [...back.faces.toReversed(), ...ahead.faces],
    closed: false,
  };
}

/** The borders of a cage as closed rows of vertices, each running as its faces do. */
export function borderLoops(t: Topology): number[][] {
  const next = new Map<number, number>();
  for (let e = 0; e < edgeCount(t.net); e++) if (isBorder(t.net, e)) next.set(t.net.ends[2 * e]!, t.net.ends[2 * e + 1]!);
  return rowsOf(next);
}

/** Edges of faces beside which none of these faces lies, as their own face runs. */
export function rim(cage: CageOf<unknown>, faces: readonly number[]): Edge[] {
  const out = new Map<number, Edge>();
  for (const f of faces)
    for (const [i, a] of cage.faces[f]!.entries()) {
      const b = cage.faces[f]![(i + 1) % cage.faces[f]!.length]!;
      if (!out.delete(edgeKey(a, b))) out.set(edgeKey(a, b), [a, b]);
    }
  return [...out.values()];
}

/** Closed rows out of "what follows what". */
export function rowsOf(next: ReadonlyMap<number, number>): number[][] {
  const [out, met]: [number[][], Set<number>] = [[], new Set()];
  for (const from of next.keys()) {
    if (met.has(from)) continue;
    const row: number[] = [];
    for (let v: number | undefined = from; v !== undefined && !met.has(v); v = next.get(v)) {
      met.add(v);
      row.push(v);
    }
    out.push(row);
  }
  return out;
}

/** Edges that join into rows: each row's vertices in order, and whether it closes. Rows end where three edges meet. */
export function chains(edges: readonly Edge[]): { vertices: number[]; closed: boolean }[] {
  const near = new Map<number, number[]>();
  for (const [a, b] of edges) {
    near.set(a, [...(near.get(a) ?? []), b]);
    near.set(b, [...(near.get(b) ?? []), a]);
  }
  const used = new Set<number>();
  const out: { vertices: number[]; closed: boolean }[] = [];
  const walk = (from: number, to: number): void => {
    const row = [from, to];
    used.add(edgeKey(from, to));
    for (let [p, q] = [from, to]; ; ) {
      const on = near.get(q)!;
      if (on.length !== 2) break;
      const next = on[0] === p ? on[1]! : on[0]!;
      if (used.has(edgeKey(q, next))) break;
      used.add(edgeKey(q, next));
      row.push(next);
      [p, q] = [q, next];
    }
    const closed = row.length > 2 && row[0] === row[row.length - 1];
    out.push({ vertices: closed ? row.slice(0, -1) : row, closed });
  };
  for (const [v, on] of near) if (on.length !== 2) for (const w of on) if (!used.has(edgeKey(v, w))) walk(v, w);
  for (const [a, b] of edges) if (!used.has(edgeKey(a, b))) walk(a, b);
  return out;
}
