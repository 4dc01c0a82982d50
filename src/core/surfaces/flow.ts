/**
 * What a face adds to the area, volume and centroid of the skin it is part of: integrals over the part of a surface that a border encloses in its
 * parameters, by Green's theorem: ∬ f du dv = ∮ (∫ f du) dv. Source: any calculus; Gauss's rule on every stretch on which all is smooth.
 */
import { basisValues, findSpan } from '../curves/bspline';
import { cross, dot, minus, type Vec3 } from '../geometry/vectors';
import { gauss } from '../quadrature';
import { type Basis, jetsOf } from './jet';
import type { PoleSurface } from './spline';

export interface Flow {
  /** mm² */
  readonly area: number;
  /** Of the cone from the origin over it, mm³; positive where it looks away from the origin. */
  readonly volume: number;
  /** Volume times centroid of that cone, mm⁴. */
  readonly moment: Vec3;
}

/** What several add up to. */
export function total(flows: readonly Flow[]): Flow {
  let [area, volume] = [0, 0];
  const moment: [number, number, number] = [0, 0, 0];
  for (const f of flows) {
    area += f.area;
    volume += f.volume;
    for (let k = 0; k < 3; k++) moment[k] = moment[k]! + f.moment[k]!;
  }
  return { area, volume, moment };
}

/** 0 for along u, 1 for along v. */
type Way = 0 | 1;

/** A surface that can be integrated along lines of its parameters. */
export interface Patch {
  /** Where it stops being smooth, or has gone far enough for one rule: rising, of each way. */
  readonly breaks: readonly [readonly number[], readonly number[]];
  /** Adds area, three volumes and four moments between two places of one way at a place of the other. */
  readonly add: (way: Way, fixed: number, from: number, to: number, sum: Float64Array) => void;
  /** Where it has one. */
  readonly place?: PlaceFormula;
}

/** A place of a surface and its derivatives, written to the offsets 0, 3 and 6. */
export type PlaceFormula = (u: number, v: number, out: Float64Array) => void;
export type FormulaPatch = Patch & { readonly place: PlaceFormula };

/** Places a stretch: polynomials of degree 11 are exact, areas are good to 1e-9 where breaks lie no coarser than the surface bends. */
const PLACES = 6;

/** Adds what one place is worth: the point, the derivatives along u and along v at offsets 0, 3 and 6. */
function gather(sum: Float64Array, w: number, at: Float64Array): void {
  const [x, y, z] = [at[0]!, at[1]!, at[2]!];
  const [ux, uy, uz] = [at[3]!, at[4]!, at[5]!];
  const [vx, vy, vz] = [at[6]!, at[7]!, at[8]!];
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  const through = w * (x * nx + y * ny + z * nz);
  sum[0] = sum[0]! + w * Math.sqrt(nx * nx + ny * ny + nz * nz);
  sum[1] = sum[1]! + through;
  sum[2] = sum[2]! + through * x;
  sum[3] = sum[3]! + through * y;
  sum[4] = sum[4]! + through * z;
}

/** Index of the first break beyond a place. */
export function beyond(breaks: readonly number[], at: number): number {
  let [low, high] = [0, breaks.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (breaks[middle]! > at) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Calls for every stretch between two places that holds no break inside, rising. */
function stretches(breaks: readonly number[], from: number, to: number, each: (from: number, to: number) => void): void {
  let at = from;
  for (let i = beyond(breaks, from); at < to; i++) {
    const end = Math.min(to, breaks[i] ?? to);
    each(at, end);
    at = end;
  }
}

/** A surface by its place and derivatives. */
export const patchOf = (breaks: Patch['breaks'], at: PlaceFormula): FormulaPatch => {
  const out = new Float64Array(9);
  return {
    breaks,
    place: at,
    add: (way, fixed, from, to, sum) => {
      const sign = to < from ? -1 : 1;
      stretches(breaks[way], Math.min(from, to), Math.max(from, to), (a, b) => {
        for (const [t, w] of gauss(PLACES)) {
          const x = a + t * (b - a);
          if (way === 0) at(x, fixed, out);
          else at(fixed, x, out);
          gather(sum, sign * w * (b - a), out);
        }
      });
    },
  };
};

/** Breaks of an angle that holds a range, rad: trigonometric functions are good to 1e-14 on an eighth of a half turn. */
export const angleBreaks = (from: number, to: number): number[] => {
  const step = Math.PI / 8;
  const first = Math.ceil(from / step);
  return Array.from({ length: Math.max(0, Math.floor(to / step) - first + 1) }, (_, i) => (first + i) * step);
};

/** Stretches parted evenly. */
export const inParts = (ends: readonly number[], parts: number): number[] => [
  ...ends.slice(1).flatMap((to, i) => Array.from({ length: parts }, (_, k) => ends[i]! + ((to - ends[i]!) * k) / parts)),
  ends.at(-1)!,
];

/** Ends of stretches over which the normal of a spline turns little enough for one rule: it is no polynomial. */
function spreadOf({ knots, degrees }: PoleSurface, way: Way): number[] {
  const spans = spansOf(knots[way], degrees[way]);
  return inParts(spans, Math.max(1, Math.ceil(TURNS / (spans.length - 1))));
}
/** Stretches of one way, at least. */
const TURNS = 8;
/** Places of one way that are remembered. */
const MOST_KNOWN = 20_000;

/** A spline surface without weights, every place of it carried along its normal. @param by mm, towards where u turns to v */
export function offsetPatch(base: PoleSurface, by: number): FormulaPatch {
  const { basis, jetOf } = jetsOf(base);
  // Whole stretches are gone along again and again, at the same places.
  const known = [new Map<number, Basis>(), new Map<number, Basis>()] as const;
  const basisAt = (way: Way, t: number): Basis => {
    let there = known[way].get(t);
    if (!there) {
      if (known[way].size > MOST_KNOWN) known[way].clear();
      there = basis(way, t);
      known[way].set(t, there);
    }
    return there;
  };
  const jet: PlaceFormula = (a, b, out) => {
    const [at, du, dv, uu, uv, vv] = jetOf(basisAt(0, a), basisAt(1, b));
    const n = cross(du, dv);
    const l = Math.hypot(...n);
    // The normal turns as the cross product does, less what that grows by.
    const turns = ([x0, x1, x2]: Vec3, [y0, y1, y2]: Vec3): Vec3 => {
      const [d0, d1, d2] = [x0 + y0, x1 + y1, x2 + y2];
      const grows = (n[0] * d0 + n[1] * d1 + n[2] * d2) / (l * l);
      return [(d0 - grows * n[0]) / l, (d1 - grows * n[1]) / l, (d2 - grows * n[2]) / l];
    };
    const ku = turns(cross(uu, dv), cross(du, uv));
    const kv = turns(cross(uv, dv), cross(du, vv));
    for (let c = 0; c < 3; c++) {
      out[c] = at[c]! + (by * n[c]!) / l;
      out[3 + c] = du[c]! + by * ku[c]!;
      out[6 + c] = dv[c]! + by * kv[c]!;
    }
  };
  return patchOf([spreadOf(base, 0), spreadOf(base, 1)], jet);
}

interface Station {
  readonly at: number;
  readonly first: number;
  readonly values: readonly number[];
  readonly slopes: readonly number[];
  readonly w: number;
}

function station(degree: number, knots: readonly number[], at: number, w: number): Station {
  const span = findSpan(degree, knots, knots.length - degree - 1, at);
  const slopes = new Array<number>(degree + 1).fill(0);
  const values = basisValues(degree, knots, span, at, slopes);
  return { at, first: span - degree, values, slopes, w };
}

const spansOf = (knots: readonly number[], degree: number): number[] => [...new Set(knots.slice(degree, knots.length - degree))];

/**
 * A spline surface. Its poles are drawn together to those of the curve along a line before that is integrated, and what the basis is worth on
 * whole stretches is worked out once.
 */
export function splinePatch({ degrees, knots, poles, weights }: PoleSurface): Patch {
  const counts = [poles.length, poles[0]!.length] as const;
  // x, y, z and the weight, those of weight 1 included: one way of reckoning.
  const net = new Float64Array(4 * counts[0] * counts[1]);
  poles.forEach((row, i) => {
    row.forEach((p, j) => {
      const w = weights?.[i]?.[j] ?? 1;
      net.set([p[0] * w, p[1] * w, p[2] * w, w], 4 * (i * counts[1] + j));
    });
  });
  const breaks = [spansOf(knots[0], degrees[0]), spansOf(knots[1], degrees[1])] as const;
  const whole: [Map<number, Station[]>, Map<number, Station[]>] = [new Map(), new Map()];
  const stationsIn = (way: Way, from: number, to: number, full: boolean): Station[] => {
    const known = full ? whole[way].get(from) : undefined;
    if (known) return known;
    const made = gauss(PLACES).map(([t, w]) => station(degrees[way], knots[way], from + t * (to - from), w * (to - from)));
    if (full) whole[way].set(from, made);
    return made;
  };
  const lines = [new Float64Array(4 * Math.max(...counts)), new Float64Array(4 * Math.max(...counts))] as const;
  const out = new Float64Array(9);
  const [h, along, over] = [new Float64Array(4), new Float64Array(4), new Float64Array(4)];
  return {
    breaks,
    add: (way, fixed, from, to, sum) => {
      const [low, high] = [Math.min(from, to), Math.max(from, to)];
      if (!(high > low)) return;
      const sign = to < from ? -1 : 1;
      const other = (1 - way) as Way;
      const [line, slope] = lines;
      // The poles that count between the two places.
      const p = degrees[way];
      const [first, end] = [
        4 * (findSpan(p, knots[way], counts[way], low) - p),
        Math.min(4 * counts[way], 4 * (findSpan(p, knots[way], counts[way], high) + 1)),
      ];
      line.fill(0, first, end);
      slope.fill(0, first, end);
      const held = station(degrees[other], knots[other], fixed, 1);
      const [stepWay, stepOther] = way === 0 ? [4 * counts[1], 4] : [4, 4 * counts[1]];
      for (let k = 0; k <= degrees[other]; k++) {
        const [a, b] = [held.values[k]!, held.slopes[k]!];
        let at = stepOther * (held.first + k) + (first / 4) * stepWay;
        for (let i = first; i < end; i += 4, at += stepWay)
          for (let c = 0; c < 4; c++) {
            line[i + c] = line[i + c]! + a * net[at + c]!;
            slope[i + c] = slope[i + c]! + b * net[at + c]!;
          }
      }
      stretches(breaks[way], low, high, (a, b) => {
        const next = beyond(breaks[way], a);
        const full = breaks[way][next - 1] === a && breaks[way][next] === b;
        for (const s of stationsIn(way, a, b, full)) {
          h.fill(0);
          along.fill(0);
          over.fill(0);
          for (let k = 0, at = 4 * s.first; k <= degrees[way]; k++, at += 4) {
            const [f, g] = [s.values[k]!, s.slopes[k]!];
            for (let c = 0; c < 4; c++) {
              h[c] = h[c]! + f * line[at + c]!;
              along[c] = along[c]! + g * line[at + c]!;
              over[c] = over[c]! + f * slope[at + c]!;
            }
          }
          const w = h[3]!;
          for (let c = 0; c < 3; c++) {
            const p = h[c]! / w;
            out[c] = p;
            out[3 + 3 * way + c] = (along[c]! - along[3]! * p) / w;
            out[3 + 3 * other + c] = (over[c]! - over[3]! * p) / w;
          }
          gather(sum, sign * s.w, out);
        }
      });
    },
  };
}

/** A piece of a border in the parameters, on which they are smooth. */
export interface BorderPiece {
  readonly from: number;
  readonly to: number;
  /** Place and derivative at a parameter of the piece: u, v, u′, v′. */
  readonly at: (t: number) => readonly [number, number, number, number];
}

/** Samples of a stretch that are looked at for where it crosses a break, and how near that is found, as a share. */
const [LOOKS, NEAR] = [8, 1e-12];

/** A border's pieces parted where they cross a break of the surface. */
function parted(piece: BorderPiece, breaks: Patch['breaks']): readonly (readonly [number, number])[] {
  if (breaks[0].length === 0 && breaks[1].length === 0) return [[piece.from, piece.to]];
  const cuts: number[] = [];
  const t = (i: number): number => piece.from + ((piece.to - piece.from) * i) / LOOKS;
  let before = piece.at(t(0));
  for (let i = 1; i <= LOOKS; i++) {
    const now = piece.at(t(i));
    for (const way of [0, 1] as const) {
      const [low, high] = [Math.min(before[way], now[way]), Math.max(before[way], now[way])];
      // One that runs along a break crosses none.
      if (high - low < NEAR * (1 + Math.abs(high))) continue;
      for (let k = beyond(breaks[way], low); k < breaks[way].length && breaks[way][k]! <= high; k++) {
        const level = breaks[way][k]!;
        let [a, b] = [t(i - 1), t(i)];
        const rising = now[way] > before[way];
        for (let round = 0; round < 40 && Math.abs(b - a) > NEAR * Math.abs(piece.to - piece.from); round++) {
          const middle = (a + b) / 2;
          if (piece.at(middle)[way] > level === rising) b = middle;
          else a = middle;
        }
        cuts.push((a + b) / 2);
      }
    }
    before = now;
  }
  const sense = Math.sign(piece.to - piece.from);
  const ends = [piece.from, ...cuts.sort((a, b) => sense * (a - b)), piece.to];
  return ends.slice(1).map((to, i) => [ends[i]!, to] as const);
}

interface Sample {
  readonly at: readonly [number, number];
  /** The weight times the derivative of either parameter. */
  readonly step: readonly [number, number];
}

/** Pieces of one line of a border. */
export type BorderLine = readonly BorderPiece[];

/** How far a line of a border may be from closed in the parameters, as a share of how far it goes. */
const SHUT = 1e-6;

/** The ways along which a line does not come back to where it began: one round a surface that goes round does not, only several together do. */
function openWays(line: BorderLine): Way[] {
  const steps = line.map(({ from, to, at }) => ({ a: at(from), b: at(to) }));
  return ([0, 1] as const).filter((way) => {
    const gone = steps.reduce((sum, { a, b }) => sum + b[way] - a[way], 0);
    const far = steps.reduce((sum, { a, b }) => sum + Math.abs(b[way] - a[way]), 0);
    return Math.abs(gone) > SHUT * far;
  });
}

/**
 * The flow through the part of a surface that a border encloses: the border runs with the part on its left, seen from where u turns to v.
 * Every line that is closed in the parameters counts by itself: one round a hole is then integrated over the hole, not from there to the end.
 * @param border its lines, each piece in its own sense
 */
export function flowWithin(patch: Patch, border: readonly BorderLine[]): Flow {
  const lines = border.map((line) => ({ line, open: openWays(line) }));
  const shut = lines.filter((l) => l.open.length === 0);
  const others = lines.filter((l) => l.open.length > 0);
  // What joins rings round a surface is no line of it: along that way nothing may be integrated.
  const ways = ([0, 1] as const).filter((way) => others.every((l) => !l.open.includes(way)));
  return total([
    ...shut.map(({ line }) => flowInLine(patch, line)),
    flowInLine(
      patch,
      others.flatMap((l) => l.line),
      ways.length > 0 ? ways : BOTH,
    ),
  ]);
}

const BOTH: readonly Way[] = [0, 1];

/** @param ways those along which it may be integrated */
function flowInLine(patch: Patch, border: BorderLine, ways = BOTH): Flow {
  const samples: Sample[] = [];
  for (const piece of border)
    for (const [from, to] of parted(piece, patch.breaks))
      for (const [t, w] of gauss(PLACES)) {
        const [u, v, du, dv] = piece.at(from + t * (to - from));
        samples.push({ at: [u, v], step: [w * (to - from) * du, w * (to - from) * dv] });
      }
  const sum = new Float64Array(5);
  if (samples.length === 0) return total([]);
  const least = (way: Way, f: (...x: number[]) => number): number => samples.reduce((m, s) => f(m, s.at[way]), samples[0]!.at[way]);
  const span = [0, 1].map((w) => least(w as Way, Math.max) - least(w as Way, Math.min));
  // Along the way and from the side that asks for fewest stretches: lines along it add nothing, and those on its start nothing either.
  let best: { way: Way; start: number; cost: number } | undefined;
  for (const way of ways)
    for (const f of [Math.min, Math.max]) {
      const start = least(way, f);
      const from = beyond(patch.breaks[way], start);
      const cost = samples.reduce((n, s) => n + (counts(s, way, span) ? 1 + Math.abs(beyond(patch.breaks[way], s.at[way]) - from) : 0), 0);
      if (!best || cost < best.cost) best = { way, start, cost };
    }
  const { way, start } = best!;
  const line = new Float64Array(5);
  for (const s of samples) {
    if (!counts(s, way, span)) continue;
    line.fill(0);
    patch.add(way, s.at[1 - way]!, start, s.at[way], line);
    const w = way === 0 ? s.step[1] : -s.step[0];
    for (let k = 0; k < 5; k++) sum[k] = sum[k]! + w * line[k]!;
  }
  return { area: sum[0]!, volume: sum[1]! / 3, moment: [sum[2]! / 4, sum[3]! / 4, sum[4]! / 4] };
}

/** Whether a place of the border goes on across the lines that are integrated along. */
const counts = (s: Sample, way: Way, span: readonly number[]): boolean => Math.abs(s.step[1 - way]!) > 1e-13 * span[1 - way]!;

/** Where a face ends, and the line it should end on. */
export interface Strip {
  /** On the line, and the line's derivative by the parameter. */
  readonly on: Vec3;
  readonly along: Vec3;
  /** On the face, and its normal there, of any length. */
  readonly from: Vec3;
  readonly normal: Vec3;
}

/**
 * Rules one after the other along a strip: its width comes and goes several times where the border itself is smooth, and so it does between the
 * knots of a line that was interpolated. At least as many as these on a piece, and at most on one that is all of the line.
 */
const STRETCHES = { least: 2, most: 10, line: 24 } as const;
/** Places over a piece of so many pieces, and their weights. */
const strips = Array.from({ length: STRETCHES.most + 1 }, (_, n) =>
  Array.from({ length: n }, (_, k) => gauss(PLACES).map(([share, w]) => [(k + share) / n, w / n] as const)).flat(),
);

/** The flow through the narrow strip between the border of a part of a surface and a line that runs along it; straight across. */
export function stripFlow(border: readonly BorderPiece[], at: (t: number, place: readonly [number, number]) => Strip): Flow {
  let [area, volume] = [0, 0];
  const moment: [number, number, number] = [0, 0, 0];
  const stretches = Math.min(STRETCHES.most, Math.max(STRETCHES.least, Math.ceil(STRETCHES.line / border.length)));
  for (const piece of border)
    for (const [share, w] of strips[stretches]!) {
      const t = piece.from + share * (piece.to - piece.from);
      const [u, v] = piece.at(t);
      const { on, along, from, normal } = at(t, [u, v]);
      // The part lies to the left of its border, the strip to the right: across times along looks where the part does.
      const flow = cross(minus(on, from), along).map((x) => x * w * (piece.to - piece.from)) as [number, number, number];
      const middle: Vec3 = [(on[0] + from[0]) / 2, (on[1] + from[1]) / 2, (on[2] + from[2]) / 2];
      const through = dot(middle, flow);
      volume += through / 3;
      for (let k = 0; k < 3; k++) moment[k] = moment[k]! + (through * middle[k]!) / 4;
      area += dot(flow, normal) / Math.hypot(...normal);
    }
  return { area, volume, moment };
}

/** The flow through a whole surface, or a range of its parameters; its normal looks from where u turns to v. */
export function flowThrough(surface: PoleSurface): Flow {
  const [[u0, u1], [v0, v1]] =
    surface.range ??
    ([0, 1].map((w) => {
      const [k, p] = [surface.knots[w as Way], surface.degrees[w as Way]];
      return [k[p]!, k[k.length - p - 1]!] as const;
    }) as [readonly [number, number], readonly [number, number]]);
  const corners = [
    [u0, v0],
    [u1, v0],
    [u1, v1],
    [u0, v1],
  ] as const;
  const patch = splinePatch(surface);
  return flowWithin(patch, [
    corners.map(([u, v], i) => {
      const [x, y] = corners[(i + 1) % 4]!;
      return { from: 0, to: 1, at: (t) => [u + t * (x - u), v + t * (y - v), x - u, y - v] };
    }),
  ]);
}
