/** The wall at every facet of a skin: by the inscribed ball whose contact opposes the facet, or along a ray straight in. */
import { type Bvh, type RayHit, raycast } from '../mesh/bvh';
import { ballAt, tellsWall, type WallSpot } from '../mesh/wall';
import { areaBelow, extremes, type Facets, facetCount, type Histogram, histogramOf, pairs } from './facets';

export type WallMethod = 'ball' | 'ray';

/** A place with its wall; by ball, what a measurement on the exact surfaces starts from. */
export type WallPlace = WallSpot;

export interface WallMap {
  readonly method: WallMethod;
  /** mm by facet; NaN where none was found. */
  readonly values: Float32Array;
  readonly histogram: Histogram;
  /** mm²; null without a limit. */
  readonly below: number | null;
  readonly thinnest: readonly WallPlace[];
  readonly thickest: readonly WallPlace[];
  /** Largest change of the wall from facet to facet beside it, mm per mm, with its place. */
  readonly change: { readonly rate: number; readonly at: readonly [number, number, number] } | null;
}

const hit: RayHit = { t: 0, triangle: -1 };

/**
 * @param cap largest wall looked for, mm
 * @param apart how far listed places lie from each other, mm
 * @param tick called now and then with the share done; false gives up and the result is null
 */
export async function wallMap(
  bvh: Bvh,
  facets: Facets,
  options: {
    readonly method: WallMethod;
    readonly cap: number;
    readonly limit: number | null;
    /** How far a reading may be off for the mesh's sake, mm: what is thinner by less does not count as thin. */
    readonly tolerance?: number;
    readonly apart: number;
    /** Faces that meet at a sharp convex edge, whose wedge is no wall. */
    readonly wedge?: (face: number, other: number) => boolean;
    readonly tick?: (share: number) => Promise<boolean>;
  },
): Promise<WallMap | null> {
  const n = facetCount(facets);
  const values = new Float32Array(n).fill(Number.NaN);
  const { centres: c, exact: m, skewed, faceOf } = facets;
  const { mesh } = bvh;
  for (let t = 0; t < n; t++) {
    if (t % 2000 === 0 && options.tick && !(await options.tick(t / n))) return null;
    if (skewed[t]) continue;
    const p = [c[3 * t]!, c[3 * t + 1]!, c[3 * t + 2]!] as const;
    const normal = [m[3 * t]!, m[3 * t + 1]!, m[3 * t + 2]!] as const;
    if (options.method === 'ray') {
      raycast(bvh, ...p, -normal[0], -normal[1], -normal[2], 1e-6 * options.cap + 1e-6, options.cap, hit);
      if (hit.triangle >= 0) values[t] = hit.t;
      continue;
    }
    const ball = ballAt(bvh, p, normal, options.cap);
    if (tellsWall(bvh, p, ball) && !options.wedge?.(faceOf[t]!, mesh.faceOf[ball.triangle]!)) values[t] = ball.thickness;
  }
  const place = (t: number): WallPlace => {
    const at: [number, number, number] = [c[3 * t]!, c[3 * t + 1]!, c[3 * t + 2]!];
    const normal: [number, number, number] = [m[3 * t]!, m[3 * t + 1]!, m[3 * t + 2]!];
    if (options.method === 'ray') {
      raycast(bvh, ...at, -normal[0], -normal[1], -normal[2], 1e-6 * options.cap + 1e-6, options.cap, hit);
      const contact = at.map((x, k) => x - hit.t * normal[k]!) as [number, number, number];
      return { thickness: values[t]!, at, normal, contact, face: faceOf[t]!, contactFace: mesh.faceOf[hit.triangle]! };
    }
    const ball = ballAt(bvh, at, normal, options.cap);
    return { thickness: values[t]!, at, normal, contact: ball.contact, face: faceOf[t]!, contactFace: mesh.faceOf[ball.triangle]! };
  };
  return {
    method: options.method,
    values,
    histogram: histogramOf(values, facets.areas),
    below: options.limit === null ? null : areaBelow(values, facets.areas, options.limit - (options.tolerance ?? 0)),
    thinnest: extremes(facets, values, 8, options.apart).map(place),
    thickest: extremes(facets, values, 4, options.apart, -1).map(place),
    change: steepest(facets, values),
  };
}

/** The largest change of a reading between facets that share a side, per mm between their middles, by place of their corners. */
function steepest(f: Facets, values: Float32Array): WallMap['change'] {
  let best: { rate: number; at: readonly [number, number, number] } | null = null;
  // Between slivers whose middles nearly coincide a hair of difference is no change of the wall.
  let area = 0;
  for (const a of f.areas) area += a;
  const near = Math.max(1e-3, 0.5 * Math.sqrt(area / Math.max(1, facetCount(f))));
  pairs(f, (a, b) => {
    // Across an edge of the body the wall may jump; what is asked for is how it changes along a face.
    if (f.faceOf[a] !== f.faceOf[b] || !Number.isFinite(values[a]!) || !Number.isFinite(values[b]!)) return;
    const apart = Math.hypot(
      f.centres[3 * a]! - f.centres[3 * b]!,
      f.centres[3 * a + 1]! - f.centres[3 * b + 1]!,
      f.centres[3 * a + 2]! - f.centres[3 * b + 2]!,
    );
    const rate = Math.abs(values[a]! - values[b]!) / apart;
    if (apart > near && (!best || rate > best.rate)) best = { rate, at: [f.centres[3 * b]!, f.centres[3 * b + 1]!, f.centres[3 * b + 2]!] };
  });
  return best;
}
