/**
 * Closed sections matched to each other round about, and the spline faces a formula makes over them: what lofts and sweeps share.
 * Millimetres.
 */
import { along, distance, dot, minus, type Vec3 } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import { interpolateSurface, type SplineSpace, type SplineSurface } from './space';

/** A closed section by its arc length, run counter-clockwise about its normal; or a point. */
export interface Section {
  readonly at: (share: number) => Vec3;
  readonly normal: Vec3;
  /** Shares of its length where it has a corner. */
  readonly corners: readonly number[];
  /** Shares where its curvature jumps. */
  readonly joints: readonly number[];
  readonly point: boolean;
  readonly words: string;
  /** An open line gone along there and back: share s and 1 − s are one place. */
  readonly open?: boolean;
}

/** How closely a skin keeps to what it was made from, mm. */
const SKIN_TOLERANCE = 3e-4;

export const wrapped = (t: number): number => t - Math.floor(t);
const round9 = (x: number): number => Math.round(x * 1e9) / 1e9;

export function centre(s: Section): Vec3 {
  let sum: Vec3 = [0, 0, 0];
  for (let i = 0; i < 32; i++) sum = along(sum, s.at(i / 32), 1 / 32);
  return sum;
}

/** Shares of each section that belong together, so that neither a twist nor a jump comes in: by rails, else by corners, else by the nearest start. */
export function matched(
  sections: readonly Section[],
  rails: readonly (readonly number[])[],
  shifts: readonly number[],
): Result<number[][]> {
  if (rails.length > 0) {
    // Each rail is one tie; its order round about must be the same in every section.
    const order = rails.map((_, j) => j).sort((a, b) => wrapped(rails[a]![0]! - rails[0]![0]!) - wrapped(rails[b]![0]! - rails[0]![0]!));
    const ties = sections.map((s, k) => {
      const shares = order.map((j) => rails[j]![k]!);
      const base = shares[0]!;
      return s.point ? order.map((_, i) => i / order.length) : shares.map((x) => wrapped(x - base) + base);
    });
    for (const [k, row] of ties.entries())
      for (let i = 1; i < row.length; i++)
        if (row[i]! <= row[i - 1]! + 1e-6) return fail(`the rails cross over between the first section and ${sections[k]!.words}`);
    return ok(ties);
  }
  const out: number[][] = [];
  let before: { section: Section; ties: number[] } | undefined;
  // All get as many ties as the section with the most corners has.
  const most = sections.reduce((a, b) => (b.corners.length > a.corners.length ? b : a));
  const m = Math.max(1, most.corners.length);
  for (const [k, s] of sections.entries()) {
    const shift = shifts[k] ?? 0;
    if (s.point) {
      out.push(Array.from({ length: m }, (_, i) => i / m));
      continue;
    }
    const starts = s.corners.length === m ? s.corners : Array.from({ length: 360 }, (_, i) => i / 360);
    const spread = (start: number): number[] => {
      if (s.corners.length === m) {
        const i0 = s.corners.indexOf(start);
        return Array.from({ length: m }, (_, i) => wrapped(s.corners[(i0 + i) % m]! - start) + start);
      }
      // Where it has other corners, or none, the ties stand as the neighbour's do.
      const like = before?.ties ?? (most.corners.length > 0 ? most.corners : [0]);
      return Array.from({ length: m }, (_, i) => start + wrapped(like[i % like.length]! - like[0]!));
    };
    if (!before) {
      const start = s.corners.length === m ? s.corners[0]! : 0;
      before = { section: s, ties: spread(start) };
    } else {
      // The start that leaves every place nearest to the one before, both taken about their own middle.
      const [c0, c1] = [centre(before.section), centre(s)];
      const ring = (sec: Section, ties: readonly number[]) => Array.from({ length: 24 }, (_, i) => sec.at(wrapped(evenly(ties, i / 24))));
      const old = ring(before.section, before.ties).map((p) => minus(p, c0));
      let best = { start: starts[0]!, cost: Number.POSITIVE_INFINITY };
      for (const start of starts) {
        const now = ring(s, spread(start)).map((p) => minus(p, c1));
        const cost = now.reduce((sum, p, i) => sum + distance(p, old[i]!) ** 2, 0);
        if (cost < best.cost) best = { start, cost };
      }
      before = { section: s, ties: spread(best.start) };
    }
    out.push(before.ties.map((t) => t + shift));
  }
  return ok(out);
}

/** The share that belongs to a parameter that gives every stretch between ties the same room. */
function evenly(ties: readonly number[], u: number): number {
  const m = ties.length;
  const i = Math.min(m - 1, Math.floor(u * m));
  const next = i + 1 < m ? ties[i + 1]! : ties[0]! + 1;
  return ties[i]! + (u * m - i) * (next - ties[i]!);
}

/**
 * The share of a section that belongs to the common parameter: a rising cubic through its ties, so that what is smooth in every section
 * stays smooth in the skin (Fritsch & Carlson 1980, with harmonic means for slopes; from memory).
 */
function follow(us: readonly number[], ties: readonly number[]): (u: number) => number {
  const m = us.length;
  const x = [...us, us[0]! + 1];
  const y = [...ties, ties[0]! + 1];
  const secant = x.slice(1).map((b, i) => (y[i + 1]! - y[i]!) / (b - x[i]!));
  const slope = x.map((_, i) => {
    const [a, b] = [secant[(i + m - 1) % m]!, secant[i % m]!];
    return (2 * a * b) / (a + b);
  });
  return (u) => {
    let t = u;
    while (t < x[0]! - 1e-12) t += 1;
    while (t > x[m]! + 1e-12) t -= 1;
    let i = 0;
    while (i < m - 1 && t > x[i + 1]!) i++;
    const h = x[i + 1]! - x[i]!;
    const s = Math.min(1, Math.max(0, (t - x[i]!) / h));
    return (
      (1 + 2 * s) * (1 - s) ** 2 * y[i]! +
      s * (1 - s) ** 2 * h * slope[i]! +
      s * s * (3 - 2 * s) * y[i + 1]! +
      s * s * (s - 1) * h * slope[i + 1]!
    );
  };
}

/** The common parameter of a share, by halving. */
function parameterOf(map: (u: number) => number, first: number, share: number): number {
  const base = map(first);
  let want = share;
  while (want < base - 1e-9) want += 1;
  while (want >= base + 1 - 1e-9) want -= 1;
  let [lo, hi] = [first, first + 1];
  for (let k = 0; k < 60; k++) {
    const mid = (lo + hi) / 2;
    if (map(mid) < want) lo = mid;
    else hi = mid;
  }
  const u = wrapped((lo + hi) / 2);
  return u > 1 - 1e-9 ? 0 : u;
}

export interface Strip {
  readonly from: number;
  readonly to: number;
  /** It closes on itself. */
  readonly round: boolean;
  /** The first face of a new try. */
  readonly first: boolean;
}

export interface RoundAbout {
  /** The common parameter of each tie. */
  readonly us: readonly number[];
  /** Share of a section's length at a common parameter. */
  readonly share: (section: number, u: number) => number;
  readonly strips: readonly Omit<Strip, 'first'>[];
  readonly joints: readonly number[];
  readonly density: Float64Array;
}

/** Brings the sections to one parameter round about. Undefined where all are points. */
export function roundAbout(sections: readonly Section[], ties: readonly (readonly number[])[]): RoundAbout | undefined {
  // The common parameter gives each stretch between ties its mean room in the sections.
  const real = sections.flatMap((s, k) => (s.point ? [] : [ties[k]!]));
  if (real.length === 0) return undefined;
  const us = real[0]!.map((_, i) => real.reduce((sum, t) => sum + (t[i]! - t[0]!) / real.length, 0));
  const maps = ties.map((t) => follow(us, t));
  const share = (k: number, u: number): number => wrapped(maps[k]!(wrapped(u)));
  // Not rounded: a corner missed by a hair bends a flat side.
  const where = (pick: (s: Section) => readonly number[]): number[] =>
    sections
      .flatMap((s, k) => (s.point ? [] : pick(s).map((c) => parameterOf(maps[k]!, us[0]!, c))))
      .sort((a, b) => a - b)
      .filter((x, i, all) => i === 0 || x - all[i - 1]! > 1e-9);
  // Faces part at corners; knots gather where a section's curvature jumps.
  const breaks = where((s) => s.corners);
  const merged = breaks.filter((b, i) => i === 0 || b - breaks[i - 1]! > 1e-6);
  if (merged.length > 1 && merged[0]! + 1 - merged[merged.length - 1]! < 1e-6) merged.pop();
  const strips =
    merged.length === 0
      ? [{ from: 0, to: 1, round: true }]
      : merged.map((from, i) => ({ from, to: i + 1 < merged.length ? merged[i + 1]! : merged[0]! + 1, round: false }));
  return { us, share, strips, joints: where((s) => s.joints), density: knotDensity((k, u) => sections[k]!.at(share(k, u)), sections) };
}

/** A stretch lengthwise that becomes one row of faces. */
export interface Span {
  readonly from: number;
  readonly to: number;
  readonly closed: boolean;
  /** Straight lengthwise. */
  readonly straight: boolean;
  readonly knots: (level: number) => readonly number[];
}

/**
 * Faces over a formula, with more knots until they keep to it.
 * @param measure how far a face misses what it was made from, mm; asked for every face
 */
export function skinOver(
  round: RoundAbout,
  spans: readonly Span[],
  formula: (u: number) => (t: number) => Vec3,
  measure: (surface: SplineSurface, span: Span, strip: Strip) => number,
): SplineSurface[][] {
  const known = new Map<number, (t: number) => Vec3>();
  const at = (u: number, t: number): Vec3 => {
    const key = round9(u);
    let f = known.get(key);
    if (!f) {
      f = formula(u);
      known.set(key, f);
    }
    return f(t);
  };
  for (let level = 0; ; level++) {
    let worst = 0;
    let first = true;
    const patches = spans.map((span) =>
      round.strips.map((strip) => {
        const u = spaceOf(strip.from, strip.to, round.joints, strip.round, level, round.density);
        const v: SplineSpace = span.straight
          ? { degree: 1, knots: [span.from, span.to], periodic: false }
          : { degree: 3, knots: span.knots(level), periodic: span.closed };
        const surface = interpolateSurface(u, v, at);
        worst = Math.max(worst, measure(surface, span, { ...strip, first }));
        first = false;
        return surface;
      }),
    );
    if (worst <= SKIN_TOLERANCE || level >= 4) return patches;
  }
}

/**
 * How many knots a section wants by the common parameter, so that a cubic spline keeps to it: the error of such a spline on an arc of
 * radius r with spans h is about h⁴ / (384 r³).
 */
function knotDensity(place: (k: number, u: number) => Vec3, sections: readonly Section[]): Float64Array {
  const out = new Float64Array(SAMPLES);
  for (const [k, s] of sections.entries()) {
    if (s.point) continue;
    const p = Array.from({ length: SAMPLES }, (_, i) => place(k, i / SAMPLES));
    const step = p.map((a, i) => distance(a, p[(i + 1) % SAMPLES]!));
    const length = step.reduce((a, b) => a + b, 0);
    for (let i = 0; i < SAMPLES; i++) {
      const [a, b] = [p[(i + SAMPLES - 1) % SAMPLES]!, p[(i + 1) % SAMPLES]!];
      const [u, w] = [minus(p[i]!, a), minus(b, p[i]!)];
      const [lu, lw] = [Math.hypot(...u), Math.hypot(...w)];
      const bend = Math.acos(Math.min(1, Math.max(-1, dot(u, w) / (lu * lw || 1))));
      const radius = Math.max(1e-6, (lu + lw) / 2 / Math.max(bend, 1e-9));
      const h = Math.min(length / 6, (384 * radius ** 3 * SKIN_TOLERANCE) ** 0.25);
      // At a corner the bend is no radius: faces part there, and a span of a fiftieth is plenty beside it.
      out[i] = Math.max(out[i]!, Math.min(50 / length, 1 / h) * step[i]! * SAMPLES);
    }
  }
  // Spans that are short on one side of a place want short neighbours.
  return out.map((d, i) => Math.max(d, 0.5 * out[(i + 3) % SAMPLES]!, 0.5 * out[(i + SAMPLES - 3) % SAMPLES]!));
}

const SAMPLES = 720;

/** Knots round about: by the density, and some that close in on each joint. */
function spaceOf(
  from: number,
  to: number,
  joints: readonly number[],
  periodic: boolean,
  level: number,
  density: Float64Array,
): SplineSpace {
  const at = (u: number): number => density[Math.floor(wrapped(u) * SAMPLES) % SAMPLES]!;
  const parts = Math.ceil(SAMPLES * (to - from));
  const sums = [0];
  for (let i = 0; i < parts; i++) sums.push(sums[i]! + at(from + ((to - from) * (i + 0.5)) / parts) * ((to - from) / parts));
  const total = sums[parts]!;
  const count = Math.max(4, Math.ceil(total * 1.5 ** level));
  const all: number[] = [];
  for (let k = 0, i = 0; k <= count; k++) {
    const want = (total * k) / count;
    while (i < parts - 1 && sums[i + 1]! < want) i++;
    const share = sums[i + 1]! > sums[i]! ? (want - sums[i]!) / (sums[i + 1]! - sums[i]!) : 0;
    all.push(k === 0 ? from : k === count ? to : from + ((to - from) * (i + Math.min(1, share))) / parts);
  }
  for (const j of joints)
    for (const base of [j, j + 1]) {
      const step = 1 / Math.max(1, Math.max(at(base - 2 / SAMPLES), at(base + 2 / SAMPLES)));
      for (let k = 0; k <= 1 + level; k++)
        for (const side of k === 0 ? [0] : [-1, 1]) {
          const x = base + (side * step) / 2 ** (3 + level - k);
          if (x > from + step * 1e-2 && x < to - step * 1e-2) all.push(x);
        }
    }
  all.sort((a, b) => a - b);
  const least = (0.02 * (to - from)) / count;
  const knots = all.filter((x, i) => i === 0 || i === all.length - 1 || (x - all[i - 1]! > least && x - from > least && to - x > least));
  return { degree: 3, knots, periodic };
}
