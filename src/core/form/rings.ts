/** Forms by rings: a table of heights, radii and twists that becomes a cage, and a cage whose limit meets the table. */
import { fail, ok, type Result } from '../result';
import { type Cage, netOf, type P3 } from './cage';
import { settled } from './limit';
import { limitPlaces } from './masks';
import { ringFaces } from './starts';

/** One ring. Heights and radii in mm, the twist against the ring below in rad. */
export interface RingRow {
  readonly height: number;
  readonly radius: number;
  readonly twist: number;
  /** Refinements for which it stays sharp; 0 for a smooth one. */
  readonly crease: number;
}

/** `flat`: the ring is left open and closed by a plane; `round`: the skin goes on over it, by quads around a middle. */
export type RingEnd = 'flat' | 'round';

export interface RingForm {
  readonly sides: number;
  /** By how much every other column stands further in, mm. */
  readonly ridge: number;
  readonly rows: readonly RingRow[];
  readonly bottom: RingEnd;
  readonly top: RingEnd;
}

export const MOST_SIDES = 96;
export const MOST_RINGS = 60;

/** What stands against a form by rings, in words; null for nothing. */
export function ringProblem({ sides, ridge, rows, bottom, top }: RingForm): string | null {
  if (!Number.isInteger(sides) || sides < 3 || sides > MOST_SIDES) return `a ring has 3 to ${MOST_SIDES} sides`;
  if (rows.length < 2 || rows.length > MOST_RINGS) return `a form has 2 to ${MOST_RINGS} rings`;
  if ((bottom === 'round' || top === 'round') && sides % 4 !== 0) return 'a round end wants sides that can be divided by four';
  if (ridge !== 0 && sides % 2 !== 0) return 'ridges want an even number of sides';
  for (const [i, r] of rows.entries()) {
    if (![r.height, r.radius, r.twist, r.crease].every(Number.isFinite)) return `ring ${i + 1} holds something that is no number`;
    if (!(r.radius > 0)) return `the radius of ring ${i + 1} must be more than 0`;
    if (!(r.radius > ridge)) return `the ridges are as deep as ring ${i + 1} is wide`;
    if (i > 0 && !(r.height > rows[i - 1]!.height)) return `ring ${i + 1} does not stand over ring ${i}`;
  }
  return null;
}

/** Twist of every ring against the first, rad. */
export function twists(rows: readonly RingRow[]): number[] {
  let sum = 0;
  return rows.map((r, i) => {
    if (i > 0) sum += r.twist;
    return sum;
  });
}

/** Places of the table, ring by ring. */
function tablePlaces(form: RingForm): P3[] {
  const turned = twists(form.rows);
  return form.rows.flatMap((r, j) =>
    Array.from({ length: form.sides }, (_, i): P3 => {
      const a = (2 * Math.PI * i) / form.sides + turned[j]!;
      const radius = i % 2 === 1 ? r.radius - form.ridge : r.radius;
      return [radius * Math.cos(a), radius * Math.sin(a), r.height];
    }),
  );
}

/** How deep a round end goes on below its ring, as a share of the ring's radius. */
const DOME = 0.35;

/**
 * The cage whose vertices stand at the table's places, ring after ring from the bottom; those of round ends come after them.
 * @throws nothing: what can't be is told by `ringProblem`
 */
export function ringCage(form: RingForm): Cage {
  const { sides, rows } = form;
  const vertices: P3[] = tablePlaces(form);
  const faces = ringFaces(sides, rows.length);
  const at = (j: number, i: number): number => j * sides + (i % sides);
  for (const [end, j] of [
    [form.bottom, 0],
    [form.top, rows.length - 1],
  ] as const)
    if (end === 'round') roundEnd(form, j, vertices, faces);
  const creases = rows.flatMap((r, j) =>
    r.crease > 0 ? Array.from({ length: sides }, (_, i): [number, number, number] => [at(j, i), at(j, i + 1), r.crease]) : [],
  );
  return { vertices, faces, creases, corners: [] };
}

/** A lid of quads over a ring: a square grid in the middle whose rim has as many vertices as the ring, without a pole. */
function roundEnd(form: RingForm, j: number, vertices: P3[], faces: number[][]): void {
  const { sides, rows } = form;
  const row = rows[j]!;
  const down = j === 0 ? -1 : 1;
  const q = sides / 4;
  const turned = twists(rows)[j]!;
  const grid: number[][] = [];
  for (let b = 0; b <= q; b++) {
    const line: number[] = [];
    for (let a = 0; a <= q; a++) {
      // A square blown up to a disc, its corners at the ring's eighths.
      const [x, y] = [(2 * a) / q - 1, (2 * b) / q - 1];
      const m = Math.max(Math.abs(x), Math.abs(y));
      const l = Math.hypot(x, y) || 1;
      const round = (m / l) * 0.7 + 0.3;
      const radius = 0.62 * row.radius;
      const [px, py] = [radius * x * round, radius * y * round];
      const [c, s] = [Math.cos(turned), Math.sin(turned)];
      line.push(vertices.length);
      vertices.push([c * px - s * py, s * px + c * py, row.height + down * DOME * row.radius * (1 - 0.25 * m * m)]);
    }
    grid.push(line);
  }
  // The rim of the grid, from the middle of its right side round: each of its vertices belongs to one of the ring.
  const rim: number[] = [];
  for (let b = 0; b < q; b++) rim.push(grid[b]![q]!);
  for (let a = q; a > 0; a--) rim.push(grid[q]![a]!);
  for (let b = q; b > 0; b--) rim.push(grid[b]![0]!);
  for (let a = 0; a < q; a++) rim.push(grid[0]![a]!);
  const angleOf = (v: number): number => Math.atan2(vertices[v]![1], vertices[v]![0]);
  // The ring's vertex nearest in angle to the rim's first.
  const apart = (i: number): number => {
    const d = angleOf(rim[0]!) - ((2 * Math.PI * i) / sides + turned);
    return Math.abs(Math.atan2(Math.sin(d), Math.cos(d)));
  };
  let shift = 0;
  for (let i = 1; i < sides; i++) if (apart(i) < apart(shift)) shift = i;
  const ring = (i: number): number => j * sides + ((i + shift) % sides);
  const put = (...f: number[]): void => {
    faces.push(down < 0 ? f.toReversed() : f);
  };
  for (let i = 0; i < sides; i++) put(ring(i), ring(i + 1), rim[(i + 1) % sides]!, rim[i]!);
  for (let b = 0; b < q; b++) for (let a = 0; a < q; a++) put(grid[b]![a]!, grid[b]![a + 1]!, grid[b + 1]![a + 1]!, grid[b + 1]![a]!);
}

/** Places settle to this, mm. */
const SETTLED = 1e-9;

/**
 * The cage whose limit passes through the table's places: what is typed is what the body measures at its rings.
 * Found by moving each vertex by what its limit is off, over and over.
 */
export function ringCageOnLimit(form: RingForm): Result<Cage, string> {
  const wanted = tablePlaces(form);
  let cage = ringCage(form);
  const own = wanted.length;
  for (let round = 0; round < 600; round++) {
    const net = netOf(cage);
    if (!net.ok) return fail(net.error.what);
    const limits = limitPlaces(settled(net.value).net);
    let most = 0;
    const vertices = cage.vertices.map((p, v): P3 => {
      if (v >= own) return p;
      const d = [0, 1, 2].map((k) => wanted[v]![k]! - limits[3 * v + k]!);
      most = Math.max(most, Math.hypot(...d));
      return [p[0] + 1.4 * d[0]!, p[1] + 1.4 * d[1]!, p[2] + 1.4 * d[2]!];
    });
    cage = { ...cage, vertices };
    if (most < SETTLED) return ok(cage);
    if (!vertices.every((p) => p.every((x) => Math.abs(x) < 1e6)))
      return fail('no cage has this table as its limit: its rings change too fast');
  }
  return ok(cage);
}

/**
 * A series for one column: the first value and a step added from ring to ring, or a value from the first to the last by a curve.
 * @param from index of the first ring it is written to
 */
export const series = (count: number, first: number, step: number): number[] => Array.from({ length: count }, (_, i) => first + i * step);

/** Rows again with another number of rings, on the curve through the old ones by height: the shape stays. */
export function withRingCount(rows: readonly RingRow[], count: number): RingRow[] {
  const heights = rows.map((r) => r.height);
  const turned = twists(rows);
  const [low, high] = [heights[0]!, heights[heights.length - 1]!];
  const read = through(heights);
  const made = Array.from({ length: count }, (_, i) => {
    const height = low + ((high - low) * i) / (count - 1);
    return {
      height,
      radius: read(
        rows.map((r) => r.radius),
        height,
      ),
      turned: read(turned, height),
    };
  });
  return made.map((r, i) => ({
    height: r.height,
    radius: r.radius,
    twist: i === 0 ? rows[0]!.twist : r.turned - made[i - 1]!.turned,
    crease: i === 0 ? rows[0]!.crease : i === count - 1 ? rows[rows.length - 1]!.crease : 0,
  }));
}

/** Reads values at heights by a natural cubic through them. */
function through(x: readonly number[]): (y: readonly number[], at: number) => number {
  return (y, at) => {
    const n = x.length;
    const second = naturalSecond(x, y);
    let i = 0;
    while (i < n - 2 && at > x[i + 1]!) i++;
    const h = x[i + 1]! - x[i]!;
    const [a, b] = [(x[i + 1]! - at) / h, (at - x[i]!) / h];
    return a * y[i]! + b * y[i + 1]! + (((a ** 3 - a) * second[i]! + (b ** 3 - b) * second[i + 1]!) * h * h) / 6;
  };
}

function naturalSecond(x: readonly number[], y: readonly number[]): number[] {
  const n = x.length;
  const second = new Array<number>(n).fill(0);
  const u = new Array<number>(n).fill(0);
  for (let i = 1; i < n - 1; i++) {
    const s = (x[i]! - x[i - 1]!) / (x[i + 1]! - x[i - 1]!);
    const p = s * second[i - 1]! + 2;
    second[i] = (s - 1) / p;
    const d = (y[i + 1]! - y[i]!) / (x[i + 1]! - x[i]!) - (y[i]! - y[i - 1]!) / (x[i]! - x[i - 1]!);
    u[i] = ((6 * d) / (x[i + 1]! - x[i - 1]!) - s * u[i - 1]!) / p;
  }
  for (let i = n - 2; i >= 0; i--) second[i] = second[i]! * second[i + 1]! + u[i]!;
  return second;
}
