/**
 * What is seen of bodies looked at square to a plane: their edges and outlines, each stretch of them in sight or hidden. A place of a line is in sight
 * where nothing stands between it and the eye; it is looked at a hair off the body, away from the faces that meet there, so that the facets of its own
 * faces do not hide it. Where a line goes out of sight it crosses another one, and is cut off exactly there.
 */
import { evaluateBSpline, interpolateCubic } from '../curves/bspline';
import { type Frame, heightOver, normalOf, toPlane } from '../curves/frame';
import { newton } from '../curves/intersect';
import { piece } from '../curves/offset';
import { arcThrough, distance2, flattenParameters, isWhole, nearestFrom, type PlanarCurve, type Point2, pointAt } from '../curves/planar';
import { along, dot, type Vec3 } from '../geometry/vectors';
import { type Bvh, type RayHit, raycast } from '../mesh/bvh';
import { type Box, boxOf } from './box';
import { mixed, outlinesOf, type ShadedMesh, type SpaceLine } from './outlines';

export interface BodyEdge extends SpaceLine {
  readonly body: string;
  readonly name: string;
  /** The faces flow into each other there. */
  readonly smooth: boolean;
  /** The circle it lies on. */
  readonly circle?: { readonly centre: Vec3; readonly axis: Vec3; readonly radius: number; readonly whole: boolean };
  /** It is straight. */
  readonly straight: boolean;
}

/** A body to be looked at. */
export interface Looked<E extends BodyEdge = BodyEdge> {
  readonly edges: readonly E[];
  readonly mesh: ShadedMesh;
  readonly bvh: Bvh;
  /** How far the facets lie off it, mm. */
  readonly off: number;
}

export interface ViewLine {
  /** In the view's own coordinates, mm. */
  readonly curve: PlanarCurve;
  readonly hidden: boolean;
  /** Where faces flow into each other: shown thin, or not at all. */
  readonly smooth: boolean;
}

/** Something of a view that can be measured, whether it is seen or not. */
export interface ViewEdge {
  readonly body: string;
  readonly name: string;
  readonly curve: PlanarCurve;
  readonly straight: boolean;
  /** Its lower end, middle and upper end, as `measured` things are counted. */
  readonly ends: readonly [Point2, Point2, Point2];
  readonly circle?: {
    readonly centre: Point2;
    readonly radius: number;
    readonly whole: boolean;
    /** It is seen as a circle, as a line, or aslant. */
    readonly seen: 'round' | 'edge' | 'aslant';
  };
}

/** Shorter than this a stretch is left out, mm. */
const LEAST = 2e-3;
/** Two lines this near to each other are one, mm. */
const SAME = 1e-3;
/** A silhouette is taken as straight, or as an arc, where it is no farther from one, mm. */
const FLAT = 1e-4;

type Sightedness = 'seen' | 'hidden' | 'gone';

/** Looks from the side that a frame's normal points to. @param cut height over the frame above which everything is taken away, mm */
function looker(bodies: readonly Looked[], frame: Frame, cut: number | null): (line: SpaceLine, x: number) => Sightedness {
  const view = normalOf(frame);
  const hit: RayHit = { t: 0, triangle: -1 };
  const off = Math.max(...bodies.map((b) => b.off), 1e-4) * 2.5;
  return (line, x) => {
    const i = Math.min(line.points.length - 2, Math.floor(x));
    const s = x - i;
    const between = (list: readonly Vec3[]): Vec3 => mixed(list[i]!, list[i + 1]!, s);
    const p = between(line.points);
    const h = heightOver(frame, p);
    if (cut !== null && h > cut + 1e-6) return 'gone';
    const lift = between(line.lifts);
    const from = along(p, lift, off);
    // Where the hair itself passes the plane, the place lies on it.
    const room = cut === null ? 1e6 : cut - heightOver(frame, from);
    if (room <= 0) return 'seen';
    const least = Math.hypot(...lift) > 0.1 ? 0 : off;
    for (const b of bodies) {
      raycast(b.bvh, ...from, ...view, least, room, hit);
      if (hit.triangle >= 0) return 'hidden';
    }
    return 'seen';
  };
}

interface Run {
  /** Places along the line's points, counted from 0. */
  readonly from: number;
  readonly to: number;
  readonly hidden: boolean;
}

/** The stretches of a line that are seen or hidden. */
function runsOf(line: SpaceLine, look: (line: SpaceLine, x: number) => Sightedness): Run[] {
  const n = line.points.length - 1;
  const out: Run[] = [];
  let [from, state] = [0, look(line, 0.5)];
  const end = (to: number): void => {
    if (state !== 'gone' && to > from) out.push({ from, to, hidden: state === 'hidden' });
  };
  for (let i = 1; i < n; i++) {
    const next = look(line, i + 0.5);
    if (next === state) continue;
    let [lo, hi] = [i - 0.5, i + 0.5];
    for (let k = 0; k < 20; k++) {
      const mid = (lo + hi) / 2;
      if (look(line, mid) === state) lo = mid;
      else hi = mid;
    }
    end(lo);
    [from, state] = [hi, next];
  }
  end(n);
  return out;
}

/** A line on the plane with its stretches. */
interface Dropped {
  readonly flat: readonly Point2[];
  readonly curve: PlanarCurve;
  readonly runs: readonly Run[];
  readonly smooth: boolean;
}

/** The curve through places: straight, a circle's arc, or smooth, as it comes. Undefined where all are one place. */
function curveThrough(points: readonly Point2[]): PlanarCurve | undefined {
  const own = points.filter((p, i) => i === 0 || distance2(p, points[i - 1]!) > 1e-7);
  const [a, b] = [own[0]!, own[own.length - 1]!];
  if (own.length < 2) return undefined;
  const line: PlanarCurve = { kind: 'line', a, b };
  const chord = distance2(a, b);
  const beside = (p: Point2): number => ((p.x - a.x) * (b.y - a.y) - (p.y - a.y) * (b.x - a.x)) / chord;
  if (own.length === 2 || (chord > 1e-6 && own.every((p) => Math.abs(beside(p)) < FLAT))) return line;
  const third = own[Math.floor(own.length / 2)]!;
  const arc = chord > 1e-6 ? arcThrough(a, third, b) : undefined;
  const run = own.reduce((sum, p, i) => sum + (i === 0 ? 0 : distance2(p, own[i - 1]!)), 0);
  // One that goes to and fro is on a circle too, and not an arc of it.
  const asLong = arc && Math.abs(Math.abs(arc.sweep) * arc.radius - run) < 0.05 * run;
  if (own.length > 3 && asLong && own.every((p) => Math.abs(distance2(p, arc.centre) - arc.radius) < FLAT)) return arc;
  const spline = interpolateCubic(own.map((p) => [p.x, p.y]));
  return { kind: 'spline', a, b, spline };
}

/** Places in a row as they are, with straight stretches between them. */
export function rowOf(points: readonly Point2[]): PlanarCurve {
  const own = points.filter((p, i) => i === 0 || distance2(p, points[i - 1]!) > 1e-9);
  const [a, b] = [own[0]!, own[own.length - 1]!];
  if (own.length < 3) return { kind: 'line', a, b };
  const n = own.length - 1;
  return {
    kind: 'spline',
    a,
    b,
    spline: { degree: 1, knots: [0, ...own.map((_, i) => i / n), 1], poles: own.map((p) => [p.x, p.y]) },
  };
}

/** Places in a row parted where they turn sharply: no smooth curve goes through a corner. */
function cornersParted(line: SpaceLine, frame: Frame): SpaceLine[] {
  const flat = line.points.map((p) => toPlane(frame, p));
  const cuts = [0];
  for (let i = 1; i + 1 < flat.length; i++) {
    const [p, q, r] = [flat[i - 1]!, flat[i]!, flat[i + 1]!];
    const [ux, uy, vx, vy] = [q.x - p.x, q.y - p.y, r.x - q.x, r.y - q.y];
    const [l, m] = [Math.hypot(ux, uy), Math.hypot(vx, vy)];
    if (l > 1e-9 && m > 1e-9 && (ux * vx + uy * vy) / (l * m) < 0.8) cuts.push(i);
  }
  cuts.push(flat.length - 1);
  return cuts.slice(1).map((to, k) => ({ points: line.points.slice(cuts[k]!, to + 1), lifts: line.lifts.slice(cuts[k]!, to + 1) }));
}

/** Places between those there are, on the smooth line through them: few places would be looked at too seldom. */
function denser({ points, lifts }: SpaceLine): SpaceLine {
  const spans = points.length - 1;
  const parts = Math.ceil(12 / spans);
  if (parts < 2) return { points, lifts };
  const spline = interpolateCubic(points);
  const knots = spline.knots.slice(3, -3);
  const own = (i: number, k: number): Vec3 => {
    const t = knots[i]! + (k / parts) * (knots[i + 1]! - knots[i]!);
    const [p] = evaluateBSpline(spline, t);
    return [p![0]!, p![1]!, p![2]!];
  };
  const all = Array.from({ length: spans * parts + 1 }, (_, j) => [Math.min(spans - 1, Math.floor(j / parts)), j] as const);
  return {
    points: all.map(([i, j]) => (j % parts === 0 ? points[j / parts]! : own(i, j - i * parts))),
    lifts: all.map(([i, j]) => mixed(lifts[i]!, lifts[i + 1]!, (j - i * parts) / parts)),
  };
}

const flatAt = (flat: readonly Point2[], x: number): Point2 => {
  const i = Math.min(flat.length - 2, Math.floor(x));
  const s = x - i;
  return { x: flat[i]!.x + s * (flat[i + 1]!.x - flat[i]!.x), y: flat[i]!.y + s * (flat[i + 1]!.y - flat[i]!.y) };
};

/** The stretch of a dropped line's curve between two places along its points. */
function stretch(
  { flat, curve }: Dropped,
  from: number,
  to: number,
  ends: readonly [Point2 | null, Point2 | null],
): PlanarCurve | undefined {
  const n = flat.length - 1;
  if (from <= 0 && to >= n) return curve;
  if (curve.kind === 'line') {
    const length = distance2(curve.a, curve.b);
    const at = (p: Point2): number =>
      ((p.x - curve.a.x) * (curve.b.x - curve.a.x) + (p.y - curve.a.y) * (curve.b.y - curve.a.y)) / length ** 2;
    // It may run to and fro, as a circle does that is seen from its edge: its ends are where it turns.
    const inner = flat.slice(Math.ceil(from), Math.floor(to) + 1).map(at);
    const all = [at(ends[0] ?? flatAt(flat, from)), ...inner, at(ends[1] ?? flatAt(flat, to))];
    let [lo, hi] = [Math.min(...all), Math.max(...all)];
    const turns = (t: number): boolean => {
      const k = all.indexOf(t);
      return k > 0 && k < all.length - 1;
    };
    const near = 0.02;
    if (lo < near && turns(lo)) lo = 0;
    if (hi > 1 - near && turns(hi)) hi = 1;
    return hi - lo > 0 ? { kind: 'line', a: pointAt(curve, lo), b: pointAt(curve, hi) } : undefined;
  }
  const t = (x: number, given: Point2 | null, edge: 0 | 1): number => {
    if (edge === 0 && x <= 0) return 0;
    if (edge === 1 && x >= n) return 1;
    const own = nearestAlong(curve, given ?? flatAt(flat, x)).t;
    // A spline is not parted a hair beside one of its knots.
    return (curve.kind === 'spline' && curve.spline.knots.find((k) => Math.abs(k - own) < 1e-9)) || own;
  };
  const [a, b] = [t(from, ends[0], 0), t(to, ends[1], 1)];
  return b - a > 1e-9 ? piece(curve, a, b) : undefined;
}

/** A curve with places along it, to find the nearest of them quickly. */
interface Table {
  readonly curve: PlanarCurve;
  readonly stops: readonly number[];
  readonly places: readonly Point2[];
  readonly box: Box;
}
const tables = new WeakMap<PlanarCurve, Table>();
function tableOf(curve: PlanarCurve): Table {
  let known = tables.get(curve);
  if (!known) {
    const stops = flattenParameters(curve, 0.02);
    const places = stops.map((t) => pointAt(curve, t));
    known = { curve, stops, places, box: boxOf(places) };
    tables.set(curve, known);
  }
  return known;
}

const reaches = ({ box }: Table, p: Point2, near: number): boolean =>
  p.x > box.x0 - near && p.x < box.x1 + near && p.y > box.y0 - near && p.y < box.y1 + near;

/** The place of a curve nearest to another, quickly where it is asked for again and again. */
export const nearestAlong = (curve: PlanarCurve, p: Point2): { t: number; distance: number } => nearestIn(tableOf(curve), p);

function nearestIn({ curve, stops, places }: Table, p: Point2): { t: number; distance: number } {
  let least = Infinity;
  let best = 0;
  for (let i = 1; i < places.length; i++) {
    const [a, b] = [places[i - 1]!, places[i]!];
    const [ux, uy] = [b.x - a.x, b.y - a.y];
    const l = ux * ux + uy * uy;
    const s = l > 0 ? Math.min(1, Math.max(0, ((p.x - a.x) * ux + (p.y - a.y) * uy) / l)) : 0;
    const d = Math.hypot(a.x + s * ux - p.x, a.y + s * uy - p.y);
    if (d < least) [least, best] = [d, stops[i - 1]! + s * (stops[i]! - stops[i - 1]!)];
  }
  return nearestFrom(curve, p, best, 6);
}

interface View {
  readonly lines: ViewLine[];
  readonly edges: ViewEdge[];
}

/**
 * All that is seen of bodies, in small portions: between two of them it can be given up.
 * @param frame its normal points to the eye
 * @param drop an edge's exact curve on the plane; undefined where it is seen end on
 * @param cut height over the frame above which everything is taken away, mm
 * @param cuts where the plane cuts the bodies: others end there, and what lies under them is left out
 */
export function* looking<E extends BodyEdge>(
  bodies: readonly Looked<E>[],
  frame: Frame,
  drop: (edge: E) => PlanarCurve | undefined,
  cut: number | null = null,
  cuts: readonly PlanarCurve[] = [],
): Generator<void, View> {
  const look = looker(bodies, frame, cut);
  const dropped: Dropped[] = [];
  const edges: ViewEdge[] = [];
  const put = (line: SpaceLine, curve: PlanarCurve | undefined, smooth: boolean): void => {
    if (!curve) return;
    dropped.push({ flat: line.points.map((p) => toPlane(frame, p)), curve, runs: runsOf(line, look), smooth });
  };
  for (const b of bodies) {
    for (const e of b.edges) {
      yield;
      const curve = drop(e);
      if (!curve) continue;
      put(e, curve, e.smooth);
      if (e.name) edges.push(viewEdge(e, curve, frame));
    }
    for (const o of outlinesOf(b.mesh, normalOf(frame)))
      for (const part of cornersParted(o, frame)) {
        yield;
        put(denser(part), curveThrough(part.points.map((p) => toPlane(frame, p))), false);
      }
  }
  const others = [...dropped.map((d) => d.curve), ...cuts].map(tableOf);
  const near = Math.max(...bodies.map((b) => b.off), 1e-3) * 8;
  /** Where a line goes out of sight it is crossed by what hides it. */
  const crossing = (d: Dropped, x: number): Point2 | null => {
    const p = flatAt(d.flat, x);
    const own = nearestAlong(d.curve, p).t;
    let best: Point2 | null = null;
    let least = near;
    for (const o of others) {
      if (o.curve === d.curve || !reaches(o, p, near)) continue;
      const on = nearestIn(o, p);
      if (on.distance > near) continue;
      const hit = newton(d.curve, o.curve, own, on.t);
      const away = hit ? distance2(p, hit.at) : near;
      if (away < least) [least, best] = [away, hit!.at];
    }
    return best;
  };
  const lines: ViewLine[] = cuts.map((curve) => ({ curve, hidden: false, smooth: false }));
  for (const d of dropped) {
    yield;
    const n = d.flat.length - 1;
    for (const r of d.runs) {
      const ends = [r.from > 0 ? crossing(d, r.from) : null, r.to < n ? crossing(d, r.to) : null] as const;
      const curve = stretch(d, r.from, r.to, ends);
      if (curve && lengthy(curve)) lines.push({ curve, hidden: r.hidden, smooth: d.smooth });
    }
  }
  return { lines: uncovered(lines), edges };
}

const lengthy = (c: PlanarCurve): boolean => isWhole(c) || distance2(c.a, c.b) > LEAST || distance2(c.a, pointAt(c, 0.5)) > LEAST;

function viewEdge(e: BodyEdge, curve: PlanarCurve, frame: Frame): ViewEdge {
  const first = e.points[0]!;
  const last = e.points[e.points.length - 1]!;
  const lowFirst =
    first[2] < last[2] - 1e-6 || (Math.abs(first[2] - last[2]) <= 1e-6 && (first[0] < last[0] - 1e-6 || first[1] <= last[1]));
  const [low, high] = lowFirst ? [first, last] : [last, first];
  const middle = e.points[Math.floor((e.points.length - 1) / 2)]!;
  const tilt = e.circle && Math.abs(dot(e.circle.axis, normalOf(frame)));
  return {
    body: e.body,
    name: e.name,
    curve,
    straight: e.straight,
    ends: [
      toPlane(frame, low),
      e.straight ? middleOf(toPlane(frame, low), toPlane(frame, high)) : toPlane(frame, middle),
      toPlane(frame, high),
    ],
    ...(e.circle
      ? {
          circle: {
            centre: toPlane(frame, e.circle.centre),
            radius: e.circle.radius,
            whole: e.circle.whole,
            seen: tilt! > 1 - 1e-9 ? 'round' : tilt! < 1e-5 ? 'edge' : 'aslant',
          },
        }
      : {}),
  };
}

const middleOf = (a: Point2, b: Point2): Point2 => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });

/** Stretches of numbers without what others hold. */
function without(own: readonly (readonly [number, number])[], [lo, hi]: readonly [number, number]): (readonly [number, number])[] {
  return own.flatMap(([a, b]) =>
    hi <= a || lo >= b ? [[a, b] as const] : [[a, Math.min(b, lo)] as const, [Math.max(a, hi), b] as const].filter(([p, q]) => q > p),
  );
}

/** Lines without what lies under others: what is seen covers what is hidden, sharp edges what is smooth. */
function uncovered(lines: readonly ViewLine[]): ViewLine[] {
  const rank = (l: ViewLine): number => (l.hidden ? 2 : 0) + (l.smooth ? 1 : 0);
  const out: ViewLine[] = [];
  for (const l of [...lines].sort((a, b) => rank(a) - rank(b))) {
    const c = l.curve;
    if (c.kind === 'line') {
      const length = distance2(c.a, c.b);
      const u = { x: (c.b.x - c.a.x) / length, y: (c.b.y - c.a.y) / length };
      const on = (p: Point2): number => (p.x - c.a.x) * u.x + (p.y - c.a.y) * u.y;
      const off = (p: Point2): number => Math.abs((p.x - c.a.x) * u.y - (p.y - c.a.y) * u.x);
      let own: (readonly [number, number])[] = [[0, length]];
      for (const { curve: o } of out) {
        if (o.kind !== 'line' || off(o.a) > SAME || off(o.b) > SAME) continue;
        const [s, t] = [on(o.a), on(o.b)];
        own = without(own, [Math.min(s, t), Math.max(s, t)]);
        if (own.length === 0) break;
      }
      for (const [s, t] of own)
        if (t - s > LEAST) out.push({ ...l, curve: s === 0 && t === length ? c : piece(c, s / length, t / length) });
    } else if (c.kind === 'arc') {
      // Angles counted from where it begins, the way it runs.
      const way = Math.sign(c.sweep);
      let own: (readonly [number, number])[] = [[0, Math.abs(c.sweep)]];
      for (const { curve: o } of out) {
        if (o.kind !== 'arc' || distance2(o.centre, c.centre) > SAME || Math.abs(o.radius - c.radius) > SAME) continue;
        const first = Math.sign(o.sweep) === way ? o.start : o.start + o.sweep;
        const turn = 2 * Math.PI;
        const s = ((((first - c.start) * way) % turn) + turn) % turn;
        for (const k of [-turn, 0, turn]) own = without(own, [s + k - 1e-9, s + k + Math.abs(o.sweep) + 1e-9]);
        if (own.length === 0) break;
      }
      for (const [s, t] of own)
        if ((t - s) * c.radius > LEAST)
          out.push({ ...l, curve: s === 0 && t === Math.abs(c.sweep) ? c : piece(c, s / Math.abs(c.sweep), t / Math.abs(c.sweep)) });
    } else {
      const places = [0.02, 0.17, 0.34, 0.5, 0.66, 0.83, 0.98].map((t) => pointAt(c, t));
      const covers = (o: PlanarCurve): boolean => {
        if (o.kind === 'line') return false;
        const table = tableOf(o);
        return places.every((p) => reaches(table, p, SAME) && nearestIn(table, p).distance < SAME);
      };
      if (!out.some((o) => covers(o.curve))) out.push(l);
    }
  }
  return out;
}
