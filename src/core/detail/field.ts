/** A field of small pieces over a face: where each lies in true scale, which lie over a border, which over each other. Millimetres; parameters of the surface. */
import type { Point2 } from '../curves/planar';
import { cross, distance, type Vec3 } from '../geometry/vectors';
import { fail, ok, type Result } from '../result';
import type { Uv } from './dimple';
import { type BentSurface, type Box2, type LaidPiece, layPiece } from './lay';
import { type Rows, type RowsAsked, type Ruler, rowsOver, ruler, type Sheet } from './rows';

export interface FieldGround {
  readonly sheet: Sheet;
  readonly bent: BentSurface;
  /** Its borders by parameters in short straight pieces, without the line along which it closes. */
  readonly outline: readonly (readonly [Uv, Uv])[];
}

export interface FieldAsked extends Omit<RowsAsked, 'size' | 'across' | 'begun'> {
  /** Least distance of rows, mm. */
  readonly across: number;
  /** Rows run along the face's second way. */
  readonly turned: boolean;
  /** The room a piece takes about its origin, and what it stands on. */
  readonly box: Box2;
  readonly foot: readonly Point2[];
  /** Heights grow less towards the borders beside the rows, or at the rows' ends too: to a share there, from so far in, mm. */
  readonly thin: { readonly towards: 'sides' | 'all'; readonly over: number; readonly least: number } | undefined;
  /** Which way is up where a piece lies, so that none stands on its head. */
  readonly up: (p: Vec3) => number;
}

interface FieldPiece {
  readonly piece: LaidPiece;
  readonly centre: Vec3;
  /** Out of the face there, unit. */
  readonly normal: Vec3;
  /** Added to the first parameter, so that it lies where the face does. */
  readonly shift: number;
  /** What it stands on, by parameters where the face lies. */
  readonly foot: readonly Uv[];
}

export interface Field {
  readonly pieces: readonly FieldPiece[];
  readonly rows: Rows;
  /** Left out because they would lie over a border. */
  readonly dropped: number;
  /** Two that lie over each other, if any. */
  readonly over: Vec3 | undefined;
  /** The least distance between the borders of two, mm; beyond all bounds where there is but one. */
  readonly gap: number;
  readonly stretch: readonly [number, number];
  readonly share: readonly [number, number];
}

/** Of a height that is missing at the border, so much is left this far in, in shares of how far it is made up over: e to the minus six. */
const STEEP = 6;

/** None in the middle of where a face closes, so that as few as can be lie over that. */
const BEGUN = [0.75, 0.25] as const;

export function fieldOver({ sheet, bent, outline }: FieldGround, asked: FieldAsked): Result<Field, { readonly at: Vec3 | undefined }> {
  const { box, turned } = asked;
  const width = (r: readonly [number, number]): number => r[1] - r[0];
  // Borders are held by what each takes, not by its middle.
  const own: Sheet = { ...sheet, border: [] };
  const along = turned ? { ...own, at: (a: number, b: number) => sheet.at(b, a), u: sheet.v, v: sheet.u, closed: false } : own;
  const rows = rowsOver(along, { ...asked, size: width(box.x), across: { size: width(box.y), pitch: asked.across }, begun: BEGUN });
  const period = sheet.closed ? width(sheet.u) : 0;
  const shareOf = thinned(along, asked.thin);
  const sense = upwards(bent, sheet, turned, asked.up);
  const pieces: FieldPiece[] = [];
  let dropped = rows.dropped;
  let [least, most, low, high] = [Number.POSITIVE_INFINITY, 0, Number.POSITIVE_INFINITY, 0];
  for (const { uv: place } of rows.places) {
    const uv: Uv = turned ? [place[1], place[0]] : place;
    const o = bent(...uv);
    const way = o && (turned ? o.dv : o.du);
    const share = shareOf(place);
    const piece =
      way && layPiece(bent, uv, way.map((x) => sense * x) as unknown as Vec3, box, share && ((p) => share(turned ? [p[1], p[0]] : p)));
    if (!piece) return fail({ at: o?.p });
    const foot = asked.foot.map(piece.uv);
    const shift = shiftFor(foot, sheet.u[0], period);
    const moved = ([u, v]: Uv): Uv => [u + shift, v];
    const [room, middles] = [roomFor(box), besides(box, asked.margin)].map((places) => places.map(piece.uv).map(moved)) as [Uv[], Uv[]];
    if (!clear(room, middles, outline, sheet.u[0], period)) {
      dropped++;
      continue;
    }
    [least, most] = [Math.min(least, piece.stretch[0]), Math.max(most, piece.stretch[1])];
    [low, high] = [Math.min(low, piece.share[0]), Math.max(high, piece.share[1])];
    pieces.push({ piece, centre: o.p, normal: o.n, shift, foot: foot.map(moved) });
  }
  const { over, gap } = apart(pieces, asked.foot, box, period);
  return ok({ pieces, rows, dropped, over, gap, stretch: [least, most], share: [low, high] });
}

/** Whether pieces are laid along the face's way or against it, so that they look upwards. */
function upwards(bent: BentSurface, { u, v }: Sheet, turned: boolean, up: (p: Vec3) => number): 1 | -1 {
  const o = bent((u[0] + u[1]) / 2, (v[0] + v[1]) / 2);
  if (!o) return 1;
  const rise = up(cross(o.n, turned ? o.dv : o.du));
  return rise < 0 ? -1 : 1;
}

/** The share of heights at places, by the lengths to the borders along the face's lines through a piece's origin. */
function thinned(along: Sheet, thin: FieldAsked['thin']): (place: Uv) => ((uv: Uv) => number) | undefined {
  if (!thin) return () => undefined;
  const lines = new Map<number, Ruler>();
  const kept = (key: number, made: () => Ruler): Ruler => {
    const known = lines.get(key) ?? made();
    lines.set(key, known);
    return known;
  };
  const beside = (l: number): number => 1 - (1 - thin.least) * Math.exp(-STEEP * (Math.max(0, l) / thin.over) ** 2);
  const between = (l: number, length: number): number => beside(l) * beside(length - l);
  return ([u, v]) => {
    const across = ruler((t) => along.at(u, t), ...along.v);
    const inRow = thin.towards === 'all' && !along.closed ? kept(v, () => ruler((t) => along.at(t, v), ...along.u)) : undefined;
    return ([a, b]) => between(across.to(b), across.length) * (inRow ? between(inRow.to(a), inRow.length) : 1);
  };
}

/** What brings places to where the face lies: over the line along which it closes they reach from its lower side. */
function shiftFor(foot: readonly Uv[], from: number, period: number): number {
  if (period === 0) return 0;
  const us = foot.map((p) => p[0]);
  const shift = -period * Math.floor((Math.min(...us) - from) / period);
  return Math.max(...us) + shift > from + period ? shift - period : shift;
}

/** Places along each side of the room a piece wants. */
const SIDE = 12;
/** The border of the room a piece takes, round about. */
function roomFor({ x, y }: Box2): Point2[] {
  const corners: readonly Point2[] = [
    { x: x[0], y: y[0] },
    { x: x[1], y: y[0] },
    { x: x[1], y: y[1] },
    { x: x[0], y: y[1] },
  ];
  return corners.flatMap((p, i) => {
    const q = corners[(i + 1) % 4]!;
    return Array.from({ length: SIDE }, (_, k) => ({ x: p.x + ((q.x - p.x) * k) / SIDE, y: p.y + ((q.y - p.y) * k) / SIDE }));
  });
}

/** Along its middle lines, as far beside it as is to be left free. */
const besides = ({ x, y }: Box2, margin: number): Point2[] => [
  { x: x[0] - margin, y: 0 },
  { x: x[1] + margin, y: 0 },
  { x: 0, y: y[0] - margin },
  { x: 0, y: y[1] + margin },
];

/** Whether a place lies within borders: going on from it along the second way, they are crossed an odd number of times. */
function within([u, v]: Uv, borders: readonly (readonly [Uv, Uv])[]): boolean {
  let odd = false;
  for (const [p, q] of borders) {
    if (p[0] > u === q[0] > u) continue;
    if (p[1] + ((u - p[0]) / (q[0] - p[0])) * (q[1] - p[1]) > v) odd = !odd;
  }
  return odd;
}

const sides = (outline: readonly Uv[]): (readonly [Uv, Uv])[] => outline.map((p, i) => [p, outline[(i + 1) % outline.length]!]);

/** Rows that keep a margin lie on it: so much of it is not asked for again. */
const SLACK = 1e-5;

/** Whether a room and places beside it lie within a face's borders, and none of these within the room. */
function clear(room: readonly Uv[], beside: readonly Uv[], borders: readonly (readonly [Uv, Uv])[], from: number, period: number): boolean {
  const middle: Uv = [room.reduce((s, p) => s + p[0], 0) / room.length, room.reduce((s, p) => s + p[1], 0) / room.length];
  const inwards = ([u, v]: Uv): Uv => [u + SLACK * (middle[0] - u), v + SLACK * (middle[1] - v)];
  const inner = room.map(inwards);
  const onFace = ([u, v]: Uv): Uv => {
    if (period === 0) return [u, v];
    const folded = u - period * Math.floor((u - from) / period);
    // Rounding may leave it a whole way round.
    return [folded < from + period ? folded : from, v];
  };
  if (![...inner, ...beside.map(inwards)].every((p) => within(onFace(p), borders))) return false;
  const own = sides(inner);
  const shifts = period === 0 ? [0] : [-period, 0];
  return borders.every(([p]) => shifts.every((s) => !within([p[0] + s, p[1]], own)));
}

/** Whether two pieces of lines cross. */
function cross2([a, b]: readonly [Uv, Uv], [c, d]: readonly [Uv, Uv]): boolean {
  const side = (p: Uv, q: Uv, r: Uv): number => (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

/** Whether all of one lies farther one way than the other. */
const beyond = (a: readonly Uv[], b: readonly Uv[], way: 0 | 1): boolean =>
  Math.min(...a.map((p) => p[way])) > Math.max(...b.map((p) => p[way]));

/** Two that lie over each other, and the least distance of two that do not. */
function apart(
  pieces: readonly FieldPiece[],
  foot: readonly Point2[],
  box: Box2,
  period: number,
): { readonly over: Vec3 | undefined; readonly gap: number } {
  const size = Math.hypot(box.x[1] - box.x[0], box.y[1] - box.y[0]);
  const borders = pieces.map(({ piece }) => foot.map((p) => piece.at(p, 0)));
  let gap = Number.POSITIVE_INFINITY;
  for (let i = 0; i < pieces.length; i++)
    for (let j = i + 1; j < pieces.length; j++) {
      const [a, b] = [pieces[i]!, pieces[j]!];
      if (distance(a.centre, b.centre) > 2 * size) continue;
      for (const shift of period === 0 ? [0] : [-period, 0, period]) {
        const other = b.foot.map(([u, v]): Uv => [u + shift, v]);
        if (([0, 1] as const).some((k) => beyond(a.foot, other, k) || beyond(other, a.foot, k))) continue;
        const [mine, theirs] = [sides(a.foot), sides(other)];
        if (within(other[0]!, mine) || within(a.foot[0]!, theirs) || mine.some((s) => theirs.some((t) => cross2(s, t))))
          return { over: a.centre.map((x, k) => (x + b.centre[k]!) / 2) as unknown as Vec3, gap: 0 };
      }
      for (const p of borders[i]!) for (const q of borders[j]!) gap = Math.min(gap, distance(p, q));
    }
  return { over: undefined, gap };
}
