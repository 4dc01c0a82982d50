/** How a built body leaves a mould, and from how many sides it is milled. */
import { facetsOf } from '../core/inspect/facets';
import { sharedBvh } from '../core/mesh/bvh';
import { bounds, diagonal, type TriMesh } from '../core/mesh/mesh';
import { fail, ok, type Result } from '../core/result';
import { type Pull, pullsOf } from '../core/tooling/pulls';
import { type Milled, milledFrom } from '../core/tooling/sides';
import { outlineDxf, type Turning, turningOf, unturned } from '../core/tooling/turning';
import type { KernelBody } from '../kernel/body';
import type { Kernel } from '../kernel/open';
import { weldedMesh } from '../kernel/tessellate';
import { measuringSkin } from './measure';

/** Facets are no longer than this share of the body, and at most so many: every one is looked at from many sides. */
const [FINE, MOST] = [0.04, 24_000] as const;
const SKIN = 'it is a skin and has no inside: close it, or give it a wall';

/** The mesh it was checked on is fine enough to look from all sides. */
const lookedFrom = (kernel: Kernel, body: KernelBody): TriMesh => (body.mesh ? weldedMesh(body.mesh) : measuringSkin(kernel, body));

type Tick = () => Promise<boolean>;

export async function bodyPulls(kernel: Kernel, body: KernelBody, limit: number, tick: Tick): Promise<Result<Pull[]> | null> {
  if (body.surface) return fail(SKIN);
  const skin = lookedFrom(kernel, body);
  const pulls = await pullsOf(sharedBvh(skin), facetsOf(skin, FINE * diagonal(bounds(skin.positions)), MOST), limit, tick);
  return pulls && ok(pulls);
}

export async function bodyMilled(kernel: Kernel, body: KernelBody, tick: Tick): Promise<Result<Milled> | null> {
  if (body.surface) return fail(SKIN);
  const skin = lookedFrom(kernel, body);
  const size = diagonal(bounds(skin.positions));
  const milled = await milledFrom(sharedBvh(skin), facetsOf(skin, FINE * size, MOST), size, tick);
  return milled && ok(milled);
}

/** A body on the lathe: its half outline and what that asks for, or the share of its skin that is not turned. */
export type BodyTurning = { readonly outline: Turning; readonly dxf: string } | { readonly off: number };

export async function bodyTurning(kernel: Kernel, body: KernelBody): Promise<Result<BodyTurning>> {
  if (body.surface) return fail(SKIN);
  if (body.turned) return ok({ outline: turningOf(body.turned.meridian), dxf: outlineDxf(body.turned.meridian) });
  const skin = lookedFrom(kernel, body);
  const { min, max } = bounds(skin.positions);
  const middle = [(min[0]! + max[0]!) / 2, (min[1]! + max[1]!) / 2] as const;
  return ok({ off: unturned(facetsOf(skin, FINE * diagonal({ min, max }), MOST), middle) });
}
