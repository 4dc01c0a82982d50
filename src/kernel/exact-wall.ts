/** The wall at one spot, measured again on the exact surfaces. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import type { Vec3 } from '../core/geometry/vectors';
import type { WallSpot } from '../core/mesh/wall';
import type { KernelBody } from './body';
import { type Kernel, scoped } from './open';
import { distanceBetween, facesOf, type SurfacePoint, surfaceReader, vertexAt } from './shapes';

/** The exact surface where it is nearest to a point; undefined at singular places. */
const nearestOnSurface = (kernel: Kernel, face: TopoDS_Face, at: Vec3): SurfacePoint | undefined =>
  scoped((s) => {
    const p = s.keep(new kernel.gp_Pnt(at[0], at[1], at[2]));
    const surface = s.keep(kernel.BRep_Tool.Surface(face));
    const project = s.keep(new kernel.GeomAPI_ProjectPointOnSurf(p, surface, 'Extrema_ExtAlgo_Grad'));
    if (!project.IsDone() || project.NbPoints() < 1) return undefined;
    const { U, V } = project.LowerDistanceParameters(0, 0);
    const reader = surfaceReader(kernel, face);
    const found = reader.at(U, V);
    reader.dispose();
    return found;
  });

/**
 * Repeats the inscribed ball between the exact faces the mesh measurement found.
 * @param side a wall of material, or a gap outside of it
 * @returns diameter in mm; the spot's own value where a face is singular there
 */
export function exactWall(
  kernel: Kernel,
  body: KernelBody,
  spot: WallSpot,
  side: 'inside' | 'outside' = 'inside',
): { thickness: number; at: Vec3 } {
  const faces = facesOf(kernel, body.shape);
  const here = faces[spot.face];
  const there = faces[spot.contactFace];
  const rough = { thickness: spot.thickness, at: spot.at };
  if (!here || !there) return rough;
  const frame = nearestOnSurface(kernel, here, spot.at);
  if (!frame) return rough;
  const p = frame.point;
  const n = side === 'inside' ? frame.normal : (frame.normal.map((c) => -c) as unknown as Vec3);
  let r = spot.thickness / 2;
  if (spot.face === spot.contactFace) {
    // The face is its own other side (a rod): the nearest point to the ball's centre may be p itself.
    const q = nearestOnSurface(kernel, here, spot.contact)?.point;
    const depth = q ? -((q[0] - p[0]) * n[0] + (q[1] - p[1]) * n[1] + (q[2] - p[2]) * n[2]) : 0;
    return q && depth > 1e-9 ? { thickness: ((q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2 + (q[2] - p[2]) ** 2) / depth, at: p } : rough;
  }
  // The ball seen from p: shrink or grow it until it just touches the other face.
  for (let i = 0; i < 30; i++) {
    const v = vertexAt(kernel, [p[0] - r * n[0], p[1] - r * n[1], p[2] - r * n[2]]);
    const d = distanceBetween(kernel, v, there);
    v.delete();
    if (!d) return rough;
    const q = [d.onB[0] - p[0], d.onB[1] - p[1], d.onB[2] - p[2]] as const;
    const depth = -(q[0] * n[0] + q[1] * n[1] + q[2] * n[2]);
    if (depth <= 1e-9) return rough;
    const next = (q[0] ** 2 + q[1] ** 2 + q[2] ** 2) / (2 * depth);
    const settled = Math.abs(next - r) < 1e-9;
    r = next;
    if (settled) break;
  }
  // A contact outside the rough ball's neighbourhood means the exact faces tell another story: keep the mesh's.
  return Math.abs(2 * r - spot.thickness) < 0.25 * spot.thickness + 0.2 ? { thickness: 2 * r, at: p } : rough;
}
