/**
 * A flat drawing laid round a turned face in true scale: heights along its meridian, widths along the circle its origin lies on. Where the face is
 * part of a cylinder or a cone, it is unrolled exactly: nothing stretches (unrolling of cones is published mathematics).
 */
import type { Point2 } from '../curves/planar';
import { circleThrough } from '../form/circle';
import { cross, dot, minus, squareTo, triple, unit, type Vec3 } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import { curveAt, interpolateCurve, quintic } from '../surfaces/space';
import type { On } from './dimple';

/** A face all whose sections square to an axis are circles about it. */
export interface TurnedFace {
  /** A place of the axis, and its direction: upwards, or to the right or the back where it lies level. */
  readonly origin: Vec3;
  readonly axis: Vec3;
  /** Directions square to the axis: from where angles are measured, and a quarter turn on. */
  readonly zero: Vec3;
  readonly quarter: Vec3;
  /** Radius, place along the axis, the outward normal's share of both, and the face's second parameter, by length along the meridian, mm. */
  readonly meridian: (s: number) => readonly [number, number, number, number, number];
  /** Length of the meridian, mm; it runs upwards along the axis, or outwards where that lies level with it. */
  readonly length: number;
  /** The meridian is straight: a cylinder, a cone, or a level ring. */
  readonly straight: boolean;
  /** Angles between which the face lies, rad; undefined where it goes all round. */
  readonly between: readonly [number, number] | undefined;
  /** The face's first parameter at an angle. */
  readonly first: (angle: number) => number;
}

/** Circles are round, and meridians alike, within this share of the size. */
const ROUND = 1e-6;
/** The meridian is known so well, mm. */
const NEAR = 1e-7;
const TURN = 2 * Math.PI;
/** Share of a meridian that is left out at a pole. */
const POLE = 1e-5;

/** Reads a turned face. @param on places and normals by parameters, the first going round; undefined where the face is no such one */
export function turnedFace(
  on: (u: number, v: number) => On | undefined,
  u: readonly [number, number],
  v: readonly [number, number],
  closed: boolean,
): TurnedFace | undefined {
  // At a pole there is no normal: a hair beside it there is.
  const ends = v.map((x, k) => (on(u[0], x) ? x : x + (k === 0 ? 1 : -1) * POLE * (v[1] - v[0]))) as [number, number];
  const at = (a: number, b: number): On | undefined => on(u[0] + a * (u[1] - u[0]), ends[0] + b * (ends[1] - ends[0]));
  const shares = [0.04, 0.3, 0.5, 0.7, 0.96];
  const grid = shares.map((b) => [0, 0.31, 0.62].map((a) => at(a, b)));
  if (grid.some((row) => row.some((p) => !p))) return undefined;
  const rows = grid as On[][];
  const circles = rows.map((row) => circleThrough(row.map((o) => o.p)));
  if (circles.some((c) => !c)) return undefined;
  const size = Math.max(...circles.map((c) => c!.radius));
  const widest = circles.find((c) => c!.radius === size)!;
  const axis = upwards(widest.normal);
  const { middle: origin } = widest;
  const round = (p: Vec3): { r: number; z: number; out: Vec3 } => {
    const w = minus(p, origin);
    const z = dot(w, axis);
    const out = triple((k) => w[k] - z * axis[k]);
    return { r: Math.hypot(...out), z, out };
  };
  for (const row of rows) {
    const [a, ...others] = row.map((p) => round(p.p));
    if (others.some((b) => Math.abs(b.r - a!.r) > ROUND * size || Math.abs(b.z - a!.z) > ROUND * size)) return undefined;
  }
  // From the front; where the axis itself looks there, from above.
  const zero = unit(squareTo([0, -1, 0], axis)) ?? unit(squareTo([0, 0, 1], axis));
  if (!zero) return undefined;
  const quarter = cross(axis, zero);
  const angle = (p: Vec3): number => {
    const { out } = round(p);
    return Math.atan2(dot(out, quarter), dot(out, zero));
  };
  // The first way goes round evenly, one way or the other.
  const [from, third] = [angle(rows[2]![0]!.p), angle(rows[2]![1]!.p)];
  const part = 0.31 * (u[1] - u[0]);
  const sense = Math.abs(wrapped(third - from - part)) < 1e-5 ? 1 : Math.abs(wrapped(third - from + part)) < 1e-5 ? -1 : 0;
  if (sense === 0) return undefined;
  const read = meridianOf((share) => at(0, share), axis, round, ends);
  if (!read) return undefined;
  const reach = u[1] - u[0];
  return {
    origin,
    axis,
    zero,
    quarter,
    ...read,
    first: (w) => u[0] + sense * (w - from),
    between: closed || reach > TURN - 1e-6 ? undefined : sense > 0 ? [from, from + reach] : [from - reach, from],
  };
}

type Meridian = Pick<TurnedFace, 'meridian' | 'length' | 'straight'>;

/** The meridian by its length: a spline through places that are even along it. */
function meridianOf(
  at: (share: number) => On | undefined,
  axis: Vec3,
  round: (p: Vec3) => { r: number; z: number; out: Vec3 },
  v: readonly [number, number],
): Meridian | undefined {
  const speed = (share: number): number => {
    const o = at(share);
    return o ? Math.hypot(...o.dv) * (v[1] - v[0]) : Number.NaN;
  };
  const PIECES = 200;
  const lengths = [0];
  for (let i = 0; i < PIECES; i++) {
    // Simpson's rule: the pieces are short.
    const [a, b] = [i / PIECES, (i + 1) / PIECES];
    lengths.push(lengths[i]! + ((b - a) / 6) * (speed(a) + 4 * speed((a + b) / 2) + speed(b)));
  }
  const length = lengths[PIECES]!;
  if (!(length > 0)) return undefined;
  const read = (share: number): number[] | undefined => {
    const o = at(share);
    if (!o) return undefined;
    const { r, z, out } = round(o.p);
    return [r, z, r > 0 ? dot(o.n, out) / r : 0, dot(o.n, axis), v[0] + share * (v[1] - v[0])];
  };
  const shareAt = (s: number): number => {
    let i = Math.min(PIECES - 1, Math.max(0, lengths.findIndex((l) => l > s) - 1));
    if (lengths[i + 1]! <= s) i = PIECES - 1;
    const a = i / PIECES;
    let x = a + (s - lengths[i]!) / ((lengths[i + 1]! - lengths[i]!) * PIECES);
    for (let round = 0; round < 3; round++) {
      const past = ((x - a) / 6) * (speed(a) + 4 * speed((a + x) / 2) + speed(x));
      x -= (lengths[i]! + past - s) / speed(x);
    }
    return Math.min(1, Math.max(0, x));
  };
  const ends = [read(0), read(1)];
  if (!ends[0] || !ends[1]) return undefined;
  // Upwards, or outwards where it lies level.
  const [dr, dz] = [ends[1][0]! - ends[0][0]!, ends[1][1]! - ends[0][1]!];
  const up = Math.abs(dz) > 1e-3 * length ? dz > 0 : dr > 0;
  const share = (s: number): number => shareAt(up ? s : length - s);
  const straight = Math.hypot(dr, dz) > length * (1 - 1e-9);
  for (let spans = 4; spans <= 256; spans *= 2) {
    const space = quintic(0, length, spans);
    let bad = false;
    const value = (s: number): number[] => {
      const r = read(share(s));
      if (!r) bad = true;
      return r ?? [0, 0, 0, 0, 0];
    };
    const poles = interpolateCurve(space, value);
    if (bad) return undefined;
    const off = Math.max(
      ...[0.13, 0.37, 0.51, 0.77, 0.93].map((x) => {
        const [p, q] = [curveAt(space, poles, x * length), value(x * length)];
        return Math.hypot(...p.map((c, k) => c - q[k]!));
      }),
    );
    if (off < NEAR || spans === 256)
      return { meridian: (s) => curveAt(space, poles, s) as unknown as [number, number, number, number, number], length, straight };
  }
  return undefined;
}

const wrapped = (x: number): number => x - TURN * Math.round(x / TURN);
/** A direction turned to look upwards, or to the right or the back where it lies level. */
function upwards(d: Vec3): Vec3 {
  const first = Math.abs(d[2]) > 1e-6 ? d[2] : Math.abs(d[0]) > 1e-6 ? d[0] : d[1];
  return first < 0 ? triple((k) => -d[k]) : d;
}

export interface Laid {
  /** A place so far over the face: by its place on the drawing and the distance along the normal, mm. */
  readonly at: (p: Point2, over: number) => Vec3;
  /** Width on the face by width on the drawing, at a place along the meridian. */
  readonly stretch: (s: number) => number;
  /** Along the meridian, mm from its lower end, and round the axis, rad from the front. */
  readonly place: (p: Point2) => { readonly s: number; readonly angle: number };
}

/**
 * Lays a drawing round a turned face.
 * @param around where its origin lies, rad from the front @param height where along the meridian, mm from its lower end @param turn of the drawing about its origin, rad
 */
export function layRound(face: TurnedFace, around: number, height: number, turn: number): Laid {
  const { origin, axis, zero, quarter, meridian, straight, length } = face;
  const [r0, , out, along] = meridian(height);
  // Seen from outside the drawing's right leads on about the axis, seen from within a bore back; on level rings outwards is up.
  const [far, near] = [meridian(Math.min(length, height + 1e-3 * length)), meridian(Math.max(0, height - 1e-3 * length))];
  const way = unit2([far[0] - near[0], far[1] - near[1]]);
  const sense = Math.sign(out * way[1] - along * way[0]) || 1;
  const slope = way[0];
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const cone = straight && Math.abs(slope) > 1e-9;
  const place = (p: Point2): { s: number; angle: number } => {
    const [x, y] = [c * p.x - s * p.y, s * p.x + c * p.y];
    if (!cone) return { s: height + y, angle: around + (sense * x) / r0 };
    // From the tip, about which a cone lies flat as a sector.
    const tip = r0 / slope;
    const l = Math.hypot(x, y + tip) * Math.sign(tip);
    return { s: height + l - tip, angle: around + (sense * Math.atan2(x * Math.sign(tip), (y + tip) * Math.sign(tip))) / slope };
  };
  return {
    place,
    at: (p, over) => {
      const { s: l, angle } = place(p);
      const [r, z, nr, nz] = meridian(Math.min(length, Math.max(0, l)));
      const [ca, sa] = [Math.cos(angle), Math.sin(angle)];
      const [radius, rise] = [r + over * nr, z + over * nz];
      return triple((k) => origin[k] + rise * axis[k] + radius * (ca * zero[k] + sa * quarter[k]));
    },
    stretch: (l) => (cone ? 1 : meridian(Math.min(length, Math.max(0, l)))[0] / r0),
  };
}

const unit2 = ([x, y]: readonly [number, number]): readonly [number, number] => {
  const l = Math.hypot(x, y) || 1;
  return [x / l, y / l];
};

/** How far a drawing reaches beyond a face: nothing where it fits. */
export interface Beyond {
  /** Beyond the upper and the lower end of the meridian, mm; beyond the sides, rad; round onto itself, rad. */
  readonly above: number;
  readonly below: number;
  readonly before: number;
  readonly after: number;
  readonly over: number;
}

/** @param places of the drawing's outlines */
export function fits(
  { length, between }: TurnedFace,
  laid: Laid,
  places: readonly Point2[],
): Result<{ readonly stretch: readonly [number, number] }, Beyond> {
  let [low, high, from, to] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const p of places) {
    const { s, angle } = laid.place(p);
    [low, high, from, to] = [Math.min(low, s), Math.max(high, s), Math.min(from, angle), Math.max(to, angle)];
  }
  const widths = Array.from({ length: 65 }, (_, i) => laid.stretch(low + ((high - low) * i) / 64));
  // As many turns on as bring it to where the face lies.
  const middle = between && (between[0] + between[1]) / 2;
  const on = middle === undefined ? 0 : TURN * Math.round(((from + to) / 2 - middle) / TURN);
  const off: Beyond = {
    above: Math.max(0, high - length),
    below: Math.max(0, -low),
    before: between ? Math.max(0, between[0] - (from - on)) : 0,
    after: between ? Math.max(0, to - on - between[1]) : 0,
    over: Math.max(0, to - from - TURN),
  };
  return Object.values(off).some((x) => x > 1e-9) ? fail(off) : ok({ stretch: [Math.min(...widths), Math.max(...widths)] });
}
