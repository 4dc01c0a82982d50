/** Surfaces joined along the borders they share: one surface, or a solid where no border is left. */
import { along, distance, dot, minus, type Vec3 } from '../core/geometry/vectors';
import { fail, ok, type Result } from '../core/result';
import { fixed } from '../core/units/units';
import { areaOf } from './amounts';
import { asBody, asSurface, type KernelBody, type StepFailure } from './body';
import { nameFaces } from './names';
import { attempt, type Kernel, scoped } from './open';
import { sew, solidWithin } from './sewing';
import { centreOf, distanceBetween, edgesWithFaces, facesOf } from './shapes';
import { type BorderEdge, borderChains, borderLoops, verifySurface } from './surface';
import { verifySolid } from './verify';

/** Borders this near to each other are one, mm. */
const SHARED = 1e-4;

/** A place where two borders run beside each other. */
interface Gap {
  /** At its widest, mm, and where that is. */
  readonly width: number;
  readonly at: Vec3;
}

export interface Knitted {
  readonly body: KernelBody;
  readonly note: string;
  /** Those that are still open, the widest first. */
  readonly gaps: readonly Gap[];
}

/**
 * @param within borders that lie no farther apart are one, mm
 * @returns the surface or solid they make; in words where they do not meet, with the gap and its place
 */
export function knit(
  kernel: Kernel,
  surfaces: readonly KernelBody[],
  words: { readonly target: string; readonly tool: string },
  stepId: string,
  within = SHARED,
): Result<Knitted, StepFailure & { readonly gap?: number }> {
  const what = `${words.tool} could not be joined to ${words.target}`;
  // As the mirror image of what is its own: they share every border and close nothing.
  if (doubled(kernel, surfaces))
    return fail({ what, why: 'they lie on each other', tryInstead: ['choose another plane', 'move one of them'] });
  const made = attempt(kernel, () =>
    scoped((s) => {
      const own = surfaces.flatMap((b) => facesOf(kernel, b.shape).map((face, i) => ({ face, name: b.faces[i]! })));
      return sew(kernel, s, own, within);
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
  if (shape.ShapeType() !== 'TopAbs_SHELL') return fail({ ...apart(kernel, surfaces, within), what });
  const closed = edgesWithFaces(kernel, facesOf(kernel, shape)).filter((e) => e.faces.length === 2);
  // What was closed is bridged by edges as wide.
  const widest = Math.max(0, ...closed.map((e) => kernel.BRep_Tool.Tolerance(e.edge)));
  const bridged = widest > 2 * SHARED ? `; borders closed within ${fixed(widest, 3)} mm` : '';
  const borders = borderLoops(kernel, shape);
  if (borders.length > 0) {
    const verified = verifySurface(kernel, shape);
    if (!verified.ok) return fail({ what, why: verified.error.why, tryInstead: ['trim them to each other first'] });
    const left = borders.map((b) => fixed(b.length, 2)).join(', ');
    return ok({
      body: asSurface(verified.value, nameFaces(kernel, verified.value.shape, claims, stepId)),
      note: `${borders.length} border${borders.length === 1 ? '' : 's'} open, of ${left} mm${bridged}`,
      gaps: gapsOf(borderChains(kernel, shape).flat()),
    });
  }
  const solid = attempt(kernel, () => scoped((s) => solidWithin(kernel, s, shape)));
  if (!solid.ok) return fail({ what, why: solid.error, tryInstead: ['trim them to each other first'] });
  const verified = verifySolid(kernel, solid.value);
  if (!verified.ok)
    return fail({
      what,
      why: bridged ? `closing its borders within ${fixed(widest, 2)} mm leaves no sound solid: ${verified.error.why}` : verified.error.why,
      tryInstead: [bridged ? 'move them together, or patch what lies between them' : 'trim them to each other first'],
    });
  return ok({
    body: asBody(verified.value, nameFaces(kernel, verified.value.shape, claims, stepId)),
    note: `closed: it is a solid now${bridged}`,
    gaps: [],
  });
}

/** Borders farther apart than this share of their length, or than so many mm, are not meant to meet. */
const [MEANT, MEANT_MM] = [0.05, 2] as const;

/** Border edges that run beside another all along, each pair once, the widest gap first. */
function gapsOf(edges: readonly BorderEdge[]): Gap[] {
  const out: Gap[] = [];
  const near = (p: Vec3, line: readonly Vec3[]): number => {
    let least = Number.POSITIVE_INFINITY;
    for (let i = 1; i < line.length; i++) {
      const [a, d] = [line[i - 1]!, minus(line[i]!, line[i - 1]!)];
      const l = dot(d, d);
      const t = l > 0 ? Math.min(1, Math.max(0, dot(minus(p, a), d) / l)) : 0;
      least = Math.min(least, distance(p, along(a, d, t)));
    }
    return least;
  };
  edges.forEach((e, i) => {
    for (const [k, f] of edges.entries()) {
      // The shorter of the two runs along the longer.
      if (k === i || e.length > f.length || (e.length === f.length && k < i)) continue;
      const limit = Math.min(MEANT * e.length, MEANT_MM);
      const off = e.points.map((p) => near(p, f.points));
      const width = Math.max(...off);
      if (width < limit) out.push({ width, at: e.points[off.indexOf(width)]! });
    }
  });
  return out.sort((a, b) => b.width - a.width);
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
function apart(kernel: Kernel, surfaces: readonly KernelBody[], within: number): Omit<StepFailure, 'what'> & { readonly gap?: number } {
  const [first, ...others] = surfaces;
  const gaps = others.flatMap((o) => distanceBetween(kernel, first!.shape, o.shape) ?? []);
  const worst = gaps.reduce<(typeof gaps)[0] | undefined>((a, b) => (a && a.distance >= b.distance ? a : b), undefined);
  if (worst && worst.distance > within)
    return {
      gap: worst.distance,
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
