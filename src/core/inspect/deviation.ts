/** How far a body lies off another: signed distances to the nearest place of its skin, told by area. */
import { triple, type Vec3 } from '../geometry/vectors';
import type { TriMesh } from '../mesh/mesh';
import { nearestOf } from '../scan/nearest';
import { extremes, type Facets, facetCount, type Histogram, histogramOf } from './facets';

export interface DeviationMap {
  /** mm by facet: outside the other where positive; NaN where the other ends, so that there is nothing to compare with. */
  readonly values: Float32Array;
  readonly histogram: Histogram;
  /** Mean, and root of the mean square, by area, mm. */
  readonly mean: number;
  readonly rms: number;
  /** Share of the compared area that lies within the tolerance, and that area, mm². */
  readonly within: number;
  readonly touching: number;
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
 * @param other skin that is compared with, its corners shared
 * @param apart told places lie at least so far from each other, mm
 */
export async function deviationMap(
  f: Facets,
  other: TriMesh,
  tolerance: number,
  apart: number,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<DeviationMap | null> {
  const n = facetCount(f);
  const values = new Float32Array(n).fill(Number.NaN);
  const nearest = nearestOf(other);
  let [whole, area, sum, squares, inside] = [0, 0, 0, 0, 0];
  for (let t = 0; t < n; t++) {
    if (t % PORTION === 0 && !(await tick(t / n))) return null;
    const near = nearest(triple((k) => f.centres[3 * t + k]!));
    const a = f.areas[t]!;
    whole += a;
    if (!near || near.beyond) continue;
    const d = near.distance;
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
    touching: inside,
    compared: whole > 0 ? area / whole : 0,
    over: told(1),
    under: told(-1),
  };
}
