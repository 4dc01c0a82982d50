/** What moves what: a dimension over all it goes to, and how strongly each moves every gauge; each value is a whole sheet worked out. */

import { type Effect, effectOf } from '../core/reach/effects';
import { changeable, type Mover, moverOf } from '../core/reach/mover';
import { type Spot, type Sweep, sweep } from '../core/reach/sweep';
import type { Project } from '../core/recipe/schema';
import type { SizeReport } from './sizes';

/** Works a changed sheet out; null where that is given up. */
export type WorkOut = (sheet: Project) => Promise<SizeReport | null>;

function spotOf(at: number, { failed, gauges }: SizeReport): Spot {
  if (failed) return { at, read: null, why: `${failed.step}: ${failed.why}` };
  const read = gauges.filter((g) => g.applies);
  return { at, read: new Map(read.map((g) => [g.id, { value: g.value, off: g.verdict === 'fail' || g.verdict === 'warn' }])) };
}

const prober =
  (workOut: WorkOut, mover: Mover) =>
  async (at: number): Promise<Spot | null> => {
    const report = await workOut(mover.at(at));
    return report && spotOf(at, report);
  };

/** How far a dimension goes, what ends it, and every gauge over that. @returns null where there is no such dimension */
export async function sweepDimension(
  workOut: WorkOut,
  project: Project,
  dimension: string,
  onSpot: (spots: readonly Spot[]) => void = () => {},
): Promise<Sweep | null> {
  const mover = moverOf(project, dimension);
  return mover && sweep(mover, prober(workOut, mover), onSpot);
}

/** What every dimension that may be changed does, in their order. @returns null where the sheet as it stands is not made, or it was given up */
export async function effectsOf(
  workOut: WorkOut,
  project: Project,
  onEffect: (effect: Effect) => void = () => {},
): Promise<Effect[] | null> {
  const now = await workOut(project);
  const read = now && spotOf(0, now).read;
  if (!read) return null;
  const effects: Effect[] = [];
  for (const name of changeable(project)) {
    const mover = moverOf(project, name);
    const effect = mover && (await effectOf(mover, read, prober(workOut, mover)));
    if (mover && !effect) return null;
    if (!effect) continue;
    effects.push(effect);
    onEffect(effect);
  }
  return effects;
}
