/** A plane curve by the length along it. */
import { gauss } from '../quadrature';
import { derivatives, distance2, isWhole, type PlanarCurve, type Point2, pointAt, tangentAt } from './planar';

interface ByLength {
  /** mm. */
  readonly length: number;
  /** It ends where it begins: lengths go on round it. */
  readonly closed: boolean;
  /** From its beginning to a parameter, mm. */
  readonly lengthTo: (t: number) => number;
  /** Place and direction so far along it; beyond the ends of an open one the end. */
  readonly at: (s: number) => { readonly p: Point2; readonly way: Point2 };
}

/** Pieces that a spline or an ellipse is measured in, by a rule of six places each. */
const PIECES = 64;
const RULE = gauss(6);

/** Lengths of lines and arcs are exact, others to about 1e-9 of the whole. */
export function byLength(curve: PlanarCurve): ByLength {
  const even = curve.kind === 'line' || curve.kind === 'arc';
  const speed = (t: number): number => {
    const { d1 } = derivatives(curve, t);
    return Math.hypot(d1.x, d1.y);
  };
  const between = (a: number, b: number): number => RULE.reduce((sum, [x, w]) => sum + w * speed(a + x * (b - a)), 0) * (b - a);
  const pieces = even ? 1 : PIECES;
  const sums = [0];
  for (let i = 0; i < pieces; i++) sums.push(sums[i]! + between(i / pieces, (i + 1) / pieces));
  const length = sums[pieces]!;
  const closed = isWhole(curve) || distance2(pointAt(curve, 0), pointAt(curve, 1)) < 1e-9;
  const lengthTo = (t: number): number => {
    const i = Math.min(pieces - 1, Math.floor(t * pieces));
    return sums[i]! + between(i / pieces, t);
  };
  const parameter = (s: number): number => {
    if (even) return s / length;
    const i = Math.max(
      0,
      sums.findLastIndex((sum, k) => sum <= s && k < pieces),
    );
    let t = (i + (s - sums[i]!) / (sums[i + 1]! - sums[i]! || 1)) / pieces;
    for (let round = 0; round < 12; round++) {
      const off = lengthTo(t) - s;
      const v = speed(t);
      if (Math.abs(off) < 1e-12 * length || !(v > 0)) break;
      t = Math.min(1, Math.max(0, t - off / v));
    }
    return t;
  };
  return {
    length,
    closed,
    lengthTo,
    at: (s) => {
      const t = parameter(closed ? s - length * Math.floor(s / length) : Math.min(length, Math.max(0, s)));
      return { p: pointAt(curve, t), way: tangentAt(curve, t) };
    },
  };
}
