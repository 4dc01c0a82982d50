/** What a measurement reads: one thing by itself, or the way from it to another. Lengths in mm, areas in mm², angles in rad. */
import { along, cross, dot, minus, type Vec3 } from '../geometry/vectors';

/** What was measured, by its shape. */
type ThingKind = 'point' | 'line' | 'circle' | 'curve' | 'plane' | 'cylinder' | 'ball' | 'face';

export interface ThingReading {
  readonly kind: ThingKind;
  /** Of an edge. */
  readonly length: number | null;
  /** Of a face. */
  readonly area: number | null;
  /** Of a circle, a cylinder or a ball. */
  readonly radius: number | null;
  readonly at: Vec3;
}

export interface MeasureReading {
  readonly id: string;
  readonly a: ThingReading;
  readonly b: ThingReading | null;
  /** Least distance of the two, and between which places. */
  readonly distance: { readonly value: number; readonly from: Vec3; readonly to: Vec3 } | null;
  /** Between their directions, 0…90°; of lines, planes and the axes of round things, or of what they are where they are nearest. */
  readonly angle: number | null;
  /** Between the axes or centres of two round things. */
  readonly centres: { readonly value: number; readonly from: Vec3; readonly to: Vec3 } | null;
}

/** A measurement that can't be taken any more, with why. */
export interface LostMeasure {
  readonly id: string;
  readonly why: string;
}

/** Angle between two directions without regard to their senses, 0…π/2. */
export const angleBetween = (a: Vec3, b: Vec3): number => Math.atan2(Math.hypot(...cross(a, b)), Math.abs(dot(a, b)));

/** Least distance of two straight lines, each by a place and a unit direction, and where. */
export function lineToLine(p: Vec3, u: Vec3, q: Vec3, v: Vec3): { value: number; from: Vec3; to: Vec3 } {
  const d = minus(q, p);
  const c = dot(u, v);
  const det = 1 - c * c;
  // Parallel lines: from the place itself.
  const s = det < 1e-12 ? 0 : (dot(d, u) - c * dot(d, v)) / det;
  const t = det < 1e-12 ? -dot(d, v) : (c * dot(d, u) - dot(d, v)) / det;
  const [from, to] = [along(p, u, s), along(q, v, t)];
  return { value: Math.hypot(...minus(from, to)), from, to };
}
