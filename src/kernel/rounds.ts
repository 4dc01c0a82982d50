/** Rounds and chamfers on a body: built, named after their edges, and verified, or refused with the reason. */
import type { TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import type { Vec3 } from '../core/geometry/vectors';
import { wholeFace } from '../core/recipe/names';
import { fail, ok, type Result } from '../core/result';
import type { Meridian } from '../core/turned/meridian';
import { type Corner, type Softening, turnAt } from '../core/turned/soften';
import { fixed } from '../core/units/units';
import { areaOf } from './amounts';
import { asBody, asSurface, type KernelBody, type StepFailure } from './body';
import { type Claim, inherit, listOf, type NamedEdge, namedEdges, nameFaces } from './names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import { edgeCurveEnds } from './refer';
import { leftovers, smoothRound } from './section-round';
import { compoundOf, distanceBetween, edgesWithFaces, facesOf, roughBounds, vertexAt } from './shapes';
import { pushed, straightSoftening } from './straight';
import { shellOf, verifySurface } from './surface';
import { turnMeridian } from './turned';
import { plannedSoftening } from './turned-steps';
import { type Verified, verifyBorders, verifyRounds, verifySolid } from './verify';

export type Softened = Result<KernelBody, Pick<StepFailure, 'why' | 'at'>>;

/** An edge with the radius it gets at its lower and its upper end, mm. */
export interface RoundedEdge {
  readonly edge: NamedEdge;
  readonly from: number;
  readonly to: number;
}

interface Made {
  readonly shape: Shape;
  readonly claims: readonly Claim[];
  readonly strips: readonly { readonly shape: Shape; readonly edge: NamedEdge; readonly between: readonly (readonly [Shape, Shape])[] }[];
  /** Edges whose line got no strip at all. */
  readonly bare: ReadonlySet<string>;
}

interface Contours {
  NbContours(): number;
  NbEdges(i: number): number;
  Edge(i: number, j: number): TopoDS_Edge;
}

/** Every edge the builder goes along, with the line it is part of: those asked for, and what goes on from them smoothly. */
function alongOf(maker: Contours, all: readonly NamedEdge[]): { edge: NamedEdge; contour: number }[] {
  const out: { edge: NamedEdge; contour: number }[] = [];
  for (let i = 1; i <= maker.NbContours(); i++)
    for (let j = 1; j <= maker.NbEdges(i); j++) {
      const e = maker.Edge(i, j);
      const known = all.find((n) => n.edge.IsSame(e));
      if (known) out.push({ edge: known, contour: i });
    }
  return out;
}

/** The shape with the strips that lie where edges were, named after these. */
function collected(
  kernel: Kernel,
  body: KernelBody,
  maker: Parameters<typeof inherit>[1] & Contours & { Shape(): Shape },
  faces: readonly TopoDS_Face[],
  stepId: string,
  word: 'round' | 'chamfer',
): Made {
  const claims: Claim[] = inherit(kernel, maker, faces, body.faces);
  const strips: Made['strips'][number][] = [];
  const lines = alongOf(maker, namedEdges(kernel, body));
  const done = new Set<number>();
  for (const { edge: e, contour } of lines)
    for (const g of listOf(kernel, maker.Generated(e.edge))) {
      if (g.ShapeType() !== 'TopAbs_FACE') continue;
      claims.push({ shape: g, name: `${stepId}/${word}(${e.name})` });
      // A strip may run on along the edges its own flows into: it leans on their faces there.
      const own = [e, ...lines.filter((l) => l.contour === contour && l.edge !== e).map((l) => l.edge)];
      strips.push({ shape: g, edge: e, between: own.map((o) => [faces[o.faces[0]!]!, faces[o.faces[1] ?? o.faces[0]!]!] as const) });
      done.add(contour);
    }
  // A strip along several edges is told of one of them only.
  const bare = new Set(lines.filter((l) => !done.has(l.contour)).map((l) => l.edge.name));
  const shape = maker.Shape();
  return { shape: body.surface ? scoped((s) => shellOf(kernel, s, facesOf(kernel, shape))) : shape, claims, strips, bare };
}

/** Edges that reach farther than this across what they join leave a skin open, mm. */
const TORN = 0.01;

/** What became of a body: a skin stays one. */
const softBody = (body: KernelBody, verified: Verified, names: readonly string[]): KernelBody =>
  body.surface ? asSurface(verified, names) : asBody(verified, names);

const NO_ROOM = 'the faces beside the edge leave no room for it';

/** What holds for any softened body: one closed solid of a volume on the right side, within the old bounds; or a skin that is no larger. */
function checked(
  kernel: Kernel,
  body: KernelBody,
  made: Made,
  kinds: ReadonlySet<string>,
): Result<
  { verified: Verified; strips: { face: number; edge: NamedEdge; between: readonly (readonly [Shape, Shape])[] }[] },
  { why: string; at?: Vec3 }
> {
  const slack = 1e-9 * body.volume;
  const box = roughBounds(kernel, body.shape);
  const convex = kinds.has('convex');
  const concave = kinds.has('concave');
  // A strip across a corner is shorter than the corner: of a skin there is no more afterwards.
  const verified = body.surface
    ? verifySurface(kernel, made.shape, [0, areaOf(kernel, body.shape) * (1 + 1e-9)])
    : verifySolid(kernel, made.shape, {
        pieces: body.pieces,
        volume: [concave && !convex ? body.volume - slack : 0, convex && !concave ? body.volume + slack : Infinity],
        inside: box,
      });
  if (!verified.ok) return fail({ why: verified.error.why });
  const faces = facesOf(kernel, verified.value.shape);
  // Where borders begin the kernel closes corners by whatever edges reach across.
  const torn = body.surface ? edgesWithFaces(kernel, faces).find((e) => kernel.BRep_Tool.Tolerance(e.edge) > TORN) : undefined;
  if (torn) {
    const gap = fixed(kernel.BRep_Tool.Tolerance(torn.edge), 2);
    return fail({ why: `rounds that meet at the border would stand up to ${gap} mm apart there`, at: edgeCurveEnds(kernel, torn.edge)[0] });
  }
  const strips = made.strips.flatMap(({ shape, edge, between }) => {
    const face = faces.findIndex((f) => f.IsSame(shape));
    return face < 0 ? [] : [{ face, edge, between }];
  });
  return ok({ verified: verified.value, strips });
}

/** Whether the builder's own first end of an edge's contour is the edge's upper one. */
function startsAbove(kernel: Kernel, s: Scope, first: Shape, edge: TopoDS_Edge): boolean {
  const [low, high] = edgeCurveEnds(kernel, edge);
  const at = (p: readonly [number, number, number]): number => {
    const v = s.keep(new kernel.BRepBuilderAPI_MakeVertex(s.keep(new kernel.gp_Pnt(p[0], p[1], p[2])))).Vertex();
    return distanceBetween(kernel, first, v)?.distance ?? Number.POSITIVE_INFINITY;
  };
  return at(high) < at(low);
}

/** Whether a strip borders on a face that touches none of the edges it goes along, neither beside them nor at their ends. */
function runsInto(
  kernel: Kernel,
  body: KernelBody,
  result: Shape,
  names: readonly string[],
  strips: readonly { readonly face: number; readonly edge: NamedEdge }[],
): boolean {
  const corners = strips.flatMap(({ edge }) => edgeCurveEnds(kernel, edge.edge));
  const touches = (face: Shape): boolean =>
    corners.some((p) => {
      const v = vertexAt(kernel, p);
      const d = distanceBetween(kernel, v, face)?.distance ?? 1;
      v.delete();
      return d < 1e-6;
    });
  const near = new Set(facesOf(kernel, body.shape).flatMap((f, i) => (touches(f) ? [wholeFace(body.faces[i]!)] : [])));
  const mine = new Set(strips.map((s) => s.face));
  return edgesWithFaces(kernel, facesOf(kernel, result)).some(
    ({ faces }) => faces.some((f) => mine.has(f)) && faces.some((f) => !mine.has(f) && !near.has(wholeFace(names[f]!))),
  );
}

const closesOnItself = (kernel: Kernel, edge: TopoDS_Edge): boolean => {
  const [a, b] = edgeCurveEnds(kernel, edge);
  return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) < 1e-7;
};

/** Rounds of one radius each on a turned body, in its half plane. Undefined where they are not of that kind. */
export function plannedRounds(
  kernel: Kernel,
  body: KernelBody,
  plan: readonly RoundedEdge[],
  stepId: string,
): ReturnType<typeof plannedSoftening> {
  const radii = new Map(plan.map((p) => [p.edge.name, p]));
  const edges = plan.map((p) => p.edge);
  const round = (edge: NamedEdge, corner: Corner): Softening | undefined => {
    const { from, to } = radii.get(edge.name)!;
    return from === to ? { kind: 'round', corner, radius: from, face: `${stepId}/round(${edge.name})` } : undefined;
  };
  return plannedSoftening(kernel, body, edges, round) ?? straightSoftening(kernel, body, edges, round);
}

/** What was planned in the half plane, turned; undefined where nothing was, or the kernel can't turn it. */
function turnedSoftly(
  kernel: Kernel,
  body: KernelBody,
  planned: ReturnType<typeof plannedSoftening>,
  stepId: string,
): Softened | undefined {
  if (!planned) return undefined;
  if (!planned.ok) return planned;
  const done = body.turned
    ? turnMeridian(kernel, body.turned.frame, planned.value, stepId)
    : pushed(kernel, body.straight!, planned.value, stepId);
  return done.ok ? done : undefined;
}

/** The body with edges rounded, each by its own radii. */
export function roundBody(
  kernel: Kernel,
  body: KernelBody,
  plan: readonly RoundedEdge[],
  kinds: ReadonlySet<string>,
  stepId: string,
): Softened {
  const turned = turnedSoftly(kernel, body, plannedRounds(kernel, body, plan, stepId), stepId);
  if (turned) return turned;
  for (const { edge, from, to } of plan)
    if (from !== to && closesOnItself(kernel, edge.edge))
      return fail({ why: 'the edge closes on itself, so that a radius that changes along it would not meet its own beginning' });
  const faces = facesOf(kernel, body.shape);
  const made = attempt(kernel, () =>
    scoped((s) => {
      const maker = s.keep(new kernel.BRepFilletAPI_MakeFillet(body.shape, 'ChFi3d_Rational'));
      for (const { edge, from, to } of plan) {
        // What goes on smoothly from an edge is rounded with it already.
        if (maker.Contour(edge.edge) > 0) continue;
        if (from === to) maker.Add(from, edge.edge);
        else {
          maker.Add(edge.edge);
          const contour = maker.Contour(edge.edge);
          const turned = startsAbove(kernel, s, maker.FirstVertex(contour), edge.edge);
          maker.SetRadius(turned ? to : from, turned ? from : to, contour, 1);
        }
      }
      maker.Build();
      return maker.IsDone() ? collected(kernel, body, maker, faces, stepId, 'round') : undefined;
    }),
  );
  if (!made.ok || !made.value) return fail({ why: NO_ROOM });
  const done = checked(kernel, body, made.value, kinds);
  if (!done.ok) return done;
  const { verified, strips } = done.value;
  if (plan.some((p) => made.value!.bare.has(p.edge.name))) return fail({ why: 'not every edge was rounded' });
  const alike = new Set(plan.flatMap((p) => [p.from, p.to])).size === 1;
  for (const radii of [...new Set(plan.map((p) => `${p.from} ${p.to}`))]) {
    const [from, to] = radii.split(' ').map(Number) as [number, number];
    const own = plan.filter((p) => p.from === from && p.to === to).map((p) => p.edge.name);
    // A strip that came along with a picked edge has that edge's radius only where all have the same.
    const mine = strips.filter((r) => own.includes(r.edge.name) || alike);
    const ball = verifyRounds(kernel, verified, from === to ? from : [Math.min(from, to), Math.max(from, to)], mine);
    if (!ball.ok) return fail({ why: ball.error.why });
  }
  if (plan.some((p) => p.from !== p.to)) {
    const skin = compoundOf(kernel, faces);
    const borders = verifyBorders(kernel, skin, verified, new Set(strips.map((s) => s.face)));
    skin.delete();
    if (!borders.ok) return fail({ why: borders.error.why, ...(borders.error.at ? { at: borders.error.at } : {}) });
  }
  const names = nameFaces(kernel, verified.shape, made.value.claims, stepId);
  if (plan.some((p) => p.from !== p.to)) {
    const beyond = runsInto(kernel, body, verified.shape, names, strips);
    if (beyond) return fail({ why: 'the faces beside the edge are too narrow for it: it would run into what lies beyond them' });
  }
  return ok(softBody(body, verified, names));
}

/** The lines of edges that flow into each other, through the edges asked for; each edge once. */
function smoothLines(kernel: Kernel, body: KernelBody, edges: readonly NamedEdge[]): NamedEdge[][] {
  const all = namedEdges(kernel, body);
  const found = attempt(kernel, () =>
    scoped((s) => {
      const maker = s.keep(new kernel.BRepFilletAPI_MakeFillet(body.shape, 'ChFi3d_Rational'));
      for (const e of edges) if (maker.Contour(e.edge) === 0) maker.Add(e.edge);
      return alongOf(maker, all);
    }),
  );
  if (!found.ok) return edges.map((e) => [e]);
  return [...new Set(found.value.map((f) => f.contour))].map((c) => found.value.filter((f) => f.contour === c).map((f) => f.edge));
}

/**
 * The body with edges rounded so that curvature is continuous: between the contacts a ball of the radius would have, one line of edges after
 * the other.
 * @returns the tightest radius that came about too, mm
 */
export function smoothBody(
  kernel: Kernel,
  body: KernelBody,
  plan: readonly { readonly edge: NamedEdge; readonly radius: number }[],
  kinds: ReadonlyMap<string, 'convex' | 'concave'>,
  stepId: string,
): Result<{ body: KernelBody; radius: number }, Pick<StepFailure, 'why' | 'at'>> {
  const lines = smoothLines(
    kernel,
    body,
    plan.map((p) => p.edge),
  );
  for (const [i, a] of lines.entries())
    for (const b of lines.slice(i + 1))
      for (const e of a)
        for (const f of b) {
          const d = distanceBetween(kernel, e.edge, f.edge);
          if (d && d.distance < 1e-6)
            return fail({ why: 'two of the edges meet in a corner, which a curvature-continuous round does not turn', at: d.onA });
        }
  let now = body;
  let tightest = Number.POSITIVE_INFINITY;
  for (const line of lines) {
    const own = plan.find((p) => line.some((e) => e.name === p.edge.name))!;
    const convex = (kinds.get(own.edge.name) ?? 'convex') === 'convex';
    for (const { name } of line) {
      const edge = namedEdges(kernel, now).find((e) => e.name === name);
      const faces = facesOf(kernel, now.shape);
      if (edge?.faces.length !== 2) return fail({ why: 'the rounds before it take the edge away' });
      const pair = [faces[edge.faces[0]!]!, faces[edge.faces[1]!]!] as const;
      const done = smoothRound(kernel, now, edge.edge, pair, own.radius, convex, name, stepId);
      if (!done.ok) return fail({ why: done.error });
      now = done.value.body;
      tightest = Math.min(tightest, done.value.radius);
    }
  }
  if (leftovers(now, stepId)) return fail({ why: 'it would cut into what lies beside it, or end in a step' });
  return ok({ body: now, radius: tightest });
}

export interface Bevel {
  /** On the first face, mm. */
  readonly first: number;
  /** On the other face, mm; undefined with an angle. */
  readonly second?: number;
  /** To the first face, rad. */
  readonly angle?: number;
  /** The first face is the edge's second by name. */
  readonly swapped: boolean;
}

/** Bevels of a turned body, in its half plane: by an angle only where the first face is straight there. Undefined where they are not of that kind. */
export function plannedBevels(
  kernel: Kernel,
  body: KernelBody,
  edges: readonly NamedEdge[],
  bevel: Bevel,
  stepId: string,
): ReturnType<typeof plannedSoftening> {
  const across = (edge: NamedEdge, corner: Corner, section: Meridian): Softening | undefined => {
    const loop = section.loops[corner.loop]!;
    const [ends, begins] = [loop[corner.index]!, loop[(corner.index + 1) % loop.length]!];
    const names = edge.faces.map((i) => body.faces[i]!).sort();
    const first = bevel.swapped ? names[1]! : names[0]!;
    let second = bevel.second ?? bevel.first;
    if (bevel.angle !== undefined) {
      if (ends.curve.kind !== 'line' || begins.curve.kind !== 'line') return undefined;
      // The triangle between corner and bevel: one side, the angle at its far end, and the angle of the corner.
      const inner = Math.PI - Math.abs(turnAt(ends.curve, begins.curve));
      const third = Math.PI - inner - bevel.angle;
      if (!(third > 1e-6)) return undefined;
      second = (bevel.first * Math.sin(bevel.angle)) / Math.sin(third);
    }
    const [before, after] = ends.face === first ? [bevel.first, second] : [second, bevel.first];
    return { kind: 'bevel', corner, before, after, face: `${stepId}/chamfer(${edge.name})` };
  };
  return (
    plannedSoftening(kernel, body, edges, (edge, corner, turned) => across(edge, corner, turned.meridian)) ??
    straightSoftening(kernel, body, edges, across)
  );
}

/** The body with edges bevelled. */
export function bevelBody(
  kernel: Kernel,
  body: KernelBody,
  edges: readonly NamedEdge[],
  bevel: Bevel,
  kinds: ReadonlySet<string>,
  stepId: string,
): Softened {
  const turned = turnedSoftly(kernel, body, plannedBevels(kernel, body, edges, bevel, stepId), stepId);
  if (turned) return turned;
  const faces = facesOf(kernel, body.shape);
  /** The face the first distance lies on: by name, which stays when the kernel's order changes. */
  const firstFace = (e: NamedEdge): number => {
    const [a, b] = e.faces as [number, number];
    const byName = body.faces[a]! <= body.faces[b]! ? a : b;
    return bevel.swapped ? (byName === a ? b : a) : byName;
  };
  const made = attempt(kernel, () =>
    scoped((s) => {
      const maker = s.keep(new kernel.BRepFilletAPI_MakeChamfer(body.shape));
      for (const e of edges) {
        if (maker.Contour(e.edge) > 0) continue;
        const face = faces[firstFace(e)]!;
        if (bevel.angle !== undefined) maker.AddDA(bevel.first, bevel.angle, e.edge, face);
        else maker.Add(bevel.first, bevel.second ?? bevel.first, e.edge, face);
      }
      maker.Build();
      return maker.IsDone() ? collected(kernel, body, maker, faces, stepId, 'chamfer') : undefined;
    }),
  );
  if (!made.ok || !made.value) return fail({ why: NO_ROOM });
  const done = checked(kernel, body, made.value, kinds);
  if (!done.ok) return done;
  const { verified, strips } = done.value;
  if (edges.some((e) => made.value!.bare.has(e.name))) return fail({ why: 'not every edge was bevelled' });
  const wrong = bevelWrong(kernel, verified, strips, edges, bevel, (e) => faces[firstFace(e)]!);
  if (wrong) return fail({ why: wrong });
  return ok(softBody(body, verified, nameFaces(kernel, verified.shape, made.value.claims, stepId)));
}

/**
 * On flat faces a bevel must begin at its distance from where the edge was: the strip's nearest place to the edge, on each face's own plane,
 * is that far away. Curved faces are measured by the kernel in its own way and are held to the closed solid alone.
 */
function bevelWrong(
  kernel: Kernel,
  verified: Verified,
  strips: readonly { face: number; edge: NamedEdge; between: readonly (readonly [Shape, Shape])[] }[],
  edges: readonly NamedEdge[],
  bevel: Bevel,
  firstOf: (e: NamedEdge) => TopoDS_Face,
): string | undefined {
  const result = facesOf(kernel, verified.shape);
  const flat = (f: Shape): boolean => {
    const surface = new kernel.BRepAdaptor_Surface(kernel.TopoDS.Face(f), true);
    const is = surface.GetType() === 'GeomAbs_Plane';
    surface.delete();
    return is;
  };
  const wants = (edge: NamedEdge, side: Shape): number | undefined =>
    side.IsSame(firstOf(edge)) ? bevel.first : bevel.angle !== undefined ? undefined : (bevel.second ?? bevel.first);
  for (const { face, edge, between: pairs } of strips) {
    const between = pairs[0]!;
    if (!edges.some((e) => e.name === edge.name) || !between.every(flat)) continue;
    for (const side of between) {
      const want = wants(edge, side);
      if (want === undefined) continue;
      // Border lines of the strip that lie on this face.
      const explorer = new kernel.TopExp_Explorer(result[face]!, 'TopAbs_EDGE');
      let least = Number.POSITIVE_INFINITY;
      for (; explorer.More(); explorer.Next()) {
        const border = explorer.Current();
        const middle = middleOf(kernel, kernel.TopoDS.Edge(border));
        if ((distanceBetween(kernel, middle, side)?.distance ?? 1) > 1e-6) continue;
        least = Math.min(least, distanceBetween(kernel, border, edge.edge)?.distance ?? Number.POSITIVE_INFINITY);
      }
      explorer.delete();
      if (Number.isFinite(least) && Math.abs(least - want) > 1e-4 + 1e-4 * want && least > 1e-6)
        return `the bevel would begin ${fixed(least, 3)} mm from the edge where ${fixed(want, 3)} mm is asked`;
    }
  }
  return undefined;
}

function middleOf(kernel: Kernel, edge: TopoDS_Edge): Shape {
  return scoped((s) => {
    const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
    const p = s.keep(new kernel.gp_Pnt());
    curve.D0((curve.FirstParameter() + curve.LastParameter()) / 2, p);
    return s.keep(new kernel.BRepBuilderAPI_MakeVertex(p)).Vertex();
  });
}
