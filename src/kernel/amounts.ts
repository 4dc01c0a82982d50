/** Area, volume and centroid of faces by integrals of the product's own: those of the kernel take seconds on trimmed spline faces. */
import type {
  BRepAdaptor_Curve2d,
  BRepAdaptor_Surface,
  GeomAbs_SurfaceType,
  NCollection_Array1_double,
  TopoDS_Face,
} from 'replicad-opencascadejs';
import { along, cross, dot, minus, type Vec3 } from '../core/geometry/vectors';
import {
  angleBreaks,
  type BorderPiece,
  type Flow,
  flowWithin,
  type Patch,
  type PoleSurface,
  patchOf,
  splinePatch,
  stripFlow,
  total,
} from '../core/surfaces/flow';
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
    const border: BorderPiece[] = [];
    const gaps: Flow[] = [];
    const explorer = s.keep(new kernel.TopExp_Explorer(face, 'TopAbs_EDGE'));
    for (; explorer.More(); explorer.Next()) {
      const edge = s.keep(kernel.TopoDS.Edge(s.keep(explorer.Current())));
      const way = edge.Orientation();
      if (way !== 'TopAbs_FORWARD' && way !== 'TopAbs_REVERSED') continue;
      const pieces = piecesOf(kernel, s, edge, face, way === 'TopAbs_REVERSED');
      border.push(...pieces);
      if (kernel.BRep_Tool.Tolerance(edge) > TIGHT && !kernel.BRep_Tool.Degenerated(edge)) gaps.push(gapAt(kernel, s, edge, face, pieces));
    }
    return total([flowWithin(patchOn(kernel, s, face), border), ...gaps]);
  });
}

/** Edges that faces may miss by more than this, mm, have a strip between the face and the edge that counts: a skin with gaps has no volume of its own. */
const TIGHT = 1e-5;

/** What the strip adds that closes a face up to an edge it does not quite reach: the shapes of a hollow miss theirs by up to 0.02 mm. */
function gapAt(kernel: Kernel, s: Scope, edge: Edge, face: TopoDS_Face, pieces: readonly BorderPiece[]): Flow {
  const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
  const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
  const point = s.keep(new kernel.gp_Pnt());
  const [u, v] = [s.keep(new kernel.gp_Vec()), s.keep(new kernel.gp_Vec())];
  return stripFlow(pieces, (t, [a, b]) => {
    curve.D1(t, point, u);
    const [on, along] = [xyzOf(point), xyzOf(u)];
    surface.D1(a, b, point, u, v);
    return { on, along, from: xyzOf(point), normal: cross(xyzOf(u), xyzOf(v)) };
  });
}

type Edge = ReturnType<Kernel['TopoDS']['Edge']>;

/** Pieces of a line that bends as it likes within one stretch, such as a whole circle: each is good for one rule. */
const BENT = 16;

/** Whether every stretch of a line is a polynomial of low degree: a circle as a spline is not. */
const isPlainSpline = (curve: BRepAdaptor_Curve2d): boolean =>
  (curve.GetType() === 'GeomAbs_BSplineCurve' || curve.GetType() === 'GeomAbs_BezierCurve') && !curve.IsRational() && curve.Degree() <= 3;

/** The line of an edge in the parameters of its face, parted where it is not smooth. */
function piecesOf(kernel: Kernel, s: Scope, edge: Edge, face: TopoDS_Face, back: boolean): BorderPiece[] {
  const curve = s.keep(new kernel.BRepAdaptor_Curve2d(edge, face));
  const [point, slope] = [s.keep(new kernel.gp_Pnt2d()), s.keep(new kernel.gp_Vec2d())];
  const count = curve.NbIntervals('GeomAbs_CN');
  const ends = s.keep(new kernel.NCollection_Array1_double(1, count + 1));
  curve.Intervals(ends, 'GeomAbs_CN');
  const parts = curve.GetType() === 'GeomAbs_Line' || isPlainSpline(curve) ? 1 : BENT;
  const at = (t: number): readonly [number, number, number, number] => {
    curve.D1(t, point, slope);
    return [point.X(), point.Y(), slope.X(), slope.Y()];
  };
  const out: BorderPiece[] = [];
  for (let i = 1; i <= count; i++) {
    const [a, b] = [ends.Value(i), ends.Value(i + 1)];
    for (let k = 0; k < parts; k++) {
      const [from, to] = [a + ((b - a) * k) / parts, a + ((b - a) * (k + 1)) / parts];
      out.push(back ? { from: to, to: from, at } : { from, to, at });
    }
  }
  return out;
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
  const breaks = (count: number, round: boolean, fill: (into: NCollection_Array1_double) => void): number[] => {
    const list = s.keep(new kernel.NCollection_Array1_double(1, count + 1));
    fill(list);
    const all = Array.from({ length: count + 1 }, (_, i) => list.Value(i + 1));
    // Where a surface goes round, or is smooth all along, parts of it.
    const parts = round || count === 1 ? 8 : 1;
    return [
      ...all.slice(1).flatMap((to, i) => Array.from({ length: parts }, (_, k) => all[i]! + ((to - all[i]!) * k) / parts)),
      all[count]!,
    ];
  };
  return patchOf(
    [
      breaks(surface.NbUIntervals('GeomAbs_CN'), surface.IsUPeriodic(), (a) => surface.UIntervals(a, 'GeomAbs_CN')),
      breaks(surface.NbVIntervals('GeomAbs_CN'), surface.IsVPeriodic(), (a) => surface.VIntervals(a, 'GeomAbs_CN')),
    ],
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
    },
  );
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

/** Radius and height over v with their derivatives: a half profile in the plane of u = 0. */
type Half = (v: number) => readonly [number, number, number, number];

/** A surface turned round a line: u is the angle. `x`, `y` and `z` are its own directions, `z` that of the line. */
function turned(origin: Vec3, [x, y, z]: readonly [Vec3, Vec3, Vec3], half: Half, bent: boolean): Patch {
  const angles = angleBreaks(-4 * Math.PI, 4 * Math.PI);
  return patchOf([angles, bent ? angles : []], (u, v, out) => {
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
  return turned(middle, [x, y, scaled(rise, 1 / dh)], (t) => [radius + (t - v) * dr, (t - v) * dh, dr, dh], false);
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
  return turned(origin, axes, (v) => [major + r * Math.cos(v), r * Math.sin(v), -r * Math.sin(v), r * Math.cos(v)], true);
}

/** Surfaces that have a formula, read off a few of their places. */
const formulas: Partial<Record<GeomAbs_SurfaceType, (ask: Ask) => Patch>> = {
  GeomAbs_Plane: plane,
  GeomAbs_Cylinder: conical,
  GeomAbs_Cone: conical,
  GeomAbs_Sphere: (ask) => round(ask, false),
  GeomAbs_Torus: (ask) => round(ask, true),
};

/** Poles, weights and knots of a spline face, a periodic one unrolled: a border may lie beyond the seam by less than a turn. */
function polesOf(s: Scope, adaptor: BRepAdaptor_Surface): PoleSurface {
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
