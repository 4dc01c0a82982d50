/** Curvature along curves, drawn as a comb of teeth, and where it changes sides. */
import { dot, triple, type Vec3 } from '../geometry/vectors';

/** A curve by places along it. */
export interface Combed {
  readonly places: readonly Vec3[];
  /** Curvature vector at each place: towards the centre of the bend, 1/mm long in the measure of the curvature. */
  readonly bends: readonly Vec3[];
  /** It ends where it begins. */
  readonly closed: boolean;
}

/** A bend below this share of the curve's tightest is straight: its direction tells nothing. */
const STRAIGHT = 1e-3;

export const curvatures = (c: Combed): number[] => c.bends.map((b) => Math.hypot(...b));

/** Curvature vector of a curve with these first and second derivatives (differential geometry textbooks). Undefined where it stands still. */
export function bendOf(d1: Vec3, d2: Vec3): Vec3 | undefined {
  const speed = dot(d1, d1);
  if (speed < 1e-24) return undefined;
  const along = dot(d1, d2) / speed;
  return triple((k) => (d2[k]! - along * d1[k]!) / speed);
}

/** How often the bend changes sides along a curve; straight stretches between two bends of the same side count as none. */
export function inflections(c: Combed): number {
  const k = curvatures(c);
  const least = STRAIGHT * Math.max(...k, 0);
  const bent = c.bends.filter((_, i) => k[i]! > least && k[i]! > 0);
  let count = 0;
  for (let i = 1; i < bent.length; i++) if (dot(bent[i - 1]!, bent[i]!) < 0) count++;
  if (c.closed && bent.length > 2 && dot(bent[bent.length - 1]!, bent[0]!) < 0) count++;
  return count;
}

/**
 * Teeth that point away from the centre of the bend, and the line over their tips, as segments of six coordinates, mm.
 * @param scale mm of tooth by 1/mm of curvature
 */
export function combLines(c: Combed, scale: number): Float32Array {
  const n = c.places.length;
  const tip = (i: number): Vec3 => c.places[i]!.map((x, k) => x - scale * c.bends[i]![k]!) as unknown as Vec3;
  const out: number[] = [];
  for (let i = 0; i < n; i++) out.push(...c.places[i]!, ...tip(i));
  for (let i = c.closed ? 0 : 1; i < n; i++) {
    const before = (i + n - 1) % n;
    out.push(...tip(before), ...tip(i));
  }
  return Float32Array.from(out);
}

/** The curve itself, as segments. */
export function curveLines(c: Combed): Float32Array {
  const out: number[] = [];
  const n = c.places.length;
  for (let i = c.closed ? 0 : 1; i < n; i++) out.push(...c.places[(i + n - 1) % n]!, ...c.places[i]!);
  return Float32Array.from(out);
}
