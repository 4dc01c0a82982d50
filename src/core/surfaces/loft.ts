/**
 * A skin through closed sections, led by rails: the sections are interpolated lengthwise by cubic splines, and what a rail lies off that
 * skin is blended in round about (a Boolean sum after Gordon, 1969). Millimetres.
 */
import { along, distance, dot, minus, triple, type Vec3 } from '../geometry/vectors';
import { solveDense } from '../linear';
import { fail, ok, type Result } from '../result';
import { fixed } from '../units/units';
import { centre, matched, roundAbout, type Section, type Span, skinOver, wrapped } from './round';
import { type SplineSurface, surfaceAt } from './space';

export interface Rail {
  /** Place by a parameter 0…1. */
  readonly at: (t: number) => Vec3;
  /** Parameters where it is less than smooth: its own knots. */
  readonly knots: readonly number[];
  readonly words: string;
}

export interface LoftOptions {
  /** Straight from section to section. */
  readonly ruled: boolean;
  /** The last section runs on into the first. */
  readonly closed: boolean;
  /** Leave the first and last section square to their planes, with this strength (1: a third of the way); undefined where free. */
  readonly startSquare?: number;
  readonly endSquare?: number;
  /** Pull rails onto the sections they miss. */
  readonly snap: boolean;
  /** How far each section's start is turned round by hand, shares of its length. */
  readonly shifts: readonly number[];
}

/** What of the sections belongs together. */
export interface Ties {
  /** Lines from section to section through places that belong together. */
  readonly lines: readonly (readonly Vec3[])[];
  /** Places of every section in even steps of its own length, along which a tie can be moved; empty where rails hold the ties, and for points. */
  readonly rings: readonly (readonly Vec3[])[];
}

/** Steps round a section in which a tie is moved. */
const RING = 180;

export interface Loft {
  /** The share of the first section that is no point, by the common parameter: names strips. */
  readonly shareAt: (u: number) => number;
  /** Faces: outer list along the loft, inner list round about. */
  readonly patches: readonly (readonly SplineSurface[])[];
  /** Largest distance by which the surface misses a section or a rail, mm. */
  readonly deviation: { readonly sections: number; readonly rails: number };
  /** By corners, starts and rails, and quarters where those are few. */
  readonly ties: Ties;
}

/** A rail within this of a section touches it, mm. */
const TOUCH = 1e-3;

/** The cubic spline through values at parameters, C2, natural or with given slopes at its ends, or closed. Linear in the values. */
function spline(v: readonly number[], values: readonly Vec3[], start?: Vec3, end?: Vec3, closed = false): (t: number) => Vec3 {
  const n = v.length - 1;
  const h = v.slice(1).map((x, i) => x - v[i]!);
  const slope = (i: number): Vec3 => minus(values[i + 1]!, values[i]!).map((d) => d / h[i]!) as unknown as Vec3;
  const size = n + 1;
  const rows: number[][] = Array.from({ length: size }, () => new Array<number>(size).fill(0));
  const rhs: Vec3[] = new Array(size);
  const inner = (i: number, before: number, after: number): void => {
    rows[i]![before] = rows[i]![before]! + h[after]!;
    rows[i]![i] = rows[i]![i]! + 2 * (h[after]! + h[(i + n - 1) % n]!);
    rows[i]![(i + 1) % size] = rows[i]![(i + 1) % size]! + h[(i + n - 1) % n]!;
  };
  for (let i = 1; i < n; i++) {
    inner(i, i - 1, i);
    rhs[i] = along(slope(i - 1).map((d) => 3 * h[i]! * d) as unknown as Vec3, slope(i), 3 * h[i - 1]!);
  }
  if (closed) {
    // The first and the last are one place with one slope.
    rows[0]![n - 1] = h[0]!;
    rows[0]![0] = 2 * (h[0]! + h[n - 1]!);
    rows[0]![1] = rows[0]![1]! + h[n - 1]!;
    rhs[0] = along(slope(n - 1).map((d) => 3 * h[0]! * d) as unknown as Vec3, slope(0), 3 * h[n - 1]!);
    rows[n]![n] = 1;
    rows[n]![0] = -1;
    rhs[n] = [0, 0, 0];
  } else {
    rows[0]![0] = start ? 1 : 2;
    if (!start) rows[0]![1] = 1;
    rhs[0] = start ?? (slope(0).map((d) => 3 * d) as unknown as Vec3);
    rows[n]![n] = end ? 1 : 2;
    if (!end) rows[n]![n - 1] = 1;
    rhs[n] = end ?? (slope(n - 1).map((d) => 3 * d) as unknown as Vec3);
  }
  const m = solveDense(rows, rhs);
  return (t) => {
    let i = 0;
    while (i < n - 1 && t > v[i + 1]!) i++;
    const s = (t - v[i]!) / h[i]!;
    const [a, b] = [values[i]!, values[i + 1]!];
    const [h00, h10, h01, h11] = [(1 + 2 * s) * (1 - s) ** 2, s * (1 - s) ** 2 * h[i]!, s * s * (3 - 2 * s), s * s * (s - 1) * h[i]!];
    return triple((k) => h00 * a[k]! + h10 * m[i]![k]! + h01 * b[k]! + h11 * m[i + 1]![k]!);
  };
}

/** Where a rail meets each section: its own parameter, the section's share, and how far it misses. */
function touches(rail: Rail, sections: readonly Section[]): { t: number; share: number; miss: number }[] {
  const samples = Array.from({ length: 401 }, (_, i) => rail.at(i / 400));
  return sections.map((s) => {
    let best = { t: 0, share: 0, miss: Number.POSITIVE_INFINITY };
    const ring = Array.from({ length: s.point ? 1 : 180 }, (_, i) => s.at(i / 180));
    samples.forEach((p, i) => {
      ring.forEach((q, j) => {
        const d = distance(p, q);
        if (d < best.miss) best = { t: i / 400, share: j / 180, miss: d };
      });
    });
    // Nearest of both, by shrinking steps.
    let [dt, ds] = [1 / 400, 1 / 180];
    for (let k = 0; k < 60; k++) {
      let moved = false;
      for (const [a, b] of [
        [dt, 0],
        [-dt, 0],
        [0, ds],
        [0, -ds],
        [dt, ds],
        [-dt, -ds],
        [dt, -ds],
        [-dt, ds],
      ] as const) {
        if (s.point && b !== 0) continue;
        const t = Math.min(1, Math.max(0, best.t + a));
        const share = wrapped(best.share + b);
        const miss = distance(rail.at(t), s.at(share));
        if (miss < best.miss - 1e-15) {
          best = { t, share, miss };
          moved = true;
        }
      }
      if (!moved) {
        dt /= 2;
        ds /= 2;
      }
    }
    return best;
  });
}

/** Smooth periodic weights of the rails: one at its own place, none at the others. */
function weights(places: readonly number[]): (u: number) => number[] {
  const n = places.length;
  if (n === 1) return () => [1];
  const v = [...places, places[0]! + 1];
  const cards = places.map((_, j) => {
    const values = v.map((_, i): Vec3 => [i % n === j ? 1 : 0, 0, 0]);
    // Two rails stand opposite: a cosine would do; the closed cubic through four places is its like.
    if (n === 2) {
      const mid = [places[0]!, (v[0]! + v[1]!) / 2, v[1]!, (v[1]! + v[2]!) / 2, v[2]!];
      const four = mid.map((_, i): Vec3 => [i % 2 === 1 ? 0.5 : (i / 2) % 2 === j ? 1 : 0, 0, 0]);
      return spline(mid, four, undefined, undefined, true);
    }
    return spline(v, values, undefined, undefined, true);
  });
  return (u) => {
    let t = u;
    while (t < v[0]!) t += 1;
    while (t > v[n]!) t -= 1;
    return cards.map((c) => c(t)[0]);
  };
}

/**
 * Weights of rails on open lines by how far along the line they stand: one at its own place, none at the others, and beyond the outermost
 * as there. Way there and way back are alike.
 * @param places common parameters of the rails and their mirror images, @param shares theirs in the first section
 */
function foldedWeights(places: readonly number[], shares: readonly number[]): (u: number) => number[] {
  const own = places.flatMap((_, j) => (shares[j]! <= 0.5 ? [j] : []));
  // Folded about the middle between the last rail and its image; a rail at an end is its own image.
  const last = Math.max(...own.map((j) => places[j]!));
  const image = shares
    .map((s, j) => (s > 0.5 ? places[j]! : Number.POSITIVE_INFINITY))
    .reduce((a, b) => Math.min(a, b), Number.POSITIVE_INFINITY);
  const atEnd = own.some((j) => Math.abs(shares[j]! - 0.5) < 1e-9);
  const fold = atEnd || image === Number.POSITIVE_INFINITY ? last : (last + image) / 2;
  const first = Math.min(...own.map((j) => places[j]!));
  const v = own.map((j) => places[j]!);
  if (own.length === 1) return () => places.map((_, j) => (j === own[0] ? 1 : 0));
  const cards = own.map((_, k) =>
    spline(
      v,
      own.map((_, i): Vec3 => [i === k ? 1 : 0, 0, 0]),
      [0, 0, 0],
      [0, 0, 0],
    ),
  );
  return (u) => {
    let x = u;
    while (x < first - 1e-12) x += 1;
    while (x > first + 1) x -= 1;
    const t = Math.min(last, Math.max(first, x <= fold ? x : 2 * fold - x));
    const w = new Array<number>(places.length).fill(0);
    own.forEach((j, k) => {
      w[j] = cards[k]!(t)[0];
    });
    return w;
  };
}

/**
 * Skins the sections.
 * @returns an error in words: which rail misses which section by how much, which sections cross over
 */
export function loft(sections: readonly Section[], given: readonly Rail[], options: LoftOptions): Result<Loft> {
  const closed = options.closed;
  // Open lines are gone along there and back: rails hold both ways alike, and there is no start to turn.
  const open = sections.some((s) => s.open);
  const rails = [...given];
  const list = closed ? [...sections, sections[0]!] : sections;
  const n = list.length - 1;
  if (n < 1) return fail('a loft needs two sections');
  // Rails: where they touch, in the order of the sections.
  const met: { t: number; share: number; miss: number }[][] = [];
  for (const rail of given) {
    const m = touches(rail, sections).map((k) => (open && k.share > 0.5 ? { ...k, share: 1 - k.share } : k));
    const worst = m.findIndex((k) => k.miss > TOUCH);
    if (worst >= 0 && !options.snap) return fail(`${rail.words} misses ${sections[worst]!.words} by ${fixed(m[worst]!.miss, 3)} mm`);
    for (let k = 1; k < m.length; k++)
      if (!closed && (m[k]!.t - m[k - 1]!.t) * (m[m.length - 1]!.t - m[0]!.t) <= 0)
        return fail(`${rail.words} does not pass the sections in their order`);
    met.push(m);
  }
  if (open) {
    const END = 1e-6;
    for (const [j, rail] of given.entries()) {
      const ends = met[j]!.map((k) => k.share < END || k.share > 0.5 - END);
      if (ends.every(Boolean)) {
        met[j] = met[j]!.map((k) => ({ ...k, share: k.share < 0.25 ? 0 : 0.5 }));
        continue;
      }
      if (ends.some(Boolean)) return fail(`${rail.words} meets the end of one section and the inside of another`);
      rails.push(rail);
      met.push(met[j]!.map((k) => ({ ...k, share: 1 - k.share })));
    }
  }
  const ties = matched(
    sections,
    met.map((m) => m.map((k) => k.share)),
    open ? [] : options.shifts,
  );
  if (!ties.ok) return ties;
  const order = rails
    .map((_, j) => j)
    .sort((a, b) => wrapped(met[a]![0]!.share - met[0]![0]!.share) - wrapped(met[b]![0]!.share - met[0]![0]!.share));
  const round = roundAbout(sections, ties.value);
  if (!round) return fail('a loft needs a section that is no point');
  const place = (k: number, u: number): Vec3 => list[k]!.at(round.share(k % sections.length, u));
  // Lengthwise parameter: mean distance from section to section.
  const v = [0];
  for (let k = 1; k <= n; k++) {
    let sum = 0;
    for (let i = 0; i < 24; i++) sum += distance(place(k, i / 24), place(k - 1, i / 24));
    if (sum < 1e-9) return fail(`${list[k - 1]!.words} and ${list[k]!.words} lie in the same place`);
    v.push(v[k - 1]! + sum / 24);
  }
  const total = v[n]!;
  for (let k = 0; k <= n; k++) v[k] = v[k]! / total;
  const forward = (k: number, other: number): Vec3 => {
    const to = minus(centre(list[other]!), centre(list[k]!));
    const s = (other > k ? 1 : -1) * Math.sign(dot(to, list[k]!.normal) || 1);
    return list[k]!.normal.map((c) => c * s * total) as unknown as Vec3;
  };
  const start =
    options.startSquare !== undefined && !closed ? (forward(0, 1).map((c) => c * options.startSquare!) as unknown as Vec3) : undefined;
  const end =
    options.endSquare !== undefined && !closed ? (forward(n, n - 1).map((c) => c * options.endSquare!) as unknown as Vec3) : undefined;
  const skin = (u: number): ((t: number) => Vec3) => {
    const values = list.map((_, k) => place(k, u));
    return spline(v, values, start, end, closed);
  };
  const flatSkin = (u: number): ((t: number) => Vec3) => {
    const values = list.map((_, k) => place(k, u));
    return (t) => {
      let i = 0;
      while (i < n - 1 && t > v[i + 1]!) i++;
      const s = (t - v[i]!) / (v[i + 1]! - v[i]!);
      return along(values[i]!.map((c) => c * (1 - s)) as unknown as Vec3, values[i + 1]!, s);
    };
  };
  const base = options.ruled ? flatSkin : skin;
  // Rails by the common lengthwise parameter, pulled onto the sections where they are to be.
  const places = rails.length > 0 ? round.us : [];
  const railAt = order.map((j) => {
    const m = met[j]!;
    const t = [...m.map((k) => k.t), ...(closed ? [m[0]!.t + 1] : [])];
    const off = m.map((k, i) => minus(sections[i]!.at(k.share), rails[j]!.at(k.t)));
    return (x: number): Vec3 => {
      let i = 0;
      while (i < n - 1 && x > v[i + 1]!) i++;
      const s = (x - v[i]!) / (v[i + 1]! - v[i]!);
      const p = rails[j]!.at(wrappedRail(t[i]! + s * (t[i + 1]! - t[i]!), closed));
      const [a, b] = [off[i]!, off[(i + 1) % off.length]!];
      return along(along(p, a, 1 - s), b, s);
    };
  });
  /** A rail's own knots, lengthwise: there the skin gets knots too, or it would not follow closely. */
  const bends = order.flatMap((j) => {
    const t = [...met[j]!.map((k) => k.t), ...(closed ? [met[j]![0]!.t + 1] : [])];
    return rails[j]!.knots.flatMap((k) =>
      t.slice(1).flatMap((b, i) => {
        const s = (k - t[i]!) / (b - t[i]!);
        return s > 1e-6 && s < 1 - 1e-6 ? [v[i]! + s * (v[i + 1]! - v[i]!)] : [];
      }),
    );
  });
  const share =
    rails.length === 0
      ? () => []
      : open
        ? foldedWeights(
            places,
            order.map((j) => met[j]![0]!.share),
          )
        : weights(places);
  const railSkins = places.map((u) => base(u));
  const formula = (u: number): ((t: number) => Vec3) => {
    const own = base(u);
    const w = share(wrapped(u));
    return (t) => {
      let p = own(t);
      w.forEach((k, j) => {
        if (Math.abs(k) > 1e-15) p = along(p, minus(railAt[j]!(t), railSkins[j]!(t)), k);
      });
      return p;
    };
  };

  const spans: [number, number][] = options.ruled && !closed ? v.slice(1).map((b, i) => [v[i]!, b]) : [[0, 1]];
  const spanOf = ([from, to]: [number, number]): Span => ({
    from,
    to,
    closed,
    straight: options.ruled && rails.length === 0,
    knots: (level) =>
      lengthKnots(
        [...v, ...bends].filter((x) => x >= from - 1e-12 && x <= to + 1e-12),
        rails.length > 0 ? 3 + 3 * level : 1 + level,
      ),
  });
  const deviation = { sections: 0, rails: 0 };
  const made = skinOver(round, spans.map(spanOf), formula, (surface, span, strip) => {
    if (strip.first) Object.assign(deviation, { sections: 0, rails: 0 });
    for (let k = 0; k <= n; k++) {
      if (v[k]! < span.from - 1e-12 || v[k]! > span.to + 1e-12 || list[k]!.point) continue;
      for (let a = 0; a < 97; a++) {
        const u = strip.from + ((strip.to - strip.from) * (a + 0.5)) / 97;
        deviation.sections = Math.max(deviation.sections, distance(surfaceAt(surface, u, v[k]!), place(k, u)));
      }
    }
    for (const [j, u] of places.entries()) {
      const inside = [u, u + 1].find((x) => x >= strip.from - 1e-9 && x <= strip.to + 1e-9);
      if (inside === undefined) continue;
      for (let b = 0; b <= 60; b++) {
        const t = span.from + ((span.to - span.from) * b) / 60;
        deviation.rails = Math.max(deviation.rails, distance(surfaceAt(surface, inside, t), railAt[j]!(t)));
      }
    }
    return Math.max(deviation.sections, deviation.rails);
  });
  const shown = [...round.us];
  if (shown.length < 4)
    for (const quarter of [0.25, 0.5, 0.75]) {
      const u = wrapped(round.us[0]! + quarter);
      if (shown.every((x) => Math.abs(wrapped(x - u + 0.5) - 0.5) > 0.05)) shown.push(u);
    }
  const lines = shown.map((u) => list.map((_, k) => place(k, u)));
  const rings = sections.map((s) => (rails.length > 0 || s.point ? [] : Array.from({ length: RING }, (_, i) => s.at(i / RING))));
  const real = sections.findIndex((x) => !x.point);
  const shareAt = (u: number): number => round.share(real, u);
  // The way there comes first, from its start on.
  const middles = round.strips.map((x) => shareAt((x.from + x.to) / 2));
  const sorted = round.strips.map((_, i) => i).sort((a, b) => middles[a]! - middles[b]!);
  const patches = open ? made.map((row) => sorted.map((i) => row[i]!)) : made;
  return ok({ patches, deviation, ties: { lines, rings: open ? rings.map(() => []) : rings }, shareAt });
}

const wrappedRail = (t: number, closed: boolean): number => (closed ? t - Math.floor(t) : Math.min(1, Math.max(0, t)));

/** Knots along the loft: at the sections and where rails bend, and evenly between. */
function lengthKnots(places: readonly number[], parts: number): number[] {
  const v = places.toSorted((a, b) => a - b).filter((x, i, all) => i === 0 || x - all[i - 1]! > 1e-4);
  const out: number[] = [];
  for (let k = 1; k < v.length; k++) for (let i = 0; i < parts; i++) out.push(v[k - 1]! + ((v[k]! - v[k - 1]!) * i) / parts);
  out.push(v[v.length - 1]!);
  return out;
}
