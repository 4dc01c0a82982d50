/** Steps on turned bodies, done in the half plane. Each gives undefined where the body is not turned or the half plane can't tell: then the kernel does it. */
import type { Frame } from '../core/curves/frame';
import { type Motion, movedFrame } from '../core/curves/motion';
import type { Vec3 } from '../core/geometry/vectors';
import type { CombineMode } from '../core/recipe/steps';
import { fail, ok, type Result } from '../core/result';
import { combined, piecesOfLoops } from '../core/turned/combine';
import { asMeridian, type Hollow, type HollowCurve, hollowOf, type Prepared, preparedOnce, prepareHollow } from '../core/turned/hollow';
import { type HollowLimits, hollowLimits } from '../core/turned/limits';
import { AXIS, curvesOf, drum, extentOf, type Meridian, placedMeridian, renamed, sweptVolume } from '../core/turned/meridian';
import { outwardWall } from '../core/turned/outward';
import { type Corner, cornerNear, type Softening, softened } from '../core/turned/soften';
import { widestBetween } from '../core/turned/walls';
import type { KernelBody } from './body';
import type { NamedEdge } from './names';
import type { Kernel } from './open';
import type { Turned } from './outlines';
import { edgeCurveEnds } from './refer';
import { aboutAxisOf, inHalfPlane, levelOn, onBody, turnMeridian } from './turned';

/** Bodies turned about one axis combined to one body; undefined also where they fall apart or nothing comes of it. */
export function turnedBoolean(
  kernel: Kernel,
  mode: CombineMode,
  target: KernelBody,
  tools: readonly KernelBody[],
  stepId: string,
): KernelBody | undefined {
  const { turned } = target;
  if (!turned) return undefined;
  let now = turned.meridian;
  for (const tool of tools) {
    const other = tool.turned && aboutAxisOf(turned.frame, tool.turned);
    if (!other) return undefined;
    const made = combined(now, other, mode);
    if (!made.ok || made.value.length !== 1) return undefined;
    now = made.value[0]!;
  }
  const volume = sweptVolume(curvesOf(now));
  // A cut that takes nothing away is told by the kernel, with how far apart the two are.
  if (mode === 'cut' && target.volume - volume <= 1e-9 * target.volume) return undefined;
  const done = turnMeridian(kernel, turned.frame, now, stepId);
  return done.ok ? done.value : undefined;
}

/** A body moved, mirrored or scaled evenly, turned anew where it comes to lie. */
export function turnedMoved(
  kernel: Kernel,
  body: KernelBody,
  motion: Motion,
  rename: ((name: string) => string) | undefined,
): KernelBody | undefined {
  const { turned } = body;
  if (!turned) return undefined;
  const { frame, scale } = movedFrame(motion, turned.frame);
  const meridian = placedMeridian(rename ? renamed(turned.meridian, rename) : turned.meridian, scale, 1, 0);
  // Face names are carried as they are: numbers that pieces have stay theirs.
  const done = turnMeridian(kernel, frame, meridian, '');
  return done.ok ? done.value : undefined;
}

/** A body parted by a plane square to its axis or by a body turned about it: the pieces on the first side, then those on the second. */
export function turnedParts(
  kernel: Kernel,
  body: KernelBody,
  by: { readonly plane: Frame } | { readonly tool: KernelBody },
  stepId: string,
): { readonly first: readonly KernelBody[]; readonly second: readonly KernelBody[] } | undefined {
  const { turned } = body;
  if (!turned) return undefined;
  const sides = 'plane' in by ? halves(turned, by.plane, stepId) : againstTool(turned, by.tool);
  if (!sides) return undefined;
  const made: KernelBody[][] = [];
  for (const side of sides) {
    const pieces: KernelBody[] = [];
    for (const m of side) {
      const done = turnMeridian(kernel, turned.frame, m, stepId);
      if (!done.ok) return undefined;
      pieces.push(done.value);
    }
    made.push(pieces.sort((a, b) => lowest(a) - lowest(b)));
  }
  return { first: made[0]!, second: made[1]! };
}

const lowest = (b: KernelBody): number => {
  const { low, high } = extentOf(curvesOf(b.turned!.meridian).flat());
  return onBody(b.turned!, 0, (low + high) / 2)[2];
};

function halves(turned: Turned, plane: Frame, stepId: string): [Meridian[], Meridian[]] | undefined {
  const level = levelOn(turned, plane);
  if (!level) return undefined;
  const { radius, low, high } = extentOf(curvesOf(turned.meridian).flat());
  const far = 2 * radius + 10;
  const cut = `${stepId}/cut`;
  const above = drum(far, level.height, Math.max(high, level.height) + far, [cut, cut, cut]);
  const below = drum(far, Math.min(low, level.height) - far, level.height, [cut, cut, cut]);
  const sides = [above, below].map((s) => combined(turned.meridian, s, 'common'));
  if (!sides.every((s) => s.ok)) return undefined;
  const [up, down] = sides.map((s) => (s.ok ? s.value : [])) as [Meridian[], Meridian[]];
  return level.up ? [up, down] : [down, up];
}

function againstTool(turned: Turned, tool: KernelBody): [Meridian[], Meridian[]] | undefined {
  const other = tool.turned && aboutAxisOf(turned.frame, tool.turned);
  if (!other) return undefined;
  const [outside, inside] = [combined(turned.meridian, other, 'cut'), combined(turned.meridian, other, 'common')];
  return outside.ok && inside.ok ? [outside.value, inside.value] : undefined;
}

// ── hollow

const readied = (turned: Turned, open: ReadonlySet<string>): Prepared =>
  preparedOnce(turned.meridian, open, () => prepareHollow(turned.meridian, (f) => open.has(f)));

/** The hollow in the half plane, without a kernel; an error where the wall leaves none or it could not be traced. */
export interface PlannedHollow {
  readonly hollow: Hollow;
  readonly body: readonly Meridian[];
}

const WHAT: Readonly<Record<HollowCurve['role'], (stepId: string, of: string) => string>> = {
  kept: (_, of) => of,
  rim: (id, of) => `${id}/rim(${of})`,
  inner: (id, of) => `${id}/inner(${of})`,
  corner: (id, of) => `${id}/inner(${of})`,
  axis: () => AXIS,
};

/** @param wall of each kept face, mm @returns undefined where it can't be told in the half plane; null where no cavity exists */
export function plannedHollow(
  turned: Turned,
  open: ReadonlySet<string>,
  wall: (face: string) => number,
  stepId: string,
): PlannedHollow | null | undefined {
  const made = hollowOf(readied(turned, open), wall);
  if (!made.ok) return undefined;
  const hollow = made.value;
  if (hollow.cavity.length === 0) return null;
  const { loops } = asMeridian(hollow.body, (c) => WHAT[c.role](stepId, c.of));
  return { hollow, body: piecesOfLoops(loops) };
}

/** How far a wall may go and from where on which face has no inside. */
export const turnedLimits = (turned: Turned, open: ReadonlySet<string>): HollowLimits => hollowLimits(readied(turned, open));

export interface TurnedHollow {
  readonly body: KernelBody;
  /** What the wall came out as: least as asked, most wherever it is, mm. */
  readonly most: number;
  readonly samples: number;
}

export function turnedHollow(
  kernel: Kernel,
  turned: Turned,
  open: ReadonlySet<string>,
  wall: (face: string) => number,
  stepId: string,
): Result<TurnedHollow, { readonly why: string; readonly at?: Vec3 }> | undefined {
  const plan = plannedHollow(turned, open, wall, stepId);
  if (plan === undefined) return undefined;
  if (plan === null) {
    const { largest } = turnedLimits(turned, open);
    return fail({ why: 'no cavity of that wall exists', at: onBody(turned, largest.x, largest.y) });
  }
  if (plan.body.length !== 1)
    return fail({ why: `what is left falls into ${plan.body.length} separate pieces: the faces that are open part it` });
  const done = turnMeridian(kernel, turned.frame, plan.body[0]!, stepId);
  if (!done.ok) return undefined;
  const inner = plan.hollow.cavity.flat().filter((c) => c.role === 'inner' || c.role === 'corner');
  const outer = readied(turned, open).sources.kept;
  const range = widestBetween(
    inner.map((c) => c.curve),
    outer.map((c) => c.curve),
  );
  return ok({ body: done.value, most: range.most, samples: range.samples });
}

/** A wall outside of a turned body; undefined where its half plane can't tell. */
export function turnedOutward(
  kernel: Kernel,
  turned: Turned,
  open: ReadonlySet<string>,
  wall: (face: string) => number,
  stepId: string,
): KernelBody | undefined {
  const made = outwardWall(
    turned.meridian,
    (f) => open.has(f),
    wall,
    (role, of) => WHAT[role](stepId, of),
  );
  if (!made?.ok || made.value.length !== 1) return undefined;
  const done = turnMeridian(kernel, turned.frame, made.value[0]!, stepId);
  return done.ok ? done.value : undefined;
}

// ── rounds and bevels

/** Corners of the meridian that edges are; undefined where one is none. */
function cornersOf(kernel: Kernel, turned: Turned, edges: readonly NamedEdge[]): Corner[] | undefined {
  const { frame, meridian } = turned;
  const out: Corner[] = [];
  for (const { edge } of edges) {
    const corner = cornerNear(meridian, inHalfPlane(frame, edgeCurveEnds(kernel, edge)[0]));
    if (!corner) return undefined;
    const l = meridian.loops[corner.loop]!;
    if (l[corner.index]!.face === AXIS || l[(corner.index + 1) % l.length]!.face === AXIS) return undefined;
    out.push(corner);
  }
  return out;
}

/** The meridian with edges softened; undefined where the body or an edge is not one of the half plane's. */
export function plannedSoftening(
  kernel: Kernel,
  body: KernelBody,
  edges: readonly NamedEdge[],
  how: (edge: NamedEdge, corner: Corner, turned: Turned) => Softening | undefined,
): Result<Meridian, { readonly why: string; readonly at: Vec3 }> | undefined {
  const { turned } = body;
  if (!turned) return undefined;
  const corners = cornersOf(kernel, turned, edges);
  if (!corners) return undefined;
  const list: Softening[] = [];
  for (const [i, e] of edges.entries()) {
    const s = how(e, corners[i]!, turned);
    if (!s) return undefined;
    list.push(s);
  }
  const made = softened(turned.meridian, list);
  if (made.ok) return made;
  const { loop, index } = corners[made.error.which]!;
  const p = turned.meridian.loops[loop]![index]!.curve.b;
  return fail({ why: made.error.why, at: onBody(turned, p.x, p.y) });
}
