/** A round wire along lines and arcs: cylinders and rings that share their circles, exact, in place of a skin laid over them. Millimetres and radians. */
import type { SpacePath } from '../core/curves/path';
import { along, cross, distance, dot, minus, triple, unit, type Vec3 } from '../core/geometry/vectors';
import { wireHasRoom } from '../core/surfaces/sweep';
import type { KernelBody } from './body';
import { attempt, type Kernel, type Shape, scoped } from './open';
import type { Given } from './sewing';
import { facesOf } from './shapes';
import { checkedSkin, sewFaces } from './skin';

type Piece =
  | { readonly kind: 'line'; readonly by: Vec3 }
  | { readonly kind: 'arc'; readonly centre: Vec3; readonly axis: Vec3; readonly angle: number };

/** Directions and places that are the same within this are the same. */
const SAME = 1e-7;

/** The lines and arcs a path is made of; undefined where any of it is something else. */
function linesAndArcs(path: SpacePath): Piece[] | undefined {
  if (path.corners.length > 0 || path.knots.some((k) => k > 1e-6 && k < 1 - 1e-6 && !path.joints.some((j) => Math.abs(j - k) < 1e-6)))
    return undefined;
  const stops = [0, ...path.joints, 1].sort((a, b) => a - b).filter((x, i, all) => i === 0 || x - all[i - 1]! > 1e-6);
  const out: Piece[] = [];
  for (const [i, to] of stops.slice(1).entries()) {
    const from = stops[i]!;
    const length = (to - from) * path.length;
    const [start, end] = [path.at(from).point, path.at(to).point];
    // Within the piece: at its very ends the neighbour may be read.
    const inner = Array.from({ length: 9 }, (_, k) => path.at(from + ((to - from) * (k + 0.5)) / 9));
    const bends = inner.map((p) => Math.hypot(...p.bend));
    const bend = bends[4]!;
    if (bends.some((b) => Math.abs(b - bend) > 1e-6 * Math.max(bend, 1 / length))) return undefined;
    if (bend * length < 1e-6) {
      const by = minus(end, start);
      if (Math.abs(Math.hypot(...by) - length) > SAME * length) return undefined;
      out.push({ kind: 'line', by });
      continue;
    }
    const middle = inner[4]!;
    const axis = unit(cross(middle.direction, middle.bend))!;
    const centre = along(middle.point, middle.bend, 1 / bend ** 2);
    const radius = 1 / bend;
    const offPlane = [start, end, ...inner.map((p) => p.point)].some(
      (p) => Math.abs(dot(minus(p, centre), axis)) > SAME * radius || Math.abs(distance(p, centre) - radius) > SAME * radius,
    );
    const angle = bend * length;
    if (offPlane || angle > 2 * Math.PI - 1e-6) return undefined;
    out.push({ kind: 'arc', centre, axis, angle });
  }
  return out;
}

/**
 * The wire of a radius along a path, with a face to every stretch.
 * @param across square to the path at its start: where the seam runs; @param side what its skin is called
 * @returns undefined where the path is not made of lines and arcs, has no room for the wire, or does not come back to its seam
 */
export function tubeAlong(
  kernel: Kernel,
  path: SpacePath,
  radius: number,
  across: Vec3,
  stepId: string,
  side: string,
): KernelBody | undefined {
  const pieces = linesAndArcs(path);
  if (!pieces || (path.closed && pieces.length < 2) || !wireHasRoom(path, radius, across)) return undefined;
  const done = attempt(kernel, () =>
    scoped((s) => {
      const start = path.at(0);
      const axes = s.keep(
        new kernel.gp_Ax2(
          s.keep(new kernel.gp_Pnt(...start.point)),
          s.keep(new kernel.gp_Dir(...start.direction)),
          s.keep(new kernel.gp_Dir(...across)),
        ),
      );
      const ring = s.keep(new kernel.BRepBuilderAPI_MakeEdge(s.keep(new kernel.gp_Circ(axes, radius)))).Edge();
      const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire(ring)).Wire();
      // A rod for every stretch, on the end of the one before: their sides are the skin.
      let disc: Shape = s.keep(new kernel.BRepBuilderAPI_MakeFace(wire, true)).Face();
      let seam: Vec3 = along(start.point, across, radius);
      const ends: Given[] = [];
      const sides = pieces.flatMap((piece, i): Given[] => {
        const maker =
          piece.kind === 'line'
            ? s.keep(new kernel.BRepPrimAPI_MakePrism(disc, s.keep(new kernel.gp_Vec(...piece.by)), false, true))
            : s.keep(
                new kernel.BRepPrimAPI_MakeRevol(
                  disc,
                  s.keep(new kernel.gp_Ax1(s.keep(new kernel.gp_Pnt(...piece.centre)), s.keep(new kernel.gp_Dir(...piece.axis)))),
                  piece.angle,
                  false,
                ),
              );
        const [first, last] = [maker.FirstShape(), maker.LastShape()];
        if (i === 0) ends.push({ face: first, name: `${stepId}/start` });
        if (i === pieces.length - 1) ends.push({ face: last, name: `${stepId}/end` });
        seam = piece.kind === 'line' ? along(seam, piece.by, 1) : turned(seam, piece);
        disc = last;
        return facesOf(kernel, maker.Shape())
          .filter((f) => !f.IsSame(first) && !f.IsSame(last))
          .map((face) => ({ face, name: `${stepId}/${side}${pieces.length > 1 ? `.${i + 1}` : ''}` }));
      });
      if (path.closed && distance(seam, along(start.point, across, radius)) > 1e-6) return undefined;
      return sewFaces(kernel, s, path.closed ? sides : [...sides, ...ends]);
    }),
  );
  if (!done.ok || !done.value) return undefined;
  // Pappus: the section is square to the path, and its middle on it.
  const volume = Math.PI * radius ** 2 * path.length;
  const checked = checkedSkin(kernel, done.value, false, stepId, [volume * (1 - 1e-6), volume * (1 + 1e-6)]);
  return checked.ok ? checked.value : undefined;
}

function turned(p: Vec3, { centre, axis, angle }: Extract<Piece, { kind: 'arc' }>): Vec3 {
  const d = minus(p, centre);
  const [c, k] = [Math.cos(angle), Math.sin(angle)];
  const up = dot(d, axis) * (1 - c);
  const q = cross(axis, d);
  return triple((i) => centre[i]! + c * d[i]! + k * q[i]! + up * axis[i]!);
}
