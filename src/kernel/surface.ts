/** Surfaces: skins without an inside, checked as far as a skin can be, with the borders they have. */

import type { TopoDS_Edge, TopoDS_Shell } from 'replicad-opencascadejs';
import { type Frame, facing, heightOver } from '../core/curves/frame';
import { minus, triple, type Vec3 } from '../core/geometry/vectors';
import { axesOf, momentsOf } from '../core/linear';
import { sharedBvh } from '../core/mesh/bvh';
import { bounds as boundsOf, diagonal, massProperties } from '../core/mesh/mesh';
import { faultInSkin } from '../core/mesh/winding';
import { fail, ok, type Result } from '../core/result';
import { areaOf } from './amounts';
import { asSurface, type KernelBody } from './body';
import { checking } from './clock';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import { edgesWithFaces, facesOf, lengthOf } from './shapes';
import { displayDeflection, tessellate, VERIFY_ANGLE, weldedMesh } from './tessellate';
import type { Refusal, Verified } from './verify';

/** Faces as one shell, edges shared as they are. */
export function shellOf(kernel: Kernel, s: Scope, faces: readonly Shape[]): TopoDS_Shell {
  const shell = new kernel.TopoDS_Shell();
  const builder = s.keep(new kernel.TopoDS_Builder());
  builder.MakeShell(shell);
  for (const f of faces) builder.Add(shell, f);
  return shell;
}

/**
 * Checks a skin: there are faces, its area is one that can be, the kernel's own check, and a mesh that covers it.
 * @param area allowed area, mm², bounds included
 */
export const verifySurface = (
  kernel: Kernel,
  shape: Shape,
  area: readonly [number, number] = [0, Number.POSITIVE_INFINITY],
): Result<Verified, Refusal> => checking(() => surfaceChecked(kernel, shape, area));

function surfaceChecked(kernel: Kernel, shape: Shape, area: readonly [number, number]): Result<Verified, Refusal> {
  const refuse = (check: Refusal['check'], why: string): Result<never, Refusal> => fail({ check, why });
  if (shape.IsNull() || facesOf(kernel, shape).length === 0) return refuse('solids', 'the result has no faces');
  const own = areaOf(kernel, shape);
  if (!(own > 1e-9 && own >= area[0] && own <= area[1])) return refuse('volume', 'the surface does not have an area that can be right');
  const analyzer = new kernel.BRepCheck_Analyzer(shape, true, false, false);
  const valid = analyzer.IsValid();
  analyzer.delete();
  if (!valid) return refuse('kernel', 'faces of the result cross each other or do not meet');
  const deflection = displayDeflection(kernel, shape);
  const mesh = tessellate(kernel, shape, deflection, VERIFY_ANGLE);
  const skin = weldedMesh(mesh);
  // Facets of a bent surface are a little smaller than it: by the square of their turn at most.
  if (Math.abs(massProperties(skin).area - own) > 0.02 * own) return refuse('mesh', 'part of the surface is missing or folded');
  const fault = faultInSkin(sharedBvh(skin), deflection, diagonal(boundsOf(skin.positions)));
  if (fault)
    return fail({ check: 'lobe', why: fault.what === 'crosses' ? 'it runs through itself' : 'it folds back on itself', at: fault.at });
  return ok({ shape, volume: 0, solids: 0, mesh, skin });
}

/** The skin of a solid without some of its faces, as a surface. */
export function skinWithout(kernel: Kernel, solid: KernelBody, dropped: ReadonlySet<string>): Result<KernelBody> {
  const faces = facesOf(kernel, solid.shape);
  const kept = faces.map((_, i) => i).filter((i) => !dropped.has(solid.faces[i]!));
  const made = attempt(kernel, () =>
    scoped((s) =>
      shellOf(
        kernel,
        s,
        kept.map((i) => faces[i]!),
      ),
    ),
  );
  if (!made.ok) return made;
  const verified = verifySurface(kernel, made.value);
  return verified.ok
    ? ok(
        asSurface(
          verified.value,
          kept.map((i) => solid.faces[i]!),
        ),
      )
    : fail(verified.error.why);
}

/** A closed line along which a surface has a face on one side only. */
export interface BorderLoop {
  /** mm. */
  readonly length: number;
  /** Largest distance of it from the plane that fits it best, mm. */
  readonly offPlane: number;
  /** A place on it. */
  readonly at: Vec3;
}

/** An edge of a border with places along it, in the way round the border. */
export interface BorderEdge {
  readonly edge: TopoDS_Edge;
  readonly points: readonly Vec3[];
  /** Its curve runs against the way round. */
  readonly reversed: boolean;
  readonly length: number;
}

/** The border edges of a surface, loop by loop, each loop end to end. */
export function borderChains(kernel: Kernel, shape: Shape): BorderEdge[][] {
  const left = edgesWithFaces(kernel, facesOf(kernel, shape))
    .filter((e) => e.faces.length === 1)
    .map(({ edge }) =>
      scoped((s): BorderEdge => {
        const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
        const [a, b] = [curve.FirstParameter(), curve.LastParameter()];
        const p = s.keep(new kernel.gp_Pnt());
        const points = Array.from({ length: 33 }, (_, i): Vec3 => {
          curve.D0(a + ((b - a) * i) / 32, p);
          return [p.X(), p.Y(), p.Z()];
        });
        return { edge, points, reversed: false, length: lengthOf(kernel, edge) };
      }),
    );
  const near = (a: Vec3, b: Vec3): boolean => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) < 1e-4;
  const loops: BorderEdge[][] = [];
  while (left.length > 0) {
    const chain = [left.shift()!];
    const head = chain[0]!.points[0]!;
    let tail = chain[0]!.points[32]!;
    while (!near(head, tail)) {
      const i = left.findIndex((l) => near(l.points[0]!, tail) || near(l.points[32]!, tail));
      if (i < 0) break;
      const next = left.splice(i, 1)[0]!;
      const on = near(next.points[0]!, tail) ? next : { ...next, points: next.points.toReversed(), reversed: true };
      tail = on.points[32]!;
      chain.push(on);
    }
    loops.push(chain);
  }
  return loops;
}

/** The borders of a surface; none where it is closed. */
export const borderLoops = (kernel: Kernel, shape: Shape): BorderLoop[] => borderChains(kernel, shape).map(loopOf);

export const loopOf = (chain: readonly BorderEdge[]): BorderLoop => ({
  length: chain.reduce((sum, l) => sum + l.length, 0),
  offPlane: planeAlong(chain).off,
  at: chain[0]!.points[0]!,
});

/** The plane that fits a border best, every millimetre of it weighing alike. */
export const planeAlong = (border: readonly BorderEdge[]): ReturnType<typeof planeThrough> =>
  planeThrough(
    border.flatMap((l) => l.points),
    border.flatMap((l) => l.points.map((_, i) => (i === 0 || i === 32 ? 0.5 : 1) * l.length)),
  );

/** The plane that fits places best (least squares, by the smallest eigenvector of their spread), and the largest distance from it, mm. */
export function planeThrough(
  points: readonly Vec3[],
  weights: readonly number[] = points.map(() => 1),
): { readonly frame: Frame; readonly off: number } {
  const n = weights.reduce((sum, w) => sum + w, 0);
  const c = triple((k) => points.reduce((sum, p, i) => sum + (weights[i]! * p[k]) / n, 0));
  const [least] = axesOf(
    momentsOf(
      points.map((p) => minus(p, c)),
      weights,
    ),
  );
  const frame = facing(least!.axis, c);
  return { frame, off: Math.max(...points.map((p) => Math.abs(heightOver(frame, p)))) };
}
