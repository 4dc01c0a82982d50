/** Drawn curves as edges of the kernel, in the plane they lie on. */
import type { gp_Pnt, TopoDS_Edge, TopoDS_Wire } from 'replicad-opencascadejs';
import { type BSpline, interpolateCubic, knotMultiplicities } from '../core/curves/bspline';
import { directionIn, type Frame, toSpace } from '../core/curves/frame';
import { type SpaceCurve, spaceAt } from '../core/curves/path';
import { isWhole, type PlanarCurve, type Point2, pointAt } from '../core/curves/planar';
import { cross, type Vec3 } from '../core/geometry/vectors';
import type { Kernel, Scope, Shape } from './open';

export function makeEdge(kernel: Kernel, s: Scope, curve: PlanarCurve, frame: Frame): Shape {
  const point = (p: Point2) => s.keep(new kernel.gp_Pnt(...toSpace(frame, p)));
  switch (curve.kind) {
    case 'line':
      return s.keep(new kernel.BRepBuilderAPI_MakeEdge(point(curve.a), point(curve.b))).Edge();
    case 'arc': {
      if (isWhole(curve)) return ellipseEdge(kernel, s, { ...curve, u: { x: curve.radius, y: 0 }, v: { x: 0, y: curve.radius } }, frame);
      const arc = s.keep(new kernel.GC_MakeArcOfCircle(point(curve.a), point(pointAt(curve, 0.5)), point(curve.b)));
      return s.keep(new kernel.BRepBuilderAPI_MakeEdge(arc.Value())).Edge();
    }
    case 'ellipse':
      return ellipseEdge(kernel, s, curve, frame);
    case 'spline':
      return splineEdge(
        kernel,
        s,
        curve.spline,
        curve.spline.poles.map((p) => point({ x: p[0]!, y: p[1]! })),
      );
  }
}

/** @param poles of the spline, where they lie in space */
function splineEdge(kernel: Kernel, s: Scope, spline: BSpline, places: readonly gp_Pnt[]): TopoDS_Edge {
  const { values, counts } = knotMultiplicities(spline.knots);
  const poles = s.keep(new kernel.NCollection_Array1_gp_Pnt(1, places.length));
  for (const [i, p] of places.entries()) poles.SetValue(i + 1, p);
  const knots = s.keep(new kernel.NCollection_Array1_double(1, values.length));
  const mults = s.keep(new kernel.NCollection_Array1_int(1, values.length));
  values.forEach((k, i) => {
    knots.SetValue(i + 1, k);
    mults.SetValue(i + 1, counts[i]!);
  });
  const geometry = new kernel.Geom_BSplineCurve(poles, knots, mults, spline.degree, false);
  return s.keep(new kernel.BRepBuilderAPI_MakeEdge(geometry)).Edge();
}

/** Places a helix is drawn through: within 1e-6 of its radius a turn. */
const A_TURN = 64;

/** A curve in space as an edge; a helix as a spline through its places. */
export function spaceEdge(kernel: Kernel, s: Scope, curve: SpaceCurve): TopoDS_Edge {
  if (curve.kind === 'planar') return makeEdge(kernel, s, curve.curve, curve.frame) as TopoDS_Edge;
  let spline: BSpline;
  if (curve.kind === 'spline') spline = curve.spline;
  else {
    const n = Math.ceil(A_TURN * curve.turns);
    spline = interpolateCubic(Array.from({ length: n + 1 }, (_, i) => spaceAt(curve, i / n).p));
  }
  return splineEdge(
    kernel,
    s,
    spline,
    spline.poles.map((p) => s.keep(new kernel.gp_Pnt(p[0]!, p[1]!, p[2]!))),
  );
}

export interface Wire {
  readonly wire: TopoDS_Wire;
  /** Its edges, each with the curve it was drawn as. */
  readonly edges: readonly { readonly edge: TopoDS_Edge; readonly curve: string }[];
}

/** Curves end to end as a wire. Undefined where they do not hang together for the kernel. */
export function wireOf(
  kernel: Kernel,
  s: Scope,
  chain: readonly { readonly id: string; readonly curve: PlanarCurve }[],
  frame: Frame,
): Wire | undefined {
  const maker = s.keep(new kernel.BRepBuilderAPI_MakeWire());
  const edges: { edge: TopoDS_Edge; curve: string }[] = [];
  for (const c of chain) {
    maker.Add(makeEdge(kernel, s, c.curve, frame) as TopoDS_Edge);
    if (!maker.IsDone()) return undefined;
    edges.push({ edge: maker.Edge(), curve: c.id });
  }
  return { wire: maker.Wire(), edges };
}

type EllipseArc = Pick<Extract<PlanarCurve, { kind: 'ellipse' }>, 'centre' | 'u' | 'v' | 'start' | 'sweep'>;

function ellipseEdge(kernel: Kernel, s: Scope, e: EllipseArc, frame: Frame): Shape {
  const vector = (p: Point2): Vec3 => directionIn(frame, p);
  let [u, v, start, sweep] = [e.u, e.v, e.start, e.sweep];
  // The kernel wants the longer half-axis first …
  if (Math.hypot(u.x, u.y) < Math.hypot(v.x, v.y)) {
    [u, v] = [v, { x: -u.x, y: -u.y }];
    start -= Math.PI / 2;
  }
  const [a, b] = [Math.hypot(u.x, u.y), Math.hypot(v.x, v.y)];
  let normal = cross(vector(u), vector(v));
  // … and runs left about the normal.
  if (sweep < 0) {
    normal = [-normal[0], -normal[1], -normal[2]];
    start = -start;
    sweep = -sweep;
  }
  const centre = s.keep(new kernel.gp_Pnt(...toSpace(frame, e.centre)));
  const axes = s.keep(
    new kernel.gp_Ax2(centre, s.keep(new kernel.gp_Dir(...normal)), s.keep(new kernel.gp_Dir(...vector({ x: u.x / a, y: u.y / a })))),
  );
  if (a - b < 1e-9 * a) return s.keep(new kernel.BRepBuilderAPI_MakeEdge(s.keep(new kernel.gp_Circ(axes, a)), start, start + sweep)).Edge();
  return s.keep(new kernel.BRepBuilderAPI_MakeEdge(s.keep(new kernel.gp_Elips(axes, a, b)), start, start + sweep)).Edge();
}
