/** How near a place is to faces, without asking the kernel where formulas tell: its own search takes tens of milliseconds on faces of many poles. */
import { along, dot, minus, type Vec3 } from '../core/geometry/vectors';
import { type NearestPlace, nearestOn } from '../core/surfaces/nearest';
import { splineOf } from './amounts';
import { type Kernel, type Shape, scoped } from './open';
import { distanceBetween, vertexAt, xyzOf } from './shapes';

/**
 * The place of a face that is nearest, by the number of the face; where that is no nearer than `enough`, of all its surface, of which its border may leave
 * less. Undefined where the kernel finds none.
 */
export function nearFaces(
  kernel: Kernel,
  faces: readonly Shape[],
): (place: Vec3, face: number, enough: number) => NearestPlace | undefined {
  const known = new Map<number, ((p: Vec3) => NearestPlace) | undefined>();
  return (place, face, enough) => {
    if (!known.has(face)) known.set(face, onWhole(kernel, faces[face]!));
    // A whole surface is never farther than what is left of it.
    const whole = known.get(face)?.(place);
    if (whole && whole.distance >= enough) return whole;
    return scoped((s) => {
      const d = distanceBetween(kernel, s.keep(vertexAt(kernel, place)), faces[face]!);
      return d && { distance: d.distance, at: d.onB };
    });
  };
}

/** Nearest places of all the surface of a face that is flat or a spline; undefined of others. */
function onWhole(kernel: Kernel, shape: Shape): ((p: Vec3) => NearestPlace) | undefined {
  const face = kernel.TopoDS.Face(shape);
  const flat = scoped((s) => {
    const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
    if (surface.GetType() !== 'GeomAbs_Plane') return undefined;
    const axis = s.keep(s.keep(surface.Plane()).Axis());
    return { at: xyzOf(s.keep(axis.Location())), normal: xyzOf(s.keep(axis.Direction())) };
  });
  if (flat)
    return (p) => {
      const height = dot(minus(p, flat.at), flat.normal);
      return { distance: Math.abs(height), at: along(p, flat.normal, -height) };
    };
  const poles = splineOf(kernel, face);
  return poles && !poles.weights ? nearestOn(poles) : undefined;
}
