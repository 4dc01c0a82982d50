/** Flat regions as faces of the kernel, and what they sweep when pushed straight. */
import type { TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, normalOf } from '../core/curves/frame';
import type { Region } from '../core/profile/regions';
import { type Claim, listOf } from './names';
import type { Kernel, Scope, Shape } from './open';
import { makeEdge } from './wires';

export interface RegionFace {
  readonly face: TopoDS_Face;
  /** Its border, each edge with the curve it was drawn as. */
  readonly edges: readonly { readonly edge: TopoDS_Edge; readonly curve: string }[];
}

/** A region with its holes as a flat face. Undefined where its border does not close for the kernel. */
export function regionFace(kernel: Kernel, s: Scope, region: Region, frame: Frame): RegionFace | undefined {
  const edges: { edge: TopoDS_Edge; curve: string }[] = [];
  const wireOf = (loop: Region['outer']) => {
    const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
    for (const c of loop) {
      wire.Add(makeEdge(kernel, s, c.curve, frame) as TopoDS_Edge);
      if (!wire.IsDone()) return undefined;
      edges.push({ edge: wire.Edge(), curve: c.id });
    }
    return wire.Wire();
  };
  const outer = wireOf(region.outer);
  if (!outer) return undefined;
  const plane = s.keep(new kernel.gp_Pln(s.keep(new kernel.gp_Pnt(...frame.origin)), s.keep(new kernel.gp_Dir(...normalOf(frame)))));
  const maker = s.keep(new kernel.BRepBuilderAPI_MakeFace(plane, outer, true));
  for (const hole of region.holes) {
    const wire = wireOf(hole);
    if (!wire) return undefined;
    maker.Add(wire);
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
  const claims: Claim[] = [];
  const sides: TopoDS_Face[] = [];
  for (const { edge, curve } of base.edges)
    for (const g of listOf(kernel, maker.Generated(edge))) {
      if (g.ShapeType() !== 'TopAbs_FACE') continue;
      claims.push({ shape: g, name: `${stepId}/${curve}` });
      sides.push(kernel.TopoDS.Face(g));
    }
  const [start, end] = [maker.FirstShape(), maker.LastShape()];
  claims.push({ shape: start, name: `${stepId}/start` }, { shape: end, name: `${stepId}/end` });
  return { shape: maker.Shape(), claims, sides, start, end };
}
