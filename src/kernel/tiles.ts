/**
 * Small solids laid on a face, written as topology: their faces keep their own parameters, so that the curves on them stay what they are, and get new
 * surfaces; what they stand on becomes a hole of the face. Nothing is intersected or sewn.
 */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import type { Uv } from '../core/detail/dimple';
import type { FieldGround } from '../core/detail/field';
import { bentSpline, footFrom, type LaidPiece } from '../core/detail/lay';
import { distance, type Vec3 } from '../core/geometry/vectors';
import { fail, ok, type Result } from '../core/result';
import {
  curveAt,
  interpolateCurve,
  interpolateSurface,
  quintic,
  type SplineSpace,
  type SplineSurface,
  surfaceAt,
} from '../core/surfaces/space';
import { splineOf } from './amounts';
import { BrepText, type NewShape, type Use } from './brep-text';
import { alongSeam, type Ground, groundOf, seamParted } from './dimples';
import { attempt, type Kernel, type Shape, scoped } from './open';
import { bentBy, facesOf, subShapes, surfaceReader, unmeshed } from './shapes';
import { BETWEEN, type FlatCurve, type Tile, type TileFace } from './tile-read';
import { blankText } from './wrapped';

/** New surfaces and edges lie so near to what they are to be, mm; where that takes more than so many spans, what was reached is their tolerance. */
const NEAR = 3e-6;
const MOST_SPANS = 16;
/** What is met worse than this is not met, mm. */
const LOOSE = 2e-3;

/** Between the places that are looked at it may be off by as much as is left to faces and edges, mm. */
const LEAST = 2 * NEAR;
const LOOKED_AT = [0, 0.07, 0.21, 0.34, 0.46, 0.61, 0.78, 0.93, 1];

/** How many spans faces and edges take: what one tile took the next takes at once. */
export interface Effort {
  readonly faces: Map<number, number>;
  readonly edges: Map<number, number>;
}
export const newEffort = (): Effort => ({ faces: new Map(), edges: new Map() });

/** The face that tiles are laid on, by its parameters. */
export interface TileGround extends Ground, FieldGround {
  /** Where its first way closes: the parameter there and the whole way round. */
  readonly closes: { readonly at: number; readonly period: number } | undefined;
}

/** Pieces that each edge of a border is read in. */
const ALONG = 96;

/** @param index of the face in the body */
export function tileGroundOf(kernel: Kernel, shape: Shape, index: number): TileGround {
  const ground = groundOf(kernel, shape, index);
  const { face, sheet } = ground;
  const reader = surfaceReader(kernel, face);
  // The kernel is slow at places of a spline.
  const spline = splineOf(kernel, face);
  const bent = spline && !spline.weights ? bentSpline(spline, face.Orientation() === 'TopAbs_REVERSED' ? -1 : 1) : bentBy(reader);
  return {
    ...ground,
    bent,
    outline: outlineOf(kernel, face, sheet),
    closes: sheet.closed ? { at: sheet.u[0], period: sheet.u[1] - sheet.u[0] } : undefined,
    end: () => {
      reader.dispose();
      ground.end();
    },
  };
}

/** The borders of a face by its parameters, poles and where it closes the second way included. */
function outlineOf(kernel: Kernel, face: TopoDS_Face, { u, closed }: Ground['sheet']): (readonly [Uv, Uv])[] {
  return scoped((s) =>
    subShapes(kernel, face, 'TopAbs_EDGE').flatMap((e) => {
      const edge = kernel.TopoDS.Edge(e);
      const pole = kernel.BRep_Tool.Degenerated(edge);
      const along = (of: typeof edge): Uv[] => {
        const flat = s.keep(new kernel.BRepAdaptor_Curve2d(of, face));
        const [a, b] = [flat.FirstParameter(), flat.LastParameter()];
        return Array.from({ length: ALONG + 1 }, (_, i): Uv => {
          const q = s.keep(flat.Value(a + ((b - a) * i) / ALONG));
          return [q.X(), q.Y()];
        });
      };
      const one = along(edge);
      if (!pole && closed && alongSeam(u, [one[0]!, one[ALONG / 2]!, one[ALONG]!])) return [];
      const lines = !pole && kernel.BRep_Tool.IsClosed(edge, face) ? [one, along(kernel.TopoDS.Edge(edge.Reversed()))] : [one];
      return lines.flatMap((line) => line.slice(1).map((q, i) => [line[i]!, q] as const));
    }),
  );
}

/** A tile with its new geometry. */
interface Laid {
  readonly surfaces: ReadonlyMap<TileFace, SplineSurface>;
  readonly edges: readonly FlatCurve[];
  readonly vertices: readonly Vec3[];
  readonly tolerance: number;
}

type Put = (p: Vec3) => Vec3;

function laid(tile: Tile, faces: readonly TileFace[], put: Put, effort: Effort): Result<Laid> {
  const surfaces = new Map<TileFace, SplineSurface>();
  for (const f of faces) {
    const known = effort.faces.get(f.index);
    for (let spans = known ?? 1; ; spans *= 2) {
      const [u, v] = [quintic(...f.u, spans), quintic(...f.v, spans)];
      const made = interpolateSurface(u, v, (a, b) => put(f.at(a, b)));
      const places = looks(u, known).flatMap((a) => looks(v, known).map((b) => [a, b] as const));
      const off = Math.max(...places.map(([a, b]) => distance(surfaceAt(made, a, b), put(f.at(a, b)))));
      if (off > NEAR && spans < MOST_SPANS) continue;
      effort.faces.set(f.index, spans);
      surfaces.set(f, made);
      break;
    }
  }
  const edges = tile.edges.map((e, k) => {
    const [from, to] = e.range;
    const known = effort.edges.get(k);
    for (let spans = known ?? 1; ; spans *= 2) {
      const space = quintic(from, to, spans);
      const poles = interpolateCurve(space, (t) => put(e.at(t)));
      const off = looks(space, known).map((t) => distance(curveAt(space, poles, t) as unknown as Vec3, put(e.at(t))));
      if (e.pole || spans >= MOST_SPANS || Math.max(...off) < NEAR) {
        effort.edges.set(k, spans);
        return { space, poles };
      }
    }
  });
  // What counts is that edges lie on their faces, and meet.
  let off = 0;
  for (const f of faces)
    for (const { uses } of f.wires)
      for (const { edge, flat } of uses) {
        const { space, poles } = edges[edge]!;
        const [from, to] = tile.edges[edge]!.range;
        for (const share of LOOKED_AT) {
          const t = from + share * (to - from);
          const on = surfaceAt(surfaces.get(f)!, ...(curveAt(flat.space, flat.poles, t) as [number, number]));
          off = Math.max(off, distance(on, curveAt(space, poles, t) as unknown as Vec3));
        }
      }
  if (off > LOOSE) return fail(`it bends too sharply there to be followed: ${off.toFixed(3)} mm off`);
  return ok({ surfaces, edges, vertices: tile.vertices.map(put), tolerance: Math.max(LEAST, 2 * off) });
}

/** Places between those that are fitted: of the first tile in every span, of those after it, for which as many are taken at once, in the middle one. */
function looks({ knots }: SplineSpace, known: number | undefined): number[] {
  const spans = knots.length - 1;
  const within = known === undefined ? Array.from({ length: spans }, (_, i) => i) : [Math.floor(spans / 2)];
  return within.flatMap((i) => BETWEEN.map((x) => knots[i]! + x * (knots[i + 1]! - knots[i]!)));
}

/** What a text already holds of a tile's flat curves. */
type Known = Map<FlatCurve, number>;

const flatNumber = (text: BrepText, known: Known, flat: FlatCurve): number => {
  let n = known.get(flat);
  if (n === undefined) {
    n = text.spline2d(flat.space, flat.poles);
    known.set(flat, n);
  }
  return n;
};

interface Written {
  readonly faces: readonly Use[];
  /** The borders of what it stands on, as they run on the face it is laid on; first the outer one. */
  readonly feet: readonly (readonly Use[])[];
  /** Where they cross the line along which the face closes; more often than it is known what to do about. */
  readonly crossing: Crossing | 'often' | undefined;
  readonly tolerance: number;
}
type Crossing = Parameters<typeof seamParted>[0]['crossing'][number];

/** A stretch of an edge. */
interface Stretch {
  readonly of: NewShape;
  readonly from: number;
  readonly to: number;
}

/** Steps to a place of the face from where splines say it is. */
const STEPS = 2;

/** An edge of the foot over the face's parameters, with how far it lies beside the edge there, mm. */
function onGround(
  tile: Tile,
  edge: number,
  { space, poles }: Laid['edges'][number],
  { piece, ground, shift }: { readonly piece: LaidPiece; readonly ground: TileGround; readonly shift: number },
): { readonly curve: FlatCurve; readonly off: number } {
  const { at, range } = tile.edges[edge]!;
  const flat = (t: number): Uv => {
    const [x, y] = at(t);
    const near = piece.uv({ x, y });
    const [u, v] = footFrom(ground.bent, near, curveAt(space, poles, t) as unknown as Vec3, STEPS) ?? near;
    return [u + shift, v];
  };
  for (let spans = space.knots.length - 1; ; spans *= 2) {
    const own = quintic(...range, spans);
    const curve = { space: own, poles: interpolateCurve(own, flat) };
    let off = 0;
    for (let i = 0; i < spans; i++)
      for (const share of BETWEEN) {
        const t = range[0] + ((i + share) / spans) * (range[1] - range[0]);
        const on = ground.bent(...(curveAt(own, curve.poles, t) as unknown as Uv))?.p;
        if (on) off = Math.max(off, distance(on, curveAt(space, poles, t) as unknown as Vec3));
      }
    if (off < NEAR || spans >= MOST_SPANS) return { curve, off };
  }
}

/**
 * @param base what it stands on; undefined where it is a solid of its own
 */
function write(
  text: BrepText,
  tile: Tile,
  made: Laid,
  known: Known,
  base:
    | { readonly surface: number; readonly piece: LaidPiece; readonly ground: TileGround; readonly shift: number; readonly sense: 1 | -1 }
    | undefined,
): Result<Written> {
  const faces = base ? tile.others : [tile.foot, ...tile.others];
  const surfaces = new Map(faces.map((f) => [f, text.splineSurface(made.surfaces.get(f)!)]));
  let tolerance = made.tolerance;
  // Where edges of the foot lie on the face.
  const footed = new Map<number, FlatCurve>();
  if (base)
    for (const { uses } of tile.foot.wires)
      for (const { edge } of uses) {
        if (footed.has(edge)) continue;
        const flat = onGround(tile, edge, made.edges[edge]!, base);
        footed.set(edge, flat.curve);
        tolerance = Math.max(tolerance, 2 * flat.off);
      }
  if (tolerance > 2 * LOOSE) return fail(`it bends too sharply there to be followed: ${(tolerance / 2).toFixed(3)} mm off`);
  const corners = made.vertices.map((p) => text.vertex(p, tolerance));
  /** Where the foot's borders cross the line along which the face closes. */
  const closes = base?.ground.closes;
  const cuts = new Map<number, { readonly t: number; readonly v: number; readonly corner: NewShape }[]>();
  const ends: { readonly v: number; readonly corner: NewShape }[] = [];
  if (closes)
    for (const [edge, { space, poles }] of footed) {
      const [from, to] = tile.edges[edge]!.range;
      const u = (t: number): number => curveAt(space, poles, t)[0]! - closes.at;
      const list: { t: number; v: number; corner: NewShape }[] = [];
      const n = 24;
      for (let i = 0; i < n; i++) {
        let [a, b] = [from + ((to - from) * i) / n, from + ((to - from) * (i + 1)) / n];
        if (u(a) < 0 === u(b) < 0) continue;
        const rising = u(b) > u(a);
        for (let k = 0; k < 60; k++) {
          const m = (a + b) / 2;
          if (u(m) > 0 === rising) b = m;
          else a = m;
        }
        const t = (a + b) / 2;
        const corner = text.vertex(curveAt(made.edges[edge]!.space, made.edges[edge]!.poles, t) as unknown as Vec3, tolerance);
        list.push({ t, v: curveAt(space, poles, t)[1]!, corner });
      }
      cuts.set(edge, list);
      ends.push(...list);
    }
  if (ends.length !== 0 && ends.length !== 2) return ok({ faces: [], feet: [], crossing: 'often', tolerance });
  const crosses = ends.length === 2;
  const curves = made.edges.map((e, k) => (tile.edges[k]!.pole ? -1 : text.spline3d(e.space, e.poles)));
  const onFaces = new Map<number, { on: number; sense: 1 | -1; by: number }[]>();
  for (const f of faces)
    for (const wire of f.wires)
      for (const { edge, sense, flat } of wire.uses)
        onFaces.set(edge, [
          ...(onFaces.get(edge) ?? []),
          { on: surfaces.get(f)!, sense: (wire.sense * sense) as 1 | -1, by: flatNumber(text, known, flat) },
        ]);
  const stretches = tile.edges.map((e, k): Stretch[] => {
    const uses = onFaces.get(k) ?? [];
    const flats: { on: number; by: readonly [number] | readonly [number, number] }[] = [];
    for (const use of uses) {
      // A surface that closes in the edge has a curve for either side of it.
      const other = uses.find((o) => o !== use && o.on === use.on);
      if (!other) flats.push({ on: use.on, by: [use.by] });
      else if (use.sense > 0) flats.push({ on: use.on, by: [use.by, other.by] });
    }
    const [from, to] = e.range;
    if (e.pole) return [{ of: text.pole(flats[0]!.on, flats[0]!.by[0], e.range, corners[e.ends[0]]!, tolerance), from, to }];
    const flat = footed.get(k);
    const piece = (a: number, b: number, first: NewShape, last: NewShape): Stretch => {
      let own: typeof flats = [];
      if (flat) {
        const beyond = crosses && curveAt(flat.space, flat.poles, (a + b) / 2)[0]! < closes!.at;
        const poles = beyond ? flat.poles.map(([x, y]) => [x! + closes!.period, y!]) : flat.poles;
        own = [{ on: base!.surface, by: [text.spline2d(flat.space, poles)] }];
      }
      return { of: text.edge(curves[k]!, [...flats, ...own], [a, b], [first, last], tolerance), from: a, to: b };
    };
    const parts: Stretch[] = [];
    let [t, corner] = [from, corners[e.ends[0]]!];
    for (const cut of cuts.get(k) ?? []) {
      parts.push(piece(t, cut.t, corner, cut.corner));
      [t, corner] = [cut.t, cut.corner];
    }
    parts.push(piece(t, to, corner, corners[e.ends[1]]!));
    return parts;
  });
  const run = (edge: number, sense: 1 | -1): Use[] => {
    const uses = stretches[edge]!.map(({ of }): Use => ({ of, sense }));
    return sense > 0 ? uses : uses.toReversed();
  };
  const out = faces.map((f): Use => {
    const wires = f.wires.map((w): Use => ({ of: text.wire(w.uses.flatMap(({ edge, sense }) => run(edge, sense))), sense: w.sense }));
    return { of: text.face(surfaces.get(f)!, wires, tolerance), sense: f.sense };
  });
  if (!base) return ok({ faces: out, feet: [], crossing: undefined, tolerance });
  // The face takes the foot's place in the shell: edges run on it as they run on the foot.
  const feet = [...tile.foot.wires]
    .sort((a, b) => roundAbout(tile, b) - roundAbout(tile, a))
    .map((w) => {
      const turn = (tile.foot.sense * w.sense * base.sense) as 1 | -1;
      const uses = w.uses.flatMap(({ edge, sense }) => run(edge, (sense * turn) as 1 | -1));
      return turn > 0 ? uses : uses.toReversed();
    });
  return ok({ faces: out, feet, crossing: crosses ? halves(feet[0]!, stretches, footed, ends, closes!.at) : undefined, tolerance });
}

/** The two sides of a border that crosses the line along which the face closes. */
function halves(
  border: readonly Use[],
  stretches: readonly (readonly Stretch[])[],
  footed: ReadonlyMap<number, FlatCurve>,
  ends: readonly { readonly v: number; readonly corner: NewShape }[],
  seam: number,
): Crossing {
  const right = new Set<NewShape>();
  for (const [edge, { space, poles }] of footed)
    for (const s of stretches[edge]!) if (curveAt(space, poles, (s.from + s.to) / 2)[0]! > seam) right.add(s.of);
  // Begun where one side begins, each runs in one go.
  const isRight = (u: Use): boolean => right.has(u.of as NewShape);
  const start = border.findIndex((u, i) => isRight(u) && !isRight(border[(i + border.length - 1) % border.length]!));
  const round = [...border.slice(start), ...border.slice(0, start)];
  const [low, high] = ends[0]!.v < ends[1]!.v ? [ends[0]!, ends[1]!] : [ends[1]!, ends[0]!];
  return { v: [low.v, high.v], ends: [low.corner, high.corner], right: round.filter(isRight), left: round.filter((u) => !isRight(u)) };
}

/** Twice the area within a border of the foot, without its sense. */
function roundAbout(tile: Tile, wire: TileFace['wires'][number]): number {
  let sum = 0;
  for (const p of footPlaces(tile, wire)) sum += p[0].x * p[1].y - p[0].y * p[1].x;
  return Math.abs(sum);
}

const LOOKS = 8;
/** A border of the foot in short straight pieces, in turn. */
function footPlaces(tile: Tile, { uses }: TileFace['wires'][number]): (readonly [Point, Point])[] {
  return uses.flatMap(({ edge, sense }) => {
    const { range, at } = tile.edges[edge]!;
    const place = (i: number): Point => {
      const share = sense > 0 ? i / LOOKS : 1 - i / LOOKS;
      const [x, y] = at(range[0] + share * (range[1] - range[0]));
      return { x, y };
    };
    return Array.from({ length: LOOKS }, (_, i) => [place(i), place(i + 1)] as const);
  });
}
interface Point {
  readonly x: number;
  readonly y: number;
}

/** The outer border of what a tile stands on, as places on the flat, in turn. */
export function footOutline(tile: Tile): Point[] {
  const wire = tile.foot.wires.toSorted((a, b) => roundAbout(tile, b) - roundAbout(tile, a))[0]!;
  return footPlaces(tile, wire).map(([p]) => p);
}

export interface LaidTile {
  readonly piece: LaidPiece;
  /** Added to the first parameter, so that it lies where the face does. */
  readonly shift: number;
}

const putOn =
  (piece: LaidPiece, sense: 1 | -1): Put =>
  ([x, y, z]) =>
    piece.at({ x, y }, sense * z);

/**
 * The body with tiles on one of its faces, raised over it or sunk into it. New faces come after the old ones: those of each tile in its own order, without
 * its foot; then, where it has holes, what of the face shows within them.
 * @param index of the face in the body
 * @returns undefined where the body's text can't be worked on, or something crosses the line along which the face closes that can't be parted there
 */
export function withTiles(
  kernel: Kernel,
  shape: Shape,
  index: number,
  ground: TileGround,
  tile: Tile,
  places: readonly LaidTile[],
  raised: boolean,
  effort: Effort,
): Result<Shape> | undefined {
  const read = attempt(kernel, () => scoped((s) => BrepText.read(kernel.BRepToolsWrapper.Write(unmeshed(kernel, s, shape)))));
  const text = read.ok ? read.value : undefined;
  const own = text?.faces()[index];
  const surface = own && text?.surfaceOf(own.face);
  if (!text || !own || surface === undefined) return undefined;
  // A shell may be used the other way round itself.
  const sense = facesOf(kernel, shape)[index]!.Orientation() === 'TopAbs_REVERSED' ? -1 : 1;
  const shell = (sense * own.use.sense) as 1 | -1;
  const known: Known = new Map();
  const holes: Use[] = [];
  const faces: Use[] = [];
  const crossing: Crossing[] = [];
  for (const { piece, shift } of places) {
    const made = laid(tile, tile.others, putOn(piece, raised ? 1 : -1), effort);
    const written = made.ok ? write(text, tile, made.value, known, { surface, piece, ground, shift, sense }) : made;
    if (!written.ok) return written;
    if (written.value.crossing === 'often') return undefined;
    const [outer, ...inner] = written.value.feet;
    faces.push(...written.value.faces.map((f): Use => ({ ...f, sense: (f.sense * shell) as 1 | -1 })));
    for (const wire of inner)
      faces.push({ of: text.face(surface, [{ of: text.wire([...wire]), sense: 1 }], written.value.tolerance), sense: own.use.sense });
    if (written.value.crossing) crossing.push(written.value.crossing);
    else holes.push({ of: text.wire([...outer!]), sense: 1 });
  }
  if (crossing.length > 0 && !seamParted({ text, surface, ground, crossing }, own.face)) return undefined;
  text.setUses(own.face, [...text.uses(own.face), ...holes]);
  text.setUses(own.shell, [...text.uses(own.shell), ...faces.map((f) => (own.use.by === undefined ? f : { ...f, by: own.use.by }))]);
  return readBack(kernel, text);
}

/** A tile that is a solid of its own, standing on the face. @param world where a place of the face is in the body */
export function tileSolid(
  kernel: Kernel,
  tile: Tile,
  { piece }: LaidTile,
  { world }: { readonly world: Put },
  effort: Effort,
): Result<Shape> {
  const blank = blankText(kernel);
  if (!blank.ok) return blank;
  const { text, shell } = blank.value;
  const put = putOn(piece, 1);
  const made = laid(tile, [tile.foot, ...tile.others], (p) => world(put(p)), effort);
  const written = made.ok ? write(text, tile, made.value, new Map(), undefined) : made;
  if (!written.ok) return written;
  text.setUses(shell, [...written.value.faces]);
  return readBack(kernel, text);
}

function readBack(kernel: Kernel, text: BrepText): Result<Shape> {
  const read = attempt(kernel, () => kernel.BRepToolsWrapper.Read(text.toString()));
  if (!read.ok) return read;
  return read.value.IsNull() ? fail('the kernel does not read it') : ok(read.value);
}
