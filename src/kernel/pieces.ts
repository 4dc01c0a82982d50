/** What becomes of a result that falls apart: which of its pieces stay, and what they are called. */
import type { Vec3 } from '../core/geometry/vectors';
import { type PiecesInputs, pieceIds } from '../core/recipe/steps';
import { bodyWords, pickWords } from '../core/recipe/words';
import { fail, ok, type Result } from '../core/result';
import { fixed } from '../core/units/units';
import { areaOf, volumeOf } from './amounts';
import type { Fix, KernelBody, StepFailure } from './body';
import { asOneBody, type Parts } from './boolean';
import type { Kernel, Shape } from './open';
import { placeOf } from './refer';
import { centreOf, distanceBetween, vertexAt } from './shapes';
import type { StepContext } from './steps/operation';

/** Places nearer than this along an axis are level with each other, mm: small changes of size don't turn an order round. */
const LEVEL = 1e-3;

/** The order of pieces: the lowest first, then from left to right and from front to back. */
export const byPlace = (a: Vec3, b: Vec3): number => {
  for (const k of [2, 0, 1]) if (Math.abs(a[k]! - b[k]!) > LEVEL) return a[k]! - b[k]!;
  return 0;
};

const TOUCHING = 1e-4;

interface Stays {
  readonly bodies: readonly { readonly id: string; readonly body: KernelBody }[];
  /** How many there were and what became of them; nothing where it is one piece. */
  readonly note?: string;
}

/**
 * The pieces that stay, as the step asks.
 * @param target the body that was changed, or the step's own id for a new one; @param before how many pieces it was
 * @param what what failed, should it fail
 * @param apart a nearer reason why one piece did not come about
 */
export function piecesKept(
  context: StepContext<PiecesInputs>,
  { pieces, claims }: Parts,
  target: string,
  before: number,
  what: string,
  apart: () => StepFailure | undefined = () => undefined,
): Result<Stays, StepFailure> {
  const { kernel, step } = context;
  const only = pieces[0];
  if (pieces.length === 1 && only) return ok({ bodies: [{ id: target, body: only }] });
  const inputs = step.inputs;
  const ordered = pieces
    .map((body) => ({ body, at: body.surface ? centreOf(kernel, body.shape) : volumeOf(kernel, body.shape).centroid }))
    .toSorted((a, b) => byPlace(a.at, b.at))
    .map(({ body, at }) => ({ body, at, size: body.surface ? areaOf(kernel, body.shape) : body.volume }));
  const named = (kept: readonly { body: KernelBody }[], note: string): Result<Stays, StepFailure> => {
    const ids = pieceIds(target, step.id, kept.length, inputs.pieces === 'each');
    return ok({ bodies: kept.map(({ body }, i) => ({ id: ids[i]!, body })), note });
  };
  const largest = ordered.reduce((a, b) => (b.size > a.size * (1 + 1e-6) ? b : a));
  const asked = inputs.pieces ?? 'one';
  const sizes = sizesOf(ordered);
  const leaving = (n: number): string => `${n} of ${ordered.length} pieces left out`;
  switch (asked) {
    case 'each':
      return named(ordered, `${ordered.length} pieces: ${sizes}`);
    case 'largest':
      return named([largest], leaving(ordered.length - 1));
    case 'held': {
      const ref = inputs.holds?.[0];
      if (!ref)
        return fail({
          what,
          why: 'the place that the piece holds is not chosen',
          unfinished: true,
          tryInstead: ['pick or type a place in the piece'],
        });
      const place = placeOf(context, ref);
      if (!place.ok) return place;
      const [nearest] = nearestFirst(kernel, ordered, vertexAt(kernel, place.value));
      return named([nearest!], `the piece at ${pickWords(ref, context.project)}, ${leaving(ordered.length - 1)}`);
    }
    case 'touching': {
      const other = inputs.near ? context.bodies.get(inputs.near) : undefined;
      if (!inputs.near || !other)
        return fail({ what, why: 'the body that the pieces touch is not chosen', unfinished: true, tryInstead: ['choose a body'] });
      const apart = nearestFirst(kernel, ordered, other.shape);
      const near = ordered.filter((p) => apart.some((q) => q.body === p.body && q.distance <= TOUCHING));
      if (near.length === 0)
        return fail({
          what,
          why: `none of its ${ordered.length} pieces touches ${bodyWords(inputs.near, context.project)}; the nearest lies ${fixed(apart[0]!.distance, 3)} mm away`,
          tryInstead: ['choose another body'],
          at: apart[0]!.at,
          fixes: ways(step.id, ordered.length, false),
        });
      return named(near, leaving(ordered.length - near.length));
    }
    default:
      // Of a body that is several pieces already there may be more.
      if (asked === 'one' && before === 1) {
        const skin = ordered.some((p) => p.body.surface);
        const why = apart() ?? {
          what,
          why: `it falls into ${ordered.length} separate pieces: ${sizes}`,
          tryInstead: ['say below what becomes of them'],
          at: ordered.reduce((a, b) => (b.size < a.size ? b : a)).at,
        };
        return fail({ ...why, fixes: ways(step.id, ordered.length, skin) });
      }
      if (ordered.some((p) => p.body.surface))
        return fail({
          what,
          why: 'surfaces that lie apart are not one body',
          tryInstead: ['each a body of its own'],
          fixes: ways(step.id, ordered.length, true),
        });
      return ok({
        bodies: [
          {
            id: target,
            body: asOneBody(
              kernel,
              ordered.map((p) => p.body),
              claims,
              step.id,
            ),
          },
        ],
        ...(asked === 'together' ? { note: `one body of ${ordered.length} pieces: ${sizes}` } : {}),
      });
  }
}

/** What can be done with pieces, each with one click. */
function ways(step: string, count: number, skin: boolean): Fix[] {
  const all = count === 2 ? 'both' : `all ${count}`;
  return [
    { words: `${all} pieces, each a body of its own`, step, inputs: { pieces: 'each' } },
    ...(skin ? [] : [{ words: `${all} pieces together as one body`, step, inputs: { pieces: 'together' } }]),
    { words: 'only the largest piece', step, inputs: { pieces: 'largest' } },
  ];
}

function nearestFirst<P extends { readonly body: KernelBody }>(
  kernel: Kernel,
  pieces: readonly P[],
  to: Shape,
): (P & { distance: number })[] {
  return pieces
    .map((p) => ({ ...p, distance: distanceBetween(kernel, p.body.shape, to)?.distance ?? Number.POSITIVE_INFINITY }))
    .toSorted((a, b) => a.distance - b.distance);
}

/** Sizes in words; those alike are counted. */
function sizesOf(pieces: readonly { readonly body: KernelBody; readonly size: number }[]): string {
  const groups: { words: string; n: number }[] = [];
  for (const { body, size } of pieces) {
    const words = body.surface ? `${fixed(size / 100, 2)} cm²` : `${fixed(size / 1000, 2)} cm³`;
    const known = groups.find((g) => g.words === words);
    if (known) known.n++;
    else groups.push({ words, n: 1 });
  }
  const shown = groups.slice(0, 4).map((g) => (g.n > 1 ? `${g.n} of ${g.words}` : g.words));
  return groups.length > shown.length ? `${shown.join(', ')} and more` : shown.join(', ');
}
