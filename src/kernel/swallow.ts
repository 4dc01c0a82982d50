/**
 * What a wall will swallow, read off the body before it is hollowed. Inwards: convex places rounder than the wall, and places
 * narrower than two walls. Outwards: concave places rounder than the wall, and gaps narrower than two walls.
 */

import { dot, triple, type Vec3 } from '../core/geometry/vectors';
import { raycast, sharedBvh } from '../core/mesh/bvh';
import { diagonal, insideOut, bounds as pointBounds } from '../core/mesh/mesh';
import { measureWall } from '../core/mesh/wall';
import { centroidOf } from '../core/mesh/winding';
import type { KernelBody } from './body';
import { exactWall } from './exact-wall';
import type { Kernel } from './open';
import { facesOf, surfaceReader } from './shapes';
import { tessellate, weldedMesh } from './tessellate';

interface TightPlace {
  readonly face: number;
  /** Smallest radius of the face on the side the wall does not grow to, mm. */
  readonly radius: number;
  readonly at: Vec3;
}

export interface WallLimits {
  /** The tightest such radius of every kept face that has one, tightest first. */
  readonly tight: readonly TightPlace[];
  /** The narrowest place, or gap outside, if one was found: its width and where. */
  readonly narrow: { readonly width: number; readonly at: Vec3; readonly face: number; readonly otherFace: number } | null;
  /** The widest inscribed ball: no cavity can exist from half of it on; infinite outwards. */
  readonly widest: number;
  readonly widestAt: { readonly width: number; readonly at: Vec3 } | undefined;
}

/** Facets a body's narrowest place is looked for from. */
const LOOKED_FROM = 4000;
/** The cosine between two sides of a narrow place, which lie against each other and do not meet in an edge. */
const AGAINST = -0.9;

/**
 * Where a body is narrowest between two sides that lie against each other, as far as its display mesh tells: quick, and no less than what is there.
 * @param open face indices that do not count
 */
export function narrowest(
  kernel: Kernel,
  body: KernelBody,
  open: ReadonlySet<number>,
): { readonly width: number; readonly at: Vec3 } | undefined {
  const mesh = weldedMesh(body.mesh ?? tessellate(kernel, body.shape, 0.05));
  const bvh = sharedBvh(mesh);
  const { positions, faceOf } = mesh;
  const size = diagonal(pointBounds(positions));
  const hit = { t: 0, triangle: -1 };
  let best: { width: number; at: Vec3 } | undefined;
  const stride = Math.max(1, Math.floor(faceOf.length / LOOKED_FROM));
  for (let t = 0; t < faceOf.length; t += stride) {
    if (open.has(faceOf[t]!)) continue;
    const at = centroidOf(bvh, t, 1 / 3, 1 / 3, 1 / 3);
    const n = triple((k) => bvh.normals[3 * t + k]!);
    raycast(bvh, at[0], at[1], at[2], -n[0], -n[1], -n[2], 1e-6 * size, best?.width ?? size, hit);
    if (hit.triangle < 0 || open.has(faceOf[hit.triangle]!) || (best && hit.t >= best.width)) continue;
    const m = triple((k) => bvh.normals[3 * hit.triangle + k]!);
    if (dot(n, m) < AGAINST) best = { width: hit.t, at };
  }
  return best;
}

const GRID = 9;

/** @param open face indices that will be opened and so do not count; @param side which way the wall goes */
export async function wallLimits(
  kernel: Kernel,
  body: KernelBody,
  open: ReadonlySet<number>,
  tick?: () => Promise<boolean>,
  side: 'inward' | 'outward' = 'inward',
): Promise<WallLimits | null> {
  const tight: TightPlace[] = [];
  facesOf(kernel, body.shape).forEach((face, index) => {
    if (open.has(index)) return;
    const reader = surfaceReader(kernel, face);
    let best: TightPlace | undefined;
    const { u, v } = reader.range;
    for (let i = 0; i <= GRID * 4; i++)
      for (let j = 0; j <= GRID * 4; j++) {
        // A surface turned about an axis needs few samples round; the profile direction is sampled finely.
        if (i % 4 !== 0 && j % 4 !== 0) continue;
        const s = reader.at(u[0] + ((u[1] - u[0]) * (i + 0.5)) / (GRID * 4 + 1), v[0] + ((v[1] - v[0]) * (j + 0.5)) / (GRID * 4 + 1));
        const bend = s && (side === 'inward' ? s.curvatures[0] : -s.curvatures[1]);
        if (!s || !bend || !(bend > 1e-6)) continue;
        const radius = 1 / bend;
        if (!best || radius < best.radius) best = { face: index, radius, at: s.point };
      }
    reader.dispose();
    if (best) tight.push(best);
  });
  tight.sort((a, b) => a.radius - b.radius);
  const solid = weldedMesh(body.mesh ?? tessellate(kernel, body.shape, 0.05));
  // Turned inside out, what lies around the body is the material, and a gap its wall.
  const skin = side === 'inward' ? solid : insideOut(solid);
  const kept = new Set(body.faces.map((_, i) => i).filter((i) => !open.has(i)));
  const wall = await measureWall(skin, {
    samples: 3000,
    faces: kept,
    cap: diagonal(pointBounds(skin.positions)),
    ...(tick ? { tick } : {}),
  });
  if (!wall) return null;
  const t = wall.thinnest;
  const inside = side === 'inward';
  const thick = inside ? wall.thickest : undefined;
  return {
    tight,
    narrow: t && {
      width: exactWall(kernel, body, t, inside ? 'inside' : 'outside').thickness,
      at: t.at,
      face: t.face,
      otherFace: t.contactFace,
    },
    widest: inside ? (thick?.thickness ?? 0) : Number.POSITIVE_INFINITY,
    widestAt: thick ? { width: thick.thickness, at: thick.at } : undefined,
  };
}
