/** Brings a gauge to what is wanted by one dimension: the whole sheet is built and read again at every value that is tried. */
import { type GaugeReading, gaugeById } from '../core/brief/gauges';
import { judge } from '../core/brief/judge';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import { MORE, moverOf } from '../core/reach/mover';
import { type Probe, type Reach, reachValue } from '../core/reach/reach';
import type { Project } from '../core/recipe/schema';
import { stepTitle } from '../core/recipe/words';
import type { Engine } from './engine';
import { measureBody, readOne } from './measure';

export interface ReachRequest {
  readonly gauge: string;
  /** What is wanted, in the gauge's own unit. */
  readonly target: number;
  /** The dimension that may change. */
  readonly dimension: string;
  /** The body that is read. */
  readonly body: string;
}

/** A value of the dimension as it would be typed, with what is read there, in the gauge's unit. */
interface Place {
  readonly text: string;
  readonly value: number;
}

export interface ReachReport {
  readonly request: ReachRequest;
  /** Null where it is not reached. */
  readonly found: (Place & { readonly gauges: readonly GaugeReading[] }) | null;
  /** How far the dimension goes either way, and why not farther; null where no more was tried. */
  readonly low: Place & { readonly why: string | null };
  readonly high: Place & { readonly why: string | null };
  readonly trials: number;
  readonly stopped: boolean;
  readonly ms: number;
}

/**
 * @returns null where there is no such dimension, gauge or body, or nothing to be read as it stands
 * @param tick called before each trial with the one that is tried; false gives up
 */
export async function reachGauge(
  engine: Engine,
  project: Project,
  request: ReachRequest,
  tick: (done: number, of: number) => Promise<boolean> = async () => true,
  meshKernelUrl?: string,
): Promise<ReachReport | null> {
  const started = performance.now();
  const gauge = gaugeById(request.gauge);
  const mover = moverOf(project, request.dimension);
  if (!gauge || !mover) return null;
  const { from, at, text: textOf } = mover;
  const kernel = await engine.start();
  const going = async (): Promise<boolean> => true;
  const probe = async (value: number): Promise<Probe> => {
    const there = at(value);
    const { scope } = evaluateDimensions(there.dimensions);
    const result = await engine.rebuild(there);
    const wrong = result.steps.find((s) => s.state === 'failed');
    if (wrong) return { at: value, value: null, why: `${stepTitle(wrong.id, project)}: ${wrong.message}; ${wrong.why}` };
    const body = engine.bodies().find((b) => b.id === request.body)?.body;
    if (!body) return { at: value, value: null, why: 'the body is not there' };
    const read = await readOne(kernel, there, scope, request.body, body, gauge, going, meshKernelUrl);
    return { at: value, value: read, ...(read === null ? { why: `it has no ${gauge.label.toLowerCase()}` } : {}) };
  };
  const now = await probe(from);
  if (now.value === null) return null;
  const reach: Reach = await reachValue(probe, { from, now: now.value, target: request.target, tick });
  const limit = ({ at: place, value, why }: Reach['low']) => ({ text: textOf(place), value, why });
  let found: ReachReport['found'] = null;
  if (reach.at !== null) {
    const there = at(reach.at);
    const { scope } = evaluateDimensions(there.dimensions);
    await engine.rebuild(there);
    const body = engine.bodies().find((b) => b.id === request.body)!.body;
    const measured = await measureBody(kernel, there, scope, request.body, body, going, meshKernelUrl);
    found = { text: textOf(reach.at, MORE), value: reach.value!, gauges: judge(there, scope, request.body, measured?.readings ?? null) };
  }
  return {
    request,
    found,
    low: limit(reach.low),
    high: limit(reach.high),
    trials: reach.probes.length - 1,
    stopped: reach.stopped,
    ms: performance.now() - started,
  };
}
