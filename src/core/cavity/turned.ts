/**
 * The smooth turned cavity that keeps a wall everywhere: all that counts of a skin, seen from rings about an axis, is its least radius at
 * every height; from that the largest cavity is read off ring by ring, and the smooth one that fits under it found by a quadratic program
 * (Goldfarb & Idnani 1983). Millimetres; the axis is z.
 */
import { solveQP } from 'quadprog';
import { type BSpline, basisDerivatives, evaluateBSpline, findSpan } from '../curves/bspline';
import type { TriMesh } from '../mesh/mesh';
import { fail, ok, type Result } from '../result';
import { fixed } from '../units/units';

export interface TurnedCavity {
  /** Radius over a parameter 0…1 that runs evenly from the bottom to the top; one coordinate. */
  readonly radius: BSpline;
  readonly bottom: number;
  readonly top: number;
  /** Control points used. */
  readonly points: number;
  /** Volume as a share of the largest turned cavity that keeps the wall. */
  readonly share: number;
  readonly volume: number;
  /** By height: the radius and the thinnest wall of the ring there. */
  readonly chart: readonly { readonly z: number; readonly radius: number; readonly wall: number }[];
}

export interface CavityOptions {
  readonly wall: number;
  /** Least thickness of the floor. */
  readonly floor: number;
  /** Faces that are open and do not count. */
  readonly open: ReadonlySet<number>;
  /** How far the mesh may lie outside the true skin. */
  readonly deflection: number;
  /** The inside leans back by 45° at most, so that it prints without support. */
  readonly printable?: boolean;
}

/** Control points that are tried, few first. */
const COUNTS = [6, 8, 10, 12, 16, 24];
/** A cavity this near to the largest possible one is taken. */
const ENOUGH = 0.97;
const LEAST_RADIUS = 0.5;

interface Reach {
  readonly z0: number;
  readonly dz: number;
  /** Least distance of the skin from the axis by level; 0 where the axis is not inside. */
  readonly least: Float64Array;
}

/** The least radius of a skin at every level, exactly on its triangles. */
function reachOf(mesh: TriMesh, open: ReadonlySet<number>, dz: number): Reach {
  const { positions: p, indices, faceOf } = mesh;
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let i = 2; i < p.length; i += 3) {
    low = Math.min(low, p[i]!);
    high = Math.max(high, p[i]!);
  }
  // A hair off round numbers, where flat faces like to lie.
  const z0 = low + 1.37e-6;
  const n = Math.max(2, Math.ceil((high - low) / dz));
  const step = (high - low - 3e-6) / (n - 1);
  const least = new Float64Array(n).fill(Number.POSITIVE_INFINITY);
  const crossings = new Int32Array(n);
  for (let t = 0; t < faceOf.length; t++) {
    const corner = [0, 1, 2].map((k) => 3 * indices[3 * t + k]!);
    const z = corner.map((c) => p[c + 2]!);
    const from = Math.max(0, Math.ceil((Math.min(...z) - z0) / step));
    const to = Math.min(n - 1, Math.floor((Math.max(...z) - z0) / step));
    for (let k = from; k <= to; k++) {
      const level = z0 + k * step;
      const cut: [number, number][] = [];
      for (let e = 0; e < 3; e++) {
        const [a, b] = [corner[e]!, corner[(e + 1) % 3]!];
        const [za, zb] = [p[a + 2]! - level, p[b + 2]! - level];
        if (za > 0 === zb > 0) continue;
        const s = za / (za - zb);
        cut.push([p[a]! + s * (p[b]! - p[a]!), p[a + 1]! + s * (p[b + 1]! - p[a + 1]!)]);
      }
      if (cut.length < 2) continue;
      const [[ax, ay], [bx, by]] = cut as [[number, number], [number, number]];
      if (ay > 0 !== by > 0 && ax + (ay / (ay - by)) * (bx - ax) > 0) crossings[k]!++;
      if (open.has(faceOf[t]!)) continue;
      const [dx, dy] = [bx - ax, by - ay];
      const l2 = dx * dx + dy * dy;
      const s = l2 > 0 ? Math.min(1, Math.max(0, -(ax * dx + ay * dy) / l2)) : 0;
      least[k] = Math.min(least[k]!, Math.hypot(ax + s * dx, ay + s * dy));
    }
  }
  for (let k = 0; k < n; k++) if (crossings[k]! % 2 === 0) least[k] = 0;
  return { z0, dz: step, least };
}

/** The largest radius of a ring at each level that keeps the wall: by the distance in the half plane, over all levels nearer than the wall. */
function largestRings({ dz, least }: Reach, wall: number): Float64Array {
  const n = least.length;
  const span = Math.floor(wall / dz);
  const out = new Float64Array(n);
  for (let k = 0; k < n; k++) {
    let r = Number.POSITIVE_INFINITY;
    // Below the lowest level there is no material to hold a cavity; above the highest there is nothing to keep from.
    for (let d = -Math.min(span, k); d <= Math.min(span, n - 1 - k); d++)
      r = Math.min(r, least[k + d]! - Math.sqrt(Math.max(0, wall * wall - (d * dz) ** 2)));
    out[k] = r;
  }
  return out;
}

/** Rows of the clamped uniform cubic basis at shares 0…1. */
function basisRows(count: number, shares: readonly number[]): { knots: number[]; rows: number[][] } {
  const inner = count - 4;
  const knots = [0, 0, 0, 0, ...Array.from({ length: inner }, (_, i) => (i + 1) / (inner + 1)), 1, 1, 1, 1];
  const rows = shares.map((s) => {
    const row = new Array<number>(count).fill(0);
    const at = findSpan(3, knots, count, s);
    basisDerivatives(3, knots, at, s, 0)[0]!.forEach((v, k) => {
      row[at - 3 + k] = v;
    });
    return row;
  });
  return { knots, rows };
}

/** The smooth radius nearest below given ones. Undefined where none fits. */
function smoothUnder(limit: readonly number[], count: number, height: number, printable: boolean): BSpline | undefined {
  const m = limit.length;
  const { knots, rows } = basisRows(
    count,
    limit.map((_, k) => k / (m - 1)),
  );
  // 1-based, as the solver wants them.
  const table = (a: number, b: number): number[][] => Array.from({ length: a + 1 }, () => new Array<number>(b + 1).fill(0));
  const D = table(count, count);
  const d = new Array<number>(count + 1).fill(0);
  rows.forEach((row, k) => {
    // What lies farther out holds more: the weight of a ring is its length.
    const w = Math.max(0.2, limit[k]!) / m;
    for (let i = 0; i < count; i++) {
      if (row[i] === 0) continue;
      d[i + 1] = d[i + 1]! + w * row[i]! * limit[k]!;
      for (let j = 0; j < count; j++) D[i + 1]![j + 1] = D[i + 1]![j + 1]! + w * row[i]! * row[j]!;
    }
  });
  const scale = D.reduce((most, r) => Math.max(most, ...r), 0);
  const smooth = 1e-5 * scale;
  for (let i = 0; i + 2 < count; i++)
    for (const [a, va] of [
      [i, 1],
      [i + 1, -2],
      [i + 2, 1],
    ] as const)
      for (const [b, vb] of [
        [i, 1],
        [i + 1, -2],
        [i + 2, 1],
      ] as const)
        D[a + 1]![b + 1] = D[a + 1]![b + 1]! + smooth * va * vb;
  for (let i = 1; i <= count; i++) D[i]![i] = D[i]![i]! + 1e-9 * scale;
  const constraints: { row: number[]; least: number }[] = rows.map((row, k) => ({ row: row.map((v) => -v), least: -limit[k]! }));
  for (let i = 0; i < count; i++) constraints.push({ row: rows[0]!.map((_, j) => (i === j ? 1 : 0)), least: 0.25 * LEAST_RADIUS });
  if (printable) {
    // Between control points the radius shrinks upwards by no more than the height grows.
    const greville = Array.from({ length: count }, (_, i) => (height * (knots[i + 1]! + knots[i + 2]! + knots[i + 3]!)) / 3);
    for (let i = 0; i + 1 < count; i++)
      constraints.push({ row: rows[0]!.map((_, j) => (j === i + 1 ? 1 : j === i ? -1 : 0)), least: -(greville[i + 1]! - greville[i]!) });
  }
  const A = table(count, constraints.length);
  const b = new Array<number>(constraints.length + 1).fill(0);
  constraints.forEach(({ row, least }, c) => {
    row.forEach((v, i) => {
      A[i + 1]![c + 1] = v;
    });
    b[c + 1] = least;
  });
  const { solution, message } = solveQP(D, d, A, b);
  if (message !== '' || solution.slice(1).some((v) => !Number.isFinite(v))) return undefined;
  return { degree: 3, knots, poles: solution.slice(1, count + 1).map((v) => [v]) };
}

export const radiusAt = (c: Pick<TurnedCavity, 'radius' | 'bottom' | 'top'>, z: number): number =>
  evaluateBSpline(c.radius, Math.min(1, Math.max(0, (z - c.bottom) / (c.top - c.bottom))))[0]![0]!;

/**
 * Finds the turned cavity of a skin, open above.
 * @param mesh closed skin of the solid, the axis at x = y = 0
 * @returns an error in words where no cavity of that wall exists about the axis
 */
export function turnedCavity(mesh: TriMesh, o: CavityOptions): Result<TurnedCavity> {
  const { wall, floor } = o;
  const dz = Math.min(0.2, wall / 15);
  const reach = reachOf(mesh, o.open, dz);
  const rings = largestRings(reach, wall);
  const n = rings.length;
  const margin = 0.012 + o.deflection;
  // The underside is where the axis enters the body for good; the floor stands on it.
  let under = n - 1;
  while (under > 0 && reach.least[under - 1]! > 0) under--;
  if (!(reach.least[n - 1]! > 0)) return fail('the axis does not pass through its top');
  let first = n - 1;
  while (
    first > 0 &&
    rings[first - 1]! - margin > LEAST_RADIUS &&
    reach.z0 + (first - 1) * reach.dz >= reach.z0 + under * reach.dz + Math.max(floor, wall) - 1e-9
  )
    first--;
  const bottom = reach.z0 + first * reach.dz;
  const top = reach.z0 + (n - 1) * reach.dz;
  if (n - 1 - first < 8)
    return fail(
      `about its axis there is no room for a cavity of ${fixed(wall, 2)} mm wall: the narrowest place leaves ${fixed(Math.max(0, rings[n - 1]!), 2)} mm`,
    );
  const limit = Array.from(rings.slice(first), (r) => r - margin);
  const slice = Math.max(1, Math.floor(limit.length / 320));
  const thin = limit.filter((_, k) => k % slice === 0 || k === limit.length - 1);
  // Between the levels that are kept the least of their neighbours holds.
  const used = slice === 1 ? limit : thin.map((_, k) => Math.min(...limit.slice(Math.max(0, (k - 1) * slice), (k + 1) * slice + 1)));
  const ideal = rings.slice(first).reduce((sum, r) => sum + Math.PI * r * r * reach.dz, 0);
  let best: TurnedCavity | undefined;
  for (const count of COUNTS) {
    if (count + 2 > used.length) break;
    const radius = smoothUnder(used, count, top - bottom, o.printable ?? false);
    if (!radius) continue;
    const shape = { radius, bottom, top };
    let volume = 0;
    for (let k = first; k < n; k++) volume += Math.PI * radiusAt(shape, reach.z0 + k * reach.dz) ** 2 * reach.dz;
    const found: TurnedCavity = { ...shape, points: count, share: volume / ideal, volume, chart: chartOf(reach, shape, wall) };
    if (!best || found.share > best.share) best = found;
    if (found.share >= ENOUGH) break;
  }
  return best ? ok(best) : fail('no smooth turned cavity fits');
}

/** Thinnest wall of every ring, by the distance in the half plane. */
function chartOf(reach: Reach, c: Pick<TurnedCavity, 'radius' | 'bottom' | 'top'>, wall: number): TurnedCavity['chart'] {
  const out: { z: number; radius: number; wall: number }[] = [];
  const n = reach.least.length;
  const rows = 60;
  for (let i = 0; i <= rows; i++) {
    const z = c.bottom + ((c.top - c.bottom) * i) / rows;
    const radius = radiusAt(c, z);
    const k = Math.min(n - 1, Math.max(0, Math.round((z - reach.z0) / reach.dz)));
    // The nearest place of the skin lies no farther away than straight out.
    const span = Math.ceil(Math.max(wall, reach.least[k]! - radius) / reach.dz) + 1;
    let least = Number.POSITIVE_INFINITY;
    for (let j = Math.max(0, k - span); j <= Math.min(n - 1, k + span); j++)
      least = Math.min(least, Math.hypot(reach.least[j]! - radius, reach.z0 + j * reach.dz - z));
    out.push({ z, radius, wall: least });
  }
  return out;
}
