/** The corner an edge makes between its two faces. */
import type { TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import { cross, dot, type Vec3 } from '../core/geometry/vectors';
import { type Kernel, scoped } from './open';
import { surfaceReader } from './shapes';

export interface Corner {
  readonly at: Vec3;
  /** Angle between the faces' outward normals in rad; 0 where they flow into each other. */
  readonly turn: number;
  readonly kind: 'convex' | 'concave' | 'smooth';
}

/** Below this turn an edge counts as smooth, rad. */
const SMOOTH = (1 * Math.PI) / 180;

/** Reads the corner at a share of the edge's length. Undefined where a surface is singular there. */
export function cornerAt(kernel: Kernel, edge: TopoDS_Edge, a: TopoDS_Face, b: TopoDS_Face, share = 0.5): Corner | undefined {
  return scoped((s) => {
    const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
    const t = curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter());
    const p = s.keep(new kernel.gp_Pnt());
    const d = s.keep(new kernel.gp_Vec());
    curve.D1(t, p, d);
    const len = d.Magnitude();
    if (!(len > 0)) return undefined;
    const normalOf = (face: TopoDS_Face): Vec3 | undefined => {
      const pcurve = s.keep(new kernel.BRepAdaptor_Curve2d(edge, face));
      const uv = s.keep(pcurve.Value(t));
      const reader = surfaceReader(kernel, face);
      const n = reader.at(uv.X(), uv.Y())?.normal;
      reader.dispose();
      return n;
    };
    const nA = normalOf(a);
    const nB = normalOf(b);
    if (!nA || !nB) return undefined;
    // The face lies to the left of its border, seen with its normal up.
    let sign = 1;
    const explorer = s.keep(new kernel.TopExp_Explorer(a, 'TopAbs_EDGE'));
    for (; explorer.More(); explorer.Next()) {
      const e = s.keep(explorer.Current());
      if (e.IsSame(edge)) {
        sign = e.Orientation() === 'TopAbs_REVERSED' ? -1 : 1;
        break;
      }
    }
    const along: Vec3 = [(sign * d.X()) / len, (sign * d.Y()) / len, (sign * d.Z()) / len];
    const intoA = cross(nA, along);
    const turn = Math.acos(Math.min(1, Math.max(-1, dot(nA, nB))));
    const rise = dot(intoA, nB);
    return { at: [p.X(), p.Y(), p.Z()], turn, kind: turn < SMOOTH ? 'smooth' : rise < 0 ? 'convex' : 'concave' };
  });
}
