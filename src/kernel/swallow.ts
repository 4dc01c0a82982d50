/**
 * What a wall will swallow, read off the body before it is hollowed. Inwards: convex places rounder than the wall, and places
 * narrower than two walls. Outwards: concave places rounder than the wall, and gaps narrower than two walls.
 */

import type { Vec3 } from '../core/geometry/vectors';
import { diagonal, insideOut, bounds as pointBounds } from '../core/mesh/mesh';
import { measureWall } from '../core/mesh/wall';
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
