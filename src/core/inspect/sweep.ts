/** Sections of a skin by parallel planes: what each measures, and the wall met along its outlines. */
import { triple } from '../geometry/vectors';
import { type Bvh, type ClosestHit, closestOpposing } from '../mesh/bvh';
import type { TriMesh } from '../mesh/mesh';
import { contains, loopArea, planeAxes, regions, type Section, sliceMesh } from '../mesh/slice';
import { ballAt, tellsWall, type WallSpot } from '../mesh/wall';

type Vec = readonly [number, number, number];

/** Where a plane stands on the way it is moved along. */
export interface Station {
  /** How far along, mm: of a direction, the distance from the origin; of a path, the length walked. */
  readonly place: number;
  readonly normal: Vec;
  /** Distance of the plane from the origin along its normal, mm. */
  readonly offset: number;
  /** Only the piece of material about this place, or nearest to it, counts: a plane across a bent body meets other parts of it too. */
  readonly about?: Vec;
}

export interface SweepRow extends Station {
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
): [number, number, number] => triple((k) => s.u[k]! * p[0] + s.v[k]! * p[1] + normal[k]! * offset);

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

/** The plane of a row by itself. */
export const planeOf = ({ place, normal, offset, about }: Station): Station => ({ place, normal, offset, ...(about ? { about } : {}) });

/** What a plane cuts out of a skin; of its pieces the one about the station's place, where it has one. */
export function sectionAt(mesh: TriMesh, { normal, offset, about }: Station): Section {
  const section = sliceMesh(mesh, { normal, offset });
  if (!about) return section;
  const p: [number, number] = [section.u, section.v].map((w) => w[0] * about[0] + w[1] * about[1] + w[2] * about[2]) as [number, number];
  const far = (l: readonly (readonly [number, number])[]): number => Math.min(...l.map((q) => Math.hypot(q[0] - p[0], q[1] - p[1])));
  const found = regions(section)
    .map((r) => ({ r, d: contains(r.outer, p) ? 0 : far(r.outer) }))
    .sort((a, b) => a.d - b.d)[0]?.r;
  return { ...section, loops: found ? [found.outer, ...found.holes] : [] };
}

/** @param cap largest wall looked for, mm; @param samples places along the outlines of a section */
function sweepRow(bvh: Bvh, station: Station, cap: number, samples = 72): SweepRow {
  const { normal, offset } = station;
  const section = sectionAt(bvh.mesh, station);
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
    ...station,
    area: section.loops.reduce((total, l) => total + loopArea(l), 0),
    perimeter,
    least: count > 0 ? least : null,
    most: count > 0 ? most : null,
    mean: count > 0 ? sum / count : null,
    spot,
  };
}

/** Planes square to a direction at even distances between two ends, both left out by a hair: a plane through a flat end cuts nothing. */
export function stationsAlong(normal: Vec, from: number, to: number, count: number): Station[] {
  const hair = 1e-4 * (to - from);
  return Array.from({ length: count }, (_, i) => {
    const offset = from + hair + ((to - from - 2 * hair) * i) / (count - 1);
    return { place: offset, normal, offset };
  });
}

/** Planes square to a line of places, at even lengths along it; its very ends are left out. @param line three coordinates a place, mm */
export function stationsOf(line: ArrayLike<number>, count: number): Station[] {
  const places = Array.from({ length: line.length / 3 }, (_, i): Vec => [line[3 * i]!, line[3 * i + 1]!, line[3 * i + 2]!]);
  const lengths = [0];
  for (let i = 1; i < places.length; i++) lengths.push(lengths[i - 1]! + Math.hypot(...places[i]!.map((x, k) => x - places[i - 1]![k]!)));
  const whole = lengths[lengths.length - 1]!;
  const out: Station[] = [];
  let i = 1;
  for (let s = 0; s < count && whole > 0; s++) {
    const place = (whole * (s + 0.5)) / count;
    while (i < places.length - 1 && lengths[i]! < place) i++;
    const [a, b] = [places[i - 1]!, places[i]!];
    const l = lengths[i]! - lengths[i - 1]!;
    if (l === 0) continue;
    const normal = b.map((x, k) => (x - a[k]!) / l) as unknown as Vec;
    const about = a.map((x, k) => x + normal[k]! * (place - lengths[i - 1]!)) as unknown as Vec;
    out.push({ place, normal, offset: about[0] * normal[0] + about[1] * normal[1] + about[2] * normal[2], about });
  }
  return out;
}

/** @param cap largest wall looked for, mm; @param tick called with the share done; false gives up and the result is null */
export async function sweep(
  bvh: Bvh,
  stations: readonly Station[],
  cap: number,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<SweepRow[] | null> {
  const out: SweepRow[] = [];
  for (const [i, station] of stations.entries()) {
    if (!(await tick(i / stations.length))) return null;
    out.push(sweepRow(bvh, station, cap));
  }
  return out;
}

/** The frame that shows where a plane stands: a rectangle in it about the middle of some bounds, or about the station's own place. */
export function frameOfPlane({ normal, offset, about }: Station, min: Vec, max: Vec): Vec[] {
  const { u, v } = planeAxes(normal);
  const middle = about ?? (min.map((x, k) => (x + max[k]!) / 2) as unknown as Vec);
  const down = offset - (middle[0] * normal[0] + middle[1] * normal[1] + middle[2] * normal[2]);
  const reach = (w: Vec): number => (about ? 0.22 : 0.56) * w.reduce((sum, c, k) => sum + Math.abs(c) * (max[k]! - min[k]!), 0);
  const [a, b] = [reach(u), reach(v)];
  const corner = (s: number, t: number): Vec => triple((k) => middle[k]! + down * normal[k]! + s * a * u[k]! + t * b * v[k]!);
  return [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1), corner(-1, -1)];
}
