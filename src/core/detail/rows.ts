/** Places in rows over a face, spaced along the surface. Millimetres; parameters of the surface. */
import { distance, type Vec3 } from '../geometry/vectors';
import type { Uv } from './dimple';

/** A face by its parameters: rows run along the first, one beside the other along the second. */
export interface Sheet {
  readonly at: (u: number, v: number) => Vec3 | undefined;
  readonly u: readonly [number, number];
  readonly v: readonly [number, number];
  /** Its first way runs into itself. */
  readonly closed: boolean;
  /** Places along its borders, where it is not closed. */
  readonly border: readonly Vec3[];
}

export interface RowsAsked {
  /** In line, the next row half a place on, or every row with as many as it takes. */
  readonly pattern: 'rows' | 'staggered' | 'rings';
  readonly by: 'pitch' | 'count';
  /** Least distance of middles, mm. */
  readonly pitch: number;
  readonly rows: number;
  readonly perRow: number;
  /** Left free along borders, mm. */
  readonly margin: number;
  /** What each takes, mm across. */
  readonly size: number;
  /** What each takes from row to row, and the rows' least distance, where these are others than along the row, mm. */
  readonly across?: { readonly size: number; readonly pitch: number };
  /** How far from where a sheet closes rows begin, and those that are shifted, as shares of the distance in the row. */
  readonly begun?: readonly [number, number];
}

export interface Rows {
  readonly places: readonly { readonly uv: Uv; readonly p: Vec3; readonly row: number }[];
  readonly rows: number;
  /** Distances along the surface: in rows from the least to the most, and from row to row, mm. */
  readonly inRow: readonly [number, number];
  readonly between: number;
  /** The least straight distance of two, mm. */
  readonly nearest: number;
  /** Left out because they would lie over a border. */
  readonly dropped: number;
}

const STEPS = 240;

export interface Ruler {
  readonly length: number;
  /** The parameter at a length from the start. */
  readonly at: (length: number) => number;
  /** The length to a parameter. */
  readonly to: (parameter: number) => number;
}

/** Lengths along a line, for finding the parameter at a length. */
export function ruler(at: (t: number) => Vec3 | undefined, from: number, to: number): Ruler {
  const sums = [0];
  let before = at(from);
  for (let i = 1; i <= STEPS; i++) {
    const p = at(from + ((to - from) * i) / STEPS);
    sums.push(sums[i - 1]! + (p && before ? distance(p, before) : 0));
    before = p ?? before;
  }
  // Chords fall short by the square of a step: what is left after halving tells how much.
  let coarse = 0;
  before = at(from);
  for (let i = 2; i <= STEPS; i += 2) {
    const p = at(from + ((to - from) * i) / STEPS);
    coarse += p && before ? distance(p, before) : 0;
    before = p ?? before;
  }
  const scale = coarse > 0 ? (sums[STEPS]! + (sums[STEPS]! - coarse) / 3) / sums[STEPS]! : 1;
  const length = sums[STEPS]! * scale;
  return {
    length,
    at: (l) => {
      const want = l / scale;
      let i = 1;
      while (i < STEPS && sums[i]! < want) i++;
      const room = sums[i]! - sums[i - 1]!;
      const x = room > 0 ? (want - sums[i - 1]!) / room : 0;
      return from + ((to - from) * (i - 1 + x)) / STEPS;
    },
    to: (t) => {
      const x = (STEPS * (t - from)) / (to - from);
      const i = Math.min(STEPS - 1, Math.max(0, Math.floor(x)));
      return scale * (sums[i]! + (x - i) * (sums[i + 1]! - sums[i]!));
    },
  };
}

/** How many of a pitch go into a room, both ends counted. */
const fitting = (room: number, pitch: number): number => (room < -1e-9 ? 0 : Math.floor(room / pitch + 1e-9) + 1);

/** Places evenly over a room, one in its middle where there is only one. */
const spread = (count: number, room: number): number[] =>
  Array.from({ length: count }, (_, i) => (count === 1 ? room / 2 : (room * i) / (count - 1)));

/** Whether a sheet is longer along its second way than along its first, in its middle. */
export function longerAcross({ at, u, v }: Sheet): boolean {
  const [a, b] = [(u[0] + u[1]) / 2, (v[0] + v[1]) / 2];
  return ruler((t) => at(a, t), ...v).length > ruler((t) => at(t, b), ...u).length;
}

export function rowsOver(sheet: Sheet, asked: RowsAsked): Rows {
  const { u, v, closed } = sheet;
  const inset = asked.margin + asked.size / 2;
  const beside = asked.margin + (asked.across?.size ?? asked.size) / 2;
  const across = ruler((t) => sheet.at((u[0] + u[1]) / 2, t), v[0], v[1]);
  const room = across.length - 2 * beside;
  const apart = asked.across?.pitch ?? (asked.pattern === 'staggered' ? (asked.pitch * Math.sqrt(3)) / 2 : asked.pitch);
  const rows = asked.by === 'count' ? (room < -1e-9 ? 0 : asked.rows) : fitting(room, apart);
  const heights = spread(rows, Math.max(0, room)).map((l) => across.at(beside + l));
  const rulers = heights.map((h) => ruler((t) => sheet.at(t, h), u[0], u[1]));
  const rooms = rulers.map((r) => (closed ? r.length : r.length - 2 * inset));
  const takes = rooms.map((r) => (closed ? Math.floor(r / asked.pitch + 1e-9) : fitting(r, asked.pitch)));
  const least = Math.min(...takes);
  const counts = rows === 0 ? [] : takes.map((most) => (asked.by === 'count' ? asked.perRow : asked.pattern === 'rings' ? most : least));
  const places: { uv: Uv; p: Vec3; row: number }[] = [];
  let dropped = 0;
  let [few, many] = [Number.POSITIVE_INFINITY, 0];
  heights.forEach((h, j) => {
    const n = counts[j]!;
    if (n < 1) return;
    const shifted = asked.pattern === 'staggered' && j % 2 === 1;
    const step = closed ? rooms[j]! / n : n > 1 ? Math.max(0, rooms[j]!) / (n - 1) : 0;
    // A row that is shifted has one less where it has ends.
    const [plain, half] = asked.begun ?? [0.5, 0];
    const offsets = closed
      ? Array.from({ length: n }, (_, i) => (i + (shifted ? half : plain)) * step)
      : spread(n, Math.max(0, rooms[j]!)).flatMap((l, i) => (shifted ? (i < n - 1 ? [inset + l + step / 2] : []) : [inset + l]));
    if (n > 1) [few, many] = [Math.min(few, step), Math.max(many, step)];
    for (const l of offsets) {
      const uv: Uv = [rulers[j]!.at(l), h];
      const p = sheet.at(...uv);
      if (!p) continue;
      // Rows keep their margins already; other borders are held here.
      if (sheet.border.some((b) => distance(b, p) < inset - 1e-3 * asked.size - 1e-6)) {
        dropped++;
        continue;
      }
      places.push({ uv, p, row: j });
    }
  });
  let nearest = Number.POSITIVE_INFINITY;
  for (let i = 0; i < places.length; i++)
    for (let j = i + 1; j < places.length; j++) nearest = Math.min(nearest, distance(places[i]!.p, places[j]!.p));
  return {
    places,
    rows,
    inRow: [Number.isFinite(few) ? few : 0, many],
    between: rows > 1 ? room / (rows - 1) : 0,
    nearest,
    dropped,
  };
}
