/** Whether a thing goes into a vessel: let down upright through the middle of its mouth until it touches. */
import { type Bvh, type ClosestHit, closestOpposing, type RayHit, raycast } from '../mesh/bvh';
import { bounds } from '../mesh/mesh';
import { largestHole, levelPlace, loopArea, loopCentroid } from '../mesh/slice';
import { windingAt } from '../mesh/winding';

type P3 = readonly [number, number, number];

/** What is put in, mm. */
export type FitObject =
  | { readonly kind: 'cylinder'; readonly diameter: number; readonly height: number }
  | { readonly kind: 'box'; readonly width: number; readonly depth: number; readonly height: number }
  | { readonly kind: 'ball'; readonly diameter: number }
  /** Places on a mesh that was brought in, from the middle of its underside, and its height. */
  | { readonly kind: 'mesh'; readonly name: string; readonly places: readonly P3[]; readonly height: number };

export interface Fit {
  /** It goes in and comes to rest on the floor, or on the rounding to it; else it is held by the rim or a wall on the way. */
  readonly passes: boolean;
  /** Height of its underside over the floor where it comes to rest, mm. */
  readonly rest: number;
  /** How far it stands out over the brim, mm; negative where it lies below. */
  readonly above: number;
  /** Least gap beside it on the whole way down, mm, with the place on the vessel; negative where it is held. */
  readonly least: { readonly gap: number; readonly at: readonly [number, number, number] };
}

/** A hair under the top of a body, as a share of its height: there its mouth is cut. */
const UNDER = 2e-3;
/** Rays straight down on a ring half as wide as the mouth: most of them meet the floor, whatever drains are in it. */
const RAYS = 16;

export interface Opening {
  readonly centre: readonly [number, number];
  readonly floor: number;
  readonly brim: number;
}

/** The mouth at the top of a body and the floor under it, by a level section and rays straight down; null where there is none. It may leak. */
export function openingOf(bvh: Bvh): Opening | null {
  const { min, max } = bounds(bvh.mesh.positions);
  const height = max[2] - min[2];
  const mouth = largestHole(bvh.mesh, max[2] - UNDER * height);
  if (!mouth) return null;
  const [x, y] = levelPlace(loopCentroid(mouth));
  const r = 0.5 * Math.sqrt(Math.abs(loopArea(mouth)) / Math.PI);
  const heights: number[] = [];
  const hit: RayHit = { t: 0, triangle: -1 };
  for (let k = 0; k < RAYS; k++) {
    const w = (2 * Math.PI * k) / RAYS;
    raycast(bvh, x + r * Math.cos(w), y + r * Math.sin(w), max[2] + 1, 0, 0, -1, 0, 2 * height + 2, hit);
    if (hit.triangle >= 0) heights.push(max[2] + 1 - hit.t);
  }
  // Open below as well: there is nothing it could come to rest on.
  if (heights.length < RAYS / 2) return null;
  heights.sort((a, b) => a - b);
  return { centre: [x, y], floor: heights[Math.floor(heights.length / 2)]!, brim: max[2] };
}

/** Places on a thing's sides and on its underside, from the middle of its underside. */
function placesOf(o: FitObject): { sides: P3[]; under: P3[]; height: number } {
  const around = 48;
  const ring = (r: number, z: number): P3[] =>
    Array.from({ length: around }, (_, i) => [r * Math.cos((2 * Math.PI * i) / around), r * Math.sin((2 * Math.PI * i) / around), z]);
  switch (o.kind) {
    case 'cylinder': {
      const r = o.diameter / 2;
      return {
        sides: Array.from({ length: 9 }, (_, k) => ring(r, (o.height * k) / 8)).flat(),
        under: [0, 0.35, 0.7, 0.98].flatMap((s) => ring(s * r, 0)),
        height: o.height,
      };
    }
    case 'box': {
      const [a, b] = [o.width / 2, o.depth / 2];
      const edge = Array.from({ length: 12 }, (_, i) => -1 + i / 6).flatMap((t): [number, number][] => [
        [t * a, -b],
        [a, t * b],
        [-t * a, b],
        [-a, -t * b],
      ]);
      return {
        sides: Array.from({ length: 9 }, (_, k) => edge.map(([x, y]): P3 => [x, y, (o.height * k) / 8])).flat(),
        under: [0, 0.35, 0.7, 0.98].flatMap((s) => edge.map(([x, y]): P3 => [s * x, s * y, 0])),
        height: o.height,
      };
    }
    case 'mesh':
      return { sides: [...o.places], under: o.places.filter((p) => p[2] < 0.02 * o.height), height: o.height };
    case 'ball': {
      const r = o.diameter / 2;
      const at = (a: number): P3[] => ring(r * Math.sin(a), r - r * Math.cos(a));
      return {
        sides: Array.from({ length: 13 }, (_, k) => at(Math.PI / 4 + (k * Math.PI) / 16)).flat(),
        under: Array.from({ length: 8 }, (_, k) => at((k * Math.PI) / 32)).flat(),
        height: o.diameter,
      };
    }
  }
}

const near: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };

/** Steps in which a thing is let down. */
const STEPS = 60;
/** A place deeper in the material than this was met by the one beside it before, mm. */
const DEEP = 5;
/** A touch whose skin looks up this much carries it; rad from level it is 45°. */
const CARRIES = Math.SQRT1_2;

/** @param centre of the mouth; @param floor, brim heights of the cavity, mm */
export function fitInto(bvh: Bvh, object: FitObject, centre: readonly [number, number], floor: number, brim: number): Fit {
  const { sides, under, height } = placesOf(object);
  /** Least gap of some places at a height: negative in the material. @param wallsOnly places nearest to a floor are left out */
  const gapOf = (places: readonly P3[], z: number, wallsOnly = false): { gap: number; at: [number, number, number]; up: number } => {
    let best = { gap: Number.POSITIVE_INFINITY, at: [0, 0, 0] as [number, number, number], up: 0 };
    for (const p of places) {
      const [x, y, h] = [centre[0] + p[0], centre[1] + p[1], z + p[2]];
      closestOpposing(bvh, x, y, h, 0, 0, 1, 1, Math.min(1e3, Math.max(best.gap, DEEP)), near);
      const t = near.triangle;
      if (t < 0) continue;
      const n = bvh.normals;
      const behind = (x - near.x) * n[3 * t]! + (y - near.y) * n[3 * t + 1]! + (h - near.z) * n[3 * t + 2]! < 0;
      // At a corner of the skin one of its facets alone may be turned away from a place that lies before the others.
      const inside = behind && windingAt(bvh, x, y, h) > 0.5;
      if (wallsOnly && !inside && n[3 * t + 2]! > CARRIES) continue;
      const gap = inside ? -near.distance : near.distance;
      if (gap < best.gap) best = { gap, at: [near.x, near.y, near.z], up: n[3 * t + 2]! };
    }
    return best;
  };
  const free = (z: number): boolean => Math.min(gapOf(sides, z).gap, gapOf(under, z).gap) > 0;
  const start = brim + 0.5;
  let [low, high] = [floor, start];
  // What matters beside it is the wall, and not the floor its lower rim comes near.
  const flank = sides.filter((p) => p[2] > 0.06 * height);
  let least: { gap: number; at: [number, number, number] } = { gap: Number.POSITIVE_INFINITY, at: [0, 0, 0] };
  for (let k = 0; k <= STEPS; k++) {
    const z = start - ((start - floor) * k) / STEPS;
    const beside = gapOf(flank, z, true);
    if (beside.gap < least.gap) least = beside;
    if (!free(z)) {
      low = z;
      break;
    }
    high = z;
  }
  for (let k = 0; k < 24; k++) {
    const middle = (low + high) / 2;
    if (free(middle)) high = middle;
    else low = middle;
  }
  const [a, b] = [gapOf(sides, low), gapOf(under, low)];
  const touch = a.gap < b.gap ? a : b;
  const carried = high < brim - 0.1 && (high <= floor + 1e-2 || touch.up > CARRIES);
  const upper = carried ? gapOf(flank, high, true) : a;
  return {
    // What touches a wall on its way was squeezed in, whatever it stands on.
    passes: carried && Math.min(upper.gap, least.gap) > 0,
    rest: high - floor,
    above: high + height - brim,
    least: upper.gap < least.gap ? upper : least,
  };
}
