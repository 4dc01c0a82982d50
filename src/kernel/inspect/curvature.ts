/** Curvature at the corners of a body's mesh, read off the exact surfaces. */
import type { Vec3 } from '../../core/geometry/vectors';
import type { KernelBody } from '../body';
import type { Kernel } from '../open';
import { facesOf, type SurfacePoint } from '../shapes';
import type { BodyMesh } from '../tessellate';
import { type Near, type NearFace, nearFace } from './nearest';

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
/** How far from a corner of the mesh its tightest place is looked for, in its own radii: trimmed skin lies beyond. */
const REACH = 0.5;

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
    let [outer, inner]: [Near | undefined, Near | undefined] = [undefined, undefined];
    for (const corner of cornersOf[index]!) {
      const p: Vec3 = [mesh.positions[3 * corner]!, mesh.positions[3 * corner + 1]!, mesh.positions[3 * corner + 2]!];
      const q = nearest(p);
      if (!q) continue;
      const [a, b] = q.curvatures;
      largest[corner] = a;
      smallest[corner] = b;
      if (a > FLAT && (!outer || a > outer.curvatures[0])) outer = q;
      if (b < -FLAT && (!inner || b < inner.curvatures[1])) inner = q;
    }
    // The tightest place lies between corners of the mesh.
    if (outer) convex.push(tightest(reader, index, outer, (q) => q.curvatures[0]));
    if (inner) concave.push(tightest(reader, index, inner, (q) => -q.curvatures[1]));
    reader.dispose();
  }
  const tight = (list: TightRadius[]): TightRadius[] => list.sort((a, b) => a.radius - b.radius);
  return { largest, smallest, convex: tight(convex), concave: tight(concave) };
}

/** Where curvature is largest about a place, by steps along the parameters that are halved when none leads further. */
function tightest(reader: NearFace['reader'], face: number, from: Near, curvature: (q: SurfacePoint) => number): TightRadius {
  const { u, v } = reader.range;
  let best: { uv: readonly [number, number]; point: Vec3; k: number } = { uv: from.uv, point: from.point, k: curvature(from) };
  let [du, dv] = [(u[1] - u[0]) / 40, (v[1] - v[0]) / 40];
  const within = (x: number, [lo, hi]: readonly [number, number]): number => Math.min(hi, Math.max(lo, x));
  for (let halved = 0; halved < 16; ) {
    let further = false;
    for (const [a, b] of [
      [du, 0],
      [-du, 0],
      [0, dv],
      [0, -dv],
    ] as const) {
      const uv = [within(best.uv[0] + a, u), within(best.uv[1] + b, v)] as const;
      const q = reader.at(...uv);
      const k = q ? curvature(q) : 0;
      if (!q || !(k > best.k * (1 + 1e-12)) || Math.hypot(...q.point.map((x, c) => x - from.point[c]!)) > REACH / best.k) continue;
      best = { uv, point: q.point, k };
      further = true;
    }
    if (further) continue;
    [du, dv] = [du / 2, dv / 2];
    halved++;
  }
  return { face, radius: 1 / best.k, at: best.point };
}
