/**
 * Wall thickness by the inscribed ball: the largest ball that touches the skin at a sample from inside, its
 * contact sought only among triangles that oppose the sample. Without that filter the ball gets falsely
 * small at rims and acute edges.
 */
import { type Bvh, buildBvh, type ClosestHit, closestOpposing, type RayHit, raycast } from './bvh';
import { bounds, diagonal, normalAt, type TriMesh } from './mesh';

/**
 * Triangles whose normal has a larger product with the sample's normal do not count as the other side: two
 * skins that lean more than 60° towards each other are an edge, not a wall. (At −0.2 rims of flaring necks
 * still read falsely thin.)
 */
const OPPOSING = -0.5;

/** For the thickest place only the skin that faces the same way, within 60°, is left out; a contact nearer than this share of a ball is no wall. */
const BESIDE = 0.5;

/** Corners and edge middles of a triangle, as shares of its second and third corner. */
const CORNERS = [
  [0.02, 0.02],
  [0.96, 0.02],
  [0.02, 0.96],
  [0.49, 0.02],
  [0.49, 0.49],
  [0.02, 0.49],
] as const;
/** Portions samples are taken in. */
const PORTIONS = 5;

/** Walls up to so many times the thinnest are followed while it is sought. */
const ABOVE = 6;
/** Places all over that the thickest is sought from, and how many of the best are searched about. */
const WIDE = 2500;
const THICK = 6;

export interface WallSpot {
  /** mm; the ball's diameter. */
  readonly thickness: number;
  readonly at: readonly [number, number, number];
  readonly normal: readonly [number, number, number];
  /** Point on the other side that the ball touches. */
  readonly contact: readonly [number, number, number];
  readonly face: number;
  readonly contactFace: number;
}

export interface WallReport {
  readonly thinnest: WallSpot | null;
  readonly thickest: WallSpot | null;
  /** Thin places that lie apart, each searched to its own least, thinnest first. */
  readonly candidates: readonly WallSpot[];
  readonly samples: number;
}

const ray: RayHit = { t: 0, triangle: -1 };
const near: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };

/**
 * Ball at one point of the skin.
 * @param n outward unit normal at p
 * @param cap largest thickness looked for, mm
 * @param facing how much a triangle must oppose the sample to count; 1 takes every triangle: the true inscribed ball
 * @returns thickness in mm (at most `cap`) and the triangle touched, −1 where the cap was reached
 */
export function ballAt(
  bvh: Bvh,
  p: readonly number[],
  n: readonly number[],
  cap: number,
  facing = OPPOSING,
): { thickness: number; triangle: number; contact: [number, number, number] } {
  const [px, py, pz] = p as [number, number, number];
  const [nx, ny, nz] = n as [number, number, number];
  const lift = 1e-6 * cap + 1e-7;
  raycast(bvh, px, py, pz, -nx, -ny, -nz, lift, cap, ray, facing);
  let r = (ray.triangle >= 0 ? ray.t : cap) / 2;
  let triangle = ray.triangle;
  const contact: [number, number, number] = [px - nx * 2 * r, py - ny * 2 * r, pz - nz * 2 * r];
  // Two rounds bring the ball within the tessellation's own error; more are kept for acute places.
  for (let round = 0; round < 12; round++) {
    closestOpposing(bvh, px - nx * r, py - ny * r, pz - nz * r, nx, ny, nz, facing, r * (1 - 1e-7), near);
    if (near.triangle < 0) break;
    const qx = near.x - px;
    const qy = near.y - py;
    const qz = near.z - pz;
    const depth = -(qx * nx + qy * ny + qz * nz);
    if (depth <= 1e-9) break;
    const next = (qx * qx + qy * qy + qz * qz) / (2 * depth);
    if (!(next < r)) break;
    const settled = r - next < 1e-6 * r;
    r = next;
    triangle = near.triangle;
    contact[0] = near.x;
    contact[1] = near.y;
    contact[2] = near.z;
    if (settled) break;
  }
  return { thickness: 2 * r, triangle, contact };
}

/**
 * Whether a ball tells of a wall: it touches something, no facet in play leans away from the surface it stands for, and it is not met right
 * beside the sample, where skins that face each other across the hollow, in a groove that ends sharp, cross by a hair in the mesh.
 */
export const tellsWall = (
  bvh: Bvh,
  p: readonly number[],
  ball: Pick<ReturnType<typeof ballAt>, 'thickness' | 'triangle' | 'contact'>,
): boolean =>
  ball.triangle >= 0 &&
  !bvh.mesh.skewed?.[ball.triangle] &&
  Math.hypot(p[0]! - ball.contact[0], p[1]! - ball.contact[1], p[2]! - ball.contact[2]) > BESIDE * ball.thickness;

/** A small repeatable generator, so that a measurement repeated gives the same figure (mulberry32). */
export function seeded(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

export interface WallOptions {
  /** Area samples; about as many are added at corners and edge middles of triangles. */
  readonly samples?: number;
  readonly cap?: number;
  /** Triangles of these faces only are sampled (the other side is sought everywhere). */
  readonly faces?: ReadonlySet<number>;
  /**
   * Face pairs that meet at a sharp convex edge: where they give the thinnest reading it is the edge's own
   * wedge, which is listed as a knife edge and not as a wall.
   */
  readonly wedge?: (face: number, other: number) => boolean;
  /** Called between portions of work; return false to give up. */
  readonly tick?: (share: number) => Promise<boolean> | boolean;
}

/**
 * Thinnest and thickest wall of a closed mesh. The sixteen thinnest spots are searched again with shrinking
 * steps. Null where the tick gave up.
 * @throws RangeError for a mesh without triangles
 */
export async function measureWall(mesh: TriMesh, options: WallOptions = {}, bvh: Bvh = buildBvh(mesh)): Promise<WallReport | null> {
  const n = mesh.indices.length / 3;
  if (n === 0) throw new RangeError('an empty mesh has no wall');
  const size = diagonal(bounds(mesh.positions));
  let cap = options.cap ?? size;
  const areas = new Float64Array(n);
  let total = 0;
  for (let t = 0; t < n; t++) {
    if (!options.faces || options.faces.has(mesh.faceOf[t]!)) total += triangleArea(mesh, t);
    areas[t] = total;
  }
  const random = seeded(7);
  let wanted = options.samples ?? 20_000;
  const spots: { thickness: number; t: number; u: number; v: number; contact: [number, number, number]; other: number }[] = [];
  /** Balls much larger than the thinnest wall so far are not followed to their end: the thick places are sought by themselves. */
  let least = Number.POSITIVE_INFINITY;
  const sample = (t: number, u: number, v: number, most = Math.min(cap, ABOVE * least + 0.02 * size)) => {
    const p = pointIn(mesh, t, u, v);
    const ball = ballAt(bvh, p, normalAt(mesh, bvh.normals, t, u, v), most);
    return { thickness: ball.thickness, t, u, v, contact: ball.contact, other: ball.triangle };
  };
  /** Not at a sharp edge's own wedge either. */
  const counts = (s: ReturnType<typeof sample>): boolean =>
    !mesh.skewed?.[s.t] &&
    tellsWall(bvh, pointIn(mesh, s.t, s.u, s.v), { ...s, triangle: s.other }) &&
    !options.wedge?.(mesh.faceOf[s.t]!, mesh.faceOf[s.other]!);
  const consider = (s: ReturnType<typeof sample>): void => {
    if (!counts(s)) return;
    spots.push(s);
    least = Math.min(least, s.thickness);
  };
  /** The ball that stays in the material: everything but the skin right around the sample bounds it. */
  const inMaterial = (s: ReturnType<typeof sample>): ReturnType<typeof sample> => {
    const ball = ballAt(bvh, pointIn(mesh, s.t, s.u, s.v), normalAt(mesh, bvh.normals, s.t, s.u, s.v), cap, BESIDE);
    return ball.triangle < 0 ? s : { ...s, thickness: ball.thickness, contact: ball.contact, other: ball.triangle };
  };
  const portion = 1000;
  const anywhere = (most?: number): ReturnType<typeof sample> => {
    const goal = random() * total;
    let lo = 0;
    let hi = n - 1;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (areas[mid]! < goal) lo = mid + 1;
      else hi = mid;
    }
    const s = Math.sqrt(random());
    const w = random();
    return sample(lo, s * (1 - w), s * w, most);
  };
  // A first look tells a walled body from a bulky one: large balls cost most, so a walled one caps them and
  // a bulky one gets fewer.
  const thick: { s: ReturnType<typeof sample>; bound: number }[] = [];
  const lookWide = (count: number): void => {
    for (let i = 0; i < count; i++) {
      const s = anywhere(cap);
      consider(s);
      if (counts(s)) thick.push({ s, bound: s.thickness });
    }
  };
  lookWide(400);
  const widest = thick.length > 0 ? Math.max(...thick.map(({ s }) => inMaterial(s).thickness)) : size;
  if (widest < 0.2 * size) cap = Math.min(cap, 3 * widest);
  else wanted = Math.min(wanted, 2500);
  lookWide(widest < 0.2 * size ? WIDE : WIDE / 4);
  // Portions of places all over and of corners and edge middles, these pulled 2 % inwards: never sample exactly on an edge. It is enough once half of
  // what was looked at found nothing thinner.
  const every = Math.max(1, Math.ceil((6 * n) / wanted));
  let before = Number.POSITIVE_INFINITY;
  for (let share = 0; share < PORTIONS; share++) {
    for (let i = 0; i < wanted / PORTIONS; i++) {
      if (i % portion === 0 && options.tick && !(await options.tick(share / PORTIONS))) return null;
      consider(anywhere());
    }
    for (let t = share * every; t < n; t += PORTIONS * every) {
      if (t % portion < every && options.tick && !(await options.tick(share / PORTIONS))) return null;
      if (options.faces && !options.faces.has(mesh.faceOf[t]!)) continue;
      for (const [u, v] of CORNERS) consider(sample(t, u, v));
    }
    if (share > 0 && least > before * (1 - 1e-3)) break;
    before = least;
  }
  /** A place of the skin near another one. */
  const besideOn = (from: { t: number; u: number; v: number }, radius: number): { t: number; u: number; v: number } | undefined => {
    const p = pointIn(mesh, from.t, from.u, from.v);
    const off = (k: number): number => p[k]! + (random() - 0.5) * 2 * radius;
    closestOpposing(bvh, off(0), off(1), off(2), 0, 0, 1, 1, Infinity, near);
    if (near.triangle < 0 || (options.faces && !options.faces.has(mesh.faceOf[near.triangle]!))) return undefined;
    const [u, v] = inwards(mesh, near.triangle, [near.x, near.y, near.z]);
    return { t: near.triangle, u, v };
  };
  spots.sort((a, b) => a.thickness - b.thickness);
  // The sixteen thinnest that lie apart.
  const apart = 0.02 * size;
  const starts: typeof spots = [];
  for (const s of spots) {
    const p = pointIn(mesh, s.t, s.u, s.v);
    if (
      starts.every((o) => {
        const q = pointIn(mesh, o.t, o.u, o.v);
        return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) > apart;
      })
    )
      starts.push(s);
    if (starts.length === 16) break;
  }
  if (options.tick && !(await options.tick(1))) return null;
  // The thickest place: down the list until no ball that is left could be larger than the best ones kept; these are searched about.
  const kept: ReturnType<typeof sample>[] = [];
  for (const { s, bound } of thick.sort((a, b) => b.bound - a.bound)) {
    if (kept.length >= THICK && bound <= kept[THICK - 1]!.thickness) break;
    kept.push(inMaterial(s));
    kept.sort((a, b) => b.thickness - a.thickness);
  }
  let thickest = kept[0];
  for (const start of kept.slice(0, THICK)) {
    let here = start;
    let radius = apart;
    for (let round = 0; round < 8; round++, radius *= 0.6)
      for (let k = 0; k < 10; k++) {
        const place = besideOn(here, radius);
        if (!place) continue;
        const trial = sample(place.t, place.u, place.v, cap);
        if (!counts(trial) || trial.thickness <= here.thickness) continue;
        const own = inMaterial(trial);
        if (own.thickness > here.thickness) here = own;
      }
    if (!thickest || here.thickness > thickest.thickness) thickest = here;
  }
  const found: typeof spots = [];
  for (const start of starts) {
    let here = start;
    let radius = apart;
    for (let round = 0; round < 10; round++, radius *= 0.6) {
      for (let k = 0; k < 16; k++) {
        const place = besideOn(here, radius);
        if (!place) continue;
        const trial = sample(place.t, place.u, place.v);
        if (trial.thickness < here.thickness && counts(trial)) here = trial;
      }
    }
    found.push(here);
  }
  found.sort((a, b) => a.thickness - b.thickness);
  const best = found[0];
  const spot = (s: (typeof spots)[0]): WallSpot => ({
    thickness: s.thickness,
    at: pointIn(mesh, s.t, s.u, s.v),
    normal: normalAt(mesh, bvh.normals, s.t, s.u, s.v),
    contact: s.contact,
    face: mesh.faceOf[s.t]!,
    contactFace: mesh.faceOf[s.other]!,
  });
  return {
    thinnest: best ? spot(best) : null,
    thickest: thickest ? spot(thickest) : null,
    candidates: found.map(spot),
    samples: spots.length,
  };
}

function triangleArea(mesh: TriMesh, t: number): number {
  const a = pointIn(mesh, t, 0, 0);
  const b = pointIn(mesh, t, 1, 0);
  const c = pointIn(mesh, t, 0, 1);
  const u = [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as const;
  const v = [c[0] - a[0], c[1] - a[1], c[2] - a[2]] as const;
  return Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
}

function pointIn(mesh: TriMesh, t: number, u: number, v: number): [number, number, number] {
  const { positions: p, indices } = mesh;
  const a = 3 * indices[3 * t]!;
  const b = 3 * indices[3 * t + 1]!;
  const c = 3 * indices[3 * t + 2]!;
  const w = 1 - u - v;
  return [w * p[a]! + u * p[b]! + v * p[c]!, w * p[a + 1]! + u * p[b + 1]! + v * p[c + 1]!, w * p[a + 2]! + u * p[b + 2]! + v * p[c + 2]!];
}

/** Barycentric (u, v) of a point in the triangle's plane, kept 2 % away from its edges. */
function inwards(mesh: TriMesh, t: number, q: [number, number, number]): [number, number] {
  const a = pointIn(mesh, t, 0, 0);
  const b = pointIn(mesh, t, 1, 0);
  const c = pointIn(mesh, t, 0, 1);
  const e = [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as const;
  const f = [c[0] - a[0], c[1] - a[1], c[2] - a[2]] as const;
  const g = [q[0] - a[0], q[1] - a[1], q[2] - a[2]] as const;
  const ee = e[0] * e[0] + e[1] * e[1] + e[2] * e[2];
  const ef = e[0] * f[0] + e[1] * f[1] + e[2] * f[2];
  const ff = f[0] * f[0] + f[1] * f[1] + f[2] * f[2];
  const ge = g[0] * e[0] + g[1] * e[1] + g[2] * e[2];
  const gf = g[0] * f[0] + g[1] * f[1] + g[2] * f[2];
  const den = ee * ff - ef * ef || 1;
  const u = Math.max(0, (ff * ge - ef * gf) / den);
  const v = Math.max(0, (ee * gf - ef * ge) / den);
  const s = Math.max(1, u + v);
  return [0.02 + (0.94 * u) / s, 0.02 + (0.94 * v) / s];
}
