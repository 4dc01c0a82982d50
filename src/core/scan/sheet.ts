/** A smooth surface over the ground that lies near a scan: least squares with as much fairing as the deviation that is allowed leaves room for. */
import { basisDerivatives, findSpan } from '../curves/bspline';
import { circleThrough } from '../form/circle';
import { distance, dot, minus, triple, type Vec3 } from '../geometry/vectors';
import { solveBanded, solveDense } from '../linear';
import { bounds, type TriMesh } from '../mesh/mesh';
import { gauss } from '../quadrature';
import { fail, ok, type Result } from '../result';
import { basisAt, curveAt, dimension, greville, type SplineSpace, type SplineSurface, surfaceAt } from '../surfaces/space';
import { evenPlaces } from './middle';
import { type Border, facetVector, placeOf } from './topology';

export interface FittedSheet {
  /** Its parameters are x and y. */
  readonly surface: SplineSurface;
  /** Root of the mean square of what the scan lies off it, mm. */
  readonly rms: number;
  /** Mean square of its bending, 1/mm. */
  readonly bending: number;
  /** What the deviation and the bending are with a tenth of the fairing, as it is, and with ten times of it. */
  readonly trade: readonly { readonly rms: number; readonly bending: number }[];
  /** Whether no less fairing would bring it within what was asked. */
  readonly short: boolean;
}

export interface SheetFailure {
  readonly why: string;
  readonly at?: Vec3;
}

/** Places of the scan that are fitted. */
const FITTED = 12_000;
/** Facets that lean more are walls, not part of a surface over the ground. */
const STEEP = Math.cos((82 * Math.PI) / 180);
/** Share of the area that may be so. */
const FEW = 0.01;
/** The surface reaches this share of its size beyond the scan: its border runs within it. */
const BEYOND = 0.03;

export const cubic = (from: number, to: number, spans: number): SplineSpace => ({
  degree: 3,
  knots: Array.from({ length: spans + 1 }, (_, i) => (i === spans ? to : from + ((to - from) * i) / spans)),
  periodic: false,
});

/** Integrals over the products of the derivatives of a space's functions, by their order: at [i][d] those of i and i − d. */
function products(space: SplineSpace): readonly [number[][], number[][], number[][]] {
  const { degree: p, knots } = space;
  const full = [...new Array<number>(p).fill(knots[0]!), ...knots, ...new Array<number>(p).fill(knots[knots.length - 1]!)];
  const n = dimension(space);
  const out = [0, 1, 2].map(() => Array.from({ length: n }, () => new Array<number>(p + 1).fill(0)));
  for (let k = 0; k + 1 < knots.length; k++) {
    const [a, b] = [knots[k]!, knots[k + 1]!];
    for (const [x, w] of gauss(p + 1)) {
      const t = a + x * (b - a);
      const span = findSpan(p, full, n, t);
      const all = basisDerivatives(p, full, span, t, 2);
      for (let order = 0; order < 3; order++)
        for (let i = 0; i <= p; i++)
          for (let j = 0; j <= i; j++) {
            const row = out[order]![span - p + i]!;
            row[i - j] = row[i - j]! + w * (b - a) * all[order]![i]! * all[order]![j]!;
          }
    }
  }
  return out as unknown as readonly [number[][], number[][], number[][]];
}

/** Over the least deviation that its spans allow, a fair surface may have so much more: what is nearer follows the roughness of the scan. */
const FAIR = 1.04;

/**
 * @param spans of the surface along its longer side; the other has as many for its length
 * @param accuracy wanted deviation, root of the mean square, mm: the fairest surface that keeps it; null for as near as it stays fair
 * @param alike the halves either side of the side plane are made alike
 */
export function fittedSheet(scan: TriMesh, spans: number, accuracy: number | null, alike: boolean): Result<FittedSheet, SheetFailure> {
  const up = upwards(scan);
  if (!up.ok) return up;
  const { min, max } = bounds(scan.positions);
  if (alike) {
    max[0] = Math.max(max[0], -min[0]);
    min[0] = -max[0];
  }
  const reach = [max[0] - min[0], max[1] - min[1]] as const;
  const margin = BEYOND * Math.max(...reach);
  const longer = Math.max(...reach);
  const [nu, nv] = reach.map((r) => Math.max(3, Math.round((spans * (r + 2 * margin)) / (longer + 2 * margin)))) as [number, number];
  const u = cubic(min[0] - margin, max[0] + margin, nu);
  const v = cubic(min[1] - margin, max[1] + margin, nv);
  const [du, dv] = [dimension(u), dimension(v)];
  const own = evenPlaces(scan, FITTED);
  const places = alike
    ? own.flatMap(([x, y, z]): Vec3[] => [
        [x, y, z],
        [-x, y, z],
      ])
    : own;
  const size = du * dv;
  const width = 3 * dv + 4;
  const blank = (): Float64Array[] => Array.from({ length: size }, () => new Float64Array(width));
  const data = blank();
  const rhs = new Float64Array(size);
  const known = places.map((p) => ({ u: basisAt(u, p[0]), v: basisAt(v, p[1]), z: p[2] }));
  for (const { u: bu, v: bv, z } of known)
    for (let i = 0; i < 4; i++)
      for (let j = 0; j < 4; j++) {
        const row = (bu.first + i) * dv + bv.first + j;
        const w = bu.values[i]! * bv.values[j]!;
        rhs[row]! += (w * z) / places.length;
        for (let k = 0; k <= i; k++)
          for (let l = 0; l < 4; l++) {
            const column = (bu.first + k) * dv + bv.first + l;
            if (column > row) continue;
            data[row]![row - column]! += (w * bu.values[k]! * bv.values[l]!) / places.length;
          }
      }
  // How it bends: zuu² + 2 zuv² + zvv², for a square of its ground.
  const [mu, su, ku] = products(u);
  const [mv, sv, kv] = products(v);
  const of = (m: readonly (readonly number[])[], i: number, j: number): number => (i >= j ? (m[i]![i - j] ?? 0) : (m[j]![j - i] ?? 0));
  const ground = (reach[0] + 2 * margin) * (reach[1] + 2 * margin);
  const bend = blank();
  for (let a = 0; a < du; a++)
    for (let b = 0; b < dv; b++)
      for (let c = Math.max(0, a - 3); c <= a; c++)
        for (let d = Math.max(0, b - 3); d <= Math.min(dv - 1, b + 3); d++) {
          const [row, column] = [a * dv + b, c * dv + d];
          if (column > row) continue;
          bend[row]![row - column] = (of(ku, a, c) * of(mv, b, d) + 2 * of(su, a, c) * of(sv, b, d) + of(mu, a, c) * of(kv, b, d)) / ground;
        }
  const solved = (fairing: number): { z: Float64Array; rms: number; bending: number } | undefined => {
    const z = solveBanded(
      data.map((row, i) => row.map((x, d) => x + fairing * bend[i]![d]!)),
      rhs,
    );
    if (!z) return undefined;
    let sum = 0;
    for (const { u: bu, v: bv, z: wanted } of known) {
      let s = -wanted;
      for (let i = 0; i < 4; i++) for (let j = 0; j < 4; j++) s += bu.values[i]! * bv.values[j]! * z[(bu.first + i) * dv + bv.first + j]!;
      sum += s * s;
    }
    let energy = 0;
    bend.forEach((row, i) => {
      row.forEach((x, d) => {
        if (i >= d) energy += (d === 0 ? 1 : 2) * x * z[i]! * z[i - d]!;
      });
    });
    return { z, rms: Math.sqrt(sum / known.length), bending: Math.sqrt(Math.max(0, energy)) };
  };
  // The fairing that brings the deviation to what is wanted: it rises with it.
  const scale = longer ** 4;
  let [low, high] = [-12, 2];
  const least = solved(scale * 10 ** low);
  if (!least) return fail({ why: 'the scan does not say enough about it: choose fewer spans' });
  const wanted = accuracy ?? FAIR * least.rms;
  const short = least.rms > wanted;
  let best = least;
  if (!short)
    for (let i = 0; i < 16; i++) {
      const mid = (low + high) / 2;
      const at = solved(scale * 10 ** mid);
      if (at && at.rms <= wanted) [low, best] = [mid, at];
      else high = mid;
    }
  const trade = [solved(scale * 10 ** (low - 1)), best, solved(scale * 10 ** (low + 1))]
    .filter((s) => s !== undefined)
    .map(({ rms, bending }) => ({ rms, bending }));
  const [gu, gv] = [greville(u), greville(v)];
  const poles = gu.map((x, i) => gv.map((y, j): Vec3 => [x, y, best.z[i * dv + j]!]));
  return ok({ surface: { u, v, poles }, rms: best.rms, bending: best.bending, trade, short });
}

/** Whether a scan lies over its ground as one surface does; what does not is told with a place. */
function upwards(scan: TriMesh): Result<1 | -1, SheetFailure> {
  const vectors = Array.from(scan.faceOf.keys(), (t) => facetVector(scan, t));
  const whole = vectors.reduce((s, n) => s + Math.hypot(...n), 0);
  const side = vectors.reduce((s, n) => s + n[2], 0) < 0 ? -1 : 1;
  const steep = vectors.map((n) => (side * n[2] < STEEP * Math.hypot(...n) ? Math.hypot(...n) : 0));
  const share = steep.reduce((s, a) => s + a, 0) / whole;
  if (share <= FEW) return ok(side);
  return fail({
    why: `${Math.round(100 * share)} % of the scan stands upright or lies beneath: a single surface over the level plane can’t follow it`,
    at: placeOf(scan, scan.indices[3 * steep.indexOf(Math.max(...steep))]!),
  });
}

/** How far a place lies off a sheet along its normal, mm; above it where positive. */
export function offSheet(sheet: SplineSurface, p: Vec3): number {
  const [dx, dy] = [1e-4, 1e-4];
  const z = surfaceAt(sheet, p[0], p[1])[2];
  const slope = [(surfaceAt(sheet, p[0] + dx, p[1])[2] - z) / dx, (surfaceAt(sheet, p[0], p[1] + dy)[2] - z) / dy] as const;
  return (p[2] - z) / Math.hypot(1, ...slope);
}

/** A closed line of places made alike either side of the side plane, at equal shares of its length from where it crosses that. */
export function alikeLine(places: readonly Vec3[]): Vec3[] {
  const n = places.length;
  const crossing = places.findIndex((p, i) => p[0] <= 0 !== places[(i + 1) % n]![0] <= 0 && p[1] > 0 === places.some((q) => q[1] > 0));
  if (crossing < 0) return [...places];
  const [a, b] = [places[crossing]!, places[(crossing + 1) % n]!];
  const k = a[0] / (a[0] - b[0]);
  const begin = triple((x) => a[x] + k * (b[x] - a[x]));
  const line = [begin, ...Array.from({ length: n }, (_, i) => places[(crossing + 1 + i) % n]!), begin];
  const lengths = [0];
  for (let i = 1; i < line.length; i++) lengths.push(lengths[i - 1]! + distance(line[i - 1]!, line[i]!));
  const whole = lengths[lengths.length - 1]!;
  const at = (share: number): Vec3 => {
    const wanted = share * whole;
    let i = 1;
    while (i < line.length - 1 && lengths[i]! < wanted) i++;
    const t = (wanted - lengths[i - 1]!) / (lengths[i]! - lengths[i - 1]! || 1);
    return triple((x) => line[i - 1]![x] + t * (line[i]![x] - line[i - 1]![x]));
  };
  return Array.from({ length: n }, (_, i) => {
    const [p, q] = [at(i / n), at(1 - i / n)];
    return [(p[0] - q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2];
  });
}

/** Holes made alike either side of the side plane: each with the one that lies nearest to its image. */
export const alikeHoles = (holes: readonly FoundHole[]): FoundHole[] =>
  holes.map((h) => {
    const image: Vec3 = [-h.centre[0], h.centre[1], h.centre[2]];
    const other = holes.toSorted((p, q) => distance(p.centre, image) - distance(q.centre, image))[0]!;
    if (distance(other.centre, image) > 2 * h.radius) return h;
    return { ...h, centre: triple((k) => (h.centre[k] + (k === 0 ? -1 : 1) * other.centre[k]) / 2), radius: (h.radius + other.radius) / 2 };
  });

export interface ClosedCurve {
  readonly space: SplineSpace;
  /** x and y of the control points. */
  readonly poles: readonly (readonly number[])[];
  /** How far the border lies off it at most, seen from above, mm. */
  readonly off: number;
}

/** A closed cubic curve of so many control points that lies nearest to places, seen from above. */
export function closedCurve(places: readonly Vec3[], count: number): ClosedCurve {
  const n = Math.max(6, Math.min(Math.round(count), Math.floor(places.length / 2)));
  const steps = places.map((p, i) => {
    const q = places[(i + 1) % places.length]!;
    return Math.hypot(q[0] - p[0], q[1] - p[1]);
  });
  const whole = steps.reduce((a, b) => a + b, 0);
  const space: SplineSpace = { degree: 3, knots: Array.from({ length: n + 1 }, (_, i) => i / n), periodic: true };
  const rows = Array.from({ length: n }, () => new Array<number>(n).fill(0));
  const rhs = Array.from({ length: n }, () => [0, 0]);
  let t = 0;
  const shares = places.map((_, i) => {
    const now = t / whole;
    t += steps[i]!;
    return now;
  });
  places.forEach((p, i) => {
    const { first, values } = basisAt(space, shares[i]!);
    const weight = (steps[i]! + steps[(i + places.length - 1) % places.length]!) / (2 * whole);
    values.forEach((a, k) => {
      const row = (first + k) % n;
      for (const x of [0, 1] as const) rhs[row]![x] = rhs[row]![x]! + weight * a * p[x];
      values.forEach((b, l) => {
        const column = (first + l) % n;
        rows[row]![column] = rows[row]![column]! + weight * a * b;
      });
    });
  });
  // Where a stretch has no place of its own the control points stand in line.
  for (let i = 0; i < n; i++)
    for (const [d, w] of [
      [0, 6],
      [1, -4],
      [n - 1, -4],
      [2, 1],
      [n - 2, 1],
    ] as const)
      rows[i]![(i + d) % n] = rows[i]![(i + d) % n]! + (1e-5 * w) / n;
  const poles = solveDense(rows, rhs);
  const off = Math.max(
    ...places.map((p, i) => {
      let least = Number.POSITIVE_INFINITY;
      // Along it the nearest may lie a little to either side.
      for (let k = -8; k <= 8; k++) {
        const s = (shares[i]! + k / (8 * n) + 1) % 1;
        const q = curveAt(space, poles, s);
        least = Math.min(least, Math.hypot(q[0]! - p[0], q[1]! - p[1]));
      }
      return least;
    }),
  );
  return { space, poles, off };
}

export interface FoundHole {
  readonly centre: Vec3;
  readonly normal: Vec3;
  readonly radius: number;
  /** How far the border lies off the circle, root of the mean square, mm. */
  readonly off: number;
}

/** Holes of a scan as circles. */
export const roundHoles = (scan: TriMesh, borders: readonly Border[]): FoundHole[] =>
  borders.flatMap((b) => {
    const places = b.vertices.map((v) => placeOf(scan, v));
    const circle = circleThrough(places);
    if (!circle) return [];
    const off = Math.sqrt(
      places.reduce((s, p) => {
        const d = minus(p, circle.middle);
        return s + (Math.hypot(dot(d, circle.x), dot(d, circle.y)) - circle.radius) ** 2;
      }, 0) / places.length,
    );
    return [{ centre: circle.middle, normal: b.normal, radius: circle.radius, off }];
  });

/** The outline of a hole of a radius through a sheet at a place, square to the sheet, seen from above. */
export function holeIn(sheet: SplineSurface, centre: Vec3, radius: number): ClosedCurve {
  const d = 1e-3;
  const z = (x: number, y: number): number => surfaceAt(sheet, x, y)[2];
  const [zx, zy] = [
    (z(centre[0] + d, centre[1]) - z(centre[0] - d, centre[1])) / (2 * d),
    (z(centre[0], centre[1] + d) - z(centre[0], centre[1] - d)) / (2 * d),
  ];
  const slope = Math.hypot(zx, zy);
  // Along the slope it is seen shorter.
  const way = slope > 1e-9 ? ([zx / slope, zy / slope] as const) : ([1, 0] as const);
  const short = 1 / Math.hypot(1, slope);
  const at = Array.from({ length: 256 }, (_, i) => {
    const a = (2 * Math.PI * i) / 256;
    const [s, c] = [radius * short * Math.cos(a), radius * Math.sin(a)];
    return triple((k) => (k === 2 ? centre[2] : centre[k]! + (k === 0 ? s * way[0] - c * way[1] : s * way[1] + c * way[0])));
  });
  return closedCurve(at, 48);
}
