/** Sections of a skin by parallel planes: what each measures, and the wall met along its outlines. */
import { type Bvh, type ClosestHit, closestOpposing } from '../mesh/bvh';
import { loopArea, type Section, sliceMesh } from '../mesh/slice';
import { ballAt, tellsWall, type WallSpot } from '../mesh/wall';

export interface SweepRow {
  /** Distance of the plane from the origin along its normal, mm. */
  readonly offset: number;
  /** mm² of material. */
  readonly area: number;
  /** Length of all outlines, mm. */
  readonly perimeter: number;
  /** Wall by the inscribed ball along the outlines, mm; null where none was met. */
  readonly least: number | null;
  readonly most: number | null;
  readonly mean: number | null;
  /** Where it is least. */
  readonly spot: WallSpot | null;
}

const near: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };

export const perimeterOf = (loop: readonly (readonly [number, number])[]): number =>
  loop.reduce((sum, p, i) => {
    const q = loop[(i + 1) % loop.length]!;
    return sum + Math.hypot(q[0] - p[0], q[1] - p[1]);
  }, 0);

/** A place of a section in space. */
export const sectionPlace = (
  s: Section,
  normal: readonly [number, number, number],
  offset: number,
  p: readonly [number, number],
): [number, number, number] => [0, 1, 2].map((k) => s.u[k]! * p[0] + s.v[k]! * p[1] + normal[k]! * offset) as [number, number, number];

/** Places evenly along a closed outline, so many at least. */
function along(loop: readonly (readonly [number, number])[], step: number): [number, number][] {
  const out: [number, number][] = [];
  let left = step / 2;
  for (let i = 0; i < loop.length; i++) {
    const [p, q] = [loop[i]!, loop[(i + 1) % loop.length]!];
    const l = Math.hypot(q[0] - p[0], q[1] - p[1]);
    let at = left;
    for (; at < l; at += step) out.push([p[0] + ((q[0] - p[0]) * at) / l, p[1] + ((q[1] - p[1]) * at) / l]);
    left = at - l;
  }
  return out;
}

/** @param cap largest wall looked for, mm; @param samples places along the outlines of a section */
export function sweepRow(bvh: Bvh, normal: readonly [number, number, number], offset: number, cap: number, samples = 72): SweepRow {
  const section = sliceMesh(bvh.mesh, { normal, offset });
  const perimeter = section.loops.reduce((sum, l) => sum + perimeterOf(l), 0);
  let [least, most, sum, count] = [Number.POSITIVE_INFINITY, 0, 0, 0];
  let spot: WallSpot | null = null;
  for (const loop of section.loops)
    for (const q of along(loop, perimeter / samples)) {
      const p = sectionPlace(section, normal, offset, q);
      closestOpposing(bvh, ...p, 0, 0, 1, 1, 1e6, near);
      const t = near.triangle;
      if (t < 0 || bvh.mesh.skewed?.[t]) continue;
      const n = bvh.normals.subarray(3 * t, 3 * t + 3) as unknown as number[];
      const ball = ballAt(bvh, p, n, cap);
      if (!tellsWall(bvh, p, ball)) continue;
      sum += ball.thickness;
      count++;
      most = Math.max(most, ball.thickness);
      if (ball.thickness >= least) continue;
      least = ball.thickness;
      spot = {
        thickness: least,
        at: p,
        normal: [n[0]!, n[1]!, n[2]!],
        contact: ball.contact,
        face: bvh.mesh.faceOf[t]!,
        contactFace: bvh.mesh.faceOf[ball.triangle]!,
      };
    }
  return {
    offset,
    area: section.loops.reduce((total, l) => total + loopArea(l), 0),
    perimeter,
    least: count > 0 ? least : null,
    most: count > 0 ? most : null,
    mean: count > 0 ? sum / count : null,
    spot,
  };
}

/** Rows at even distances between two ends, both left out by a hair: a plane through a flat end cuts nothing. */
export async function sweep(
  bvh: Bvh,
  normal: readonly [number, number, number],
  from: number,
  to: number,
  rows: number,
  cap: number,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<SweepRow[] | null> {
  const out: SweepRow[] = [];
  const hair = 1e-4 * (to - from);
  for (let i = 0; i < rows; i++) {
    if (!(await tick(i / rows))) return null;
    out.push(sweepRow(bvh, normal, from + hair + ((to - from - 2 * hair) * i) / (rows - 1), cap));
  }
  return out;
}
