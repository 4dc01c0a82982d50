/**
 * The half outline of a body that is turned all round: closed loops in the half plane beside the axis, x the radius and y the height in mm,
 * the material to the left. Every curve carries the name of the face it is turned to; stretches of the axis close loops and make no face.
 */
import { arcAbout, type PlanarCurve, type Point2, pointAt, reverse } from '../curves/planar';
import { gauss } from '../quadrature';
import type { Jet } from './jets';
import { type Evaluator, evaluatorOf, newJet } from './jets';

/** Stands in the place of a face name on stretches of the axis. */
export const AXIS = '';

export interface MeridianCurve {
  readonly curve: PlanarCurve;
  readonly face: string;
}

export type Loop = readonly MeridianCurve[];

export interface Meridian {
  readonly loops: readonly Loop[];
}

/** All curves that turn to a face. */
export const skinOf = (m: Meridian): MeridianCurve[] => m.loops.flat().filter((c) => c.face !== AXIS);

export const curvesOf = (m: Meridian): PlanarCurve[][] => m.loops.map((l) => l.map((c) => c.curve));

/** Curves end to end, both ends on the axis, closed along it; or a ring that closes on itself. Run either way round. */
export function meridianOf(curves: readonly MeridianCurve[], onAxis: boolean): Meridian {
  const closed = [...curves];
  if (onAxis) {
    const [from, to] = [curves[curves.length - 1]!.curve.b, curves[0]!.curve.a];
    closed.push({ curve: { kind: 'line', a: { x: 0, y: from.y }, b: { x: 0, y: to.y } }, face: AXIS });
  }
  return { loops: [signedArea(closed) >= 0 ? closed : reversedLoop(closed)] };
}

/** A full cylinder about the axis. @param faces its foot, its side and its top */
export function drum(radius: number, low: number, high: number, faces: readonly [string, string, string]): Meridian {
  const places = [
    { x: 0, y: low },
    { x: radius, y: low },
    { x: radius, y: high },
    { x: 0, y: high },
  ] as const;
  const sides = faces.map((face, i) => ({ face, curve: { kind: 'line' as const, a: places[i]!, b: places[i + 1]! } }));
  return meridianOf(sides, true);
}

export const reversedLoop = (l: Loop): MeridianCurve[] => l.map((c) => ({ ...c, curve: reverse(c.curve) })).reverse();

const panels = (e: Evaluator): readonly number[] => {
  const c = e.curve;
  if (c.kind !== 'arc' && c.kind !== 'ellipse') return e.breaks;
  const n = Math.max(1, Math.ceil(Math.abs(c.sweep) / 0.6));
  return Array.from({ length: n + 1 }, (_, i) => i / n);
};

const RULE = gauss(12);
const jet = newJet();

/** ∫ f dt along curves, by Gauss–Legendre quadrature on every smooth stretch. */
export function integrateAlong(curves: readonly PlanarCurve[], f: (j: Jet) => number): number {
  let sum = 0;
  for (const c of curves) {
    const e = evaluatorOf(c);
    const ts = panels(e);
    for (let i = 1; i < ts.length; i++) {
      const h = ts[i]! - ts[i - 1]!;
      for (const [x, w] of RULE) {
        e.into(ts[i - 1]! + x * h, jet);
        sum += w * h * f(jet);
      }
    }
  }
  return sum;
}

/** mm²; positive for a loop with its inside to the left (Green's theorem). */
export const signedArea = (l: Loop): number =>
  integrateAlong(
    l.map((c) => c.curve),
    (j) => (j[0]! * j[3]! - j[1]! * j[2]!) / 2,
  );

/** What loops sweep in a full turn, mm³ (Pappus; ∮ πx² dy by the divergence theorem). */
export const sweptVolume = (loops: readonly (readonly PlanarCurve[])[]): number =>
  Math.PI * integrateAlong(loops.flat(), (j) => j[0]! * j[0]! * j[3]!);

/** Area of the turned faces, mm². */
export const sweptArea = (curves: readonly PlanarCurve[]): number =>
  2 * Math.PI * integrateAlong(curves, (j) => j[0]! * Math.hypot(j[2]!, j[3]!));

/** Height of the centroid along the axis, mm. */
export function centroidHeight(loops: readonly (readonly PlanarCurve[])[]): number {
  const moment = Math.PI * integrateAlong(loops.flat(), (j) => j[0]! * j[0]! * j[1]! * j[3]!);
  return moment / sweptVolume(loops);
}

export interface Extent {
  /** Largest radius, mm. */
  readonly radius: number;
  readonly low: number;
  readonly high: number;
}

/** Exact bounds: ends, and the places where a curve turns back. */
export function extentOf(curves: readonly PlanarCurve[]): Extent {
  let [radius, low, high] = [0, Infinity, -Infinity];
  const see = (p: Point2): void => {
    radius = Math.max(radius, p.x);
    low = Math.min(low, p.y);
    high = Math.max(high, p.y);
  };
  for (const c of curves) {
    see(c.a);
    see(c.b);
    for (const k of [0, 1] as const) for (const t of turningPoints(c, k)) see(pointAt(c, t));
  }
  return { radius, low, high };
}

/** Parameters at which a curve turns back in x (0) or y (1). */
export function turningPoints(c: PlanarCurve, axis: 0 | 1): number[] {
  if (c.kind === 'line') return [];
  const e = evaluatorOf(c);
  const j = newJet();
  const slope = (t: number): number => {
    e.into(t, j);
    return j[2 + axis]!;
  };
  const out: number[] = [];
  for (let b = 1; b < e.breaks.length; b++) {
    const [t0, t1] = [e.breaks[b - 1]!, e.breaks[b]!];
    const n = c.kind === 'arc' ? Math.max(4, Math.ceil(Math.abs(c.sweep) / 0.4)) : 12;
    let before = slope(t0 + 1e-12);
    for (let k = 1; k <= n; k++) {
      const [from, to] = [t0 + ((t1 - t0) * (k - 1)) / n, t0 + ((t1 - t0) * k) / n];
      const after = slope(to - 1e-12);
      if (after > 0 !== before > 0) {
        let [a, z] = [from, to];
        for (let r = 0; r < 60; r++) {
          const m = (a + z) / 2;
          if (slope(m) > 0 === before > 0) a = m;
          else z = m;
        }
        out.push((a + z) / 2);
      }
      before = after;
    }
  }
  return out;
}

/** A curve after scaling, turning over and lifting along the axis. @param flip +1, or −1 to turn the axis over (the sense of run turns too) */
function placedCurve(c: PlanarCurve, scale: number, flip: 1 | -1, lift: number): PlanarCurve {
  const p = (q: Point2): Point2 => ({ x: scale * q.x, y: flip * scale * q.y + lift });
  switch (c.kind) {
    case 'line':
      return { kind: 'line', a: p(c.a), b: p(c.b) };
    case 'arc':
      return { ...arcAbout(p(c.centre), scale * c.radius, flip * c.start, flip * c.sweep), a: p(c.a), b: p(c.b) };
    case 'ellipse':
      return {
        ...c,
        a: p(c.a),
        b: p(c.b),
        centre: p(c.centre),
        u: { x: scale * c.u.x, y: flip * scale * c.u.y },
        v: { x: scale * c.v.x, y: flip * scale * c.v.y },
      };
    case 'spline':
      return {
        kind: 'spline',
        a: p(c.a),
        b: p(c.b),
        spline: { ...c.spline, poles: c.spline.poles.map(([x, y]) => [scale * x!, flip * scale * y! + lift]) },
      };
  }
}

/** A meridian scaled, turned over (its loops then run the other way) or lifted along its axis. */
export const placedMeridian = (m: Meridian, scale: number, flip: 1 | -1, lift: number): Meridian => ({
  loops: m.loops.map((l) => {
    const placed = l.map((c) => ({ ...c, curve: placedCurve(c.curve, scale, flip, lift) }));
    return flip > 0 ? placed : reversedLoop(placed);
  }),
});

export const renamed = (m: Meridian, name: (face: string) => string): Meridian => ({
  loops: m.loops.map((l) => l.map((c) => (c.face === AXIS ? c : { ...c, face: name(c.face) }))),
});
