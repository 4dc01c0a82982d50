/** How wide and deep a body is seen from above, and whether it is round there. */
import { reachAlong } from './mesh';

interface Box {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

export interface Plan {
  /** Across and away, mm. */
  readonly width: number;
  readonly depth: number;
  /** Twice the largest distance from the upright through its middle, mm. */
  readonly across: number;
  /** It fills a circle about that upright: then it has a diameter. */
  readonly round: boolean;
}

/** A round body is as wide in every direction but for this share, by which its corners stand out too: a polygon of twelve sides is round yet. */
const CORNERS = 0.04;
const DIRECTIONS = Array.from({ length: 24 }, (_, k) => [Math.cos((k * Math.PI) / 24), Math.sin((k * Math.PI) / 24), 0] as const);

/** Largest distance of places from an upright, mm. */
export function farthestFrom(positions: ArrayLike<number>, x: number, y: number): number {
  let most = 0;
  for (let i = 0; i < positions.length; i += 3) most = Math.max(most, Math.hypot(positions[i]! - x, positions[i + 1]! - y));
  return most;
}

/**
 * @param positions places of its skin, x y z in a row, mm
 * @param box its bounds, where they are known better than by the places
 */
export function planOf(positions: ArrayLike<number>, box: Box): Plan {
  const [width, depth] = [box.max[0] - box.min[0], box.max[1] - box.min[1]];
  const [x, y] = [(box.max[0] + box.min[0]) / 2, (box.max[1] + box.min[1]) / 2];
  const across = 2 * farthestFrom(positions, x, y);
  const widths =
    across <= (1 + CORNERS) * Math.min(width, depth) ? DIRECTIONS.map((d) => reachAlong(positions, d)).map(([from, to]) => to - from) : [];
  const round = widths.length > 0 && Math.max(...widths) <= (1 + CORNERS) * Math.min(...widths);
  return { width, depth, across, round };
}
