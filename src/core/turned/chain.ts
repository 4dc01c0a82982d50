/** Loose stretches end to end, as closed loops. */
import type { PlanarCurve } from '../curves/planar';

/** What is chained: where it begins and ends, and its directions there. */
export interface Chained {
  readonly ax: number;
  readonly ay: number;
  readonly bx: number;
  readonly by: number;
  readonly dax: number;
  readonly day: number;
  readonly dbx: number;
  readonly dby: number;
}

/** A chain that stays open, with its loose end. */
export class OpenChain extends Error {
  constructor(
    readonly x: number,
    readonly y: number,
  ) {
    super(`open at ${x.toFixed(5)}, ${y.toFixed(5)}`);
  }
}

/** Stretches that lead nowhere are dropped as hairs up to this length, mm. */
const HAIR = 1e-2;

/**
 * End to nearest beginning; where several begin at one place, the sharpest left turn keeps loops apart.
 * @param within how far an end may be from the beginning it goes on with, mm
 * @throws OpenChain
 */
export function chained<T extends Chained>(all: readonly T[], within: number): T[][] {
  const loops: T[][] = [];
  const used = new Set<T>();
  const short = (s: T): boolean => Math.hypot(s.ax - s.bx, s.ay - s.by) < 1e-9;
  const whole = (s: T): boolean => short(s) && Math.hypot(s.dax, s.day) > 1e-6;
  for (const s of all) if (short(s) && !whole(s)) used.add(s);
  for (let again = true; again; ) {
    again = false;
    for (const a of all) {
      if (used.has(a) || short(a)) continue;
      const goesOn = all.some((b) => !used.has(b) && Math.hypot(b.ax - a.bx, b.ay - a.by) <= within);
      const comesFrom = all.some((b) => !used.has(b) && Math.hypot(a.ax - b.bx, a.ay - b.by) <= within);
      if (goesOn && comesFrom) continue;
      if (Math.hypot(a.ax - a.bx, a.ay - a.by) > HAIR) throw new OpenChain(a.bx, a.by);
      used.add(a);
      again = true;
    }
  }
  for (const first of all) {
    if (used.has(first)) continue;
    const loop = [first];
    used.add(first);
    while (!(loop.length === 1 && whole(first))) {
      const last = loop[loop.length - 1]!;
      let best: T | undefined;
      let least = Infinity;
      for (const c of all) {
        if (c !== first && used.has(c)) continue;
        const d = Math.hypot(c.ax - last.bx, c.ay - last.by);
        if (d > (c === first && loop.length < 2 ? Math.min(1e-7, within) : within)) continue;
        const turn = Math.atan2(last.dbx * c.day - last.dby * c.dax, last.dbx * c.dax + last.dby * c.day);
        const score = (d < 1e-7 ? 0 : d * 1e6) - 1e-3 * turn;
        if (score < least) {
          least = score;
          best = c;
        }
      }
      if (!best) throw new OpenChain(last.bx, last.by);
      if (best === first) break;
      used.add(best);
      loop.push(best);
    }
    loops.push(loop);
  }
  return loops;
}

/** Ends meet exactly, as the kernel joins by places. Lines and splines give way; arcs stay. */
export function sealed<T extends { readonly curve: PlanarCurve }>(loop: readonly T[]): T[] {
  const n = loop.length;
  if (n === 1) return [...loop];
  const rigid = (c: PlanarCurve): boolean => c.kind === 'arc' || c.kind === 'ellipse';
  const meet = loop.map(({ curve }, i) => {
    const next = loop[(i + 1) % n]!.curve;
    return !rigid(curve) && rigid(next) ? next.a : curve.b;
  });
  return loop.map((c, i) => {
    const [a, b] = [meet[(i + n - 1) % n]!, meet[i]!];
    const k = c.curve;
    if (k.kind === 'line') return { ...c, curve: { kind: 'line', a, b } };
    if (k.kind !== 'spline') return { ...c, curve: { ...k, a, b } };
    const poles = [...k.spline.poles];
    poles[0] = [a.x, a.y];
    poles[poles.length - 1] = [b.x, b.y];
    return { ...c, curve: { ...k, a, b, spline: { ...k.spline, poles } } };
  });
}
