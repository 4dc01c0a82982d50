/** The sheet: views where they belong to each other, sections hatched, dimensions, hole table, notes and title block, as marks on paper. */
import { type Frame, normalOf, toPlane } from '../curves/frame';
import { arcAbout, distance2, type PlanarCurve, type Point2, pointAt } from '../curves/planar';
import { dot, type Vec3 } from '../geometry/vectors';
import type { LengthUnit } from '../units/units';
import type { Box } from './box';
import { dimensionWords, type Measured, type PlacedDimension, type WrittenDimension, writeDimensions } from './dimension';
import { type EdgePlace, type Shop, type ShopDimension, type ShopView, sectionLetters } from './document';
import { arrow, lineMark, type Mark, widthOf } from './marks';
import { factorOf, MARGINS, PAPERS, SCALES, type Scale } from './paper';
import type { ViewEdge, ViewLine } from './sight';
import { cellOf, VIEW_FRAMES } from './views';

/** What a view shows, in its own coordinates, mm. */
export interface DrawnView {
  readonly lines: readonly ViewLine[];
  readonly edges: readonly ViewEdge[];
  /** Where the plane cuts each body: its outline, and the same as closed rows of places. */
  readonly cuts: readonly {
    readonly body: string;
    readonly curves: readonly PlanarCurve[];
    readonly loops: readonly (readonly Point2[])[];
  }[];
  readonly box: Box;
  /** Where it is cut along the line of sight, mm. */
  readonly cutAt?: number;
}

/** A driving dimension of a profile, or a value of a step. */
export type RecipeValue = { readonly profile: string; readonly constraint: string } | { readonly step: string; readonly value: string };
/** What it is known by among the others. */
export const recipeKey = (of: RecipeValue): string => ('profile' in of ? `${of.profile}/${of.constraint}` : `${of.step}/${of.value}`);

/** A dimension of the recipe as it stands in space. */
export interface RecipeDimension {
  readonly words: string;
  readonly of: RecipeValue;
  /** What the recipe says, mm. */
  readonly value: number;
  readonly sign: '' | '⌀' | 'R';
  readonly a: Vec3;
  readonly b: Vec3;
  /** It is measured along this; from one to the other where left out. */
  readonly way?: Vec3;
  /** The plane it is drawn on, by its normal. */
  readonly normal?: Vec3;
}

export interface Hole {
  readonly at: Point2;
  readonly label: string;
  readonly words: readonly string[];
}

export interface SheetWords {
  readonly name: string;
  readonly client: string;
  readonly material: string;
  readonly notes: readonly string[];
  readonly units: LengthUnit;
  /** What dimensions are called, by their ids: written before their figures. */
  readonly called?: ReadonlyMap<string, string>;
}

export interface PlacedView {
  readonly view: ShopView;
  readonly drawn: DrawnView;
  /** Where the view's origin lies on the paper, mm; its places are `scale` as large there. */
  readonly origin: Point2;
  readonly scale: number;
  /** Of its outline on the paper. */
  readonly box: Box;
  /** What stands around its outline. */
  readonly room: Box;
  readonly dimensions: readonly WrittenDimension[];
  readonly letter: string | undefined;
}

export interface Sheet {
  readonly width: number;
  readonly height: number;
  readonly marks: readonly Mark[];
  readonly views: readonly PlacedView[];
  readonly scale: Scale;
  /** Not even the smallest scale has room for it, or the one that was chosen has not. */
  readonly crowded: boolean;
  /** Dimensions whose edge, step or relation is gone, with why. */
  readonly lost: readonly { readonly id: string; readonly why: string }[];
}

/** Height of the title block, mm, and its width at most (ISO 7200). */
const [TITLE_HEIGHT, TITLE_WIDTH] = [30, 180] as const;
const GAP = 8;
const NOTE_SIZE = 2.5;

/** What a dimension measures in a view, or why it does not any more. */
function measuredIn(
  d: ShopDimension,
  drawn: DrawnView,
  frame: Frame,
  recipe: ReadonlyMap<string, RecipeDimension>,
): { readonly measured: Measured; readonly value?: number } | string {
  const gone = 'the edge it was put at is not there any more';
  const edgeOf = (of: { body: string; edge: string }): ViewEdge | undefined =>
    drawn.edges.find((e) => e.body === of.body && e.name === of.edge);
  switch (d.kind) {
    case 'drawn':
    case 'value': {
      const found = recipe.get(recipeKey(d));
      if (!found) return d.kind === 'drawn' ? 'the dimension was taken off its profile' : 'the step has no such value any more';
      const measured = recipeIn(found, frame);
      return measured ? { measured, value: found.value } : 'it can’t be seen at full length in this view';
    }
    case 'overall': {
      const { x0, y0, x1, y1 } = drawn.box;
      return d.way === 'across'
        ? { measured: { kind: 'linear', a: { x: x0, y: y0 }, b: { x: x1, y: y0 }, way: { x: 1, y: 0 }, sign: '' } }
        : { measured: { kind: 'linear', a: { x: x1, y: y0 }, b: { x: x1, y: y1 }, way: { x: 0, y: 1 }, sign: '' } };
    }
    case 'between': {
      const [a, b] = [placeOn(edgeOf(d.a), d.a.at), placeOn(edgeOf(d.b), d.b.at)];
      if (!a || !b) return gone;
      const l = distance2(a, b);
      const way =
        d.way === 'across'
          ? { x: 1, y: 0 }
          : d.way === 'up'
            ? { x: 0, y: 1 }
            : l > 1e-9
              ? { x: (b.x - a.x) / l, y: (b.y - a.y) / l }
              : null;
      return way && Math.abs((b.x - a.x) * way.x + (b.y - a.y) * way.y) > 1e-6
        ? { measured: { kind: 'linear', a, b, way, sign: '' } }
        : 'its two places fall together in this view';
    }
    case 'round': {
      const e = edgeOf(d.of);
      if (!e?.circle) return gone;
      return roundOf(e, d.as) ?? 'it is seen aslant';
    }
    case 'angle': {
      const [a, b] = [edgeOf(d.a), edgeOf(d.b)];
      if (a?.curve.kind !== 'line' || b?.curve.kind !== 'line') return gone;
      return angleBetween(a.curve, b.curve) ?? 'the two edges run the same way';
    }
  }
}

/** A circle by its diameter or radius, as it is seen. */
function roundOf(
  { circle, curve }: ViewEdge,
  as: 'diameter' | 'radius',
): { readonly measured: Measured; readonly value: number } | undefined {
  const { centre, radius, seen, whole } = circle!;
  if (seen === 'round')
    return { measured: { kind: 'round', centre, radius, sign: as === 'radius' ? 'R' : '⌀' }, value: as === 'radius' ? radius : 2 * radius };
  if (seen !== 'edge' || !whole) return undefined;
  const l = distance2(curve.a, curve.b);
  const way = { x: (curve.b.x - curve.a.x) / l, y: (curve.b.y - curve.a.y) / l };
  return { measured: { kind: 'linear', a: curve.a, b: curve.b, way, sign: '⌀' }, value: 2 * radius };
}

type Line = Extract<PlanarCurve, { kind: 'line' }>;
/** The angle between two straight lines about where they, or what they are part of, cross. */
function angleBetween(p: Line, q: Line): { readonly measured: Measured } | undefined {
  const [u, v] = [
    { x: p.b.x - p.a.x, y: p.b.y - p.a.y },
    { x: q.b.x - q.a.x, y: q.b.y - q.a.y },
  ];
  const den = u.x * v.y - u.y * v.x;
  if (Math.abs(den) < 1e-9 * Math.hypot(u.x, u.y) * Math.hypot(v.x, v.y)) return undefined;
  const s = ((q.a.x - p.a.x) * v.y - (q.a.y - p.a.y) * v.x) / den;
  const apex = { x: p.a.x + s * u.x, y: p.a.y + s * u.y };
  // Each runs from the crossing towards its own middle.
  const toward = (l: Line): number => {
    const far = distance2(l.a, apex) > distance2(l.b, apex) ? l.a : l.b;
    return Math.atan2(far.y - apex.y, far.x - apex.x);
  };
  const [from, to] = [toward(p), toward(q)];
  const turn = Math.atan2(Math.sin(to - from), Math.cos(to - from));
  return { measured: { kind: 'angle', apex, from, turn } };
}

/** A dimension of the recipe in a view; undefined where it is not seen at full length. */
export function recipeIn(d: RecipeDimension, frame: Frame): Measured | undefined {
  const view = normalOf(frame);
  if (d.normal && Math.abs(dot(d.normal, view)) < 1 - 1e-9) return undefined;
  const [a, b] = [toPlane(frame, d.a), toPlane(frame, d.b)];
  if (d.sign === 'R') return { kind: 'round', centre: a, radius: d.value, sign: 'R' };
  if (d.sign === '⌀' && d.normal && !d.way) return { kind: 'round', centre: a, radius: d.value / 2, sign: '⌀' };
  const l = distance2(a, b);
  const along = d.way && toPlane({ ...frame, origin: [0, 0, 0] }, d.way);
  const way = along ?? { x: (b.x - a.x) / l, y: (b.y - a.y) / l };
  const seen = Math.abs((b.x - a.x) * way.x + (b.y - a.y) * way.y);
  if (!(seen > 1e-9) || Math.abs(seen - d.value) > 1e-6 * Math.max(1, d.value)) return undefined;
  return { kind: 'linear', a, b, way, sign: d.sign };
}

/** A place of an edge in a view. */
export function placeOn(e: ViewEdge | undefined, at: EdgePlace['at']): Point2 | undefined {
  if (!e) return undefined;
  if (at === 'centre') return e.circle?.centre;
  return e.ends[at === 'low' ? 0 : at === 'middle' ? 1 : 2];
}

interface Ready {
  readonly view: ShopView;
  readonly drawn: DrawnView;
  readonly dimensions: readonly PlacedDimension[];
}

/**
 * Composes the sheet.
 * @param drawn by view; views that are not drawn yet are left out
 */
export function composeSheet(
  shop: Shop,
  drawn: ReadonlyMap<string, DrawnView>,
  recipe: ReadonlyMap<string, RecipeDimension>,
  holes: ReadonlyMap<string, readonly Hole[]>,
  words: SheetWords,
): Sheet {
  const [long, short] = PAPERS[shop.paper].size;
  const [width, height] = shop.upright ? [short, long] : [long, short];
  const lost: { id: string; why: string }[] = [];
  const ready = shop.views.flatMap((view): Ready[] => {
    const own = drawn.get(view.id);
    if (!own) return [];
    const frame = VIEW_FRAMES[view.side];
    const dimensions = shop.dimensions
      .filter((d) => d.view === view.id)
      .flatMap((d): PlacedDimension[] => {
        const found = measuredIn(d, own, frame, recipe);
        if (typeof found === 'string') {
          lost.push({ id: d.id, why: found });
          return [];
        }
        const limits = shop.limits ? (shop.tolerance ?? null) : null;
        const called = words.called?.get(d.id);
        const figure = dimensionWords(found.measured, words.units, limits, found.value);
        return [{ id: d.id, measured: found.measured, words: called ? `${called}  ${figure}` : figure, label: d.label }];
      });
    return [{ view, drawn: own, dimensions }];
  });
  for (const d of shop.dimensions)
    if (!shop.views.some((v) => v.id === d.view)) lost.push({ id: d.id, why: 'its view was taken off the sheet' });

  const frame: Box = { x0: MARGINS.left, y0: MARGINS.others, x1: width - MARGINS.others, y1: height - MARGINS.others };
  const rows = [...holes.values()].flat();
  const foot = titleBlock(shop, words, frame, rows);
  const area: Box = { ...frame, y0: frame.y0 + foot.height };
  const scales = shop.scale ? [shop.scale] : SCALES;
  let best: { scale: Scale; placed: PlacedView[]; fits: boolean } | undefined;
  const letters = sectionLetters(shop);
  for (const scale of scales) {
    const tried = arrange(ready, factorOf(scale), area, shop, letters, false);
    // Where it makes no row taller, the view from a corner stands at the end of the first one.
    const other = tried.fits ? tried : arrange(ready, factorOf(scale), area, shop, letters, true);
    best = { scale, ...(other.fits ? other : tried) };
    if (other.fits) break;
  }
  const { scale, placed, fits } = best ?? { scale: '1:1' as const, placed: [], fits: true };
  const marks: Mark[] = [...frameMarks(frame), ...foot.marks(scale)];
  for (const p of placed) marks.push(...viewMarks(p, placed, holes.get(p.view.id) ?? []));
  return { width, height, marks, views: placed, scale, crowded: !fits, lost };
}

/** Places views in columns and rows, so that those beside and over each other share their height and width. */
function arrange(
  ready: readonly Ready[],
  scale: number,
  area: Box,
  shop: Shop,
  letters: ReadonlyMap<string, string>,
  beside: boolean,
): { placed: PlacedView[]; fits: boolean } {
  const cells = new Map<string, Ready>();
  const at = new Map<Ready, readonly [number, number]>();
  for (const r of ready) {
    let [c, w] = beside && r.view.side === 'corner' ? [1, 0] : cellOf(r.view.side, shop.projection);
    // A cell has room for one: the next one stands to the right of all.
    while (cells.has(`${c} ${w}`)) c++;
    cells.set(`${c} ${w}`, r);
    at.set(r, [c, w]);
  }
  /** What surrounds a view, with its origin at nothing. */
  const rooms = new Map(
    ready.map((r) => {
      const { box } = r.drawn;
      const own = { x0: box.x0 * scale, y0: box.y0 * scale, x1: box.x1 * scale, y1: box.y1 * scale };
      const put = (p: Point2): Point2 => ({ x: p.x * scale, y: p.y * scale });
      // As if none had been moved by hand: moving one leaves the views where they are.
      const inRows = r.dimensions.map((d) => ({ ...d, label: undefined }));
      const written = writeDimensions(inRows, put, scale, own);
      const corners = written.flatMap((d) => d.marks.flatMap(extentOf));
      const room = corners.reduce(
        (b, p) => ({ x0: Math.min(b.x0, p.x), y0: Math.min(b.y0, p.y), x1: Math.max(b.x1, p.x), y1: Math.max(b.y1, p.y) }),
        { x0: own.x0 - 4, y0: own.y0 - 4, x1: own.x1 + 4, y1: own.y1 + 4 + (letters.has(r.view.id) ? 7 : 0) },
      );
      return [r, { own, room }] as const;
    }),
  );
  const columns = [...new Set([...at.values()].map(([c]) => c))].sort((a, b) => a - b);
  const lines = [...new Set([...at.values()].map(([, w]) => w))].sort((a, b) => a - b);
  /** Where the origins of a column or a row lie, from its own first one. */
  const shared = (
    own: readonly Ready[],
    axis: 'x' | 'y',
  ): { readonly from: number; readonly to: number; readonly origin: (r: Ready) => number } => {
    const [lo, hi] = axis === 'x' ? (['x0', 'x1'] as const) : (['y0', 'y1'] as const);
    const first = own[0]!;
    const middle = (r: Ready): number => (rooms.get(r)!.own[lo] + rooms.get(r)!.own[hi]) / 2;
    const same = (r: Ready): boolean => dot(VIEW_FRAMES[r.view.side][axis], VIEW_FRAMES[first.view.side][axis]) > 1 - 1e-9;
    const origin = (r: Ready): number => (same(r) ? 0 : middle(first) - middle(r));
    return {
      from: Math.min(...own.map((r) => origin(r) + rooms.get(r)!.room[lo])),
      to: Math.max(...own.map((r) => origin(r) + rooms.get(r)!.room[hi])),
      origin,
    };
  };
  const across = columns.map((c) =>
    shared(
      ready.filter((r) => at.get(r)![0] === c),
      'x',
    ),
  );
  const up = lines.map((w) =>
    shared(
      ready.filter((r) => at.get(r)![1] === w),
      'y',
    ),
  );
  const sum = (list: readonly { from: number; to: number }[]): number => list.reduce((n, l) => n + l.to - l.from, 0);
  const [freeX, freeY] = [area.x1 - area.x0 - sum(across), area.y1 - area.y0 - sum(up)];
  const fits = freeX >= GAP * Math.max(0, columns.length - 1) && freeY >= GAP * Math.max(0, lines.length - 1);
  const [gapX, gapY] = [freeX / (columns.length + 1), freeY / (lines.length + 1)];
  const placed = ready.map((r): PlacedView => {
    const [c, w] = [columns.indexOf(at.get(r)![0]), lines.indexOf(at.get(r)![1])];
    const start = (list: typeof across, k: number, gap: number, from: number): number =>
      from + gap * (k + 1) + sum(list.slice(0, k)) - list[k]!.from;
    const origin = {
      x: start(across, c, gapX, area.x0) + across[c]!.origin(r) + (r.view.moved?.x ?? 0),
      y: start(up, w, gapY, area.y0) + up[w]!.origin(r) + (r.view.moved?.y ?? 0),
    };
    const { own, room } = rooms.get(r)!;
    const moved = (b: Box): Box => ({ x0: b.x0 + origin.x, y0: b.y0 + origin.y, x1: b.x1 + origin.x, y1: b.y1 + origin.y });
    const put = (p: Point2): Point2 => ({ x: origin.x + p.x * scale, y: origin.y + p.y * scale });
    return {
      view: r.view,
      drawn: r.drawn,
      origin,
      scale,
      box: moved(own),
      room: moved(room),
      dimensions: writeDimensions(r.dimensions, put, scale, moved(own)),
      letter: letters.get(r.view.id),
    };
  });
  return { placed, fits };
}

/** Places that a mark reaches to. */
function extentOf(m: Mark): Point2[] {
  if (m.kind === 'fill') return [...m.points];
  if (m.kind === 'curve') return [m.curve.a, pointAt(m.curve, 0.5), m.curve.b];
  const w = widthOf(m.text, m.size) / 2;
  const [c, s] = [Math.cos(m.turn ?? 0), Math.sin(m.turn ?? 0)];
  return [-w, w].flatMap((x) => [0, m.size].map((y) => ({ x: m.at.x + x * c - y * s, y: m.at.y + x * s + y * c })));
}

/** A curve of a view on the paper. */
export function ontoPaper(c: PlanarCurve, origin: Point2, k: number): PlanarCurve {
  const put = (p: Point2): Point2 => ({ x: origin.x + p.x * k, y: origin.y + p.y * k });
  const long = (p: Point2): Point2 => ({ x: p.x * k, y: p.y * k });
  const ends = { a: put(c.a), b: put(c.b) };
  switch (c.kind) {
    case 'line':
      return { ...c, ...ends };
    case 'arc':
      return { ...c, ...ends, mid: put(c.mid), centre: put(c.centre), radius: c.radius * k };
    case 'ellipse':
      return { ...c, ...ends, centre: put(c.centre), u: long(c.u), v: long(c.v) };
    case 'spline':
      return { ...c, ...ends, spline: { ...c.spline, poles: c.spline.poles.map((p) => [origin.x + p[0]! * k, origin.y + p[1]! * k]) } };
  }
}

/** Everything of one view. */
function viewMarks(p: PlacedView, all: readonly PlacedView[], holes: readonly Hole[]): Mark[] {
  const { view, drawn, origin, scale, box } = p;
  const put = (q: Point2): Point2 => ({ x: origin.x + q.x * scale, y: origin.y + q.y * scale });
  const marks: Mark[] = [];
  for (const [i, cut] of drawn.cuts.entries()) {
    const loops = cut.loops.map((l) => l.map(put));
    marks.push(...hatched(loops, i));
  }
  for (const l of drawn.lines) {
    if ((l.hidden && (!view.hidden || l.smooth)) || (l.smooth && !view.smooth)) continue;
    marks.push({ kind: 'curve', curve: ontoPaper(l.curve, origin, scale), pen: l.hidden ? 'hidden' : l.smooth ? 'smooth' : 'visible' });
  }
  if (view.side !== 'corner') marks.push(...centreLines(drawn.edges, put, scale));
  if (p.letter) {
    const at = { x: (box.x0 + box.x1) / 2, y: p.room.y1 - 5 };
    marks.push({ kind: 'text', text: `${p.letter}–${p.letter}`, at, size: 4, anchor: 'middle', bold: true });
  }
  // Where others cut what is seen here from the side.
  for (const other of all) if (other.letter && all.find((v) => cutSeen(other, v)) === p) marks.push(...planeMarks(other, p));
  for (const h of holes) {
    const at = put(h.at);
    marks.push({ kind: 'text', text: h.label, at: { x: at.x + 1.5, y: at.y + 1.5 }, size: 2.5, anchor: 'start' });
  }
  for (const d of p.dimensions) marks.push(...d.marks);
  return marks;
}

/** Whether the plane of a section is seen as a line in another view. */
const cutSeen = (section: PlacedView, v: PlacedView): boolean =>
  v.view.cut === undefined &&
  v.view.side !== 'corner' &&
  Math.abs(dot(normalOf(VIEW_FRAMES[section.view.side]), normalOf(VIEW_FRAMES[v.view.side]))) < 1e-9;

function planeMarks(section: PlacedView, v: PlacedView): Mark[] {
  const sight = normalOf(VIEW_FRAMES[section.view.side]);
  const frame = VIEW_FRAMES[v.view.side];
  const way = { x: dot(sight, frame.x), y: dot(sight, frame.y) };
  const cut = section.drawn.cutAt;
  if (cut === undefined) return [];
  const u = { x: -way.y, y: way.x };
  const corners = [
    { x: v.box.x0, y: v.box.y0 },
    { x: v.box.x1, y: v.box.y1 },
  ];
  const on = { x: v.origin.x + cut * v.scale * way.x, y: v.origin.y + cut * v.scale * way.y };
  const reach = corners.map((c) => (c.x - on.x) * u.x + (c.y - on.y) * u.y);
  const [lo, hi] = [Math.min(...reach) - 5, Math.max(...reach) + 5];
  const at = (s: number): Point2 => ({ x: on.x + s * u.x, y: on.y + s * u.y });
  const marks: Mark[] = [lineMark(at(lo), at(hi), 'plane')];
  for (const s of [lo, hi]) {
    const tip = at(s);
    // One looks against the normal: the arrows lead that way.
    const tail = { x: tip.x + 8 * way.x, y: tip.y + 8 * way.y };
    marks.push(lineMark(tail, tip, 'thin'), arrow(tip, { x: -way.x, y: -way.y }, 3.5));
    marks.push({
      kind: 'text',
      text: section.letter!,
      at: { x: tail.x + (s === lo ? -1 : 1) * 3 * u.x, y: tail.y + (s === lo ? -1 : 1) * 3 * u.y - 1.5 },
      size: 4,
      anchor: 'middle',
      bold: true,
    });
  }
  return marks;
}

/** Lines aslant within closed outlines, another way for each body. */
export function hatched(loops: readonly (readonly Point2[])[], body: number): Mark[] {
  const turn = (body % 2 === 0 ? 1 : 3) * (Math.PI / 4);
  const gap = 2.5 + 0.8 * Math.floor(body / 2);
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const turned = loops.map((l) => l.map((p) => ({ x: p.x * c + p.y * s, y: p.y * c - p.x * s })));
  const heights = turned.flat().map((p) => p.y);
  if (heights.length === 0) return [];
  const out: Mark[] = [];
  for (let k = Math.ceil(Math.min(...heights) / gap); k * gap < Math.max(...heights); k++) {
    const y = k * gap + 1e-7;
    const at: number[] = [];
    for (const loop of turned)
      loop.forEach((p, i) => {
        const q = loop[(i + 1) % loop.length]!;
        if (p.y > y !== q.y > y) at.push(p.x + ((y - p.y) / (q.y - p.y)) * (q.x - p.x));
      });
    at.sort((a, b) => a - b);
    for (let i = 0; i + 1 < at.length; i += 2) {
      const [a, b] = [at[i]!, at[i + 1]!];
      if (b - a > 0.05) out.push(lineMark({ x: a * c - y * s, y: a * s + y * c }, { x: b * c - y * s, y: b * s + y * c }, 'hatch'));
    }
  }
  return out;
}

/** Crosses at circles seen as such, and the lines that others of them lie about. */
function centreLines(edges: readonly ViewEdge[], put: (p: Point2) => Point2, scale: number): Mark[] {
  const marks: Mark[] = [];
  const rounds: { centre: Point2; r: number }[] = [];
  const axes: { on: Point2; way: Point2; lo: number; hi: number }[] = [];
  for (const e of edges) {
    const k = e.circle;
    if (!k?.whole) continue;
    const centre = put(k.centre);
    if (k.seen === 'round') {
      const r = k.radius * scale;
      const known = rounds.find((o) => distance2(o.centre, centre) < 0.01);
      if (known) known.r = Math.max(known.r, r);
      else rounds.push({ centre, r });
    } else if (k.seen === 'edge') {
      const l = distance2(e.curve.a, e.curve.b);
      const way = { x: -(e.curve.b.y - e.curve.a.y) / l, y: (e.curve.b.x - e.curve.a.x) / l };
      const known = axes.find((o) => {
        const d = { x: centre.x - o.on.x, y: centre.y - o.on.y };
        return Math.abs(o.way.x * way.y - o.way.y * way.x) < 1e-6 && Math.abs(d.x * o.way.y - d.y * o.way.x) < 0.01;
      });
      const s = known ? (centre.x - known.on.x) * known.way.x + (centre.y - known.on.y) * known.way.y : 0;
      if (known) [known.lo, known.hi] = [Math.min(known.lo, s), Math.max(known.hi, s)];
      else axes.push({ on: centre, way, lo: 0, hi: 0 });
    }
  }
  for (const {
    centre: { x, y },
    r,
  } of rounds) {
    const out = r + 2.5;
    marks.push(lineMark({ x: x - out, y }, { x: x + out, y }, 'centre'), lineMark({ x, y: y - out }, { x, y: y + out }, 'centre'));
  }
  for (const { on, way, lo, hi } of axes) {
    const at = (s: number): Point2 => ({ x: on.x + s * way.x, y: on.y + s * way.y });
    marks.push(lineMark(at(lo - 3), at(hi + 3), 'centre'));
  }
  return marks;
}

const frameMarks = ({ x0, y0, x1, y1 }: Box): Mark[] => [
  lineMark({ x: x0, y: y0 }, { x: x1, y: y0 }, 'frame'),
  lineMark({ x: x1, y: y0 }, { x: x1, y: y1 }, 'frame'),
  lineMark({ x: x1, y: y1 }, { x: x0, y: y1 }, 'frame'),
  lineMark({ x: x0, y: y1 }, { x: x0, y: y0 }, 'frame'),
];

/** Lines no wider than some room, mm, broken between words. */
function brokenInto(text: string, size: number, room: number): string[] {
  return text.split('\n').flatMap((line) => {
    const out: string[] = [];
    let now = '';
    for (const word of line.split(' ')) {
      const next = now ? `${now} ${word}` : word;
      if (now && widthOf(next, size) > room) {
        out.push(now);
        now = word;
      } else now = next;
    }
    return [...out, now];
  });
}

/** As much of a text as there is room for. */
const cutTo = (text: string, size: number, room: number): string =>
  widthOf(text, size) <= room ? text : `${text.slice(0, Math.max(1, Math.floor(room / (0.56 * size)) - 1))}…`;

/** The foot of the sheet: title block to the right, hole table over it, notes beside them or over them. */
function titleBlock(
  shop: Shop,
  words: SheetWords,
  frame: Box,
  holes: readonly Hole[],
): { readonly height: number; readonly marks: (scale: Scale) => Mark[] } {
  const wide = frame.x1 - frame.x0;
  const left = frame.x1 - Math.min(TITLE_WIDTH, wide);
  const beside = left - frame.x0;
  const rowHeight = 4.5;
  const table = holes.length > 0 ? (holes.length + 1) * rowHeight : 0;
  const noteRoom = (beside > 60 ? beside : wide) - 6;
  const notes = words.notes.flatMap((n, i) => brokenInto(`${i + 1}. ${n}`, NOTE_SIZE, noteRoom));
  const notesHeight = notes.length > 0 ? 5 + notes.length * 4 : 0;
  const height = beside > 60 ? Math.max(TITLE_HEIGHT + table, notesHeight) : TITLE_HEIGHT + table + notesHeight;
  const marks = (scale: Scale): Mark[] => {
    const out: Mark[] = [];
    const { y0, x1 } = frame;
    const cell = (x: number, y: number, w: number, h: number, label: string, text: string, size = 3, bold = false): void => {
      out.push(lineMark({ x, y: y + h }, { x: x + w, y: y + h }, 'thin'), lineMark({ x, y }, { x, y: y + h }, 'thin'));
      out.push({ kind: 'text', text: label, at: { x: x + 1.2, y: y + h - 2.6 }, size: 1.8, anchor: 'start' });
      if (text)
        out.push({
          kind: 'text',
          text: cutTo(text, size, w - 2.4),
          at: { x: x + 1.2, y: y + 1.8 },
          size,
          anchor: 'start',
          ...(bold ? { bold } : {}),
        });
    };
    const w = (share: number): number => ((x1 - left) * share) / 180;
    const tolerance = shop.tolerance ? `ISO 2768-${shop.tolerance}` : 'as noted';
    cell(left, y0 + 20, w(100), 10, 'title', words.name, 5, true);
    cell(left + w(100), y0 + 20, w(50), 10, 'number', shop.title.number);
    cell(left + w(150), y0 + 20, w(30), 10, 'sheet', `1 of 1, ${PAPERS[shop.paper].words}`, 2.6);
    cell(left, y0 + 10, w(60), 10, 'material', words.material);
    cell(left + w(60), y0 + 10, w(40), 10, 'general tolerance', tolerance);
    cell(left + w(100), y0 + 10, w(50), 10, 'finish', shop.title.finish);
    cell(left + w(150), y0 + 10, w(30), 10, 'scale', scale, 4, true);
    cell(left, y0, w(60), 10, 'for', words.client);
    cell(left + w(60), y0, w(40), 10, 'drawn by', shop.title.by);
    cell(left + w(100), y0, w(25), 10, 'date', shop.title.date, 2.6);
    cell(left + w(125), y0, w(25), 10, 'lengths in', words.units === 'in' ? 'inches' : 'mm');
    cell(left + w(150), y0, w(30), 10, shop.projection === 'first' ? 'first angle' : 'third angle', '');
    out.push(...projectionSign({ x: left + w(165), y: y0 + 3.6 }, shop.projection));
    const head = ['hole', 'across', 'up', 'diameter', 'depth'];
    const columns = [0, 20, 55, 90, 130];
    if (holes.length > 0)
      for (const [i, row] of [head, ...holes.map((h) => [h.label, ...h.words])].entries()) {
        const y = y0 + TITLE_HEIGHT + table - (i + 1) * rowHeight;
        out.push(lineMark({ x: left, y: y + rowHeight }, { x: x1, y: y + rowHeight }, 'thin'));
        for (const [k, text] of row.entries())
          out.push({ kind: 'text', text, at: { x: left + 1.2 + w(columns[k]!), y: y + 1.3 }, size: i === 0 ? 2 : 2.6, anchor: 'start' });
      }
    if (table > 0) out.push(lineMark({ x: left, y: y0 + TITLE_HEIGHT }, { x: left, y: y0 + TITLE_HEIGHT + table }, 'thin'));
    const top = beside > 60 ? y0 + height : y0 + TITLE_HEIGHT + table + notesHeight;
    notes.forEach((text, i) => {
      const y = beside > 60 ? y0 + notesHeight - 5 - i * 4 : top - 5 - i * 4;
      out.push({ kind: 'text', text, at: { x: frame.x0 + 3, y }, size: NOTE_SIZE, anchor: 'start' });
    });
    return out;
  };
  return { height, marks };
}

/** A cut-off cone from the side and from its small end: to the right of it the first-angle way, to the left the third-angle way (ISO 5456-2, from memory). */
function projectionSign(at: Point2, projection: Shop['projection']): Mark[] {
  const s = projection === 'first' ? 1 : -1;
  const cone = { x: at.x - s * 4.5, y: at.y };
  const rings = { x: at.x + s * 4.5, y: at.y };
  const [small, large, half] = [1.3, 2.6, 3];
  const corner = (x: number, y: number): Point2 => ({ x: cone.x + x, y: cone.y + y });
  return [
    lineMark(corner(-half, small), corner(half, large), 'thin'),
    lineMark(corner(-half, -small), corner(half, -large), 'thin'),
    lineMark(corner(-half, -small), corner(-half, small), 'thin'),
    lineMark(corner(half, -large), corner(half, large), 'thin'),
    ...[small, large].map((r): Mark => ({ kind: 'curve', curve: arcAbout(rings, r, 0, 2 * Math.PI), pen: 'thin' })),
  ];
}
