/** What a body needs held up while it is built layer by layer: steep undersides, bridges, islands, and the foot it stands on. */

import { triple } from '../geometry/vectors';
import type { TriMesh } from '../mesh/mesh';
import { type Region, regions, regionsMeet, sliceMesh } from '../mesh/slice';
import { groupsOf } from './draft';
import { type Facets, facetCount, pairs } from './facets';

export interface OverhangMap {
  /** Lean of undersides from the upright, rad: nought for a wall and for all that looks up, π/2 for a flat ceiling. */
  readonly values: Float32Array;
  /** mm² leaning more than the limit, the foot aside. */
  readonly area: number;
  /** Flat ceilings with their areas (mm²) and spans (mm): twice the farthest any place of them is from their border. */
  readonly bridges: readonly { readonly area: number; readonly span: number; readonly at: readonly [number, number, number] }[];
  /** mm² that lie flat on the bed. */
  readonly contact: number;
  /** Pieces that begin in the air, with the height they begin at, mm. */
  readonly islands: readonly { readonly height: number; readonly at: readonly [number, number, number] }[];
}

/** From here an underside is a ceiling, rad from the upright. */
export const CEILING = (85 * Math.PI) / 180;
/** Layers looked at for islands. */
const LAYERS = 120;
/** Places within this of the lowest lie on the bed, mm. */
export const ON_BED = 0.05;

/** @param limit largest lean that prints without support, rad from the upright; the body is built along z */
export async function overhangMap(
  mesh: TriMesh,
  facets: Facets,
  limit: number,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<OverhangMap | null> {
  const n = facetCount(facets);
  const values = new Float32Array(n);
  const ceiling = new Uint8Array(n);
  const { normals: m, areas, positions: p } = facets;
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let i = 2; i < p.length; i += 3) {
    low = Math.min(low, p[i]!);
    high = Math.max(high, p[i]!);
  }
  let [area, contact] = [0, 0];
  for (let t = 0; t < n; t++) {
    const down = -m[3 * t + 2]!;
    const flat = Math.max(p[9 * t + 2]!, p[9 * t + 5]!, p[9 * t + 8]!) < low + ON_BED;
    if (flat && down > 0.99) {
      contact += areas[t]!;
      continue;
    }
    if (down <= 1e-9) continue;
    values[t] = Math.asin(Math.min(1, down));
    if (values[t]! > limit + 1e-6) area += areas[t]!;
    if (values[t]! > CEILING) ceiling[t] = 1;
  }
  if (!(await tick(0.3))) return null;
  const bridges = bridgesOf(facets, ceiling);
  if (!(await tick(0.5))) return null;
  const islands: { height: number; at: [number, number, number] }[] = [];
  let below: readonly Region[] = [];
  for (let i = 0; i < LAYERS; i++) {
    if (!(await tick(0.5 + (0.5 * i) / LAYERS))) return null;
    const z = low + ((high - low) * (i + 0.5)) / LAYERS;
    const section = sliceMesh(mesh, { normal: [0, 0, 1], offset: z });
    const here = regions(section);
    if (i > 0)
      for (const r of here) {
        const rests = below.some((s) => regionsMeet(r, s));
        const [a, b] = r.outer[0]!;
        if (!rests) islands.push({ height: z, at: [section.u[0] * a + section.v[0] * b, section.u[1] * a + section.v[1] * b, z] });
      }
    below = here;
  }
  return { values, area, bridges, contact, islands };
}

function bridgesOf(facets: Facets, ceiling: Uint8Array): OverhangMap['bridges'] {
  const { group } = groupsOf(facets, ceiling);
  const border = new Map<number, number[]>();
  pairs(facets, (a, b, p, q) => {
    const [g, h] = [group[a]!, group[b]!];
    if (g === h) return;
    for (const k of [g, h]) {
      if (k < 0) continue;
      const list = border.get(k) ?? [];
      list.push(...facets.positions.subarray(3 * p, 3 * p + 3), ...facets.positions.subarray(3 * q, 3 * q + 3));
      border.set(k, list);
    }
  });
  const found = new Map<number, { area: number; far: number; at: [number, number, number] }>();
  for (let t = 0; t < facetCount(facets); t++) {
    const g = group[t]!;
    if (g < 0) continue;
    const edge = border.get(g) ?? [];
    const known = found.get(g) ?? { area: 0, far: -1, at: [0, 0, 0] as [number, number, number] };
    known.area += facets.areas[t]!;
    for (let k = 0; k < 3; k++) {
      const [x, y, z] = triple((c) => facets.positions[9 * t + 3 * k + c]!);
      let near = Number.POSITIVE_INFINITY;
      for (let i = 0; i < edge.length && near > known.far; i += 6)
        near = Math.min(near, toSegment(x, y, edge[i]!, edge[i + 1]!, edge[i + 3]!, edge[i + 4]!));
      if (near > known.far) {
        known.far = near;
        known.at = [x, y, z];
      }
    }
    found.set(g, known);
  }
  return [...found.values()].map((b) => ({ area: b.area, span: 2 * b.far, at: b.at })).sort((a, b) => b.span - a.span);
}

function toSegment(x: number, y: number, ax: number, ay: number, bx: number, by: number): number {
  const [dx, dy] = [bx - ax, by - ay];
  const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(x - ax - t * dx, y - ay - t * dy);
}
