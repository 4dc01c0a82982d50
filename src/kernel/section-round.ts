/**
 * Rounds of one section all along: over straight edges between faces that run along them, and over circles between faces turned about their
 * axis. The section is worked out on the exact faces, pushed or turned to a solid, and cut away or joined.
 */
import type { TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, normalOf, toPlane, toSpace, turned } from '../core/curves/frame';
import { arcThrough, type PlanarCurve, type Point2, reverse, tightestRadius } from '../core/curves/planar';
import { type Contact, smoothSection } from '../core/curves/section-blend';
import { along, cross, dot, minus, unit, type Vec3 } from '../core/geometry/vectors';
import { solveDense } from '../core/linear';
import { areaAndCentroid, type Outline } from '../core/profile/outline';
import { fail, ok, type Result } from '../core/result';
import { asBody, type KernelBody, withNames } from './body';
import { booleanOf } from './boolean';
import { nameFaces } from './names';
import { attempt, type Kernel, scoped } from './open';
import { prismOf, regionFace } from './prism';
import { touching } from './refer';
import { distanceBetween, vertexAt } from './shapes';
import { SEAMS, turn } from './steps/revolve';
import { verifySolid } from './verify';

/** The way a section goes: straight, or round an axis. */
export interface Run {
  /** Sections lie in these planes: at the run's start, and at a share 0…1 of it. */
  readonly at: (share: number) => Frame;
  /** mm of a straight run; undefined round an axis. */
  readonly length?: number;
  /** rad of a run about the frames' up direction through their origin; undefined for a straight one. */
  readonly angle?: number;
}

/** The run of an edge, where it is straight or a circle. */
export function runOf(kernel: Kernel, edge: TopoDS_Edge): Run | undefined {
  return scoped((s) => {
    const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
    const [t0, t1] = [curve.FirstParameter(), curve.LastParameter()];
    const point = (t: number): Vec3 => {
      const p = s.keep(new kernel.gp_Pnt());
      curve.D0(t, p);
      return [p.X(), p.Y(), p.Z()];
    };
    const [a, b] = [point(t0), point(t1)];
    switch (curve.GetType()) {
      case 'GeomAbs_Line': {
        const length = Math.hypot(...minus(b, a));
        const n = unit(minus(b, a));
        if (!n) return undefined;
        const x = unit(Math.abs(n[2]) < 0.9 ? cross(n, [0, 0, 1]) : cross(n, [1, 0, 0]))!;
        const frame: Frame = { origin: a, x, y: cross(n, x) };
        return { length, at: (share) => ({ ...frame, origin: along(a, n, share * length) }) };
      }
      case 'GeomAbs_Circle': {
        const circle = s.keep(curve.Circle());
        const c = s.keep(circle.Location());
        const d = s.keep(s.keep(circle.Axis()).Direction());
        const [centre, y]: [Vec3, Vec3] = [
          [c.X(), c.Y(), c.Z()],
          [d.X(), d.Y(), d.Z()],
        ];
        const x = unit(minus(a, centre))!;
        const angle = t1 - t0;
        return { angle, at: (share) => ({ origin: centre, x: turned(x, y, share * angle), y }) };
      }
      default:
        return undefined;
    }
  });
}

/** A ball's contact with a face in a section plane. */
interface Touch {
  readonly at: Point2;
  /** The face's outward normal in the plane. */
  readonly normal: Point2;
}

/** Distance of a place of the plane from a face, and the nearest place on it in the plane's own coordinates. */
function reach(kernel: Kernel, frame: Frame, face: TopoDS_Face, p: Point2): { d: number; at: Point2; space: Vec3 } | undefined {
  const v = vertexAt(kernel, toSpace(frame, p));
  const hit = distanceBetween(kernel, v, face);
  v.delete();
  return hit && { d: hit.distance, at: toPlane(frame, hit.onB), space: hit.onB };
}

/** Where the ball touches, if it does so within the face and not at its border. */
function touch(kernel: Kernel, frame: Frame, face: TopoDS_Face, centre: Point2, inside: boolean): Touch | undefined {
  const hit = reach(kernel, frame, face, centre);
  const plane = hit && touching(kernel, face, hit.space);
  if (!hit || !plane || hit.d < 1e-9) return undefined;
  const n = normalOf(plane);
  const towards = minus(hit.space, toSpace(frame, centre)).map((c) => c / hit.d) as unknown as Vec3;
  if (dot(towards, n) * (inside ? 1 : -1) < 1 - 1e-6) return undefined;
  return { at: hit.at, normal: { x: dot(n, frame.x), y: dot(n, frame.y) } };
}

/**
 * The ball in a section plane that lies a distance from several faces: two of a given radius, three of its own.
 * @param start about where its centre is, with a radius to begin with
 */
function ball(
  kernel: Kernel,
  frame: Frame,
  faces: readonly TopoDS_Face[],
  start: Point2 & { readonly r: number },
  free: boolean,
): { centre: Point2; r: number } | undefined {
  let [x, y, r] = [start.x, start.y, start.r];
  for (let k = 0; k < 40; k++) {
    const rows: number[][] = [];
    const off: [number][] = [];
    let worst = 0;
    for (const f of faces) {
      const hit = reach(kernel, frame, f, { x, y });
      if (!hit || hit.d < 1e-9) return undefined;
      worst = Math.max(worst, Math.abs(hit.d - r));
      rows.push([(x - hit.at.x) / hit.d, (y - hit.at.y) / hit.d, ...(free ? [-1] : [])]);
      off.push([r - hit.d]);
    }
    if (worst < 1e-9 * Math.max(1, r)) return { centre: { x, y }, r };
    const step = solveDense(rows, off).map((row) => row[0]);
    if (!step.every(Number.isFinite)) return undefined;
    x += step[0]!;
    y += step[1]!;
    if (free) r += step[2]!;
    if (!(r > 0)) return undefined;
  }
  return undefined;
}

/** A closed outline of the solid to cut away or join, and what its section measures. */
interface Section {
  readonly outline: readonly { readonly id: string; readonly curve: PlanarCurve }[];
  /** Tightest radius of the round, mm. */
  readonly radius: number;
  /** What shows whether sections are alike. */
  readonly places: readonly Point2[];
}

const line = (a: Point2, b: Point2): PlanarCurve => ({ kind: 'line', a, b });
const plus = (p: Point2, n: Point2, k: number): Point2 => ({ x: p.x + k * n.x, y: p.y + k * n.y });

/** Bend of a face's section at a contact, 1/mm, positive to the left of a direction: by how far it leaves its tangent on either side. */
function bendAt(kernel: Kernel, frame: Frame, face: TopoDS_Face, t: Touch, direction: Point2, size: number): number {
  const step = 0.02 * size;
  let sum = 0;
  for (const sign of [-1, 1]) {
    const hit = reach(kernel, frame, face, plus(t.at, direction, sign * step));
    if (!hit) return 0;
    const [dx, dy] = [hit.at.x - t.at.x, hit.at.y - t.at.y];
    const [s, h] = [dx * direction.x + dy * direction.y, direction.x * dy - direction.y * dx];
    sum += h / (s * s);
  }
  return Math.abs(sum) * size < 1e-4 ? 0 : sum;
}

/** The section of a curvature-continuous round over the corner of two faces. @param r of the ball whose contacts it runs between */
function smoothOver(
  kernel: Kernel,
  frame: Frame,
  faces: readonly [TopoDS_Face, TopoDS_Face],
  corner: Vec3,
  r: number,
  convex: boolean,
): Section | string {
  const e = toPlane(frame, corner);
  const normals = faces.map((f) => {
    const plane = touching(kernel, f, corner);
    const n = plane && normalOf(plane);
    return n && { x: dot(n, frame.x), y: dot(n, frame.y) };
  });
  const [nA, nB] = normals;
  if (!nA || !nB) return 'a face is singular at the edge';
  const sign = convex ? -1 : 1;
  const k = (sign * r) / (1 + nA.x * nB.x + nA.y * nB.y);
  const start = { x: e.x + k * (nA.x + nB.x), y: e.y + k * (nA.y + nB.y), r };
  const found = ball(kernel, frame, faces, start, false);
  const [a, b] = found ? faces.map((f) => touch(kernel, frame, f, found.centre, convex)) : [];
  if (!found || !a || !b) return 'the faces beside the edge leave no room for it';
  const contact = (t: Touch, face: TopoDS_Face): Contact => {
    // Along the face, to the side the edge is on.
    const d = { x: -t.normal.y, y: t.normal.x };
    const to = (e.x - t.at.x) * d.x + (e.y - t.at.y) * d.y >= 0 ? 1 : -1;
    const direction = { x: to * d.x, y: to * d.y };
    return { at: t.at, along: direction, curvature: bendAt(kernel, frame, face, t, direction, r) };
  };
  const curve = smoothSection(contact(a, faces[0]), contact(b, faces[1]));
  if (!curve) return 'the faces beside the edge do not turn towards each other';
  // Closed behind the edge: outside the body where it is cut away, inside where it is joined.
  const h = 0.1 * r;
  const behind = plus(plus(e, nA, sign * -h), nB, sign * -h);
  const [pa, pb] = [plus(a.at, a.normal, sign * -h), plus(b.at, b.normal, sign * -h)];
  return {
    radius: tightestRadius(curve),
    places: [a.at, b.at],
    outline: [
      { id: 'round', curve },
      { id: 'far1', curve: line(b.at, pb) },
      { id: 'far2', curve: line(pb, behind) },
      { id: 'far3', curve: line(behind, pa) },
      { id: 'far4', curve: line(pa, a.at) },
    ],
  };
}

/** The section of a full round: an arc that touches the face it replaces and the two beside it. */
function fullOver(
  kernel: Kernel,
  frame: Frame,
  faces: readonly [TopoDS_Face, TopoDS_Face, TopoDS_Face],
  corners: readonly [Vec3, Vec3],
): Section | string {
  const [e, g] = corners.map((c) => toPlane(frame, c)) as [Point2, Point2];
  const mid = toSpace(frame, { x: (e.x + g.x) / 2, y: (e.y + g.y) / 2 });
  const plane = touching(kernel, faces[1], mid);
  if (!plane) return 'the face is singular';
  const n = { x: dot(normalOf(plane), frame.x), y: dot(normalOf(plane), frame.y) };
  const half = Math.hypot(g.x - e.x, g.y - e.y) / 2;
  const start = { x: (e.x + g.x) / 2 - half * n.x, y: (e.y + g.y) / 2 - half * n.y, r: half };
  const found = ball(kernel, frame, faces, start, true);
  const touches = found ? faces.map((f) => touch(kernel, frame, f, found.centre, true)) : [];
  const [a, m, b] = touches;
  if (!found || !a || !m || !b) return 'no ball touches all three faces';
  const curve = arcThrough(a.at, m.at, b.at);
  if (!curve) return 'no ball touches all three faces';
  const h = 0.1 * found.r;
  const points = [
    b.at,
    plus(b.at, b.normal, h),
    plus(plus(g, b.normal, h), n, h),
    plus(plus(e, a.normal, h), n, h),
    plus(a.at, a.normal, h),
    a.at,
  ];
  return {
    radius: found.r,
    places: [a.at, m.at, b.at],
    outline: [{ id: 'round', curve }, ...points.slice(1).map((p, i) => ({ id: `far${i + 1}`, curve: line(points[i]!, p) }))],
  };
}

/** The solid of a section along a run. @param seam where a full turn starts, rad */
function solidAlong(kernel: Kernel, run: Run, section: Section, seam: number, stepId: string): Result<KernelBody, string> {
  const drawn = section.outline.map((c) => ({ ...c, reversed: false }));
  // Left about, as outlines that are turned go.
  const left = areaAndCentroid({ curves: drawn, onAxis: false }).area > 0;
  const curves = left ? drawn : drawn.toReversed().map((c) => ({ ...c, curve: reverse(c.curve) }));
  if (run.angle !== undefined) {
    const outline: Outline = { curves, onAxis: false };
    // The kernel integrates a turned curve of degree 5 to a few millionths only.
    const solid = turn(kernel, outline, run.angle, stepId, seam, run.at(0), 1e-5);
    return solid.ok ? solid : fail(solid.error.why);
  }
  const frame = run.at(0);
  const made = attempt(kernel, () =>
    scoped((s) => {
      const face = regionFace(kernel, s, { outer: curves, holes: [], area: 0, centroid: { x: 0, y: 0 }, length: 0 }, frame);
      const n = normalOf(frame);
      return face && prismOf(kernel, s, face, n.map((c) => c * run.length!) as unknown as Vec3, stepId);
    }),
  );
  if (!made.ok) return made;
  if (!made.value) return fail('its section does not close');
  const verified = verifySolid(kernel, made.value.shape);
  if (!verified.ok) return fail(verified.error.why);
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, stepId)));
}

/** Sections at two places of a run; they must be one and the same. */
function evenSection(run: Run, sectionAt: (frame: Frame, share: number) => Section | string): Result<Section, string> {
  const [first, second] = [0.29, 0.71].map((share) => sectionAt(run.at(share), share));
  if (typeof first === 'string') return fail(first!);
  if (typeof second === 'string') return fail(second!);
  const off = Math.max(...first!.places.map((p, i) => Math.hypot(p.x - second!.places[i]!.x, p.y - second!.places[i]!.y)));
  if (off > 1e-4) return fail('the faces beside it do not run along it evenly');
  return ok(first!);
}

/** A place of an edge at a share of its parameter. */
const placeOn = (kernel: Kernel, edge: TopoDS_Edge, share: number): Vec3 =>
  scoped((s) => {
    const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
    const p = s.keep(new kernel.gp_Pnt());
    curve.D0(curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter()), p);
    return [p.X(), p.Y(), p.Z()];
  });

const NEITHER = 'the edge is neither straight nor a circle';

/** A body with one edge rounded so that curvature is continuous. @returns its tightest radius too, mm */
export function smoothRound(
  kernel: Kernel,
  body: KernelBody,
  edge: TopoDS_Edge,
  faces: readonly [TopoDS_Face, TopoDS_Face],
  r: number,
  convex: boolean,
  name: string,
  stepId: string,
): Result<{ body: KernelBody; radius: number }, string> {
  const run = runOf(kernel, edge);
  if (!run) return fail(NEITHER);
  const section = evenSection(run, (frame, share) => smoothOver(kernel, frame, faces, placeOn(kernel, edge, share), r, convex));
  if (!section.ok) return section;
  return applied(kernel, body, run, section.value, convex, `${stepId}/round(${name})`, stepId);
}

/** Of the tools only the rounds themselves may be left to see: anything else is a step, or a cut into what lies beside. */
export const leftovers = (body: KernelBody, stepId: string): boolean =>
  body.faces.some((f) => /^(far\d|start|end)(#\d+)?$/.test(f.startsWith(`${stepId}/`) ? f.slice(stepId.length + 1) : ''));

/** A body with a face between two others replaced by a round that touches all three. */
export function fullRound(
  kernel: Kernel,
  body: KernelBody,
  faces: readonly [TopoDS_Face, TopoDS_Face, TopoDS_Face],
  edges: readonly [TopoDS_Edge, TopoDS_Edge],
  name: string,
  stepId: string,
): Result<{ body: KernelBody; radius: number }, string> {
  const run = runOf(kernel, edges[0]);
  if (!run) return fail(NEITHER);
  const section = evenSection(run, (frame, share) => {
    const first = placeOn(kernel, edges[0], share);
    const v = vertexAt(kernel, first);
    const across = distanceBetween(kernel, v, edges[1]);
    v.delete();
    return across ? fullOver(kernel, frame, faces, [first, across.onB]) : 'the face has no second edge across';
  });
  if (!section.ok) return section;
  return applied(kernel, body, run, section.value, true, `${stepId}/full(${name})`, stepId);
}

function applied(
  kernel: Kernel,
  body: KernelBody,
  run: Run,
  section: Section,
  cut: boolean,
  name: string,
  stepId: string,
): Result<{ body: KernelBody; radius: number }, string> {
  // The seam of a full turn is kept off the body's own.
  let why = '';
  for (const seam of run.angle !== undefined && run.angle > 2 * Math.PI - 1e-9 ? SEAMS : [0]) {
    const tool = solidAlong(kernel, run, section, seam, stepId);
    if (!tool.ok) return tool;
    const named = withNames(tool.value, (f) => (f === `${stepId}/round` ? name : f));
    const done = booleanOf(kernel, cut ? 'cut' : 'join', body, [named], { target: 'the body', tool: 'the round' }, stepId);
    if (done.ok && done.value.faces.some((f) => f.startsWith(name))) return ok({ body: done.value, radius: section.radius });
    why = done.ok ? 'no round came about' : done.error.why;
  }
  return fail(why);
}
