/** Draft against a pull direction, undercuts by what can be seen from it, and the line where a mould parts. */
import { type Bvh, type RayHit, raycast } from '../mesh/bvh';
import { type Facets, facetCount, pairs } from './facets';

export interface DraftMap {
  /** Draft by facet, rad: nought along the pull, positive where the tool comes off freely. */
  readonly values: Float32Array;
  /** mm² with less draft than the limit, undercuts aside. */
  readonly below: number;
  /** Faces with facets below the limit, with their areas, largest first. */
  readonly faces: readonly { readonly face: number; readonly area: number; readonly least: number }[];
  /** 1 for a facet the pull can’t clear. */
  readonly undercut: Uint8Array;
  /** mm². */
  readonly undercutArea: number;
  /** Pieces the undercuts hang together in: side actions or cores they would take. */
  readonly sideActions: number;
  /** Segments of the parting line, six coordinates each, mm. */
  readonly parting: Float32Array;
}

const hit: RayHit = { t: 0, triangle: -1 };

/** Groups of facets that hang together. @returns the number of groups */
export function groupsOf(f: Facets, among: Uint8Array): { count: number; group: Int32Array } {
  const n = facetCount(f);
  const group = Int32Array.from({ length: n }, (_, i) => i);
  const root = (i: number): number => {
    let r = i;
    while (group[r] !== r) r = group[r]!;
    group[i] = r;
    return r;
  };
  pairs(f, (a, b) => {
    if (among[a] && among[b]) group[root(a)] = root(b);
  });
  const roots = new Set<number>();
  for (let t = 0; t < n; t++) {
    group[t] = among[t] ? root(t) : -1;
    if (among[t]) roots.add(group[t]!);
  }
  return { count: roots.size, group };
}

/** Pieces of undercut smaller than this are the mesh's own, mm². */
const SPECK = 1;

function actionsOf(f: Facets, undercut: Uint8Array): number {
  const { group } = groupsOf(f, undercut);
  const sizes = new Map<number, number>();
  for (let t = 0; t < group.length; t++) if (group[t]! >= 0) sizes.set(group[t]!, (sizes.get(group[t]!) ?? 0) + f.areas[t]!);
  return [...sizes.values()].filter((a) => a > SPECK).length;
}

/**
 * @param pull unit direction the part, or the upper half of a two-part mould, comes off
 * @param parts one: all comes off along the pull, and the flat foot may look the other way; two: each half along its own
 * @param limit least draft, rad
 */
export async function draftMap(
  bvh: Bvh,
  facets: Facets,
  pull: readonly [number, number, number],
  parts: 1 | 2,
  limit: number,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<DraftMap | null> {
  const n = facetCount(facets);
  const values = new Float32Array(n);
  const undercut = new Uint8Array(n);
  const { centres: c, exact: m, areas, faceOf } = facets;
  let floor = Number.POSITIVE_INFINITY;
  for (let i = 0; i < facets.positions.length; i += 3)
    floor = Math.min(floor, facets.positions[i]! * pull[0] + facets.positions[i + 1]! * pull[1] + facets.positions[i + 2]! * pull[2]);
  let [below, undercutArea] = [0, 0];
  const faces = new Map<number, { area: number; least: number }>();
  for (let t = 0; t < n; t++) {
    if (t % 2000 === 0 && !(await tick(t / n))) return null;
    const lean = m[3 * t]! * pull[0] + m[3 * t + 1]! * pull[1] + m[3 * t + 2]! * pull[2];
    const p = [c[3 * t]!, c[3 * t + 1]!, c[3 * t + 2]!] as const;
    const height = p[0] * pull[0] + p[1] * pull[1] + p[2] * pull[2];
    const angle = Math.asin(Math.min(1, Math.max(-1, lean)));
    const foot = lean < -1 + 1e-9 && height < floor + 1e-4;
    values[t] = parts === 2 ? Math.abs(angle) : foot ? Math.PI / 2 : angle;
    const sign = parts === 2 && lean < 0 ? -1 : 1;
    // Along its own way out nothing may stand before a facet; one that looks away can’t come off at all.
    const blocked = (): boolean => {
      raycast(
        bvh,
        p[0] + 1e-4 * m[3 * t]!,
        p[1] + 1e-4 * m[3 * t + 1]!,
        p[2] + 1e-4 * m[3 * t + 2]!,
        sign * pull[0],
        sign * pull[1],
        sign * pull[2],
        1e-5,
        1e6,
        hit,
      );
      return hit.triangle >= 0;
    };
    // A wall along the pull is grazed by its own ray: its neighbours would answer for it.
    const steep = Math.abs(lean) < 1e-6;
    if ((parts === 1 && lean < -1e-6 && !foot) || (!steep && !foot && blocked())) {
      undercut[t] = 1;
      undercutArea += areas[t]!;
      continue;
    }
    if (values[t]! < limit - 1e-9) {
      below += areas[t]!;
      const known = faces.get(faceOf[t]!) ?? { area: 0, least: Number.POSITIVE_INFINITY };
      faces.set(faceOf[t]!, { area: known.area + areas[t]!, least: Math.min(known.least, values[t]!) });
    }
  }
  const parting: number[] = [];
  const side = (t: number): number => m[3 * t]! * pull[0] + m[3 * t + 1]! * pull[1] + m[3 * t + 2]! * pull[2];
  pairs(facets, (a, b, p, q) => {
    const [x, y] = [side(a), side(b)];
    if ((x > 1e-6 && y <= 1e-6) || (y > 1e-6 && x <= 1e-6))
      parting.push(...facets.positions.subarray(3 * p, 3 * p + 3), ...facets.positions.subarray(3 * q, 3 * q + 3));
  });
  return {
    values,
    below,
    faces: [...faces].map(([face, f]) => ({ face, ...f })).sort((a, b) => b.area - a.area),
    undercut,
    undercutArea,
    sideActions: actionsOf(facets, undercut),
    parting: Float32Array.from(parting),
  };
}
