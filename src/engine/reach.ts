/** Brings gauges to what is wanted by a dimension each: the whole sheet is built and read again at every value that is tried. */
import { type GaugeDefinition, type GaugeReading, gaugeById } from '../core/brief/gauges';
import { judge } from '../core/brief/judge';
import { evaluateDimensions } from '../core/dimensions/dimensions';
import { MORE, type Mover, moverOf } from '../core/reach/mover';
import { type PairProbe, reachPair } from '../core/reach/pair';
import { type Probe, type Reach, reachValue } from '../core/reach/reach';
import type { Project } from '../core/recipe/schema';
import { stepTitle } from '../core/recipe/words';
import type { Engine } from './engine';
import { measureBody, readOne } from './measure';

export interface Aim {
  readonly gauge: string;
  /** What is wanted, in the gauge's own unit. */
  readonly target: number;
  /** The dimension that may change. */
  readonly dimension: string;
  /** How far it may go, mm, rad or plain; null as far as it goes. */
  readonly least: number | null;
  readonly most: number | null;
}

export interface ReachRequest extends Aim {
  /** The body that is read. */
  readonly body: string;
  /** Every value that brings it there, not just the nearest. */
  readonly all?: boolean;
}

export interface PairRequest {
  readonly aims: readonly [Aim, Aim];
  readonly body: string;
}

/** A value of the dimension as it would be typed, with what is read there, in the gauge's unit. */
interface Place {
  readonly text: string;
  readonly value: number;
}

interface Ended {
  readonly trials: number;
  readonly stopped: boolean;
  readonly ms: number;
}

export interface ReachReport extends Ended {
  readonly request: ReachRequest;
  /** Null where it is not reached. */
  readonly found: (Place & { readonly gauges: readonly GaugeReading[] }) | null;
  /** Where else it is that, where all were asked for. */
  readonly others: readonly Place[];
  /** How far the dimension goes either way, and why not farther; null where no more was tried. */
  readonly low: Place & { readonly why: string | null };
  readonly high: Place & { readonly why: string | null };
}

export interface PairReport extends Ended {
  readonly request: PairRequest;
  /** The nearest that was made, the dimensions as they would be typed. */
  readonly texts: readonly [string, string];
  readonly values: readonly [number, number];
  /** All that is read there; null where they are not reached. */
  readonly gauges: readonly GaugeReading[] | null;
  /** Why no nearer one could be made; null where it could, and was no nearer. */
  readonly why: string | null;
}

type Tick = (done: number, of: number) => Promise<boolean>;
const going = async (): Promise<boolean> => true;

/** A sheet's readings of some gauges; in words where it can't be made or has none of them. */
type Read = { readonly values: readonly number[] } | { readonly why: string };

/** What reads changed sheets of one project. */
async function readerOf(engine: Engine, body: string, meshKernelUrl: string | undefined) {
  const kernel = await engine.start();
  const bodyNow = () => engine.bodies().find((b) => b.id === body)?.body;
  return {
    async some(there: Project, gauges: readonly GaugeDefinition[]): Promise<Read> {
      const { scope } = evaluateDimensions(there.dimensions);
      const result = await engine.rebuild(there);
      const wrong = result.steps.find((s) => s.state === 'failed');
      if (wrong) return { why: `${stepTitle(wrong.id, there)}: ${wrong.message}; ${wrong.why}` };
      const made = bodyNow();
      if (!made) return { why: 'the body is not there' };
      const values: number[] = [];
      for (const gauge of gauges) {
        const value = await readOne(kernel, there, scope, body, made, gauge, going, meshKernelUrl);
        if (value === null) return { why: `it has no ${gauge.label.toLowerCase()}` };
        values.push(value);
      }
      return { values };
    },
    async all(there: Project): Promise<GaugeReading[]> {
      const { scope } = evaluateDimensions(there.dimensions);
      await engine.rebuild(there);
      const measured = await measureBody(kernel, there, scope, body, bodyNow()!, going, meshKernelUrl);
      return judge(there, scope, body, measured?.readings ?? null);
    },
  };
}

/** Why a value is not even tried; null where it may be. */
const beyond = ({ least, most }: Aim, mover: Mover, value: number): string | null =>
  (least !== null && value < least * (1 - Math.sign(least) * 1e-12)) || (most !== null && value > most * (1 + Math.sign(most) * 1e-12))
    ? `${mover.name} is to stay ${least !== null && value < least ? `at least ${mover.text(least)}` : `at most ${mover.text(most!)}`}`
    : null;

/**
 * @returns null where there is no such dimension, gauge or body, or nothing to be read as it stands
 * @param tick called before each trial with the one that is tried; false gives up
 */
export async function reachGauge(
  engine: Engine,
  project: Project,
  request: ReachRequest,
  tick: Tick = going,
  meshKernelUrl?: string,
): Promise<ReachReport | null> {
  const started = performance.now();
  const gauge = gaugeById(request.gauge);
  const mover = moverOf(project, request.dimension);
  if (!gauge || !mover) return null;
  const { from, at, text } = mover;
  const reader = await readerOf(engine, request.body, meshKernelUrl);
  const probe = async (value: number): Promise<Probe> => {
    const why = value === from ? null : beyond(request, mover, value);
    const read = why === null ? await reader.some(at(value), [gauge]) : { why };
    return 'why' in read ? { at: value, value: null, why: read.why } : { at: value, value: read.values[0]! };
  };
  const now = await probe(from);
  if (now.value === null) return null;
  const reach: Reach = await reachValue(probe, { from, now: now.value, target: request.target, all: request.all ?? false, tick });
  const limit = ({ at: place, value, why }: Reach['low']) => ({ text: text(place), value, why });
  return {
    request,
    found: reach.at === null ? null : { text: text(reach.at, MORE), value: reach.value!, gauges: await reader.all(at(reach.at)) },
    others: reach.others.map((p) => ({ text: text(p.at, MORE), value: p.value })),
    low: limit(reach.low),
    high: limit(reach.high),
    trials: reach.probes.length - 1,
    stopped: reach.stopped,
    ms: performance.now() - started,
  };
}

/** Two gauges by two dimensions together. @returns null as for one, or where both are to be one dimension */
export async function reachGauges(
  engine: Engine,
  project: Project,
  request: PairRequest,
  tick: Tick = going,
  meshKernelUrl?: string,
): Promise<PairReport | null> {
  const started = performance.now();
  const [a, b] = request.aims;
  const gauges = [gaugeById(a.gauge), gaugeById(b.gauge)];
  const [x, y] = [moverOf(project, a.dimension), moverOf(project, b.dimension)];
  if (!gauges[0] || !gauges[1] || !x || !y || x.name === y.name) return null;
  const reader = await readerOf(engine, request.body, meshKernelUrl);
  const both = (at: readonly [number, number]): Project => moverOf(x.at(at[0]), y.name)!.at(at[1]);
  const probe = async (at: readonly [number, number]): Promise<PairProbe> => {
    const why = beyond(a, x, at[0]) ?? beyond(b, y, at[1]);
    const read = why === null ? await reader.some(both(at), [gauges[0]!, gauges[1]!]) : { why };
    return 'why' in read ? { at, values: null, why: read.why } : { at, values: [read.values[0]!, read.values[1]!] };
  };
  const now = await probe([x.from, y.from]);
  if (!now.values) return null;
  const reach = await reachPair(probe, { from: [x.from, y.from], now: now.values, targets: [a.target, b.target], tick });
  const { at } = reach;
  return {
    request,
    texts: [x.text(reach.nearest[0], at ? MORE : 0), y.text(reach.nearest[1], at ? MORE : 0)],
    values: reach.values,
    gauges: at && (await reader.all(both(at))),
    why: reach.why,
    trials: reach.trials,
    stopped: reach.stopped,
    ms: performance.now() - started,
  };
}
