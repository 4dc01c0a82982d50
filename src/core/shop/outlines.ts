/** Outlines of bodies: where their faces turn away from the eye. */
import { along, minus, squareTo, unit, type Vec3 } from '../geometry/vectors';

/** A line of a body in space: an edge, or a stretch of its outline. */
export interface SpaceLine {
  readonly points: readonly Vec3[];
  /** Away from the body at each of them, of length one or nothing. */
  readonly lifts: readonly Vec3[];
}

/** Facets with the exact normals of the faces they lie on; vertices are not shared between faces. */
export interface ShadedMesh {
  readonly positions: ArrayLike<number>;
  readonly normals: ArrayLike<number>;
  readonly indices: ArrayLike<number>;
  readonly faceOf: ArrayLike<number>;
}

/** Less than this a normal is square to the line of sight: on a radius of 100 mm that moves the outline by 5e-5 mm. */
const SQUARE = 1e-3;

/**
 * Where a face turns away: between two corners of a facet the face itself is followed, as a cubic with the corners' places and tangent planes, whose
 * lengths are those of a circle. Its error grows with the fourth power of the turn between the corners; along the line of sight it does not matter.
 * Source of the cubic: Vlachos et al., Curved PN triangles (2001), from memory; the lengths by the usual arc approximation.
 * @param view to the eye, of length one
 */
export function outlinesOf(mesh: ShadedMesh, view: Vec3): SpaceLine[] {
  const { positions, normals, indices } = mesh;
  const at = (list: ArrayLike<number>, v: number): Vec3 => [list[3 * v]!, list[3 * v + 1]!, list[3 * v + 2]!];
  const facing = new Float64Array(positions.length / 3);
  for (let v = 0; v < facing.length; v++) {
    const g = normals[3 * v]! * view[0] + normals[3 * v + 1]! * view[1] + normals[3 * v + 2]! * view[2];
    // What stands square to the line of sight counts as facing the eye.
    facing[v] = Math.abs(g) < SQUARE ? 0 : g;
  }
  const places = new Map<string, { point: Vec3; lift: Vec3 }>();
  const key = (i: number, j: number): string => (i < j ? `${i} ${j}` : `${j} ${i}`);
  const root = (i: number, j: number): string => {
    const k = key(i, j);
    if (!places.has(k))
      places.set(k, turningPlace(at(positions, i), at(normals, i), facing[i]!, at(positions, j), at(normals, j), facing[j]!));
    return k;
  };
  const next = new Map<string, string[]>();
  const join = (a: string, b: string): void => {
    next.set(a, [...(next.get(a) ?? []), b]);
    next.set(b, [...(next.get(b) ?? []), a]);
  };
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t]!, indices[t + 1]!, indices[t + 2]!];
    const [away, bway, cway] = [facing[a]! < 0, facing[b]! < 0, facing[c]! < 0];
    if (away === bway && bway === cway) continue;
    const ends: string[] = [];
    if (away !== bway) ends.push(root(a, b));
    if (bway !== cway) ends.push(root(b, c));
    if (cway !== away) ends.push(root(c, a));
    if (ends.length === 2) join(ends[0]!, ends[1]!);
  }
  const out: SpaceLine[] = [];
  const done = new Set<string>();
  const walk = (start: string): void => {
    const line: string[] = [start];
    done.add(start);
    for (let k: string | undefined = start; k !== undefined; ) {
      const step: string | undefined = next.get(k)!.find((m) => !done.has(m));
      if (step !== undefined) {
        done.add(step);
        line.push(step);
      } else if (line.length > 2 && next.get(k)!.includes(start)) line.push(start);
      k = step;
    }
    const points: Vec3[] = [];
    const lifts: Vec3[] = [];
    for (const k of line) {
      const { point, lift } = places.get(k)!;
      const last = points[points.length - 1];
      if (last && Math.hypot(...minus(point, last)) < 1e-6) continue;
      points.push(point);
      lifts.push(lift);
    }
    if (points.length > 1) out.push({ points, lifts });
  };
  for (const [k, list] of next) if (list.length === 1 && !done.has(k)) walk(k);
  for (const k of next.keys()) if (!done.has(k)) walk(k);
  return out;
}

/** Part of the way from one place to another. */
export const mixed = (a: Vec3, b: Vec3, t: number): Vec3 => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])];

/** The place between two corners where the face turns away. @param g how far each corner faces the eye */
function turningPlace(p: Vec3, n: Vec3, g: number, q: Vec3, m: Vec3, h: number): { point: Vec3; lift: Vec3 } {
  const t = g / (g - h);
  const lift = unit(mixed(n, m, t)) ?? n;
  const chord = minus(q, p);
  const length = Math.hypot(...chord);
  /** The next control point from a corner, in its tangent plane. */
  const handle = (from: Vec3, normal: Vec3, way: 1 | -1): Vec3 => {
    const flat = squareTo(chord, normal);
    const size = Math.hypot(...flat);
    if (!(size > 1e-9 * length)) return mixed(p, q, way === 1 ? 1 / 3 : 2 / 3);
    return along(from, flat, (way * (length / 3) * (2 / (1 + size / length))) / size);
  };
  const [c1, c2] = [handle(p, n, 1), handle(q, m, -1)];
  const s = 1 - t;
  const point: [number, number, number] = [0, 0, 0];
  for (let k = 0; k < 3; k++) point[k] = s * s * s * p[k]! + 3 * s * s * t * c1[k]! + 3 * s * t * t * c2[k]! + t * t * t * q[k]!;
  return { point, lift };
}
