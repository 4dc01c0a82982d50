/** Rounds and bevels of circular edges, which are corners of the meridian: an arc that touches both sides, or a line across the corner. */
import { intersect } from '../curves/intersect';
import { piece } from '../curves/offset';
import { arcAbout, distance2, type PlanarCurve, type Point2, pointAt } from '../curves/planar';
import { fail, ok, type Result } from '../result';
import { sealed } from './chain';
import { evaluatorOf, newJet, shiftJet } from './jets';
import { AXIS, type Loop, type Meridian, type MeridianCurve } from './meridian';

/** The corner at the end of a curve of a loop. */
export interface Corner {
  readonly loop: number;
  readonly index: number;
}

/** What takes the place of a corner. */
export type Softening =
  | { readonly kind: 'round'; readonly corner: Corner; readonly radius: number; readonly face: string }
  | {
      readonly kind: 'bevel';
      readonly corner: Corner;
      /** Straight distances from the corner on the curve that ends there and on the one that begins, mm. */
      readonly before: number;
      readonly after: number;
      readonly face: string;
    };

/** A place along curves that run on smoothly into each other: the curve, counted from the corner, and the parameter on it. */
interface Reach {
  readonly curves: readonly PlanarCurve[];
  /** 1 runs to the corner, −1 away from it. */
  readonly way: 1 | -1;
}

interface Touch {
  /** How many curves of the side are used up. */
  readonly past: number;
  /** Parameter on the next one. */
  readonly t: number;
}

const [ja, jb] = [newJet(), newJet()];
/** Curves that meet at less than this run on into each other, rad. */
const SMOOTH = 1e-3;

const direction = (c: PlanarCurve, t: number): [number, number] => {
  const e = evaluatorOf(c);
  e.into(t === 1 ? 1 - 1e-9 : t + 1e-9, ja);
  const l = Math.hypot(ja[2]!, ja[3]!) || 1;
  return [ja[2]! / l, ja[3]! / l];
};

/** Signed turn at a corner, rad: positive to the left, where the material lies inside the bend. */
export function turnAt(a: PlanarCurve, b: PlanarCurve): number {
  const [ux, uy] = direction(a, 1);
  const [vx, vy] = direction(b, 0);
  return Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy);
}

/** The curves one way from a corner as far as they run on smoothly, none of the other softened corners between. */
function reachOf(loop: Loop, index: number, way: 1 | -1, stops: ReadonlySet<number>): Reach {
  const n = loop.length;
  const curves: PlanarCurve[] = [];
  for (let k = 0; k < n; k++) {
    const i = way === 1 ? (index - k + n) % n : (index + 1 + k) % n;
    const c = loop[i]!;
    if (c.face === AXIS) break;
    if (k > 0) {
      const corner = way === 1 ? i : (i - 1 + n) % n;
      const [a, b] = [loop[corner]!.curve, loop[(corner + 1) % n]!.curve];
      if (stops.has(corner) || Math.abs(turnAt(a, b)) > SMOOTH) break;
    }
    curves.push(c.curve);
  }
  return { curves, way };
}

/** Place and derivatives on a side, shifted to the left: u runs from 0 at the corner outwards. */
function intoSide(side: Reach, evaluators: readonly ReturnType<typeof evaluatorOf>[], u: number, d: number, o: Float64Array): void {
  const k = Math.min(side.curves.length - 1, Math.max(0, Math.floor(u)));
  const own = u - k;
  evaluators[k]!.into(side.way === 1 ? 1 - own : own, o);
  shiftJet(o, d);
  if (side.way === 1) {
    o[2] = -o[2]!;
    o[3] = -o[3]!;
  }
}

/** The circle that touches both sides of a corner, walked from the corner in steps so that it stays on its branch. */
function touching(a: Reach, b: Reach, radius: number, left: 1 | -1): { arc: PlanarCurve; before: Touch; after: Touch } | string {
  const [ea, eb] = [a.curves.map(evaluatorOf), b.curves.map(evaluatorOf)];
  let [s, t] = [0, 0];
  const steps = 12;
  for (let i = 1; i <= steps; i++) {
    const d = (left * radius * i) / steps;
    let settled = false;
    for (let n = 0; n < 40; n++) {
      intoSide(a, ea, s, d, ja);
      intoSide(b, eb, t, d, jb);
      const [wx, wy] = [jb[0]! - ja[0]!, jb[1]! - ja[1]!];
      if (Math.hypot(wx, wy) < 1e-11 * (1 + radius)) {
        settled = true;
        break;
      }
      const det = ja[2]! * jb[3]! - ja[3]! * jb[2]!;
      if (Math.abs(det) < 1e-14) return 'the faces beside it bend as tightly as the round';
      const step = (v: number): number => Math.max(-0.5, Math.min(0.5, v));
      s += step((wx * jb[3]! - wy * jb[2]!) / det);
      t += step((wx * ja[3]! - wy * ja[2]!) / det);
      if (!Number.isFinite(s + t) || s < -1 || t < -1 || s > a.curves.length + 1 || t > b.curves.length + 1)
        return 'the faces beside it are too narrow';
      s = Math.max(-0.2, Math.min(a.curves.length + 0.2, s));
      t = Math.max(-0.2, Math.min(b.curves.length + 0.2, t));
    }
    if (!settled) return 'the faces beside it leave no room';
    if (s >= a.curves.length - 1e-9 || t >= b.curves.length - 1e-9 || s < -1e-9 || t < -1e-9) return 'the faces beside it are too narrow';
  }
  intoSide(a, ea, s, left * radius, ja);
  const centre = { x: ja[0]!, y: ja[1]! };
  intoSide(a, ea, s, 0, ja);
  intoSide(b, eb, t, 0, jb);
  const w = Math.atan2(ja[1]! - centre.y, ja[0]! - centre.x);
  let sweep = Math.atan2(jb[1]! - centre.y, jb[0]! - centre.x) - w;
  sweep -= 2 * Math.PI * Math.round(sweep / (2 * Math.PI));
  if (Math.sign(sweep) !== left) return 'the faces beside it leave no room';
  const arc = arcAbout(centre, radius, w, sweep);
  const at = (u: number, way: 1 | -1): Touch => ({ past: Math.floor(u), t: way === 1 ? 1 - (u - Math.floor(u)) : u - Math.floor(u) });
  return { arc, before: at(s, 1), after: at(t, -1) };
}

/** The parameter at which a curve is so far from its end, mm, straight; undefined where it never is. */
function away(c: PlanarCurve, end: 0 | 1, distance: number): number | undefined {
  const e = evaluatorOf(c);
  const from = end === 0 ? c.a : c.b;
  const far = (t: number): number => {
    e.into(t, ja);
    return Math.hypot(ja[0]! - from.x, ja[1]! - from.y) - distance;
  };
  const n = 64;
  for (let k = 1; k <= n; k++) {
    const at = (i: number): number => (end === 0 ? i / n : 1 - i / n);
    if (far(at(k)) < 0) continue;
    let [lo, hi] = [at(k - 1), at(k)];
    for (let r = 0; r < 60; r++) {
      const m = (lo + hi) / 2;
      if (far(m) < 0) lo = m;
      else hi = m;
    }
    return (lo + hi) / 2;
  }
  return undefined;
}

interface Done {
  readonly s: Softening;
  readonly strip: PlanarCurve;
  readonly before: Touch;
  readonly after: Touch;
}

/**
 * The meridian with corners softened, all at once.
 * @param besideAxis strips may not run past the axis; a section that is not turned has none
 * @returns an error in words, with the index of the softening that does not go
 */
export function softened(
  m: Meridian,
  list: readonly Softening[],
  besideAxis = true,
): Result<Meridian, { readonly why: string; readonly which: number }> {
  const loops = m.loops.map((l) => [...l]);
  for (const [n, loop] of m.loops.entries()) {
    const mine = list.filter((s) => s.corner.loop === n);
    if (mine.length === 0) continue;
    const stops = new Set(mine.map((s) => s.corner.index));
    const done: Done[] = [];
    for (const s of mine) {
      const made = strip(loop, s, stops);
      if (typeof made === 'string') return fail({ why: made, which: list.indexOf(s) });
      done.push({ s, ...made });
    }
    const cut = trimmed(loop, done);
    if (!cut.ok) return fail({ why: cut.error.why, which: list.indexOf(cut.error.s) });
    loops[n] = cut.value;
  }
  const all = loops.flat();
  for (const [which, s] of list.entries()) {
    const own = all.findIndex((c) => c.face === s.face);
    const strip = all[own]!.curve;
    if (besideAxis && strip.kind === 'arc' && lowX(strip) < -1e-9) return fail({ why: 'it would run past the axis', which });
    for (const [i, o] of all.entries()) {
      if (i === own) continue;
      const ends = [strip.a, strip.b];
      const hits = intersect(strip, o.curve).filter((h) => ends.every((e) => distance2(h.at, e) > 1e-5));
      if (hits.length > 0) return fail({ why: 'it would cut into what lies beside it', which });
    }
  }
  return ok({ loops });
}

const lowX = (c: PlanarCurve): number => Math.min(...Array.from({ length: 33 }, (_, i) => pointAt(c, i / 32).x));

function strip(loop: Loop, s: Softening, stops: ReadonlySet<number>): Omit<Done, 's'> | string {
  const { index } = s.corner;
  const [a, b] = [loop[index]!.curve, loop[(index + 1) % loop.length]!.curve];
  if (s.kind === 'bevel') {
    const [from, to] = [away(a, 1, s.before), away(b, 0, s.after)];
    if (from === undefined || to === undefined || from < 1e-9 || to > 1 - 1e-9) return 'the faces beside it are too narrow';
    return {
      strip: { kind: 'line', a: pointAt(a, from), b: pointAt(b, to) },
      before: { past: 0, t: from },
      after: { past: 0, t: to },
    };
  }
  const left = turnAt(a, b) > 0 ? 1 : -1;
  const made = touching(reachOf(loop, index, 1, stops), reachOf(loop, index, -1, stops), s.radius, left);
  return typeof made === 'string' ? made : { strip: made.arc, before: made.before, after: made.after };
}

/** A loop with its corners replaced, curves cut back to where the strips touch them. */
function trimmed(loop: Loop, done: readonly Done[]): Result<MeridianCurve[], { why: string; s: Softening }> {
  const n = loop.length;
  const from = new Array<number>(n).fill(0);
  const to = new Array<number>(n).fill(1);
  const gone = new Set<number>();
  for (const d of done) {
    for (let k = 0; k < d.before.past; k++) gone.add((d.s.corner.index - k + n) % n);
    for (let k = 0; k < d.after.past; k++) gone.add((d.s.corner.index + 1 + k) % n);
  }
  for (const d of done) {
    const [a, b] = [(d.s.corner.index - d.before.past + n) % n, (d.s.corner.index + 1 + d.after.past) % n];
    if (gone.has(a) || gone.has(b)) return fail({ why: 'the rounds beside each other take the same face', s: d.s });
    to[a] = Math.min(to[a]!, d.before.t);
    from[b] = Math.max(from[b]!, d.after.t);
  }
  const out: MeridianCurve[] = [];
  for (let i = 0; i < n; i++) {
    const c = loop[i]!;
    const d = done.find((x) => x.s.corner.index === i);
    if (!gone.has(i)) {
      if (from[i]! > to[i]! - 1e-9) {
        const s = done.find((x) => x.s.corner.index === i || (x.s.corner.index + 1) % n === i)!.s;
        return fail({ why: 'the softened edges beside each other take the same face', s });
      }
      out.push(from[i] === 0 && to[i] === 1 ? c : { ...c, curve: piece(c.curve, from[i]!, to[i]!) });
    }
    if (d) out.push({ curve: d.strip, face: d.s.face });
  }
  // A strip may come before the curve it follows where whole curves are used up behind the corner.
  return ok(sealed(inRun(out)));
}

/** Curves in the order in which their ends meet. */
function inRun(curves: readonly MeridianCurve[]): MeridianCurve[] {
  const left = [...curves];
  const out = [left.shift()!];
  while (left.length > 0) {
    const end = out[out.length - 1]!.curve.b;
    const next = left.reduce((best, c, i) => (distance2(c.curve.a, end) < distance2(left[best]!.curve.a, end) ? i : best), 0);
    out.push(...left.splice(next, 1));
  }
  return out;
}

/** Edges lie on corners of the outline within this, mm. */
const ON_CORNER = 1e-5;

/** The corner at a place of the outline's plane; undefined where none is. */
export function cornerNear(m: Meridian, p: Point2): Corner | undefined {
  let best: { corner: Corner; off: number } | undefined;
  for (const [loop, l] of m.loops.entries())
    for (const [index, c] of l.entries()) {
      const off = distance2(c.curve.b, p);
      if (!best || off < best.off) best = { corner: { loop, index }, off };
    }
  return best && best.off <= ON_CORNER ? best.corner : undefined;
}

/** The largest size that goes, by halving, to a millionth; undefined where none does. */
export function largestSoftening(goes: (size: number) => boolean, most: number): number | undefined {
  let [lo, hi] = [0, most];
  if (goes(most)) return most;
  for (let k = 0; k < 40 && hi - lo > 1e-7 * most; k++) {
    const m = (lo + hi) / 2;
    if (goes(m)) lo = m;
    else hi = m;
  }
  return lo > 0 ? lo : undefined;
}
