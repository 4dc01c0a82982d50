/** Plane curves for the inner loop: place and two derivatives into one array, without an object a call. */
import { evaluateBSpline } from '../curves/bspline';
import type { PlanarCurve } from '../curves/planar';

/** x, y, x′, y′, x″, y″ */
export type Jet = Float64Array;
export const newJet = (): Jet => new Float64Array(6);

/** A curve that is asked many times. */
export interface Evaluator {
  readonly curve: PlanarCurve;
  /** Parameters between which it is smooth, 0 and 1 among them. */
  readonly breaks: readonly number[];
  into(t: number, out: Jet): void;
}

export function evaluatorOf(c: PlanarCurve): Evaluator {
  switch (c.kind) {
    case 'line': {
      const [dx, dy] = [c.b.x - c.a.x, c.b.y - c.a.y];
      return {
        curve: c,
        breaks: [0, 1],
        into: (t, o) => {
          o[0] = c.a.x + t * dx;
          o[1] = c.a.y + t * dy;
          o[2] = dx;
          o[3] = dy;
          o[4] = 0;
          o[5] = 0;
        },
      };
    }
    case 'arc': {
      const { centre, radius, start, sweep: k } = c;
      return {
        curve: c,
        breaks: [0, 1],
        into: (t, o) => {
          const w = start + t * k;
          const [x, y] = [radius * Math.cos(w), radius * Math.sin(w)];
          o[0] = centre.x + x;
          o[1] = centre.y + y;
          o[2] = -y * k;
          o[3] = x * k;
          o[4] = -x * k * k;
          o[5] = -y * k * k;
        },
      };
    }
    case 'ellipse': {
      const { centre, u, v, start, sweep: k } = c;
      return {
        curve: c,
        breaks: [0, 0.25, 0.5, 0.75, 1],
        into: (t, o) => {
          const w = start + t * k;
          const [cos, sin] = [Math.cos(w), Math.sin(w)];
          const x = u.x * cos + v.x * sin;
          const y = u.y * cos + v.y * sin;
          o[0] = centre.x + x;
          o[1] = centre.y + y;
          o[2] = (-u.x * sin + v.x * cos) * k;
          o[3] = (-u.y * sin + v.y * cos) * k;
          o[4] = -x * k * k;
          o[5] = -y * k * k;
        },
      };
    }
    case 'spline':
      return splineEvaluator(c);
  }
}

function splineEvaluator(c: Extract<PlanarCurve, { kind: 'spline' }>): Evaluator {
  const { spline } = c;
  const p = spline.degree;
  const breaks = [...new Set(spline.knots)].filter((k, i, all) => i === 0 || k - all[i - 1]! > 1e-12);
  const spans = breaks.length - 1;
  const powers = new Float64Array(spans * (p + 1) * 2);
  for (let i = 0; i < spans; i++) {
    // Taylor about the middle of the span: exact for a polynomial, and the powers stay small.
    const d = evaluateBSpline(spline, (breaks[i]! + breaks[i + 1]!) / 2, p);
    let factorial = 1;
    for (let k = 0; k <= p; k++) {
      if (k > 0) factorial *= k;
      powers[(i * (p + 1) + k) * 2] = d[k]![0]! / factorial;
      powers[(i * (p + 1) + k) * 2 + 1] = d[k]![1]! / factorial;
    }
  }
  return {
    curve: c,
    breaks,
    into: (t, o) => {
      let lo = 0;
      let hi = spans - 1;
      while (lo < hi) {
        const mid = (lo + hi + 1) >> 1;
        if (breaks[mid]! <= t) lo = mid;
        else hi = mid - 1;
      }
      const h = t - (breaks[lo]! + breaks[lo + 1]!) / 2;
      const base = lo * (p + 1) * 2;
      let [x, y, dx, dy, ex, ey] = [0, 0, 0, 0, 0, 0];
      for (let k = p; k >= 0; k--) {
        ex = ex * h + 2 * dx;
        ey = ey * h + 2 * dy;
        dx = dx * h + x;
        dy = dy * h + y;
        x = x * h + powers[base + 2 * k]!;
        y = y * h + powers[base + 2 * k + 1]!;
      }
      o[0] = x;
      o[1] = y;
      o[2] = dx;
      o[3] = dy;
      o[4] = ex;
      o[5] = ey;
    },
  };
}

/** Moves a jet to the parallel curve at a distance to the left; its second derivative is left as it was. */
export function shiftJet(o: Jet, distance: number): void {
  if (distance === 0) return;
  const [dx, dy] = [o[2]!, o[3]!];
  const l = Math.hypot(dx, dy);
  if (!(l > 0)) return;
  const bend = (dx * o[5]! - dy * o[4]!) / (l * l * l);
  o[0] = o[0]! - (distance * dy) / l;
  o[1] = o[1]! + (distance * dx) / l;
  o[2] = dx * (1 - bend * distance);
  o[3] = dy * (1 - bend * distance);
}

/** Unit normal to the left of a curve, taken a hair inside where it stands still at its end. */
export function leftNormal(e: Evaluator, t: number, j: Jet): [number, number] {
  e.into(t, j);
  if (Math.hypot(j[2]!, j[3]!) < 1e-9) e.into(t + (t < 0.5 ? 1e-5 : -1e-5), j);
  const l = Math.hypot(j[2]!, j[3]!);
  return [-j[3]! / l, j[2]! / l];
}

/** Parameters between which a curve turns by less than a quarter or so, so that stretches cross few times. */
export function turnCuts(e: Evaluator): number[] {
  const c = e.curve;
  if (c.kind === 'line') return [0, 1];
  if (c.kind === 'arc') {
    const n = Math.max(1, Math.ceil(Math.abs(c.sweep) / 2.2));
    return Array.from({ length: n + 1 }, (_, i) => i / n);
  }
  const j = newJet();
  const out = [e.breaks[0]!];
  let before: number | undefined;
  let sum = 0;
  for (let b = 1; b < e.breaks.length; b++)
    for (let k = b === 1 ? 0 : 1; k <= 12; k++) {
      const t = e.breaks[b - 1]! + ((e.breaks[b]! - e.breaks[b - 1]!) * k) / 12;
      e.into(t, j);
      const w = Math.atan2(j[3]!, j[2]!);
      if (before !== undefined) {
        sum += Math.abs(w - before - 2 * Math.PI * Math.round((w - before) / (2 * Math.PI)));
        if (sum > 1.2) {
          out.push(t);
          sum = 0;
        }
      }
      before = w;
    }
  const last = e.breaks[e.breaks.length - 1]!;
  if (last - out[out.length - 1]! > 1e-9) out.push(last);
  return out;
}
