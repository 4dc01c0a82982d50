/** Where pieces cross each other: lines and arcs in closed form, procedural curves by boxes, Newton's steps and halving. */
import { intersect, parameterOn } from '../curves/intersect';
import type { PlanarCurve } from '../curves/planar';
import { newJet } from './jets';
import { intoPiece, type Piece } from './pieces';

const cut = (q: Piece, t: number): void => {
  if (t > q.t0 - 1e-9 && t < q.t1 + 1e-9) q.cuts.push(Math.min(q.t1, Math.max(q.t0, t)));
};

/** Notes on either piece where they cross. */
export function crossPieces(a: Piece, b: Piece): void {
  const [A, B] = [a.box, b.box];
  if (A[0] > B[2] || B[0] > A[2] || A[1] > B[3] || B[1] > A[3]) return;
  if (a.planar && b.planar)
    for (const h of intersect(a.planar, b.planar)) {
      cut(a, h.s);
      cut(b, h.t);
    }
  else if (a.planar) crossPlain(b, a);
  else if (b.planar) crossPlain(a, b);
  else crossProcedural(a, b);
}

const STARTS = [
  [0.5, 0.5],
  [0.05, 0.05],
  [0.95, 0.95],
  [0.05, 0.95],
  [0.95, 0.05],
] as const;
const [ja, jb] = [newJet(), newJet()];

function crossProcedural(a: Piece, b: Piece): void {
  const slack = a.slack + b.slack;
  const B = b.box;
  const found: number[] = [];
  for (let i = 1; i < a.ts.length; i++) {
    const x0 = Math.min(a.p[2 * i - 2]!, a.p[2 * i]!) - slack;
    const x1 = Math.max(a.p[2 * i - 2]!, a.p[2 * i]!) + slack;
    const y0 = Math.min(a.p[2 * i - 1]!, a.p[2 * i + 1]!) - slack;
    const y1 = Math.max(a.p[2 * i - 1]!, a.p[2 * i + 1]!) + slack;
    if (x0 > B[2] || x1 < B[0] || y0 > B[3] || y1 < B[1]) continue;
    for (let k = 1; k < b.ts.length; k++) {
      if (Math.max(b.p[2 * k - 2]!, b.p[2 * k]!) < x0 || Math.min(b.p[2 * k - 2]!, b.p[2 * k]!) > x1) continue;
      if (Math.max(b.p[2 * k - 1]!, b.p[2 * k + 1]!) < y0 || Math.min(b.p[2 * k - 1]!, b.p[2 * k + 1]!) > y1) continue;
      for (const [q, r] of STARTS) {
        const hit = newton(a, b, a.ts[i - 1]! + q * (a.ts[i]! - a.ts[i - 1]!), b.ts[k - 1]! + r * (b.ts[k]! - b.ts[k - 1]!));
        if (!hit) continue;
        if (found.every((o) => Math.abs(o - hit[0]) > 1e-9)) {
          found.push(hit[0]);
          cut(a, hit[0]);
          cut(b, hit[1]);
        }
        if (q === 0.5) break;
      }
    }
  }
}

function newton(a: Piece, b: Piece, s: number, t: number): [number, number] | undefined {
  const [ha, hb] = [(a.t1 - a.t0) / 4, (b.t1 - b.t0) / 4];
  for (let n = 0; n < 25; n++) {
    intoPiece(a, s, ja);
    intoPiece(b, t, jb);
    const [wx, wy] = [jb[0]! - ja[0]!, jb[1]! - ja[1]!];
    if (Math.hypot(wx, wy) < 1e-11 * (1 + Math.abs(ja[0]!) + Math.abs(ja[1]!))) return [s, t];
    const det = ja[2]! * jb[3]! - ja[3]! * jb[2]!;
    if (Math.abs(det) < 1e-14) return undefined;
    const ds = (wx * jb[3]! - wy * jb[2]!) / det;
    const dt = (wx * ja[3]! - wy * ja[2]!) / det;
    s = Math.min(a.t1, Math.max(a.t0, s + Math.min(ha, Math.max(-ha, ds))));
    t = Math.min(b.t1, Math.max(b.t0, t + Math.min(hb, Math.max(-hb, dt))));
  }
  return undefined;
}

/** A procedural curve against a line or an arc: the roots of its signed distance, two to a stretch where it turns back. */
function crossPlain(a: Piece, b: Piece): void {
  const c = b.planar as Extract<PlanarCurve, { kind: 'line' | 'arc' }>;
  const j = newJet();
  const [dx, dy] = [c.b.x - c.a.x, c.b.y - c.a.y];
  const l = Math.hypot(dx, dy) || 1;
  const off = (t: number): number => {
    intoPiece(a, t, j);
    return c.kind === 'line'
      ? ((j[1]! - c.a.y) * dx - (j[0]! - c.a.x) * dy) / l
      : Math.hypot(j[0]! - c.centre.x, j[1]! - c.centre.y) - c.radius;
  };
  const root = (from: number, to: number, low: number): void => {
    let [lo, hi] = [from, to];
    for (let r = 0; r < 60 && hi - lo > 1e-16; r++) {
      const m = (lo + hi) / 2;
      if (off(m) < 0 === low < 0) lo = m;
      else hi = m;
    }
    const t = (lo + hi) / 2;
    intoPiece(a, t, j);
    const s = parameterOn(c, { x: j[0]!, y: j[1]! });
    if (s < -1e-9 || s > 1 + 1e-9) return;
    cut(a, t);
    cut(b, s);
  };
  const v = Array.from(a.ts, off);
  // Ends that lie on it are its roots already: the neighbours' sides count.
  for (const k of [0, v.length - 1])
    if (Math.abs(v[k]!) < 1e-10) {
      const s = parameterOn(c, { x: a.p[2 * k]!, y: a.p[2 * k + 1]! });
      if (s > -1e-9 && s < 1 + 1e-9) {
        cut(a, a.ts[k]!);
        cut(b, s);
      }
    }
  for (let k = 1; k < v.length; k++) {
    const [from, to] = [a.ts[k - 1]!, a.ts[k]!];
    if (v[k]! < 0 !== v[k - 1]! < 0) {
      root(from, to, v[k - 1]!);
      continue;
    }
    // The same side at both ends: does it come back in between?
    const chord = Math.hypot(a.p[2 * k]! - a.p[2 * k - 2]!, a.p[2 * k + 1]! - a.p[2 * k - 1]!);
    if (Math.min(Math.abs(v[k]!), Math.abs(v[k - 1]!)) > 0.5 * chord + a.slack) continue;
    const sign = v[k]! < 0 ? -1 : 1;
    const beyond = lowest((t) => sign * off(t), from, to);
    if (beyond === undefined) continue;
    root(from, beyond, v[k - 1]!);
    root(beyond, to, -sign);
  }
}

/** A place where a function that may dip is below nothing; undefined where it does not dip so far. */
function lowest(f: (t: number) => number, from: number, to: number): number | undefined {
  let [lo, hi] = [from, to];
  for (let r = 0; r < 40; r++) {
    const [m1, m2] = [lo + 0.382 * (hi - lo), hi - 0.382 * (hi - lo)];
    const [a, b] = [f(m1), f(m2)];
    if (a < 0) return m1;
    if (b < 0) return m2;
    if (a < b) hi = m2;
    else lo = m1;
  }
  return undefined;
}
