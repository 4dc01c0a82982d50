/** Rounds edges with a constant radius. */

import { splitEdgeName } from '../../core/recipe/names';
import type { FilletInputs } from '../../core/recipe/steps';
import { edgeRefWords, edgeWords, faceWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { asBody, type KernelBody, type StepFailure } from '../body';
import { cornerAt } from '../edges';
import { largestWorking, roundDown } from '../largest';
import { type Claim, inherit, listOf, type NamedEdge, nameFaces } from '../names';
import { attempt, type Kernel, type Shape, scoped } from '../open';
import { lostOn, selectEdges } from '../select';
import { facesOf, roughBounds } from '../shapes';
import { deflectionFor, verifyRounds, verifySolid } from '../verify';
import { changed, type StepContext, type StepOutcome } from './operation';

export function fillet(context: StepContext): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs as FilletInputs;
  const body = context.bodies.get(inputs.body);
  if (!body)
    return fail({
      what: 'there is nothing to round',
      why: 'the body it names is not made by an earlier step',
      tryInstead: ['choose a body'],
    });
  if (inputs.edges.length === 0)
    return fail({ what: 'no edge is picked', why: 'a round needs at least one edge', tryInstead: ['pick an edge on the stage'] });
  const edges = selectEdges(kernel, body, inputs.edges);
  if (!edges.ok)
    return fail({
      what: `the ${edgeRefWords(edges.error.ref as never, project)} no longer exists`,
      why: 'an earlier change removed it',
      tryInstead:
        edges.error.candidates.length > 0 ? edges.error.candidates.map((c) => `pick the ${edgeWords(c, project)}`) : ['pick another edge'],
      ...lostOn(inputs.body, edges.error),
    });
  const faces = facesOf(kernel, body.shape);
  const kinds = new Set<string>();
  for (const e of edges.value) {
    const corner = cornerAt(kernel, e.edge, faces[e.faces[0]!]!, faces[e.faces[1]!]!);
    if (corner?.kind === 'smooth')
      return fail({
        what: `the ${edgeWords(e.name, project)} can't be rounded`,
        why: `its faces already flow into each other (${((corner.turn * 180) / Math.PI).toFixed(2)}°)`,
        tryInstead: ['take that edge out'],
        at: corner.at,
      });
    kinds.add(corner?.kind ?? 'convex');
  }
  const radius = context.values.radius!;
  const done = roundEdges(kernel, body, edges.value, radius, kinds, step.id);
  if (done.ok) return changed(inputs.body, body, done.value);
  const best = largestWorking((r) => roundEdges(kernel, body, edges.value, r, kinds, step.id).ok, radius);
  const first = edges.value[0]!;
  const parts = splitEdgeName(first.name);
  return fail({
    what: `a radius of ${radius.toFixed(2)} mm does not fit on the ${edgeWords(first.name, project)}`,
    why: done.error.why,
    tryInstead:
      best === undefined
        ? ['no smaller radius worked either; take some edges out']
        : [`r ${roundDown(best)} mm works${parts ? `, between ${faceWords(parts.a, project)} and ${faceWords(parts.b, project)}` : ''}`],
    ...(done.error.at ? { at: done.error.at } : {}),
  });
}

/** The rounded body, verified, or why not. */
export function roundEdges(
  kernel: Kernel,
  body: KernelBody,
  edges: readonly NamedEdge[],
  radius: number,
  kinds: ReadonlySet<string>,
  stepId: string,
): Result<KernelBody, Pick<StepFailure, 'why' | 'at'>> {
  const faces = facesOf(kernel, body.shape);
  const made = attempt(kernel, () =>
    scoped((s) => {
      const maker = s.keep(new kernel.BRepFilletAPI_MakeFillet(body.shape, 'ChFi3d_Rational'));
      for (const e of edges) maker.Add(radius, e.edge);
      maker.Build();
      if (!maker.IsDone()) return undefined;
      const claims: Claim[] = inherit(kernel, maker, faces, body.faces);
      const rounds: { shape: Shape; between: readonly [Shape, Shape] }[] = [];
      for (const e of edges)
        for (const g of listOf(kernel, maker.Generated(e.edge))) {
          if (g.ShapeType() !== 'TopAbs_FACE') continue;
          claims.push({ shape: g, name: `${stepId}/round(${e.name})` });
          rounds.push({ shape: g, between: [faces[e.faces[0]!]!, faces[e.faces[1]!]!] });
        }
      return { shape: maker.Shape(), claims, rounds };
    }),
  );
  if (!made.ok) return fail({ why: 'the faces beside the edge leave no room for it' });
  if (!made.value) return fail({ why: 'the faces beside the edge leave no room for it' });
  const slack = 1e-9 * body.volume;
  const box = roughBounds(kernel, body.shape);
  const convex = kinds.has('convex');
  const concave = kinds.has('concave');
  const verified = verifySolid(kernel, made.value.shape, {
    volume: [concave && !convex ? body.volume - slack : 0, convex && !concave ? body.volume + slack : Infinity],
    inside: box,
    deflection: deflectionFor(radius, box),
  });
  if (!verified.ok) return fail({ why: verified.error.why });
  const resultFaces = facesOf(kernel, verified.value.shape);
  const rounds = made.value.rounds.flatMap(({ shape, between }) => {
    const face = resultFaces.findIndex((f) => f.IsSame(shape));
    return face < 0 ? [] : [{ face, between }];
  });
  if (rounds.length < edges.length) return fail({ why: 'not every edge was rounded' });
  const ball = verifyRounds(kernel, verified.value, radius, rounds);
  if (!ball.ok) return fail({ why: ball.error.why });
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, stepId)));
}
