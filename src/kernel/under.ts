/** The wall that is left under what is sunk into a skin. */
import { minus, type Vec3 } from '../core/geometry/vectors';
import { type RayHit, raycast, sharedBvh } from '../core/mesh/bvh';
import { fixed } from '../core/units/units';
import type { KernelBody, StepFailure } from './body';
import type { Kernel } from './open';
import { displayDeflection, tessellateOnto, weldedMesh } from './tessellate';

/** Less of a wall than this is none, mm. */
export const NO_WALL = 0.05;
/** Nothing of a body lies farther, mm. */
const FAR = 1e6;
const hit: RayHit = { t: 0, triangle: -1 };

export interface Under {
  readonly left: number;
  readonly at: Vec3;
}

/** The least wall left, along the normals of middles. @param middles places of the skin, each with one a millimetre out of it @param depth mm */
export function thinnestUnder(
  kernel: Kernel,
  body: KernelBody,
  middles: readonly { readonly at: Vec3; readonly out: Vec3 }[],
  depth: number,
): Under | undefined {
  const bvh = sharedBvh(weldedMesh(tessellateOnto(kernel, body.shape, displayDeflection(kernel, body.shape))));
  let worst: Under | undefined;
  for (const { at, out } of middles) {
    const inwards = minus(at, out);
    const [[x, y, z], [nx, ny, nz]] = [at, inwards];
    // Facets of the face itself may lie a little below it.
    if (raycast(bvh, x, y, z, nx, ny, nz, 0.1 * depth, FAR, hit).triangle < 0) continue;
    const left = hit.t - depth;
    if (!worst || left < worst.left) worst = { left, at };
  }
  return worst;
}

/** Why what is sunk so deep can't be. */
export const cutsThrough = ({ left, at }: Under, depth: number): Pick<StepFailure, 'why' | 'tryInstead' | 'at'> => ({
  why: `one of them would cut through: ${fixed(left + depth, 2)} mm of wall are there`,
  tryInstead: [`at most ${fixed(left + depth - NO_WALL, 2)} mm deep`],
  at,
});
