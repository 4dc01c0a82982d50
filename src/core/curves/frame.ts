/** Planes in space as frames: where a drawing's origin lies and which way its across and up point. Millimetres and radians. */
import { along, cross, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import type { Point2 } from './planar';

/** A plane with a drawing on it: `x` runs across and `y` up, both of length one and square to each other. */
export interface Frame {
  readonly origin: Vec3;
  readonly x: Vec3;
  readonly y: Vec3;
}

export type OriginPlane = 'front' | 'side' | 'level';

/** The three planes through the origin: z runs up, the front plane is seen from −y. */
export const ORIGIN_PLANES: Readonly<Record<OriginPlane, Frame>> = {
  front: { origin: [0, 0, 0], x: [1, 0, 0], y: [0, 0, 1] },
  side: { origin: [0, 0, 0], x: [0, 1, 0], y: [0, 0, 1] },
  level: { origin: [0, 0, 0], x: [1, 0, 0], y: [0, 1, 0] },
};

export const isOriginPlane = (ref: string): ref is OriginPlane => ref === 'front' || ref === 'side' || ref === 'level';

/** The side from which across runs to the right when up runs up. */
export const normalOf = (f: Frame): [number, number, number] => cross(f.x, f.y);

/** A direction of a plane's drawings in space. */
export const directionIn = (f: Frame, { x, y }: Point2): Vec3 => triple((k) => x * f.x[k] + y * f.y[k]);

export const toSpace = (f: Frame, p: Point2): [number, number, number] => along(along(f.origin, f.x, p.x), f.y, p.y);

/** A place over a plane: along its x, its y and its normal, mm. */
export function overPlane(f: Frame, [a, b, c]: Vec3): Vec3 {
  return along(toSpace(f, { x: a, y: b }), normalOf(f), c);
}

/** A place in space dropped onto the plane, square to it. */
export function toPlane(f: Frame, p: Vec3): Point2 {
  const d = minus(p, f.origin);
  return { x: dot(d, f.x), y: dot(d, f.y) };
}

/** How far a place lies on the normal's side of the plane, mm. */
export const heightOver = (f: Frame, p: Vec3): number => dot(minus(p, f.origin), normalOf(f));

/**
 * The plane through a place that faces a direction. Across is level and up leans upwards; on a level plane they run as on the level
 * origin plane, turned over where it faces down.
 * @param normal of any length but zero
 */
export function facing(normal: Vec3, origin: Vec3): Frame {
  const n = unit(normal) ?? [0, 0, 1];
  if (Math.hypot(n[0], n[1]) < 1e-9) return { origin, x: [1, 0, 0], y: [0, n[2] < 0 ? -1 : 1, 0] };
  const x = unit(cross([0, 0, 1], n))!;
  return { origin, x, y: cross(n, x) };
}

/** The same plane with the world's origin dropped onto it as its own, so that a drawing stays put while the part grows. */
export function fromWorldOrigin(normal: Vec3, through: Vec3): Frame {
  const n = unit(normal) ?? [0, 0, 1];
  return facing(n, along([0, 0, 0], n, dot(n, through)));
}

export const shifted = (f: Frame, distance: number): Frame => ({ ...f, origin: along(f.origin, normalOf(f), distance) });

/** The parallel plane through a place; the drawing moves along the normal only. */
export const parallelThrough = (f: Frame, p: Vec3): Frame => shifted(f, heightOver(f, p));

/** A direction turned about a unit axis (Rodrigues' rotation formula). */
export function turned(v: Vec3, axis: Vec3, angle: number): [number, number, number] {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const side = cross(axis, v);
  const k = dot(axis, v) * (1 - c);
  return triple((i) => v[i]! * c + side[i]! * s + axis[i]! * k);
}

/** The plane turned about a line by an angle in rad, counter-clockwise seen against the line's direction. */
export function tilted(f: Frame, through: Vec3, direction: Vec3, angle: number): Frame {
  const axis = unit(direction) ?? f.x;
  return {
    origin: along(through, turned(minus(f.origin, through), axis, angle), 1),
    x: turned(f.x, axis, angle),
    y: turned(f.y, axis, angle),
  };
}

/** The plane through three places, its origin in the first. */
export function throughThree(a: Vec3, b: Vec3, c: Vec3): Result<Frame> {
  const n = cross(minus(b, a), minus(c, a));
  const size = Math.hypot(...minus(b, a)) * Math.hypot(...minus(c, a));
  if (!(Math.hypot(...n) > 1e-9 * Math.max(size, 1e-9))) return fail('the three points lie on one line');
  return ok(facing(n, a));
}

/** The plane half-way between two parallel planes, or the one that halves the angle of two that lean. */
export function between(f: Frame, g: Frame): Result<Frame> {
  const n = normalOf(f);
  const m = normalOf(g);
  const cos = dot(n, m);
  if (Math.abs(cos) > 1 - 1e-9) {
    const gap = heightOver(f, g.origin);
    if (Math.abs(gap) < 1e-9) return fail('the two faces lie in one plane');
    return ok(fromWorldOrigin(n, along(f.origin, n, gap / 2)));
  }
  // A place on the line both share: d = αn + βm with d·n and d·m known.
  const [hn, hm] = [dot(n, f.origin), dot(m, g.origin)];
  const det = 1 - cos * cos;
  const on = along(along([0, 0, 0], n, (hn - cos * hm) / det), m, (hm - cos * hn) / det);
  // Faces of a wedge look away from each other: the plane between them holds the line and the middle of the wedge.
  return ok(fromWorldOrigin(minus(n, m), on));
}

/** Positions (and directions) over a plane, as `overPlane` has one place. Arrays of x, y, z triples. */
export function allOverPlane(f: Frame, triples: ArrayLike<number>, directions = false): Float32Array {
  const n = normalOf(f);
  const out = new Float32Array(triples.length);
  for (let i = 0; i < triples.length; i += 3)
    for (let k = 0; k < 3; k++)
      out[i + k] = (directions ? 0 : f.origin[k]!) + triples[i]! * f.x[k]! + triples[i + 1]! * f.y[k]! + triples[i + 2]! * n[k]!;
  return out;
}
