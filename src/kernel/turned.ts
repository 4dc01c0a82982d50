/**
 * Bodies all of whose faces are turned about one axis, all round. Such a body keeps its meridian, so that what is done to it next is done in the
 * half plane, exactly, and the kernel only turns the outline that results.
 */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, toSpace } from '../core/curves/frame';
import type { PlanarCurve, Point2 } from '../core/curves/planar';
import { along, cross, dot, minus, type Vec3 } from '../core/geometry/vectors';
import { massProperties, openEdgeCount } from '../core/mesh/mesh';
import { fail, ok, type Result } from '../core/result';
import { touchesItself } from '../core/turned/combine';
import { Field, newNearest } from '../core/turned/field';
import { AXIS, curvesOf, extentOf, type Meridian, placedMeridian, skinOf, sweptArea, sweptVolume } from '../core/turned/meridian';
import type { KernelBody } from './body';
import { checking } from './clock';
import { type Claim, listOf, nameFaces } from './names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import type { Turned } from './outlines';
import { facesOf, solidsOf } from './shapes';
import { tessellate, weldedMesh } from './tessellate';
import { makeEdge } from './wires';

/** Axes nearer than this are one, mm. */
const ONE_AXIS = 1e-9;

/**
 * A meridian carried into the plane of another body that is turned about the same axis.
 * @returns undefined where the axes differ
 */
export function aboutAxisOf(to: Frame, from: Turned): Meridian | undefined {
  const way = dot(to.y, from.frame.y);
  if (Math.abs(Math.abs(way) - 1) > 1e-12) return undefined;
  const d = minus(from.frame.origin, to.origin);
  const lift = dot(d, to.y);
  if (Math.hypot(...minus(d, [lift * to.y[0], lift * to.y[1], lift * to.y[2]])) > ONE_AXIS) return undefined;
  return placedMeridian(from.meridian, 1, way > 0 ? 1 : -1, lift);
}

/** Both ends of the axis of a plane that lies square across it, as a height on it; undefined for other planes. */
export function levelOn(turned: Turned, plane: Frame): { height: number; up: boolean } | undefined {
  const n = cross(plane.x, plane.y);
  const way = dot(n, turned.frame.y);
  if (Math.abs(Math.abs(way) - 1) > 1e-12) return undefined;
  return { height: dot(minus(plane.origin, turned.frame.origin), turned.frame.y), up: way > 0 };
}

/** A place of the half plane, on the body. */
export const onBody = (t: Turned, x: number, y: number): Vec3 => toSpace(t.frame, { x, y });

/** Radius and height of a place about the axis. */
export function inHalfPlane(frame: Frame, place: Vec3): Point2 {
  const d = minus(place, frame.origin);
  const y = dot(d, frame.y);
  return { x: Math.hypot(...along(d, frame.y, -y)), y };
}

/**
 * The solid a meridian is turned to, its faces named and checked: as many faces as curves, closed, and of the volume that the outline sweeps. What is
 * exact by construction is not measured again.
 */
export function turnMeridian(kernel: Kernel, frame: Frame, meridian: Meridian, stepId: string): Result<KernelBody> {
  if (touchesItself(meridian)) return fail('it would touch itself along a circle');
  const made = attempt(kernel, () => scoped((s) => turnedSolid(kernel, s, frame, meridian)));
  if (!made.ok) return made;
  if (!made.value) return fail('the kernel could not turn its outline');
  const { shape, claims } = made.value;
  const skin = skinOf(meridian);
  const faces = facesOf(kernel, shape);
  if (faces.length !== skin.length) return fail('the turned skin has other faces than its outline has curves');
  const curves = curvesOf(meridian);
  const volume = sweptVolume(curves);
  const wrong = checking(() =>
    wrongWith(
      kernel,
      shape,
      skin.map((c) => c.curve),
      volume,
    ),
  );
  if (wrong) return fail(wrong);
  const own = assigned(kernel, frame, faces, skin, claims);
  if (!own) return fail('its faces could not be told apart');
  const names = nameFaces(
    kernel,
    shape,
    faces.map((f, i) => ({ shape: f as Shape, name: skin[own[i]!]!.face })),
    stepId,
  );
  // Where several curves go by one name their faces are numbered: the outline takes the same names.
  const named = new Map(own.map((c, i) => [skin[c]!, names[i]!]));
  const loops = meridian.loops.map((l) => l.map((c) => (c.face === AXIS ? c : { ...c, face: named.get(c)! })));
  return ok({ shape, faces: names, volume, turned: { frame, meridian: { loops } } });
}

function turnedSolid(kernel: Kernel, s: Scope, frame: Frame, meridian: Meridian): { shape: Shape; claims: Claim[] } | undefined {
  let face: TopoDS_Face | undefined;
  const edges: { edge: Shape; name: string }[] = [];
  for (const loop of meridian.loops) {
    const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
    for (const c of loop) {
      wire.Add(makeEdge(kernel, s, c.curve, frame) as never);
      if (!wire.IsDone()) return undefined;
      edges.push({ edge: wire.Edge(), name: c.face });
    }
    const maker = s.keep(
      face ? new kernel.BRepBuilderAPI_MakeFace(face, wire.Wire()) : new kernel.BRepBuilderAPI_MakeFace(wire.Wire(), true),
    );
    if (!maker.IsDone()) return undefined;
    face = maker.Face();
  }
  const axis = s.keep(new kernel.gp_Ax1(s.keep(new kernel.gp_Pnt(...frame.origin)), s.keep(new kernel.gp_Dir(...frame.y))));
  const maker = s.keep(new kernel.BRepPrimAPI_MakeRevol(face!, axis, false));
  if (!maker.IsDone()) return undefined;
  const claims = edges.flatMap((e) =>
    e.name === AXIS
      ? []
      : listOf(kernel, maker.Generated(e.edge)).flatMap((g) => (g.ShapeType() === 'TopAbs_FACE' ? [{ shape: g, name: e.name }] : [])),
  );
  const solid = solidsOf(kernel, maker.Shape())[0];
  if (!solid) return undefined;
  kernel.BRepLib.OrientClosedSolid(kernel.TopoDS.Solid(solid));
  return { shape: solid, claims };
}

/** Facets of the check turn by at most this, rad. */
const COARSE = 0.5;

/** The checks that building leaves: a closed skin whose facets enclose the volume as nearly as their distance from it allows. */
function wrongWith(kernel: Kernel, shape: Shape, curves: readonly PlanarCurve[], volume: number): string | undefined {
  const { radius, low, high } = extentOf(curves);
  const deflection = Math.hypot(2 * radius, high - low) / 200;
  const mesh = weldedMesh(tessellate(kernel, shape, deflection, COARSE));
  if (mesh.indices.length === 0 || openEdgeCount(mesh) > 0) return 'the turned skin is not closed';
  const off = Math.abs(massProperties(mesh).volume - volume);
  if (!(off <= 1.02 * deflection * sweptArea(curves))) return 'the turned skin does not enclose what its outline sweeps';
  return undefined;
}

/** The curve each face is turned from: by the builder's history, and where that is silent by where the face lies. */
function assigned(
  kernel: Kernel,
  frame: Frame,
  faces: readonly TopoDS_Face[],
  skin: readonly { readonly curve: PlanarCurve; readonly face: string }[],
  claims: readonly Claim[],
): number[] | undefined {
  const out = new Array<number>(faces.length).fill(-1);
  const free = new Set(skin.map((_, i) => i));
  const names = skin.map((c) => c.face);
  faces.forEach((f, i) => {
    const claim = claims.find((c) => c.shape.IsSame(f));
    const mine = claim ? names.indexOf(claim.name) : -1;
    if (claim && mine >= 0 && names.lastIndexOf(claim.name) === mine && free.delete(mine)) out[i] = mine;
  });
  const left = faces.flatMap((_, i) => (out[i]! < 0 ? [i] : []));
  if (left.length === 0) return out;
  // Corners of a face's facets lie on its curve: of the curves left the one they all lie on.
  const near = newNearest();
  const fits = left.map((i) => {
    const { positions: p } = tessellate(kernel, faces[i]!, 1e3, COARSE);
    return [...free].map((k) => {
      const field = new Field([skin[k]!.curve]);
      let worst = 0;
      for (let v = 0; v < p.length; v += 3) {
        const { x, y } = inHalfPlane(frame, [p[v]!, p[v + 1]!, p[v + 2]!]);
        field.nearest(x, y, near);
        worst = Math.max(worst, near.distance);
      }
      return { i, k, worst };
    });
  });
  for (const { i, k } of fits.flat().sort((a, b) => a.worst - b.worst)) {
    if (out[i]! >= 0 || !free.has(k)) continue;
    out[i] = k;
    free.delete(k);
  }
  return out.every((k) => k >= 0) ? out : undefined;
}
