/**
 * A small flat piece laid on a surface about a place of it: along a geodesic through the place, and to both sides along the geodesics square to that.
 * These are Fermi coordinates (published mathematics): where the surface can be unrolled nothing stretches, elsewhere widths away from the middle line
 * by about half the curvature times the square of the distance, which is measured. Millimetres.
 */
import type { Point2 } from '../curves/planar';
import { along, cross, distance, dot, minus, squareTo, triple, unit, type Vec3 } from '../geometry/vectors';
import { jetsOf } from '../surfaces/jet';
import { basisAt, greville, interpolateCurve, quintic, type SplineSpace } from '../surfaces/space';
import type { PoleSurface } from '../surfaces/spline';
import type { On, Uv } from './dimple';

/** A place of a surface that tells how it bends. */
export interface Bent extends On {
  /** Normal curvature in a direction, 1/mm; positive where the surface bends away from its normal. */
  readonly bend: (direction: Vec3) => number;
}
export type BentSurface = (u: number, v: number) => Bent | undefined;

/** A spline surface as one that tells how it bends. @param flip -1 where it is seen from behind */
export function bentSpline(surface: PoleSurface, flip: 1 | -1): BentSurface {
  const { basis, jetOf } = jetsOf(surface);
  return (u, v) => {
    const [p, du, dv, duu, duv, dvv] = jetOf(basis(0, u), basis(1, v));
    const n = unit(cross(du, dv));
    if (!n) return undefined;
    const out = triple((k) => flip * n[k]);
    return {
      p,
      n: out,
      du,
      dv,
      bend: (way) => {
        const step = tangentSteps({ du, dv }, way);
        if (!step) return 0;
        const [a, b] = step;
        return -(a * a * dot(duu, out) + 2 * a * b * dot(duv, out) + b * b * dot(dvv, out)) / dot(way, way);
      },
    };
  };
}

export interface Box2 {
  readonly x: readonly [number, number];
  readonly y: readonly [number, number];
}

export interface LaidPiece {
  /** Parameters of the surface under a place of the piece. */
  readonly uv: (p: Point2) => Uv;
  /** Where a place of the piece so far over the surface comes to: heights along the normals, times their share there. */
  readonly at: (p: Point2, over: number) => Vec3;
  /** Lengths on the surface by lengths on the piece, from the least to the most in any direction. */
  readonly stretch: readonly [number, number];
  /** Shares of heights that are met. */
  readonly share: readonly [number, number];
}

/** Spans each way of the splines that the piece is laid by: as many as bring it so near to the surface, mm, or the most. */
const SPANS = [2, 4, 8] as const;
const NEAR = 3e-7;
/** Steps to the wider half of a piece at least. */
const STEPS = 6;

/** A place on its way, its direction a unit; or how fast both change. */
interface Going {
  readonly uv: Uv;
  readonly way: Vec3;
}

/** What leads so far along a surface, by its parameters; undefined where it has no two directions there. */
function tangentSteps({ du, dv }: Pick<On, 'du' | 'dv'>, way: Vec3): Uv | undefined {
  const [E, F, G] = [dot(du, du), dot(du, dv), dot(dv, dv)];
  const det = E * G - F * F;
  if (!(det > 0)) return undefined;
  const [x, y] = [dot(way, du), dot(way, dv)];
  return [(G * x - F * y) / det, (E * y - F * x) / det];
}

/** Less than so much farther on is no step, mm. */
const ARRIVED = 1e-9;

/**
 * The foot of a place on a surface, by Newton's method from parameters near it: each step squares what is missing.
 * @param most steps; @returns undefined where the surface has no two directions on the way
 */
export function footFrom(on: BentSurface, from: Uv, place: Vec3, most: number): Uv | undefined {
  let uv = from;
  for (let k = 0; k < most; k++) {
    const o = on(...uv);
    const step = o && tangentSteps(o, minus(place, o.p));
    if (!step) return undefined;
    uv = [uv[0] + step[0], uv[1] + step[1]];
    if (Math.hypot(...triple((i) => step[0] * o.du[i] + step[1] * o.dv[i])) < ARRIVED) break;
  }
  return uv;
}

/** Parameters and direction change so fast along a geodesic: it bends with the surface and no other way. */
function speed(on: BentSurface, { uv, way }: Going): Going | undefined {
  const o = on(...uv);
  if (!o) return undefined;
  const step = tangentSteps(o, way);
  const bend = -o.bend(way);
  return step && { uv: step, way: triple((k) => bend * o.n[k]) };
}

/** Goes on along a geodesic. By Runge and Kutta's fourth order. @param length mm, less than nothing backwards */
function go(on: BentSurface, from: Going, length: number, most: number): Going | undefined {
  const n = Math.max(1, Math.ceil(Math.abs(length) / most - 1e-9));
  const h = length / n;
  let now = from;
  for (let i = 0; i < n; i++) {
    const moved = (d: Going, by: number): Going => ({
      uv: [now.uv[0] + by * d.uv[0], now.uv[1] + by * d.uv[1]],
      way: along(now.way, d.way, by),
    });
    const a = speed(on, now);
    const b = a && speed(on, moved(a, h / 2));
    const c = b && speed(on, moved(b, h / 2));
    const d = c && speed(on, moved(c, h));
    if (!d) return undefined;
    const mean = (f: (g: Going) => number): number => (f(a) + 2 * f(b) + 2 * f(c) + f(d)) / 6;
    now = moved({ uv: [mean((g) => g.uv[0]), mean((g) => g.uv[1])], way: triple((k) => mean((g) => g.way[k])) }, h);
  }
  return now;
}

/**
 * A place gone to over a surface: first along a direction, then to the left of that, both by geodesics. Lengths in mm.
 * @returns the place, the normal there, and the direction as it was carried along
 */
export function walkOver(
  on: BentSurface,
  uv: Uv,
  way: Vec3,
  ahead: number,
  left: number,
): { readonly p: Vec3; readonly n: Vec3; readonly x: Vec3 } | undefined {
  const most = Math.max(Math.abs(ahead), Math.abs(left)) / WALK;
  const middle = go(on, { uv, way }, ahead, most || 1);
  const turned = middle && on(...middle.uv);
  const end = turned && go(on, { uv: middle.uv, way: cross(turned.n, middle.way) }, left, most || 1);
  const there = end && on(...end.uv);
  const x = there && unit(cross(end.way, there.n));
  return x && { p: there.p, n: there.n, x };
}
/** Steps of the longer way. */
const WALK = 64;

/** At rising places from a start at 0, both ways. */
function goneTo(on: BentSurface, from: Going, places: readonly number[], most: number): Going[] | undefined {
  const out = new Array<Going>(places.length);
  for (const sense of [1, -1]) {
    let [now, at] = [from, 0];
    const order = places.map((_, i) => i).filter((i) => (sense > 0 ? places[i]! >= 0 : places[i]! < 0));
    for (const i of sense > 0 ? order : order.reverse()) {
      const next = go(on, now, places[i]! - at, most);
      if (!next) return undefined;
      [now, at] = [next, places[i]!];
      out[i] = next;
    }
  }
  return out;
}

/** By so much, as a share, more is laid than the room that a piece is told to take: that may be told by facets. */
const WIDER = 0.01;
const even = ([from, to]: readonly [number, number], spans: number): SplineSpace => {
  const more = WIDER * (to - from);
  return quintic(from - more, to + more, spans);
};

/**
 * @param uv the place of the piece's origin @param way the direction its x leads in, made tangent
 * @param box what of the piece is laid @param share of heights, by parameters
 * @returns undefined where the surface has no normal, or the piece reaches where it has none
 */
export function layPiece(on: BentSurface, uv: Uv, way: Vec3, box: Box2, share: (uv: Uv) => number = () => 1): LaidPiece | undefined {
  const start = on(...uv);
  const first = start && unit(squareTo(way, start.n));
  if (!first) return undefined;
  for (const spans of SPANS) {
    const made = laidBy(on, { uv, way: first }, box, share, spans);
    if (!made || spans === SPANS.at(-1) || offOf(on, made, box, share) < NEAR) return made;
  }
  return undefined;
}

/** How far a piece lies beside the surface it is laid on, between the places it was made of, at its foot and a millimetre over it, mm. */
function offOf(on: BentSurface, { uv, at }: LaidPiece, { x, y }: Box2, share: (uv: Uv) => number): number {
  const places = [0.04, 0.33, 0.81].map(
    (s, i): Point2 => ({ x: x[0] + s * (x[1] - x[0]), y: y[1] - ((s + 0.41 * i) % 1) * (y[1] - y[0]) }),
  );
  const offs = places.map((p) => {
    const there = uv(p);
    const o = on(...there);
    return o ? Math.max(distance(o.p, at(p, 0)), distance(along(o.p, o.n, share(there)), at(p, 1))) : Number.POSITIVE_INFINITY;
  });
  return Math.max(...offs);
}

function laidBy(on: BentSurface, start: Going, box: Box2, share: (uv: Uv) => number, spans: number): LaidPiece | undefined {
  const [sx, sy] = [even(box.x, spans), even(box.y, spans)];
  const [gx, gy] = [greville(sx), greville(sy)];
  const most = Math.max(...box.x.map(Math.abs), ...box.y.map(Math.abs)) / STEPS;
  const middle = goneTo(on, start, gx, most);
  if (!middle) return undefined;
  /** Parameters, place and shared normal, at the grid. */
  const grid: number[][][] = [];
  let [low, high] = [Number.POSITIVE_INFINITY, 0];
  for (const at of middle) {
    const o = on(...at.uv);
    const row = o && goneTo(on, { uv: at.uv, way: cross(o.n, at.way) }, gy, most);
    if (!row) return undefined;
    const values: number[][] = [];
    for (const { uv: place } of row) {
      const q = on(...place);
      if (!q) return undefined;
      const s = share(place);
      [low, high] = [Math.min(low, s), Math.max(high, s)];
      values.push([...place, ...q.p, ...q.n.map((x) => s * x)]);
    }
    grid.push(values);
  }
  const poles = interpolated(sx, sy, gx, gy, grid);
  const value = ({ x, y }: Point2): Float64Array => {
    const [bx, by] = [basisAt(sx, x), basisAt(sy, y)];
    const out = new Float64Array(8);
    for (let i = 0; i < bx.values.length; i++) {
      const row = poles[bx.first + i]!;
      for (let j = 0; j < by.values.length; j++) {
        const p = row[by.first + j]!;
        const w = bx.values[i]! * by.values[j]!;
        for (let k = 0; k < 8; k++) out[k] = out[k]! + w * p[k]!;
      }
    }
    return out;
  };
  const at = (p: Point2, over: number): Vec3 => {
    const v = value(p);
    return [v[2]! + over * v[5]!, v[3]! + over * v[6]!, v[4]! + over * v[7]!];
  };
  return {
    uv: (p) => {
      const v = value(p);
      return [v[0]!, v[1]!];
    },
    at,
    stretch: stretchOf((p) => at(p, 0), box),
    share: [low, high],
  };
}

/** Poles of the spline surface of many components through a grid. */
function interpolated(
  sx: SplineSpace,
  sy: SplineSpace,
  gx: readonly number[],
  gy: readonly number[],
  grid: readonly (readonly (readonly number[])[])[],
): number[][][] {
  const byX = new Map(gx.map((g, i) => [g, i]));
  const byY = new Map(gy.map((g, i) => [g, i]));
  // All of a column at once along x, then all of a row along y.
  const wide = interpolateCurve(sx, (x) => grid[byX.get(x)!]!.flat());
  const width = grid[0]![0]!.length;
  return wide.map((row) => interpolateCurve(sy, (y) => row.slice(byY.get(y)! * width, (byY.get(y)! + 1) * width)));
}

/** Places each way at which the stretch is measured. */
const LOOKS = 5;

/** The least and the most length on the surface by length on the piece: the singular values of what maps one to the other. */
function stretchOf(at: (p: Point2) => Vec3, { x, y }: Box2): [number, number] {
  const h = 1e-4 * Math.max(x[1] - x[0], y[1] - y[0]);
  let [least, most] = [Number.POSITIVE_INFINITY, 0];
  for (let i = 0; i < LOOKS; i++)
    for (let j = 0; j < LOOKS; j++) {
      const inside = (r: readonly [number, number], k: number): number => r[0] + h + ((r[1] - r[0] - 2 * h) * k) / (LOOKS - 1);
      const p = { x: inside(x, i), y: inside(y, j) };
      const a = minus(at({ x: p.x + h, y: p.y }), at({ x: p.x - h, y: p.y }));
      const b = minus(at({ x: p.x, y: p.y + h }), at({ x: p.x, y: p.y - h }));
      const [E, F, G] = [dot(a, a), dot(a, b), dot(b, b)].map((q) => q / (4 * h * h)) as [number, number, number];
      const root = Math.hypot((E - G) / 2, F);
      [least, most] = [Math.min(least, Math.sqrt(Math.max(0, (E + G) / 2 - root))), Math.max(most, Math.sqrt((E + G) / 2 + root))];
    }
  return [least, most];
}
