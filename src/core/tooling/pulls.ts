/** Ways two halves of a mould could come off a part: what each can't clear, what has too little draft, and how its parting line runs. */
import { dot, unit, type Vec3 } from '../geometry/vectors';
import { draftMap } from '../inspect/draft';
import { type Facets, facetCount } from '../inspect/facets';
import type { Bvh } from '../mesh/bvh';

export interface Pull {
  /** Unit vector that the upper half comes off along; the other goes the other way. */
  readonly way: Vec3;
  /** mm² that neither half clears, and the pieces it hangs together in: slides or cores it would take. */
  readonly undercut: number;
  readonly slides: number;
  /** mm² with less draft than asked for. */
  readonly below: number;
  /** mm² of the part as it is seen along the pull. */
  readonly projected: number;
  /** Length of the line where the halves meet, mm, and how far it rises and falls along the pull: nought for a level one. */
  readonly parting: number;
  readonly rise: number;
}

/** One of every pair of opposite ways through the faces, edges and corners of a cube. */
const THROUGH: readonly Vec3[] = [
  [0, 0, 1],
  [1, 0, 0],
  [0, 1, 0],
  [1, 0, 1],
  [1, 0, -1],
  [0, 1, 1],
  [0, 1, -1],
  [1, 1, 0],
  [1, -1, 0],
  [1, 1, 1],
  [1, 1, -1],
  [1, -1, 1],
  [-1, 1, 1],
];
const WAYS = THROUGH.map((w) => unit(w)!);

/** Undercuts less than this share of the skin are the mesh's own. */
const SPECK = 1e-4;

/** @param limit least draft, rad @param tick called between portions; false gives up and the result is null */
export async function pullsOf(
  bvh: Bvh,
  facets: Facets,
  limit: number,
  tick: () => Promise<boolean> = async () => true,
): Promise<Pull[] | null> {
  const skin = facets.areas.reduce((s, a) => s + a, 0);
  const out: Pull[] = [];
  for (const way of WAYS) {
    const map = await draftMap(bvh, facets, way, 2, limit, tick);
    if (!map) return null;
    let projected = 0;
    for (let t = 0; t < facetCount(facets); t++) {
      const lean = facets.normals[3 * t]! * way[0] + facets.normals[3 * t + 1]! * way[1] + facets.normals[3 * t + 2]! * way[2];
      // What looks up and is seen covers the outline just once.
      if (lean > 0 && !map.undercut[t]) projected += lean * facets.areas[t]!;
    }
    const { parting: p } = map;
    let [length, low, high] = [0, Infinity, -Infinity];
    for (let i = 0; i < p.length; i += 6) {
      length += Math.hypot(p[i + 3]! - p[i]!, p[i + 4]! - p[i + 1]!, p[i + 5]! - p[i + 2]!);
      for (const k of [i, i + 3]) {
        const h = dot(way, [p[k]!, p[k + 1]!, p[k + 2]!]);
        [low, high] = [Math.min(low, h), Math.max(high, h)];
      }
    }
    const none = map.undercutArea < SPECK * skin;
    out.push({
      way,
      undercut: none ? 0 : map.undercutArea,
      slides: none ? 0 : map.sideActions,
      below: map.below,
      projected,
      parting: length,
      rise: p.length > 0 ? high - low : 0,
    });
  }
  // Without undercut before with, then the fewest slides, the levellest line, the best draft.
  return out.sort((a, b) => a.slides - b.slides || a.undercut - b.undercut || a.rise - b.rise || a.below - b.below);
}
