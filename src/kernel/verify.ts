/**
 * Stands between every solid operation and the document: the kernel can return a wrong solid without an
 * error. Checks run cheapest first and stop at the first that fails.
 */

import { type Bvh, buildBvh, type RayHit, raycast } from '../core/mesh/bvh';
import type { Bounds } from '../core/mesh/mesh';
import { bounds as boundsOfPoints, diagonal, massProperties, type TriMesh } from '../core/mesh/mesh';
import { fail, ok, type Result } from '../core/result';
import type { Kernel, Shape } from './open';
import { compoundOf, distanceBetween, facesOf, solidsOf, surfaceReader, vertexAt, volumeOf } from './shapes';
import { type BodyMesh, displayDeflection, isClosedMesh, tessellate, weldedMesh } from './tessellate';

export interface Refusal {
  /** Which check refused, for tests and the curious. */
  readonly check: 'solids' | 'volume' | 'kernel' | 'mesh' | 'bounds' | 'wall-rays' | 'wall-exact' | 'ball';
  readonly why: string;
}

export interface Expectation {
  /** Allowed volume, mm³, bounds excluded; any above nothing where left out. */
  readonly volume?: readonly [number, number];
  /** The result must lie inside this. */
  readonly inside?: Bounds;
  /** Largest distance of the verification mesh from the surface, mm; what a shown body has where left out. */
  readonly deflection?: number;
}

export interface Verified {
  readonly shape: Shape;
  readonly volume: number;
  readonly mesh: BodyMesh;
  readonly skin: TriMesh;
}

/** Checks that hold for any solid: one solid, volume, the kernel's own check, a closed mesh of the same volume, bounds. */
export function verifySolid(kernel: Kernel, result: Shape, expect: Expectation = {}): Result<Verified, Refusal> {
  const refuse = (check: Refusal['check'], why: string): Result<never, Refusal> => fail({ check, why });
  if (result.IsNull()) return refuse('solids', 'the kernel returned nothing');
  const solids = solidsOf(kernel, result);
  if (solids.length === 0) return refuse('solids', 'the result is not a solid');
  if (solids.length > 1) return refuse('solids', `the result falls into ${solids.length} separate pieces`);
  const shape = solids[0]!;
  const volume = volumeOf(kernel, shape).volume;
  const [least, most] = expect.volume ?? [0, Number.POSITIVE_INFINITY];
  if (!(volume > least && volume < most)) return refuse('volume', 'the result does not have a volume that can be right');
  const analyzer = new kernel.BRepCheck_Analyzer(shape, true, false, false);
  const valid = analyzer.IsValid();
  analyzer.delete();
  if (!valid) return refuse('kernel', 'surfaces of the result cross each other or do not meet');
  const deflection = expect.deflection ?? displayDeflection(kernel, shape);
  const mesh = tessellate(kernel, shape, deflection, VERIFY_ANGLE);
  const skin = weldedMesh(mesh);
  if (!isClosedMesh(skin)) return refuse('mesh', 'the result is not closed');
  // The mesh's own area is near enough for a bound, and the exact one of trimmed spline faces takes seconds.
  const facets = massProperties(skin);
  const off = Math.abs(facets.volume - volume);
  if (off > deflection * facets.area * 1.02 + 1e-6 * Math.abs(volume)) return refuse('mesh', 'parts of the result overlap');
  if (expect.inside) {
    const b = boundsOfPoints(skin.positions);
    const slack = 1e-4 + deflection;
    for (let k = 0; k < 3; k++)
      if (b.min[k]! < expect.inside.min[k]! - slack || b.max[k]! > expect.inside.max[k]! + slack)
        return refuse('bounds', 'the result sticks out of where it can be');
  }
  return ok({ shape, volume, mesh, skin });
}

/** Largest turn between facets of a verification mesh, rad. */
export const VERIFY_ANGLE = 0.15;

/** Mesh tolerance for verifying a value t on a body. */
export const deflectionFor = (value: number, b: Bounds): number => Math.min(Math.max(value / 10, 2e-4), 1e-3 * diagonal(b));

const hit: RayHit = { t: 0, triangle: -1 };

/**
 * The wall of an inward shell. First some 200 rays inward from the kept outside, then the exact distance
 * between the generated inner faces and the kept outer ones, which must be the wall asked for.
 * @param inner face indices of the cavity; @param kept face indices of the old skin that stay
 */
export function verifyWall(
  kernel: Kernel,
  result: Verified,
  wall: number,
  inner: ReadonlySet<number>,
  kept: ReadonlySet<number>,
): Result<true, Refusal> {
  if (inner.size === 0) return fail({ check: 'wall-rays', why: 'no cavity came about' });
  const bvh: Bvh = buildBvh(result.skin);
  const size = diagonal(boundsOfPoints(result.skin.positions));
  const deflection = deflectionFor(wall, boundsOfPoints(result.skin.positions));
  const tolerance = 2 * deflection + 2e-3 * Math.min(wall, 0.1 * size);
  const { positions: p, indices, faceOf } = result.skin;
  const outside: number[] = [];
  for (let t = 0; t < faceOf.length; t++) if (kept.has(faceOf[t]!)) outside.push(t);
  const stride = Math.max(1, Math.floor(outside.length / 200));
  for (let i = 0; i < outside.length; i += stride) {
    const t = outside[i]!;
    const c = [0, 1, 2].map((k) => (p[3 * indices[3 * t]! + k]! + p[3 * indices[3 * t + 1]! + k]! + p[3 * indices[3 * t + 2]! + k]!) / 3);
    const n = bvh.normals.subarray(3 * t, 3 * t + 3);
    raycast(bvh, c[0]!, c[1]!, c[2]!, -n[0]!, -n[1]!, -n[2]!, 1e-6 * size, size, hit);
    if (hit.triangle >= 0 && !kept.has(faceOf[hit.triangle]!) && inner.has(faceOf[hit.triangle]!) && hit.t < wall - tolerance)
      return fail({ check: 'wall-rays', why: `the wall would be ${hit.t.toFixed(2)} mm where ${wall.toFixed(2)} mm is asked` });
  }
  const faces = facesOf(kernel, result.shape);
  const innerShape = compoundOf(
    kernel,
    faces.filter((_, i) => inner.has(i)),
  );
  const keptShape = compoundOf(
    kernel,
    faces.filter((_, i) => kept.has(i)),
  );
  const d = distanceBetween(kernel, innerShape, keptShape);
  innerShape.delete();
  keptShape.delete();
  if (!d) return fail({ check: 'wall-exact', why: 'the wall could not be measured' });
  if (Math.abs(d.distance - wall) > 1e-3)
    return fail({ check: 'wall-exact', why: `the wall would be ${d.distance.toFixed(3)} mm where ${wall.toFixed(3)} mm is asked` });
  return ok(true);
}

/**
 * Every round: at points of the new face the rolling ball's centre must be one radius from both faces it
 * leans on, and touch them within their own bounds.
 * @param rounds face index of each new face with the pairs of old faces it lies between: one pair, or those of the edges it runs along
 */
export function verifyRounds(
  kernel: Kernel,
  result: Verified,
  radius: number | readonly [number, number],
  rounds: readonly { face: number; between: readonly (readonly [Shape, Shape])[] }[],
): Result<true, Refusal> {
  const faces = facesOf(kernel, result.shape);
  // A radius that changes along the edge is no ball's own: some ball of the range must fit nearly.
  const balls =
    typeof radius === 'number' ? [radius] : Array.from({ length: 17 }, (_, i) => radius[0] + ((radius[1] - radius[0]) * i) / 16);
  const tolerance = typeof radius === 'number' ? 1e-4 + 2e-4 * radius : 0.02 * radius[1] + (radius[1] - radius[0]) / 16;
  for (const { face, between } of rounds) {
    const reader = surfaceReader(kernel, faces[face]!);
    try {
      const { u, v } = reader.range;
      for (const a of [0.11, 0.37, 0.5, 0.83])
        for (const b of [0.13, 0.5, 0.87]) {
          const s = reader.at(u[0] + a * (u[1] - u[0]), v[0] + b * (v[1] - v[0]));
          if (!s) continue;
          let off = Number.POSITIVE_INFINITY;
          for (const r of balls)
            for (const sign of [-1, 1]) {
              const centre: [number, number, number] = [
                s.point[0] + sign * r * s.normal[0],
                s.point[1] + sign * r * s.normal[1],
                s.point[2] + sign * r * s.normal[2],
              ];
              for (const pair of between) if (off > tolerance) off = Math.min(off, leans(kernel, centre, r, pair, off));
            }
          if (off > tolerance)
            return fail({ check: 'ball', why: `the rounding does not touch the faces beside its edge (off by ${off.toFixed(3)} mm)` });
        }
    } finally {
      reader.dispose();
    }
  }
  return ok(true);
}

/**
 * Largest miss of a ball against two faces: off its radius, or touching beyond the face's own border.
 * @param enough a miss as large as this need not be known better
 */
function leans(
  kernel: Kernel,
  centre: readonly [number, number, number],
  radius: number,
  between: readonly [Shape, Shape],
  enough: number,
): number {
  const v = vertexAt(kernel, centre);
  let worst = 0;
  for (const face of between) {
    if (worst >= enough) break;
    const d = distanceBetween(kernel, v, face);
    worst = d ? Math.max(worst, Math.abs(d.distance - radius)) : Number.POSITIVE_INFINITY;
  }
  v.delete();
  return worst;
}
