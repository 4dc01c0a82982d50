/** A cubic spline along a procedural curve: Hermite pieces, exact in place and direction at their knots, halved where they are off. */
import type { PlanarCurve } from '../curves/planar';
import { type Jet, newJet } from './jets';

interface Node {
  readonly t: number;
  readonly x: number;
  readonly y: number;
  /** Unit direction. */
  readonly ux: number;
  readonly uy: number;
}

const j = newJet();

function nodeAt(into: (t: number, o: Jet) => void, t: number, t0: number, t1: number): Node {
  into(t, j);
  const [x, y] = [j[0]!, j[1]!];
  if (Math.hypot(j[2]!, j[3]!) < 1e-7) into(t + (t - t0 < t1 - t ? 1 : -1) * 1e-5 * (t1 - t0), j);
  const l = Math.hypot(j[2]!, j[3]!);
  return { t, x, y, ux: j[2]! / l, uy: j[3]! / l };
}

/** Lengths of the handles so that the middle of the cubic lies on the curve's own middle; else a third of the chord. */
function handles(a: Node, b: Node, middle: Node): { p: number; q: number } {
  const chord = Math.hypot(b.x - a.x, b.y - a.y);
  // Middle of the cubic: (a + b)/2 + 3/8 (p·ua − q·ub), two equations for p and q.
  const det = -a.ux * b.uy + a.uy * b.ux;
  if (Math.abs(det) > 0.02) {
    const rx = (middle.x - (a.x + b.x) / 2) * (8 / 3);
    const ry = (middle.y - (a.y + b.y) / 2) * (8 / 3);
    const p = (-rx * b.uy + ry * b.ux) / det;
    const q = (a.ux * ry - a.uy * rx) / det;
    const sound = (h: number): boolean => h > 0.15 * chord && h < 0.7 * chord;
    if (sound(p) && sound(q)) return { p, q };
  }
  return { p: chord / 3, q: chord / 3 };
}

const SHARES = [0.15, 0.35, 0.5, 0.65, 0.85];

/** Largest distance of a cubic from the curve, square to it, at a few places. */
function missOf(into: (t: number, o: Jet) => void, a: Node, b: Node, p: number, q: number): number {
  let worst = 0;
  for (const w of SHARES) {
    const v = 1 - w;
    const [b0, b1, b2, b3] = [v * v * v, 3 * v * v * w, 3 * v * w * w, w * w * w];
    const x = b0 * a.x + b1 * (a.x + p * a.ux) + b2 * (b.x - q * b.ux) + b3 * b.x;
    const y = b0 * a.y + b1 * (a.y + p * a.uy) + b2 * (b.y - q * b.uy) + b3 * b.y;
    let t = a.t + w * (b.t - a.t);
    for (let r = 0; r < 4; r++) {
      into(t, j);
      const l2 = j[2]! * j[2]! + j[3]! * j[3]!;
      if (l2 < 1e-16) break;
      t = Math.min(b.t, Math.max(a.t, t + ((x - j[0]!) * j[2]! + (y - j[1]!) * j[3]!) / l2));
    }
    into(t, j);
    worst = Math.max(worst, Math.hypot(x - j[0]!, y - j[1]!));
  }
  return worst;
}

/**
 * @param into place and derivatives by parameter
 * @param breaks parameters at which the curve is less smooth
 * @param tolerance largest distance from the curve, mm
 */
export function splineAlong(
  into: (t: number, o: Jet) => void,
  t0: number,
  t1: number,
  breaks: readonly number[],
  tolerance: number,
): Extract<PlanarCurve, { kind: 'spline' }> {
  const hair = 1e-6 * (t1 - t0);
  const starts = [t0, ...breaks.filter((b) => b > t0 + hair && b < t1 - hair), t1];
  const nodes: Node[] = [nodeAt(into, t0, t0, t1)];
  const parts: { readonly p: number; readonly q: number }[] = [];
  const along = (a: Node, b: Node, depth: number): void => {
    const middle = nodeAt(into, (a.t + b.t) / 2, t0, t1);
    const part = handles(a, b, middle);
    const long = Math.hypot(b.x - a.x, b.y - a.y) > 1e-5;
    if (long && depth < 12 && missOf(into, a, b, part.p, part.q) > tolerance) {
      along(a, middle, depth + 1);
      along(middle, b, depth + 1);
      return;
    }
    parts.push(part);
    nodes.push(b);
  };
  for (let i = 1; i < starts.length; i++) along(nodes[nodes.length - 1]!, nodeAt(into, starts[i]!, t0, t1), 0);
  // One B-spline of all pieces: knots by the lengths of the handles make the joints C1, so every inner pole is needed once only.
  const n = parts.length;
  const widths = [1];
  for (let i = 1; i < n; i++) widths.push((widths[i - 1]! * parts[i]!.p) / parts[i - 1]!.q);
  const total = widths.reduce((a, b) => a + b, 0);
  const knots = [0, 0, 0, 0];
  let u = 0;
  for (let i = 0; i < n - 1; i++) {
    u += widths[i]! / total;
    knots.push(u, u);
  }
  knots.push(1, 1, 1, 1);
  const poles: number[][] = [[nodes[0]!.x, nodes[0]!.y]];
  for (let i = 0; i < n; i++) {
    const [a, b, { p, q }] = [nodes[i]!, nodes[i + 1]!, parts[i]!];
    poles.push([a.x + p * a.ux, a.y + p * a.uy], [b.x - q * b.ux, b.y - q * b.uy]);
  }
  const last = nodes[n]!;
  poles.push([last.x, last.y]);
  return {
    kind: 'spline',
    a: { x: nodes[0]!.x, y: nodes[0]!.y },
    b: { x: last.x, y: last.y },
    spline: { degree: 3, knots, poles },
  };
}
