/**
 * Whether a body that was brought in is a turned one, and its meridian: every face about one axis, all round. What has lines of a seam tells its meridian
 * by them; flat rings and discs by the circles that border them.
 */
import type { TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import type { Frame } from '../core/curves/frame';
import { piece } from '../core/curves/offset';
import { arcAbout, arcThrough, distance2, type PlanarCurve, type Point2, reverse } from '../core/curves/planar';
import { cross, distance, dot, minus, triple, unit, type Vec3 } from '../core/geometry/vectors';
import { Field, newNearest } from '../core/turned/field';
import { AXIS, curvesOf, type Meridian, type MeridianCurve, reversedLoop, signedArea, skinOf, sweptVolume } from '../core/turned/meridian';
import type { KernelBody } from './body';
import { type Kernel, type Scope, scoped } from './open';
import type { Turned } from './outlines';
import { edgesWithFaces, facesOf } from './shapes';
import { displayDeflection, tessellate } from './tessellate';
import { inHalfPlane } from './turned';

/** How far an edge may be from round, and ends from each other, mm. */
const ROUND = 2e-6;
const MEET = 1e-5;
/** The turned outline must have the body's own volume within this share: the kernel's integrals of splines are no better. */
const SAME_VOLUME = 1e-4;
/** Corners of the body's facets lie on the turned outline within this, mm. */
const ON_OUTLINE = 1e-5;

interface Line {
  readonly place: Vec3;
  readonly direction: Vec3;
}

/** @returns undefined where the body is not turned, or its faces do not go all round in one piece */
export function recogniseTurned(kernel: Kernel, body: KernelBody): Turned | undefined {
  if (body.surface || body.facets) return undefined;
  return scoped((s) => {
    const faces = facesOf(kernel, body.shape);
    const axis = axisOf(kernel, s, faces);
    if (!axis) return undefined;
    const frame = frameAbout(axis);
    const flat = (p: Vec3): Point2 => inHalfPlane(frame, p);
    const circles: { faces: readonly number[]; at: Point2 }[] = [];
    const found: { face: number; curve: PlanarCurve }[] = [];
    for (const { edge, faces: sides } of edgesWithFaces(kernel, faces)) {
      if (sides.length === 2 && sides[0] === sides[1]) {
        const curve = meridianCurve(kernel, s, edge, flat);
        if (!curve) return undefined;
        found.push({ face: sides[0]!, curve });
        continue;
      }
      const at = circleAt(kernel, s, edge, flat);
      if (!at) return undefined;
      circles.push({ faces: sides, at });
    }
    faces.forEach((face, i) => {
      if (found.some((f) => f.face === i)) return;
      if (s.keep(new kernel.BRepAdaptor_Surface(face, true)).GetType() !== 'GeomAbs_Plane') return;
      const rims = circles.filter((c) => c.faces.includes(i)).sort((a, b) => a.at.x - b.at.x);
      if (rims.length === 0 || rims.length > 2) return;
      const outer = rims[rims.length - 1]!.at;
      found.push({ face: i, curve: { kind: 'line', a: rims.length === 2 ? rims[0]!.at : { x: 0, y: outer.y }, b: outer } });
    });
    if (new Set(found.map((f) => f.face)).size !== faces.length || found.length !== faces.length) return undefined;
    const loops = loopsOf(found.map(({ face, curve }) => ({ face: body.faces[face]!, curve })));
    if (!loops) return undefined;
    const meridian: Meridian = { loops };
    if (Math.abs(sweptVolume(curvesOf(meridian)) / body.volume - 1) > SAME_VOLUME) return undefined;
    if (!liesOn(kernel, body, meridian, flat)) return undefined;
    return { frame, meridian };
  });
}

/** Whether the corners of the body's facets lie on a turned outline. */
function liesOn(kernel: Kernel, body: KernelBody, meridian: Meridian, flat: Flat): boolean {
  const field = new Field(skinOf(meridian).map((c) => c.curve));
  const near = newNearest();
  const { positions: p } = body.mesh ?? tessellate(kernel, body.shape, displayDeflection(kernel, body.shape), 0.4);
  let size = 0;
  for (const x of p) size = Math.max(size, Math.abs(x));
  // Facets are kept in single precision.
  const slack = ON_OUTLINE + 4e-7 * size;
  for (let i = 0; i < p.length; i += 3) {
    const q = flat([p[i]!, p[i + 1]!, p[i + 2]!]);
    field.nearest(q.x, q.y, near, 10 * slack);
    if (near.curve < 0 || near.distance > slack) return false;
  }
  return true;
}

/** The axis of the first face that has one; all others must share it, as far as they have their own. */
function axisOf(kernel: Kernel, s: Scope, faces: readonly TopoDS_Face[]): Line | undefined {
  let axis: Line | undefined;
  for (const face of faces) {
    const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
    const own = ownAxis(s, surface);
    if (own === null) return undefined;
    if (!own) continue;
    if (!axis) {
      axis = own;
      continue;
    }
    if (Math.abs(Math.abs(dot(axis.direction, own.direction)) - 1) > 1e-12) return undefined;
    if (Math.hypot(...cross(minus(own.place, axis.place), axis.direction)) > 1e-7) return undefined;
  }
  return axis;
}

type Surface = InstanceType<Kernel['BRepAdaptor_Surface']>;

/**
 * The axis of a face that is round about one: three places round it lie on a circle about it. Undefined for a face that is round about many, null for
 * one about none.
 */
function ownAxis(s: Scope, surface: Surface): Line | undefined | null {
  switch (surface.GetType()) {
    case 'GeomAbs_Cylinder':
    case 'GeomAbs_Cone':
    case 'GeomAbs_SurfaceOfRevolution':
    case 'GeomAbs_Torus': {
      const v = surface.FirstVParameter() + 0.37 * (surface.LastVParameter() - surface.FirstVParameter());
      const at = (u: number): Vec3 => {
        const p = s.keep(surface.EvalD0(u, v));
        return [p.X(), p.Y(), p.Z()];
      };
      const [p, q, r] = [at(0), at(2.1), at(4.2)];
      const [e, g] = [minus(q, p), minus(r, p)];
      const n = cross(e, g);
      const [ee, gg, nn] = [dot(e, e), dot(g, g), dot(n, n)];
      const [a, b] = [cross(n, e), cross(g, n)];
      const place = triple((k) => p[k]! + (gg * a[k]! + ee * b[k]!) / (2 * nn));
      const direction = unit(n);
      return direction ? { place, direction } : null;
    }
    case 'GeomAbs_Plane':
    case 'GeomAbs_Sphere':
      return undefined;
    default:
      return null;
  }
}

function frameAbout({ place, direction }: Line): Frame {
  const x = unit(cross(direction, Math.abs(direction[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0]))!;
  // Heights are those of space where the axis stands upright through the origin.
  const along = dot(place, direction);
  return { origin: minus(place, [along * direction[0], along * direction[1], along * direction[2]]), x, y: direction };
}

type Flat = (p: Vec3) => Point2;

function placesAlong(
  kernel: Kernel,
  s: Scope,
  edge: TopoDS_Edge,
): { at: (share: number) => Vec3; curve: InstanceType<Kernel['BRepAdaptor_Curve']> } {
  const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
  const [from, to] = [curve.FirstParameter(), curve.LastParameter()];
  return {
    curve,
    at: (share) => {
      const p = s.keep(curve.EvalD0(from + share * (to - from)));
      return [p.X(), p.Y(), p.Z()];
    },
  };
}

/** Radius and height of an edge that goes round the axis; undefined for another. */
function circleAt(kernel: Kernel, s: Scope, edge: TopoDS_Edge, flat: Flat): Point2 | undefined {
  const { at } = placesAlong(kernel, s, edge);
  const q = [0, 0.13, 0.29, 0.5, 0.63, 0.81, 1].map((share) => flat(at(share)));
  const spread = (f: (p: Point2) => number): number => Math.max(...q.map(f)) - Math.min(...q.map(f));
  if (spread((p) => p.x) > ROUND || spread((p) => p.y) > ROUND || distance(at(0), at(1)) > 1e-6) return undefined;
  return { x: q.reduce((sum, p) => sum + p.x, 0) / q.length, y: q.reduce((sum, p) => sum + p.y, 0) / q.length };
}

/** The line of a seam in the half plane; undefined where it is none that is known. */
function meridianCurve(kernel: Kernel, s: Scope, edge: TopoDS_Edge, flat: Flat): PlanarCurve | undefined {
  const { at, curve } = placesAlong(kernel, s, edge);
  const [a, b] = [flat(at(0)), flat(at(1))];
  switch (curve.GetType()) {
    case 'GeomAbs_Line':
      return { kind: 'line', a, b };
    case 'GeomAbs_Circle': {
      if (distance2(a, b) > 1e-9) return arcThrough(a, flat(at(0.5)), b);
      const circle = s.keep(curve.Circle());
      const p = s.keep(circle.Location());
      const centre = flat([p.X(), p.Y(), p.Z()]);
      const next = flat(at(0.1));
      const from = Math.atan2(a.y - centre.y, a.x - centre.x);
      const turn = Math.sin(Math.atan2(next.y - centre.y, next.x - centre.x) - from);
      return arcAbout(centre, circle.Radius(), from, turn > 0 ? 2 * Math.PI : -2 * Math.PI);
    }
    case 'GeomAbs_BSplineCurve': {
      const spline = s.keep(curve.BSpline());
      if (spline.IsRational() || spline.IsPeriodic()) return undefined;
      const poles = Array.from({ length: spline.NbPoles() }, (_, i) => {
        const p = s.keep(spline.Pole(i + 1));
        const q = flat([p.X(), p.Y(), p.Z()]);
        return [q.x, q.y];
      });
      const knots: number[] = [];
      for (let i = 1; i <= spline.NbKnots(); i++) for (let k = 0; k < spline.Multiplicity(i); k++) knots.push(spline.Knot(i));
      const [k0, k1] = [knots[0]!, knots[knots.length - 1]!];
      const whole: PlanarCurve = {
        kind: 'spline',
        a: { x: poles[0]![0]!, y: poles[0]![1]! },
        b: { x: poles.at(-1)![0]!, y: poles.at(-1)![1]! },
        spline: { degree: spline.Degree(), knots: knots.map((k) => (k - k0) / (k1 - k0)), poles },
      };
      const [u, v] = [(curve.FirstParameter() - k0) / (k1 - k0), (curve.LastParameter() - k0) / (k1 - k0)];
      return u < 1e-9 && v > 1 - 1e-9 ? whole : piece(whole, Math.max(0, u), Math.min(1, v));
    }
    default:
      return undefined;
  }
}

/** Curves end to end, what ends on the axis closed along it; undefined where they do not close. */
function loopsOf(curves: readonly MeridianCurve[]): MeridianCurve[][] | undefined {
  const left = [...curves];
  const rings: MeridianCurve[][] = [];
  const open: MeridianCurve[][] = [];
  const near = (p: Point2, q: Point2): boolean => distance2(p, q) < MEET;
  while (left.length > 0) {
    const chain = [left.shift()!];
    for (let grown = true; grown; ) {
      grown = false;
      const [head, tail] = [chain[0]!.curve.a, chain[chain.length - 1]!.curve.b];
      if (near(head, tail) && (chain.length > 1 || chain[0]!.curve.kind === 'arc')) break;
      for (const [i, { curve, face }] of left.entries()) {
        const turned = { face, curve: reverse(curve) };
        if (tail.x > MEET && near(curve.a, tail)) chain.push({ face, curve });
        else if (tail.x > MEET && near(curve.b, tail)) chain.push(turned);
        else if (head.x > MEET && near(curve.b, head)) chain.unshift({ face, curve });
        else if (head.x > MEET && near(curve.a, head)) chain.unshift(turned);
        else continue;
        left.splice(i, 1);
        grown = true;
        break;
      }
    }
    const [head, tail] = [chain[0]!.curve.a, chain[chain.length - 1]!.curve.b];
    if (near(head, tail) && head.x > MEET) rings.push(chain);
    else if (head.x <= MEET && tail.x <= MEET) open.push(chain);
    else return undefined;
  }
  // Along the axis the material lies between the first and the second end by height, the third and the fourth …
  const ends = open
    .flatMap((chain, i) => [
      { i, first: true, y: chain[0]!.curve.a.y },
      { i, first: false, y: chain[chain.length - 1]!.curve.b.y },
    ])
    .sort((a, b) => a.y - b.y);
  const loops = [...rings];
  const used = new Set<number>();
  for (let start = 0; start < open.length; start++) {
    if (used.has(start)) continue;
    const loop: MeridianCurve[] = [];
    let at = ends.findIndex((e) => e.i === start);
    const first = at;
    do {
      const e = ends[at]!;
      used.add(e.i);
      loop.push(...(e.first ? open[e.i]! : reversedLoop(open[e.i]!)));
      const out = ends.findIndex((x) => x.i === e.i && x.first !== e.first);
      const partner = out ^ 1;
      loop.push({ face: AXIS, curve: { kind: 'line', a: { x: 0, y: ends[out]!.y }, b: { x: 0, y: ends[partner]!.y } } });
      at = partner;
    } while (at !== first);
    loops.push(loop);
  }
  // The largest is the outside.
  const sized = loops.map((l) => ({ l, area: signedArea(l) })).sort((a, b) => Math.abs(b.area) - Math.abs(a.area));
  return sized.map(({ l, area }, i) => ((i === 0) === area > 0 ? l : reversedLoop(l)));
}
