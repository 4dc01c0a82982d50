/**
 * The place of a spline surface that is nearest to another: places of a grid tell where to begin, Newton's method goes on from the best of them
 * (any book on splines, as Piegl and Tiller, The NURBS Book, 6.1).
 */
import { distance, dot, minus, type Vec3 } from '../geometry/vectors';
import { type Jet, jetsOf } from './jet';
import type { PoleSurface } from './spline';

export interface NearestPlace {
  /** mm */
  readonly distance: number;
  readonly at: Vec3;
}

/** How often a place is led from one side to the other, and from which gain on it is worth it, mm. */
const [LED, GAIN] = [6, 1e-5];

/**
 * The least distance met between two sides from a place of one of them, mm: it is led to the nearest place of the other side, and back, until it is no nearer.
 * @param nearest of the other side at even turns, of its own at odd ones
 * @returns undefined where a side has no nearest place
 */
export function ledBetween(from: Vec3, nearest: (place: Vec3, turn: number) => NearestPlace | undefined): number | undefined {
  let [place, last] = [from, Number.POSITIVE_INFINITY];
  for (let turn = 0; turn < LED; turn++) {
    const found = nearest(place, turn);
    if (!found) return undefined;
    // What came of a search about one place may be farther again.
    if (last - found.distance < GAIN) return Math.min(last, found.distance);
    [place, last] = [found.at, found.distance];
  }
  return last;
}

/** Places of the grid in every span of knots, of each way: fewer where there are more spans than this. */
const [A_SPAN, SPANS] = [3, 8];
/** Places of the grid that are gone on from, as many apart at least. */
const [BEGUN, APART] = [3, 3];
const ROUNDS = 40;

/** @param surface without weights; all of it counts, whatever a border trims away */
export function nearestOn(surface: PoleSurface): (p: Vec3) => NearestPlace {
  const { degrees, knots } = surface;
  const ranges = [0, 1].map((way) => [knots[way]![degrees[way]!]!, knots[way]![knots[way]!.length - degrees[way]! - 1]!] as const);
  const { basis, jetOf } = jetsOf(surface);
  const places = ([0, 1] as const).map((way) => {
    const breaks = [...new Set(knots[way])].filter((t) => t >= ranges[way]![0] && t <= ranges[way]![1]);
    return breaks.flatMap((from, i) => {
      const to = breaks[i + 1];
      const count = breaks.length > SPANS ? 1 : A_SPAN;
      return to === undefined ? [from] : Array.from({ length: count }, (_, k) => from + (k * (to - from)) / count);
    });
  }) as [number[], number[]];
  const bases = ([0, 1] as const).map((way) => places[way].map((t) => basis(way, t)));
  const across = places[1].length;
  const grid = new Float64Array(3 * places[0].length * across);
  bases[0]!.forEach((a, i) => {
    bases[1]!.forEach((b, j) => {
      grid.set(jetOf(a, b)[0], 3 * (i * across + j));
    });
  });
  const far = new Float64Array(grid.length / 3);

  const walked = (p: Vec3, u: number, v: number): NearestPlace => {
    let at = [u, v] as const;
    let jet = jetOf(basis(0, u), basis(1, v));
    let off = distance(jet[0], p);
    for (let round = 0; round < ROUNDS; round++) {
      const step = stepTo(jet, p, at, ranges);
      let better = false;
      for (let share = 1; share > 1e-3; share /= 2) {
        const next = step.map((d, way) =>
          Math.min(ranges[way]![1], Math.max(ranges[way]![0], at[way]! + share * d)),
        ) as unknown as typeof at;
        const there = jetOf(basis(0, next[0]), basis(1, next[1]));
        const then = distance(there[0], p);
        if (!(then < off)) continue;
        better = off - then > 1e-12;
        [at, jet, off] = [next, there, then];
        break;
      }
      if (!better) break;
    }
    return { distance: off, at: jet[0] };
  };

  return (p) => {
    for (let k = 0; k < far.length; k++)
      far[k] = (grid[3 * k]! - p[0]) ** 2 + (grid[3 * k + 1]! - p[1]) ** 2 + (grid[3 * k + 2]! - p[2]) ** 2;
    let nearest: NearestPlace | undefined;
    for (let begun = 0; begun < BEGUN; begun++) {
      let best = 0;
      for (let k = 1; k < far.length; k++) if (far[k]! < far[best]!) best = k;
      if (far[best] === Number.POSITIVE_INFINITY) break;
      const [i, j] = [Math.floor(best / across), best % across];
      const found = walked(p, places[0][i]!, places[1][j]!);
      if (!nearest || found.distance < nearest.distance) nearest = found;
      for (let m = Math.max(0, i - APART + 1); m < Math.min(places[0].length, i + APART); m++)
        for (let n = Math.max(0, j - APART + 1); n < Math.min(across, j + APART); n++) far[m * across + n] = Number.POSITIVE_INFINITY;
    }
    return nearest!;
  };
}

/** Newton's step towards the least distance; along the border where it would leave the range, and by the slopes alone where it would go uphill. */
function stepTo(
  jet: Jet,
  p: Vec3,
  at: readonly [number, number],
  ranges: readonly (readonly [number, number])[],
): readonly [number, number] {
  const [s, u, v, uu, uv, vv] = jet;
  const r = minus(s, p);
  const g = [dot(u, r), dot(v, r)] as const;
  const flat = [dot(u, u), dot(u, v), dot(v, v)] as const;
  const full = [flat[0] + dot(r, uu), flat[1] + dot(r, uv), flat[2] + dot(r, vv)] as const;
  const held = [0, 1].map((way) => (at[way]! <= ranges[way]![0] && g[way]! > 0) || (at[way]! >= ranges[way]![1] && g[way]! < 0));
  const [a, b, c] = full[0] > 0 && full[0] * full[2] - full[1] ** 2 > 1e-12 * flat[0] * flat[2] ? full : flat;
  if (held[0] && held[1]) return [0, 0];
  if (held[0]) return [0, c > 0 ? -g[1] / c : 0];
  if (held[1]) return [a > 0 ? -g[0] / a : 0, 0];
  const det = a * c - b * b;
  if (!(Math.abs(det) > 1e-18 * a * c)) return [a > 0 ? -g[0] / a : 0, c > 0 ? -g[1] / c : 0];
  return [(b * g[1] - c * g[0]) / det, (b * g[0] - a * g[1]) / det];
}
