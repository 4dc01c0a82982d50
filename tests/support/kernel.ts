/** Bodies for tests, made the way the product makes them, or straight from the kernel's primitives. */
import { evaluateDimensions } from '../../src/core/dimensions/dimensions';
import { findOutline, type Outline } from '../../src/core/profile/outline';
import { resolveProfile } from '../../src/core/profile/resolve';
import { emptyProfile } from '../../src/core/recipe/edit';
import type { Profile } from '../../src/core/recipe/schema';
import { volumeOf } from '../../src/kernel/amounts';
import type { KernelBody } from '../../src/kernel/body';
import { type NamedEdge, namedEdges } from '../../src/kernel/names';
import { type Kernel, openKernel, type Shape } from '../../src/kernel/open';
import type { FoundFace } from '../../src/kernel/select';
import { boundsOf, facesOf } from '../../src/kernel/shapes';
import { turn } from '../../src/kernel/steps/revolve';

let shared: Promise<Kernel> | undefined;
/** One kernel for all that run in one worker. */
export const testKernel = (): Promise<Kernel> => {
  shared ??= openKernel();
  return shared;
};

/** A profile of straight lines through (r, z) points; ends on the axis or closed. */
export function polyProfile(points: readonly (readonly [number, number])[], closed = false): Profile {
  const pts = points.map(([x, y], i) => ({ id: `p${i}`, x, y }));
  const n = closed ? points.length : points.length - 1;
  return {
    ...emptyProfile('test', 'Test'),
    points: pts,
    curves: Array.from({ length: n }, (_, i) => ({ kind: 'line' as const, id: `c${i}`, from: `p${i}`, to: `p${(i + 1) % points.length}` })),
  };
}

function outlineOf(profile: Profile): Outline {
  const resolved = resolveProfile(profile, evaluateDimensions([]).scope);
  if (!resolved.ok) throw new Error(resolved.error.message);
  const outline = findOutline(resolved.value, profile.name);
  if (!outline.ok) throw new Error(outline.error.message);
  return outline.value;
}

export function turned(kernel: Kernel, profile: Profile, angle = 2 * Math.PI): KernelBody {
  const body = turn(kernel, outlineOf(profile), angle, 's1');
  if (!body.ok) throw new Error(`${body.error.what}: ${body.error.why}`);
  return body.value;
}

export const cylinder = (kernel: Kernel, r: number, h: number): KernelBody =>
  turned(
    kernel,
    polyProfile([
      [0, 0],
      [r, 0],
      [r, h],
      [0, h],
    ]),
  );

/** A frustum, R 20 below and 30 above, 50 high. */
export const taper = (kernel: Kernel): KernelBody =>
  turned(
    kernel,
    polyProfile([
      [0, 0],
      [20, 0],
      [30, 50],
      [0, 50],
    ]),
  );

/** A post R 15 on a plate R 30: one concave edge, where they meet. */
export const post = (kernel: Kernel): KernelBody =>
  turned(
    kernel,
    polyProfile([
      [0, 0],
      [30, 0],
      [30, 20],
      [15, 20],
      [15, 50],
      [0, 50],
    ]),
  );

/** A plain kernel shape as a body, faces named f0, f1 … */
function asTestBody(kernel: Kernel, shape: Shape): KernelBody {
  return { shape, faces: facesOf(kernel, shape).map((_, i) => `t/f${i}`), volume: volumeOf(kernel, shape).volume };
}

export function box(kernel: Kernel, a: number, b: number, c: number): KernelBody {
  return asTestBody(kernel, new kernel.BRepPrimAPI_MakeBox(a, b, c).Shape());
}

export function topFace(kernel: Kernel, body: KernelBody): FoundFace {
  const faces = facesOf(kernel, body.shape);
  let best = 0;
  faces.forEach((f, i) => {
    const [x, y] = [boundsOf(kernel, f), boundsOf(kernel, faces[best]!)];
    if (x.min[2] > y.min[2]) best = i;
  });
  return { face: faces[best]!, index: best };
}

/** Edges that bound the named faces on both sides. */
export function edgesOf(kernel: Kernel, body: KernelBody, pick: (e: NamedEdge) => boolean = () => true): NamedEdge[] {
  return namedEdges(kernel, body).filter((e) => e.name !== '' && pick(e));
}
