/** Chains of edges and curves in space: put end to end, their corners bent. */
import { bent, type SpaceCurve, type SpacePath } from '../core/curves/path';
import type { PathRef } from '../core/recipe/steps';
import { fail, ok, type Result } from '../core/result';
import { fixed } from '../core/units/units';
import type { StepFailure } from './body';
import { roundDown } from './largest';
import { chained, curvesOf } from './refer';
import type { StepContext } from './steps/operation';

/**
 * What was picked as one chain, each of it once. At least one is picked.
 * @param whole with what goes on from each smoothly; @param what what failed, should it fail
 */
export function chainOf(context: StepContext, refs: readonly PathRef[], whole: boolean, what: string): Result<SpaceCurve[], StepFailure> {
  const all: SpaceCurve[] = [];
  for (const ref of refs) {
    const c = curvesOf(context, ref, whole);
    if (!c.ok) return c;
    // A chain that is reached from two of its edges is there once.
    for (const k of c.value) if (!all.some((o) => JSON.stringify(o) === JSON.stringify(k))) all.push(k);
  }
  const chain = chained(all);
  return chain ? ok(chain) : fail({ what, why: 'the edges do not hang together', tryInstead: ['pick edges that touch'] });
}

/** The chain with its corners bent. @param value the step's value that is the radius, mm */
export function bentBy(
  { step }: StepContext,
  what: string,
  curves: readonly SpaceCurve[],
  value: string,
  radius: number,
): Result<SpaceCurve[], StepFailure> {
  const made = bent(curves, radius);
  if (made.ok) return made;
  const { at, most } = made.error;
  if (most === 0)
    return fail({
      what,
      why: 'it has a corner that is not between two straight stretches',
      tryInstead: ['round the edges of the body that it runs over', 'pick a chain without that corner'],
      at,
    });
  const works = roundDown(most);
  return fail({
    what,
    why: `a corner of R ${fixed(radius, 2)} mm takes more than the stretch beside it; ${fixed(most, 3)} mm is the most`,
    tryInstead: [`${works} mm works`],
    at,
    fixes: [{ words: `Use the largest, ${works} mm`, step: step.id, values: { [value]: `${works} mm` } }],
  });
}

/** Radius of the tightest bend, mm; infinite for a straight path. */
export function tightestBend(path: SpacePath): number {
  let most = 0;
  for (let i = 0; i <= 400; i++) most = Math.max(most, Math.hypot(...path.at(i / 400).bend));
  return most > 0 ? 1 / most : Number.POSITIVE_INFINITY;
}
