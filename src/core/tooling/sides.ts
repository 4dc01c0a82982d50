/** From how many sides a part is milled: what a thin straight tool reaches from each of the six, and the fewest that reach all that can be. */
import { dot, type Vec3 } from '../geometry/vectors';
import { type Facets, facetCount, pairs } from '../inspect/facets';
import { type Bvh, type RayHit, raycast } from '../mesh/bvh';

interface MilledSide {
  /** The tool comes from there: unit vector from the part to the spindle. */
  readonly from: Vec3;
  /** mm² it is the first of the chosen ones to reach. */
  readonly area: number;
  /** How deep the deepest of that lies under the highest place of the part on that side, mm: so far the tool sticks out at least. */
  readonly reach: number;
}

export interface Milled {
  /** The fewest, the one that reaches most first. */
  readonly sides: readonly MilledSide[];
  /** mm² that no side reaches, and a place on it. */
  readonly left: number;
  readonly at: Vec3 | null;
  /** Inside edges without a round, mm in all: a turning tool leaves its own radius there. */
  readonly sharp: number;
}

const FROM: readonly Vec3[] = [
  [0, 0, 1],
  [0, 0, -1],
  [1, 0, 0],
  [-1, 0, 0],
  [0, 1, 0],
  [0, -1, 0],
];

/** Walls along the tool are milled by its side: they may look away by this, as facets of round ones do. */
const ALONG = -0.02;
/** Facets turn inwards by more than this at an edge without a round, rad. */
const SHARP = (25 * Math.PI) / 180;
/** Less of the skin than this is the mesh's own, as a share. */
const SPECK = 2e-3;

/** @param size of the part, mm @param tick called between portions; false gives up and the result is null */
export async function milledFrom(
  bvh: Bvh,
  facets: Facets,
  size: number,
  tick: () => Promise<boolean> = async () => true,
): Promise<Milled | null> {
  const n = facetCount(facets);
  const { centres: c, normals: m, areas } = facets;
  const hit: RayHit = { t: 0, triangle: -1 };
  const off = 1e-4 * size;
  const place = (t: number): Vec3 => [c[3 * t]!, c[3 * t + 1]!, c[3 * t + 2]!];
  const seen: Uint8Array[] = [];
  for (const d of FROM) {
    const mine = new Uint8Array(n);
    for (let t = 0; t < n; t++) {
      if (t % 2000 === 0 && !(await tick())) return null;
      const look: Vec3 = [m[3 * t]!, m[3 * t + 1]!, m[3 * t + 2]!];
      if (dot(look, d) < ALONG) continue;
      const [x, y, z] = place(t);
      raycast(bvh, x + off * look[0], y + off * look[1], z + off * look[2], d[0], d[1], d[2], off, 1e6, hit);
      if (hit.triangle < 0) mine[t] = 1;
    }
    seen.push(mine);
  }
  const skin = areas.reduce((s, a) => s + a, 0);
  const done = new Uint8Array(n);
  const sides: MilledSide[] = [];
  for (;;) {
    const gains = seen.map((mine) => areas.reduce((s, a, t) => s + (mine[t] && !done[t] ? a : 0), 0));
    const best = gains.indexOf(Math.max(...gains));
    if (gains[best]! < SPECK * skin) break;
    const from = FROM[best]!;
    let [high, low] = [-Infinity, Infinity];
    for (let t = 0; t < n; t++) {
      const h = dot(from, place(t));
      high = Math.max(high, h);
      if (seen[best]![t] && !done[t]) {
        low = Math.min(low, h);
        done[t] = 1;
      }
    }
    sides.push({ from, area: gains[best]!, reach: high - low });
  }
  let left = 0;
  let at: Vec3 | null = null;
  let most = 0;
  for (let t = 0; t < n; t++) {
    if (done[t]) continue;
    left += areas[t]!;
    if (areas[t]! > most) [most, at] = [areas[t]!, place(t)];
  }
  if (left < SPECK * skin) [left, at] = [0, null];
  return { sides, left, at, sharp: sharpInside(facets) };
}

/** Length of the edges that lie inwards and have no round. */
function sharpInside(facets: Facets): number {
  const { normals: m, centres: c, positions: p } = facets;
  let length = 0;
  pairs(facets, (a, b, from, to) => {
    const [na, nb] = [a, b].map((t): Vec3 => [m[3 * t]!, m[3 * t + 1]!, m[3 * t + 2]!]) as [Vec3, Vec3];
    if (dot(na, nb) > Math.cos(SHARP)) return;
    const across: Vec3 = [c[3 * b]! - c[3 * a]!, c[3 * b + 1]! - c[3 * a + 1]!, c[3 * b + 2]! - c[3 * a + 2]!];
    // The other facet rises over this one.
    if (dot(na, across) > 0)
      length += Math.hypot(p[3 * to]! - p[3 * from]!, p[3 * to + 1]! - p[3 * from + 1]!, p[3 * to + 2]! - p[3 * from + 2]!);
  });
  return length;
}
