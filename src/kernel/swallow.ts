/**
 * What an inward wall will swallow, read off the body before it is hollowed: convex places rounder than the
 * wall, and places narrower than two walls.
 */

import type { Vec3 } from '../core/curves/frame';
import { diagonal, bounds as pointBounds } from '../core/mesh/mesh';
import { measureWall } from '../core/mesh/wall';
import type { KernelBody } from './body';
import { exactWall } from './exact-wall';
import type { Kernel } from './open';
import { facesOf, surfaceReader } from './shapes';
import { tessellate, weldedMesh } from './tessellate';

export interface TightPlace {
  readonly face: number;
  /** Smallest convex radius of the face, mm. */
  readonly radius: number;
  readonly at: Vec3;
}

export interface WallLimits {
  /** The tightest convex radius of every kept face that has one, tightest first. */
  readonly tight: readonly TightPlace[];
  /** The narrowest place, if one was found: its width and where. */
  readonly narrow: { readonly width: number; readonly at: Vec3; readonly face: number; readonly otherFace: number } | null;
  /** The widest inscribed ball: no cavity can exist from half of it on. */
  readonly widest: number;
  readonly widestAt: { readonly width: number; readonly at: Vec3 } | undefined;
}

const GRID = 9;

/** @param open face indices that will be opened and so do not count */
export async function wallLimits(
  kernel: Kernel,
  body: KernelBody,
  open: ReadonlySet<number>,
  tick?: () => Promise<boolean>,
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
        if (!s || !(s.curvatures[0] > 1e-6)) continue;
        const radius = 1 / s.curvatures[0];
        if (!best || radius < best.radius) best = { face: index, radius, at: s.point };
      }
    reader.dispose();
    if (best) tight.push(best);
  });
  tight.sort((a, b) => a.radius - b.radius);
  const skin = weldedMesh(body.mesh ?? tessellate(kernel, body.shape, 0.05));
  const kept = new Set(body.faces.map((_, i) => i).filter((i) => !open.has(i)));
  const wall = await measureWall(skin, {
    samples: 3000,
    faces: kept,
    cap: diagonal(pointBounds(skin.positions)),
    ...(tick ? { tick } : {}),
  });
  if (!wall) return null;
  const t = wall.thinnest;
  return {
    tight,
    narrow: t ? { width: exactWall(kernel, body, t).thickness, at: t.at, face: t.face, otherFace: t.contactFace } : null,
    widest: wall.thickest?.thickness ?? 0,
    widestAt: wall.thickest ? { width: wall.thickest.thickness, at: wall.thickest.at } : undefined,
  };
}
