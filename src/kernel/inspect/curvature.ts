/** Curvature at the corners of a body's mesh, read off the exact surfaces. */
import type { Vec3 } from '../../core/curves/frame';
import type { KernelBody } from '../body';
import type { Kernel } from '../open';
import { facesOf } from '../shapes';
import type { BodyMesh } from '../tessellate';
import { nearFace } from './nearest';

export interface TightRadius {
  readonly face: number;
  /** mm. */
  readonly radius: number;
  readonly at: Vec3;
}

export interface CurvatureMap {
  /** Principal curvatures by corner of the mesh, 1/mm, positive where the body is convex; NaN at singular places. */
  readonly largest: Float32Array;
  readonly smallest: Float32Array;
  /** The tightest radius of every face that has one, tightest first. */
  readonly convex: readonly TightRadius[];
  readonly concave: readonly TightRadius[];
}

/** Below this curvature a place is flat, 1/mm. */
const FLAT = 1e-7;

/** @param tick called between faces; false gives up and the result is null */
export async function curvatureMap(
  kernel: Kernel,
  body: KernelBody,
  mesh: BodyMesh,
  tick: (share: number) => Promise<boolean> = async () => true,
): Promise<CurvatureMap | null> {
  const n = mesh.positions.length / 3;
  const [largest, smallest] = [new Float32Array(n).fill(Number.NaN), new Float32Array(n).fill(Number.NaN)];
  const cornersOf: Set<number>[] = body.faces.map(() => new Set());
  for (let t = 0; t < mesh.faceOf.length; t++) for (let k = 0; k < 3; k++) cornersOf[mesh.faceOf[t]!]?.add(mesh.indices[3 * t + k]!);
  const [convex, concave]: [TightRadius[], TightRadius[]] = [[], []];
  const faces = facesOf(kernel, body.shape);
  for (const [index, face] of faces.entries()) {
    if (!(await tick(index / faces.length))) return null;
    const surface = new kernel.BRepAdaptor_Surface(face, true);
    const plane = surface.GetType() === 'GeomAbs_Plane';
    surface.delete();
    if (plane) {
      for (const v of cornersOf[index]!) largest[v] = smallest[v] = 0;
      continue;
    }
    const { reader, nearest } = nearFace(kernel, face);
    let [outer, inner]: [TightRadius | undefined, TightRadius | undefined] = [undefined, undefined];
    for (const corner of cornersOf[index]!) {
      const p: Vec3 = [mesh.positions[3 * corner]!, mesh.positions[3 * corner + 1]!, mesh.positions[3 * corner + 2]!];
      const q = nearest(p);
      if (!q) continue;
      const [a, b] = q.curvatures;
      largest[corner] = a;
      smallest[corner] = b;
      if (a > FLAT && (!outer || 1 / a < outer.radius)) outer = { face: index, radius: 1 / a, at: q.point };
      if (b < -FLAT && (!inner || -1 / b < inner.radius)) inner = { face: index, radius: -1 / b, at: q.point };
    }
    reader.dispose();
    if (outer) convex.push(outer);
    if (inner) concave.push(inner);
  }
  const tight = (list: TightRadius[]): TightRadius[] => list.sort((a, b) => a.radius - b.radius);
  return { largest, smallest, convex: tight(convex), concave: tight(concave) };
}
