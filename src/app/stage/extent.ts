/** How far what stands on the stage reaches. */
import { bounds } from '../../core/mesh/mesh';
import { planOf } from '../../core/mesh/plan';
import type { BodyScene } from '../../engine/types';

export interface Extent {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

/** What the figures beside bodies tell: their extent, and whether they are round, seen from above, as one. */
export interface Overall extends Extent {
  readonly round: boolean;
}

/** Bounds that are known lie off those of facets by no more than this share of the size; else they are another body's. */
const FACETS_OFF = 3e-3;

/** @param exact bounds of bodies as they are known: those of their facets are a hair less */
export function overallOf(scenes: readonly BodyScene[], exact: (id: string) => Extent | undefined): Overall {
  const boxes = scenes.map((s) => {
    const own = bounds(s.positions);
    const known = exact(s.id);
    const off = FACETS_OFF * Math.hypot(...own.max.map((m, k) => m - own.min[k]!));
    const same = known?.min.every((m, k) => Math.abs(m - own.min[k]!) <= off && Math.abs(known.max[k]! - own.max[k]!) <= off);
    return same ? known! : own;
  });
  const extent = around(boxes);
  const places = new Float32Array(scenes.reduce((n, s) => n + s.positions.length, 0));
  let at = 0;
  for (const s of scenes) {
    places.set(s.positions, at);
    at += s.positions.length;
  }
  return { ...extent, round: planOf(places, extent).round };
}

const around = (boxes: readonly Extent[]): Extent => bounds(boxes.flatMap((b) => [...b.min, ...b.max]));

/** An extent with more places in it, x y z in a row. */
export const reaching = (extent: Extent, places: readonly number[]): Extent => bounds([...extent.min, ...extent.max, ...places]);

export const extentOf = (scenes: readonly BodyScene[]): Extent =>
  scenes.length === 0 ? { min: [-50, -50, 0], max: [50, 50, 100] } : around(scenes.map((s) => bounds(s.positions)));
