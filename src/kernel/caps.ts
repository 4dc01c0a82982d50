/** Caps on the borders of a surface: flat, flattened within a tolerance, or patches that follow the border. */
import type { TopoDS_Edge } from 'replicad-opencascadejs';
import { interpolateCubic } from '../core/curves/bspline';
import { type Frame, toPlane } from '../core/curves/frame';
import type { PlanarCurve } from '../core/curves/planar';
import type { Vec3 } from '../core/geometry/vectors';
import { membrane } from '../core/surfaces/membrane';
import type { Kernel, Scope, Shape } from './open';
import { planeAt } from './shapes';
import { kernelSurface } from './skin';
import { type BorderEdge, planeAlong } from './surface';
import { makeEdge } from './wires';

/** A flat face within edges that close a border. Undefined where the kernel makes none. @param plane it lies in, where that is known */
export function flatFace(kernel: Kernel, s: Scope, edges: readonly TopoDS_Edge[], plane?: Frame): Shape | undefined {
  const list = s.keep(new kernel.NCollection_List_TopoDS_Shape());
  for (const e of edges) list.Append(e);
  const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
  wire.Add(list);
  if (!wire.IsDone()) return undefined;
  const face = s.keep(
    plane
      ? new kernel.BRepBuilderAPI_MakeFace(planeAt(kernel, s, plane), wire.Wire(), true)
      : new kernel.BRepBuilderAPI_MakeFace(wire.Wire(), true),
  );
  return face.IsDone() ? face.Face() : undefined;
}

/** A flat cap within a border that is flat. Undefined where the kernel makes none. */
export const flatCap = (kernel: Kernel, s: Scope, border: readonly BorderEdge[]): Shape | undefined =>
  flatFace(
    kernel,
    s,
    border.map((l) => l.edge),
  );

/** A flat cap within a border dropped onto the plane that fits it best. */
export function flattenedCap(kernel: Kernel, s: Scope, border: readonly BorderEdge[]): Shape | undefined {
  const { frame } = planeAlong(border);
  const edges = border.map(({ points }) => {
    const flat = points.map((p) => toPlane(frame, p));
    const curve: PlanarCurve = {
      kind: 'spline',
      a: flat[0]!,
      b: flat[flat.length - 1]!,
      spline: interpolateCubic(flat.map((p) => [p.x, p.y])),
    };
    return makeEdge(kernel, s, curve, frame) as TopoDS_Edge;
  });
  return flatFace(kernel, s, edges);
}

/** Patches over a border, one for each of its edges, that meet in its middle. Undefined where the kernel makes no faces of them. */
export function patchCaps(kernel: Kernel, s: Scope, border: readonly BorderEdge[]): Shape[] | undefined {
  const pieces = border.map(({ edge, reversed, length }) => {
    const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
    const [a, b] = [curve.FirstParameter(), curve.LastParameter()];
    const p = s.keep(new kernel.gp_Pnt());
    return {
      length,
      at: (share: number): Vec3 => {
        curve.D0(a + (b - a) * (reversed ? 1 - share : share), p);
        return [p.X(), p.Y(), p.Z()];
      },
    };
  });
  const faces = membrane(pieces).map((surface) => s.keep(new kernel.BRepBuilderAPI_MakeFace(kernelSurface(kernel, s, surface), 1e-7)));
  return faces.every((f) => f.IsDone()) ? faces.map((f) => f.Face()) : undefined;
}
