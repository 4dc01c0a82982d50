/** Where the values of a step stand in space, so that they can be taken hold of there. */
import { type Frame, toSpace, turned } from '../../curves/frame';
import { along, cross, dot, minus, triple, unit, type Vec3 } from '../../geometry/vectors';
import type { Bounds } from '../../mesh/mesh';
import type { QuickSkin } from './quick';
import type { PathRef, PlaceRef } from './refs';

/** A value at its place. */
interface Held {
  /** The name of the value. */
  readonly value: string;
  /** Where the value is nothing, mm. */
  readonly from: Vec3;
  /** Lines that go with it: they stand where they would with the value at nothing. */
  readonly carried?: readonly (readonly Vec3[])[];
  /** It is a whole number. */
  readonly whole?: true;
}
/** One that goes along a line. */
export interface LineHandle extends Held {
  /** Which way it grows, of length one. */
  readonly way: Vec3;
  /** mm it goes for each mm of its value; 1 where left out. */
  readonly per?: number;
}
/** One that goes round a line. */
export interface TurnHandle extends Held {
  /** A place of the line and its direction, of length one; right-handed for what is positive. */
  readonly about: { readonly place: Vec3; readonly direction: Vec3 };
  /** The turn of a value, rad, and the value of a turn; one is the other where left out. */
  readonly turn?: { readonly of: (value: number) => number; readonly back: (turn: number) => number };
}
export type Handle = LineHandle | TurnHandle;

/** What places of values are told from; undefined is what is not built, or not there. */
export interface Standing {
  /** A value of the step, mm, rad or plain. */
  readonly value: (name: string) => number;
  readonly frame: (plane: string) => Frame | undefined;
  /** The lines of a drawing where its plane puts them. */
  readonly drawing: (profile: string) => { readonly frame: Frame; readonly lines: readonly (readonly Vec3[])[] } | undefined;
  readonly bounds: (body: string) => Bounds | undefined;
  readonly place: (ref: PlaceRef) => Vec3 | undefined;
  /** The middle of the highest facet of the faces that are called so, and which way they face there. */
  readonly face: (called: RegExp) => { readonly at: Vec3; readonly normal: Vec3 } | undefined;
  /** The line that is picked, with what goes on from it where it is drawn. */
  readonly line: (ref: PathRef) => readonly Vec3[] | undefined;
  /** The facets of a body, without those of faces whose names begin so. */
  readonly skin: (body: string, without: string) => QuickSkin | undefined;
  /** What another step raises, in a moment. */
  readonly raised: (step: string) => readonly QuickSkin[];
}

export const middleOf = (b: Bounds): Vec3 => triple((k) => (b.min[k]! + b.max[k]!) / 2);

/** The middle of the room that lines take. */
export function middleOfLines(lines: readonly (readonly Vec3[])[]): Vec3 | undefined {
  const all = lines.flat();
  if (all.length === 0) return undefined;
  const ends = (f: (...v: number[]) => number): Vec3 => triple((k) => all.reduce((m, p) => f(m, p[k]), all[0]![k]));
  return middleOf({ min: [...ends(Math.min)], max: [...ends(Math.max)] });
}

/** Where a place that goes with a handle comes to at a value, mm or rad. */
function carriedTo(handle: Handle, p: Vec3, value: number): Vec3 {
  if ('way' in handle) return along(p, handle.way, value * (handle.per ?? 1));
  const { place, direction } = handle.about;
  return along(place, turned(minus(p, place), direction, handle.turn ? handle.turn.of(value) : value), 1);
}

/** Where a handle stands at a value, mm or rad. */
export const placeAt = (handle: Handle, value: number): Vec3 => carriedTo(handle, handle.from, value);

/** The lines that go with a handle, at a value. */
export const carriedAt = (handle: Handle, value: number): Vec3[][] =>
  (handle.carried ?? []).map((line) => line.map((p) => carriedTo(handle, p, value)));

/**
 * The value at which a handle that goes along a line is nearest to a ray of sight, mm.
 * @param direction of length one
 * @returns undefined where one looks along the line
 */
export function valueAlong(handle: LineHandle, eye: Vec3, direction: Vec3): number | undefined {
  const b = dot(direction, handle.way);
  if (1 - b * b < 1e-4) return undefined;
  const w = minus(handle.from, eye);
  return (b * dot(w, direction) - dot(w, handle.way)) / (1 - b * b) / (handle.per ?? 1);
}

/**
 * The turn from a handle's beginning to where a ray of sight meets the plane it turns in, rad, from −π to π.
 * @returns undefined where one looks along that plane
 */
export function turnTo(handle: TurnHandle, eye: Vec3, direction: Vec3): number | undefined {
  const { place, direction: axis } = handle.about;
  const over = dot(minus(handle.from, place), axis);
  const centre = along(place, axis, over);
  const slope = dot(direction, axis);
  if (Math.abs(slope) < 1e-3) return undefined;
  const hit = along(eye, direction, dot(minus(centre, eye), axis) / slope);
  const x = unit(minus(handle.from, centre));
  if (!x) return undefined;
  const d = minus(hit, centre);
  return Math.atan2(dot(d, cross(axis, x)), dot(d, x));
}

/** The corners of a box, as its twelve edges. */
export function boxLines({ min, max }: Bounds): Vec3[][] {
  const corner = (i: number): Vec3 => triple((k) => ((i >> k) & 1 ? max[k]! : min[k]!));
  return [0, 1, 2].flatMap((k) =>
    Array.from({ length: 8 }, (_, i) => i)
      .filter((i) => !((i >> k) & 1))
      .map((i) => [corner(i), corner(i | (1 << k))]),
  );
}

/** A closed circle in a plane about its origin, as a line of 48 stretches. */
export const circleIn = (frame: Frame, radius: number): Vec3[] =>
  Array.from({ length: 49 }, (_, i) => {
    const t = (2 * Math.PI * i) / 48;
    return toSpace(frame, { x: radius * Math.cos(t), y: radius * Math.sin(t) });
  });

/** The line that something goes along or about: one of the origin's, or one that is picked. @returns undefined where that has no length */
export function lineOf(
  axis: 'x' | 'y' | 'z' | 'line',
  paths: readonly PathRef[],
  standing: Standing,
): { place: Vec3; direction: Vec3 } | undefined {
  if (axis !== 'line') return { place: [0, 0, 0], direction: triple((k) => ('xyz'[k] === axis ? 1 : 0)) };
  const picked = paths[0] && standing.line(paths[0]);
  const direction = picked && unit(minus(picked.at(-1)!, picked[0]!));
  return picked && direction ? { place: picked[0]!, direction } : undefined;
}
