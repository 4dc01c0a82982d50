/** Turns a half profile about the upright of its plane. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, heightOver, ORIGIN_PLANES, tilted, toSpace } from '../../core/curves/frame';
import { derivatives, type PlanarCurve, pointAt } from '../../core/curves/planar';
import { type ChainCurve, openLine } from '../../core/profile/chain';
import { findOutline, type Outline, turnedVolume } from '../../core/profile/outline';
import { fail, ok, type Result } from '../../core/result';
import { AXIS, meridianOf } from '../../core/turned/meridian';
import { asBody, asSurface, type KernelBody, type StepFailure } from '../body';
import { type Claim, nameFaces } from '../names';
import { attempt, type Kernel, type Shape, scoped } from '../open';
import { placedProfile } from '../placed';
import { sidesOf } from '../prism';
import { centreOf, distanceBetween, facesOf, vertexAt } from '../shapes';
import { verifySurface } from '../surface';
import { turnMeridian } from '../turned';
import { verifySolid } from '../verify';
import { makeEdge, wireOf } from '../wires';
import type { RaiserOf } from './raise';

/** The profile turned about the upright of its plane. */
export const raiseRevolve: RaiserOf<'revolve'> = (context, trial) => {
  const { kernel, step } = context;
  const inputs = step.inputs;
  const placed = placedProfile(context, inputs.profile);
  if (!placed.ok) return placed;
  const { profile, frame, resolved } = placed.value;
  if (!profile.half)
    return fail({
      what: `${profile.name} can't be turned`,
      why: 'it is not drawn as a half beside the axis',
      tryInstead: ['mark it as a half profile on the board'],
    });
  const angle = context.values.angle;
  const from = inputs.turn === 'both' && angle < 2 * Math.PI - 1e-9 ? tilted(frame, frame.origin, frame.y, -angle / 2) : frame;
  const line = inputs.mode === 'surface' ? openLine(resolved) : ok(undefined);
  if (line.ok && line.value) {
    const surface = turnLine(kernel, line.value, angle, step.id, from);
    if (surface.ok) return ok({ solids: [surface.value], words: profile.name });
    return fail({ what: `${profile.name} can't be turned`, why: surface.error, tryInstead: ['keep the line on one side of the axis'] });
  }
  const outline = findOutline(resolved, profile.name);
  if (!outline.ok) {
    const at = outline.error.at;
    return fail({
      what: `${profile.name} can't be turned`,
      why: outline.error.message,
      tryInstead: ['correct the place marked on the board'],
      ...(at ? { at: toSpace(frame, at) } : {}),
    });
  }
  // Two turned bodies whose seams coincide are the case the kernel gets wrong most: a full turn may start
  // anywhere, so its seam is put elsewhere, and elsewhere again if the result does not verify.
  const seam = trial >= 0 && angle > 2 * Math.PI - 1e-9 ? SEAMS[trial]! : 0;
  const turned = turn(kernel, outline.value, angle, step.id, seam, from);
  return turned.ok ? ok({ solids: [turned.value], words: profile.name }) : turned;
};

/** An open line turned to a surface, its area checked by Pappus. @returns an error in words */
function turnLine(kernel: Kernel, line: readonly ChainCurve[], angle: number, stepId: string, frame: Frame): Result<KernelBody> {
  const full = angle > 2 * Math.PI - 1e-9;
  const made = attempt(kernel, () =>
    scoped((s) => {
      const wire = wireOf(kernel, s, line, frame);
      if (!wire) return undefined;
      const axis = s.keep(new kernel.gp_Ax1(s.keep(new kernel.gp_Pnt(...frame.origin)), s.keep(new kernel.gp_Dir(...frame.y))));
      const maker = s.keep(
        full ? new kernel.BRepPrimAPI_MakeRevol(wire.wire, axis, false) : new kernel.BRepPrimAPI_MakeRevol(wire.wire, axis, angle, false),
      );
      if (!maker.IsDone()) return undefined;
      return { shape: maker.Shape(), claims: sidesOf(kernel, maker, wire.edges, stepId) };
    }),
  );
  if (!made.ok) return made;
  if (!made.value) return fail('the kernel could not turn it');
  // ∫ x ds by Simpson's rule on many stretches.
  const n = 400;
  let moment = 0;
  for (const { curve } of line) {
    const f = (t: number): number => Math.abs(pointAt(curve, t).x) * Math.hypot(derivatives(curve, t).d1.x, derivatives(curve, t).d1.y);
    for (let i = 0; i < n; i++) moment += (f(i / n) + 4 * f((i + 0.5) / n) + f((i + 1) / n)) / (6 * n);
  }
  const area = moment * angle;
  const verified = verifySurface(kernel, made.value.shape, [area * (1 - 1e-5), area * (1 + 1e-5)]);
  if (!verified.ok) return fail(verified.error.why);
  return ok(asSurface(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, stepId)));
}

export const SEAMS = [0.65, 2.3, 0];

/**
 * The turned solid alone, verified against Pappus's theorem, its faces named by profile curve.
 * @param seam how far the half plane it starts in is turned from the profile's own, rad
 * @param within share by which the kernel's volume may miss the theorem's
 */
export function turn(
  kernel: Kernel,
  outline: Outline,
  angle: number,
  stepId: string,
  seam = 0,
  frame: Frame = ORIGIN_PLANES.front,
  within = 1e-6,
): Result<KernelBody, StepFailure> {
  const start = tilted(frame, frame.origin, frame.y, seam);
  if (angle > 2 * Math.PI - 1e-9) {
    const named = outline.curves.map(({ id, curve }) => ({ curve, face: onAxis(curve) ? AXIS : `${stepId}/${id}` }));
    const whole = turnMeridian(kernel, start, meridianOf(named, outline.onAxis), stepId);
    if (whole.ok) return whole;
  }
  const cannot = (why: string): Result<never, StepFailure> =>
    fail({ what: 'the profile could not be turned', why, tryInstead: ['look for very short curves or sharp turns in the profile'] });
  const made = attempt(kernel, () =>
    scoped((s) => {
      const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
      for (const c of outline.curves) wire.Add(makeEdge(kernel, s, c.curve, start) as never);
      if (outline.onAxis) {
        const first = outline.curves[0]!.curve.a;
        const last = outline.curves[outline.curves.length - 1]!.curve.b;
        wire.Add(makeEdge(kernel, s, { kind: 'line', a: { x: 0, y: last.y }, b: { x: 0, y: first.y } }, start) as never);
      }
      if (!wire.IsDone()) return undefined;
      const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(wire.Wire(), true));
      if (!face.IsDone()) return undefined;
      const axis = s.keep(new kernel.gp_Ax1(s.keep(new kernel.gp_Pnt(...frame.origin)), s.keep(new kernel.gp_Dir(...frame.y))));
      const full = angle > 2 * Math.PI - 1e-9;
      const maker = s.keep(
        full
          ? new kernel.BRepPrimAPI_MakeRevol(face.Face(), axis, false)
          : new kernel.BRepPrimAPI_MakeRevol(face.Face(), axis, angle, false),
      );
      if (!maker.IsDone()) return undefined;
      const solid = kernel.TopoDS.Solid(maker.Shape());
      kernel.BRepLib.OrientClosedSolid(solid);
      return solid as Shape;
    }),
  );
  if (!made.ok) return cannot(made.error);
  if (!made.value) return cannot('the kernel could not close its outline');
  const expected = (turnedVolume(outline) * angle) / (2 * Math.PI);
  const verified = verifySolid(kernel, made.value, { simple: true, volume: [expected * (1 - within), expected * (1 + within)] });
  if (!verified.ok) return cannot(verified.error.why);
  return ok(asBody(verified.value, turnNames(kernel, verified.value.shape, outline, angle, stepId, start)));
}

/** What is drawn along the axis makes no face. */
const onAxis = (curve: PlanarCurve): boolean => [0, 0.3, 0.5, 1].every((t) => Math.abs(pointAt(curve, t).x) < 1e-7);

/** Finds each curve's face by its middle point, which works where the kernel's own history stays silent (flat ends on the axis). */
function turnNames(kernel: Kernel, shape: Shape, outline: Outline, angle: number, stepId: string, start: Frame): string[] {
  const faces = facesOf(kernel, shape);
  const claims: Claim[] = [];
  const claim = (p: readonly [number, number, number], name: string, open: TopoDS_Face[]): void => {
    const v = vertexAt(kernel, p);
    for (const f of open) {
      const d = distanceBetween(kernel, v, f);
      if (d && d.distance < 1e-5) {
        claims.push({ shape: f, name });
        open.splice(open.indexOf(f), 1);
        break;
      }
    }
    v.delete();
  };
  const open = [...faces];
  const half = tilted(start, start.origin, start.y, angle / 2);
  for (const { id, curve } of outline.curves) {
    const p = pointAt(curve, 0.5);
    if (Math.abs(p.x) < 1e-7) continue;
    claim(toSpace(half, p), `${stepId}/${id}`, open);
  }
  if (angle < 2 * Math.PI - 1e-9 && open.length === 2) {
    // What is left are the two flat ends; the first one lies in the profile's own plane.
    const [a, b] = open as [TopoDS_Face, TopoDS_Face];
    const off = (f: TopoDS_Face): number => Math.abs(heightOver(start, centreOf(kernel, f)));
    const aFirst = off(a) <= off(b);
    claims.push({ shape: aFirst ? a : b, name: `${stepId}/start` }, { shape: aFirst ? b : a, name: `${stepId}/end` });
  }
  return nameFaces(kernel, shape, claims, stepId);
}
