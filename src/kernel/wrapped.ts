/**
 * Outlines laid on a skin and given a thickness: a lower and an upper face that keep the drawing's own places as parameters, and walls along the
 * normals between them. Written as the kernel's text, so that nothing has to be intersected or sewn.
 */
import { type PlanarCurve, type Point2, pointAt, reverse } from '../core/curves/planar';
import { distance, triple, type Vec3 } from '../core/geometry/vectors';
import { areaAndCentroid, type OutlineCurve } from '../core/profile/outline';
import type { Region } from '../core/profile/regions';
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
import { BrepText, type NewShape, type Use } from './brep-text';
import { attempt, type Kernel, type Shape, scoped } from './open';
import { unmeshed } from './shapes';

/** Faces and edges lie so near to what they are fitted to, mm; where that takes more than so many spans, what was reached is their tolerance. */
const NEAR = 1e-6;
const MOST_SPANS = 64;
/** What is fitted worse than this is none, mm. */
const LOOSE = 1e-3;

/** Spans of a bent border at least. */
const BENT = 8;

const ACROSS: SplineSpace = { degree: 1, knots: [0, 1], periodic: false };
/** Places between those that are fitted, as shares. */
const BETWEEN = [0.07, 0.21, 0.39, 0.5, 0.64, 0.83, 0.96];

export interface WrappedSolid {
  readonly shape: Shape;
  /** Of every face: `low`, `high`, or the curve it stands on. */
  readonly faces: readonly ('low' | 'high' | { readonly curve: string })[];
}

/** The text of a solid whose shell is still to be written. */
export function blankText(kernel: Kernel): Result<{ readonly text: BrepText; readonly shell: number }> {
  const text = attempt(kernel, () =>
    scoped((s) => BrepText.read(kernel.BRepToolsWrapper.Write(s.keep(new kernel.BRepPrimAPI_MakeBox(1, 1, 1)).Shape()))),
  );
  if (!text.ok) return text;
  const shell = text.value?.faces()[0]?.shell;
  return text.value && shell !== undefined ? ok({ text: text.value, shell }) : fail('the kernel writes a body in a way that is not known');
}

/**
 * @param at a place on the skin by one on the drawing, and so far along the normal, mm
 * @param low height of the lower face along the normals; @param high of the upper one, mm
 */
export function wrappedSolid(
  kernel: Kernel,
  at: (p: Point2, over: number) => Vec3,
  region: Region,
  low: number,
  high: number,
): Result<WrappedSolid> {
  const blank = blankText(kernel);
  if (!blank.ok) return blank;
  const { text, shell } = blank.value;
  const made = written(text, shell, loopsOf(region), at, low, high);
  if (!made.ok) return made;
  const read = attempt(kernel, () => kernel.BRepToolsWrapper.Read(text.toString()));
  if (!read.ok) return read;
  return read.value.IsNull() ? fail('the kernel does not read it') : ok({ shape: read.value, faces: made.value });
}

interface Piece {
  readonly id: string;
  readonly curve: PlanarCurve;
}

/** The loop with the material on its left. @param sense 1 for an outer border */
function turned(loop: readonly OutlineCurve[], sense: 1 | -1): Piece[] {
  const { area } = areaAndCentroid({ curves: loop, onAxis: false });
  return Math.sign(area) === sense
    ? loop.map(({ id, curve }) => ({ id, curve }))
    : loop.toReversed().map(({ id, curve }) => ({ id, curve: reverse(curve) }));
}

/** A curve that closes by itself in two: no wall closes in itself. */
function halved(piece: Piece): readonly (Piece & { readonly from: number; readonly to: number })[] {
  const [a, b] = [pointAt(piece.curve, 0), pointAt(piece.curve, 1)];
  const whole = { ...piece, from: 0, to: 1 };
  return Math.hypot(a.x - b.x, a.y - b.y) > 1e-7
    ? [whole]
    : [
        { ...whole, to: 0.5 },
        { ...whole, from: 0.5 },
      ];
}
type Part = ReturnType<typeof halved>[number];

/** The outer border first, then the holes, material on the left of all. */
const loopsOf = (region: Region): Part[][] =>
  [turned(region.outer, 1), ...region.holes.map((h) => turned(h, -1))].map((loop) => loop.flatMap(halved));

/** One stretch of a border: where it runs on the drawing and at both heights. */
interface Fitted {
  readonly id: string;
  readonly space: SplineSpace;
  readonly flat: readonly (readonly number[])[];
  readonly low: readonly (readonly number[])[];
  readonly high: readonly (readonly number[])[];
  readonly start: Point2;
  readonly off: number;
  /** Where it runs on the face it stands on, by that one's parameters. */
  readonly base?: readonly (readonly number[])[];
}

function fitted(part: Part, at: (p: Point2, over: number) => Vec3, low: number, high: number, ground?: Base): Fitted {
  const p = (t: number): Point2 => pointAt(part.curve, part.from + t * (part.to - part.from));
  // A bent one in short stretches: what lies within it is integrated stretch by stretch.
  for (let spans = part.curve.kind === 'line' ? 1 : BENT; ; spans *= 2) {
    const space = quintic(0, 1, spans);
    const flat = interpolateCurve(space, (t) => [p(t).x, p(t).y]);
    const [lower, upper] = [low, high].map((h) => interpolateCurve(space, (t) => at(p(t), h)));
    const base = ground && interpolateCurve(space, (t) => ground.uv(p(t)));
    let off = 0;
    for (let i = 0; i < spans; i++)
      for (const share of BETWEEN) {
        const t = (i + share) / spans;
        const q = p(t);
        const [x, y] = curveAt(space, flat, t) as [number, number];
        // What counts is that all three agree at every parameter.
        const here = { x, y };
        off = Math.max(
          off,
          Math.hypot(x - q.x, y - q.y),
          distance(curveAt(space, lower!, t) as unknown as Vec3, at(here, low)),
          distance(curveAt(space, upper!, t) as unknown as Vec3, at(here, high)),
          base ? distance(ground.on(curveAt(space, base, t) as unknown as Uv), curveAt(space, lower!, t) as unknown as Vec3) : 0,
        );
      }
    if (off < NEAR || spans >= MOST_SPANS)
      return { id: part.id, space, flat, low: lower!, high: upper!, start: p(0), off, ...(base ? { base } : {}) };
  }
}

/** A face over a rectangle of the drawing. */
function sheetOver(box: Box, at: (p: Point2) => Vec3): { readonly surface: SplineSurface; readonly off: number } {
  for (let spans = 2; ; spans *= 2) {
    const [u, v] = [quintic(...box.x, spans), quintic(...box.y, spans)];
    const surface = interpolateSurface(u, v, (x, y) => at({ x, y }));
    let off = 0;
    for (const a of BETWEEN)
      for (const b of BETWEEN) {
        const [x, y] = [box.x[0] + a * (box.x[1] - box.x[0]), box.y[0] + b * (box.y[1] - box.y[0])];
        off = Math.max(off, distance(surfaceAt(surface, x, y) as unknown as Vec3, at({ x, y })));
      }
    if (off < NEAR || spans >= MOST_SPANS) return { surface, off };
  }
}

interface Box {
  readonly x: readonly [number, number];
  readonly y: readonly [number, number];
}

/** The rectangle of the drawing that borders lie in. */
function boxOf(borders: readonly (readonly Fitted[])[]): Box {
  const places = borders.flat().flatMap((f) => f.flat);
  const reach = (k: 0 | 1): [number, number] => {
    const all = places.map((p) => p[k]!);
    return [Math.min(...all), Math.max(...all)];
  };
  return { x: reach(0), y: reach(1) };
}

const tooFar = (off: number): Result<never> => fail(`it bends too sharply there to be followed: ${off.toFixed(3)} mm off`);
const toleranceOf = (off: number): number => Math.max(1e-7, 2 * off);

/** A surface by its number in the text, with the curve on it that a stretch of a border is. */
type OnFace = (f: Fitted) => { readonly on: number; readonly poles: readonly (readonly number[])[] };

interface Strip {
  readonly walls: readonly NewShape[];
  /** The edges at the walls' lower and upper ends, in the order of the border. */
  readonly low: readonly NewShape[];
  readonly high: readonly NewShape[];
}

/** The walls along one closed border, from one height to another. */
function stripOf(
  text: BrepText,
  border: readonly Fitted[],
  at: (p: Point2, over: number) => Vec3,
  heights: readonly [number, number],
  faces: readonly [OnFace, OnFace],
  tolerance: number,
): Strip {
  const n = border.length;
  const surfaces = border.map((f) =>
    text.splineSurface({ u: f.space, v: ACROSS, poles: f.low.map((p, i) => [p, f.high[i]!].map((q) => triple((k) => q[k]!))) }),
  );
  const corners = border.map((f) => heights.map((h) => text.vertex(at(f.start, h), tolerance)) as [NewShape, NewShape]);
  // Upright edges, each where a wall begins and the one before it ends.
  const uprights = border.map((f, i) =>
    text.edge(
      text.spline3d(
        ACROSS,
        heights.map((h) => at(f.start, h)),
      ),
      [
        { on: surfaces[i]!, by: [text.line2d([0, 0], [0, 1])] },
        { on: surfaces[(i + n - 1) % n]!, by: [text.line2d([1, 0], [0, 1])] },
      ],
      [0, 1],
      corners[i]!,
      tolerance,
    ),
  );
  const edges = ([0, 1] as const).map((end) =>
    border.map((f, i) => {
      const { on, poles } = faces[end](f);
      return text.edge(
        text.spline3d(f.space, end === 0 ? f.low : f.high),
        [
          { on, by: [text.spline2d(f.space, poles)] },
          { on: surfaces[i]!, by: [text.line2d([0, end], [1, 0])] },
        ],
        [0, 1],
        [corners[i]![end], corners[(i + 1) % n]![end]],
        tolerance,
      );
    }),
  ) as [NewShape[], NewShape[]];
  const walls = border.map((_, i) => {
    const round = text.wire([
      { of: edges[0][i]!, sense: 1 },
      { of: uprights[(i + 1) % n]!, sense: 1 },
      { of: edges[1][i]!, sense: -1 },
      { of: uprights[i]!, sense: -1 },
    ]);
    return text.face(surfaces[i]!, [{ of: round, sense: 1 }], tolerance);
  });
  return { walls, low: edges[0], high: edges[1] };
}

/** Edges one after the other, or the other way round. */
const wireOf = (text: BrepText, edges: readonly NewShape[], sense: 1 | -1 = 1): NewShape => {
  const uses = edges.map((of): Use => ({ of, sense }));
  return text.wire(sense > 0 ? uses : uses.toReversed());
};

function written(
  text: BrepText,
  shell: number,
  loops: readonly (readonly Part[])[],
  at: (p: Point2, over: number) => Vec3,
  low: number,
  high: number,
): Result<WrappedSolid['faces']> {
  const borders = loops.map((loop) => loop.map((part) => fitted(part, at, low, high)));
  const box = boxOf(borders);
  const sheets = [low, high].map((h) => sheetOver(box, (p) => at(p, h)));
  const off = Math.max(...borders.flat().map((f) => f.off), ...sheets.map((s) => s.off));
  if (off > LOOSE) return tooFar(off);
  const tolerance = toleranceOf(off);
  const [lower, upper] = sheets.map((s) => text.splineSurface(s.surface)) as [number, number];
  const on =
    (sheet: number): OnFace =>
    (f) => ({ on: sheet, poles: f.flat });
  const strips = borders.map((border) => stripOf(text, border, at, [low, high], [on(lower), on(upper)], tolerance));
  const face = (surface: number, side: 'low' | 'high'): NewShape =>
    text.face(
      surface,
      strips.map((w): Use => ({ of: wireOf(text, w[side]), sense: 1 })),
      tolerance,
    );
  text.setUses(shell, [
    { of: face(lower, 'low'), sense: -1 },
    { of: face(upper, 'high'), sense: 1 },
    ...strips.flatMap((w) => w.walls.map((of): Use => ({ of, sense: 1 }))),
  ]);
  return ok(['low', 'high', ...borders.flat().map((f) => ({ curve: f.id }))]);
}

type Uv = readonly [number, number];

/** The face that outlines stand on, by its parameters. */
export interface Base {
  readonly uv: (p: Point2) => Uv;
  readonly on: (uv: Uv) => Vec3;
  /** Whether its surface's own normal leads out of the body. */
  readonly outwards: boolean;
}

/**
 * A body with outlines raised over one of its faces or sunk into it, by topology alone: the face gets holes, and what stands in them is written beside
 * it. Right where they all lie within the face; that the result is sound is for the caller to check.
 * @param index of the face in the body @param height along the outward normals, below nothing for what is sunk, mm
 * @returns the new faces come after the old ones, the islands within outlines called `island`; undefined where the body's text can't be worked on
 */
export function embossed(
  kernel: Kernel,
  shape: Shape,
  index: number,
  base: Base,
  at: (p: Point2, over: number) => Vec3,
  regions: readonly Region[],
  height: number,
): Result<{ readonly shape: Shape; readonly added: readonly ('island' | WrappedSolid['faces'][number])[] }> | undefined {
  const text = attempt(kernel, () => scoped((s) => BrepText.read(kernel.BRepToolsWrapper.Write(unmeshed(kernel, s, shape)))));
  if (!text.ok || !text.value) return undefined;
  const own = text.value.faces()[index];
  const surface = own && text.value.surfaceOf(own.face);
  if (!own || surface === undefined || own.use.by !== undefined) return undefined;
  const out = text.value;
  // Seen along the surface's own normal the borders run one way or the other.
  const sense = base.outwards ? -1 : 1;
  const holes: Use[] = [];
  const faces: Use[] = [];
  const added: ('island' | WrappedSolid['faces'][number])[] = [];
  for (const region of regions) {
    const borders = loopsOf(region).map((loop) => loop.map((part) => fitted(part, at, 0, height, base)));
    const sheet = sheetOver(boxOf(borders), (p) => at(p, height));
    const off = Math.max(sheet.off, ...borders.flat().map((f) => f.off));
    if (off > LOOSE) return tooFar(off);
    const tolerance = toleranceOf(off);
    const high = out.splineSurface(sheet.surface);
    const strips = borders.map((border) =>
      stripOf(out, border, at, [0, height], [(f) => ({ on: surface, poles: f.base! }), (f) => ({ on: high, poles: f.flat })], tolerance),
    );
    const [outer, ...inner] = strips.map((w): Use => ({ of: wireOf(out, w.low, sense), sense: 1 }));
    holes.push(outer!);
    for (const wire of inner) {
      faces.push({ of: out.face(surface, [wire], tolerance), sense: own.use.sense });
      added.push('island');
    }
    faces.push({
      of: out.face(
        high,
        strips.map((w): Use => ({ of: wireOf(out, w.high), sense: 1 })),
        tolerance,
      ),
      sense: 1,
    });
    faces.push(...strips.flatMap((w) => w.walls.map((of): Use => ({ of, sense: 1 }))));
    added.push('high', ...borders.flat().map((f) => ({ curve: f.id })));
  }
  out.setUses(own.face, [...out.uses(own.face), ...holes]);
  out.setUses(own.shell, [...out.uses(own.shell), ...faces]);
  const read = attempt(kernel, () => kernel.BRepToolsWrapper.Read(out.toString()));
  if (!read.ok) return read;
  return read.value.IsNull() ? fail('the kernel does not read it') : ok({ shape: read.value, added });
}
