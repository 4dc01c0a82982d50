/** Spline surfaces computed in core, closed off with flat caps and sewn to a solid. */
import type { Geom_BSplineSurface, TopoDS_Face } from 'replicad-opencascadejs';
import type { Vec3 } from '../core/curves/frame';
import { fail, ok, type Result } from '../core/result';
import { dimension, type SplineSpace, type SplineSurface } from '../core/surfaces/space';
import { asBody, asSurface, type KernelBody } from './body';
import { type Claim, nameFaces } from './names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import { shellOf, verifySurface } from './surface';
import { verifySolid } from './verify';

/** Multiplicities as the kernel wants them: full at the ends of a clamped space, single throughout a periodic one. */
const counts = (s: SplineSpace): number[] =>
  s.knots.map((_, i) => (!s.periodic && (i === 0 || i === s.knots.length - 1) ? s.degree + 1 : 1));

export function kernelSurface(kernel: Kernel, s: Scope, f: SplineSurface): Geom_BSplineSurface {
  const poles = s.keep(new kernel.NCollection_Array2_gp_Pnt(1, dimension(f.u), 1, dimension(f.v)));
  f.poles.forEach((row, i) => {
    row.forEach((p, j) => {
      poles.SetValue(i + 1, j + 1, s.keep(new kernel.gp_Pnt(...p)));
    });
  });
  const reals = (list: readonly number[]) => {
    const a = s.keep(new kernel.NCollection_Array1_double(1, list.length));
    for (const [i, x] of list.entries()) a.SetValue(i + 1, x);
    return a;
  };
  const integers = (list: readonly number[]) => {
    const a = s.keep(new kernel.NCollection_Array1_int(1, list.length));
    for (const [i, x] of list.entries()) a.SetValue(i + 1, x);
    return a;
  };
  return new kernel.Geom_BSplineSurface(
    poles,
    reals(f.u.knots),
    reals(f.v.knots),
    integers(counts(f.u)),
    integers(counts(f.v)),
    f.u.degree,
    f.v.degree,
    f.u.periodic,
    f.v.periodic,
  );
}

export interface Cap {
  readonly origin: Vec3;
  readonly normal: Vec3;
  readonly name: string;
}

/**
 * The solid between the patches and its caps, or the surface they make.
 * @param patches outer list lengthwise, inner list round about, with names alike
 * @param open leave it a surface with borders
 * @returns undefined where a solid does not close
 */
export function sewn(
  kernel: Kernel,
  s: Scope,
  patches: readonly (readonly { readonly surface: SplineSurface; readonly name: string }[])[],
  caps: { readonly start?: Cap; readonly end?: Cap },
  open = false,
): { shape: Shape; claims: Claim[] } | undefined {
  const sewing = s.keep(new kernel.BRepBuilderAPI_Sewing(1e-5, true, true, true, false));
  const given: { face: Shape; name: string }[] = [];
  const made = patches.map((row) => row.map((p) => ({ geometry: kernelSurface(kernel, s, p.surface), ...p })));
  for (const row of made)
    for (const p of row) {
      const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(p.geometry, 1e-7));
      if (!face.IsDone()) return undefined;
      given.push({ face: face.Face(), name: p.name });
    }
  for (const [cap, row, last] of [
    [caps.start, made[0]!, false],
    [caps.end, made[made.length - 1]!, true],
  ] as const) {
    if (!cap) continue;
    const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
    for (const p of row) {
      const knots = p.surface.v.knots;
      wire.Add(s.keep(new kernel.BRepBuilderAPI_MakeEdge(p.geometry.VIso(last ? knots[knots.length - 1]! : knots[0]!))).Edge());
    }
    if (!wire.IsDone()) return undefined;
    const plane = s.keep(new kernel.gp_Pln(s.keep(new kernel.gp_Pnt(...cap.origin)), s.keep(new kernel.gp_Dir(...cap.normal))));
    const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(plane, wire.Wire(), true));
    if (!face.IsDone()) return undefined;
    given.push({ face: face.Face(), name: cap.name });
  }
  for (const g of given) sewing.Add(g.face);
  sewing.Perform();
  if (!open && sewing.NbFreeEdges() > 0) return undefined;
  const sewnShape = sewing.SewedShape();
  let shell = sewnShape;
  if (sewnShape.ShapeType() === 'TopAbs_FACE') {
    // One face alone comes back bare.
    shell = shellOf(kernel, s, [sewnShape]);
    shell.Closed(!open);
  }
  if (shell.ShapeType() !== 'TopAbs_SHELL') return undefined;
  const claims = given.map((g) => ({
    shape: (sewing.IsModified(g.face) ? sewing.Modified(g.face) : g.face) as TopoDS_Face as Shape,
    name: g.name,
  }));
  if (open) return { shape: shell, claims };
  const solid = s.keep(new kernel.BRepBuilderAPI_MakeSolid(kernel.TopoDS.Shell(shell))).Solid();
  kernel.BRepLib.OrientClosedSolid(solid);
  return { shape: solid, claims };
}

/**
 * What patches make with their caps: a solid, or a surface of the way there where the sections are open lines; named and verified.
 * @param patches outer list lengthwise, inner list round about, from the corner the first section starts at
 * @param curveAt the drawn curve at a share round about, which names a strip; a skin without corners is one side
 * @param volume allowed volume of a solid, mm³
 * @returns an error in words, with what failed: the sewing, the closing or the check
 */
export function skinBody(
  kernel: Kernel,
  patches: readonly (readonly SplineSurface[])[],
  curveAt: (share: number) => string,
  caps: Parameters<typeof sewn>[3],
  open: boolean,
  stepId: string,
  volume?: readonly [number, number],
): Result<KernelBody, { readonly why: string; readonly failed: 'sewing' | 'closing' | 'check'; readonly at?: Vec3 }> {
  const several = patches.length > 1;
  const named = patches.map((whole, i) => {
    const row = open ? whole.slice(0, whole.length / 2) : whole;
    return row.map((surface) => {
      const middle = ((surface.u.knots[0]! + surface.u.knots[surface.u.knots.length - 1]!) / 2) % 1;
      return { surface, name: `${stepId}/${row.length === 1 ? 'side' : curveAt(middle)}${several ? `.${i + 1}` : ''}` };
    });
  });
  const done = attempt(kernel, () => scoped((s) => sewn(kernel, s, named, open ? {} : caps, open)));
  if (!done.ok) return fail({ why: done.error, failed: 'sewing' });
  if (!done.value) return fail({ why: 'its skin does not close', failed: 'closing' });
  const { shape, claims } = done.value;
  const verified = open ? verifySurface(kernel, shape) : verifySolid(kernel, shape, volume ? { volume } : {});
  if (!verified.ok)
    return fail({
      why: open || verified.error.check === 'lobe' ? verified.error.why : `${verified.error.why}: the skin runs through itself`,
      failed: 'check',
      ...(verified.error.at ? { at: verified.error.at } : {}),
    });
  return ok((open ? asSurface : asBody)(verified.value, nameFaces(kernel, verified.value.shape, claims, stepId)));
}
