/** Spline surfaces computed in core, closed off with flat caps and sewn to a solid. */
import type { Geom_BSplineSurface, Geom_Curve, TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import { cross, dot, minus, unit, type Vec3 } from '../core/curves/frame';
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

/** Poles this near to a line or a plane lie in it, mm. */
const FLAT = 1e-7;

const isStraight = (poles: readonly Vec3[]): boolean => {
  const [a, b] = [poles[0]!, poles[poles.length - 1]!];
  const d = unit(minus(b, a));
  if (!d || Math.hypot(...minus(b, a)) < 1e-6) return false;
  return poles.every((p) => Math.hypot(...cross(minus(p, a), d)) < FLAT);
};

/** The plane a patch lies in; undefined where it bends, goes round, or is nothing. */
function planeOf(f: SplineSurface): { origin: Vec3; normal: Vec3 } | undefined {
  if (f.u.periodic || f.v.periodic) return undefined;
  const row = f.poles.length - 1;
  const last = f.poles[0]!.length - 1;
  const [a, b, c, d] = [f.poles[0]![0]!, f.poles[row]![0]!, f.poles[row]![last]!, f.poles[0]![last]!];
  const normal = unit(cross(minus(c, a), minus(d, b)));
  if (!normal || Math.hypot(...cross(minus(c, a), minus(d, b))) < 1e-9) return undefined;
  return f.poles.every((r) => r.every((p) => Math.abs(dot(minus(p, a), normal)) < FLAT)) ? { origin: a, normal } : undefined;
}

/** A border of a patch as an edge, a line where it is one; undefined where it is a single place. */
function borderEdge(kernel: Kernel, s: Scope, poles: readonly Vec3[], curve: () => Geom_Curve): TopoDS_Edge | undefined {
  const [a, b] = [poles[0]!, poles[poles.length - 1]!];
  if (poles.every((p) => Math.hypot(...minus(p, a)) < 1e-6)) return undefined;
  const made = isStraight(poles)
    ? s.keep(new kernel.BRepBuilderAPI_MakeEdge(s.keep(new kernel.gp_Pnt(...a)), s.keep(new kernel.gp_Pnt(...b))))
    : s.keep(new kernel.BRepBuilderAPI_MakeEdge(curve()));
  return made.Edge();
}

/** A patch as a face, which is a plane where the patch lies in one, so that drawings, holes and rounds find it flat. */
function faceOf(kernel: Kernel, s: Scope, f: SplineSurface, geometry: Geom_BSplineSurface): Shape | undefined {
  const plane = planeOf(f);
  if (plane) {
    const across = (j: number): readonly Vec3[] => f.poles.map((r) => r[j]!);
    const [u0, u1, v0, v1] = [f.u.knots[0]!, f.u.knots.at(-1)!, f.v.knots[0]!, f.v.knots.at(-1)!];
    const last = f.poles[0]!.length - 1;
    const edges = [
      borderEdge(kernel, s, across(0), () => geometry.VIso(v0)),
      borderEdge(kernel, s, f.poles.at(-1)!, () => geometry.UIso(u1)),
      borderEdge(kernel, s, across(last), () => geometry.VIso(v1)),
      borderEdge(kernel, s, f.poles[0]!, () => geometry.UIso(u0)),
    ];
    const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
    for (const e of edges) if (e) wire.Add(e);
    if (wire.IsDone()) {
      const pln = s.keep(new kernel.gp_Pln(s.keep(new kernel.gp_Pnt(...plane.origin)), s.keep(new kernel.gp_Dir(...plane.normal))));
      const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(pln, wire.Wire(), true));
      if (face.IsDone()) return face.Face();
    }
  }
  const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(geometry, 1e-7));
  return face.IsDone() ? face.Face() : undefined;
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
  const given: Given[] = [];
  const made = patches.map((row) => row.map((p) => ({ geometry: kernelSurface(kernel, s, p.surface), ...p })));
  for (const row of made)
    for (const p of row) {
      const face = faceOf(kernel, s, p.surface, p.geometry);
      if (!face) return undefined;
      given.push({ face, name: p.name });
    }
  for (const [cap, row, last] of [
    [caps.start, made[0]!, false],
    [caps.end, made[made.length - 1]!, true],
  ] as const) {
    if (!cap) continue;
    const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
    for (const p of row) {
      const { knots } = p.surface.v;
      const poles = p.surface.poles.map((r) => r[last ? r.length - 1 : 0]!);
      const edge = borderEdge(kernel, s, poles, () => p.geometry.VIso(last ? knots[knots.length - 1]! : knots[0]!));
      if (edge) wire.Add(edge);
    }
    if (!wire.IsDone()) return undefined;
    const plane = s.keep(new kernel.gp_Pln(s.keep(new kernel.gp_Pnt(...cap.origin)), s.keep(new kernel.gp_Dir(...cap.normal))));
    const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(plane, wire.Wire(), true));
    if (!face.IsDone()) return undefined;
    given.push({ face: face.Face(), name: cap.name });
  }
  return sewFaces(kernel, s, given, open);
}

export interface Given {
  readonly face: Shape;
  readonly name: string;
}

/**
 * The solid that faces close, or the surface they make.
 * @param open leave it a surface with borders
 * @returns undefined where a solid does not close
 */
export function sewFaces(kernel: Kernel, s: Scope, given: readonly Given[], open = false): { shape: Shape; claims: Claim[] } | undefined {
  const sewing = s.keep(new kernel.BRepBuilderAPI_Sewing(1e-5, true, true, true, false));
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
  return checkedSkin(kernel, done.value, open, stepId, volume);
}

/** A skin or a solid of faces, verified and named. @param volume allowed volume of a solid, mm³ */
export function checkedSkin(
  kernel: Kernel,
  { shape, claims }: { readonly shape: Shape; readonly claims: readonly Claim[] },
  open: boolean,
  stepId: string,
  volume?: readonly [number, number],
): Result<KernelBody, { readonly why: string; readonly failed: 'check'; readonly at?: Vec3 }> {
  const verified = open ? verifySurface(kernel, shape) : verifySolid(kernel, shape, volume ? { volume } : {});
  if (!verified.ok)
    return fail({
      why: open || verified.error.check === 'lobe' ? verified.error.why : `${verified.error.why}: the skin runs through itself`,
      failed: 'check',
      ...(verified.error.at ? { at: verified.error.at } : {}),
    });
  return ok((open ? asSurface : asBody)(verified.value, nameFaces(kernel, verified.value.shape, claims, stepId)));
}
