/** Turns a half profile about the z axis: new body, joined, or cut. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { knotMultiplicities } from '../../core/curves/bspline';
import { type PlanarCurve, type Point2, pointAt } from '../../core/curves/planar';
import { diagonal } from '../../core/mesh/mesh';
import { findOutline, type Outline, turnedVolume } from '../../core/profile/outline';
import { resolveProfile } from '../../core/profile/resolve';
import type { RevolveInputs } from '../../core/recipe/steps';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import type { KernelBody, StepFailure } from '../body';
import { type Claim, inherit, nameFaces } from '../names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from '../open';
import { distanceBetween, facesOf, roughBounds, vertexAt } from '../shapes';
import { type Verified, verifySolid } from '../verify';
import type { StepContext, StepOutcome } from './operation';

export function revolve(context: StepContext): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs as RevolveInputs;
  const profile = project.profiles.find((p) => p.id === inputs.profile);
  if (!profile) return fail({ what: 'nothing to revolve', why: 'its profile was deleted', tryInstead: ['choose another profile'] });
  const resolved = resolveProfile(profile, context.scope);
  if (!resolved.ok)
    return fail({ what: `${profile.name} can't be drawn`, why: resolved.error.message, tryInstead: ['correct the value on the board'] });
  const outline = findOutline(resolved.value, profile.name);
  if (!outline.ok) {
    const at = outline.error.at;
    return fail({
      what: `${profile.name} can't be turned`,
      why: outline.error.message,
      tryInstead: ['correct the place marked on the board'],
      ...(at ? { at: [at.x, 0, at.y] as const } : {}),
    });
  }
  const angle = context.values.angle!;
  if (inputs.mode === 'new') {
    const turned = turn(kernel, outline.value, angle, step.id);
    return turned.ok ? ok({ body: step.id, result: turned.value, volumeChange: turned.value.volume, warnings: [] }) : turned;
  }
  const target = inputs.body ? context.bodies.get(inputs.body) : undefined;
  if (!target)
    return fail({
      what: `${profile.name} has nothing to be ${inputs.mode === 'join' ? 'joined to' : 'cut from'}`,
      why: 'the body it names is not made by an earlier step',
      tryInstead: ['choose a body', 'make it a new body'],
    });
  // Two turned bodies whose seams coincide are the case the kernel gets wrong most: a full turn may start
  // anywhere, so its seam is put elsewhere, and elsewhere again if the result does not verify.
  const seams = angle > 2 * Math.PI - 1e-9 ? SEAMS : [0];
  let last: StepOutcome | undefined;
  for (const seam of seams) {
    const turned = turn(kernel, outline.value, angle, step.id, seam);
    if (!turned.ok) return turned;
    last = combine(context, inputs.mode, target, turned.value, profile.name);
    if (last.ok) return last;
  }
  return last!;
}

const SEAMS = [0.65, 2.3, 0];

/** @param seam angle of the half plane the profile stands in, rad */
function makeEdge(kernel: Kernel, s: Scope, curve: PlanarCurve, seam: number): Shape {
  const [c, w] = [Math.cos(seam), Math.sin(seam)];
  const point = (p: Point2) => s.keep(new kernel.gp_Pnt(p.x * c, p.x * w, p.y));
  switch (curve.kind) {
    case 'line':
      return s.keep(new kernel.BRepBuilderAPI_MakeEdge(point(curve.a), point(curve.b))).Edge();
    case 'arc': {
      const arc = s.keep(new kernel.GC_MakeArcOfCircle(point(curve.a), point(pointAt(curve, 0.5)), point(curve.b)));
      return s.keep(new kernel.BRepBuilderAPI_MakeEdge(arc.Value())).Edge();
    }
    case 'spline': {
      const { spline } = curve;
      const { values, counts } = knotMultiplicities(spline.knots);
      const poles = s.keep(new kernel.NCollection_Array1_gp_Pnt(1, spline.poles.length));
      for (const [i, p] of spline.poles.entries()) poles.SetValue(i + 1, point({ x: p[0]!, y: p[1]! }));
      const knots = s.keep(new kernel.NCollection_Array1_double(1, values.length));
      const mults = s.keep(new kernel.NCollection_Array1_int(1, values.length));
      values.forEach((k, i) => {
        knots.SetValue(i + 1, k);
        mults.SetValue(i + 1, counts[i]!);
      });
      const geometry = new kernel.Geom_BSplineCurve(poles, knots, mults, spline.degree, false);
      return s.keep(new kernel.BRepBuilderAPI_MakeEdge(geometry)).Edge();
    }
  }
}

/** The turned solid alone, verified against Pappus's theorem, its faces named by profile curve. */
export function turn(kernel: Kernel, outline: Outline, angle: number, stepId: string, seam = 0): Result<KernelBody, StepFailure> {
  const cannot = (why: string): Result<never, StepFailure> =>
    fail({ what: 'the profile could not be turned', why, tryInstead: ['look for very short curves or sharp turns in the profile'] });
  const made = attempt(kernel, () =>
    scoped((s) => {
      const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
      for (const c of outline.curves) wire.Add(makeEdge(kernel, s, c.curve, seam) as never);
      if (outline.onAxis) {
        const first = outline.curves[0]!.curve.a;
        const last = outline.curves[outline.curves.length - 1]!.curve.b;
        wire.Add(makeEdge(kernel, s, { kind: 'line', a: { x: 0, y: last.y }, b: { x: 0, y: first.y } }, seam) as never);
      }
      if (!wire.IsDone()) return undefined;
      const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(wire.Wire(), true));
      if (!face.IsDone()) return undefined;
      const axis = s.keep(new kernel.gp_Ax1(s.keep(new kernel.gp_Pnt(0, 0, 0)), s.keep(new kernel.gp_Dir(0, 0, 1))));
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
  const verified = verifySolid(kernel, made.value, {
    volume: [expected * (1 - 1e-6), expected * (1 + 1e-6)],
    deflection: displayDeflection(kernel, made.value),
  });
  if (!verified.ok) return cannot(verified.error.why);
  return ok(asBody(verified.value, turnNames(kernel, verified.value.shape, outline, angle, stepId, seam)));
}

export const displayDeflection = (kernel: Kernel, shape: Shape): number => Math.max(1e-3, diagonal(roughBounds(kernel, shape)) / 1500);

export const asBody = (v: Verified, faces: readonly string[]): KernelBody => ({ shape: v.shape, faces, volume: v.volume, mesh: v.mesh });

/** Finds each curve's face by its middle point, which works where the kernel's own history stays silent (flat ends on the axis). */
function turnNames(kernel: Kernel, shape: Shape, outline: Outline, angle: number, stepId: string, seam: number): string[] {
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
  const w = seam + angle / 2;
  for (const { id, curve } of outline.curves) {
    const p = pointAt(curve, 0.5);
    if (Math.abs(p.x) < 1e-7) continue;
    claim([p.x * Math.cos(w), p.x * Math.sin(w), p.y], `${stepId}/${id}`, open);
  }
  if (angle < 2 * Math.PI - 1e-9 && open.length === 2) {
    // What is left are the two flat ends; the first one lies in the profile's own plane.
    const [a, b] = open as [TopoDS_Face, TopoDS_Face];
    const flatY = (f: TopoDS_Face): number => {
      const bb = roughBounds(kernel, f);
      return Math.max(Math.abs(bb.min[1]), Math.abs(bb.max[1]));
    };
    const aFirst = flatY(a) <= flatY(b);
    claims.push({ shape: aFirst ? a : b, name: `${stepId}/start` }, { shape: aFirst ? b : a, name: `${stepId}/end` });
  }
  return nameFaces(kernel, shape, claims, stepId);
}

/** Union or difference of two verified bodies, itself verified. */
function combine(context: StepContext, mode: 'join' | 'cut', target: KernelBody, tool: KernelBody, profileName: string): StepOutcome {
  const { kernel, project, step } = context;
  const bodyId = (step.inputs as RevolveInputs).body!;
  const bodyName = bodyWords(bodyId, project);
  const gap = distanceBetween(kernel, target.shape, tool.shape);
  if (gap && gap.distance > 1e-6) {
    if (mode === 'join')
      return fail({
        what: `${profileName} does not touch ${bodyName}`,
        why: `there is a gap of ${gap.distance.toFixed(2)} mm between them`,
        tryInstead: [`let the profile overlap ${bodyName}`, 'make it a new body'],
        at: gap.onA,
      });
    return fail({
      what: `${profileName} cuts nothing from ${bodyName}`,
      why: `it lies ${gap.distance.toFixed(2)} mm away from it`,
      tryInstead: ['move the profile into the body'],
      at: gap.onA,
    });
  }
  const what = `${profileName} could not be ${mode === 'join' ? `joined to` : 'cut from'} ${bodyName}`;
  const made = attempt(kernel, () =>
    scoped((s) => {
      const args = s.keep(new kernel.NCollection_List_TopoDS_Shape());
      args.Append(target.shape);
      const tools = s.keep(new kernel.NCollection_List_TopoDS_Shape());
      tools.Append(tool.shape);
      const op = mode === 'join' ? new kernel.BRepAlgoAPI_Fuse() : new kernel.BRepAlgoAPI_Cut();
      s.keep(op);
      op.SetArguments(args);
      op.SetTools(tools);
      op.SetNonDestructive(true);
      op.Build();
      if (!op.IsDone()) return undefined;
      const shape = op.Shape();
      const claims = [
        ...inherit(kernel, op, facesOf(kernel, target.shape), target.faces),
        ...inherit(kernel, op, facesOf(kernel, tool.shape), tool.faces),
      ];
      return { shape, names: (v: Shape) => nameFaces(kernel, v, claims, step.id) };
    }),
  );
  if (!made.ok)
    return fail({ what, why: made.error, tryInstead: ['move one of them a little, so that faces do not just graze each other'] });
  if (!made.value) return fail({ what, why: 'the kernel could not compute the intersection', tryInstead: ['move one of them a little'] });
  const [a, b] = [target.volume, tool.volume];
  const box = roughBounds(kernel, target.shape);
  const toolBox = roughBounds(kernel, tool.shape);
  const slack = 1e-6 * (a + b);
  const inside =
    mode === 'cut'
      ? box
      : {
          min: box.min.map((m, k) => Math.min(m, toolBox.min[k]!)) as [number, number, number],
          max: box.max.map((m, k) => Math.max(m, toolBox.max[k]!)) as [number, number, number],
        };
  const verified = verifySolid(kernel, made.value.shape, {
    volume: mode === 'join' ? [Math.max(a, b) - slack, a + b + slack] : [Math.max(0, a - b - slack), a + slack],
    inside,
    deflection: displayDeflection(kernel, target.shape),
  });
  if (!verified.ok)
    return fail({
      what,
      why: verified.error.why,
      tryInstead: [mode === 'cut' ? 'keep the cut inside the body, or make it smaller' : 'let the two overlap more clearly'],
    });
  const change = verified.value.volume - a;
  const warnings =
    Math.abs(change) < 1e-6 * a
      ? [{ message: mode === 'join' ? `${profileName} lies wholly inside ${bodyName} and adds nothing` : `${profileName} removes nothing` }]
      : [];
  return ok({ body: bodyId, result: asBody(verified.value, made.value.names(verified.value.shape)), volumeChange: change, warnings });
}
