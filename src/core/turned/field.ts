/** The distance from a place to a set of plane curves: lines and arcs in closed form, others by chords with their sagitta as a bound, then Newton's steps. */
import type { PlanarCurve } from '../curves/planar';
import { type Evaluator, evaluatorOf, newJet } from './jets';

export interface Nearest {
  distance: number;
  x: number;
  y: number;
  /** Index of the curve; −1 where none is nearer than asked. */
  curve: number;
  /** Parameter on it, 0…1. */
  t: number;
}
export const newNearest = (): Nearest => ({ distance: 0, x: 0, y: 0, curve: -1, t: 0 });

interface Chords {
  readonly t: Float64Array;
  readonly p: Float64Array;
  /** Largest distance of the curve from each chord. */
  readonly slack: Float64Array;
}

export class Field {
  readonly evaluators: readonly Evaluator[];
  private readonly chords: readonly (Chords | undefined)[];
  private readonly box: Float64Array;
  private readonly j = newJet();

  constructor(readonly curves: readonly PlanarCurve[]) {
    this.evaluators = curves.map(evaluatorOf);
    this.box = new Float64Array(4 * curves.length);
    this.chords = this.evaluators.map((e, i) => this.chordsOf(e, i));
  }

  private chordsOf(e: Evaluator, index: number): Chords | undefined {
    const { curve: c } = e;
    const j = this.j;
    const ts = [e.breaks[0]!];
    const per = c.kind === 'line' ? 1 : c.kind === 'arc' ? Math.max(2, Math.ceil(Math.abs(c.sweep) / 0.4)) : 8;
    for (let b = 1; b < e.breaks.length; b++)
      for (let k = 1; k <= per; k++) ts.push(e.breaks[b - 1]! + ((e.breaks[b]! - e.breaks[b - 1]!) * k) / per);
    const p = new Float64Array(2 * ts.length);
    let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
    ts.forEach((t, k) => {
      e.into(t, j);
      p[2 * k] = j[0]!;
      p[2 * k + 1] = j[1]!;
      x0 = Math.min(x0, j[0]!);
      x1 = Math.max(x1, j[0]!);
      y0 = Math.min(y0, j[1]!);
      y1 = Math.max(y1, j[1]!);
    });
    const slack = new Float64Array(ts.length - 1);
    let worst = 0;
    if (c.kind !== 'line')
      for (let k = 1; k < ts.length; k++) {
        const h = ts[k]! - ts[k - 1]!;
        let most = 0;
        for (const q of [0, 0.5, 1]) {
          e.into(ts[k - 1]! + q * h * (1 - 1e-9), j);
          most = Math.max(most, Math.hypot(j[4]!, j[5]!));
        }
        // Second derivatives of cubics are linear, so their ends bound them; a little more for higher degrees.
        slack[k - 1] = (1.3 * most * h * h) / 8 + 1e-9;
        worst = Math.max(worst, slack[k - 1]!);
      }
    this.box.set([x0 - worst, y0 - worst, x1 + worst, y1 + worst], 4 * index);
    return c.kind === 'line' || c.kind === 'arc' ? undefined : { t: Float64Array.from(ts), p, slack };
  }

  /**
   * The nearest place on any curve.
   * @param within places farther than this may go unseen; then `curve` is −1
   */
  nearest(x: number, y: number, out: Nearest, within = Infinity): void {
    out.distance = within;
    out.curve = -1;
    for (let i = 0; i < this.curves.length; i++) this.nearestOn(i, x, y, out);
  }

  /** The same for one curve; `out` is left alone where it is not nearer than what stands there. */
  nearestOn(i: number, x: number, y: number, out: Nearest): void {
    const { box } = this;
    const bx = Math.max(box[4 * i]! - x, 0, x - box[4 * i + 2]!);
    const by = Math.max(box[4 * i + 1]! - y, 0, y - box[4 * i + 3]!);
    if (bx * bx + by * by >= out.distance * out.distance) return;
    const c = this.curves[i]!;
    if (c.kind === 'line') {
      const [ux, uy] = [c.b.x - c.a.x, c.b.y - c.a.y];
      const t = Math.min(1, Math.max(0, ((x - c.a.x) * ux + (y - c.a.y) * uy) / (ux * ux + uy * uy || 1e-300)));
      take(out, i, t, c.a.x + t * ux, c.a.y + t * uy, x, y);
    } else if (c.kind === 'arc') {
      const full = Math.abs(c.sweep);
      let s = (Math.atan2(y - c.centre.y, x - c.centre.x) - c.start) * Math.sign(c.sweep);
      s -= 2 * Math.PI * Math.floor(s / (2 * Math.PI));
      if (s > full) s = s - full < 2 * Math.PI - s ? full : 0;
      const w = c.start + Math.sign(c.sweep) * s;
      take(out, i, s / full, c.centre.x + c.radius * Math.cos(w), c.centre.y + c.radius * Math.sin(w), x, y);
    } else this.nearestOnSpline(i, x, y, out);
  }

  private nearestOnSpline(i: number, x: number, y: number, out: Nearest): void {
    const { t: ts, p, slack } = this.chords[i]!;
    const e = this.evaluators[i]!;
    const { j } = this;
    // A first bound by the corners, then every chord that may hide something nearer.
    let corner = 0;
    let bound = Infinity;
    for (let k = 0; k < ts.length; k++) {
      const [dx, dy] = [p[2 * k]! - x, p[2 * k + 1]! - y];
      if (dx * dx + dy * dy < bound) {
        bound = dx * dx + dy * dy;
        corner = k;
      }
    }
    take(out, i, ts[corner]!, p[2 * corner]!, p[2 * corner + 1]!, x, y);
    for (let k = 0; k < slack.length; k++) {
      const [ax, ay] = [p[2 * k]!, p[2 * k + 1]!];
      const [ux, uy] = [p[2 * k + 2]! - ax, p[2 * k + 3]! - ay];
      const s = Math.min(1, Math.max(0, ((x - ax) * ux + (y - ay) * uy) / (ux * ux + uy * uy || 1e-300)));
      if (Math.hypot(ax + s * ux - x, ay + s * uy - y) - slack[k]! >= out.distance) continue;
      // Where the distance goes from falling to rising. A quarter of a chord at a time: two minima may share one chord.
      const w = (ts[k + 1]! - ts[k]!) / 4;
      let before = 0;
      for (let m = 0; m <= 4; m++) {
        const at = m === 4 ? ts[k + 1]! - 1e-13 : ts[k]! + m * w;
        e.into(at, j);
        const slope = (x - j[0]!) * j[2]! + (y - j[1]!) * j[3]!;
        if (m > 0 && m < 4) take(out, i, at, j[0]!, j[1]!, x, y);
        if (m > 0 && before > 0 && slope < 0) this.walk(i, ts[k]! + (m - 1) * w, at, x, y, out);
        before = slope;
      }
    }
  }

  /** Newton's steps kept in their bracket: near a centre of curvature they alone crawl. */
  private walk(i: number, from: number, to: number, x: number, y: number, out: Nearest): void {
    const e = this.evaluators[i]!;
    const { j } = this;
    let [a, b, t] = [from, to, (from + to) / 2];
    for (let round = 0; round < 60; round++) {
      e.into(t, j);
      const [wx, wy] = [x - j[0]!, y - j[1]!];
      const slope = wx * j[2]! + wy * j[3]!;
      if (slope > 0) a = t;
      else b = t;
      let next = t + slope / (j[2]! * j[2]! + j[3]! * j[3]! - (wx * j[4]! + wy * j[5]!));
      if (!(next > a && next < b)) next = (a + b) / 2;
      if (Math.abs(next - t) < 1e-13) break;
      t = next;
    }
    e.into(t, j);
    take(out, i, t, j[0]!, j[1]!, x, y);
  }
}

function take(out: Nearest, curve: number, t: number, px: number, py: number, x: number, y: number): void {
  const d = Math.hypot(px - x, py - y);
  if (!(d < out.distance)) return;
  out.distance = d;
  out.x = px;
  out.y = py;
  out.curve = curve;
  out.t = t;
}
