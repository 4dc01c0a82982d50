/** Sections carried along a path, turned as little as possible, with twist and growth. Millimetres and radians. */
import { type CarriedFrames, carriedFrames, type SpacePath } from '../curves/path';
import { along, cross, distance, dot, minus, unit, type Vec3 } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import { fixed } from '../units/units';
import { matched, roundAbout, type Section, type Span, skinOver } from './round';
import { type SplineSurface, surfaceAt } from './space';

/** A section in the plane across the path: first coordinate across, second up. */
export interface LocalSection extends Section {
  /** Where along the path it stands, share of the length. */
  readonly share: number;
}

export interface SweepOptions {
  /** Kept square to the path, or only moved along with it. */
  readonly hold: 'square' | 'fixed';
  /** Turned in all from start to end, rad. */
  readonly twist: number;
  /** Size at the end for a size of one at the start. */
  readonly scale: number;
  /** Across at the start of the path. */
  readonly across: Vec3;
  readonly up: Vec3;
  /** A second rail that turns and sizes the section. */
  readonly guide?: Guide;
}

/** What a second rail makes of a section: its across direction points at the rail, its size goes with the distance to it. */
export interface Guide {
  readonly frames: CarriedFrames;
  /** Distance to the rail in the plane across the path, mm. */
  readonly width: (share: number) => number;
  /** Whether the height grows with the width. */
  readonly both: boolean;
  readonly closed: boolean;
  /** Shares of the path where the rail bends. */
  readonly knots: readonly number[];
}

/**
 * The second rail of a sweep, seen from the path.
 * @returns an error in words with the place where the rail does not cross the plane across the path, or touches the path
 */
export function guideAlong(path: SpacePath, rail: SpacePath, both: boolean): Result<Guide, { why: string; at: Vec3 }> {
  const n = 400;
  /** Where the rail crosses the plane across the path, nearest to a share of the rail. */
  const crossing = (s: number, near: number): number | undefined => {
    const { point, direction } = path.at(s);
    const f = (t: number): number => dot(minus(rail.at(t).point, point), direction);
    let best: number | undefined;
    let far = Number.POSITIVE_INFINITY;
    for (let i = 0; i < n; i++) {
      let [a, b] = [i / n, (i + 1) / n];
      const [fa, fb] = [f(a), f(b)];
      if (fa * fb > 0 && Math.abs(fa) > 1e-7 && Math.abs(fb) > 1e-7) continue;
      if (Math.abs(fa) <= 1e-7) b = a;
      else if (Math.abs(fb) <= 1e-7) a = b;
      else
        for (let k = 0; k < 50; k++) {
          const m = (a + b) / 2;
          if (f(m) * fa > 0) a = m;
          else b = m;
        }
      const t = (a + b) / 2;
      if (Math.abs(t - near) < far) [best, far] = [t, Math.abs(t - near)];
    }
    return best;
  };
  // One crossing after another along the path, so that the rail is never left for another stretch of it.
  const rows = Math.max(60, Math.min(600, Math.ceil(path.length)));
  const ts: number[] = [];
  const ends = [0, 1].map((t) => distance(rail.at(t).point, path.at(0).point));
  let near = ends[0]! <= ends[1]! ? 0 : 1;
  for (let i = 0; i <= rows; i++) {
    const t = crossing(i / rows, near);
    if (t === undefined) return fail({ why: 'the second rail does not reach beside the whole path', at: path.at(i / rows).point });
    near = t;
    ts.push(t);
  }
  const on = (s: number): { q: Vec3; p: Vec3; d: Vec3 } => {
    const { point, direction } = path.at(s);
    const i = Math.min(rows - 1, Math.floor(s * rows));
    // Newton from the row's own crossings.
    let t = ts[i]! + (s * rows - i) * (ts[i + 1]! - ts[i]!);
    for (let k = 0; k < 8; k++) {
      const at = rail.at(t);
      const slope = dot(at.direction, direction) * rail.length;
      if (Math.abs(slope) < 1e-9) break;
      t = Math.min(1, Math.max(0, t - dot(minus(at.point, point), direction) / slope));
    }
    return { q: rail.at(t).point, p: point, d: direction };
  };
  const width = (s: number): number => {
    const { q, p } = on(s);
    return distance(q, p);
  };
  for (let i = 0; i <= 120; i++)
    if (width(i / 120) < 1e-3)
      return fail({ why: 'the second rail touches the path: the section would shrink to nothing', at: path.at(i / 120).point });
  const closed = path.closed && distance(on(0).q, on(1).q) < 1e-4;
  const knots = [...rail.knots, ...rail.joints].flatMap((k) => {
    const i = ts.findIndex((t, j) => j > 0 && (t - k) * (ts[j - 1]! - k) <= 0 && t !== ts[j - 1]!);
    return i > 0 ? [(i - 1 + (k - ts[i - 1]!) / (ts[i]! - ts[i - 1]!)) / rows] : [];
  });
  const frames: CarriedFrames = {
    at: (s) => {
      const { q, p, d } = on(s);
      const x = unit(along(minus(q, p), d, -dot(minus(q, p), d)))!;
      return { x, y: cross(d, x) };
    },
  };
  return ok({ frames, width, both, closed, knots });
}

/** The size of a section at a share, across and up. */
function sizeAt(o: SweepOptions, s: number): readonly [number, number] {
  const k = 1 + (o.scale - 1) * s;
  if (!o.guide) return [k, k];
  const w = o.guide.width(s);
  return [k * w, o.guide.both ? k * w : k];
}

/** How local places stand at a share: sized, then twisted. */
function turnedAt(o: SweepOptions, s: number): (a: number, b: number) => readonly [number, number] {
  const [gx, gy] = sizeAt(o, s);
  const w = o.twist * s;
  const [c, k] = [Math.cos(w), Math.sin(w)];
  return (a, b) => [gx * a * c - gy * b * k, gx * a * k + gy * b * c];
}

export interface Swept {
  readonly patches: readonly (readonly SplineSurface[])[];
  readonly deviation: number;
  /** Volume by the generalised theorem of Pappus, mm³; undefined where the section is only moved along. */
  readonly volume: number | undefined;
}

/** How the places of a local section stand at a share of the path. */
type Placing = (share: number, a: number, b: number) => Vec3;

function placing(path: SpacePath, frames: CarriedFrames, o: SweepOptions): Placing {
  return (share, a, b) => {
    const [x, y] = turnedAt(o, share)(a, b);
    const at = path.at(share);
    if (o.hold === 'fixed') return along(along(at.point, o.across, x), o.up, y);
    const f = frames.at(share);
    return along(along(at.point, f.x, x), f.y, y);
  };
}

/**
 * Sweeps sections along a path.
 * @returns an error in words with the place: a corner in the path, a bend tighter than the section, turns that run into each other
 */
export function sweep(path: SpacePath, sections: readonly LocalSection[], o: SweepOptions): Result<Swept, { why: string; at?: Vec3 }> {
  const corner = path.corners[0];
  if (corner)
    return fail({ why: `the path has a sharp corner of ${fixed((corner.angle * 180) / Math.PI, 1)}°`, at: path.at(corner.share).point });
  const list = [...sections].sort((a, b) => a.share - b.share);
  const ties = matched(
    list,
    [],
    list.map(() => 0),
  );
  if (!ties.ok) return fail({ why: ties.error });
  const round = roundAbout(list, ties.value);
  if (!round) return fail({ why: 'a sweep needs a section that is no point' });
  const frames = o.guide?.frames ?? carriedFrames(path, o.across);
  const local = (k: number, u: number): Vec3 => list[k]!.at(round.share(k, u));
  const n = list.length;
  const blend = (u: number): ((s: number) => readonly [number, number]) => {
    const p = list.map((_, k) => local(k, u));
    if (n === 1) return () => [p[0]![0], p[0]![1]];
    return (s) => {
      // Between two sections the passage begins and ends gently.
      let i = 0;
      while (i < n - 2 && s > list[i + 1]!.share) i++;
      const [a, b] = [list[i]!.share, list[i + 1]!.share];
      const x = Math.min(1, Math.max(0, (s - a) / (b - a)));
      const k = x * x * (3 - 2 * x);
      return [p[i]![0] + k * (p[i + 1]![0] - p[i]![0]), p[i]![1] + k * (p[i + 1]![1] - p[i]![1])];
    };
  };
  const place = placing(path, frames, o);
  const tight = tooTight(path, frames, blend, o);
  if (tight) return fail(tight);
  const clash = runsIntoItself(path, frames, blend, o);
  if (clash) return fail(clash);
  const stops = [...new Set([0, ...path.joints, ...(n > 1 ? list.map((s) => s.share) : []), 1])].sort((a, b) => a - b);
  const near = stops.filter((s, i) => i === 0 || s - stops[i - 1]! > 1e-6);
  const closed = path.closed && near.length === 2 && (o.guide?.closed ?? true);
  const plain = o.twist === 0 && n === 1 && !o.guide;
  const spans = near.slice(1).map((to, i): Span => {
    const from = near[i]!;
    const bend = Math.max(...Array.from({ length: 21 }, (_, k) => Math.hypot(...path.at(from + ((to - from) * k) / 20.001).bend)));
    const turn = bend * (to - from) * path.length + (Math.abs(o.twist) + (n > 1 ? 2 : 0) + (o.guide ? 3 : 0)) * (to - from);
    return {
      from,
      to,
      closed,
      straight: plain && bend < 1e-9 && path.knots.every((k) => k <= from || k >= to),
      knots: (level) => {
        const own = [...path.knots, ...(o.guide?.knots ?? [])].sort((a, b) => a - b).filter((k) => k > from + 1e-6 && k < to - 1e-6);
        const parts = Math.max(own.length > 0 ? 1 : 2, Math.ceil((turn * 3 * 1.6 ** level) / (own.length + 1)));
        const all = [from, ...own, to];
        return [...all.slice(1).flatMap((b, i2) => Array.from({ length: parts }, (_, k) => all[i2]! + ((b - all[i2]!) * k) / parts)), to];
      },
    };
  });
  const formula = (u: number): ((s: number) => Vec3) => {
    const b = blend(u);
    return (s) => {
      const [x, y] = b(s);
      return place(s, x, y);
    };
  };
  let deviation = 0;
  const patches = skinOver(round, spans, formula, (surface, span, strip) => {
    if (strip.first) deviation = 0;
    for (let i = 0; i < 13; i++)
      for (let j = 0; j < 31; j++) {
        const u = strip.from + ((strip.to - strip.from) * (i + 0.5)) / 13;
        const s = span.from + ((span.to - span.from) * (j + 0.5)) / 31;
        deviation = Math.max(deviation, distance(surfaceAt(surface, u, s), formula(u)(s)));
      }
    return deviation;
  });
  return ok({ patches, deviation, volume: o.hold === 'square' ? pappus(path, frames, blend, o) : undefined });
}

type Blend = (u: number) => (s: number) => readonly [number, number];
const ROUND = 96;

/** Where the path bends tighter than the section reaches inwards, the skin would run through itself. */
function tooTight(path: SpacePath, frames: CarriedFrames, blend: Blend, o: SweepOptions): { why: string; at: Vec3 } | undefined {
  if (o.hold === 'fixed') return undefined;
  const rims = Array.from({ length: ROUND }, (_, i) => blend(i / ROUND));
  let worst: { over: number; radius: number; reach: number; at: Vec3 } | undefined;
  for (let i = 0; i <= 240; i++) {
    const s = i / 240;
    const { point, bend } = path.at(s);
    const k = Math.hypot(...bend);
    if (k < 1e-9) continue;
    const f = frames.at(s);
    const turn = turnedAt(o, s);
    let reach = 0;
    for (const rim of rims) {
      const [x, y] = turn(...rim(s));
      reach = Math.max(reach, (x * dot(f.x, bend) + y * dot(f.y, bend)) / k);
    }
    if (reach * k >= 1 && (!worst || reach * k > worst.over)) worst = { over: reach * k, radius: 1 / k, reach, at: point };
  }
  if (!worst) return undefined;
  return {
    why: `the path bends with a radius of ${fixed(worst.radius, 2)} mm, and the section reaches ${fixed(worst.reach, 2)} mm inwards there`,
    at: worst.at,
  };
}

/** Whether a round wire goes along a path without running into itself. @param across square to the path at its start */
export function wireHasRoom(path: SpacePath, radius: number, across: Vec3): boolean {
  const frames = carriedFrames(path, across);
  const round: Blend = (u) => () => [radius * Math.cos(2 * Math.PI * u), radius * Math.sin(2 * Math.PI * u)];
  const o: SweepOptions = { hold: 'square', twist: 0, scale: 1, across, up: cross(path.at(0).direction, across) };
  return !tooTight(path, frames, round, o) && !runsIntoItself(path, frames, round, o);
}

/** Stretches of the path that lie apart along it but nearer than the section is thick. */
function runsIntoItself(path: SpacePath, frames: CarriedFrames, blend: Blend, o: SweepOptions): { why: string; at: Vec3 } | undefined {
  const n = Math.min(900, Math.max(60, Math.ceil(path.length / 2)));
  const rims = Array.from({ length: 36 }, (_, i) => blend(i / 36));
  const rows = Array.from({ length: n + 1 }, (_, i) => {
    const s = i / n;
    const f = o.hold === 'fixed' ? { x: o.across, y: o.up } : frames.at(s);
    const turn = turnedAt(o, s);
    const rim = rims.map((r) => turn(...r(s)));
    return { s, p: path.at(s).point, f, rim, size: Math.max(...rim.map(([a, b]) => Math.hypot(a, b))) };
  });
  /** How far a section reaches in a direction. */
  const reach = (r: (typeof rows)[0], d: Vec3): number => {
    const [dx, dy] = [dot(r.f.x, d), dot(r.f.y, d)];
    return Math.max(...r.rim.map(([a, b]) => a * dx + b * dy));
  };
  let worst: { clear: number; gap: number; at: Vec3 } | undefined;
  for (let i = 0; i < rows.length; i++)
    for (let j = i + 1; j < rows.length; j++) {
      const [a, b] = [rows[i]!, rows[j]!];
      const between = (b.s - a.s) * path.length;
      const way = path.closed ? Math.min(between, path.length - between) : between;
      const gap = distance(a.p, b.p);
      // Neighbours on the path touch of course; only what is far along it counts.
      if (gap > a.size + b.size || way < Math.PI * 0.75 * (a.size + b.size)) continue;
      const d = b.p.map((v, k) => (v - a.p[k]!) / (gap || 1)) as unknown as Vec3;
      const clear = gap - reach(a, d) - reach(b, [-d[0], -d[1], -d[2]]);
      if (clear < 0 && (!worst || clear < worst.clear)) worst = { clear, gap, at: a.p };
    }
  if (worst)
    return {
      why: `it runs into itself: two stretches of the path pass ${fixed(worst.gap, 2)} mm apart, and the section takes ${fixed(worst.gap - worst.clear, 2)} mm there`,
      at: worst.at,
    };
  return undefined;
}

/** ∫ A (1 − κ·c) ds: the area of the section along the path, less where its middle lies inside a bend. */
function pappus(path: SpacePath, frames: CarriedFrames, blend: Blend, o: SweepOptions): number {
  const rims = Array.from({ length: 720 }, (_, i) => blend(i / 720));
  const stops = [...new Set([0, ...path.joints, 1])].sort((a, b) => a - b);
  let sum = 0;
  for (let k = 1; k < stops.length; k++) {
    const m = 64;
    for (let i = 0; i < m; i++) {
      const s = stops[k - 1]! + ((stops[k]! - stops[k - 1]!) * (i + 0.5)) / m;
      const turn = turnedAt(o, s);
      let [area, mx, my] = [0, 0, 0];
      rims.forEach((r, q) => {
        const [a0, b0] = turn(...r(s));
        const [a1, b1] = turn(...rims[(q + 1) % rims.length]!(s));
        const c = a0 * b1 - a1 * b0;
        area += c / 2;
        mx += ((a0 + a1) * c) / 6;
        my += ((b0 + b1) * c) / 6;
      });
      const { bend } = path.at(s);
      const f = frames.at(s);
      const inward = mx * dot(f.x, bend) + my * dot(f.y, bend);
      sum += ((area - inward) * (stops[k]! - stops[k - 1]!) * path.length) / m;
    }
  }
  return Math.abs(sum);
}
