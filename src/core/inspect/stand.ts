/** How a body stands: the hull of what touches the ground, and how far it may lean before it falls. */
import { hullOf, type P2 } from '../geometry/hull';
import type { TriMesh } from '../mesh/mesh';

/** The hull of a body's lowest places, within a hair of the ground. */
export function footprint(mesh: TriMesh, within = 0.02): P2[] {
  const p = mesh.positions;
  let low = Number.POSITIVE_INFINITY;
  for (let i = 2; i < p.length; i += 3) low = Math.min(low, p[i]!);
  const touching: P2[] = [];
  for (let i = 0; i < p.length; i += 3) if (p[i + 2]! < low + within) touching.push([p[i]!, p[i + 1]!]);
  return hullOf(touching);
}

export interface Stand {
  /** Lean at which it falls over its nearest edge, rad; negative where its centre lies beyond its foot. */
  readonly tipping: number;
  /** mm. */
  readonly centre: readonly [number, number, number];
}

/** @param foot hull on the ground, left about; @param ground height of it, mm */
export function standOf(foot: readonly P2[], ground: number, centre: readonly [number, number, number]): Stand {
  let least = Number.POSITIVE_INFINITY;
  for (let i = 0; i < foot.length; i++) {
    const [a, b] = [foot[i]!, foot[(i + 1) % foot.length]!];
    const l = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if (l < 1e-12) continue;
    least = Math.min(least, ((b[0] - a[0]) * (centre[1] - a[1]) - (b[1] - a[1]) * (centre[0] - a[0])) / l);
  }
  return { tipping: Math.atan2(least, centre[2] - ground), centre };
}
