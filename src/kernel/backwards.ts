/** Texts that read backwards from outside the body they are on. */
import { type Frame, heightOver } from '../core/curves/frame';
import { triple, type Vec3 } from '../core/geometry/vectors';
import type { Profile } from '../core/recipe/schema';
import type { KernelBody } from './body';
import type { Kernel } from './open';
import { roughBounds } from './shapes';
import type { StepWarning } from './steps/operation';

/** How far the middle of a body lies over a plane, as a share of half its size. */
function over(kernel: Kernel, body: KernelBody, frame: Frame): number {
  const { min, max } = roughBounds(kernel, body.shape);
  const middle: Vec3 = triple((k) => (min[k]! + max[k]!) / 2);
  const size = Math.hypot(...max.map((m, k) => m - min[k]!)) / 2;
  return heightOver(frame, middle) / (size || 1);
}

/** Which way the body lies, seen along the normal of a drawing: 1 before it, −1 behind it. */
export const bodySide = (kernel: Kernel, body: KernelBody, frame: Frame): 1 | -1 => (over(kernel, body, frame) > 0 ? 1 : -1);

/** A drawing that has a body's middle nearly in its plane is seen from both sides, as a share of half its size. */
const BOTH = 0.01;

/** A drawing is read from where its normal points to: where the body lies there, its texts are seen from behind. */
export function readBackwards(kernel: Kernel, profile: Profile, frame: Frame, body: KernelBody): StepWarning[] {
  if (over(kernel, body, frame) < BOTH) return [];
  return profile.curves.flatMap((c) =>
    c.kind === 'text' && !c.construction
      ? [{ message: `“${c.text}” reads backwards from outside: its drawing looks into the body`, at: frame.origin }]
      : [],
  );
}
