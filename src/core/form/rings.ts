/** Forms by rings: a table of heights, radii and twists that becomes a cage, and a cage whose limit meets the table. */
import { distance } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import { type Cage, netOf, type P3 } from './cage';
import { besideIn, borderLoops, edgeKey, topologyOf } from './edit/topology';
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
type RingEnd = 'flat' | 'round';

export interface RingForm {
  readonly sides: number;
  /** By how much every other column stands further in, mm. */
  readonly ridge: number;
  readonly rows: readonly RingRow[];
  readonly bottom: RingEnd;
  readonly top: RingEnd;
}

const MOST_SIDES = 96;
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

/** A series for one column: the first value and a step added from ring to ring. */
export const series = (count: number, first: number, step: number): number[] => Array.from({ length: count }, (_, i) => first + i * step);

/** A series that runs from a first value over a middle one to a last, on the parabola through the three. */
export const bentSeries = (count: number, first: number, middle: number, last: number): number[] =>
  Array.from({ length: count }, (_, i) => {
    const t = count > 1 ? i / (count - 1) : 0;
    return first * (1 - t) * (1 - 2 * t) + 4 * middle * t * (1 - t) + last * t * (2 * t - 1);
  });

/**
 * A series read off a drawn line: at every height the widest place of it.
 * @param line the half profile as a polyline, x the radius and y the height; @returns the heights it does not reach, or the radii
 */
export function seriesAlong(
  line: readonly { readonly x: number; readonly y: number }[],
  heights: readonly number[],
): Result<number[], string> {
  const out: number[] = [];
  for (const h of heights) {
    let widest = Number.NEGATIVE_INFINITY;
    for (let i = 0; i + 1 < line.length; i++) {
      const [a, b] = [line[i]!, line[i + 1]!];
      const [low, high] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
      // A hair beyond an end is still that end: heights are typed, ends are reckoned.
      if (h < low - 1e-6 || h > high + 1e-6) continue;
      const t = high > low ? Math.min(1, Math.max(0, (h - a.y) / (b.y - a.y))) : 0;
      widest = Math.max(widest, high > low ? a.x + t * (b.x - a.x) : Math.max(a.x, b.x));
    }
    if (!(widest > 0)) return fail(`the line does not reach the height of ${Number(h.toFixed(3))} mm`);
    out.push(widest);
  }
  return ok(out);
}

/**
 * The table that a cage of rings has: an open tube of quads about the upright axis, each ring level and as wide all round, or by turns wider and
 * narrower by the depth of ridges.
 * @returns the table with where the cage's vertices stand, and how far the cage is off it, mm; or why it has none
 */
export function ringsOf(cage: Cage): Result<{ form: RingForm; off: number }, string> {
  const t = topologyOf(cage);
  if (!t.ok) return fail(t.error.what);
  const borders = borderLoops(t.value);
  if (borders.length !== 2) return fail('a table of rings goes with a tube that is open at both ends');
  if (cage.faces.some((f) => f.length !== 4)) return fail('not all its faces have four sides');
  const height = (row: readonly number[]): number => row.reduce((s, v) => s + cage.vertices[v]![2], 0) / row.length;
  const [low, high] = height(borders[0]!) < height(borders[1]!) ? borders : [borders[1]!, borders[0]!];
  if (low!.length !== high!.length) return fail('its ends have not as many vertices');
  const sides = low!.length;
  // From ring to ring over the quads, vertex by vertex; the lowest runs as its faces do, counter-clockwise from above.
  const rings: number[][] = [[...low!]];
  for (let ring = rings[0]!; rings.length <= MOST_RINGS; rings.push(ring)) {
    const over = ring.map((v, i) => {
      const f = t.value.faceAlong(v, ring[(i + 1) % sides]!);
      return f < 0 ? -1 : besideIn(cage.faces[f]!, v).before;
    });
    if (over.every((v) => v < 0)) break;
    if (over.includes(-1)) return fail('its rings do not run round as a whole');
    ring = over;
  }
  if (rings.length * sides !== cage.vertices.length) return fail('it has more vertices than its rings');
  const weights = new Map(cage.creases.map(([a, b, w]) => [edgeKey(a, b), w]));
  // The column that stands farthest out leads, so that ridges lie between.
  const radiusOf = (v: number): number => Math.hypot(cage.vertices[v]![0], cage.vertices[v]![1]);
  const mean = (ring: readonly number[], from: number): number => {
    const own = ring.filter((_, i) => i % 2 === from);
    return own.reduce((s, v) => s + radiusOf(v), 0) / own.length;
  };
  const even = sides % 2 === 0;
  const turned = even && mean(rings[0]!, 1) > mean(rings[0]!, 0) + 1e-9 ? 1 : 0;
  const angle = (v: number): number => Math.atan2(cage.vertices[v]![1], cage.vertices[v]![0]);
  // Of the columns that may lead, the one nearest to the table's own first, which stands along x.
  let start = turned;
  for (let i = turned; i < sides; i += even ? 2 : 1) if (Math.abs(angle(rings[0]![i]!)) < Math.abs(angle(rings[0]![start]!))) start = i;
  const columns = rings.map((r) => [...r.slice(start), ...r.slice(0, start)]);
  const ridge = even ? columns.reduce((s, r) => s + mean(r, 0) - mean(r, 1), 0) / columns.length : 0;
  const short = (a: number): number => Math.atan2(Math.sin(a), Math.cos(a));
  const rows = columns.map((ring, j): RingRow => {
    const before = columns[j - 1];
    const crease = ring.map((v, i) => weights.get(edgeKey(v, ring[(i + 1) % sides]!)) ?? 0);
    const twist = before ? ring.reduce((s, v, i) => s + short(angle(v) - angle(before[i]!)), 0) / sides : 0;
    return {
      height: height(ring),
      radius: even ? mean(ring, 0) + (mean(ring, 1) + ridge - mean(ring, 0)) / 2 : ring.reduce((s, v) => s + radiusOf(v), 0) / sides,
      twist,
      crease: Math.max(...crease),
    };
  });
  const form: RingForm = { sides, ridge: Math.abs(ridge) < 1e-9 ? 0 : ridge, rows, bottom: 'flat', top: 'flat' };
  const problem = ringProblem(form);
  if (problem) return fail(problem);
  const wanted = tablePlaces(form);
  let off = 0;
  for (const [j, ring] of columns.entries())
    for (const [i, v] of ring.entries()) off = Math.max(off, distance(wanted[j * sides + i]!, cage.vertices[v]!));
  return ok({ form, off });
}

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
