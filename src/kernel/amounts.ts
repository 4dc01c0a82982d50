/** Area, volume and centroid of faces by integrals of the product's own: those of the kernel take seconds on trimmed spline faces. */
import type {
  BRepAdaptor_Curve2d,
  BRepAdaptor_Surface,
  GeomAbs_SurfaceType,
  gp_Pnt,
  gp_Vec,
  NCollection_Array1_double,
  TopoDS_Face,
} from 'replicad-opencascadejs';
import { polynomialThrough } from '../core/curves/newton';
import { along, cross, dot, minus, type Vec3 } from '../core/geometry/vectors';
import {
  angleBreaks,
  type BorderLine,
  type BorderPiece,
  beyond,
  type Flow,
  flowWithin,
  inParts,
  offsetPatch,
  type Patch,
  type PlaceFormula,
  patchOf,
  splinePatch,
  stripFlow,
  total,
} from '../core/surfaces/flow';
import type { PoleSurface } from '../core/surfaces/spline';
import { type Kernel, type Scope, type Shape, scoped } from './open';
import { facesOf, hashOf, xyzOf } from './shapes';

/** Faces whose flow is remembered at a time. */
const REMEMBERED = 500;

interface Known {
  readonly face: TopoDS_Face;
  readonly flow: Flow;
}
/** By the hash of the face; the handles keep what they stand for, so that a hash always means what it meant. */
const remembered = new WeakMap<Kernel, Map<number, Known[]>>();

/** What a face adds to its skin, signed by how it lies in it. Faces that several bodies share are integrated once. */
function flowOf(kernel: Kernel, face: TopoDS_Face): Flow {
  let table = remembered.get(kernel);
  if (!table) {
    table = new Map();
    remembered.set(kernel, table);
  }
  const hash = hashOf(kernel, face);
  const sign = face.Orientation() === 'TopAbs_REVERSED' ? -1 : 1;
  let known = table.get(hash)?.find((k) => k.face.IsSame(face));
  if (!known) {
    if (table.size >= REMEMBERED) forget(table);
    // A handle of its own: the caller's may be given back.
    known = { face: kernel.TopoDS.Face(face.Oriented('TopAbs_FORWARD')), flow: integrate(kernel, face) };
    // Read again: what was forgotten may have been of this hash.
    table.set(hash, [...(table.get(hash) ?? []), known]);
  }
  const { area, volume, moment } = known.flow;
  return { area, volume: sign * volume, moment: [sign * moment[0], sign * moment[1], sign * moment[2]] };
}

/** The older half goes. */
function forget(table: Map<number, Known[]>): void {
  let left = table.size / 2;
  for (const [hash, list] of table) {
    if (left-- <= 0) return;
    for (const k of list) k.face.delete();
    table.delete(hash);
  }
}

/** Of a face as if it looked the way its surface does. */
function integrate(kernel: Kernel, any: TopoDS_Face): Flow {
  return scoped((s) => {
    const face = s.keep(kernel.TopoDS.Face(s.keep(any.Oriented('TopAbs_FORWARD'))));
    const patch = patchOn(kernel, s, face);
    const flat = s.keep(new kernel.BRepAdaptor_Surface(face, true)).GetType() === 'GeomAbs_Plane';
    const border: BorderLine[] = [];
    const gaps: Flow[] = [];
    const wires = s.keep(new kernel.TopExp_Explorer(face, 'TopAbs_WIRE'));
    for (; wires.More(); wires.Next()) {
      const line: BorderPiece[] = [];
      const explorer = s.keep(new kernel.TopExp_Explorer(s.keep(wires.Current()), 'TopAbs_EDGE'));
      for (; explorer.More(); explorer.Next()) {
        const edge = s.keep(kernel.TopoDS.Edge(s.keep(explorer.Current())));
        const way = edge.Orientation();
        if (way !== 'TopAbs_FORWARD' && way !== 'TopAbs_REVERSED') continue;
        const pieces = piecesOf(kernel, s, edge, face, way === 'TopAbs_REVERSED', flat);
        line.push(...pieces);
        if (kernel.BRep_Tool.Tolerance(edge) > TIGHT && !kernel.BRep_Tool.Degenerated(edge))
          gaps.push(gapAt(kernel, s, edge, face, patch, pieces));
      }
      border.push(line);
    }
    return total([flowWithin(patch, border), ...gaps]);
  });
}

/** Edges that faces may miss by more than this, mm, have a strip between the face and the edge that counts: a skin with gaps has no volume of its own. */
const TIGHT = 1e-5;

/** What the strip adds that closes a face up to an edge it does not quite reach: the shapes of a hollow miss theirs by up to 0.02 mm. */
function gapAt(kernel: Kernel, s: Scope, edge: Edge, face: TopoDS_Face, patch: Patch, pieces: readonly BorderPiece[]): Flow {
  const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
  const point = s.keep(new kernel.gp_Pnt());
  const [u, v] = [s.keep(new kernel.gp_Vec()), s.keep(new kernel.gp_Vec())];
  const out = new Float64Array(9);
  const place = patch.place ?? byKernel(s.keep(new kernel.BRepAdaptor_Surface(face, true)), point, u, v);
  return stripFlow(pieces, (t, [a, b]) => {
    curve.D1(t, point, u);
    const [on, along] = [xyzOf(point), xyzOf(u)];
    place(a, b, out);
    const three = (k: number): Vec3 => [out[k]!, out[k + 1]!, out[k + 2]!];
    return { on, along, from: three(0), normal: cross(three(3), three(6)) };
  });
}

/** Places of a surface as the kernel tells them. */
const byKernel =
  (surface: BRepAdaptor_Surface, p: gp_Pnt, du: gp_Vec, dv: gp_Vec): PlaceFormula =>
  (a, b, out) => {
    surface.D1(a, b, p, du, dv);
    out[0] = p.X();
    out[1] = p.Y();
    out[2] = p.Z();
    out[3] = du.X();
    out[4] = du.Y();
    out[5] = du.Z();
    out[6] = dv.X();
    out[7] = dv.Y();
    out[8] = dv.Z();
  };

type Edge = ReturnType<Kernel['TopoDS']['Edge']>;

/** Pieces of a line that bends as it likes within one stretch: each is good for one rule. */
const BENT = 16;
/** A circle on a plane is good for one rule over so much of a turn, rad: third powers of its places are right to 1e-12. */
const ROUND = Math.PI / 4;

/** One piece for so many degrees of a polynomial. */
const DEGREES_A_PIECE = 3;

/** Of polynomials up to this degree a stretch is read from as many places, and worth no question to the kernel after that. */
const READ = 9;

/** Degree of the polynomials that a line's stretches are; undefined where they are none: a circle as a spline is not. */
function degreeOf(curve: Pick<BRepAdaptor_Curve2d, 'GetType' | 'IsRational' | 'Degree'>): number | undefined {
  const kind = curve.GetType();
  if (kind === 'GeomAbs_Line') return 1;
  return (kind === 'GeomAbs_BSplineCurve' || kind === 'GeomAbs_BezierCurve') && !curve.IsRational() && curve.Degree() <= READ
    ? curve.Degree()
    : undefined;
}

interface Knots {
  readonly NbKnots: () => number;
  readonly Knot: (i: number) => number;
  readonly IsPeriodic: () => boolean;
  readonly delete: () => void;
}

/**
 * Where the smooth stretches of a line begin and end: of a spline at its knots. The kernel takes those for smooth where a quintic has four
 * derivatives, and what was one polynomial from end to end by that had another area.
 */
function stretchesOf(
  s: Scope,
  curve: { readonly GetType: () => string; readonly BSpline: () => Knots },
  [from, to]: readonly [number, number],
  otherwise: () => number[],
): number[] {
  if (curve.GetType() !== 'GeomAbs_BSplineCurve') return otherwise();
  const spline = s.keep(curve.BSpline());
  const near = 1e-9 * (to - from);
  const knots = Array.from({ length: spline.NbKnots() }, (_, i) => spline.Knot(i + 1));
  const period = spline.IsPeriodic() ? knots.at(-1)! - knots[0]! : 0;
  // One that closes may be run through from anywhere.
  const all = period > 0 ? [-2, -1, 0, 1, 2].flatMap((k) => knots.map((t) => t + k * period)) : knots;
  const inner = all.filter((t) => t > from + near && t < to - near).sort((a, b) => a - b);
  return [from, ...inner.filter((t, i) => i === 0 || t - inner[i - 1]! > near), to];
}

/** The line of an edge in the parameters of its face, parted where it is not smooth. @param flat the face is plane */
function piecesOf(kernel: Kernel, s: Scope, edge: Edge, face: TopoDS_Face, back: boolean, flat: boolean): BorderPiece[] {
  const curve = s.keep(new kernel.BRepAdaptor_Curve2d(edge, face));
  const [point, slope] = [s.keep(new kernel.gp_Pnt2d()), s.keep(new kernel.gp_Vec2d())];
  const ends = stretchesOf(s, curve, [curve.FirstParameter(), curve.LastParameter()], () =>
    listOf(kernel, s, curve.NbIntervals('GeomAbs_CN'), (a) => curve.Intervals(a, 'GeomAbs_CN')),
  );
  const degree = degreeOf(curve);
  const round = ['GeomAbs_Circle', 'GeomAbs_Ellipse'].includes(curve.GetType());
  const asked = (t: number): readonly [number, number, number, number] => {
    curve.D1(t, point, slope);
    return [point.X(), point.Y(), slope.X(), slope.Y()];
  };
  const swings = round
    ? swung((t) => {
        const [x, y] = asked(t);
        return [x, y];
      })
    : undefined;
  const partsOf = (a: number, b: number): number =>
    degree !== undefined ? Math.ceil(degree / DEGREES_A_PIECE) : round && flat ? Math.ceil(Math.abs(b - a) / ROUND - 1e-9) : BENT;
  return ends.slice(1).flatMap((b, i) => {
    const a = ends[i]!;
    const at = swings ?? (degree === undefined ? asked : polynomialThrough(degree, a, b, asked));
    const cuts = inParts([a, b], partsOf(a, b));
    return cuts.slice(1).map((to, k): BorderPiece => (back ? { from: to, to: cuts[k]!, at } : { from: cuts[k]!, to, at }));
  });
}

/** The surface of a face: by formula where it has one, by its poles where it is a spline, and by asking the kernel else. */
function patchOn(kernel: Kernel, s: Scope, face: TopoDS_Face): Patch {
  const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
  const kind = surface.GetType();
  if (kind === 'GeomAbs_BSplineSurface') return splinePatch(polesOf(s, surface));
  const [p, du, dv] = [s.keep(new kernel.gp_Pnt()), s.keep(new kernel.gp_Vec()), s.keep(new kernel.gp_Vec())];
  const formula = formulas[kind];
  if (formula)
    return formula((u, v) => {
      surface.D1(u, v, p, du, dv);
      return { at: xyzOf(p), du: xyzOf(du), dv: xyzOf(dv) };
    });
  const known =
    kind === 'GeomAbs_SurfaceOfRevolution'
      ? revolved(kernel, s, surface)
      : kind === 'GeomAbs_SurfaceOfExtrusion'
        ? pushed(kernel, s, surface)
        : kind === 'GeomAbs_OffsetSurface'
          ? carriedOut(kernel, s, surface)
          : undefined;
  if (known) return known;
  const breaks = (count: number, round: boolean, fill: Fill): number[] =>
    // Where a surface goes round, or is smooth all along, parts of it.
    inParts(listOf(kernel, s, count, fill), round || count === 1 ? 8 : 1);
  return patchOf(
    [
      breaks(surface.NbUIntervals('GeomAbs_CN'), surface.IsUPeriodic(), (a) => surface.UIntervals(a, 'GeomAbs_CN')),
      breaks(surface.NbVIntervals('GeomAbs_CN'), surface.IsVPeriodic(), (a) => surface.VIntervals(a, 'GeomAbs_CN')),
    ],
    byKernel(surface, p, du, dv),
  );
}

type Fill = (into: NCollection_Array1_double) => void;

/** Where the smooth stretches of a way begin and end. */
function listOf(kernel: Kernel, s: Scope, count: number, fill: Fill): number[] {
  const list = s.keep(new kernel.NCollection_Array1_double(1, count + 1));
  fill(list);
  return Array.from({ length: count + 1 }, (_, i) => list.Value(i + 1));
}

type Ask = (u: number, v: number) => { readonly at: Vec3; readonly du: Vec3; readonly dv: Vec3 };

const plane = (ask: Ask): Patch => {
  const { at, du, dv } = ask(0, 0);
  return patchOf([[], []], (u, v, out) => {
    for (let c = 0; c < 3; c++) {
      out[c] = at[c]! + u * du[c]! + v * dv[c]!;
      out[3 + c] = du[c]!;
      out[6 + c] = dv[c]!;
    }
  });
};

const ANGLES = angleBreaks(-4 * Math.PI, 4 * Math.PI);

/** Radius and height over v with their derivatives: a half profile in the plane of u = 0. */
type Half = (v: number) => readonly [number, number, number, number];

/** A surface turned round a line: u is the angle. `x`, `y` and `z` are its own directions, `z` that of the line. */
function turned(origin: Vec3, [x, y, z]: readonly [Vec3, Vec3, Vec3], half: Half, breaks: readonly number[]): Patch {
  return patchOf([ANGLES, breaks], (u, v, out) => {
    const [r, h, dr, dh] = half(v);
    const [c, sn] = [Math.cos(u), Math.sin(u)];
    for (let k = 0; k < 3; k++) {
      const [across, round] = [c * x[k]! + sn * y[k]!, c * y[k]! - sn * x[k]!];
      out[k] = origin[k]! + r * across + h * z[k]!;
      out[3 + k] = r * round;
      out[6 + k] = dr * across + dh * z[k]!;
    }
  });
}

const between = (a: Vec3, b: Vec3): Vec3 => along(a, minus(b, a), 0.5);
const size = (a: Vec3): number => Math.hypot(a[0], a[1], a[2]);
const scaled = (a: Vec3, k: number): Vec3 => [a[0] * k, a[1] * k, a[2] * k];

/** A cylinder or cone: the half profile is a line. */
function conical(ask: Ask): Patch {
  // Anywhere but at an apex.
  const v = [0, 1].reduce((a, b) => (size(ask(0, b).du) > size(ask(0, a).du) ? b : a));
  const [here, there, aside] = [ask(0, v), ask(Math.PI, v), ask(Math.PI / 2, v)];
  const middle = between(here.at, there.at);
  const radius = size(minus(here.at, middle));
  const x = scaled(minus(here.at, middle), 1 / radius);
  const y = scaled(minus(aside.at, middle), 1 / radius);
  const rise = between(here.dv, there.dv);
  const [dh, dr] = [size(rise), dot(here.dv, x)];
  return turned(middle, [x, y, scaled(rise, 1 / dh)], (t) => [radius + (t - v) * dr, (t - v) * dh, dr, dh], []);
}

/** A ball or ring: the half profile is a circle. */
function round(ask: Ask, ring: boolean): Patch {
  const [here, there, aside, top] = [ask(0, 0), ask(Math.PI, 0), ask(Math.PI / 2, 0), ask(0, Math.PI / 2)];
  const origin = between(here.at, there.at);
  const outer = size(minus(here.at, origin));
  const r = size(here.dv);
  const major = ring ? outer - r : 0;
  const axes = [scaled(minus(here.at, origin), 1 / outer), scaled(minus(aside.at, origin), 1 / outer), scaled(here.dv, 1 / r)] as const;
  if (Math.abs(size(minus(top.at, along(along(origin, axes[0], major), axes[2], r)))) > 1e-6 * outer)
    throw new Error('not a round surface');
  return turned(origin, axes, (v) => [major + r * Math.cos(v), r * Math.sin(v), -r * Math.sin(v), r * Math.cos(v)], ANGLES);
}

/** How far a surface that was read may lie off its own places, as a share of its size. */
const READ_TRUE = 1e-10;

/** A spline, circle or ellipse turned round a line that lies in one plane with it; undefined for any other. */
function revolved(kernel: Kernel, s: Scope, surface: BRepAdaptor_Surface): Patch | undefined {
  const basis = s.keep(surface.BasisCurve());
  const degree = degreeOf(basis);
  const arc = ['GeomAbs_Circle', 'GeomAbs_Ellipse'].includes(basis.GetType());
  if (degree === undefined && !arc) return undefined;
  const line = s.keep(surface.AxeOfRevolution());
  const [origin, z] = [xyzOf(s.keep(line.Location())), xyzOf(s.keep(line.Direction()))];
  const point = s.keep(new kernel.gp_Pnt());
  const ask = (u: number, v: number): Vec3 => {
    surface.D0(u, v, point);
    return xyzOf(point);
  };
  const ends = stretchesOf(s, basis, [surface.FirstVParameter(), surface.LastVParameter()], () =>
    listOf(kernel, s, surface.NbVIntervals('GeomAbs_CN'), (a) => surface.VIntervals(a, 'GeomAbs_CN')),
  );
  const outwards = (v: number): Vec3 => {
    const from = minus(ask(0, v), origin);
    return minus(from, scaled(z, dot(from, z)));
  };
  const tried = inParts(ends, 4);
  const x = tried.map(outwards).reduce((a, b) => (size(b) > size(a) ? b : a));
  const far = size(x);
  if (!(far > 0)) return undefined;
  const axes = [scaled(x, 1 / far), scaled(cross(z, x), 1 / far), z] as const;
  const at = (v: number): readonly [number, number] => {
    const from = minus(ask(0, v), origin);
    return [dot(from, axes[0]), dot(from, z)];
  };
  const half = degree === undefined ? swung(at) : pieced(ends, degree, at);
  const patch = turned(origin, axes, half, degree === undefined ? ANGLES : inParts(ends, Math.ceil(degree / DEGREES_A_PIECE)));
  const isTrue = tried.every((v) => {
    const [r, h] = half(v);
    const angle = 1 + v;
    const place = along(along(along(origin, axes[0], r * Math.cos(angle)), axes[1], r * Math.sin(angle)), z, h);
    return size(minus(place, ask(angle, v))) <= READ_TRUE * (far + Math.abs(h));
  });
  return isTrue ? patch : undefined;
}

/** A spline pushed straight; undefined for any other line. */
function pushed(kernel: Kernel, s: Scope, surface: BRepAdaptor_Surface): Patch | undefined {
  const basis = s.keep(surface.BasisCurve());
  const degree = degreeOf(basis);
  if (degree === undefined) return undefined;
  const [p, du, dv] = [s.keep(new kernel.gp_Pnt()), s.keep(new kernel.gp_Vec()), s.keep(new kernel.gp_Vec())];
  const ends = stretchesOf(s, basis, [surface.FirstUParameter(), surface.LastUParameter()], () =>
    listOf(kernel, s, surface.NbUIntervals('GeomAbs_CN'), (a) => surface.UIntervals(a, 'GeomAbs_CN')),
  );
  surface.D1(ends[0]!, 0, p, du, dv);
  const way = xyzOf(dv);
  const ask = (u: number): Vec3 => {
    surface.D0(u, 0, p);
    return xyzOf(p);
  };
  const pieces = ends.slice(1).map((to, i) => {
    const [a, b] = [
      (u: number): readonly [number, number] => {
        const [x, y] = ask(u);
        return [x, y];
      },
      (u: number): readonly [number, number] => [ask(u)[2], 0],
    ].map((at) => polynomialThrough(degree, ends[i]!, to, at)) as [Half, Half];
    return { a, b };
  });
  return patchOf([inParts(ends, Math.ceil(degree / DEGREES_A_PIECE)), []], (u, v, out) => {
    const { a, b } = pieces[Math.min(pieces.length, Math.max(1, beyond(ends, u))) - 1]!;
    const [x, y, dx, dy] = a(u);
    const [z, , dz] = b(u);
    const [at, along] = [
      [x, y, z],
      [dx, dy, dz],
    ];
    for (let k = 0; k < 3; k++) {
      out[k] = at[k]! + v * way[k]!;
      out[3 + k] = along[k]!;
      out[6 + k] = way[k]!;
    }
  });
}

/** A spline carried along its normals; undefined for any other surface that is. */
function carriedOut(kernel: Kernel, s: Scope, surface: BRepAdaptor_Surface): Patch | undefined {
  const basis = s.keep(surface.BasisSurface());
  if (basis.GetType() !== 'GeomAbs_BSplineSurface') return undefined;
  const base = polesOf(s, basis);
  if (base.weights) return undefined;
  const patch = offsetPatch(base, surface.OffsetValue());
  const [u, v] = [
    [surface.FirstUParameter(), surface.LastUParameter()],
    [surface.FirstVParameter(), surface.LastVParameter()],
  ] as [[number, number], [number, number]];
  const point = s.keep(new kernel.gp_Pnt());
  const out = new Float64Array(9);
  const isTrue = [0.13, 0.5, 0.71].every((share) => {
    const [a, b] = [u[0] + share * (u[1] - u[0]), v[0] + (1 - share) * (v[1] - v[0])];
    surface.D0(a, b, point);
    const there = xyzOf(point);
    patch.place(a, b, out);
    return size(minus([out[0]!, out[1]!, out[2]!], there)) <= READ_TRUE * (1 + size(there));
  });
  return isTrue ? patch : undefined;
}

/** A half profile of polynomials, read off a few places of each. */
function pieced(ends: readonly number[], degree: number, at: (v: number) => readonly [number, number]): Half {
  const pieces = ends.slice(1).map((to, i) => polynomialThrough(degree, ends[i]!, to, at));
  return (v) => pieces[Math.min(pieces.length, Math.max(1, beyond(ends, v))) - 1]!(v);
}

/** A half profile that is a circle or an ellipse, by the angle. */
function swung(at: (v: number) => readonly [number, number]): Half {
  const [here, there, aside] = [at(0), at(Math.PI), at(Math.PI / 2)];
  const [r, h] = [0, 1].map((k) => {
    const middle = (here[k]! + there[k]!) / 2;
    return { middle, x: here[k]! - middle, y: aside[k]! - middle };
  }) as [{ middle: number; x: number; y: number }, { middle: number; x: number; y: number }];
  return (v) => {
    const [c, sn] = [Math.cos(v), Math.sin(v)];
    return [r.middle + c * r.x + sn * r.y, h.middle + c * h.x + sn * h.y, c * r.y - sn * r.x, c * h.y - sn * h.x];
  };
}

/** Surfaces that have a formula, read off a few of their places. */
const formulas: Partial<Record<GeomAbs_SurfaceType, (ask: Ask) => Patch>> = {
  GeomAbs_Plane: plane,
  GeomAbs_Cylinder: conical,
  GeomAbs_Cone: conical,
  GeomAbs_Sphere: (ask) => round(ask, false),
  GeomAbs_Torus: (ask) => round(ask, true),
};

/** The poles of a face whose surface is a spline; undefined of any other. */
export const splineOf = (kernel: Kernel, face: TopoDS_Face): PoleSurface | undefined =>
  scoped((s) => {
    const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
    return surface.GetType() === 'GeomAbs_BSplineSurface' ? polesOf(s, surface) : undefined;
  });

/** Poles, weights and knots of a spline face, a periodic one unrolled: a border may lie beyond the seam by less than a turn. */
function polesOf(s: Scope, adaptor: Pick<BRepAdaptor_Surface, 'BSpline'>): PoleSurface {
  const surface = s.keep(adaptor.BSpline());
  const u = wayOf(surface.UDegree(), surface.NbUKnots(), surface.NbUPoles(), surface.IsUPeriodic(), {
    knot: (i) => surface.UKnot(i),
    times: (i) => surface.UMultiplicity(i),
  });
  const v = wayOf(surface.VDegree(), surface.NbVKnots(), surface.NbVPoles(), surface.IsVPeriodic(), {
    knot: (i) => surface.VKnot(i),
    times: (i) => surface.VMultiplicity(i),
  });
  const rational = surface.IsURational() || surface.IsVRational();
  const net = Array.from({ length: surface.NbUPoles() }, (_, i) =>
    Array.from({ length: surface.NbVPoles() }, (_, j) => xyzOf(s.keep(surface.Pole(i + 1, j + 1)))),
  );
  const grid = <T>(f: (i: number, j: number) => T): T[][] => u.poles.map((i) => v.poles.map((j) => f(i, j)));
  return {
    degrees: [surface.UDegree(), surface.VDegree()],
    knots: [u.knots, v.knots],
    poles: grid((i, j) => net[i]![j]!),
    ...(rational ? { weights: grid((i, j) => surface.Weight(i + 1, j + 1)) } : {}),
  };
}

/** Turns that a periodic way is unrolled by to either side. */
const TURNS = 1;

/** Knots with their repeats and the index of the pole that each basis function stands at. */
function wayOf(
  degree: number,
  knotCount: number,
  poleCount: number,
  periodic: boolean,
  { knot, times }: { knot: (i: number) => number; times: (i: number) => number },
): { knots: number[]; poles: number[] } {
  const list = (from: number, to: number): number[] =>
    Array.from({ length: to - from + 1 }, (_, i) => new Array<number>(times(from + i)).fill(knot(from + i))).flat();
  if (!periodic) return { knots: list(1, knotCount), poles: Array.from({ length: poleCount }, (_, i) => i) };
  // One turn holds as many knots as poles. The first pole's stretch begins so many knots before the seam as the first knot leaves of degree + 1.
  const turn = list(1, knotCount - 1);
  const period = knot(knotCount) - knot(1);
  const before = degree + 1 - times(1);
  const at = (i: number): number => {
    const round = Math.floor(i / turn.length);
    return turn[i - round * turn.length]! + round * period;
  };
  const poles = (2 * TURNS + 1) * turn.length + degree;
  const first = -TURNS * turn.length;
  return {
    knots: Array.from({ length: poles + degree + 1 }, (_, i) => at(first - before + i)),
    poles: Array.from({ length: poles }, (_, i) => (((first + i) % turn.length) + turn.length) % turn.length),
  };
}

/** Volume (mm³) and centroid. */
export function volumeOf(kernel: Kernel, shape: Shape): { readonly volume: number; readonly centroid: [number, number, number] } {
  const { volume, moment } = amountsOf(kernel, shape);
  return { volume, centroid: [moment[0] / volume, moment[1] / volume, moment[2] / volume] };
}

/** Surface area in mm². */
export const areaOf = (kernel: Kernel, shape: Shape): number => amountsOf(kernel, shape).area;

/** Integrals that were taken lately, by the handle of the shape: a handle's shape never changes once it is verified. */
const amounts = new WeakMap<Shape, Flow>();

function amountsOf(kernel: Kernel, shape: Shape): Flow {
  let known = amounts.get(shape);
  if (!known) {
    known = total(facesOf(kernel, shape).map((f) => flowOf(kernel, f)));
    amounts.set(shape, known);
  }
  return known;
}
