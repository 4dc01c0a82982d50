/**
 * Masks of the limit under the vertices of a net: places by Halstead, Kass and DeRose 1993 (creases 1/6, 4/6, 1/6: DeRose, Kass, Truong 1998),
 * tangents by the eigenvectors of refinement (the same; Biermann, Levin, Zorin 2000 for borders; from memory).
 */
import { cross, dot, minus, unit } from '../geometry/vectors';
import { edgeCount, faceCount, type Net, type P3, type Ring, ringAt, vertexCount } from './cage';

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

/** What refinement does about a smooth vertex in which a lasting crease ends. */
interface Dart {
  /** Weights of the limit: of the vertex, then of its neighbours from the creased edge round, then of the corners across. */
  readonly place: readonly number[];
  /** Weights of two directions that span the tangent plane, in the same order. */
  readonly tangents: readonly [readonly number[], readonly number[]];
}
const darts = new Map<number, Dart>();
/** Rounds after which nothing moves any more. */
const ROUNDS = 240;

/**
 * What is left of the ring about such a vertex when it has been refined for ever: the rows by which it is refined, carried on until nothing
 * moves. The directions are those it shrinks least, found the same way beside what shrinks less.
 * @param n faces about it
 */
function dartOf(n: number): Dart {
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
  /** Weights one refinement earlier, and places one refinement later. */
  const before = (weights: readonly number[]): number[] => mixed(...weights.map((w, i) => [w, rows[i]!] as const));
  const after = (places: readonly number[]): number[] => rows.map((row) => row.reduce((s, w, i) => s + w * places[i]!, 0));
  const product = (a: readonly number[], b: readonly number[]): number => a.reduce((s, x, i) => s + x * b[i]!, 0);
  /** Of length one, and without what lies along pairs of weights and places that shrink less. */
  const settle = (
    from: readonly number[],
    step: (x: readonly number[]) => number[],
    beside: readonly (readonly [readonly number[], readonly number[]])[],
  ): number[] => {
    let x = [...from];
    for (let k = 0; k < ROUNDS; k++) {
      x = step(x);
      for (const [own, other] of beside) {
        const share = product(x, other) / product(own, other);
        x = x.map((v, i) => v - share * own[i]!);
      }
      const length = Math.hypot(...x);
      x = x.map((v) => v / length);
    }
    return x;
  };
  let place = only(0);
  for (let k = 0; k < ROUNDS; k++) place = before(place);
  const still = new Array<number>(size).fill(1);
  // Neither even nor odd across the crease, so that nothing is missed.
  const begin = Array.from({ length: size }, (_, i) => Math.cos(i * 1.7) + 0.3 * i);
  const first = settle(begin, before, [[place, still]]);
  const firstPlaces = settle(begin, after, [[still, place]]);
  const second = settle(begin, before, [
    [place, still],
    [first, firstPlaces],
  ]);
  known = { place, tangents: [first, second] };
  darts.set(n, known);
  return known;
}

/** Sums of the ring about a dart, by weights. */
function onDart(net: Net, v: number, ring: Ring, weights: readonly number[]): P3 {
  const n = ring.faces.length;
  const first = ring.edges.findIndex((e) => net.crease[e]! > 0);
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

function dartPlace(net: Net, v: number): P3 {
  const ring = ringAt(net, v, byVertex(net)[v]![0]!);
  return onDart(net, v, ring, dartOf(ring.faces.length).place);
}

/** Of length one; a direction that has vanished stays nothing. */
export const direction = (a: P3): P3 => unit(a) ?? a;

/** Corner of a quad across from a vertex. */
export function opposite(net: Net, f: number, v: number): number {
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
    const smooth = direction(cross(tangent(0), tangent(Math.PI / 2)));
    if (sharp.length === 0) return smooth;
    // A crease ends here: the plane is another, its side that of the smooth one.
    const [one, two] = dartOf(n).tangents;
    const own = direction(cross(onDart(net, v, ring, one), onDart(net, v, ring, two)));
    return dot(own, smooth) < 0 ? [-own[0], -own[1], -own[2]] : own;
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
  if (corner) return direction(cross(minus(first, p), minus(last, p)));
  const along = minus(first, last);
  const theta = Math.PI / (k + 1);
  let inward: P3;
  if (k === 0) inward = minus(sum([0.5, 0.5].map((w, i) => [w, i === 0 ? first : last] as const)), p);
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
  return direction(cross(along, inward));
}

/** Faces at every vertex, worked out once a net. */
const facesByVertex = new WeakMap<Net, number[][]>();
export function byVertex(net: Net): number[][] {
  let known = facesByVertex.get(net);
  if (!known) {
    known = Array.from({ length: vertexCount(net) }, () => []);
    for (let f = 0; f < faceCount(net); f++) for (let c = net.start[f]!; c < net.start[f + 1]!; c++) known[net.vertex[c]!]!.push(f);
    facesByVertex.set(net, known);
  }
  return known;
}
