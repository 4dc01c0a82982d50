/** Faces sewn along the edges they share. */
import type { Claim } from './names';
import type { Kernel, Scope, Shape } from './open';
import { shellOf } from './surface';

export interface Given {
  readonly face: Shape;
  readonly name: string;
}

export interface Sewn {
  /** A shell; a compound of them where they do not all hang together. */
  readonly shape: Shape;
  /** The names of the faces on what became of them. */
  readonly claims: Claim[];
  /** Edges with a face on one side only, and with more than two. */
  readonly free: number;
  readonly multiple: number;
  /** One face, which is no shell by itself. */
  readonly alone: boolean;
}

/** @param tolerance edges nearer to each other than this are one, mm */
export function sew(kernel: Kernel, s: Scope, given: readonly Given[], tolerance: number): Sewn {
  const sewing = s.keep(new kernel.BRepBuilderAPI_Sewing(tolerance, true, true, true, false));
  for (const { face } of given) sewing.Add(face);
  sewing.Perform();
  const whole = sewing.SewedShape();
  const alone = whole.ShapeType() === 'TopAbs_FACE';
  return {
    shape: alone ? shellOf(kernel, s, [whole]) : whole,
    alone,
    claims: given.map(({ face, name }) => ({ shape: sewing.IsModified(face) ? sewing.Modified(face) : face, name })),
    free: sewing.NbFreeEdges(),
    multiple: sewing.NbMultipleEdges(),
  };
}

/** The solid within a closed shell. */
export function solidWithin(kernel: Kernel, s: Scope, shell: Shape): Shape {
  const solid = s.keep(new kernel.BRepBuilderAPI_MakeSolid(kernel.TopoDS.Shell(shell))).Solid();
  kernel.BRepLib.OrientClosedSolid(solid);
  return solid;
}
