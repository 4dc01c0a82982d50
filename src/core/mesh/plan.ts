/** How wide and deep a body is seen from above, and whether it is round there. */
import { arcThrough, type Point2 } from '../curves/planar';
import { hullOf, type P2 } from '../geometry/hull';

interface Box {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

export interface Plan {
  /** Across and away, mm. */
  readonly width: number;
  readonly depth: number;
  /** Diameter of the smallest circle round it, mm. */
  readonly across: number;
  /** It fills that circle: then it has a diameter. */
  readonly round: boolean;
}

/** A round body's hull comes as near to its circle as this share of the radius: a polygon of twelve sides is round yet. */
const CORNERS = 0.04;
/** Directions in which the farthest place stands for its neighbours: what that misses of the middle is of second order. */
const FINE = 1440;

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
  const hull = outlineOf(positions, (box.max[0] + box.min[0]) / 2, (box.max[1] + box.min[1]) / 2);
  const [x, y] = middleOf(hull);
  const across = 2 * farthestFrom(positions, x, y);
  // The nearest edge of the outline: from the middle of a square it is 0.71 of its circle.
  const nearest = hull.reduce((least, [ax, ay], i) => {
    const [bx, by] = hull[(i + 1) % hull.length]!;
    return Math.min(least, ((ax - x) * (by - y) - (ay - y) * (bx - x)) / (Math.hypot(bx - ax, by - ay) || 1));
  }, Number.POSITIVE_INFINITY);
  return { width, depth, across, round: hull.length > 2 && across <= (1 + CORNERS) * 2 * nearest };
}

/** The hull seen from above, of the farthest place in every direction from a place within. */
function outlineOf(positions: ArrayLike<number>, x: number, y: number): P2[] {
  const far = new Float64Array(FINE).fill(-1);
  const at = new Int32Array(FINE);
  for (let i = 0; i < positions.length; i += 3) {
    const [dx, dy] = [positions[i]! - x, positions[i + 1]! - y];
    const r = dx * dx + dy * dy;
    const k = Math.floor(((Math.atan2(dy, dx) / (2 * Math.PI) + 1) % 1) * FINE);
    if (r > far[k]!) {
      far[k] = r;
      at[k] = i;
    }
  }
  const places: P2[] = [];
  for (let k = 0; k < FINE; k++) if (far[k]! >= 0) places.push([positions[at[k]!]!, positions[at[k]! + 1]!]);
  return hullOf(places);
}

/** The middle of the smallest circle round a convex outline. Source: Welzl 1991, its places taken one after the other. */
function middleOf(hull: readonly P2[]): P2 {
  const within = (c: Circle, [px, py]: P2): boolean => Math.hypot(px - c.x, py - c.y) <= c.r * (1 + 1e-12);
  let circle: Circle = { x: hull[0]?.[0] ?? 0, y: hull[0]?.[1] ?? 0, r: 0 };
  for (let i = 1; i < hull.length; i++) {
    if (within(circle, hull[i]!)) continue;
    circle = { x: hull[i]![0], y: hull[i]![1], r: 0 };
    for (let j = 0; j < i; j++) {
      if (within(circle, hull[j]!)) continue;
      circle = between(hull[i]!, hull[j]!);
      for (let k = 0; k < j; k++) if (!within(circle, hull[k]!)) circle = through(hull[i]!, hull[j]!, hull[k]!) ?? circle;
    }
  }
  return [circle.x, circle.y];
}

interface Circle {
  readonly x: number;
  readonly y: number;
  readonly r: number;
}
const between = (a: P2, b: P2): Circle => ({
  x: (a[0] + b[0]) / 2,
  y: (a[1] + b[1]) / 2,
  r: Math.hypot(a[0] - b[0], a[1] - b[1]) / 2,
});
/** Undefined where the three lie on one line. */
function through(a: P2, b: P2, c: P2): Circle | undefined {
  const arc = arcThrough(placeOf(a), placeOf(b), placeOf(c));
  return arc && { ...arc.centre, r: arc.radius };
}
const placeOf = ([x, y]: P2): Point2 => ({ x, y });
