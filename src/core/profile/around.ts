/** What stands about a drawing in its own plane: other drawings, and bodies where the plane meets them. */
import { type Frame, heightOver, normalOf, toPlane } from '../curves/frame';
import type { Point2 } from '../curves/planar';
import { dot, triple, type Vec3 } from '../geometry/vectors';

export interface Around {
  /** What it belongs to. */
  readonly words: string;
  readonly lines: readonly (readonly Point2[])[];
}

/** Planes whose normals differ by less, as the sine, are parallel. */
const PARALLEL = 1e-9;
/** What lies nearer to the plane lies in it, mm. */
const IN_PLANE = 1e-3;

export const liesAlong = (f: Frame, g: Frame): boolean => 1 - Math.abs(dot(normalOf(f), normalOf(g))) < PARALLEL;

/** Lines in space, seen square to the plane. */
export const seenIn = (frame: Frame, lines: readonly (readonly Vec3[])[]): Point2[][] =>
  lines.filter((l) => l.length > 1).map((l) => l.map((p) => toPlane(frame, p)));

/** Edges that lie in the plane, stretch after stretch put together. @param segments six coordinates a stretch, mm @param edgeOf the edge of each */
export function edgesIn(frame: Frame, segments: Float32Array, edgeOf: Uint32Array): Point2[][] {
  const out: Point2[][] = [];
  let edge = -1;
  for (let s = 0; s < edgeOf.length; s++) {
    const end = (k: number): Vec3 => triple((axis) => segments[6 * s + 3 * k + axis]!);
    const [a, b] = [end(0), end(1)];
    if (Math.abs(heightOver(frame, a)) > IN_PLANE || Math.abs(heightOver(frame, b)) > IN_PLANE) {
      edge = -1;
      continue;
    }
    if (edge !== edgeOf[s]) out.push([toPlane(frame, a)]);
    out.at(-1)!.push(toPlane(frame, b));
    edge = edgeOf[s]!;
  }
  return out;
}

/** Where a place falls onto what stands about: an end of a line within reach, else the nearest place on one. */
export function nearestAround(
  around: readonly Around[],
  raw: Point2,
  reach: number,
): { readonly at: Point2; readonly reason: string; readonly end: boolean } | undefined {
  let [best, least]: [ReturnType<typeof nearestAround>, number] = [undefined, reach];
  for (const { words, lines } of around)
    for (const line of lines)
      for (const p of [line[0]!, line[line.length - 1]!]) {
        const d = Math.hypot(p.x - raw.x, p.y - raw.y);
        if (d <= least) [best, least] = [{ at: p, reason: `end of ${words}`, end: true }, d];
      }
  if (best) return best;
  for (const { words, lines } of around)
    for (const line of lines)
      for (let i = 1; i < line.length; i++) {
        const [a, b] = [line[i - 1]!, line[i]!];
        const [dx, dy] = [b.x - a.x, b.y - a.y];
        const t = Math.min(1, Math.max(0, ((raw.x - a.x) * dx + (raw.y - a.y) * dy) / (dx * dx + dy * dy || 1)));
        const at = { x: a.x + t * dx, y: a.y + t * dy };
        const d = Math.hypot(at.x - raw.x, at.y - raw.y);
        if (d <= least) [best, least] = [{ at, reason: `on ${words}`, end: false }, d];
      }
  return best;
}
