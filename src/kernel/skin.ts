/** Spline surfaces computed in core, closed off with flat caps and sewn to a solid. */
import type { Geom_BSplineSurface, Geom_Curve, TopoDS_Edge } from 'replicad-opencascadejs';
import { cross, distance, dot, minus, unit, type Vec3 } from '../core/geometry/vectors';
import { fail, ok, type Result } from '../core/result';
import { dimension, multiplicities, type SplineSurface } from '../core/surfaces/space';
import { asBody, asSurface, type KernelBody } from './body';
import { type Claim, nameFaces } from './names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import { type Given, sew, solidWithin } from './sewing';
import { verifySurface } from './surface';
import { verifySolid } from './verify';

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
  const [u, v] = [multiplicities(f.u), multiplicities(f.v)];
  return new kernel.Geom_BSplineSurface(
    poles,
    reals(u.knots),
    reals(v.knots),
    integers(u.counts),
    integers(v.counts),
    f.u.degree,
    f.v.degree,
    f.u.periodic,
    f.v.periodic,
  );
}

/** Poles this near to a line or a plane lie in it, mm. */
const FLAT = 1e-7;

const isStraight = (poles: readonly Vec3[]): boolean => {
  const way = minus(poles[poles.length - 1]!, poles[0]!);
  if (Math.hypot(...way) < 1e-6) return false;
  const d = unit(way)!;
  return poles.every((p) => Math.hypot(...cross(minus(p, poles[0]!), d)) < FLAT);
};

/** The plane a patch lies in; undefined where it bends, goes round, or is nothing. */
function planeOf(f: SplineSurface): Pick<Cap, 'origin' | 'normal'> | undefined {
  if (f.u.periodic || f.v.periodic) return undefined;
  const [first, last] = [f.poles[0]!, f.poles[f.poles.length - 1]!];
  const origin = first[0]!;
  const across = cross(minus(last[last.length - 1]!, origin), minus(first[first.length - 1]!, last[0]!));
  if (Math.hypot(...across) < 1e-9) return undefined;
  const normal = unit(across)!;
  return f.poles.every((r) => r.every((p) => Math.abs(dot(minus(p, origin), normal)) < FLAT)) ? { origin, normal } : undefined;
}

/** A border of a patch as an edge, a line where it is one; undefined where it is a single place. */
function borderEdge(kernel: Kernel, s: Scope, poles: readonly Vec3[], curve: () => Geom_Curve): TopoDS_Edge | undefined {
  const [a, b] = [poles[0]!, poles[poles.length - 1]!];
  if (poles.every((p) => distance(p, a) < 1e-6)) return undefined;
  const made = isStraight(poles)
    ? s.keep(new kernel.BRepBuilderAPI_MakeEdge(s.keep(new kernel.gp_Pnt(...a)), s.keep(new kernel.gp_Pnt(...b))))
    : s.keep(new kernel.BRepBuilderAPI_MakeEdge(curve()));
  return made.Edge();
}

/** The border across a patch where it begins lengthwise, or where it ends. */
function edgeAcross(kernel: Kernel, s: Scope, f: SplineSurface, geometry: Geom_BSplineSurface, end: boolean): TopoDS_Edge | undefined {
  const { knots } = f.v;
  const poles = f.poles.map((r) => r[end ? r.length - 1 : 0]!);
  return borderEdge(kernel, s, poles, () => geometry.VIso(knots[end ? knots.length - 1 : 0]!));
}

/** A face in a plane within edges end to end. Undefined where the kernel makes none. */
function flatWithin(
  kernel: Kernel,
  s: Scope,
  plane: Pick<Cap, 'origin' | 'normal'>,
  edges: readonly (TopoDS_Edge | undefined)[],
): Shape | undefined {
  const wire = s.keep(new kernel.BRepBuilderAPI_MakeWire());
  for (const e of edges) if (e) wire.Add(e);
  if (!wire.IsDone()) return undefined;
  const pln = s.keep(new kernel.gp_Pln(s.keep(new kernel.gp_Pnt(...plane.origin)), s.keep(new kernel.gp_Dir(...plane.normal))));
  const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(pln, wire.Wire(), true));
  return face.IsDone() ? face.Face() : undefined;
}

/** A patch as a face, which is a plane where the patch lies in one, so that drawings, holes and rounds find it flat. */
function faceOf(kernel: Kernel, s: Scope, f: SplineSurface, geometry: Geom_BSplineSurface): Shape | undefined {
  const plane = planeOf(f);
  const { knots } = f.u;
  const flat =
    plane &&
    flatWithin(kernel, s, plane, [
      edgeAcross(kernel, s, f, geometry, false),
      borderEdge(kernel, s, f.poles[f.poles.length - 1]!, () => geometry.UIso(knots[knots.length - 1]!)),
      edgeAcross(kernel, s, f, geometry, true),
      borderEdge(kernel, s, f.poles[0]!, () => geometry.UIso(knots[0]!)),
    ]);
  if (flat) return flat;
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
    const face = flatWithin(
      kernel,
      s,
      cap,
      row.map((p) => edgeAcross(kernel, s, p.surface, p.geometry, last)),
    );
    if (!face) return undefined;
    given.push({ face, name: cap.name });
  }
  return sewFaces(kernel, s, given, open);
}

/**
 * The solid that faces close, or the surface they make.
 * @param open leave it a surface with borders
 * @returns undefined where a solid does not close
 */
export function sewFaces(kernel: Kernel, s: Scope, given: readonly Given[], open = false): { shape: Shape; claims: Claim[] } | undefined {
  const { shape: shell, claims, free, alone } = sew(kernel, s, given, 1e-5);
  if (!open && free > 0) return undefined;
  if (shell.ShapeType() !== 'TopAbs_SHELL') return undefined;
  if (alone) shell.Closed(!open);
  return { shape: open ? shell : solidWithin(kernel, s, shell), claims };
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

/** Surfaces one beside the other as one skin, called by the step and numbered where they are several; verified. */
export function sideBySide(
  kernel: Kernel,
  surfaces: readonly SplineSurface[],
  name: string,
  stepId: string,
): Result<KernelBody, { readonly why: string; readonly at?: Vec3 }> {
  const named = surfaces.map((surface, i) => ({ surface, name: `${stepId}/${name}${surfaces.length > 1 ? `.${i + 1}` : ''}` }));
  const built = attempt(kernel, () => scoped((s) => sewn(kernel, s, [named], {}, true)));
  if (!built.ok || !built.value) return fail({ why: built.ok ? 'its skin does not hang together' : built.error });
  return checkedSkin(kernel, built.value, true, stepId);
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
