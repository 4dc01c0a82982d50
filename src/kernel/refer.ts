/** Places, lines and faces that planes are placed by, read off bodies and drawings. */
import type { TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import { type BSpline, evaluateBSpline, interpolateCubic } from '../core/curves/bspline';
import { type Frame, facing, fromWorldOrigin, toSpace } from '../core/curves/frame';
import { pathAlong, type SpaceCurve, type SpacePath, spaceAt, straightLine } from '../core/curves/path';
import { arcAbout, ellipseAbout, reverse } from '../core/curves/planar';
import { evaluateAs } from '../core/dimensions/expression';
import { along, distance, dot, minus, unit, type Vec3 } from '../core/geometry/vectors';
import { chainWith } from '../core/profile/chain';
import type { FaceRef } from '../core/recipe/names';
import type { BodyFace, PathRef, PlaceRef } from '../core/recipe/steps';
import { bodyWords, edgeWords, faceRefWords, faceWords, stepTitle } from '../core/recipe/words';
import { fail, ok, type Result } from '../core/result';
import { fixed } from '../core/units/units';
import { type KernelBody, type LostPick, type StepFailure, wanting } from './body';
import { namedEdges } from './names';
import { type Kernel, scoped } from './open';
import { placedProfile } from './placed';
import { type FoundFace, lostOn, selectEdges, selectFaces } from './select';
import { distanceBetween, surfaceReader, vertexAt, xyzOf } from './shapes';
import type { StepContext } from './steps/operation';

const lost = (what: string, why: string, tryInstead: readonly string[]): Result<never, StepFailure> => fail({ what, why, tryInstead });
const lostPick = (pick: { lost?: LostPick }, what: string, why: string, tryInstead: readonly string[]): Result<never, StepFailure> =>
  fail({ what, why, tryInstead, ...pick });

function bodyOf(context: StepContext, id: string): Result<KernelBody, StepFailure> {
  const body = context.bodies.get(id);
  if (body) return ok(body);
  return lost('what the plane is placed by is missing', `no earlier step makes ${bodyWords(id, context.project)}`, ['pick it again']);
}

export function faceOf(context: StepContext, ref: BodyFace): Result<TopoDS_Face, StepFailure> {
  const body = bodyOf(context, ref.body);
  if (!body.ok) return body;
  const found = selectFaces(context.kernel, body.value, [{ face: ref.face }]);
  if (found.ok) return ok(found.value[0]!.face);
  return lostPick(
    lostOn(ref.body, found.error),
    `${faceWords(ref.face, context.project)} is not on ${bodyWords(ref.body, context.project)}`,
    'an earlier change took the face away or gave it another name',
    found.error.candidates.map((c) => `pick ${faceWords(c, context.project)}`),
  );
}

export function edgeOf(context: StepContext, ref: { body: string; edge: string }): Result<TopoDS_Edge, StepFailure> {
  const body = bodyOf(context, ref.body);
  if (!body.ok) return body;
  const found = selectEdges(context.kernel, body.value, [{ edge: ref.edge }]);
  if (found.ok) return ok(found.value[0]!.edge);
  return lostPick(
    lostOn(ref.body, found.error),
    `${edgeWords(ref.edge, context.project)} is not on ${bodyWords(ref.body, context.project)}`,
    'an earlier change took the edge away or gave it another name',
    found.error.candidates.map((c) => `pick ${edgeWords(c, context.project)}`),
  );
}

/**
 * Faces a step picked on its body.
 * @param gone why it matters that one is gone
 * @param offer what is proposed with a face that may be meant; else `otherwise`
 */
export function pickedFaces(
  context: StepContext,
  bodyId: string,
  body: KernelBody,
  refs: readonly FaceRef[],
  words: { readonly gone: string; readonly offer?: (face: string) => string; readonly otherwise: string },
): Result<FoundFace[], StepFailure> {
  const { kernel, project } = context;
  const found = selectFaces(kernel, body, refs);
  if (found.ok) return found;
  const { ref } = found.error;
  // A rule that no face follows was never a face that is gone: nothing is wrong, something is still to be picked.
  if ('topOf' in ref || 'bottomOf' in ref) {
    const side = 'topOf' in ref ? 'top' : 'bottom';
    return wanting(`${bodyWords(bodyId, project)} has no level face at its ${side}`)('no other face was picked', words.otherwise);
  }
  const { offer } = words;
  const offers = offer ? found.error.candidates.map((c) => offer(faceWords(c, project))) : [];
  return lostPick(
    lostOn(bodyId, found.error),
    `the ${faceRefWords(found.error.ref as FaceRef, project)} no longer exists`,
    words.gone,
    offers.length > 0 ? offers : [words.otherwise],
  );
}

/** A flat face as a plane that looks out of the body. Undefined for a curved one. */
export function flatFrame(kernel: Kernel, face: TopoDS_Face): Frame | undefined {
  const surface = new kernel.BRepAdaptor_Surface(face, true);
  const flat = surface.GetType() === 'GeomAbs_Plane';
  surface.delete();
  if (!flat) return undefined;
  const reader = surfaceReader(kernel, face);
  const { u, v } = reader.range;
  const at = reader.at((u[0] + u[1]) / 2, (v[0] + v[1]) / 2);
  reader.dispose();
  return at && fromWorldOrigin(at.normal, at.point);
}

/** The parameters of a face where it is nearest to a place. */
export function nearestOn(kernel: Kernel, face: TopoDS_Face, near: Vec3): readonly [number, number] | undefined {
  return scoped((s) => {
    const v = s.keep(vertexAt(kernel, near));
    const hit = distanceBetween(kernel, face, v);
    if (!hit) return undefined;
    const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
    const on = s.keep(new kernel.gp_Pnt(...hit.onA));
    const projected = s.keep(new kernel.GeomAPI_ProjectPointOnSurf(on, s.keep(surface.GeomSurfaceTransformed())));
    if (projected.NbPoints() < 1) return undefined;
    const { U, V } = projected.LowerDistanceParameters(0, 0);
    return [U, V];
  });
}

/** The plane that touches a face where it is nearest to a place. */
export function touching(kernel: Kernel, face: TopoDS_Face, near: Vec3): Frame | undefined {
  const uv = nearestOn(kernel, face, near);
  if (!uv) return undefined;
  const reader = surfaceReader(kernel, face);
  const at = reader.at(...uv);
  reader.dispose();
  return at && facing(at.normal, at.point);
}

/** An edge as a curve in space, run from its lower end: the lower, then the left, then the nearer one. */
export function edgeCurve(kernel: Kernel, edge: TopoDS_Edge): SpaceCurve {
  return scoped((s): SpaceCurve => {
    const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
    const [t0, t1] = [curve.FirstParameter(), curve.LastParameter()];
    const p = s.keep(new kernel.gp_Pnt());
    const at = (t: number): Vec3 => {
      curve.D0(t, p);
      return [p.X(), p.Y(), p.Z()];
    };
    const [first, last] = [at(t0), at(t1)];
    const k = [2, 0, 1].find((i) => Math.abs(first[i]! - last[i]!) > 1e-6);
    const turned = k !== undefined && first[k]! > last[k]!;
    if (curve.GetType() === 'GeomAbs_Line') return turned ? straightLine(last, first) : straightLine(first, last);
    if (curve.GetType() === 'GeomAbs_Circle') {
      const circle = s.keep(curve.Circle());
      const axes = s.keep(circle.Position());
      const frame: Frame = { origin: xyzOf(axes.Location()), x: xyzOf(axes.XDirection()), y: xyzOf(axes.YDirection()) };
      const r = circle.Radius();
      return { kind: 'planar', frame, curve: turned ? arcAbout({ x: 0, y: 0 }, r, t1, t0 - t1) : arcAbout({ x: 0, y: 0 }, r, t0, t1 - t0) };
    }
    const [a, b] = turned ? [t1, t0] : [t0, t1];
    if (curve.GetType() === 'GeomAbs_Ellipse') {
      const ellipse = s.keep(curve.Ellipse());
      const axes = s.keep(ellipse.Position());
      const frame: Frame = { origin: xyzOf(axes.Location()), x: xyzOf(axes.XDirection()), y: xyzOf(axes.YDirection()) };
      const [u, v] = [
        { x: ellipse.MajorRadius(), y: 0 },
        { x: 0, y: ellipse.MinorRadius() },
      ];
      return { kind: 'planar', frame, curve: ellipseAbout({ x: 0, y: 0 }, u, v, a, b - a) };
    }
    const d = s.keep(new kernel.gp_Vec());
    return {
      kind: 'spline',
      spline: cubicThrough((x) => {
        curve.D1(a + x * (b - a), p, d);
        return { point: [p.X(), p.Y(), p.Z()], along: [(b - a) * d.X(), (b - a) * d.Y(), (b - a) * d.Z()] };
      }),
    };
  });
}

/** Off the exact curve by no more, mm: nobody measures that on what follows it. */
const AS_EXACT = 1e-6;

/** A cubic through as few places of a curve as keep to it. @param at place and derivative, 0…1 */
export function cubicThrough(at: (x: number) => { readonly point: Vec3; readonly along: Vec3 }): BSpline {
  for (let n = 8; ; n *= 2) {
    const places = Array.from({ length: n + 1 }, (_, i) => at(i / n));
    const points = places.map((q) => q.point);
    // By its chords it runs at an even pace, so that its ends only want their directions.
    const pace = points.slice(1).reduce((sum, q, i) => sum + distance(q, points[i]!), 0);
    const end = (k: number): Vec3 | undefined => {
      const way = unit(places[k]!.along);
      return way && (way.map((c) => c * pace) as unknown as Vec3);
    };
    const spline = interpolateCubic(points, end(0), end(n));
    const off = (i: number): number => {
      const { point } = at((i + 0.5) / n);
      const [knot, next] = [spline.knots[i + 3]!, spline.knots[i + 4]!];
      const [q, way] = evaluateBSpline(spline, (knot + next) / 2, 1) as unknown as [Vec3, Vec3];
      const by = minus(point, q);
      const w = unit(way);
      return Math.hypot(...(w ? along(by, w, -dot(by, w)) : by));
    };
    if (n >= 256 || Array.from({ length: n }, (_, i) => off(i)).every((mm) => mm < AS_EXACT)) return spline;
  }
}

/** The lower and the upper end of an edge, in the order of `edgeCurve`. */
export function edgeCurveEnds(kernel: Kernel, edge: TopoDS_Edge): readonly [Vec3, Vec3] {
  const c = edgeCurve(kernel, edge);
  return [spaceAt(c, 0).p, spaceAt(c, 1).p];
}

/** The same curve run the other way. */
function turnedRound(c: SpaceCurve): SpaceCurve {
  if (c.kind === 'planar') return { ...c, curve: reverse(c.curve) };
  if (c.kind === 'helix') {
    // A spline of many places stands for the helix run backwards.
    const n = Math.ceil(96 * c.turns) + 64;
    return { kind: 'spline', spline: interpolateCubic(Array.from({ length: n + 1 }, (_, i) => spaceAt(c, 1 - i / n).p)) };
  }
  return {
    kind: 'spline',
    spline: { degree: c.spline.degree, knots: [...c.spline.knots].reverse().map((k) => 1 - k), poles: [...c.spline.poles].reverse() },
  };
}

/** Ends that lie this near are one, mm. */
const END = 1e-4;
/** Edges that meet at less than this go on smoothly, rad. */
const SMOOTH = (0.5 * Math.PI) / 180;

/** Things that hang together by the ends of their curves, group by group. */
export function hangingTogether<T>(all: readonly T[], curveOf: (one: T) => SpaceCurve): T[][] {
  const ends = (one: T): Vec3[] => [0, 1].map((t) => spaceAt(curveOf(one), t).p);
  const meet = (a: T, b: T): boolean => ends(a).some((p) => ends(b).some((q) => distance(p, q) < END));
  const left = [...all];
  const out: T[][] = [];
  while (left.length > 0) {
    const group: T[] = [left.shift() as T];
    for (let i = 0; i < group.length; i++)
      for (let k = left.length - 1; k >= 0; k--) if (meet(group[i]!, left[k]!)) group.push(...left.splice(k, 1));
    out.push(group);
  }
  return out;
}

/** Curves that hang together put end to end, each turned as it is needed. Undefined where one does not touch the rest. */
export function chained(curves: readonly SpaceCurve[]): SpaceCurve[] | undefined {
  const left = [...curves];
  const chain = [left.shift()!];
  const near = (a: Vec3, b: Vec3): boolean => distance(a, b) < END;
  while (left.length > 0) {
    const [head, tail] = [spaceAt(chain[0]!, 0).p, spaceAt(chain[chain.length - 1]!, 1).p];
    const i = left.findIndex((c) => [0, 1].some((t) => near(spaceAt(c, t).p, tail) || near(spaceAt(c, t).p, head)));
    if (i < 0) return undefined;
    const c = left.splice(i, 1)[0]!;
    if (near(spaceAt(c, 0).p, tail)) chain.push(c);
    else if (near(spaceAt(c, 1).p, tail)) chain.push(turnedRound(c));
    else if (near(spaceAt(c, 1).p, head)) chain.unshift(c);
    else chain.unshift(turnedRound(c));
  }
  return chain;
}

/** An edge with all that go on from it without a corner. */
function smoothChain(kernel: Kernel, body: KernelBody, edge: TopoDS_Edge): SpaceCurve[] {
  const others = namedEdges(kernel, body)
    .filter((e) => e.name !== '' && !e.edge.IsSame(edge))
    .map((e) => edgeCurve(kernel, e.edge));
  let chain = [edgeCurve(kernel, edge)];
  const way = (c: SpaceCurve, t: number): Vec3 => unit(spaceAt(c, t).d1) ?? [0, 0, 1];
  for (let grown = true; grown; ) {
    grown = false;
    const [first, last] = [chain[0]!, chain[chain.length - 1]!];
    if (chain.length > 1 && distance(spaceAt(first, 0).p, spaceAt(last, 1).p) < END) break;
    for (const [i, c] of others.entries()) {
      const fits = (candidate: SpaceCurve, after: boolean): boolean => {
        const [a, b] = after ? [last, candidate] : [candidate, first];
        return distance(spaceAt(a, 1).p, spaceAt(b, 0).p) < END && Math.acos(Math.min(1, Math.max(-1, dot(way(a, 1), way(b, 0))))) < SMOOTH;
      };
      const back = turnedRound(c);
      const next = fits(c, true)
        ? [...chain, c]
        : fits(back, true)
          ? [...chain, back]
          : fits(c, false)
            ? [c, ...chain]
            : fits(back, false)
              ? [back, ...chain]
              : undefined;
      if (!next) continue;
      chain = next;
      others.splice(i, 1);
      grown = true;
      break;
    }
  }
  return chain;
}

/**
 * The curves a reference means.
 * @param whole with all that hangs together with a drawn curve, or goes on smoothly from an edge
 */
export function curvesOf(context: StepContext, ref: PathRef, whole: boolean): Result<SpaceCurve[], StepFailure> {
  if ('step' in ref) {
    const curves = context.paths.get(ref.step);
    if (curves) return ok([...curves]);
    return lost('the curve it follows is not there', `${stepTitle(ref.step, context.project)} draws no curve before this step`, [
      'choose another curve',
    ]);
  }
  if ('profile' in ref) {
    const placed = placedProfile(context, ref.profile);
    if (!placed.ok) return placed;
    const { frame, resolved, profile } = placed.value;
    const own = resolved.curves.find((c) => c.id === ref.curve);
    if (!own) return lost(`${profile.name} has no curve ${ref.curve} any more`, 'it was deleted', ['pick another line']);
    const chain = whole
      ? chainWith(
          resolved.curves.filter((c) => !c.construction || c.id === ref.curve),
          ref.curve,
        )
      : [own];
    return ok(chain.map(({ curve }) => ({ kind: 'planar', frame, curve })));
  }
  const edge = edgeOf(context, ref);
  if (!edge.ok) return edge;
  return ok(whole ? smoothChain(context.kernel, context.bodies.get(ref.body)!, edge.value) : [edgeCurve(context.kernel, edge.value)]);
}

export function pathOf(context: StepContext, ref: PathRef, whole = false): Result<SpacePath, StepFailure> {
  const curves = curvesOf(context, ref, whole);
  return curves.ok ? ok(pathAlong(curves.value)) : curves;
}

export function placeOf(context: StepContext, ref: PlaceRef): Result<Vec3, StepFailure> {
  if ('at' in ref) {
    const out: number[] = [];
    for (const [i, text] of ref.at.entries()) {
      const r = evaluateAs(text, 'length', context.scope);
      if (!r.ok) return lost('the place can’t be read', `${'xyz'[i]}: ${r.error}`, ['correct the coordinate']);
      if (Math.abs(r.value) > 1e5)
        return lost('the place is too far away', `${'xyz'[i]} is ${fixed(r.value, 0)} mm`, ['correct the coordinate']);
      out.push(r.value);
    }
    return ok(out as unknown as Vec3);
  }
  if ('profile' in ref) {
    const placed = placedProfile(context, ref.profile);
    if (!placed.ok) return placed;
    const p = placed.value.resolved.points.get(ref.point);
    if (!p) return lost(`${placed.value.profile.name} has no point ${ref.point} any more`, 'it was deleted', ['pick another place']);
    return ok(toSpace(placed.value.frame, p));
  }
  const path = pathOf(context, ref);
  if (!path.ok) return path;
  return ok(path.value.at(ref.end === 'low' ? 0 : ref.end === 'middle' ? 0.5 : 1).point);
}
