/** Edits that only move vertices. Each gives new places of some vertices, mm; symmetry carries them to their partners afterwards. */
import { turned } from '../../curves/frame';
import { along, dot, minus, triple, unit } from '../../geometry/vectors';
import { axesOf, momentsOf } from '../../linear';
import { fail, ok, type Result } from '../../result';
import { type Cage, type CageOf, netOf, type P3 } from '../cage';
import { circleThrough } from '../circle';
import { settled, vertexLimits } from '../limit';
import { limitPlaces } from '../masks';
import { refine } from '../refine';
import { middleOf, normalsOf, type Picked, pickedAs, verticesOf } from './select';
import { chains, rim, type Topology } from './topology';

export type Places = Map<number, P3>;

const each = (cage: CageOf<unknown>, p: Picked, f: (place: P3, v: number) => P3): Places =>
  new Map(verticesOf(cage, p).map((v) => [v, f(cage.vertices[v]!, v)]));

export const move = (cage: CageOf<unknown>, p: Picked, by: P3): Places => each(cage, p, (q) => along(q, by, 1));

/** Every vertex along its own normal. */
export function moveAlongNormals(cage: CageOf<unknown>, p: Picked, t: Topology, distance: number): Places {
  const normals = normalsOf(cage, p, t);
  return each(cage, p, (q, v) => along(q, normals.get(v)!, distance));
}

export const scale = (cage: CageOf<unknown>, p: Picked, by: P3, about: P3): Places =>
  each(cage, p, (q) => triple((k) => about[k]! + by[k]! * (q[k]! - about[k]!)));

/** @param angle rad, counter-clockwise seen against the axis */
export const rotate = (cage: CageOf<unknown>, p: Picked, axis: P3, angle: number, about: P3): Places =>
  each(cage, p, (q) => along(about, turned(minus(q, about), unit(axis) ?? [0, 0, 1], angle), 1));

/**
 * Vertices near those that are moved go along, the less the farther they are: wholly at nothing, not at all at the radius, smoothly between.
 * @param radius mm, straight through space
 */
export function softly(cage: CageOf<unknown>, places: Places, radius: number): Places {
  const lead = [...places].map(([v, to]) => ({ from: cage.vertices[v]!, by: minus(to, cage.vertices[v]!) }));
  const out: Places = new Map(places);
  for (const [v, p] of cage.vertices.entries()) {
    if (places.has(v)) continue;
    let least = Number.POSITIVE_INFINITY;
    for (const l of lead) least = Math.min(least, Math.hypot(...minus(l.from, p)));
    if (!(least < radius)) continue;
    // All that are as near as the nearest pull alike, so that neither side of a mirror wins.
    const near = lead.filter((l) => Math.hypot(...minus(l.from, p)) < least + 1e-9 * radius);
    const share = (1 - (least / radius) ** 2) ** 2 / near.length;
    let to = p;
    for (const l of near) to = along(to, l.by, share);
    out.set(v, to);
  }
  return out;
}

/** Onto a plane: the one that fits best, or one square to an axis through their middle. */
export function flatten(cage: CageOf<unknown>, p: Picked, to: 'fit' | 'x' | 'y' | 'z'): Result<Places, string> {
  const vertices = verticesOf(cage, p);
  if (vertices.length < 3) return fail('three vertices or more make a plane');
  const middle = middleOf(cage, vertices);
  const normal: P3 =
    to === 'fit'
      ? axesOf(momentsOf(vertices.map((v) => minus(cage.vertices[v]!, middle))))[0]!.axis
      : ([Number(to === 'x'), Number(to === 'y'), Number(to === 'z')] as const);
  return ok(each(cage, p, (q) => along(q, normal, -dot(minus(q, middle), normal))));
}

/** The rows of edges of what is picked; of faces their rim. */
function rowsOfPicked(cage: CageOf<unknown>, p: Picked): { vertices: number[]; closed: boolean }[] {
  if (p.kind === 'faces') return chains(rim(cage, p.faces));
  const edges = pickedAs(cage, p, 'edges');
  return edges.kind === 'edges' ? chains(edges.edges) : [];
}

/** Rows onto the straight line between their ends, each vertex to the nearest place on it. */
export function straighten(cage: CageOf<unknown>, p: Picked): Result<Places, string> {
  const rows = rowsOfPicked(cage, p).filter((r) => !r.closed && r.vertices.length > 2);
  if (rows.length === 0) return fail('a row of two edges or more with two ends can be made straight');
  const out: Places = new Map();
  for (const { vertices } of rows) {
    const [a, b] = [cage.vertices[vertices[0]!]!, cage.vertices[vertices.at(-1)!]!];
    const d = unit(minus(b, a));
    if (!d) return fail('a row ends where it begins');
    for (const v of vertices) out.set(v, along(a, d, dot(minus(cage.vertices[v]!, a), d)));
  }
  return ok(out);
}

/** The vertices of rows at even steps along them; their shape stays that of their edges. */
export function spaceEvenly(cage: CageOf<unknown>, p: Picked): Result<Places, string> {
  const rows = rowsOfPicked(cage, p).filter((r) => r.vertices.length > 2);
  if (rows.length === 0) return fail('pick a row of two edges or more');
  const out: Places = new Map();
  for (const { vertices, closed } of rows) {
    const places = [...vertices, ...(closed ? [vertices[0]!] : [])].map((v) => cage.vertices[v]!);
    const lengths = [0];
    for (let i = 1; i < places.length; i++) lengths.push(lengths[i - 1]! + Math.hypot(...minus(places[i]!, places[i - 1]!)));
    const total = lengths.at(-1)!;
    // Of a closed row all vertices move alike: where it begins is taken from all of them.
    const n = places.length - 1;
    const begin = closed ? vertices.reduce((s, _, i) => s + lengths[i]! - (total * i) / n, 0) / n : 0;
    for (const [i, v] of vertices.entries()) {
      let at = begin + (total * i) / n;
      if (closed) at = ((at % total) + total) % total;
      let k = 0;
      while (k < n - 1 && lengths[k + 1]! < at) k++;
      const step = lengths[k + 1]! - lengths[k]!;
      out.set(v, along(places[k]!, minus(places[k + 1]!, places[k]!), step > 0 ? (at - lengths[k]!) / step : 0));
    }
  }
  return ok(out);
}

export interface RoundWish {
  /** mm; the mean of what is there where none is given. */
  readonly diameter: number | null;
  /** At even angles, or each vertex where it stands about the middle. */
  readonly even: boolean;
}

interface Circle {
  readonly middle: P3;
  readonly vertices: readonly number[];
  readonly places: P3[];
}

function circles(cage: CageOf<unknown>, p: Picked, { diameter, even }: RoundWish): Result<Circle[], string> {
  const rows = rowsOfPicked(cage, p).filter((r) => r.closed);
  if (rows.length === 0) return fail('pick a closed loop of edges, or faces with a rim');
  const out: Circle[] = [];
  for (const { vertices } of rows) {
    const places = vertices.map((v) => cage.vertices[v]!);
    const circle = circleThrough(places);
    if (!circle) return fail('the loop encloses nothing');
    const { middle, normal, x, y } = circle;
    const flat = places.map((q) => along(minus(q, middle), normal, -dot(minus(q, middle), normal)));
    if (flat.some((q) => Math.hypot(...q) < 1e-9)) return fail('a vertex of the loop stands in its middle');
    const radius = diameter === null ? circle.radius : diameter / 2;
    let angles = flat.map((q) => Math.atan2(dot(q, y), dot(q, x)));
    if (even) {
      const n = angles.length;
      // Where even angles begin: the mean of what each vertex says.
      const [s, c] = angles.reduce(
        ([up, on], a, i) => [up + Math.sin(a - (2 * Math.PI * i) / n), on + Math.cos(a - (2 * Math.PI * i) / n)],
        [0, 0],
      );
      angles = angles.map((_, i) => Math.atan2(s, c) + (2 * Math.PI * i) / n);
    }
    out.push({
      middle,
      vertices,
      places: angles.map((a) => along(along(middle, x, radius * Math.cos(a)), y, radius * Math.sin(a))),
    });
  }
  return ok(out);
}

/** Loops onto circles about their middles. */
export function makeRound(cage: CageOf<unknown>, p: Picked, wish: RoundWish): Result<Places, string> {
  const found = circles(cage, p, wish);
  return found.ok ? ok(new Map(found.value.flatMap((c) => c.vertices.map((v, i): [number, P3] => [v, c.places[i]!])))) : found;
}

/** Where the smooth body is to lie above loops so that it is round there: what is typed is what the body measures. */
export function roundOnBody(cage: Cage, p: Picked, wish: RoundWish): Result<Places, string> {
  const limits = limitsOf(cage);
  return limits.ok ? makeRound({ ...cage, vertices: limits.value }, p, wish) : limits;
}

export function limitsOf(cage: Cage): Result<P3[], string> {
  const net = netOf(cage);
  if (!net.ok) return fail(net.error.what);
  const at = limitPlaces(settled(net.value).net);
  return ok(cage.vertices.map((_, v): P3 => [at[3 * v]!, at[3 * v + 1]!, at[3 * v + 2]!]));
}

/** Places of vertices above which the smooth body lies where it is wanted, by moving each by what its limit is off. */
export function onBody(cage: Cage, wanted: Places): Result<Places, string> {
  let now = cage;
  for (let round = 0; round < 200; round++) {
    const limits = limitsOf(now);
    if (!limits.ok) return limits;
    let most = 0;
    const vertices = [...now.vertices];
    for (const [v, to] of wanted) {
      const off = minus(to, limits.value[v]!);
      most = Math.max(most, Math.hypot(...off));
      vertices[v] = along(vertices[v]!, off, 1.4);
    }
    now = { ...now, vertices };
    if (most < 1e-9) break;
    if (!vertices.every((q) => q.every((x) => Math.abs(x) < 1e6))) return fail('no cage has that as its body');
  }
  return ok(new Map([...wanted.keys()].map((v) => [v, now.vertices[v]!])));
}

/** Rows slid along the edges beside them: to the left, as they run, where the share is more than 0, to the right where it is less. */
export function slide(cage: CageOf<unknown>, p: Picked, t: Topology, share: number): Result<Places, string> {
  if (!(Math.abs(share) < 1)) return fail('a row slides by less than the whole of the edges beside it');
  const rows = p.kind === 'faces' ? [] : rowsOfPicked(cage, p);
  if (rows.length === 0) return fail('pick a row of edges');
  const out: Places = new Map();
  for (const { vertices, closed } of rows)
    for (const [i, v] of vertices.entries()) {
      const [before, after] = [
        vertices[i - 1] ?? (closed ? vertices.at(-1) : undefined),
        vertices[i + 1] ?? (closed ? vertices[0] : undefined),
      ];
      const rail = railOf(t, v, before, after, share > 0);
      if (rail === undefined) return fail(`at vertex ${v + 1} there is no single edge beside the row to slide along`);
      out.set(v, along(cage.vertices[v]!, minus(cage.vertices[rail]!, cage.vertices[v]!), Math.abs(share)));
    }
  return ok(out);
}

/** The one edge that leaves a row to one side at a vertex. */
function railOf(t: Topology, v: number, before: number | undefined, after: number | undefined, left: boolean): number | undefined {
  const ring = t.rings[v]!;
  const n = ring.near.length;
  const straight = (from: number | undefined): number | undefined => {
    const i = from === undefined ? -1 : ring.near.indexOf(from);
    return i >= 0 && n === 4 && !ring.border ? ring.near[(i + 2) % 4] : undefined;
  };
  const [back, on] = [before ?? straight(after), after ?? straight(before)];
  // An end on a border slides along it, a row inside between its two neighbours.
  if (back === undefined || on === undefined) {
    if (!ring.border || n !== 3) return undefined;
    const runsOut = on === undefined;
    return ring.near[runsOut === left ? 0 : n - 1];
  }
  const [i, j] = [ring.near.indexOf(on), ring.near.indexOf(back)];
  const between: number[] = [];
  const step = left ? 1 : -1;
  for (let k = i + step; ; k += step) {
    const at = ring.border ? k : (k + n) % n;
    if (at < 0 || at >= n) return undefined;
    if (at === j) break;
    between.push(ring.near[at]!);
    if (between.length > n) return undefined;
  }
  return between.length === 1 ? between[0] : undefined;
}

/** Onto something else: each vertex to the nearest place of it, or along its own normal. */
export function pull(cage: CageOf<unknown>, p: Picked, nearest: (place: P3) => P3 | undefined): Result<Places, string> {
  const out: Places = new Map();
  for (const v of verticesOf(cage, p)) {
    const to = nearest(cage.vertices[v]!);
    if (!to) return fail('there is nothing to pull onto');
    out.set(v, to);
  }
  return ok(out);
}

/** Rounds by which a body is brought onto what its vertices are pulled to; each takes most of what is left. */
const ROUNDS = 40;

/**
 * Moves vertices so that the smooth body lies on something else under them and at the middles of the edges and faces between: by what these places
 * lie off, again and again, each vertex by the mean of what is near.
 * @returns the new places, and how far the body lies off at most under the vertices that were moved and between them, mm
 */
export function pullBody(
  cage: CageOf<number>,
  p: Picked,
  nearest: (place: P3) => P3 | undefined,
): Result<{ readonly places: Places; readonly off: number }, string> {
  const moved = verticesOf(cage, p);
  const own = new Set(moved);
  const vertices = [...cage.vertices];
  let off = 0;
  for (let round = 0; ; round++) {
    const net = netOf({ ...cage, vertices });
    if (!net.ok) return fail(net.error.what);
    // Once refined the net has a vertex at the middle of each edge, then of each face, after its own.
    const limits = vertexLimits(refine(net.value)).places;
    const { ends, start, vertex } = net.value;
    const n = vertices.length;
    const groups: (readonly number[])[] = [
      ...Array.from({ length: n }, (_, v) => [v]),
      ...Array.from({ length: ends.length / 2 }, (_, e) => [ends[2 * e]!, ends[2 * e + 1]!]),
      ...Array.from({ length: start.length - 1 }, (_, f) => [...vertex.subarray(start[f]!, start[f + 1]!)]),
    ];
    const gaps: { readonly near: readonly number[]; readonly by: P3; readonly weight: number }[] = [];
    off = 0;
    for (const [v, group] of groups.entries()) {
      const near = group.filter((w) => own.has(w));
      if (near.length === 0) continue;
      const at = triple((k) => limits[3 * v + k]!);
      const to = nearest(at);
      if (!to) return fail('there is nothing to pull onto');
      const by = minus(to, at);
      gaps.push({ near, by, weight: 2 / group.length });
      // What reaches beyond what is moved is not held to it.
      if (near.length === group.length) off = Math.max(off, Math.hypot(...by));
    }
    if (round === ROUNDS || off < 1e-6) break;
    const sums = new Map<number, { readonly sum: [number, number, number]; weight: number }>();
    for (const { near, by, weight } of gaps)
      for (const v of near) {
        const s = sums.get(v) ?? { sum: [0, 0, 0], weight: 0 };
        for (let k = 0; k < 3; k++) s.sum[k] = s.sum[k]! + weight * by[k]!;
        s.weight += weight;
        sums.set(v, s);
      }
    for (const [v, { sum, weight }] of sums) {
      const q = vertices[v]!;
      vertices[v] = [q[0] + sum[0] / weight, q[1] + sum[1] / weight, q[2] + sum[2] / weight];
    }
  }
  return ok({ places: new Map(moved.map((v) => [v, vertices[v]!])), off });
}
