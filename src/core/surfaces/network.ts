/**
 * A surface through two families of curves that cross: a Boolean sum (Gordon, 1969) of both, whose borders go on from the surfaces beside
 * them with their tangent planes, and their curvature (as Hermite data of the sum). Millimetres and radians.
 */
import { along, cross, distance, dot, minus, opposite, triple, unit, type Vec3 } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import { fixed } from '../units/units';
import { type Cards, cards, type EndOrder } from './cards';
import { interpolateSurface, type SplineSpace, type SplineSurface, surfaceAt } from './space';

/** One curve of a family. */
export interface Strand {
  /** Place by a parameter 0…1. */
  readonly at: (t: number) => Vec3;
  /** It runs into itself: what is taken of it goes from crossing to crossing. */
  readonly closed: boolean;
  /** Parameters where its curvature jumps, and where its direction does. */
  readonly joints: readonly number[];
  readonly corners: readonly number[];
  /** It lies on a body: where it misses another, the other gives way. */
  readonly held: boolean;
  readonly words: string;
}

/** A surface beside a border, at a place of it. */
export interface BesidePoint {
  /** Unit. */
  readonly normal: Vec3;
  /** Unit, in the tangent plane and square to the border: out of the surface, on from it. */
  readonly away: Vec3;
  /** The second fundamental form for two directions of its tangent plane: the part along the normal of how a curve on it bends, times its speed². */
  readonly form: (a: Vec3, b: Vec3) => number;
}

/** How a border goes on from what is beside it. */
export interface Joined {
  readonly join: 'G1' | 'G2';
  /** By a place of the border, the way the border runs there (unit), and how it is left; undefined where nothing lies beside it. */
  readonly beside: (p: Vec3, along: Vec3, leaving: Vec3) => BesidePoint | undefined;
  readonly words: string;
}

export interface NetworkOptions {
  /** Curves that miss each other by no more are pulled together, mm. */
  readonly within: number;
  /** What the first and last curve of a family go on from. */
  readonly joined: { readonly along: readonly [Joined?, Joined?]; readonly across: readonly [Joined?, Joined?] };
}

export interface Network {
  readonly surface: SplineSurface;
  /** The largest distance by which curves missed each other, mm, and where. */
  readonly gap: { readonly distance: number; readonly at: Vec3 } | undefined;
  /** The largest distance of the surface from its curves, mm. */
  readonly off: number;
}

/** Why there is none. */
export interface NetworkFault {
  readonly why: string;
  readonly at?: Vec3;
  readonly what: 'few' | 'gap' | 'order' | 'corner' | 'beside' | 'leaves' | 'bends' | 'back' | 'fit';
  /** The border that it can't go on from. */
  readonly border?: Joined;
  /** How far curves miss each other at most, mm. */
  readonly gap?: number;
  /** An order of a family that would do, by the places in its list. */
  readonly order?: { readonly family: 'along' | 'across'; readonly to: readonly number[] };
}

const DEGREE = 5;
/** Places along a curve that crossings are sought from. */
const SEEK = 96;
/** Curves nearer than this touch, mm. */
const TOUCH = 1e-6;
/** A curve that leaves what it is to go on from at more can't, rad. */
const LEAVES = (0.5 * Math.PI) / 180;
/** A curve is left by no more to go on with the curvature of what is beside its end, mm. */
const BENDS = 2e-3;
/** How far a second derivative at an end reaches into 0…1 at most: t²(1 − t)³ / 2 at t = 2/5. */
const REACH = 0.0173;
/** As near to its curves and to the formula as it is brought, mm; what is farther off than the second is refused. */
export const [NEAR, FAR] = [2e-6, 5e-3];
/** Spans that every stretch between crossings is cut into at most. */
export const FINEST = 16;
/** Borders are read at so many places. */
const READ = 33;

export const gives = (
  what: NetworkFault['what'],
  why: string,
  more: Omit<NetworkFault, 'what' | 'why'> = {},
): Result<never, NetworkFault> => fail({ what, why, ...more });

/** Parameters where two curves are nearest, and how near. */
function nearest(a: Strand, b: Strand): { readonly s: number; readonly t: number; readonly gap: number } {
  const [pa, pb] = [a, b].map((c) => Array.from({ length: SEEK + 1 }, (_, i) => c.at(i / SEEK))) as [Vec3[], Vec3[]];
  let best = { s: 0, t: 0, gap: Number.POSITIVE_INFINITY };
  pa.forEach((p, i) => {
    pb.forEach((q, j) => {
      const gap = distance(p, q);
      if (gap < best.gap) best = { s: i / SEEK, t: j / SEEK, gap };
    });
  });
  const inside = (c: Strand, t: number): number => (c.closed ? t - Math.floor(t) : Math.min(1, Math.max(0, t)));
  const h = 1e-5;
  const slope = (c: Strand, t: number): Vec3 => {
    const [lo, hi] = c.closed ? [t - h, t + h] : [Math.max(0, t - h), Math.min(1, t + h)];
    const [p, q] = [c.at(inside(c, lo)), c.at(inside(c, hi))];
    return triple((k) => (q[k] - p[k]) / (hi - lo));
  };
  for (let k = 0; k < 24; k++) {
    const d = minus(a.at(best.s), b.at(best.t));
    const [u, v] = [slope(a, best.s), slope(b, best.t)];
    const [E, F, G] = [dot(u, u), dot(u, v), dot(v, v)];
    const det = E * G - F * F;
    if (!(det > 1e-12 * E * G)) break;
    const [x, y] = [-dot(d, u), dot(d, v)];
    const [ds, dt] = [(G * x + F * y) / det, (F * x + E * y) / det];
    let moved = false;
    for (let cut = 1; cut > 1e-3; cut /= 2) {
      const [s, t] = [inside(a, best.s + cut * ds), inside(b, best.t + cut * dt)];
      const gap = distance(a.at(s), b.at(t));
      if (gap < best.gap - 1e-15) {
        best = { s, t, gap };
        moved = true;
        break;
      }
    }
    if (!moved) break;
  }
  return best;
}

/** Parameters made to rise or fall all the way, those of a closed curve going on past its end. Undefined where they turn back. */
function running(list: readonly number[], closed: boolean): number[] | undefined {
  const run = (sense: 1 | -1): number[] => {
    const out = [list[0]!];
    for (const t of list.slice(1)) {
      const step = sense * (t - list[0]!) - sense * (out[out.length - 1]! - list[0]!);
      out.push(out[out.length - 1]! + sense * (step - (closed ? Math.floor(step) : 0)));
    }
    return out;
  };
  const ways = ([1, -1] as const)
    .map((sense) => ({ sense, to: run(sense) }))
    .filter(({ sense, to }) => to.every((t, i) => i === 0 || sense * (t - to[i - 1]!) > 1e-9))
    .map(({ to }) => ({ to, length: Math.abs(to[to.length - 1]! - to[0]!) }))
    .filter(({ length }) => length < 1 + 1e-9)
    .sort((a, b) => a.length - b.length);
  return ways[0]?.to;
}

/** A curve by the common parameter of its family, through the places that are common with the others. */
export type Run = (x: number) => Vec3;

/** Derivatives at an end of 0…1, looking inwards, of a function smooth there. @param order 1 or 2 */
function derivativeAt(f: (x: number) => Vec3, end: 0 | 1, order: 1 | 2): Vec3 {
  const h = 2e-3;
  const weights = order === 1 ? [-137 / 60, 5, -5, 10 / 3, -5 / 4, 1 / 5] : [15 / 4, -77 / 6, 107 / 6, -13, 61 / 12, -5 / 6];
  const sense = end === 0 ? 1 : -1;
  const places = weights.map((_, k) => f(end + sense * k * h));
  const scale = order === 1 ? sense / h : 1 / (h * h);
  return triple((k) => scale * places.reduce((sum, p, i) => sum + weights[i]! * p[k], 0));
}

/** The direction of a curve at 0…1. */
function slopeAt(f: Run, x: number): Vec3 {
  const h = 1e-4;
  if (x < 2 * h) return onward(f, x, h);
  if (x > 1 - 2 * h) return onward(f, x, -h);
  const [a, b, c, d] = [f(x - 2 * h), f(x - h), f(x + h), f(x + 2 * h)];
  return triple((k) => (a[k] - 8 * b[k] + 8 * c[k] - d[k]) / (12 * h));
}
function onward(f: Run, x: number, h: number): Vec3 {
  const w = [-25 / 12, 4, -3, 4 / 3, -1 / 4];
  const places = w.map((_, k) => f(x + k * h));
  return triple((k) => places.reduce((sum, p, i) => sum + w[i]! * p[k], 0) / h);
}

/** What a border has beside its places: the derivatives away from it, by its parameter. */
interface Field {
  readonly first: Run;
  readonly second: Run | undefined;
}

const sum = (terms: readonly (readonly [number, Vec3])[]): Vec3 => triple((k) => terms.reduce((s, [w, v]) => s + w * v[k], 0));

/** A border with what lies beside it, at one of its places: its own direction in the tangent plane. */
export interface Stand extends BesidePoint {
  readonly along: Vec3;
}

/** @param leaving how the border is left there, its length of no matter */
export function standOf(border: Run, joined: Joined, x: number, leaving: Vec3): Result<Stand, NetworkFault> {
  const p = border(x);
  const way = unit(slopeAt(border, x)) ?? [0, 0, 1];
  const beside = joined.beside(p, way, leaving);
  if (!beside) return gives('beside', `nothing lies beside ${joined.words} there that it could go on from`, { at: p, border: joined });
  const flat = unit(along(way, beside.normal, -dot(way, beside.normal))) ?? way;
  const square = cross(beside.normal, flat);
  return ok({ ...beside, along: flat, away: dot(square, beside.away) < 0 ? opposite(square) : square });
}

/**
 * How the surface leaves a border: in the tangent plane of what is beside it, as fast and as slanted as the curves that leave there.
 * @param leaving the curves that leave, by the parameter away from the border
 * @param end the end of theirs at which the border is
 * @param twists derivatives of the first field along the border at its ends, where the border there is joined too
 */
function fieldOf(
  border: Run,
  nodes: readonly number[],
  leaving: readonly Run[],
  end: 0 | 1,
  joined: Joined,
  twists: readonly [Vec3 | undefined, Vec3 | undefined],
  words: (i: number) => string,
): Result<Field, NetworkFault> {
  const sense = end === 0 ? 1 : -1;
  const first = leaving.map((f) => derivativeAt(f, end, 1));
  const second = leaving.map((f) => derivativeAt(f, end, 2));
  const plain = cards(nodes);
  const way = (x: number): Vec3 => sum(plain.at(x).map((w, i) => [sense * w, first[i]!]));
  const stand = (x: number): Result<Stand, NetworkFault> => standOf(border, joined, x, way(x));
  const at: Stand[] = [];
  for (const [i, x] of nodes.entries()) {
    const s = stand(x);
    if (!s.ok) return s;
    at.push(s.value);
    const d = first[i]!;
    const speed = Math.hypot(...d);
    const off = Math.asin(Math.min(1, Math.abs(dot(d, s.value.normal)) / speed));
    if (off > LEAVES)
      return gives('leaves', `${words(i)} leaves ${joined.words} at ${fixed((off * 180) / Math.PI, 2)}°`, {
        at: border(x),
        border: joined,
      });
    const bend = dot(second[i]!, s.value.normal) - s.value.form(d, d);
    if (joined.join === 'G2' && REACH * Math.abs(bend) > BENDS)
      return gives(
        'bends',
        `${words(i)} leaves ${joined.words} with another curvature, ${fixed(Math.abs(bend) / speed ** 2, 4)} 1/mm off: going on with it would leave that curve by ${fixed(REACH * Math.abs(bend), 3)} mm`,
        { at: border(x), border: joined },
      );
    if (sense * dot(d, s.value.away) <= 1e-6 * speed)
      return gives('back', `${words(i)} runs along ${joined.words}, or back over it`, { at: border(x), border: joined });
  }
  // What is left of a wanted derivative along the border once the stand itself turns, in the tangent plane.
  const ends = twists.map((twist, k) => {
    if (!twist) return undefined;
    const x = nodes[k === 0 ? 0 : nodes.length - 1]!;
    const i = k === 0 ? 0 : nodes.length - 1;
    const h = (k === 0 ? 1 : -1) * 1e-4;
    const [near, far] = [stand(x + h), stand(x + 2 * h)];
    if (!near.ok || !far.ok) return undefined;
    const turn = (of: (s: Stand) => Vec3): Vec3 => {
      const [p, q, r] = [of(at[i]!), of(near.value), of(far.value)];
      return triple((m) => (-1.5 * p[m] + 2 * q[m] - 0.5 * r[m]) / h);
    };
    const [a, b] = [dot(first[i]!, at[i]!.away), dot(first[i]!, at[i]!.along)];
    const rest = minus(
      twist,
      sum([
        [a, turn((s) => s.away)],
        [b, turn((s) => s.along)],
      ]),
    );
    return { away: dot(rest, at[i]!.away), along: dot(rest, at[i]!.along) };
  });
  const c = cards(nodes, ends[0] ? 1 : 0, ends[1] ? 1 : 0);
  const told = (values: readonly number[], of: 'away' | 'along'): ((weights: readonly number[]) => number) => {
    const all = [...values, ...ends.flatMap((e) => (e ? [e[of]] : []))];
    return (weights) => weights.reduce((total, w, i) => total + w * all[i]!, 0);
  };
  const [away, slant] = [
    told(
      first.map((d, i) => dot(d, at[i]!.away)),
      'away',
    ),
    told(
      first.map((d, i) => dot(d, at[i]!.along)),
      'along',
    ),
  ];
  const inPlane = (of: 'away' | 'along') => (weights: readonly number[]) =>
    second.reduce((total, d, i) => total + weights[i]! * dot(d, at[i]![of]), 0);
  const [bendAway, bendAlong] = [inPlane('away'), inPlane('along')];
  const lead = (x: number): { readonly s: Stand; readonly d: Vec3 } | undefined => {
    const s = stand(Math.min(1, Math.max(0, x)));
    if (!s.ok) return undefined;
    const w = c.at(x);
    return {
      s: s.value,
      d: sum([
        [away(w), s.value.away],
        [slant(w), s.value.along],
      ]),
    };
  };
  for (let k = 0; k <= READ; k++) {
    const here = lead(k / READ);
    if (!here)
      return gives('beside', `nothing lies beside ${joined.words} there that it could go on from`, {
        at: border(k / READ),
        border: joined,
      });
    if (sense * dot(here.d, here.s.away) <= 0)
      return gives('back', `it would turn back over ${joined.words} there`, { at: border(k / READ), border: joined });
  }
  return ok({
    first: (x) => lead(x)!.d,
    second:
      joined.join === 'G1'
        ? undefined
        : (x) => {
            const { s, d } = lead(x)!;
            const w = plain.at(x);
            return sum([
              [s.form(d, d), s.normal],
              [bendAway(w), s.away],
              [bendAlong(w), s.along],
            ]);
          },
  });
}

/** One family by the other's parameter: the curves, with the derivatives that their borders have. */
interface Family {
  readonly runs: readonly Run[];
  /** Fields of the first and last, of rising order, with which derivative each is. */
  readonly start: readonly Run[];
  readonly end: readonly Run[];
  /** Weights over the way across: nodes, start, end. */
  readonly cards: Cards;
}
const listed = (f: Family): Run[] => [...f.runs, ...f.start, ...f.end];

/** Where every curve meets those of the other family. */
interface Grid {
  /** Parameters of the along curve j at the across curve i; rising or falling. */
  readonly alongAt: readonly (readonly number[])[];
  readonly acrossAt: readonly (readonly number[])[];
  /** The common places, [j][i]. */
  readonly places: readonly (readonly Vec3[])[];
  readonly gap: { readonly distance: number; readonly at: Vec3 } | undefined;
}

function gridOf(a: readonly Strand[], b: readonly Strand[], within: number): Result<Grid, NetworkFault> {
  const met = a.map((s) => b.map((t) => nearest(s, t)));
  let gap: Grid['gap'];
  const most = Math.max(...met.flat().map((m) => m.gap));
  for (const [j, row] of met.entries())
    for (const [i, m] of row.entries()) {
      const at = a[j]!.at(m.s);
      if (m.gap > within)
        return gives('gap', `${a[j]!.words} and ${b[i]!.words} miss each other by ${fixed(m.gap, 3)} mm`, { at, gap: most });
      if (m.gap > (gap?.distance ?? TOUCH)) gap = { distance: m.gap, at };
    }
  const ordered = (
    strands: readonly Strand[],
    list: (k: number) => number[],
    family: 'along' | 'across',
  ): Result<number[][], NetworkFault> => {
    const out: number[][] = [];
    for (const [k, strand] of strands.entries()) {
      const row = running(list(k), strand.closed);
      if (!row) {
        const other = family === 'along' ? 'across' : 'along';
        const places = list(k);
        const to = places.map((_, i) => i).sort((p, q) => places[p]! - places[q]!);
        const others = family === 'along' ? b : a;
        const turned = places.findIndex((t, i) => i > 1 && (t - places[i - 1]!) * (places[1]! - places[0]!) <= 0);
        return gives('order', `${others[Math.max(1, turned)]!.words} does not meet ${strand.words} in the order of the others`, {
          at: strand.at(places[Math.max(1, turned)]!),
          ...(strand.closed ? {} : { order: { family: other, to } }),
        });
      }
      out.push(row);
    }
    return ok(out);
  };
  const alongAt = ordered(a, (j) => met[j]!.map((m) => m.s), 'along');
  if (!alongAt.ok) return alongAt;
  const acrossAt = ordered(b, (i) => met.map((row) => row[i]!.t), 'across');
  if (!acrossAt.ok) return acrossAt;
  for (const [strands, at] of [
    [a, alongAt.value],
    [b, acrossAt.value],
  ] as const)
    for (const [k, s] of strands.entries()) {
      const corner = s.corners.find((c) => taken(c, at[k]!).length > 0);
      if (corner !== undefined) return gives('corner', `${s.words} has a corner there`, { at: s.at(corner) });
    }
  const places = met.map((row, j) =>
    row.map((m, i) => {
      const [p, q] = [a[j]!.at(m.s), b[i]!.at(m.t)];
      if (a[j]!.held) return p;
      return b[i]!.held ? q : triple((k) => (p[k] + q[k]) / 2);
    }),
  );
  return ok({ alongAt: alongAt.value, acrossAt: acrossAt.value, places, gap });
}

/** Common parameters of a family's crossings: the mean of where they lie by length. */
function nodesOf(strands: readonly Strand[], at: readonly (readonly number[])[]): number[] {
  const n = at[0]!.length;
  const nodes = new Array<number>(n).fill(0);
  strands.forEach((s, j) => {
    const lengths = at[j]!.map((t, i) => {
      if (i === 0) return 0;
      const from = at[j]![i - 1]!;
      let l = 0;
      for (let k = 0; k < 24; k++) l += distance(placeOn(s, from + ((t - from) * k) / 24), placeOn(s, from + ((t - from) * (k + 1)) / 24));
      return l;
    });
    const total = lengths.reduce((x, y) => x + y, 0);
    let done = 0;
    lengths.forEach((l, i) => {
      done += l;
      nodes[i] = nodes[i]! + done / total / strands.length;
    });
  });
  nodes[0] = 0;
  nodes[n - 1] = 1;
  return nodes;
}

/** A place of a curve, a closed one gone round as far as it takes. */
export const placeOn = (s: Strand, t: number): Vec3 => s.at(s.closed ? t - Math.floor(t) : Math.min(1, Math.max(0, t)));

/** A parameter of a curve where it lies within what is taken of it, those of a closed one by whole rounds. */
const taken = (t: number, at: readonly number[]): number[] => {
  const [from, to] = [Math.min(at[0]!, at[at.length - 1]!), Math.max(at[0]!, at[at.length - 1]!)];
  return [t - 1, t, t + 1].filter((x) => x > from + 1e-6 && x < to - 1e-6);
};

/** A curve by the common parameter, through its common places, with the common parameters where its curvature jumps. */
function runOf(
  s: Strand,
  nodes: readonly number[],
  at: readonly number[],
  places: readonly Vec3[],
): { readonly run: Run; readonly joints: number[] } {
  const c = cards(nodes);
  const smooth = (x: number): number => c.at(x).reduce((t, w, i) => t + w * at[i]!, 0);
  const sense = Math.sign(at[at.length - 1]! - at[0]!);
  const steps = 16 * (nodes.length - 1);
  const rises = Array.from({ length: steps }, (_, k) => sense * (smooth((k + 1) / steps) - smooth(k / steps))).every((d) => d > 1e-9);
  // Where a smooth change of pace would turn back, every stretch has its own.
  const pace = rises
    ? smooth
    : (x: number): number => {
        let i = 0;
        while (i < nodes.length - 2 && x > nodes[i + 1]!) i++;
        return at[i]! + ((x - nodes[i]!) / (nodes[i + 1]! - nodes[i]!)) * (at[i + 1]! - at[i]!);
      };
  const off = nodes.map((x, i) => minus(places[i]!, placeOn(s, pace(x))));
  const joints = s.joints.flatMap((j) =>
    taken(j, at).flatMap((t) => {
      let [lo, hi] = [0, 1];
      for (let k = 0; k < 50; k++) {
        const mid = (lo + hi) / 2;
        if (sense * (pace(mid) - t) < 0) lo = mid;
        else hi = mid;
      }
      return [lo];
    }),
  );
  const pulled = off.some((d) => Math.hypot(...d) > 0);
  return {
    run: (x) => {
      const p = placeOn(s, pace(x));
      return pulled ? c.at(x).reduce((q, w, i) => along(q, off[i]!, w), p) : p;
    },
    joints: rises ? joints : [...joints, ...nodes.slice(1, -1)],
  };
}

const orderOf = (j: Joined | undefined): EndOrder => (!j ? 0 : j.join === 'G1' ? 1 : 2);

/**
 * @param a the curves that run along, in their order; @param b those that run across. The first and last of both are the borders.
 */
export function network(a: readonly Strand[], b: readonly Strand[], options: NetworkOptions): Result<Network, NetworkFault> {
  if (a.length < 2 || b.length < 2) return gives('few', 'a network wants two curves or more each way');
  const grid = gridOf(a, b, options.within);
  if (!grid.ok) return grid;
  const { alongAt, acrossAt, places, gap } = grid.value;
  const [us, vs] = [nodesOf(a, alongAt), nodesOf(b, acrossAt)];
  const as = a.map((s, j) => runOf(s, us, alongAt[j]!, places[j]!));
  const bs = b.map((s, i) =>
    runOf(
      s,
      vs,
      acrossAt[i]!,
      places.map((row) => row[i]!),
    ),
  );
  const { along: aJoined, across: bJoined } = options.joined;
  const runs = { a: as.map((r) => r.run), b: bs.map((r) => r.run) };
  const borders = (
    which: 'a' | 'b',
    twists: (end: 0 | 1) => readonly [Vec3 | undefined, Vec3 | undefined],
  ): Result<readonly [Field?, Field?], NetworkFault> => {
    const [own, other, joined, nodes, strands] =
      which === 'a' ? ([runs.a, runs.b, aJoined, us, b] as const) : ([runs.b, runs.a, bJoined, vs, a] as const);
    const out: [Field?, Field?] = [undefined, undefined];
    for (const end of [0, 1] as const) {
      const j = joined[end];
      if (!j) continue;
      const field = fieldOf(own[end === 0 ? 0 : own.length - 1]!, nodes, other, end, j, twists(end), (i) => strands[i]!.words);
      if (!field.ok) return field;
      out[end] = field.value;
    }
    return ok(out);
  };
  const free = (): readonly [undefined, undefined] => [undefined, undefined];
  let fa = borders('a', free);
  if (!fa.ok) return fa;
  let fb = borders('b', free);
  if (!fb.ok) return fb;
  // Where two joined borders meet in a corner, both are to turn alike there: the mean of what either would.
  const corners = [0, 1].map((j) =>
    [0, 1].map((i): Vec3 | undefined => {
      const [f, g] = [(fa as { value: readonly [Field?, Field?] }).value[j], (fb as { value: readonly [Field?, Field?] }).value[i]];
      if (!f || !g) return undefined;
      const [p, q] = [derivativeAt(f.first, i as 0 | 1, 1), derivativeAt(g.first, j as 0 | 1, 1)];
      return triple((k) => (p[k] + q[k]) / 2);
    }),
  );
  if (corners.flat().some((c) => c)) {
    fa = borders('a', (end) => [corners[end]![0], corners[end]![1]]);
    if (!fa.ok) return fa;
    fb = borders('b', (end) => [corners[0]![end], corners[1]![end]]);
    if (!fb.ok) return fb;
  }
  const family = (
    own: readonly Run[],
    fields: readonly [Field?, Field?],
    nodes: readonly number[],
    joined: readonly [Joined?, Joined?],
  ): Family => {
    const list = (f: Field | undefined): Run[] => (f ? [f.first, ...(f.second ? [f.second] : [])] : []);
    return { runs: own, start: list(fields[0]), end: list(fields[1]), cards: cards(nodes, orderOf(joined[0]), orderOf(joined[1])) };
  };
  // Curves along are weighed over the way across, by where the curves across meet them; and the other way about.
  const A = family(runs.a, fa.value, vs, aJoined);
  const B = family(runs.b, fb.value, us, bJoined);
  const formula = summed(A, B, us, vs);

  const joints = (list: readonly { readonly joints: readonly number[] }[]): number[] =>
    list
      .flatMap((r) => r.joints)
      .sort((x, y) => x - y)
      .filter((x, i, all) => x > 1e-6 && x < 1 - 1e-6 && (i === 0 || x - all[i - 1]! > 1e-6));
  const [uJoints, vJoints] = [joints(as), joints(bs)];
  let made: { readonly surface: SplineSurface; readonly off: number } | undefined;
  for (let spans = 2; spans <= FINEST; spans *= 2) {
    const [u, v] = [spaceOf(us, uJoints, spans), spaceOf(vs, vJoints, spans)];
    const surface = interpolateSurface(u, v, formula);
    made = { surface, off: missed(surface, formula, A, B, us, vs, spans) };
    if (made.off < NEAR) break;
  }
  const { surface, off } = made!;
  if (off > FAR) return gives('fit', `its surface would leave the curves by ${fixed(off, 3)} mm`);
  return ok({ surface, gap, off });
}

/** A function of a parameter whose values are asked for again and again. */
export function remembered<T>(make: (x: number) => T): (x: number) => T {
  const known = new Map<number, T>();
  return (x) => {
    let got = known.get(x);
    if (got === undefined) {
      got = make(x);
      known.set(x, got);
    }
    return got;
  };
}

/** The Boolean sum of both families. */
function summed(A: Family, B: Family, us: readonly number[], vs: readonly number[]): (u: number, v: number) => Vec3 {
  const [as, bs] = [listed(A), listed(B)];
  // Every functional of one family on every function of the other.
  const told = (f: Run, nodes: readonly number[], of: Family): Vec3[] => [
    ...nodes.map((x) => f(x)),
    ...of.start.map((_, k) => derivativeAt(f, 0, (k + 1) as 1 | 2)),
    ...of.end.map((_, k) => derivativeAt(f, 1, (k + 1) as 1 | 2)),
  ];
  const [overU, overV] = [as.map((f) => told(f, us, B)), bs.map((f) => told(f, vs, A))];
  // Both ways to a mixed derivative tell the same where borders agree in their corner. Else the lower derivative is kept along its border,
  // tangent planes before curvature; of two alike the mean.
  const orders = (f: Family): number[] => [...f.runs.map(() => 0), ...f.start.map((_, k) => k + 1), ...f.end.map((_, k) => k + 1)];
  const [ofA, ofB] = [orders(A), orders(B)];
  const mixed = as.map((_, x) =>
    bs.map((_unused, y) => {
      const share = ofA[x]! < ofB[y]! ? 0 : ofA[x]! > ofB[y]! ? 1 : 0.5;
      return triple((k) => share * overU[x]![y]![k] + (1 - share) * overV[y]![x]![k]);
    }),
  );
  const atU = remembered((u) => ({ places: as.map((f) => f(u)), weights: B.cards.at(u) }));
  const atV = remembered((v) => ({ places: bs.map((f) => f(v)), weights: A.cards.at(v) }));
  return (u, v) => {
    const [p, q] = [atU(u), atV(v)];
    const out: [number, number, number] = [0, 0, 0];
    for (let k = 0; k < 3; k++) {
      let s = 0;
      for (let x = 0; x < as.length; x++) {
        let at = p.places[x]![k]!;
        for (let y = 0; y < bs.length; y++) at -= mixed[x]![y]![k]! * p.weights[y]!;
        s += at * q.weights[x]!;
      }
      for (let y = 0; y < bs.length; y++) s += q.places[y]![k]! * p.weights[y]!;
      out[k] = s;
    }
    return out;
  };
}

/** Quintics with knots at crossings, where the curvature of a curve jumps (once differentiable there), and evenly between. */
export function spaceOf(nodes: readonly number[], joints: readonly number[], spans: number): SplineSpace {
  const breaks = [...nodes, ...joints.filter((j) => nodes.every((x) => Math.abs(x - j) > 1e-6))].sort((x, y) => x - y);
  const hard = (x: number): boolean => joints.some((j) => Math.abs(j - x) <= 1e-6);
  const knots: number[] = [0];
  for (let i = 1; i < breaks.length; i++) {
    const [from, to] = [breaks[i - 1]!, breaks[i]!];
    for (let k = 1; k < spans; k++) knots.push(from + ((to - from) * k) / spans);
    if (i < breaks.length - 1) for (let m = 0; m < (hard(to) ? DEGREE - 1 : 2); m++) knots.push(to);
  }
  return { degree: DEGREE, knots: [...knots, 1], periodic: false };
}

/** The largest distance of the surface from its curves and from the formula, between the places it was made of. */
function missed(
  surface: SplineSurface,
  formula: (u: number, v: number) => Vec3,
  A: Family,
  B: Family,
  us: readonly number[],
  vs: readonly number[],
  spans: number,
): number {
  let off = 0;
  const between = (nodes: readonly number[]): number[] =>
    nodes.slice(1).flatMap((x, i) => Array.from({ length: spans }, (_, k) => nodes[i]! + ((x - nodes[i]!) * (k + 0.43)) / spans));
  const [uAll, vAll] = [between(us), between(vs)];
  A.runs.forEach((f, j) => {
    for (const u of uAll) off = Math.max(off, distance(f(u), surfaceAt(surface, u, vs[j]!)));
  });
  B.runs.forEach((f, i) => {
    for (const v of vAll) off = Math.max(off, distance(f(v), surfaceAt(surface, us[i]!, v)));
  });
  for (const u of uAll.filter((_, i) => i % 3 === 0))
    for (const v of vAll.filter((_, i) => i % 3 === 1)) off = Math.max(off, distance(formula(u, v), surfaceAt(surface, u, v)));
  return off;
}
