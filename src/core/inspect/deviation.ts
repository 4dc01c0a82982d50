/** How far a body lies off another: signed distances to the nearest place of its skin, told by area. */
import { triple, type Vec3 } from '../geometry/vectors';
import { type Bvh, type ClosestHit, closestOpposing } from '../mesh/bvh';
import { extremes, type Facets, facetCount, type Histogram, histogramOf } from './facets';

export interface DeviationMap {
  /** mm by facet: outside the other where positive; NaN where the other ends, so that there is nothing to compare with. */
  readonly values: Float32Array;
  readonly histogram: Histogram;
  /** Mean, and root of the mean square, by area, mm. */
  readonly mean: number;
  readonly rms: number;
  /** Share of the compared area that lies within the tolerance. */
  readonly within: number;
  /** Share of the area that has something to be compared with. */
  readonly compared: number;
  /** Farthest outside and farthest inside, places apart from each other, the worst first. */
  readonly over: readonly DeviationPlace[];
  readonly under: readonly DeviationPlace[];
}

interface DeviationPlace {
  readonly value: number;
  readonly at: Vec3;
}

/** Between two looks at whether one is to go on, facets. */
const PORTION = 2000;
/** Places that are told of either side. */
const TOLD = 6;

/**
 * @param other skin that is compared with
 * @param ends whether a facet of it lies at one of its open borders
 * @param apart told places lie at least so far from each other, mm
 */
export async function deviationMap(
  f: Facets,
  other: Bvh,
  ends: (facet: number) => boolean,
  tolerance: number,
  apart: number,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<DeviationMap | null> {
  const n = facetCount(f);
  const values = new Float32Array(n).fill(Number.NaN);
  const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
  let [whole, area, sum, squares, inside] = [0, 0, 0, 0, 0];
  for (let t = 0; t < n; t++) {
    if (t % PORTION === 0 && !(await tick(t / n))) return null;
    const [x, y, z] = triple((k) => f.centres[3 * t + k]!);
    const a = f.areas[t]!;
    whole += a;
    closestOpposing(other, x, y, z, 0, 0, 1, 1, Number.POSITIVE_INFINITY, hit);
    if (hit.triangle < 0 || ends(hit.triangle)) continue;
    const m = 3 * hit.triangle;
    const along = (x - hit.x) * other.normals[m]! + (y - hit.y) * other.normals[m + 1]! + (z - hit.z) * other.normals[m + 2]!;
    const d = along < 0 ? -hit.distance : hit.distance;
    values[t] = d;
    area += a;
    sum += a * d;
    squares += a * d * d;
    if (Math.abs(d) <= tolerance) inside += a;
  }
  const told = (sign: 1 | -1): DeviationPlace[] =>
    extremes(f, values, TOLD, apart, sign === 1 ? -1 : 1)
      .filter((t) => sign * values[t]! > 0)
      .map((t) => ({ value: values[t]!, at: triple((k) => f.centres[3 * t + k]!) }));
  return {
    values,
    histogram: histogramOf(values, f.areas),
    mean: area > 0 ? sum / area : 0,
    rms: area > 0 ? Math.sqrt(squares / area) : 0,
    within: area > 0 ? inside / area : 0,
    compared: whole > 0 ? area / whole : 0,
    over: told(1),
    under: told(-1),
  };
}
