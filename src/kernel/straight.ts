/**
 * Bodies of constant section: an outline pushed straight, square to its plane. Such a body keeps its outline, so that walls and rounds of its upright
 * edges are worked out on it, exactly: between two parallel planes the nearest place of an upright side lies at the same height.
 */
import { type Frame, normalOf, shifted, toPlane, toSpace } from '../core/curves/frame';
import { type Motion, movedDirection, movedFrame } from '../core/curves/motion';
import type { PlanarCurve } from '../core/curves/planar';
import { distance, dot, type Vec3 } from '../core/geometry/vectors';
import type { OutlineCurve } from '../core/profile/outline';
import type { Region } from '../core/profile/regions';
import { fail, ok, type Result } from '../core/result';
import { piecesOfLoops } from '../core/turned/combine';
import { hollowOf, type Prepared, preparedOnce, prepareHollow } from '../core/turned/hollow';
import { hollowLimits, type Place } from '../core/turned/limits';
import { integrateAlong, type Loop, type Meridian, placedMeridian, renamed, reversedLoop, signedArea } from '../core/turned/meridian';
import { type Corner, cornerNear, type Softening, softened } from '../core/turned/soften';
import { asBody, type KernelBody, withNames } from './body';
import { booleanOf } from './boolean';
import { type NamedEdge, nameFaces } from './names';
import { attempt, type Kernel, scoped } from './open';
import type { Straight } from './outlines';
import { prismOf, regionFace } from './prism';
import { edgeCurveEnds } from './refer';
import { verifySolid } from './verify';

const areaOf = (m: Meridian): number => m.loops.reduce((sum, l) => sum + signedArea(l), 0);
/** Amounts of loops of a plane section: what the hollow's own checks add up. */
const flatAmount = (loops: readonly (readonly PlanarCurve[])[]): number =>
  integrateAlong(loops.flat(), (j) => (j[0]! * j[3]! - j[1]! * j[2]!) / 2);

/** What a pushed region is, where every one of its curves has a side of its own name. */
export function straightFrom(region: Region, frame: Frame, height: number, names: readonly string[], stepId: string): Straight | undefined {
  const once = (name: string): boolean => names.indexOf(name) >= 0 && names.indexOf(name) === names.lastIndexOf(name);
  const [start, end] = [`${stepId}/start`, `${stepId}/end`];
  const all = [region.outer, ...region.holes].flat();
  if (new Set(all.map((c) => c.id)).size !== all.length) return undefined;
  if (![start, end, ...all.map((c) => `${stepId}/${c.id}`)].every(once)) return undefined;
  const loop = (list: readonly OutlineCurve[], hole: boolean): Loop => {
    const named = list.map(({ id, curve }) => ({ curve, face: `${stepId}/${id}` }));
    return signedArea(named) > 0 === hole ? reversedLoop(named) : named;
  };
  return { frame, height, section: { loops: [loop(region.outer, false), ...region.holes.map((h) => loop(h, true))] }, start, end };
}

/** The same after a motion that keeps shapes alike; undefined for one that does not. */
export function straightMoved(s: Straight, motion: Motion, rename: (name: string) => string): Straight | undefined {
  const { frame, scale } = movedFrame(motion, s.frame);
  // A mirror image goes the other way along its own normal.
  const way = Math.sign(dot(movedDirection(motion, normalOf(s.frame)), normalOf(frame)));
  return {
    frame,
    height: way * scale * s.height,
    section: placedMeridian(renamed(s.section, rename), scale, 1, 0),
    start: rename(s.start),
    end: rename(s.end),
  };
}

const regionOf = (m: Meridian): Region => {
  const [outer, ...holes] = m.loops.map((l) => l.map((c): OutlineCurve => ({ id: c.face, curve: c.curve, reversed: false })));
  return { outer: outer!, holes, area: areaOf(m), centroid: { x: 0, y: 0 }, length: 0 };
};

/** A section pushed from one height over a frame to another, its faces under the names given. */
function pushedSection(
  kernel: Kernel,
  section: Meridian,
  frame: Frame,
  from: number,
  to: number,
  names: { readonly start: string; readonly end: string },
  stepId: string,
): Result<KernelBody> {
  const n = normalOf(frame);
  const push = to - from;
  const made = attempt(kernel, () =>
    scoped((s) => {
      const face = regionFace(kernel, s, regionOf(section), shifted(frame, from));
      return face && prismOf(kernel, s, face, [n[0] * push, n[1] * push, n[2] * push], '');
    }),
  );
  if (!made.ok) return made;
  if (!made.value) return fail('the kernel could not close its outline');
  const volume = areaOf(section) * Math.abs(push);
  const verified = verifySolid(kernel, made.value.shape, { simple: true, volume: [volume * (1 - 1e-6), volume * (1 + 1e-6)] });
  if (!verified.ok) return fail(verified.error.why);
  const claims = made.value.claims.map((c) => {
    const own = c.name.slice(1);
    return { ...c, name: own === 'start' ? names.start : own === 'end' ? names.end : own };
  });
  const faces = nameFaces(kernel, verified.value.shape, claims, stepId);
  return ok(asBody(verified.value, faces));
}

/** The body a section is pushed to; it stays one of constant section where its sides have names of their own. */
export function pushed(kernel: Kernel, s: Straight, section: Meridian, stepId: string): Result<KernelBody> {
  const made = pushedSection(kernel, section, s.frame, 0, s.height, s, stepId);
  if (!made.ok) return made;
  const sides = section.loops.flat().map((c) => c.face);
  const same = new Set(sides).size === sides.length && sides.every((f) => made.value.faces.includes(f));
  return ok(same ? { ...made.value, straight: { ...s, section } } : made.value);
}

// ── walls

const readied = (s: Straight, open: ReadonlySet<string>): Prepared =>
  preparedOnce(s.section, open, () => ({
    ...prepareHollow(s.section, (f) => open.has(f)),
    amount: flatAmount,
    volume: areaOf(s.section),
  }));

interface Planned {
  readonly cavity: readonly Meridian[];
  readonly body: readonly Meridian[];
  /** Heights the cavity lies between, along the push from the start. */
  readonly from: number;
  readonly to: number;
}

/** Where the cavity is; null where none exists, undefined where the section can't tell. @param wall of each kept face, mm */
export function plannedStraightHollow(
  s: Straight,
  open: ReadonlySet<string>,
  wall: (face: string) => number,
  stepId: string,
): Planned | null | undefined {
  const height = Math.abs(s.height);
  const from = open.has(s.start) ? 0 : wall(s.start);
  const to = height - (open.has(s.end) ? 0 : wall(s.end));
  if (to - from <= 1e-9) return null;
  const made = hollowOf(readied(s, open), wall);
  if (!made.ok) return undefined;
  if (made.value.cavity.length === 0) return null;
  const named = (loops: typeof made.value.body): Meridian[] =>
    piecesOfLoops(
      loops.map((l) =>
        l.map((c) => ({
          curve: c.curve,
          face: c.role === 'kept' ? c.of : c.role === 'rim' ? `${stepId}/rim(${c.of})` : `${stepId}/inner(${c.of})`,
        })),
      ),
    );
  return { cavity: named(made.value.cavity), body: named(made.value.body), from, to };
}

/** The largest wall there is, with the place where the inside is last, over the section's plane. */
export function straightLimit(s: Straight, open: ReadonlySet<string>): Place & { readonly at: Vec3 } {
  const { largest } = hollowLimits(readied(s, open));
  const height = Math.abs(s.height);
  const [low, high] = [open.has(s.start) ? 0 : 1, open.has(s.end) ? 0 : 1];
  const ends = low + high === 0 ? Number.POSITIVE_INFINITY : height / (low + high);
  const level = Math.sign(s.height) * (low === high ? height / 2 : low === 1 ? height : 0);
  const at = toSpace(shifted(s.frame, level), largest);
  return { value: Math.min(largest.value, ends), x: largest.x, y: largest.y, at };
}

/** How far a cavity's tool reaches through an open end, mm. */
const THROUGH = 1;

/** @returns undefined where the section can't tell */
export function straightHollow(
  kernel: Kernel,
  body: KernelBody,
  s: Straight,
  open: ReadonlySet<string>,
  wall: (face: string) => number,
  stepId: string,
): Result<KernelBody, { readonly why: string; readonly at?: Vec3 }> | undefined {
  const plan = plannedStraightHollow(s, open, wall, stepId);
  if (plan === undefined) return undefined;
  if (plan === null) return fail({ why: 'no cavity of that wall exists', at: straightLimit(s, open).at });
  const sidesOpen = s.section.loops.flat().some((c) => open.has(c.face));
  const bothEnds = open.has(s.start) && open.has(s.end);
  const rims = { ...s, start: `${stepId}/rim(${s.start})`, end: `${stepId}/rim(${s.end})` };
  if (bothEnds) {
    if (plan.body.length !== 1)
      return fail({ why: `what is left falls into ${plan.body.length} separate pieces: the faces that are open part it` });
    const made = pushed(kernel, rims, plan.body[0]!, stepId);
    return made.ok ? made : undefined;
  }
  if (sidesOpen) return undefined;
  const sign = Math.sign(s.height);
  const from = plan.from - (open.has(s.start) ? THROUGH : 0);
  const to = plan.to + (open.has(s.end) ? THROUGH : 0);
  const tools: KernelBody[] = [];
  const names = { start: `${stepId}/inner(${s.start})`, end: `${stepId}/inner(${s.end})` };
  for (const m of plan.cavity) {
    const tool = pushedSection(kernel, m, s.frame, sign * from, sign * to, names, stepId);
    if (!tool.ok) return undefined;
    tools.push(tool.value);
  }
  const cut = booleanOf(kernel, 'cut', body, tools, { target: 'the body', tool: 'its cavity' }, stepId);
  if (!cut.ok) return undefined;
  const wanted = body.volume - plan.cavity.reduce((sum, m) => sum + areaOf(m), 0) * (plan.to - plan.from);
  if (Math.abs(cut.value.volume - wanted) > 1e-6 * body.volume) return undefined;
  return ok(withNames(cut.value, (n) => (open.has(n) ? `${stepId}/rim(${n})` : n)));
}

// ── rounds and bevels of upright edges

/** A body with upright edges softened; undefined where an edge is not one of the section's corners. */
export function straightSoftening(
  kernel: Kernel,
  body: KernelBody,
  edges: readonly NamedEdge[],
  how: (edge: NamedEdge, corner: Corner, section: Meridian) => Softening | undefined,
): Result<Meridian, { readonly why: string; readonly at: Vec3 }> | undefined {
  const s = body.straight;
  if (!s) return undefined;
  const list: Softening[] = [];
  const places: Vec3[] = [];
  for (const e of edges) {
    const [a, b] = edgeCurveEnds(kernel, e.edge);
    const [p, q] = [toPlane(s.frame, a), toPlane(s.frame, b)];
    if (Math.hypot(p.x - q.x, p.y - q.y) > 1e-6 || distance(a, b) < 1e-6) return undefined;
    const corner = cornerNear(s.section, p);
    const one = corner && how(e, corner, s.section);
    if (!one) return undefined;
    list.push(one);
    places.push(a);
  }
  const made = softened(s.section, list, false);
  return made.ok ? made : fail({ why: made.error.why, at: places[made.error.which]! });
}
