/** Surfaces joined along the borders they share: one surface, or a solid where no border is left. */
import { distance } from '../core/geometry/vectors';
import { fail, ok, type Result } from '../core/result';
import { fixed } from '../core/units/units';
import { areaOf } from './amounts';
import { asBody, asSurface, type KernelBody, type StepFailure } from './body';
import { nameFaces } from './names';
import { attempt, type Kernel, scoped } from './open';
import { sew, solidWithin } from './sewing';
import { centreOf, distanceBetween, facesOf } from './shapes';
import { borderLoops, verifySurface } from './surface';
import { verifySolid } from './verify';

/** Borders this near to each other are one, mm. */
const SHARED = 1e-4;

/** @returns the surface or solid they make; in words where they do not meet, with the gap and its place */
export function knit(
  kernel: Kernel,
  surfaces: readonly KernelBody[],
  words: { readonly target: string; readonly tool: string },
  stepId: string,
): Result<{ readonly body: KernelBody; readonly note: string }, StepFailure> {
  const what = `${words.tool} could not be joined to ${words.target}`;
  // As the mirror image of what is its own: they share every border and close nothing.
  if (doubled(kernel, surfaces))
    return fail({ what, why: 'they lie on each other', tryInstead: ['choose another plane', 'move one of them'] });
  const made = attempt(kernel, () =>
    scoped((s) => {
      const own = surfaces.flatMap((b) => facesOf(kernel, b.shape).map((face, i) => ({ face, name: b.faces[i]! })));
      return sew(kernel, s, own, SHARED);
    }),
  );
  if (!made.ok) return fail({ what, why: made.error, tryInstead: ['trim them to each other first'] });
  const { shape, claims, multiple } = made.value;
  if (multiple > 0)
    return fail({
      what,
      why: `three or more faces would meet along ${multiple === 1 ? 'one edge' : `${multiple} edges`}`,
      tryInstead: ['join those two that bound the same side'],
    });
  if (shape.ShapeType() !== 'TopAbs_SHELL') return fail({ ...apart(kernel, surfaces), what });
  const borders = borderLoops(kernel, shape);
  if (borders.length > 0) {
    const verified = verifySurface(kernel, shape);
    if (!verified.ok) return fail({ what, why: verified.error.why, tryInstead: ['trim them to each other first'] });
    const left = borders.map((b) => fixed(b.length, 2)).join(', ');
    return ok({
      body: asSurface(verified.value, nameFaces(kernel, verified.value.shape, claims, stepId)),
      note: `${borders.length} border${borders.length === 1 ? '' : 's'} open, of ${left} mm`,
    });
  }
  const closed = attempt(kernel, () => scoped((s) => solidWithin(kernel, s, shape)));
  if (!closed.ok) return fail({ what, why: closed.error, tryInstead: ['trim them to each other first'] });
  const verified = verifySolid(kernel, closed.value);
  if (!verified.ok) return fail({ what, why: verified.error.why, tryInstead: ['trim them to each other first'] });
  return ok({ body: asBody(verified.value, nameFaces(kernel, verified.value.shape, claims, stepId)), note: 'closed: it is a solid now' });
}

/** Whether a face of one lies on a face of another: both are as large, about the same middle. */
function doubled(kernel: Kernel, surfaces: readonly KernelBody[]): boolean {
  const faces = surfaces.flatMap((b, of) =>
    facesOf(kernel, b.shape).map((face) => ({ of, area: areaOf(kernel, face), at: centreOf(kernel, face) })),
  );
  return faces.some((f, i) =>
    faces.slice(i + 1).some((g) => g.of !== f.of && Math.abs(g.area - f.area) < 1e-6 * f.area && distance(f.at, g.at) < SHARED),
  );
}

/** Why they did not become one: how far apart the nearest of them lie, or that their borders run otherwise. */
function apart(kernel: Kernel, surfaces: readonly KernelBody[]): Omit<StepFailure, 'what'> {
  const [first, ...others] = surfaces;
  const gaps = others.flatMap((o) => distanceBetween(kernel, first!.shape, o.shape) ?? []);
  const worst = gaps.reduce<(typeof gaps)[0] | undefined>((a, b) => (a && a.distance >= b.distance ? a : b), undefined);
  if (worst && worst.distance > SHARED)
    return {
      why: `there is a gap of ${fixed(worst.distance, worst.distance < 0.01 ? 5 : 3)} mm between them`,
      tryInstead: ['move them together', 'patch what lies between them'],
      at: worst.onA,
    };
  return {
    why: 'they touch, but share no border',
    tryInstead: ['split one by the other, so that a border of each runs along the other’s'],
    ...(worst ? { at: worst.onA } : {}),
  };
}
