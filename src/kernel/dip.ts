/** How far something stays over a plane, or dips below it. */
import { heightOver } from '../core/curves/frame';
import type { Vec3 } from '../core/geometry/vectors';
import type { OverInputs } from '../core/recipe/steps/over';
import { planeWords } from '../core/recipe/words';
import { ok, type Result } from '../core/result';
import { fixed } from '../core/units/units';
import type { StepFailure } from './body';
import { frameOf } from './placed';
import type { StepContext, StepWarning } from './steps/operation';

/** Less is no dip, mm. */
const LITTLE = 1e-6;

/** @param places of the thing, dense enough to tell */
export function dipOver(
  { planes, project }: Pick<StepContext, 'planes' | 'project'>,
  inputs: OverInputs,
  places: Iterable<Vec3>,
): Result<{ readonly told: string; readonly warnings: StepWarning[] }, StepFailure> {
  if (inputs.dip !== 'told' || !inputs.over) return ok({ told: '', warnings: [] });
  const frame = frameOf(inputs.over, planes, project);
  if (!frame.ok) return frame;
  let [low, at]: [number, Vec3] = [Number.POSITIVE_INFINITY, [0, 0, 0]];
  for (const p of places) {
    const h = heightOver(frame.value, p);
    if (h < low) [low, at] = [h, p];
  }
  const words = planeWords(inputs.over, project);
  return ok(
    low < -LITTLE
      ? { told: '', warnings: [{ message: `dips ${fixed(-low, 3)} mm below ${words} there`, at }] }
      : { told: `; stays ${fixed(Math.max(0, low), 3)} mm over ${words}`, warnings: [] },
  );
}
