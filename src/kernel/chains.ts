/** Chains of edges and curves in space: put end to end, their corners bent. */
import { bent, type SpaceCurve, type SpacePath } from '../core/curves/path';
import type { Vec3 } from '../core/geometry/vectors';
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

/** Places a path is looked at for its tightest bend, and again about that: blends between long curves are short. */
const LOOKS = 1500;

/** The tightest bend of a path: its radius, mm, infinite for a straight one, and where it is. */
export function tightestBend(path: SpacePath): { readonly radius: number; readonly at: Vec3 } {
  const bend = (share: number): number => Math.hypot(...path.at(share).bend);
  let best = { share: 0, bend: -1 };
  const look = (from: number, to: number, n: number): void => {
    for (let i = 0; i <= n; i++) {
      const share = Math.min(1, Math.max(0, from + ((to - from) * i) / n));
      const b = bend(share);
      if (b > best.bend) best = { share, bend: b };
    }
  };
  look(0, 1, LOOKS);
  look(best.share - 1 / LOOKS, best.share + 1 / LOOKS, 40);
  return { radius: best.bend > 0 ? 1 / best.bend : Number.POSITIVE_INFINITY, at: path.at(best.share).point };
}
