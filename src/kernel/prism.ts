/** Flat regions as faces of the kernel, and what they sweep when pushed straight. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, heightOver, normalOf, shifted } from '../core/curves/frame';
import { along, type Vec3 } from '../core/geometry/vectors';
import type { Region } from '../core/profile/regions';
import type { FaceName } from '../core/recipe/names';
import { volumeOf } from './amounts';
import type { KernelBody } from './body';
import { type Claim, type History, listOf } from './names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import { facesOf, planeAt, roughBounds } from './shapes';
import { type Wire, wireOf } from './wires';

export interface RegionFace {
  readonly face: TopoDS_Face;
  /** Its border, each edge with the curve it was drawn as. */
  readonly edges: Wire['edges'];
}

/** A region with its holes as a flat face. Undefined where its border does not close for the kernel. */
export function regionFace(kernel: Kernel, s: Scope, region: Region, frame: Frame): RegionFace | undefined {
  const outer = wireOf(kernel, s, region.outer, frame);
  if (!outer) return undefined;
  const edges = [...outer.edges];
  const plane = planeAt(kernel, s, frame);
  const maker = s.keep(new kernel.BRepBuilderAPI_MakeFace(plane, outer.wire, true));
  for (const hole of region.holes) {
    const wire = wireOf(kernel, s, hole, frame);
    if (!wire) return undefined;
    maker.Add(wire.wire);
    edges.push(...wire.edges);
  }
  return maker.IsDone() ? { face: maker.Face(), edges } : undefined;
}

export interface Prism {
  readonly shape: Shape;
  readonly claims: readonly Claim[];
  readonly sides: readonly TopoDS_Face[];
  readonly start: Shape;
  readonly end: Shape;
}

/** The faces that came of edges, named by the curves these were drawn as. */
export const sidesOf = (kernel: Kernel, maker: Pick<History, 'Generated'>, edges: Wire['edges'], stepId: string): Claim[] =>
  edges.flatMap(({ edge, curve }) =>
    listOf(kernel, maker.Generated(edge))
      .filter((g) => g.ShapeType() === 'TopAbs_FACE')
      .map((shape) => ({ shape, name: `${stepId}/${curve}` })),
  );

/** A face pushed along a vector, its sides named by their curves. */
export function prismOf(
  kernel: Kernel,
  s: Scope,
  base: RegionFace,
  vector: readonly [number, number, number],
  stepId: string,
): Prism | undefined {
  const maker = s.keep(new kernel.BRepPrimAPI_MakePrism(base.face, s.keep(new kernel.gp_Vec(...vector)), false, true));
  if (!maker.IsDone()) return undefined;
  const claims = sidesOf(kernel, maker, base.edges, stepId);
  const sides = claims.map((c) => kernel.TopoDS.Face(c.shape));
  const [start, end] = [maker.FirstShape(), maker.LastShape()];
  claims.push({ shape: start, name: `${stepId}/start` }, { shape: end, name: `${stepId}/end` });
  return { shape: maker.Shape(), claims, sides, start, end };
}

/** What a face of a prism is called. */
export const nameOn = ({ claims }: Prism, face: Shape): FaceName | undefined => claims.find((c) => c.shape.IsSame(face))?.name;

/** A square of a plane, large enough to cross a body. */
export function squareAcross(kernel: Kernel, s: Scope, frame: Frame, body: Shape): TopoDS_Face {
  const box = roughBounds(kernel, body);
  const size = Math.hypot(...box.max.map((m, k) => m - box.min[k]!)) + 1;
  const middle = box.min.map((m, k) => (m + box.max[k]!) / 2) as unknown as Vec3;
  const foot = along(middle, normalOf(frame), -heightOver(frame, middle));
  const plane = planeAt(kernel, s, { ...frame, origin: foot });
  return s.keep(new kernel.BRepBuilderAPI_MakeFace(plane, -size, size, -size, size)).Face();
}

/**
 * Everything between two heights over a plane, as wide as a body reaches.
 * @param to may be infinite: then as far as the body reaches
 * @param names of the faces at either height; the others are called `far`
 */
export function slabOf(
  kernel: Kernel,
  body: Shape,
  frame: Frame,
  from: number,
  to: number,
  names: { readonly from: string; readonly to: string },
  stepId: string,
): KernelBody | undefined {
  const made = attempt(kernel, () =>
    scoped((s) => {
      const face = squareAcross(kernel, s, shifted(frame, from), body);
      const box = roughBounds(kernel, body);
      const reach = 2 * (Math.hypot(...box.max.map((m, k) => m - box.min[k]!)) + 1);
      const push = Number.isFinite(to) ? to - from : Math.sign(to) * reach;
      const vector = s.keep(new kernel.gp_Vec(...(normalOf(frame).map((c) => c * push) as [number, number, number])));
      const maker = s.keep(new kernel.BRepPrimAPI_MakePrism(face, vector, false, true));
      const solid = kernel.TopoDS.Solid(maker.Shape());
      kernel.BRepLib.OrientClosedSolid(solid);
      return { shape: solid as Shape, first: maker.FirstShape(), last: maker.LastShape() };
    }),
  );
  if (!made.ok) return undefined;
  const { shape, first, last } = made.value;
  const faces = facesOf(kernel, shape).map((f) => (f.IsSame(first) ? names.from : f.IsSame(last) ? names.to : `${stepId}/far`));
  return { shape, faces, volume: Math.abs(volumeOf(kernel, shape).volume) };
}
