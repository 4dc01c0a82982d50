/** Whether a place lies inside closed loops: even–odd along a level ray, on stretches that rise or fall all the way, solved where the place is near them. */
import type { PlanarCurve } from '../curves/planar';
import { type Evaluator, evaluatorOf, newJet } from './jets';

interface Stretch {
  readonly e: Evaluator;
  readonly t0: number;
  readonly t1: number;
  readonly ax: number;
  readonly ay: number;
  readonly bx: number;
  readonly by: number;
  readonly x0: number;
  readonly x1: number;
}

export class Inside {
  private readonly stretches: Stretch[] = [];
  private readonly j = newJet();

  constructor(loops: readonly (readonly PlanarCurve[])[]) {
    for (const loop of loops) for (const c of loop) this.add(c);
  }

  private add(c: PlanarCurve): void {
    const { j } = this;
    const e = evaluatorOf(c);
    const n = c.kind === 'line' ? 1 : c.kind === 'arc' ? 16 : 12 * (e.breaks.length - 1);
    const ts = [0];
    let before = 0;
    for (let k = 0; k <= n; k++) {
      const t = k / n;
      e.into(k === n ? t - 1e-13 : t, j);
      const rise = j[3]!;
      if (k > 0) {
        if (c.kind !== 'line' && rise > 0 !== before > 0) {
          let [a, b] = [(k - 1) / n, t];
          for (let r = 0; r < 48; r++) {
            const m = (a + b) / 2;
            e.into(m, j);
            if (j[3]! > 0 === before > 0) a = m;
            else b = m;
          }
          ts.push(b);
        }
        ts.push(t);
      }
      before = rise;
    }
    for (let k = 1; k < ts.length; k++) {
      e.into(ts[k - 1]!, j);
      const [ax, ay] = k === 1 ? [c.a.x, c.a.y] : [j[0]!, j[1]!];
      e.into((ts[k]! + ts[k - 1]!) / 2, j);
      const mx = j[0]!;
      e.into(ts[k]!, j);
      const [bx, by] = k === ts.length - 1 ? [c.b.x, c.b.y] : [j[0]!, j[1]!];
      const slack = c.kind === 'line' ? 0 : 2 * Math.abs(mx - (ax + bx) / 2) + 1e-9;
      const x0 = Math.min(ax, bx, mx) - slack;
      this.stretches.push({ e, t0: ts[k - 1]!, t1: ts[k]!, ax, ay, bx, by, x0, x1: Math.max(ax, bx, mx) + slack });
    }
  }

  has(x: number, y: number): boolean {
    const { j } = this;
    let odd = false;
    for (const s of this.stretches) {
      if (s.ay > y === s.by > y) continue;
      if (x < s.x0) {
        odd = !odd;
        continue;
      }
      if (x > s.x1) continue;
      if (s.e.curve.kind === 'line') {
        if (x < s.ax + ((y - s.ay) / (s.by - s.ay)) * (s.bx - s.ax)) odd = !odd;
        continue;
      }
      let [a, b] = [s.t0, s.t1];
      const up = s.by > s.ay;
      for (let r = 0; r < 52; r++) {
        const m = (a + b) / 2;
        s.e.into(m, j);
        if (j[1]! < y === up) a = m;
        else b = m;
      }
      s.e.into((a + b) / 2, j);
      if (x < j[0]!) odd = !odd;
    }
    return odd;
  }
}
