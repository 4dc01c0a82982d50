/** Dimples and bumps put into a face by the hundred: holes of the face, ball caps and rolled rims beside them, written as topology and read in one go. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { type Cap, type CapSize, cap, type On, rimPlace, type Uv } from '../core/detail/dimple';
import type { Sheet } from '../core/detail/rows';
import { along, cross, distance, dot, minus, triple, unit, type Vec3 } from '../core/geometry/vectors';
import { fail, ok, type Result } from '../core/result';
import { closedThrough, curveAt, dimension, interpolateSurface, type SplineSpace, type SplineSurface } from '../core/surfaces/space';
import { BrepText, type NewShape, type Use } from './brep-text';
import { attempt, type Kernel, type Shape, scoped } from './open';
import { facesOf, subShapes, unmeshed, xyzOf } from './shapes';

const ROUNDS = 2 * Math.PI;
/** Degree of borders round about. */
const DEGREE = 5;
/** Across a rim's arc: a quintic in so many spans. */
const ACROSS: SplineSpace = { degree: 5, knots: [0, 0.5, 1], periodic: false };
/** Borders of a face that another face shares are read at so many places each. */
const ALONG = 96;

/** Where a surface closes: parameters of the edge there, and the second parameter of the face at both. */
interface Seam {
  readonly t: readonly [number, number];
  readonly v: readonly [number, number];
}

/** A face that detail is set on, by its parameters. */
export interface Ground {
  readonly on: (u: number, v: number) => On | undefined;
  readonly sheet: Sheet;
  /** Where it is written. */
  readonly face: TopoDS_Face;
  readonly seam: Seam | undefined;
  /** Where a place of it is in the body. */
  readonly world: (p: Vec3) => Vec3;
  readonly end: () => void;
}

/** Whether places of an edge all lie where the first way of a closed face begins or ends. */
export const alongSeam = (u: readonly [number, number], places: readonly Uv[]): boolean =>
  u.some((w) => places.every((p) => Math.abs(p[0] - w) < 1e-7));

/** @param index of the face in the body */
export function groundOf(kernel: Kernel, shape: Shape, index: number): Ground {
  const placed = facesOf(kernel, shape)[index] as TopoDS_Face;
  // Worked out where the face is written; the body may have it elsewhere.
  const still = new kernel.TopLoc_Location();
  const face = kernel.TopoDS.Face(placed.Located(still, false));
  still.delete();
  const motion = placed.Location().Transformation();
  const world = (p: Vec3): Vec3 => {
    const q = new kernel.gp_Pnt(...p);
    q.Transform(motion);
    const out = xyzOf(q);
    q.delete();
    return out;
  };
  const { UMin, UMax, VMin, VMax } = kernel.BRepTools.UVBounds(face, 0, 0, 0, 0);
  const [u, v] = [
    [UMin, UMax],
    [VMin, VMax],
  ] as const;
  const surface = new kernel.BRepAdaptor_Surface(face, true);
  const [p, su, sv] = [new kernel.gp_Pnt(), new kernel.gp_Vec(), new kernel.gp_Vec()];
  const flip = face.Orientation() === 'TopAbs_REVERSED' ? -1 : 1;
  const on = (a: number, b: number): On | undefined => {
    surface.D1(a, b, p, su, sv);
    const [du, dv] = [xyzOf(su), xyzOf(sv)];
    const n = cross(du, dv);
    const l = Math.hypot(...n);
    if (!(l > 1e-9 * Math.max(dot(du, du), dot(dv, dv)))) return undefined;
    return { p: xyzOf(p), n: triple((k) => (flip * n[k]) / l), du, dv };
  };
  const at = (a: number, b: number): Vec3 => {
    surface.D0(a, b, p);
    return xyzOf(p);
  };
  const closed = [0.3, 0.7].every((s) => {
    const w = v[0] + s * (v[1] - v[0]);
    return distance(at(u[0], w), at(u[1], w)) < 1e-6;
  });
  let seam: Ground['seam'];
  const border = scoped((s) =>
    subShapes(kernel, face, 'TopAbs_EDGE').flatMap((e) => {
      const edge = kernel.TopoDS.Edge(e);
      if (kernel.BRep_Tool.Degenerated(edge)) return [];
      const flat = s.keep(new kernel.BRepAdaptor_Curve2d(edge, face));
      const [a, b] = [flat.FirstParameter(), flat.LastParameter()];
      const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
      const [first, middle, last] = [a, (a + b) / 2, b].map((t): Uv => {
        const q = s.keep(flat.Value(t));
        return [q.X(), q.Y()];
      }) as [Uv, Uv, Uv];
      // Along the seam the surface closes: that is no border.
      if (closed && alongSeam(u, [first, middle, last])) {
        const even = Math.abs(middle[1] - (first[1] + last[1]) / 2) < 1e-9 * (1 + Math.abs(middle[1]));
        if (even) seam = { t: [a, b], v: [first[1], last[1]] };
        return [];
      }
      return Array.from({ length: ALONG + 1 }, (_, i): Vec3 => {
        curve.D0(a + ((b - a) * i) / ALONG, p);
        return xyzOf(p);
      });
    }),
  );
  return {
    on,
    face,
    sheet: { at, u, v, closed, border },
    seam,
    world,
    end: () => {
      for (const held of [surface, p, su, sv]) held.delete();
    },
  };
}

type Closed = ReturnType<typeof closedThrough>;

/** One that is worked out, with its borders as curves, over the face and over the ball. */
export interface Placed {
  readonly cap: Cap;
  readonly flat: Closed;
  readonly outer: Closed;
  readonly inner: Closed;
  readonly onBall: Closed;
  /** The ball's own directions: its middle line leads through the cap, half a turn from where it closes, so that there is one plain border and no pole. */
  readonly axes: { readonly x: Vec3; readonly y: Vec3; readonly z: Vec3 };
  /** How near its borders lie to all three, mm. */
  readonly tolerance: number;
  /** Where its border crosses the seam again, by the angle from its start, which lies on the seam; undefined where it does not meet it. */
  readonly again: number | undefined;
}

/** Places round about: as many as bring a border so near to where it is to be, mm, or the most. */
const ROUND = [18, 28, 36, 72] as const;
const NEAR = 9e-6;

type NoRoom = { readonly why: string; readonly at: Vec3 };

/** @param effort how many places the one before took, which this takes at once */
function placedAt(ground: Ground, uv: Uv, size: CapSize, start: number, effort: { level: number }): Result<Omit<Placed, 'again'>, NoRoom> {
  for (;;) {
    const made = placedBy(ground, uv, size, start, ROUND[effort.level]!);
    if (!made.ok || made.value.tolerance < NEAR || effort.level === ROUND.length - 1) return made;
    effort.level++;
  }
}

function placedBy(ground: Ground, uv: Uv, size: CapSize, start: number, round: number): Result<Omit<Placed, 'again'>, NoRoom> {
  const made = cap(ground.on, uv, size, round, start);
  if (!made.ok) return made;
  const c = made.value;
  const border = (values: readonly (readonly number[])[]): Closed => closedThrough(values, ROUNDS, DEGREE);
  const [flat, outer] = [border(c.outer.map((o) => o.uv)), border(c.outer.map((o) => o.p))];
  const inner = size.rim > 0 ? border(c.inner) : outer;
  const x: Vec3 = unit(minus(c.middle, c.centre)) ?? c.normal;
  const way = ground.on(...uv)!.du;
  const z = unit(along(way, x, -dot(way, x)))!;
  const y = cross(z, x);
  const onBall = border(c.inner.map((p) => ballPlace(c, p, z, x, y)));
  const tolerance = Math.max(
    apart(flat, outer, ([u, v]) => ground.on(u, v)?.p),
    apart(onBall, inner, ([a, b]) => {
      const [ca, sa, cb, sb] = [Math.cos(a), Math.sin(a), Math.cos(b), Math.sin(b)];
      return triple((i) => c.middle[i] + c.radius * (cb * (ca * x[i] + sa * y[i]) + sb * z[i]));
    }),
  );
  return ok({ cap: c, flat, outer, inner, onBall, axes: { x, y, z }, tolerance });
}

/** The caps over a face, or where one has no room. */
export function capsOver(ground: Ground, places: readonly Uv[], size: CapSize): Result<Placed[], NoRoom> {
  const out: Placed[] = [];
  const { sheet } = ground;
  const effort = { level: 0 };
  const period = sheet.u[1] - sheet.u[0];
  const seam = sheet.u[0];
  for (const [u, v] of places) {
    const first = placedAt(ground, [u, v], size, 0, effort);
    if (!first.ok) return first;
    const us = first.value.cap.outer.map((o) => o.uv[0]);
    const over = sheet.closed ? [0, -period].find((shift) => Math.min(...us) + shift < seam && Math.max(...us) + shift > seam) : undefined;
    if (over === undefined) {
      out.push({ ...first.value, again: undefined });
      continue;
    }
    // Begun anew where its border crosses the seam on its lower side, so that a corner of both lies there.
    const off = ({ space, poles }: Closed, t: number): number => curveAt(space, poles, t - ROUNDS * Math.floor(t / ROUNDS))[0]! - seam;
    const root = (f: Closed, lo: number, hi: number): number => {
      let [a, b] = [lo, hi];
      const rising = off(f, b) > off(f, a);
      for (let k = 0; k < 60; k++) {
        const m = (a + b) / 2;
        if (off(f, m) > 0 === rising) b = m;
        else a = m;
      }
      return (a + b) / 2;
    };
    const moved: Uv = [u + over, v];
    const there = over === 0 ? first : placedAt(ground, moved, size, 0, effort);
    if (!there.ok) return there;
    let start = root(there.value.flat, -Math.PI, 0);
    let begun = placedAt(ground, moved, size, start, effort);
    if (!begun.ok) return begun;
    start += root(begun.value.flat, -0.2, 0.2);
    begun = placedAt(ground, moved, size, start, effort);
    if (!begun.ok) return begun;
    out.push({ ...begun.value, again: root(begun.value.flat, 0.3, ROUNDS - 0.3) });
  }
  return ok(out);
}

/** How far the nearest two stay apart, mm, and where; less than nothing where they overlap. */
export function overlapping(placed: readonly Placed[]): { readonly gap: number; readonly at: Vec3 } {
  let worst = { gap: Number.POSITIVE_INFINITY, at: [0, 0, 0] as Vec3 };
  for (let i = 0; i < placed.length; i++)
    for (let j = i + 1; j < placed.length; j++) {
      const [a, b] = [placed[i]!.cap, placed[j]!.cap];
      const gap = distance(a.centre, b.centre) - a.reach - b.reach;
      if (gap < worst.gap) worst = { gap, at: triple((k) => (a.centre[k] + b.centre[k]) / 2) };
    }
  return worst;
}

/** Something whose border lies over the seam of the face: its two halves, and its ends there, lower and upper. */
interface Crossing {
  readonly v: readonly [number, number];
  readonly ends: readonly [NewShape, NewShape];
  /** The half on the side where the seam begins, and the other, as they run as a hole of the face. */
  readonly right: readonly Use[];
  readonly left: readonly Use[];
}
interface Writing {
  readonly text: BrepText;
  /** The face's surface in it. */
  readonly surface: number;
  readonly ground: Ground;
  readonly crossing: Crossing[];
}

/** How far a border's curve and its place on a surface are apart between the places both were made of; edges are known to twice as much, mm. */
function apart(flat: Closed, curve: Closed, on: (uv: Uv) => Vec3 | undefined): number {
  let off = 0;
  const n = curve.poles.length;
  for (let i = 0; i < n; i++) {
    const t = ((i + 0.5) * ROUNDS) / n;
    const q = on(curveAt(flat.space, flat.poles, t) as unknown as Uv);
    if (q) off = Math.max(off, distance(q, curveAt(curve.space, curve.poles, t) as unknown as Vec3));
  }
  return Math.max(1e-7, 2 * off);
}

/** Parameters of a place of the ball, about the middle of its first way. */
function ballPlace({ middle, radius }: Cap, p: Vec3, z: Vec3, x: Vec3, y: Vec3): Uv {
  const w = triple((k) => (p[k] - middle[k]) / radius);
  const a = Math.atan2(dot(w, y), dot(w, x));
  return [a < 0 ? a + ROUNDS : a, Math.asin(Math.max(-1, Math.min(1, dot(w, z))))];
}

/** Twice the area within a closed border, with its sense. */
function areaOf({ space, poles }: Closed): number {
  let sum = 0;
  for (let i = 0; i < 96; i++) {
    const [a, b] = [i, i + 1].map((k) => curveAt(space, poles, ((k % 96) * ROUNDS) / 96)) as [number[], number[]];
    sum += a[0]! * b[1]! - a[1]! * b[0]!;
  }
  return sum;
}

/** A pole of the line across a closed strip where it begins. */
function acrossAt({ u, poles }: SplineSurface, j: number): number[] {
  return curveAt(
    u,
    poles.map((row) => row[j]!),
    0,
  );
}

/** A curve on a surface: both by their numbers in the text. */
type OnSurface = { readonly on: number; readonly by: readonly [number] };

/** The rolled rim of a cap: its surface, the edge where it meets the ball, and the one where it closes. @param first where its outer border begins */
function rimOf(text: BrepText, { cap: c, outer, inner, tolerance }: Placed, first: NewShape, onBall: OnSurface) {
  const n = c.outer.length;
  const strip = interpolateSurface(outer.space, ACROSS, (t, share) => rimPlace(c, Math.round((t * n) / ROUNDS) % n, share));
  const surface = text.splineSurface(strip);
  const firstInner = text.vertex(c.inner[0]!, tolerance);
  const innerEdge = text.edge(
    text.spline3d(inner.space, inner.poles),
    [{ on: surface, by: [text.line2d([0, 1], [1, 0])] }, onBall],
    [0, ROUNDS],
    [firstInner, firstInner],
    tolerance,
  );
  const across = Array.from({ length: dimension(strip.v) }, (_, j) => acrossAt(strip, j));
  const seam = text.edge(
    text.spline3d(strip.v, across),
    [{ on: surface, by: [text.line2d([ROUNDS, 0], [0, 1]), text.line2d([0, 0], [0, 1])] }],
    [0, 1],
    [first, firstInner],
    tolerance,
  );
  return { surface, inner: innerEdge, seam };
}

/** The edges of a cap's border: one all round, or the two halves beside the seam. @param other what else than the face they lie on */
function borderEdges(
  { text, surface, ground, crossing }: Writing,
  { outer, flat, again, tolerance }: Placed,
  first: NewShape,
  other: OnSurface,
): NewShape[] {
  const curve = text.spline3d(outer.space, outer.poles);
  const edge = (by: number, from: number, to: number, a: NewShape, b: NewShape): NewShape =>
    text.edge(curve, [{ on: surface, by: [by] }, other], [from, to], [a, b], tolerance);
  const here = text.spline2d(flat.space, flat.poles);
  if (again === undefined) return [edge(here, 0, ROUNDS, first, first)];
  const { u } = ground.sheet;
  const beyond = text.spline2d(
    flat.space,
    flat.poles.map(([x, y]) => [x! + u[1] - u[0], y!]),
  );
  const high = text.vertex(curveAt(outer.space, outer.poles, again) as unknown as Vec3, tolerance);
  const [right, left] = [edge(here, 0, again, first, high), edge(beyond, again, ROUNDS, high, first)];
  const v = (t: number): number => curveAt(flat.space, flat.poles, t)[1]!;
  const half = (of: NewShape): Use[] => [{ of, sense: -1 }];
  crossing.push({ v: [v(0), v(again)], ends: [first, high], right: half(right), left: half(left) });
  return [right, left];
}

/** Parts the seam of the face where something lies over it, and leads the face's border round that. False where it is not known how. */
export function seamParted(
  { text, surface, ground, crossing }: Pick<Writing, 'text' | 'surface' | 'crossing'> & { readonly ground: Pick<Ground, 'seam'> },
  face: number,
): boolean {
  const { seam } = ground;
  if (!seam) return false;
  for (const { of: wire } of text.uses(face)) {
    if (typeof wire !== 'number') continue;
    const uses = text.uses(wire);
    const twice = new Set(uses.filter((u) => uses.filter((o) => o.of === u.of).length === 2).map((u) => u.of));
    // Of a face that closes both ways it is not told which is which.
    const own = twice.size === 1 ? [...twice][0] : undefined;
    const known = typeof own === 'number' ? text.seam(own) : undefined;
    if (typeof own !== 'number' || !known) continue;
    const upwards = seam.v[1] > seam.v[0];
    const t = (v: number): number => seam.t[0] + ((v - seam.v[0]) / (seam.v[1] - seam.v[0])) * (seam.t[1] - seam.t[0]);
    const sorted = crossing.toSorted((a, b) => t(a.v[0]) - t(b.v[0]));
    const ends = text.uses(own);
    const [start, end] = ([1, -1] as const).map((sense) => ends.find((u) => u.sense === sense)?.of);
    if (start === undefined || end === undefined) continue;
    const pieces: NewShape[] = [];
    let from: { readonly t: number; readonly at: NewShape | number } = { t: seam.t[0], at: start };
    const piece = (to: typeof from): void => {
      pieces.push(text.edge(known.curve, [{ on: surface, by: known.flats }], [from.t, to.t], [from.at, to.at], 1e-6));
    };
    for (const c of sorted) {
      const [near, far] = upwards ? [0, 1] : [1, 0];
      piece({ t: t(c.v[near as 0 | 1]), at: c.ends[near as 0 | 1] });
      from = { t: t(c.v[far as 0 | 1]), at: c.ends[far as 0 | 1] };
    }
    piece({ t: seam.t[1], at: end });
    text.setUses(
      wire,
      uses.flatMap((u): Use[] => {
        if (u.of !== own) return [u];
        // Going up, the face lies at the left: there the border runs at the end of the first way, round what reaches back from beyond it.
        const up = u.sense > 0 === upwards;
        const row = pieces.flatMap((p, i): (readonly Use[])[] => [
          [{ of: p, sense: u.sense }],
          ...(i < sorted.length ? [up ? sorted[i]!.left : sorted[i]!.right] : []),
        ]);
        return (u.sense > 0 ? row : row.toReversed()).flat();
      }),
    );
    return true;
  }
  return false;
}

/**
 * The body with caps in one of its faces. New faces come after the old ones: for every cap its ball, then its rim where that is rounded.
 * @returns undefined where the body's text can't be worked on
 */
export function withCaps(
  kernel: Kernel,
  shape: Shape,
  index: number,
  ground: Ground,
  placed: readonly Placed[],
  size: CapSize,
): Result<Shape> | undefined {
  const written = attempt(kernel, () => scoped((s) => kernel.BRepToolsWrapper.Write(unmeshed(kernel, s, shape))));
  if (!written.ok) return undefined;
  const text = BrepText.read(written.value);
  const base = text?.faces()[index];
  const surface = base && text?.surfaceOf(base.face);
  if (!text || !base || surface === undefined) return undefined;
  const writing: Writing = { text, surface, ground, crossing: [] };
  const holes: Use[] = [];
  const faces: Use[] = [];
  for (const one of placed) {
    const { cap: c, onBall, axes, tolerance } = one;
    const ball = text.ball(c.middle, axes.z, axes.x, axes.y, c.radius);
    const onIt = text.spline2d(onBall.space, onBall.poles);
    const first = text.vertex(c.outer[0]!.p, tolerance);
    const rim = size.rim > 0 ? rimOf(text, one, first, { on: ball, by: [onIt] }) : undefined;
    const edges = borderEdges(writing, one, first, rim ? { on: rim.surface, by: [text.line2d([0, 0], [1, 0])] } : { on: ball, by: [onIt] });
    if (one.again === undefined) holes.push({ of: text.wire([{ of: edges[0]!, sense: -1 }]), sense: 1 });
    // The ball's border as it runs round on the ball.
    const ccw = areaOf(onBall) > 0 ? 1 : -1;
    const round = rim ? [rim.inner] : ccw > 0 ? edges : edges.toReversed();
    const ballFace = text.face(ball, [{ of: text.wire(round.map((of): Use => ({ of, sense: ccw }))), sense: 1 }], tolerance);
    faces.push({ of: ballFace, sense: (base.use.sense * ccw) as 1 | -1 });
    if (!rim) continue;
    const strip = text.wire([
      ...edges.map((of): Use => ({ of, sense: 1 })),
      { of: rim.seam, sense: 1 },
      { of: rim.inner, sense: -1 },
      { of: rim.seam, sense: -1 },
    ]);
    faces.push({ of: text.face(rim.surface, [{ of: strip, sense: 1 }], tolerance), sense: base.use.sense });
  }
  if (writing.crossing.length > 0 && !seamParted(writing, base.face)) return undefined;
  text.setUses(base.face, [...text.uses(base.face), ...holes]);
  text.setUses(base.shell, [...text.uses(base.shell), ...faces.map((f) => (base.use.by === undefined ? f : { ...f, by: base.use.by }))]);
  const read = attempt(kernel, () => kernel.BRepToolsWrapper.Read(text.toString()));
  if (!read.ok) return read;
  return read.value.IsNull() ? fail('the kernel does not read it') : ok(read.value);
}
