/** Rounds edges: evenly, along their length, or each by its own radius. */
import { evaluateAs } from '../../core/dimensions/expression';
import type { EdgeRef } from '../../core/recipe/names';
import type { FilletInputs } from '../../core/recipe/steps';
import { bodyWords, edgeRefWords, edgeWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { largestSoftening } from '../../core/turned/soften';
import { fixed } from '../../core/units/units';
import type { Fix, KernelBody, StepFailure } from '../body';
import { cornerAt } from '../edges';
import { leastRoom, roundRoom } from '../estimate';
import { largestWorking, roundDown } from '../largest';
import type { NamedEdge } from '../names';
import type { Kernel } from '../open';
import { edgeCurveEnds } from '../refer';
import { plannedRounds, type RoundedEdge, roundBody, type Softened, smoothBody } from '../rounds';
import { lostOn, selectEdges } from '../select';
import { facesOf } from '../shapes';
import { type ContextOf, changed, type StepContext, type StepOutcome, type Trial } from './operation';

/** Edges to soften with the kinds of corner they make. */
export interface PickedEdges {
  readonly body: KernelBody;
  readonly edges: readonly NamedEdge[];
  readonly kinds: ReadonlyMap<string, 'convex' | 'concave'>;
  /** How many that were picked have nothing to be softened: their faces flow into each other. */
  readonly smooth: number;
}

/** The edges a step softens, found on its body; smooth ones stay as they are, and are refused where there is no other. @param done what is done to them, as “rounded” */
export function pickedEdges(
  context: StepContext,
  bodyId: string,
  refs: readonly EdgeRef[],
  done: string,
): Result<PickedEdges, StepFailure> {
  const { kernel, project } = context;
  const body = context.bodies.get(bodyId);
  if (!body)
    return fail({
      what: `there is nothing to be ${done}`,
      why: 'the body it names is not made by an earlier step',
      tryInstead: ['choose a body'],
    });
  if (refs.length === 0)
    return fail({
      what: 'no edge is picked',
      why: `nothing can be ${done} yet`,
      unfinished: true,
      tryInstead: ['pick an edge on the stage'],
    });
  const found = selectEdges(kernel, body, refs);
  if (!found.ok)
    return fail({
      what: `the ${edgeRefWords(found.error.ref as never, project)} no longer exists`,
      why: 'an earlier change removed it',
      tryInstead:
        found.error.candidates.length > 0 ? found.error.candidates.map((c) => `pick the ${edgeWords(c, project)}`) : ['pick another edge'],
      ...lostOn(bodyId, found.error),
    });
  const open = found.value.find((e) => e.faces.length < 2);
  if (open)
    return fail({
      what: `the ${edgeWords(open.name, project)} can't be ${done}`,
      why: 'it is a border: there is no face on its other side',
      tryInstead: ['take that edge out', 'knit what belongs there first'],
      at: edgeCurveEnds(kernel, open.edge)[0],
    });
  const faces = facesOf(kernel, body.shape);
  const kinds = new Map<string, 'convex' | 'concave'>();
  const smooth: StepFailure[] = [];
  for (const e of found.value) {
    const corner = e.faces.length === 2 ? cornerAt(kernel, e.edge, faces[e.faces[0]!]!, faces[e.faces[1]!]!) : undefined;
    if (corner?.kind === 'smooth')
      smooth.push({
        what: `the ${edgeWords(e.name, project)} can't be ${done}`,
        why: `its faces already flow into each other (${((corner.turn * 180) / Math.PI).toFixed(2)}°)`,
        tryInstead: ['pick another edge'],
        at: corner.at,
      });
    else kinds.set(e.name, corner?.kind ?? 'convex');
  }
  const edges = found.value.filter((e) => kinds.has(e.name));
  return edges.length === 0 ? fail(smooth[0]!) : ok({ body, edges, kinds, smooth: smooth.length });
}

/** Tells of the edges that had nothing to be softened. */
export const smoothWords = ({ smooth, edges }: PickedEdges): string | undefined =>
  smooth === 0 ? undefined : `${smooth} of ${smooth + edges.length} edges ${smooth === 1 ? 'is' : 'are'} smooth already`;

type Order = NonNullable<FilletInputs['order']>;

/** Does something to edges in an order: one kind of corner after the other, each found again by name in between. */
export function inOrder(
  kernel: Kernel,
  picked: PickedEdges,
  order: Order,
  soften: (body: KernelBody, edges: readonly NamedEdge[], kinds: ReadonlySet<string>) => Softened,
): Softened {
  const { body, edges, kinds } = picked;
  const kindsOf = (list: readonly NamedEdge[]): Set<string> => new Set(list.map((e) => kinds.get(e.name)!));
  if (order === 'together') return soften(body, edges, kindsOf(edges));
  const first = edges.filter((e) => kinds.get(e.name) === order);
  const second = edges.filter((e) => kinds.get(e.name) !== order);
  let now = body;
  for (const group of [first, second]) {
    if (group.length === 0) continue;
    const found =
      now === body
        ? ok(group)
        : selectEdges(
            kernel,
            now,
            group.map((e) => ({ edge: e.name })),
          );
    if (!found.ok) return fail({ why: 'the corners softened first take away an edge that comes later' });
    const done = soften(now, found.value, kindsOf(group));
    if (!done.ok) return done;
    now = done.value;
  }
  return ok(now);
}

/** The radii of every edge by the step's choices. */
function planOf(
  context: ContextOf<'fillet'>,
  edges: readonly NamedEdge[],
  inputs: FilletInputs,
): Result<(e: NamedEdge) => RoundedEdge, StepFailure> {
  const { radius, end } = context.values;
  if (inputs.radii === 'along') return ok((edge) => ({ edge, from: radius, to: end }));
  const own = new Map<string, number>();
  if (inputs.radii === 'each')
    for (const { edge, value } of inputs.own ?? []) {
      const r = evaluateAs(value, 'length', context.scope);
      if (!r.ok || !(r.value > 0))
        return fail({
          what: `the radius of the ${edgeWords(edge, context.project)} can’t be used`,
          why: r.ok ? 'it must be more than nothing' : r.error,
          tryInstead: ['correct the radius'],
        });
      own.set(edge, r.value);
    }
  const known = new Map(edges.map((e) => [e.name, own.get(e.name) ?? radius]));
  return ok((edge) => ({ edge, from: known.get(edge.name) ?? radius, to: known.get(edge.name) ?? radius }));
}

/** The body with edges rounded as the step says, in an order; of a curvature-continuous round its tightest radius too, mm. */
function softened(
  context: ContextOf<'fillet'>,
  picked: PickedEdges,
  order: Order,
  radii: (e: NamedEdge) => RoundedEdge,
): Result<{ readonly body: KernelBody; readonly radius?: number }, Pick<StepFailure, 'why' | 'at'>> {
  const { kernel, step } = context;
  if (step.inputs.section === 'smooth') {
    const plan = picked.edges.map((edge) => ({ edge, radius: radii(edge).from }));
    return smoothBody(kernel, picked.body, plan, picked.kinds, step.id);
  }
  const done = inOrder(kernel, picked, order, (now, list, kinds) => roundBody(kernel, now, list.map(radii), kinds, step.id));
  return done.ok ? ok({ body: done.value }) : done;
}

export function fillet(context: ContextOf<'fillet'>): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs;
  const picked = pickedEdges(context, inputs.body, inputs.edges, 'rounded');
  if (!picked.ok) return picked;
  const plan = planOf(context, picked.value.edges, inputs);
  if (!plan.ok) return plan;
  const { body, edges } = picked.value;
  if (body.surface && inputs.section === 'smooth')
    return fail({
      what: 'a surface can’t be rounded so',
      why: 'a curvature-continuous round is cut from a solid',
      tryInstead: ['round it by a rolling ball', 'make it a solid first'],
      fixes: [{ words: 'Round it by a rolling ball', step: step.id, inputs: { section: 'arc' } }],
    });
  const radius = context.values.radius;
  const order = inputs.order ?? 'together';
  const run = (some: PickedEdges, how: Order, scale = 1): ReturnType<typeof softened> =>
    softened(context, some, how, (e) => {
      const p = plan.value(e);
      return { edge: p.edge, from: p.from * scale, to: p.to * scale };
    });
  const even = (inputs.radii ?? 'same') === 'same';
  const began = performance.now();
  const done = run(picked.value, order);
  const took = performance.now() - began;
  if (done.ok) {
    const tightest = done.value.radius;
    const words = tightest === undefined ? undefined : `curvature-continuous, bending no tighter than ${fixed(tightest, 2)} mm`;
    const note = [words, smoothWords(picked.value)].filter(Boolean).join('; ');
    return changed(inputs.body, body, done.value.body, [], note);
  }
  /** Told by the outline, else by doing it. */
  const goes = (some: PickedEdges, how: Order, scale = 1): boolean => {
    const radii = (edge: NamedEdge): RoundedEdge => {
      const p = plan.value(edge);
      return { ...p, from: p.from * scale, to: p.to * scale };
    };
    return onOutline(context, some, how, radii)?.ok ?? run(some, how, scale).ok;
  };
  const exact =
    body.turned && goes(picked.value, order, 1e-3) ? largestSoftening((r) => goes(picked.value, order, r / radius), radius) : undefined;
  const room = leastRoom(project, edges, (e) => roundRoom(kernel, project, body, e, edges));
  const best =
    exact ?? largestWorking((r) => goes(picked.value, order, r / radius), radius, took, { guess: even ? room?.limit : undefined });
  const fixes: Fix[] = [];
  if (best !== undefined && even) {
    const r = `${roundDown(best)} mm`;
    fixes.push({ words: `Use ${r}`, step: step.id, values: { radius: r } });
  }
  fixes.push(...partial(context, picked.value, (some, how) => goes(some, how)));
  const radii = edges.flatMap((e) => [plan.value(e).from, plan.value(e).to]);
  const [least, most] = [Math.min(...radii), Math.max(...radii)];
  const size =
    inputs.radii === 'along'
      ? `${fixed(radius, 2)} to ${fixed(context.values.end, 2)} mm`
      : least === most
        ? `${fixed(most, 2)} mm`
        : `${fixed(least, 2)} to ${fixed(most, 2)} mm`;
  return fail({
    what: `a radius of ${size} does not fit on the ${edges.length === 1 ? edgeWords(edges[0]!.name, project) : `${edges.length} edges of ${bodyWords(inputs.body, project)}`}`,
    why: room && room.limit < radius ? `it is limited by ${room.words}` : done.error.why,
    tryInstead: [
      best === undefined
        ? 'take some edges out, or round them before what lies beside them'
        : `r ${roundDown(best)} mm works${edges.length > 1 && !even ? ', all radii in proportion' : ''}`,
    ],
    at: done.error.at ?? (room && room.limit < radius ? room.at : undefined),
    fixes,
  } as StepFailure);
}

/** More edges than this are not tried one by one while the maker waits. */
const MOST_ALONE = 12;

/** What can be offered where not all edges take it: another order, or the edges that do. */
export function partial(context: StepContext, picked: PickedEdges, works: (some: PickedEdges, order: Order) => boolean): Fix[] {
  const { step, project } = context;
  const { edges, kinds } = picked;
  if (edges.length < 2 || edges.length > MOST_ALONE) return [];
  const only = (some: readonly NamedEdge[]): PickedEdges => ({ ...picked, edges: some });
  const alone = edges.filter((e) => works(only([e]), 'together'));
  if (alone.length === edges.length) {
    // Each fits alone: one kind of corner before the other may do it.
    if (new Set(kinds.values()).size < 2 || step.kind !== 'fillet') return [];
    for (const [order, words] of [
      ['concave', 'inner corners'],
      ['convex', 'outer corners'],
    ] as const)
      if (works(picked, order)) return [{ words: `Soften the ${words} first: then all fit`, step: step.id, inputs: { order } }];
    return [];
  }
  if (alone.length === 0 || !works(only(alone), 'together')) return [];
  const left = edges.filter((e) => !alone.includes(e));
  const which = left.length === 1 ? `the ${edgeWords(left[0]!.name, project)}` : `${left.length} edges`;
  return [
    {
      words: `Take ${alone.length} of ${edges.length} edges, without ${which}`,
      step: step.id,
      inputs: { edges: alone.map((e) => ({ edge: e.name })) },
    },
  ];
}

/** The body with edges rounded alike, verified, or why not. */
export const roundEdges = (
  kernel: Kernel,
  body: KernelBody,
  edges: readonly NamedEdge[],
  radius: number,
  kinds: ReadonlySet<string>,
  stepId: string,
): Softened =>
  roundBody(
    kernel,
    body,
    edges.map((edge) => ({ edge, from: radius, to: radius })),
    kinds,
    stepId,
  );

/** What the outline of a turned or straight body tells of rounds without making them; undefined where it does not. */
const onOutline = (
  context: ContextOf<'fillet'>,
  some: PickedEdges,
  how: Order,
  radii: (edge: NamedEdge) => RoundedEdge,
): ReturnType<typeof plannedRounds> =>
  how === 'together' && context.step.inputs.section !== 'smooth'
    ? plannedRounds(context.kernel, some.body, some.edges.map(radii), context.step.id)
    : undefined;

/** Why what was planned does not go; undefined where it goes, or only making it tells. */
export const whyNot = (planned: ReturnType<typeof plannedRounds>): string | undefined =>
  planned && !planned.ok ? planned.error.why : undefined;

/** The same step once more with another radius: what its range is tried with. */
export function filletTrial(context: ContextOf<'fillet'>): Trial | undefined {
  const inputs = context.step.inputs;
  const picked = pickedEdges(context, inputs.body, inputs.edges, 'rounded');
  if (!picked.ok) return undefined;
  const plan = planOf(context, picked.value.edges, inputs);
  if (!plan.ok) return undefined;
  const { kernel, project } = context;
  const { body, edges } = picked.value;
  const own = new Set(inputs.radii === 'each' ? (inputs.own ?? []).map((o) => o.edge) : []);
  const order = inputs.order ?? 'together';
  const run = (some: PickedEdges, radii: (edge: NamedEdge) => RoundedEdge): boolean =>
    onOutline(context, some, order, radii)?.ok ?? softened(context, some, order, radii).ok;
  const even =
    (radius: number) =>
    (edge: NamedEdge): RoundedEdge => ({ edge, from: radius, to: radius });
  const room = (e: NamedEdge, set: readonly NamedEdge[]) => roundRoom(kernel, project, body, e, set);
  const set =
    (radius: number) =>
    (edge: NamedEdge): RoundedEdge => {
      const p = plan.value(edge);
      return own.has(edge.name) ? p : { edge, from: radius, to: inputs.radii === 'along' ? p.to : radius };
    };
  return {
    room: leastRoom(project, edges, (e) => room(e, edges)),
    works: (radius) => run(picked.value, set(radius)),
    refused: (radius) => whyNot(onOutline(context, picked.value, order, set(radius))),
    ...(edges.length > 1 && inputs.radii !== 'along'
      ? {
          edges: edges.map((e) => ({
            name: e.name,
            room: room(e, [e]),
            works: (radius: number) => run({ ...picked.value, edges: [e] }, even(radius)),
          })),
          together: (values: ReadonlyMap<string, number>) => run(picked.value, (edge) => even(values.get(edge.name)!)(edge)),
        }
      : {}),
  };
}
