/** What a step raises, as facets put together in a moment: for the eye while something is dragged, never for a figure or a file. Millimetres, rad. */
import earcut from 'earcut';
import { chained, isClosed } from '../../curves/chained';
import { type Frame, normalOf, toPlane, turned } from '../../curves/frame';
import { type Motion, moved } from '../../curves/motion';
import type { Point2 } from '../../curves/planar';
import { along, cross, distance, dot, minus, triple, unit, type Vec3 } from '../../geometry/vectors';
import { inside } from '../../profile/regions';

export interface QuickSkin {
  /** xyz of each corner. Facets that share corners shade as one smooth skin. */
  readonly positions: Float32Array;
  readonly indices: Uint32Array;
}

/** What a step raises while something of it is dragged. */
export interface QuickStep {
  readonly step: string;
  readonly skins: readonly QuickSkin[];
  /** It takes away. */
  readonly cuts: boolean;
}
/** What is shown while something is dragged, and what of the bodies is not: whole ones, and faces whose names begin so. */
export interface Quick {
  readonly steps: readonly QuickStep[];
  readonly bodies: readonly string[];
  readonly faces: readonly string[];
}

type Line = readonly Vec3[];
/** Lines of a drawing, where its plane puts them. */
export interface Drawn {
  readonly frame: Frame;
  readonly lines: readonly Line[];
}

/** A line that turns by more than this at a place has a corner there; its cosine. */
const CORNER = Math.cos(Math.PI / 6);
const FACETS_ROUND = 72;
/** Places of a section, and of what lies from one section to the next. */
const [AROUND, BETWEEN] = [96, 12] as const;

interface Gathering {
  /** Rows of as many places each: a skin from row to row. */
  readonly strip: (rows: readonly Line[], back?: boolean) => void;
  /** Flat fills of closed lines; those that lie inside others are holes. */
  readonly fill: (loops: readonly Line[], frame: Frame) => void;
  readonly done: () => QuickSkin;
}

function gathering(): Gathering {
  const positions: number[] = [];
  const indices: number[] = [];
  return {
    strip: (rows, back = false) => {
      const first = positions.length / 3;
      const across = rows[0]!.length;
      for (const row of rows) for (const p of row) positions.push(...p);
      for (let i = 0; i + (back ? 0 : 1) < rows.length; i++)
        for (let j = 0; j + 1 < across; j++) {
          const [a, b] = [first + i * across + j, first + ((i + 1) % rows.length) * across + j];
          indices.push(a, b, b + 1, a, b + 1, a + 1);
        }
    },
    fill: (loops, frame) => {
      for (const { outer, holes } of regionsOf(loops.map((l) => l.map((p) => toPlane(frame, p))))) {
        const rings = [outer, ...holes];
        const flat = rings.flatMap((r) => r.flatMap((p) => [p.x, p.y]));
        const starts = rings.slice(1).map((_, i) => rings.slice(0, i + 1).reduce((n, r) => n + r.length, 0));
        const first = positions.length / 3;
        for (let i = 0; i < flat.length; i += 2) positions.push(...along(along(frame.origin, frame.x, flat[i]!), frame.y, flat[i + 1]!));
        indices.push(...earcut(flat, starts).map((i) => i + first));
      }
    },
    done: () => ({ positions: Float32Array.from(positions), indices: Uint32Array.from(indices) }),
  };
}

type Ring = readonly Point2[];
/** The area within a ring; negative where it runs clockwise. */
export const ringArea = (r: Ring): number =>
  r.reduce((sum, p, i) => sum + p.x * r[(i + 1) % r.length]!.y - r[(i + 1) % r.length]!.x * p.y, 0) / 2;

/** Closed lines as outlines with the holes that lie directly in them. */
function regionsOf(loops: readonly Ring[]): { outer: Ring; holes: Ring[] }[] {
  const rings = loops.filter((r) => r.length > 2).toSorted((a, b) => Math.abs(ringArea(b)) - Math.abs(ringArea(a)));
  const about = rings.map((r, i) => rings.slice(0, i).filter((o) => inside(o, r[0]!)));
  const out = new Map<Ring, Ring[]>();
  rings.forEach((r, i) => {
    if (about[i]!.length % 2 === 0) out.set(r, []);
    else out.get(about[i]!.at(-1)!)?.push(r);
  });
  return [...out].map(([outer, holes]) => ({ outer, holes }));
}

/** Where a line has corners it is parted: its pieces shade apart. */
function parts(line: Line): [number, number][] {
  const out: [number, number][] = [];
  let from = 0;
  for (let i = 1; i + 1 < line.length; i++) {
    const [a, b] = [unit(minus(line[i]!, line[i - 1]!)), unit(minus(line[i + 1]!, line[i]!))];
    if (a && b && dot(a, b) < CORNER) {
      out.push([from, i + 1]);
      from = i;
    }
  }
  out.push([from, line.length]);
  return out;
}

/** A line moved sideways within its plane by as much everywhere; positive widens what it encloses. */
function widened(line: Line, frame: Frame, by: number): Vec3[] {
  if (by === 0) return [...line];
  const flat = line.map((p) => toPlane(frame, p));
  const closed = isClosed(line);
  const sign = closed && ringArea(flat) < 0 ? -1 : 1;
  const way = (i: number): { x: number; y: number } | undefined => {
    const [a, b] = [flat[i], flat[i + 1]];
    const l = a && b ? Math.hypot(b.x - a.x, b.y - a.y) : 0;
    return l > 0 ? { x: (sign * (b!.y - a!.y)) / l, y: (-sign * (b!.x - a!.x)) / l } : undefined;
  };
  const last = flat.length - 1;
  return line.map((p, i) => {
    const before = way(i === 0 ? (closed ? last - 1 : 0) : i - 1) ?? way(i);
    const after = way(i === last ? (closed ? 0 : last - 1) : i) ?? before;
    if (!before || !after) return p;
    const [x, y] = [before.x + after.x, before.y + after.y];
    const k = (2 * by) / Math.max(x * x + y * y, 0.2);
    return along(along(p, frame.x, k * x), frame.y, k * y);
  });
}

/**
 * A drawing pushed along its plane's normal.
 * @param lean how far its sides lean outwards, rad
 * @param filled its closed lines are closed off at both ends
 */
export function prism({ frame, lines }: Drawn, from: number, to: number, lean = 0, filled = true): QuickSkin {
  const g = gathering();
  const n = normalOf(frame);
  const at = (line: Line, h: number): Vec3[] =>
    widened(line, frame, (h - from) * Math.sign(to - from) * Math.tan(lean)).map((p) => along(p, n, h));
  const chains = chained(lines);
  for (const chain of chains) {
    const [low, high] = [at(chain, from), at(chain, to)];
    for (const [a, b] of parts(chain)) g.strip([low.slice(a, b), high.slice(a, b)]);
  }
  const loops = chains.filter(isClosed).map((c) => c.slice(0, -1));
  if (filled)
    for (const h of [from, to])
      g.fill(
        loops.map((l) => at([...l, l[0]!], h).slice(0, -1)),
        { ...frame, origin: along(frame.origin, n, h) },
      );
  return g.done();
}

/** Lines turned about a line; part of the way round what they enclose with it is closed off. */
export function spun(lines: readonly Line[], place: Vec3, direction: Vec3, angle: number): QuickSkin {
  const g = gathering();
  const full = Math.abs(angle) > 2 * Math.PI - 1e-9;
  const n = Math.max(2, Math.ceil((FACETS_ROUND * Math.abs(angle)) / (2 * Math.PI)));
  const at = (p: Vec3, k: number): Vec3 => along(place, turned(minus(p, place), direction, (angle * k) / n), 1);
  const chains = chained(lines);
  for (const chain of chains)
    for (const [a, b] of parts(chain))
      g.strip(
        Array.from({ length: full ? n : n + 1 }, (_, k) => chain.slice(a, b).map((p) => at(p, k))),
        full,
      );
  if (full) return g.done();
  const off = chains.flat().map((p) => minus(p, along(place, direction, dot(minus(p, place), direction))));
  const far = off.reduce((m, p) => (dot(p, p) > dot(m, m) ? p : m), [0, 0, 0]);
  const out = unit(far);
  if (out)
    for (const k of [0, n]) {
      const loops = chains.map((c) => c.map((p) => at(p, k)));
      g.fill(loops, { origin: place, x: turned(out, direction, (angle * k) / n), y: direction });
    }
  return g.done();
}

/** Places at even distances along a line, its ends among them. */
function even(line: Line, count: number): Vec3[] {
  const upTo = [0];
  for (let i = 1; i < line.length; i++) upTo.push(upTo[i - 1]! + distance(line[i - 1]!, line[i]!));
  const whole = upTo.at(-1)!;
  let i = 1;
  return Array.from({ length: count }, (_, k) => {
    const s = (whole * k) / (count - 1);
    while (i < line.length - 1 && upTo[i]! < s) i++;
    const step = upTo[i]! - upTo[i - 1]!;
    return along(line[i - 1]!, minus(line[i]!, line[i - 1]!), step > 0 ? (s - upTo[i - 1]!) / step : 0);
  });
}

const middleOfPlaces = (line: Line): Vec3 => triple((k) => line.reduce((sum, p) => sum + p[k], 0) / line.length);
/** Twice the area of a closed line, as a direction. */
const facingOf = (line: Line): Vec3 =>
  line.reduce<Vec3>((sum, p, i) => along(sum, cross(minus(p, line[0]!), minus(line[(i + 1) % line.length]!, line[0]!)), 1), [0, 0, 0]);

/** A section so begun and so run round that it lies as the one before it. */
function matched(line: Line, before: Line): Vec3[] {
  const run = dot(facingOf(line), facingOf(before)) < 0 ? line.toReversed() : [...line];
  if (!isClosed(line) || !isClosed(before)) {
    const off = (l: Line): number => distance(l[0]!, before[0]!) + distance(l.at(-1)!, before.at(-1)!);
    return off(line.toReversed()) < off(line) ? line.toReversed() : [...line];
  }
  const [ring, shift] = [run.slice(0, -1), minus(middleOfPlaces(before), middleOfPlaces(run))];
  const off = (k: number): number =>
    before.slice(0, -1).reduce((sum, p, i) => sum + distance(along(ring[(i + k) % ring.length]!, shift, 1), p), 0);
  let best = 0;
  let least = Number.POSITIVE_INFINITY;
  for (let k = 0; k < ring.length; k++) {
    const d = off(k);
    if (d < least) [best, least] = [k, d];
  }
  const turnedRound = [...ring.slice(best), ...ring.slice(0, best)];
  return [...turnedRound, turnedRound[0]!];
}

/** A skin through one line a section, smooth from the third on. Its ends are closed off where they are. @param back on from the last to the first */
export function lofted(sections: readonly Line[], smooth: boolean, back = false): QuickSkin {
  const g = gathering();
  const rows: Vec3[][] = [];
  for (const s of sections) {
    const line = even(s, AROUND + 1);
    const before = rows.at(-1);
    rows.push(before ? matched(line, before) : line);
  }
  const n = rows.length;
  const row = (i: number): Line => (back ? rows[(i + n) % n]! : rows[Math.min(Math.max(i, 0), n - 1)]!);
  const spans = back ? n : n - 1;
  const all: Vec3[][] = [];
  for (let i = 0; i < spans; i++) {
    const steps = smooth && n > 2 ? BETWEEN : 1;
    for (let k = i === 0 ? 0 : 1; k <= steps; k++) {
      const t = k / steps;
      all.push(
        row(i).map((p, j) =>
          steps === 1 ? along(p, minus(row(i + 1)[j]!, p), t) : onSpline([row(i - 1)[j]!, p, row(i + 1)[j]!, row(i + 2)[j]!], t),
        ),
      );
    }
  }
  for (const [a, b] of parts(rows[0]!)) g.strip(all.map((r) => r.slice(a, b)));
  if (!back)
    for (const end of [rows[0]!, rows[n - 1]!]) {
      const frame = isClosed(end) ? planeOf(end) : undefined;
      if (frame) g.fill([end.slice(0, -1)], frame);
    }
  return g.done();
}

/** Between the middle two of four places (Catmull and Rom's spline). */
function onSpline([a, b, c, d]: readonly [Vec3, Vec3, Vec3, Vec3], t: number): Vec3 {
  return triple((k) => {
    const [p, q, r, s] = [a[k], b[k], c[k], d[k]];
    return q + 0.5 * t * (r - p + t * (2 * p - 5 * q + 4 * r - s + t * (3 * (q - r) + s - p)));
  });
}

function planeOf(line: Line): Frame | undefined {
  const n = unit(facingOf(line.slice(0, -1)));
  const x = unit(minus(line[1]!, line[0]!));
  return n && x ? { origin: line[0]!, x, y: cross(n, x) } : undefined;
}

/** Frames along a path that turn with it and no more (double reflection: Wang, Jüttler, Zheng, Liu 2008). */
function carriedFrames(path: Line): { readonly at: Vec3; readonly t: Vec3; readonly x: Vec3 }[] {
  const way = (i: number): Vec3 => unit(minus(path[Math.min(i + 1, path.length - 1)]!, path[Math.max(i - 1, 0)]!)) ?? [0, 0, 1];
  const t0 = way(0);
  const x0 = unit(cross(t0, Math.abs(t0[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]))!;
  const out: { at: Vec3; t: Vec3; x: Vec3 }[] = [{ at: path[0]!, t: t0, x: x0 }];
  const mirrored = (v: Vec3, m: Vec3): Vec3 => (dot(m, m) > 0 ? along(v, m, (-2 * dot(m, v)) / dot(m, m)) : v);
  for (let i = 1; i < path.length; i++) {
    const last = out[i - 1]!;
    const step = minus(path[i]!, path[i - 1]!);
    const t = way(i);
    out.push({ at: path[i]!, t, x: mirrored(mirrored(last.x, step), minus(t, mirrored(last.t, step))) });
  }
  return out;
}

/** How lines are carried along a path. */
export interface Carry {
  /** They turn with it. */
  readonly square: boolean;
  /** In all, rad. */
  readonly twist: number;
  /** At its end, against the beginning. */
  readonly size: number;
}

/** Where a place comes to that is carried along a path from where it stands at its beginning: at each of the path's places. */
export function carrying(path: Line, o: Carry): { readonly at: (p: Vec3, i: number) => Vec3 } {
  const frames = carriedFrames(path);
  const begin = frames[0]!;
  const own = (p: Vec3): Vec3 => {
    const d = minus(p, begin.at);
    return [dot(d, begin.x), dot(d, cross(begin.t, begin.x)), dot(d, begin.t)];
  };
  const last = frames.length - 1;
  const at = (p: Vec3, i: number): Vec3 => {
    const { at: origin, t, x } = o.square ? frames[i]! : { ...begin, at: frames[i]!.at };
    const s = last > 0 ? i / last : 0;
    const k = 1 + (o.size - 1) * s;
    const [c, w] = [Math.cos(o.twist * s), Math.sin(o.twist * s)];
    const [a, b, h] = own(p);
    return along(along(along(origin, x, k * (a * c - b * w)), cross(t, x), k * (a * w + b * c)), t, h);
  };
  return { at };
}

/** Lines carried along a path, closed off at its ends where they are closed. */
export function swept(lines: readonly Line[], path: Line, o: Carry): QuickSkin {
  const g = gathering();
  const { at } = carrying(path, o);
  const last = path.length - 1;
  for (const chain of chained(lines)) {
    for (const [a, b] of parts(chain)) g.strip(path.map((_, i) => chain.slice(a, b).map((p) => at(p, i))));
    if (isClosed(chain))
      for (const i of [0, last]) {
        const end = chain.map((p) => at(p, i));
        const frame = planeOf(end);
        if (frame) g.fill([end.slice(0, -1)], frame);
      }
  }
  return g.done();
}

/** A skin at other places. */
export function atPlaces({ positions, indices }: QuickSkin, motions: readonly Motion[]): QuickSkin {
  const corners = positions.length / 3;
  const to = new Float32Array(positions.length * motions.length);
  const all = new Uint32Array(indices.length * motions.length);
  motions.forEach((motion, m) => {
    for (let i = 0; i < corners; i++)
      to.set(moved(motion, [positions[3 * i]!, positions[3 * i + 1]!, positions[3 * i + 2]!]), 3 * (m * corners + i));
    for (let i = 0; i < indices.length; i++) all[m * indices.length + i] = indices[i]! + m * corners;
  });
  return { positions: to, indices: all };
}
