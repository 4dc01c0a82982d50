/** The range of a step's value that works: searched beside the rebuild, told as it goes. */
import { evaluateDimensions } from '../core/dimensions/dimensions';
import type { Project } from '../core/recipe/schema';
import { stepDefinitions } from '../core/recipe/steps';
import { stepValues } from '../core/recipe/values';
import { edgeWords } from '../core/recipe/words';
import { fixed } from '../core/units/units';
import type { Fix } from '../kernel/body';
import type { Estimate } from '../kernel/estimate';
import { type Found, feasible, type Tried } from '../kernel/feasible';
import { roundDown } from '../kernel/largest';
import type { Kernel } from '../kernel/open';
import { trialOf } from '../kernel/steps';
import { contextBeside } from './engine';
import type { MadeBody } from './types';

/** The range of a value, plain data. */
export interface RangeReport extends Found {
  readonly step: string;
  /** The value it is about. */
  readonly value: string;
  readonly room: Estimate | null;
  /** Why the smallest value that failed does not go, where the outline of the body tells it. */
  readonly beyond: string | null;
  /** The largest value of each edge alone, where there are several. */
  readonly each: readonly { readonly edge: string; readonly words: string; readonly most: number }[];
  readonly fixes: readonly Fix[];
  readonly ms: number;
}

/** More edges than this are not searched one by one. */
const MOST_EACH = 12;

/**
 * Searches the range of the value of one step.
 * @param made the bodies it is built from
 * @param state whether the value that stands in the sheet is known to work or to fail
 * @returns null where the step has no such value, its bodies are not there, or its picks are lost
 */
export async function searchRange(
  kernel: Kernel,
  project: Project,
  stepId: string,
  made: readonly MadeBody[],
  state: 'works' | 'fails' | 'unknown',
  tick: (done: number, of: number) => Promise<boolean> = async () => true,
): Promise<RangeReport | null> {
  const started = performance.now();
  const step = project.steps.find((s) => s.id === stepId);
  const value = step && stepDefinitions[step.kind]?.ranged;
  const prepare = step && trialOf(step.kind);
  if (!step || !value || !prepare) return null;
  const { scope } = evaluateDimensions(project.dimensions);
  const values = stepValues(step, scope);
  if (!values.ok) return null;
  const trial = await prepare(contextBeside(kernel, project, scope, step, values.value, made));
  if (!trial) return null;
  const now = values.value[value]!;
  const known: Tried | undefined = state === 'unknown' ? undefined : { value: now, works: state === 'works' };
  const safely = (works: (v: number) => boolean) => (v: number) => {
    try {
      return works(v);
    } catch {
      return false;
    }
  };
  const list = trial.edges ?? [];
  const several = list.length > 1 && list.length <= MOST_EACH;
  const total = 12 + (several ? 6 * list.length : 0);
  const found = await feasible(safely(trial.works), {
    ...(trial.room ? { estimate: trial.room.limit } : {}),
    ...(known ? { known } : {}),
    tick: (done) => tick(done, total),
  });
  const each: { edge: string; words: string; most: number }[] = [];
  let stopped = found.stopped;
  if (several)
    for (const [i, e] of list.entries()) {
      if (stopped) break;
      const own = await feasible(safely(e.works), {
        ...(e.room ? { estimate: e.room.limit } : {}),
        ...(found.most === null ? {} : { known: { value: found.most, works: true } }),
        trials: 6,
        within: 0.02,
        tick: (done) => tick(12 + 6 * i + done, total),
      });
      stopped = own.stopped;
      if (own.most !== null) each.push({ edge: e.name, words: edgeWords(e.name, project), most: own.most });
    }
  const fixes: Fix[] = [];
  if (found.most !== null) {
    const most = roundDown(found.most);
    fixes.push({ words: `Use the largest, ${most} mm`, step: stepId, values: { [value]: `${most} mm` } });
  }
  // Each edge as far as it goes alone, if that goes together.
  if (!stopped && each.length === list.length && each.length > 1 && trial.together) {
    const most = Math.max(...each.map((e) => e.most));
    const least = Math.min(...each.map((e) => e.most));
    if (most > 1.05 * least)
      for (const share of [1, 0.5]) {
        const all = new Map(each.map((e) => [e.edge, roundDown(e.most * share)]));
        if (!safely(() => trial.together!(all))(0)) continue;
        fixes.push({
          words: `Use per-edge values, ${fixed(Math.min(...all.values()), 2)} to ${fixed(Math.max(...all.values()), 2)} mm`,
          step: stepId,
          inputs: { radii: 'each', own: [...all].map(([edge, v]) => ({ edge, value: `${v} mm` })) },
        });
        break;
      }
  }
  const beyond = (found.failsAt !== null && trial.refused?.(found.failsAt)) || null;
  return { ...found, stopped, step: stepId, value, room: trial.room ?? null, beyond, each, fixes, ms: performance.now() - started };
}
