/** How wide and deep a body is seen from above, and whether it is round there. */

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

/** Width and depth of a round body differ by less than this share of it; its corners stand out by less than that: a polygon of twelve sides is round yet. */
const [EVEN, CORNERS] = [0.01, 0.04] as const;

/**
 * @param positions places of its skin, x y z in a row, mm
 * @param box its bounds, where they are known better than by the places
 */
export function planOf(positions: ArrayLike<number>, box: Box): Plan {
  const [width, depth] = [box.max[0] - box.min[0], box.max[1] - box.min[1]];
  const [x, y] = [(box.max[0] + box.min[0]) / 2, (box.max[1] + box.min[1]) / 2];
  let most = 0;
  for (let i = 0; i + 2 < positions.length; i += 3) most = Math.max(most, (positions[i]! - x) ** 2 + (positions[i + 1]! - y) ** 2);
  const across = 2 * Math.sqrt(most);
  const round = Math.abs(width - depth) <= EVEN * Math.max(width, depth) && across <= (1 + CORNERS) * Math.min(width, depth);
  return { width, depth, across, round };
}
