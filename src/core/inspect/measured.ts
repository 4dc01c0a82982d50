/** What a measurement reads: one thing by itself, or the way from it to another. Lengths in mm, areas in mm², angles in rad. */
import type { Vec3 } from '../curves/frame';

/** What was measured, by its shape. */
export type ThingKind = 'point' | 'line' | 'circle' | 'curve' | 'plane' | 'cylinder' | 'ball' | 'face';

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
export const angleBetween = (a: Vec3, b: Vec3): number => {
  const cross = Math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]);
  return Math.atan2(cross, Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]));
};

/** Least distance of two straight lines, each by a place and a unit direction, and where. */
export function lineToLine(p: Vec3, u: Vec3, q: Vec3, v: Vec3): { value: number; from: Vec3; to: Vec3 } {
  const d = [0, 1, 2].map((k) => q[k]! - p[k]!);
  const by = (a: readonly number[], b: readonly number[]): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
  const c = by(u, v);
  const det = 1 - c * c;
  // Parallel lines: from the place itself.
  const s = det < 1e-12 ? 0 : (by(d, u) - c * by(d, v)) / det;
  const t = det < 1e-12 ? -by(d, v) : (c * by(d, u) - by(d, v)) / det;
  const from = p.map((x, k) => x + s * u[k]!) as unknown as Vec3;
  const to = q.map((x, k) => x + t * v[k]!) as unknown as Vec3;
  return { value: Math.hypot(...from.map((x, k) => x - to[k]!)), from, to };
}
