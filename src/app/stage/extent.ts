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

export function overallOf(scenes: readonly BodyScene[]): Overall {
  const extent = extentOf(scenes);
  const places = new Float32Array(scenes.reduce((n, s) => n + s.positions.length, 0));
  let at = 0;
  for (const s of scenes) {
    places.set(s.positions, at);
    at += s.positions.length;
  }
  return { ...extent, round: planOf(places, extent).round };
}

/** An extent with more places in it, x y z in a row. */
export function reaching(extent: Extent, places: readonly number[]): Extent {
  const all = bounds([...extent.min, ...extent.max, ...places]);
  return { min: all.min, max: all.max };
}

export function extentOf(scenes: readonly BodyScene[]): Extent {
  if (scenes.length === 0) return { min: [-50, -50, 0], max: [50, 50, 100] };
  const each = scenes.map((s) => bounds(s.positions));
  const pick = (f: (...v: number[]) => number, side: 'min' | 'max'): [number, number, number] =>
    [0, 1, 2].map((k) => f(...each.map((b) => b[side][k]!))) as [number, number, number];
  return { min: pick(Math.min, 'min'), max: pick(Math.max, 'max') };
}
