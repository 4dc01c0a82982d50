/** Takes measurements on the exact shapes: a point, an edge or a face to anything. */
import type { TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import { spaceAt } from '../../core/curves/path';
import { along, dot, minus, unit, type Vec3 } from '../../core/geometry/vectors';
import { angleBetween, type LostMeasure, lineToLine, type MeasureReading, type ThingReading } from '../../core/inspect/measured';
import { sameFace } from '../../core/recipe/names';
import type { MeasuredThing, Measurement } from '../../core/recipe/schema';
import { fail, ok, type Result } from '../../core/result';
import { areaOf } from '../amounts';
import type { KernelBody } from '../body';
import { namedEdges } from '../names';
import { type Kernel, type Shape, scoped } from '../open';
import { edgeCurve } from '../refer';
import { distanceBetween, facesOf, lengthOf, vertexAt, xyzOf } from '../shapes';
import { type NearFace, nearFace } from './nearest';

/** A thing found again on its body. */
interface Found {
  readonly shape: Shape;
  readonly reading: ThingReading;
  /** Of a line, a flat face (square to it) or a round thing's axis. */
  readonly direction: Vec3 | null;
  /** A line through the middle: axis of a circle or a cylinder; a ball's centre has no direction. */
  readonly centre: Vec3 | null;
  /** Direction at a place: of an edge along it, of a face square to it. */
  readonly directionAt: (p: Vec3) => Vec3 | null;
  /** Its direction lies in it (a line) and is not square to it (a plane). */
  readonly along: boolean;
}

function foundEdge(kernel: Kernel, edge: TopoDS_Edge): Found {
  return scoped((s): Found => {
    const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
    const [t0, t1] = [curve.FirstParameter(), curve.LastParameter()];
    const p = s.keep(new kernel.gp_Pnt());
    const d = s.keep(new kernel.gp_Vec());
    curve.D1((t0 + t1) / 2, p, d);
    const reading = { length: lengthOf(kernel, edge), area: null, radius: null, at: xyzOf(p) };
    const type = curve.GetType();
    if (type === 'GeomAbs_Line') {
      const direction = unit(xyzOf(d)) ?? null;
      return { shape: edge, reading: { ...reading, kind: 'line' }, direction, centre: null, directionAt: () => direction, along: true };
    }
    const directionAt = (q: Vec3): Vec3 | null => {
      const c = edgeCurve(kernel, edge);
      let best: { d: number; tangent: Vec3 } | null = null;
      for (let k = 0; k <= 200; k++) {
        const { p: at, d1 } = spaceAt(c, k / 200);
        const far = Math.hypot(...minus(at, q));
        if (!best || far < best.d) best = { d: far, tangent: d1 };
      }
      return (best && unit(best.tangent)) ?? null;
    };
    if (type !== 'GeomAbs_Circle')
      return { shape: edge, reading: { ...reading, kind: 'curve' }, direction: null, centre: null, directionAt, along: true };
    const circle = s.keep(curve.Circle());
    const axes = s.keep(circle.Position());
    return {
      shape: edge,
      reading: { ...reading, kind: 'circle', radius: circle.Radius() },
      direction: xyzOf(s.keep(axes.Direction())),
      centre: xyzOf(s.keep(axes.Location())),
      directionAt,
      along: false,
    };
  });
}

function foundFace(kernel: Kernel, face: TopoDS_Face): Found {
  return scoped((s): Found => {
    const look: NearFace = nearFace(kernel, face);
    const { u, v } = look.reader.range;
    const middle = look.reader.at((u[0] + u[1]) / 2, (v[0] + v[1]) / 2);
    look.reader.dispose();
    const surface = s.keep(new kernel.BRepAdaptor_Surface(face, true));
    const reading = { length: null, area: areaOf(kernel, face), radius: null, at: middle?.point ?? ([0, 0, 0] as const) };
    const directionAt = (p: Vec3): Vec3 | null => {
      const again = nearFace(kernel, face);
      const n = again.nearest(p)?.normal ?? null;
      again.reader.dispose();
      return n;
    };
    const base = { shape: face, directionAt, along: false };
    switch (surface.GetType()) {
      case 'GeomAbs_Plane':
        return { ...base, reading: { ...reading, kind: 'plane' }, direction: middle?.normal ?? null, centre: null };
      case 'GeomAbs_Cylinder': {
        const cylinder = s.keep(surface.Cylinder());
        const axis = s.keep(cylinder.Axis());
        return {
          ...base,
          reading: { ...reading, kind: 'cylinder', radius: cylinder.Radius() },
          direction: xyzOf(s.keep(axis.Direction())),
          centre: xyzOf(s.keep(axis.Location())),
        };
      }
      case 'GeomAbs_Sphere': {
        const ball = s.keep(surface.Sphere());
        return {
          ...base,
          reading: { ...reading, kind: 'ball', radius: ball.Radius() },
          direction: null,
          centre: xyzOf(s.keep(ball.Location())),
        };
      }
      default:
        return { ...base, reading: { ...reading, kind: 'face' }, direction: null, centre: null };
    }
  });
}

function foundPoint(kernel: Kernel, at: Vec3, directionAt: Found['directionAt'] = () => null): Found {
  return {
    shape: vertexAt(kernel, at),
    reading: { kind: 'point', length: null, area: null, radius: null, at },
    direction: null,
    centre: at,
    directionAt,
    along: false,
  };
}

function find(kernel: Kernel, bodies: ReadonlyMap<string, KernelBody>, thing: MeasuredThing): Result<Found, string> {
  const body = bodies.get(thing.body);
  if (!body) return fail('its body is not there');
  if ('face' in thing) {
    const index = body.faces.findIndex((n) => sameFace(thing.face, n));
    const face = facesOf(kernel, body.shape)[index];
    if (!face) return fail('the face it was taken from is gone');
    if (!('at' in thing)) return ok(foundFace(kernel, face));
    const look = nearFace(kernel, face);
    const found = look.nearest(thing.at);
    look.reader.dispose();
    return found ? ok(foundPoint(kernel, found.point, () => found.normal)) : fail('its place on the face can’t be found');
  }
  const edge = namedEdges(kernel, body).find((e) => e.name === thing.edge)?.edge;
  if (!edge) return fail('the edge it was taken from is gone');
  if (!('end' in thing)) return ok(foundEdge(kernel, edge));
  return ok(foundPoint(kernel, spaceAt(edgeCurve(kernel, edge), { low: 0, middle: 0.5, high: 1 }[thing.end]).p));
}

/** Reads one measurement off the bodies as they are built. */
export function readMeasurement(kernel: Kernel, bodies: ReadonlyMap<string, KernelBody>, m: Measurement): MeasureReading | LostMeasure {
  const a = find(kernel, bodies, m.a);
  if (!a.ok) return { id: m.id, why: a.error };
  if (!m.b) return { id: m.id, a: a.value.reading, b: null, distance: null, angle: null, centres: null };
  const b = find(kernel, bodies, m.b);
  if (!b.ok) return { id: m.id, why: b.error };
  const [f, g] = [a.value, b.value];
  const d = distanceBetween(kernel, f.shape, g.shape);
  const distance = d ? { value: d.distance, from: d.onA, to: d.onB } : null;
  return { id: m.id, a: f.reading, b: g.reading, distance, angle: angleOf(f, g, distance), centres: centresOf(f, g) };
}

function angleOf(f: Found, g: Found, distance: MeasureReading['distance']): number | null {
  const u = f.direction ?? (distance && f.directionAt(distance.from));
  const v = g.direction ?? (distance && g.directionAt(distance.to));
  if (!u || !v) return null;
  const between = angleBetween(u, v);
  // A line against a plane is measured from the plane, whose own direction is square to it.
  return f.along === g.along ? between : Math.PI / 2 - between;
}

/** Between axes or centres, where both things have one. */
function centresOf(f: Found, g: Found): MeasureReading['centres'] {
  const round = (x: Found): boolean => x.centre !== null && x.reading.kind !== 'point';
  if (!f.centre || !g.centre || (!round(f) && !round(g))) return null;
  const axis = (x: Found): Vec3 | null => (x.reading.kind === 'cylinder' ? x.direction : null);
  const [u, v] = [axis(f), axis(g)];
  const onto = (p: Vec3, q: Vec3, w: Vec3): Vec3 => {
    return along(q, w, dot(minus(p, q), w));
  };
  if (u && v) return lineToLine(f.centre, u, g.centre, v);
  const [from, to] = u ? [onto(g.centre, f.centre, u), g.centre] : v ? [f.centre, onto(f.centre, g.centre, v)] : [f.centre, g.centre];
  return { value: Math.hypot(...minus(from, to)), from, to };
}
