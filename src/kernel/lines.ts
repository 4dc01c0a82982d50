/** Lines of bodies as curves in space: where a plane cuts them, where two faces meet, and along a face's own surface; and pieces of curves. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import type { Frame } from '../core/curves/frame';
import { arcInSpace, pathAlong, type SpaceCurve, type SpacePath, straightLine } from '../core/curves/path';
import { distance, type Vec3 } from '../core/geometry/vectors';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import { chained, cubicThrough, edgeCurve, hangingTogether } from './refer';
import { distanceBetween, planeAt, subShapes, vertexAt } from './shapes';

/** The edges of a shape as curves in space. */
const edgesOf = (kernel: Kernel, shape: Shape): SpaceCurve[] =>
  subShapes(kernel, shape, 'TopAbs_EDGE').map((e) => edgeCurve(kernel, kernel.TopoDS.Edge(e)));

/** Curves that hang together, line by line, each end to end; what branches is left as it comes. */
const lines = (curves: readonly SpaceCurve[]): SpaceCurve[][] =>
  hangingTogether(curves, (c) => c).flatMap((group) => {
    const chain = chained(group);
    return chain ? [chain] : group.map((c) => [c]);
  });

/** Where a plane cuts a body. */
export const cutLines = (kernel: Kernel, body: Shape, frame: Frame): SpaceCurve[][] =>
  found(kernel, (s) => new kernel.BRepAlgoAPI_Section(body, planeAt(kernel, s, frame), false));

/** Where two faces meet or cross. */
export const meetingLines = (kernel: Kernel, a: TopoDS_Face, b: TopoDS_Face): SpaceCurve[][] =>
  found(kernel, () => new kernel.BRepAlgoAPI_Section(a, b, false));

function found(kernel: Kernel, section: (s: Scope) => InstanceType<Kernel['BRepAlgoAPI_Section']>): SpaceCurve[][] {
  const made = attempt(kernel, () =>
    scoped((s) => {
      const op = s.keep(section(s));
      op.Approximation(false);
      op.Build();
      return op.IsDone() ? edgesOf(kernel, op.Shape()) : [];
    }),
  );
  return made.ok ? lines(made.value) : [];
}

/** A line of a face's surface within the face. @param share of its range, 0 to 1 @param through a place it runs through instead */
export function lineOfFace(kernel: Kernel, face: TopoDS_Face, way: 'u' | 'v', share: number, through?: Vec3): SpaceCurve[][] {
  const made = attempt(kernel, () =>
    scoped((s) => {
      const b = kernel.BRepTools.UVBounds(face, 0, 0, 0, 0);
      const range = { u: [b.UMin, b.UMax], v: [b.VMin, b.VMax] } as const;
      const adaptor = s.keep(new kernel.BRepAdaptor_Surface(face, true));
      const surface = s.keep(adaptor.GeomSurfaceTransformed());
      // A line that runs along u stays at one v.
      const fixed = way === 'u' ? 'v' : 'u';
      let at = range[fixed][0] + share * (range[fixed][1] - range[fixed][0]);
      if (through) {
        const on = distanceBetween(kernel, face, s.keep(vertexAt(kernel, through)))?.onA ?? through;
        const projected = s.keep(new kernel.GeomAPI_ProjectPointOnSurf(s.keep(new kernel.gp_Pnt(...on)), surface));
        if (projected.NbPoints() < 1) return [];
        const { U, V } = projected.LowerDistanceParameters(0, 0);
        at = fixed === 'u' ? U : V;
      }
      const iso = fixed === 'u' ? surface.UIso(at) : surface.VIso(at);
      const [from, to] = range[way];
      const edge = s.keep(new kernel.BRepBuilderAPI_MakeEdge(iso, from, to));
      if (!edge.IsDone()) return [];
      // What of it lies on the face.
      const op = s.keep(new kernel.BRepAlgoAPI_Common(edge.Edge(), face));
      return op.IsDone() ? edgesOf(kernel, op.Shape()) : [];
    }),
  );
  return made.ok ? lines(made.value) : [];
}

/** The share of a path at the place of it that is nearest to one. */
export function shareNearest(path: SpacePath, place: Vec3): number {
  const off = (share: number): number => distance(path.at(share).point, place);
  const n = 400;
  let best = 0;
  for (let i = 1; i <= n; i++) if (off(i / n) < off(best / n)) best = i;
  let [low, high] = [Math.max(0, (best - 1) / n), Math.min(1, (best + 1) / n)];
  for (let i = 0; i < 60; i++) {
    const [p, q] = [low + (high - low) / 3, high - (high - low) / 3];
    if (off(p) < off(q)) high = q;
    else low = p;
  }
  return (low + high) / 2;
}

/** Shares of a path that are none. */
const LITTLE = 1e-9;

/** A piece of curves put end to end, between two shares of their length: those it holds whole stay what they are. */
export function pieceOf(curves: readonly SpaceCurve[], path: SpacePath, from: number, to: number): SpaceCurve[] {
  const out: SpaceCurve[] = [];
  let start = 0;
  for (const curve of curves) {
    const end = start + pathAlong([curve]).length / path.length;
    const [a, b] = [Math.max(from, start), Math.min(to, end)];
    if (a <= start + LITTLE && b >= end - LITTLE) out.push(curve);
    else if (b - a > LITTLE) {
      const at = (x: number) => {
        const { point, direction } = path.at(a + (b - a) * Math.min(1 - 1e-12, Math.max(1e-12, x)));
        return { point, along: direction.map((d) => d * (b - a) * path.length) as unknown as Vec3 };
      };
      const [p, middle, q] = [a, (a + b) / 2, b].map((share) => path.at(share).point) as [Vec3, Vec3, Vec3];
      const straight = curve.kind === 'planar' ? curve.curve.kind === 'line' : curve.kind === 'spline' && curve.spline.poles.length === 2;
      const round = curve.kind === 'planar' && curve.curve.kind === 'arc';
      const plain = straight ? straightLine(p, q) : round ? arcInSpace(p, middle, q) : undefined;
      out.push(plain ?? { kind: 'spline', spline: cubicThrough(at) });
    }
    start = end;
  }
  return out;
}
