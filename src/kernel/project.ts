/** Edges of bodies dropped onto a plane, square to it, as plane curves. */
import type { BRepAdaptor_Curve, TopoDS_Edge } from 'replicad-opencascadejs';
import { fitPlanar } from '../core/curves/fit';
import { type Frame, toPlane } from '../core/curves/frame';
import { arcAbout, distance2, ellipseAbout, type PlanarCurve, type Point2 } from '../core/curves/planar';
import { type Kernel, scoped } from './open';

/** Largest deviation of a dropped curve that has no exact form here, mm. */
const DROP_TOLERANCE = 1e-6;
/** Shorter than this a curve is a point, mm. */
const NOTHING = 1e-6;

type Xyz = { X(): number; Y(): number; Z(): number };

/** Undefined where the edge is seen end on, as a point. */
export function dropEdge(kernel: Kernel, edge: TopoDS_Edge, frame: Frame): PlanarCurve | undefined {
  return scoped((s) => {
    const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
    const [t0, t1] = [curve.FirstParameter(), curve.LastParameter()];
    const drop = (p: Xyz): Point2 => toPlane(frame, [p.X(), p.Y(), p.Z()]);
    const way = (p: Xyz): Point2 => toPlane({ ...frame, origin: [0, 0, 0] }, [p.X(), p.Y(), p.Z()]);
    const p = s.keep(new kernel.gp_Pnt());
    const at = (t: number): Point2 => {
      curve.D0(t, p);
      return drop(p);
    };
    switch (curve.GetType()) {
      case 'GeomAbs_Line': {
        const [a, b] = [at(t0), at(t1)];
        return distance2(a, b) < NOTHING ? undefined : { kind: 'line', a, b };
      }
      case 'GeomAbs_Circle':
      case 'GeomAbs_Ellipse': {
        const conic = s.keep(curve.GetType() === 'GeomAbs_Circle' ? curve.Circle() : curve.Ellipse());
        const axes = s.keep(conic.Position());
        const [major, minor] = 'Radius' in conic ? [conic.Radius(), conic.Radius()] : [conic.MajorRadius(), conic.MinorRadius()];
        const scaled = (d: Xyz, k: number): Point2 => {
          const w = way(d);
          return { x: w.x * k, y: w.y * k };
        };
        return dropConic(drop(axes.Location()), scaled(axes.XDirection(), major), scaled(axes.YDirection(), minor), t0, t1 - t0);
      }
      default:
        return droppedSpline(kernel, curve, drop) ?? fitPlanar((t) => at(t0 + t * (t1 - t0)), DROP_TOLERANCE)?.curve;
    }
  });
}

/** C + u cos t + v sin t with any two vectors: an ellipse by its own half-axes, an arc, or the stretch it shrinks to. */
export function dropConic(centre: Point2, u: Point2, v: Point2, start: number, sweep: number): PlanarCurve | undefined {
  // Turning the parameter by φ makes the two vectors square to each other.
  const phi = Math.atan2(2 * (u.x * v.x + u.y * v.y), u.x * u.x + u.y * u.y - v.x * v.x - v.y * v.y) / 2;
  const [c, s] = [Math.cos(phi), Math.sin(phi)];
  const big = { x: u.x * c + v.x * s, y: u.y * c + v.y * s };
  const small = { x: v.x * c - u.x * s, y: v.y * c - u.y * s };
  const [a, b] = [Math.hypot(big.x, big.y), Math.hypot(small.x, small.y)];
  const from = start - phi;
  if (a < NOTHING) return undefined;
  if (b < NOTHING) {
    // Seen from its edge it runs to and fro along one line.
    const turns = [from, from + sweep];
    const lo = Math.min(from, from + sweep);
    for (let k = Math.ceil(lo / Math.PI); k * Math.PI < Math.max(from, from + sweep); k++) turns.push(k * Math.PI);
    const reach = turns.map(Math.cos);
    const [min, max] = [Math.min(...reach), Math.max(...reach)];
    const on = (k: number): Point2 => ({ x: centre.x + k * big.x, y: centre.y + k * big.y });
    return (max - min) * a < NOTHING ? undefined : { kind: 'line', a: on(min), b: on(max) };
  }
  const sense = Math.sign(big.x * small.y - big.y * small.x);
  if (Math.abs(a - b) < 1e-9 * a) return arcAbout(centre, a, Math.atan2(big.y, big.x) + sense * from, sense * sweep);
  return ellipseAbout(centre, big, small, from, sweep);
}

/** A plain B-spline keeps its form: its poles are dropped. Undefined for a rational one. */
function droppedSpline(kernel: Kernel, curve: BRepAdaptor_Curve, drop: (p: Xyz) => Point2): PlanarCurve | undefined {
  if (curve.GetType() !== 'GeomAbs_BSplineCurve' || curve.IsRational()) return undefined;
  return scoped((s) => {
    const spline = s.keep(new kernel.Geom_BSplineCurve(s.keep(curve.BSpline())));
    const [t0, t1] = [curve.FirstParameter(), curve.LastParameter()];
    // One that was closed on itself goes on beyond its ends until it is cut off there.
    const closed = spline.IsPeriodic();
    if (closed) spline.SetNotPeriodic();
    if (closed || t0 > spline.FirstParameter() + 1e-12 || t1 < spline.LastParameter() - 1e-12) spline.Segment(t0, t1);
    const knots: number[] = [];
    for (let i = 1; i <= spline.NbKnots(); i++)
      for (let k = 0; k < spline.Multiplicity(i); k++)
        knots.push((spline.Knot(i) - spline.Knot(1)) / (spline.Knot(spline.NbKnots()) - spline.Knot(1)));
    const poles: number[][] = [];
    for (let i = 1; i <= spline.NbPoles(); i++) {
      const q = drop(s.keep(spline.Pole(i)));
      poles.push([q.x, q.y]);
    }
    const [a, b] = [poles[0]!, poles[poles.length - 1]!];
    if (poles.every((q) => Math.hypot(q[0]! - a[0]!, q[1]! - a[1]!) < NOTHING)) return undefined;
    // Dropped along its own plane it becomes straight.
    const far = poles.reduce((m, q) => (Math.hypot(q[0]! - a[0]!, q[1]! - a[1]!) > Math.hypot(m[0]! - a[0]!, m[1]! - a[1]!) ? q : m));
    const l = Math.hypot(far[0]! - a[0]!, far[1]! - a[1]!);
    const [ux, uy] = [(far[0]! - a[0]!) / l, (far[1]! - a[1]!) / l];
    if (poles.every((q) => Math.abs((q[0]! - a[0]!) * -uy + (q[1]! - a[1]!) * ux) < 1e-9 * l + 1e-10)) {
      const reach = poles.map((q) => (q[0]! - a[0]!) * ux + (q[1]! - a[1]!) * uy);
      // Only where it does not turn back on itself do its ends tell how far it goes.
      if (reach.every((r, i) => i === 0 || r >= reach[i - 1]! - 1e-12))
        return { kind: 'line' as const, a: { x: a[0]!, y: a[1]! }, b: { x: b[0]!, y: b[1]! } };
    }
    return {
      kind: 'spline' as const,
      a: { x: a[0]!, y: a[1]! },
      b: { x: b[0]!, y: b[1]! },
      spline: { degree: spline.Degree(), knots, poles },
    };
  });
}
