/** How far what stands on the stage reaches. */
import { bounds } from '../../core/mesh/mesh';
import type { BodyScene } from '../../engine/types';

export interface Extent {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

export function extentOf(scenes: readonly BodyScene[]): Extent {
  if (scenes.length === 0) return { min: [-50, -50, 0], max: [50, 50, 100] };
  const each = scenes.map((s) => bounds(s.positions));
  const pick = (f: (...v: number[]) => number, side: 'min' | 'max'): [number, number, number] =>
    [0, 1, 2].map((k) => f(...each.map((b) => b[side][k]!))) as [number, number, number];
  return { min: pick(Math.min, 'min'), max: pick(Math.max, 'max') };
}
