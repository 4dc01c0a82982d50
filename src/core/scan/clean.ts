/** Cleans a scan: islands, doubled facets, spikes, holes, roughness. Each by itself, in the order in which it has to be done. */
import { faceNormal } from '../form/starts';
import { dot, minus, triple } from '../geometry/vectors';
import type { TriMesh } from '../mesh/mesh';
import { fail, ok, type Result } from '../result';
import { type FillFailure, type FillKind, filled } from './fill';
import { after, type Border, manifold, ofFacets, placeOf, topologyOf, vertexNormals } from './topology';

export interface Cleaning {
  /** Islands of less than this share of the largest one's area go. */
  readonly islands: number;
  /** Borders left open: the longest, and so many of the roundest after it; or all. */
  readonly keep: 'outer' | 'round' | 'all' | 'none';
  /** So many of the roundest. */
  readonly round: number;
  readonly fill: FillKind;
  /** Rounds of smoothing. */
  readonly smooth: number;
}

export interface Cleaned {
  readonly mesh: TriMesh;
  readonly islands: number;
  readonly dropped: number;
  readonly holes: number;
  readonly open: readonly Border[];
  /** How far a place was moved by smoothing at most, mm. */
  readonly moved: number;
}

/** How far a border is from a circle: 0 for one, more for others. Source: isoperimetric quotient. */
export function unroundness(mesh: TriMesh, b: Border): number {
  const twice = dot(faceNormal(b.vertices.map((v) => minus(placeOf(mesh, v), b.centre))), b.normal);
  return 1 - (2 * Math.PI * Math.abs(twice)) / (b.length * b.length);
}

/** Which borders stay open. @returns them, the longest first */
function kept(mesh: TriMesh, borders: readonly Border[], { keep, round }: Pick<Cleaning, 'keep' | 'round'>): readonly Border[] {
  if (keep === 'all') return borders;
  if (keep === 'none') return [];
  const [outer, ...others] = borders;
  if (!outer) return [];
  if (keep === 'outer') return [outer];
  const most = others.toSorted((a, b) => unroundness(mesh, a) - unroundness(mesh, b)).slice(0, Math.round(round));
  return [outer, ...others.filter((b) => most.includes(b))];
}

/** @returns a cleaned mesh, or the hole that can't be filled */
export function cleaned(scan: TriMesh, how: Cleaning): Result<Cleaned, FillFailure> {
  const sound = manifold(scan);
  const whole = topologyOf(sound.mesh);
  const least = how.islands * (whole.islands[0]?.area ?? 0);
  const stays = whole.islands.map((i, k) => k === 0 || i.area >= least);
  const facets = Array.from(sound.mesh.faceOf.keys()).filter((t) => stays[whole.islandOf[t]!]);
  if (facets.length === 0) return fail({ at: [0, 0, 0], why: 'it has no facets' });
  const one = facets.length < sound.mesh.faceOf.length ? ofFacets(sound.mesh, facets) : sound.mesh;
  const { borders } = topologyOf(one);
  const open = kept(one, borders, how);
  const holes = borders.filter((b) => !open.includes(b));
  const full = filled(one, holes, how.fill, 1 + Math.max(...one.faceOf));
  if (!full.ok) return full;
  const smooth = smoothed(full.value, how.smooth);
  return ok({
    mesh: smooth.mesh,
    islands: stays.filter((s) => !s).length,
    dropped: sound.dropped,
    holes: holes.length,
    open: topologyOf(smooth.mesh).borders,
    moved: smooth.moved,
  });
}

/** Shares by which places go towards the middle of those beside them, then back. Source: G. Taubin, "A signal processing approach to fair surface design" (1995). */
const [THERE, BACK] = [0.5, -0.53] as const;

/** The mean of the places around each vertex, for any places of the vertices; its own where it has no facet. */
function meansAround({ indices }: TriMesh, n: number): { readonly count: Float64Array; readonly means: (p: Float64Array) => Float64Array } {
  const count = new Float64Array(n);
  for (const v of indices) count[v]!++;
  const means = (p: Float64Array): Float64Array => {
    const sum = new Float64Array(3 * n);
    for (let h = 0; h < indices.length; h++) {
      const [a, b] = [indices[h]!, indices[after(h)]!];
      for (let k = 0; k < 3; k++) sum[3 * a + k] = sum[3 * a + k]! + p[3 * b + k]!;
    }
    return sum.map((x, i) => (count[Math.floor(i / 3)] ? x / count[Math.floor(i / 3)]! : p[i]!));
  };
  return { count, means };
}

/** Smooths without shrinking; borders stay. */
export function smoothed(mesh: TriMesh, rounds: number): { readonly mesh: TriMesh; readonly moved: number } {
  if (rounds < 1) return { mesh, moved: 0 };
  const n = mesh.positions.length / 3;
  const { across } = topologyOf(mesh);
  const fixed = new Uint8Array(n);
  across.forEach((o, h) => {
    if (o < 0) fixed[mesh.indices[h]!] = fixed[mesh.indices[after(h)]!] = 1;
  });
  const { means } = meansAround(mesh, n);
  const from = mesh.positions;
  let p = from;
  for (let round = 0; round < Math.round(rounds); round++)
    for (const by of [THERE, BACK]) {
      const mean = means(p);
      p = p.map((x, i) => (fixed[Math.floor(i / 3)] ? x : x + by * (mean[i]! - x)));
    }
  let moved = 0;
  for (let v = 0; v < n; v++) moved = Math.max(moved, Math.hypot(...triple((k) => p[3 * v + k]! - from[3 * v + k]!)));
  return { mesh: { ...mesh, positions: p }, moved };
}

/** What the twofold difference below makes of noise of 1, where each place has six others around. */
const TWOFOLD = 1.36;

/**
 * How rough a scan is: what places lie off the middle of those around, less what these do, so that an even bend does not count; along the normal,
 * as the deviation of a single place by the middle one of all, so that edges do not count, mm.
 */
export function roughness(mesh: TriMesh): number {
  const n = mesh.positions.length / 3;
  const normals = vertexNormals(mesh);
  const { count, means } = meansAround(mesh, n);
  /** What each lies off the mean of those around. */
  const offMean = (p: Float64Array): Float64Array => {
    const mean = means(p);
    return p.map((x, i) => x - mean[i]!);
  };
  const off = offMean(offMean(mesh.positions));
  const sizes: number[] = [];
  for (let v = 0; v < n; v++)
    if (count[v]! >= 5)
      sizes.push(
        Math.abs(
          dot(
            triple((k) => off[3 * v + k]!),
            triple((k) => normals[3 * v + k]!),
          ),
        ),
      );
  sizes.sort((a, b) => a - b);
  // The middle of what is spread normally, by its deviation.
  return (sizes[Math.floor(sizes.length / 2)] ?? 0) / 0.6745 / TWOFOLD;
}
