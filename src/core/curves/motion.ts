/** Rigid motions of space, mirror images and even scalings: x ↦ M·x + t. Millimetres and radians. */
import { cross, dot, minus, triple, unit, type Vec3 } from '../geometry/vectors';
import { type Frame, normalOf, turned } from './frame';

export interface Motion {
  /** Rows of M. */
  readonly m: readonly [Vec3, Vec3, Vec3];
  readonly t: Vec3;
}

const STILL: Motion = {
  m: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  t: [0, 0, 0],
};

const times = (m: Motion['m'], v: Vec3): [number, number, number] => [dot(m[0], v), dot(m[1], v), dot(m[2], v)];
export const moved = (k: Motion, p: Vec3): [number, number, number] => {
  const q = times(k.m, p);
  return [q[0] + k.t[0], q[1] + k.t[1], q[2] + k.t[2]];
};

/** A plane after a motion, with the scale of its axes. Of a mirror image's plane the normal looks the other way. */
export function movedFrame(k: Motion, f: Frame): { readonly frame: Frame; readonly scale: number } {
  const [x, y] = [times(k.m, f.x), times(k.m, f.y)];
  const scale = Math.hypot(...x);
  const shrink = (v: Vec3): Vec3 => [v[0] / scale, v[1] / scale, v[2] / scale];
  return { frame: { origin: moved(k, f.origin), x: shrink(x), y: shrink(y) }, scale };
}

/** A direction after a motion, as long as that makes it. */
export const movedDirection = (k: Motion, v: Vec3): Vec3 => times(k.m, v);

/** What volumes are multiplied by; below 0 for a mirror image. */
export const determinant = ({ m: [a, b, c] }: Motion): number => dot(a, cross(b, c));

/** One motion after another. */
export const after = (last: Motion, first: Motion): Motion => {
  const columns = triple((j) => j).map(
    (j): Vec3 =>
      times(
        last.m,
        triple((i) => first.m[i]![j]!),
      ),
  );
  const row = (i: 0 | 1 | 2): Vec3 => triple((j) => columns[j]![i]);
  return { m: [row(0), row(1), row(2)], t: moved(last, first.t) };
};

/** What undoes a motion; it scales all directions alike, so that its transpose is its inverse but for the square of that. */
export function inverse({ m, t }: Motion): Motion {
  const square = dot(m[0], m[0]);
  const row = (i: number): Vec3 => triple((j) => m[j]![i]! / square);
  const back: Motion['m'] = [row(0), row(1), row(2)];
  return { m: back, t: minus([0, 0, 0], times(back, t)) };
}

/** A motion that leaves a place where it is. */
const about = (m: Motion['m'], place: Vec3): Motion => ({ m, t: minus(place, times(m, place)) });

export const shiftBy = (v: Vec3): Motion => ({ ...STILL, t: v });

/** Turned about a line, counter-clockwise seen against its direction. */
export function turnAbout(place: Vec3, direction: Vec3, angle: number): Motion {
  const u = unit(direction) ?? [0, 0, 1];
  const [x, y, z] = [turned([1, 0, 0], u, angle), turned([0, 1, 0], u, angle), turned([0, 0, 1], u, angle)];
  return about(
    [
      [x[0], y[0], z[0]],
      [x[1], y[1], z[1]],
      [x[2], y[2], z[2]],
    ],
    place,
  );
}

/** The mirror image in a plane. */
export function mirrorIn(f: Frame): Motion {
  const n = normalOf(f);
  const row = (i: number): Vec3 => triple((j) => (i === j ? 1 : 0) - 2 * n[i]! * n[j]!);
  return about([row(0), row(1), row(2)], f.origin);
}

export const scaleFrom = (place: Vec3, factor: number): Motion =>
  about(
    [
      [factor, 0, 0],
      [0, factor, 0],
      [0, 0, factor],
    ],
    place,
  );

/** Takes one plane onto another, across to across and up to up. */
export function carry(from: Frame, to: Frame): Motion {
  const [nf, nt] = [normalOf(from), normalOf(to)];
  const row = (i: number): Vec3 => triple((j) => to.x[i]! * from.x[j]! + to.y[i]! * from.y[j]! + nt[i]! * nf[j]!);
  const m: Motion['m'] = [row(0), row(1), row(2)];
  return { m, t: minus(to.origin, times(m, from.origin)) };
}
