/** Curves in space end to end, by their arc length: what sections are swept along and patterns follow. Millimetres and radians. */
import { along, cross, distance, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import { type BSpline, evaluateBSpline, interpolateCubic } from './bspline';
import { directionIn, type Frame, facing, normalOf } from './frame';
import { arcAbout, arcThrough, derivatives, type PlanarCurve, type Point2 } from './planar';

export type SpaceCurve =
  | { readonly kind: 'planar'; readonly frame: Frame; readonly curve: PlanarCurve }
  | { readonly kind: 'spline'; readonly spline: BSpline }
  /** About the frame's normal through its origin, from its across direction; the radius changes evenly. */
  | {
      readonly kind: 'helix';
      readonly frame: Frame;
      readonly radius: number;
      readonly end: number;
      readonly pitch: number;
      readonly turns: number;
    };

export interface SpacePoint {
  readonly p: Vec3;
  readonly d1: Vec3;
  readonly d2: Vec3;
}

/** Place and derivatives by a parameter 0…1. */
export function spaceAt(c: SpaceCurve, t: number): SpacePoint {
  switch (c.kind) {
    case 'planar': {
      const { p, d1, d2 } = derivatives(c.curve, t);
      const lift = (q: Point2): Vec3 => directionIn(c.frame, q);
      return { p: along(c.frame.origin, lift(p), 1), d1: lift(d1), d2: lift(d2) };
    }
    case 'spline': {
      const [p, d1, d2] = evaluateBSpline(c.spline, t, 2) as unknown as [Vec3, Vec3, Vec3];
      return { p, d1, d2 };
    }
    case 'helix': {
      const w = 2 * Math.PI * c.turns;
      const [cos, sin] = [Math.cos(w * t), Math.sin(w * t)];
      const r = c.radius + (c.end - c.radius) * t;
      const k = c.end - c.radius;
      const n = normalOf(c.frame);
      const mix = (a: number, b: number, h: number): Vec3 => triple((i) => a * c.frame.x[i]! + b * c.frame.y[i]! + h * n[i]!);
      const rise = c.pitch * c.turns;
      return {
        p: along(c.frame.origin, mix(r * cos, r * sin, rise * t), 1),
        d1: mix(k * cos - r * w * sin, k * sin + r * w * cos, rise),
        d2: mix(-2 * k * w * sin - r * w * w * cos, 2 * k * w * cos - r * w * w * sin, 0),
      };
    }
  }
}

interface PathPoint {
  readonly point: Vec3;
  /** Unit. */
  readonly direction: Vec3;
  /** Curvature times the direction it bends to, 1/mm. */
  readonly bend: Vec3;
}

export interface SpacePath {
  readonly length: number;
  /** By a share of the length. */
  readonly at: (share: number) => PathPoint;
  /** Shares where its direction jumps, with the angle in rad. */
  readonly corners: readonly { readonly share: number; readonly angle: number }[];
  /** Shares where only its curvature jumps. */
  readonly joints: readonly number[];
  readonly knots: readonly number[];
  /** The curve at a share, by its place in the list. */
  readonly index: (share: number) => number;
  readonly closed: boolean;
  readonly straight: boolean;
}

const STEPS = 128;
const GAUSS = [
  [0.5 - Math.sqrt(0.15), 5 / 18],
  [0.5, 8 / 18],
  [0.5 + Math.sqrt(0.15), 5 / 18],
] as const;
/** Less than this is no corner, rad. */
const SMOOTH = (0.5 * Math.PI) / 180;

const speed = (c: SpaceCurve, t: number): number => Math.hypot(...spaceAt(c, t).d1);
const steps = (c: SpaceCurve): number => (c.kind === 'helix' ? Math.max(STEPS, Math.ceil(48 * c.turns)) : STEPS);

/** @param curves each beginning where the one before ends */
export function pathAlong(curves: readonly SpaceCurve[]): SpacePath {
  const tables = curves.map((c) => {
    const n = steps(c);
    const sums = [0];
    for (let i = 0; i < n; i++) sums.push(sums[i]! + GAUSS.reduce((sum, [x, w]) => sum + (w * speed(c, (i + x) / n)) / n, 0));
    return sums;
  });
  const starts = [0];
  for (const t of tables) starts.push(starts[starts.length - 1]! + t[t.length - 1]!);
  const length = starts[curves.length]!;
  const find = (share: number): { i: number; t: number } => {
    const s = Math.min(1, Math.max(0, share)) * length;
    let i = 0;
    while (i < curves.length - 1 && s > starts[i + 1]! - 1e-12 * length) i++;
    const table = tables[i]!;
    const n = table.length - 1;
    const want = s - starts[i]!;
    let [lo, hi] = [0, n];
    while (hi - lo > 1) {
      const mid = (lo + hi) >> 1;
      if (table[mid]! <= want) lo = mid;
      else hi = mid;
    }
    // The inverse of the length as a cubic between the steps, so that what runs along it runs smoothly.
    const room = table[hi]! - table[lo]!;
    const c = curves[i]!;
    const x = room > 0 ? Math.min(1, Math.max(0, (want - table[lo]!) / room)) : 0;
    const [va, vb] = [speed(c, lo / n), speed(c, hi / n)];
    if (!(va > 1e-12 && vb > 1e-12)) return { i, t: (lo + x) / n };
    const t = lo / n + x * x * (3 - 2 * x) * (1 / n) + (x * (1 - x) ** 2 * room) / va + (x * x * (x - 1) * room) / vb;
    return { i, t: Math.min(1, Math.max(0, t)) };
  };
  const read = (i: number, t: number): PathPoint => {
    const { p, d1, d2 } = spaceAt(curves[i]!, t);
    const l = Math.hypot(...d1) || 1e-300;
    const direction = d1.map((v) => v / l) as unknown as Vec3;
    const bend = along(d2, direction, -dot(d2, direction)).map((v) => v / (l * l)) as unknown as Vec3;
    return { point: p, direction, bend };
  };
  const [first, last] = [read(0, 0), read(curves.length - 1, 1)];
  const closed = distance(first.point, last.point) < 1e-4 && length > 1e-3;
  const corners: { share: number; angle: number }[] = [];
  const joints: number[] = [];
  curves.forEach((_, i) => {
    if (i === 0 && (!closed || curves.length === 1)) return;
    const [a, b] = [read((i + curves.length - 1) % curves.length, 1), read(i, 0)];
    const angle = Math.acos(Math.min(1, Math.max(-1, dot(a.direction, b.direction))));
    const share = starts[i]! / length;
    if (angle > SMOOTH) corners.push({ share, angle });
    else if (distance(a.bend, b.bend) > 1e-6) joints.push(share);
  });
  const knots = curves.flatMap((c, i) => {
    const spline = c.kind === 'spline' ? c.spline : c.kind === 'planar' && c.curve.kind === 'spline' ? c.curve.spline : undefined;
    const inner = spline ? [...new Set(spline.knots)].filter((k) => k > 1e-9 && k < 1 - 1e-9) : [];
    return inner.map((k) => (starts[i]! + lengthTo(c, tables[i]!, k)) / length);
  });
  const straight = curves.every(isStraight) && corners.length === 0;
  return {
    length,
    closed,
    straight,
    corners,
    joints,
    knots,
    index: (share) => find(share).i,
    at: (share) => {
      const { i, t } = find(closed ? share - Math.floor(share) : share);
      return read(i, t);
    },
  };
}

/** Length of a curve up to a parameter. */
function lengthTo(c: SpaceCurve, table: readonly number[], t: number): number {
  const n = table.length - 1;
  const i = Math.min(n - 1, Math.floor(t * n));
  const rest = t - i / n;
  return table[i]! + GAUSS.reduce((sum, [x, w]) => sum + w * rest * speed(c, i / n + x * rest), 0);
}

export const straightLine = (a: Vec3, b: Vec3): SpaceCurve => ({
  kind: 'spline',
  spline: { degree: 1, knots: [0, 0, 1, 1], poles: [a, b] },
});

/** Why corners can't be bent to a radius: where, and the largest that goes; 0 where no radius does. */
export interface Unbent {
  readonly at: Vec3;
  readonly most: number;
}

const isStraight = (c: SpaceCurve): boolean =>
  c.kind === 'planar' ? c.curve.kind === 'line' : c.kind === 'spline' && c.spline.degree === 1;

/**
 * A chain whose corners between straight stretches are bent to a radius; arcs go between what is left of them.
 * @param curves each beginning where the one before ends; @param radius mm
 */
export function bent(curves: readonly SpaceCurve[], radius: number): Result<SpaceCurve[], Unbent> {
  const n = curves.length;
  const ends = curves.map((c) => {
    const [a, b] = [spaceAt(c, 0), spaceAt(c, 1)];
    return { from: a.p, to: b.p, out: unit(a.d1) ?? a.d1, on: unit(b.d1) ?? b.d1 };
  });
  const closed = n > 1 && distance(ends[0]!.from, ends[n - 1]!.to) < 1e-4;
  // The corner at the end of each curve, as the share of the radius that it takes of either side.
  const cuts: number[] = [];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const turn = j === 0 && !closed ? 0 : Math.acos(Math.min(1, Math.max(-1, dot(ends[i]!.on, ends[j]!.out))));
    if (turn > SMOOTH && !(isStraight(curves[i]!) && isStraight(curves[j]!) && turn < Math.PI - SMOOTH))
      return fail({ at: ends[i]!.to, most: 0 });
    cuts.push(turn > SMOOTH ? Math.tan(turn / 2) : 0);
  }
  const before = (i: number): number => cuts[(i + n - 1) % n]!;
  const room = curves.map((_, i) => {
    const taken = before(i) + cuts[i]!;
    return taken > 0 ? distance(ends[i]!.to, ends[i]!.from) / taken : Number.POSITIVE_INFINITY;
  });
  const most = Math.min(...room);
  if (radius > most * (1 + 1e-9)) {
    const tight = room.indexOf(most);
    return fail({ at: cuts[tight]! > 0 ? ends[tight]!.to : ends[tight]!.from, most });
  }
  return ok(
    curves.flatMap((c, i): SpaceCurve[] => {
      if (before(i) === 0 && cuts[i] === 0) return [c];
      const { from, to, out, on } = ends[i]!;
      const [start, end] = [along(from, out, radius * before(i)), along(to, on, -radius * cuts[i]!)];
      const left = distance(end, start) > 1e-9 ? [straightLine(start, end)] : [];
      if (cuts[i] === 0) return left;
      const { out: next } = ends[(i + 1) % n]!;
      const side = unit(along(next, on, -dot(next, on)))!;
      // The arc starts against `side` and turns towards where the stretch led.
      const frame: Frame = { origin: along(end, side, radius), x: [-side[0], -side[1], -side[2]], y: on };
      return [...left, { kind: 'planar', frame, curve: arcAbout({ x: 0, y: 0 }, radius, 0, 2 * Math.atan(cuts[i]!)) }];
    }),
  );
}

/** Straight from place to place, no two in a row the same. */
export const polyline = (places: readonly Vec3[]): SpaceCurve[] => places.slice(1).map((p, i) => straightLine(places[i]!, p));

/** A smooth curve through places. */
/** The arc through three places. Undefined where they lie on one line. */
export function arcInSpace(a: Vec3, through: Vec3, b: Vec3): SpaceCurve | undefined {
  const x = unit(minus(through, a));
  const normal = x && unit(cross(x, minus(b, a)));
  if (!x || !normal) return undefined;
  const frame: Frame = { origin: a, x, y: cross(normal, x) };
  const flat = (p: Vec3) => ({ x: dot(minus(p, a), frame.x), y: dot(minus(p, a), frame.y) });
  const curve = arcThrough({ x: 0, y: 0 }, flat(through), flat(b));
  return curve && { kind: 'planar', frame, curve };
}

/** The arc that leaves a place in a direction and ends at another; a line where that lies ahead. Undefined where it lies straight behind. */
export function tangentArc(a: Vec3, direction: Vec3, b: Vec3): SpaceCurve | undefined {
  const d = unit(direction);
  const chord = minus(b, a);
  const l = Math.hypot(...chord);
  if (!d || l < 1e-9) return undefined;
  const forward = dot(chord, d);
  const aside = along(chord, d, -forward);
  const off = Math.hypot(...aside);
  if (off < 1e-9 * l) return forward > 0 ? straightLine(a, b) : undefined;
  // In the plane of both: a circle that touches the direction, centred aside at l² / 2·off.
  const y = aside.map((v) => v / off) as unknown as Vec3;
  const r = (l * l) / (2 * off);
  const sweep = 2 * Math.atan2(off, forward);
  return { kind: 'planar', frame: { origin: a, x: d, y }, curve: arcAbout({ x: 0, y: r }, r, -Math.PI / 2, sweep) };
}

export const splineThroughPlaces = (places: readonly Vec3[]): SpaceCurve => ({ kind: 'spline', spline: interpolateCubic(places) });

/** Directions across a path that turn about it as little as possible, by shares of its length. */
export interface CarriedFrames {
  /** Across and up at a share; the path's direction is the third. */
  readonly at: (share: number) => { readonly x: Vec3; readonly y: Vec3 };
}

/**
 * Rotation-minimising frames by double reflection (Wang, Jüttler, Zheng, Liu 2008; from memory), on a dense row of places and carried to
 * those between. On a closed path the rest of a turn is spread evenly.
 */
export function carriedFrames(path: SpacePath, x0: Vec3): CarriedFrames {
  const n = Math.max(400, Math.min(6000, 4 * Math.ceil(path.length / 0.5)));
  const row: Vec3[] = [unit(along(x0, path.at(0).direction, -dot(x0, path.at(0).direction))) ?? facing(path.at(0).direction, [0, 0, 0]).x];
  const step = (a: PathPoint, b: PathPoint, x: Vec3): Vec3 => {
    const v1 = minus(b.point, a.point);
    const c1 = dot(v1, v1);
    if (c1 < 1e-20) return x;
    const xl = along(x, v1, (-2 / c1) * dot(v1, x));
    const tl = along(a.direction, v1, (-2 / c1) * dot(v1, a.direction));
    const v2 = minus(b.direction, tl);
    const c2 = dot(v2, v2);
    const r = c2 < 1e-20 ? xl : along(xl, v2, (-2 / c2) * dot(v2, xl));
    return unit(along(r, b.direction, -dot(r, b.direction))) ?? x;
  };
  const points = Array.from({ length: n + 1 }, (_, i) => path.at(path.closed && i === n ? 0 : i / n));
  for (let i = 1; i <= n; i++) row.push(step(points[i - 1]!, points[i]!, row[i - 1]!));
  let rest = 0;
  if (path.closed) {
    const d = points[0]!.direction;
    rest = Math.atan2(dot(cross(row[n]!, row[0]!), d), dot(row[n]!, row[0]!));
  }
  return {
    at: (share) => {
      const s = path.closed ? share - Math.floor(share) : Math.min(1, Math.max(0, share));
      const here = path.at(s);
      const i = Math.min(n - 1, Math.floor(s * n));
      let x = step(points[i]!, here, row[i]!);
      if (rest !== 0) {
        const y = cross(here.direction, x);
        const [c, k] = [Math.cos(rest * s), Math.sin(rest * s)];
        x = along(x.map((v) => v * c) as unknown as Vec3, y, k);
      }
      return { x, y: cross(here.direction, x) };
    },
  };
}

/** A curve in space as a line of places, for the stage. */
export function lineAlong(curves: readonly SpaceCurve[]): Float32Array {
  const out: number[] = [];
  for (const c of curves) {
    const n = c.kind === 'helix' ? Math.ceil(48 * c.turns) : 64;
    for (let i = 0; i <= n; i++) out.push(...spaceAt(c, i / n).p);
  }
  return Float32Array.from(out);
}
