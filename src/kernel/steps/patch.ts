/** One smooth surface within a closed border: it meets every curve of it, and passes those that are to be passed smoothly. */
import type { TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs';
import { normalOf } from '../../core/curves/frame';
import { type SpaceCurve, spaceAt } from '../../core/curves/path';
import { along, cross, distance, dot, minus, type Vec3 } from '../../core/geometry/vectors';
import type { PathRef } from '../../core/recipe/steps';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asSurface, type StepFailure, wanting } from '../body';
import { flatFace } from '../caps';
import { attempt, type Kernel, type Scope, type Shape, scoped } from '../open';
import { chained, curvesOf, edgeOf, hangingTogether } from '../refer';
import { distanceBetween, edgesWithFaces, facesOf, vertexAt } from '../shapes';
import { planeThrough, shellOf, verifySurface } from '../surface';
import { spaceEdge } from '../wires';
import type { ContextOf, StepOutcome } from './operation';

const FAILED = 'the patch can’t be made';
const missing = wanting(FAILED);
/** Ends of a border meet within this, mm. */
const END = 1e-4;
/** A patch leaves its border by no more than this, mm. */
const OFF = 1e-3;
/** Places a border curve is held against the patch at. */
const LOOKS = 17;
/** Borders within this of one plane are filled flat, mm. */
const FLAT = 1e-5;
/** Stretches of a curve that the area within it is summed over. */
const FINE = 512;
/** What the kernel turns by at most along a smooth border is told beyond this, rad. */
const TURNED = (0.1 * Math.PI) / 180;

interface Side {
  readonly curve: SpaceCurve;
  readonly edge: TopoDS_Edge;
  /** The face it goes on from. */
  readonly support: TopoDS_Face | undefined;
}

export function patch(context: ContextOf<'patch'>): StepOutcome {
  const { kernel, step } = context;
  const { paths, smooth } = step.inputs;
  if (paths.length + smooth.length === 0) return missing('no border is picked', 'pick edges on the stage, or lines on the board');
  return scoped((s): StepOutcome => {
    const sides: Side[] = [];
    for (const [refs, passed] of [
      [paths, false],
      [smooth, true],
    ] as const)
      for (const ref of refs) {
        const made = sidesOf(context, s, ref, passed);
        if (!made.ok) return made;
        sides.push(...made.value);
      }
    const flat = smooth.length === 0 ? flatWithin(context, s, sides) : undefined;
    if (flat) return flat;
    const ordered = inOrder(sides);
    if (!ordered.ok) return ordered;
    const made = attempt(kernel, () => filled(kernel, ordered.value));
    if (!made.ok || !made.value)
      return fail({
        what: FAILED,
        why: made.ok ? 'no surface within this border was found' : made.error,
        tryInstead: ['part the border by a curve across it, and patch both', 'pass fewer of its curves smoothly'],
      });
    const { shape, turned } = made.value;
    const off = farthestOff(kernel, s, shape, ordered.value);
    if (off.distance > OFF)
      return fail({
        what: FAILED,
        why: `it would leave its border by ${fixed(off.distance, 3)} mm`,
        tryInstead: ['part the border by a curve across it, and patch both'],
        at: off.at,
      });
    const verified = verifySurface(kernel, shape);
    if (!verified.ok)
      return fail({ what: FAILED, why: verified.error.why, tryInstead: ['a border that bends less'], ...placed(verified.error.at) });
    const angle = (turned * 180) / Math.PI;
    return ok({
      bodies: [
        {
          id: step.id,
          body: asSurface(
            verified.value,
            facesOf(kernel, verified.value.shape).map(() => `${step.id}/patch`),
          ),
        },
      ],
      volumeChange: 0,
      warnings:
        turned > TURNED
          ? [{ message: `it turns by ${fixed(angle, 2)}° along what it is to pass smoothly: the border's curves do not let it` }]
          : [],
      note: `meets its border within ${fixed(off.distance, 5)} mm${smooth.length > 0 ? `, and what it passes within ${fixed(angle, 3)}°` : ''}`,
    });
  });
}

/** Twice the area that curves sweep about a place, as a direction. */
function sweptBy(curves: readonly SpaceCurve[], about: Vec3): Vec3 {
  let sum: Vec3 = [0, 0, 0];
  for (const c of curves)
    for (let i = 0; i < FINE; i++)
      sum = along(sum, cross(minus(spaceAt(c, i / FINE).p, about), minus(spaceAt(c, (i + 1) / FINE).p, about)), 1);
  return sum;
}

/** A flat fill, where all borders lie in one plane: the largest bounds it, the others are holes. Undefined where they do not, or one is open. */
function flatWithin({ kernel, step }: ContextOf<'patch'>, s: Scope, sides: readonly Side[]): StepOutcome | undefined {
  const points = sides.flatMap(({ curve }) => Array.from({ length: LOOKS }, (_, i) => spaceAt(curve, i / (LOOKS - 1)).p));
  const { frame, off } = planeThrough(points);
  if (off > FLAT) return undefined;
  const loops = hangingTogether(sides, (side) => side.curve).map((group) => ({ group, chain: chained(group.map((side) => side.curve)) }));
  const rings = loops.flatMap(({ group, chain }) => {
    const closed = chain && distance(spaceAt(chain[0]!, 0).p, spaceAt(chain[chain.length - 1]!, 1).p) < END;
    return closed ? [{ group, area: Math.abs(dot(sweptBy(chain, frame.origin), normalOf(frame))) / 2 }] : [];
  });
  if (rings.length !== loops.length) return undefined;
  const [outer, ...holes] = rings.toSorted((a, b) => b.area - a.area);
  const area = outer!.area - holes.reduce((sum, h) => sum + h.area, 0);
  const made = attempt(kernel, () => {
    const list = (group: readonly Side[]) =>
      flatFace(
        kernel,
        s,
        group.map((side) => side.edge),
        frame,
      );
    const [whole, ...gone] = [list(outer!.group), ...holes.map((h) => list(h.group))];
    if (!whole || gone.some((g) => !g)) return undefined;
    // Holes are cut out face from face: their way round does not matter then.
    let now: Shape = whole;
    for (const hole of gone) {
      const op = s.keep(new kernel.BRepAlgoAPI_Cut(now, hole!));
      if (!op.IsDone()) return undefined;
      now = op.Shape();
    }
    const faces = facesOf(kernel, now);
    return faces.length === 1 ? shellOf(kernel, s, faces) : undefined;
  });
  const wrong = (why: string): StepOutcome =>
    fail({
      what: FAILED,
      why,
      tryInstead: holes.length > 0 ? ['borders that lie within the largest, and apart'] : ['a border that does not cross itself'],
    });
  if (!made.ok || !made.value) return wrong(made.ok ? 'no flat face within these borders was found' : made.error);
  const slack = 1e-3 * outer!.area;
  const verified = verifySurface(kernel, made.value, [area - slack, area + slack]);
  if (!verified.ok) return wrong(verified.error.check === 'volume' ? 'its borders cross or overlap' : verified.error.why);
  return ok({
    bodies: [{ id: step.id, body: asSurface(verified.value, [`${step.id}/patch`]) }],
    volumeChange: 0,
    warnings: [],
    note: `flat${holes.length > 0 ? `, with ${holes.length} hole${holes.length === 1 ? '' : 's'}` : ''}; meets its border within ${fixed(off, 5)} mm`,
  });
}

const placed = (at: Vec3 | undefined) => (at ? { at } : {});

/** The curves of a pick as sides of the border. */
function sidesOf(context: ContextOf<'patch'>, s: Scope, ref: PathRef, passed: boolean): Result<Side[], StepFailure> {
  const { kernel } = context;
  const curves = curvesOf(context, ref, false);
  if (!curves.ok) return curves;
  if ('body' in ref) {
    const edge = edgeOf(context, ref);
    if (!edge.ok) return edge;
    if (!passed) return ok([{ curve: curves.value[0]!, edge: edge.value, support: undefined }]);
    const faces = facesOf(kernel, context.bodies.get(ref.body)!.shape);
    const beside = edgesWithFaces(kernel, faces).find((e) => e.edge.IsSame(edge.value))?.faces ?? [];
    if (beside.length !== 1)
      return fail({
        what: FAILED,
        why: 'it can’t tell which face to go on from: an edge it is to pass has one on either side',
        tryInstead: ['let it only meet that edge', 'pick a border of a surface'],
        at: spaceAt(curves.value[0]!, 0.5).p,
      });
    return ok([{ curve: curves.value[0]!, edge: edge.value, support: faces[beside[0]!] as TopoDS_Face }]);
  }
  const sides: Side[] = [];
  for (const curve of curves.value) {
    const edge = spaceEdge(kernel, s, curve);
    if (!passed) {
      sides.push({ curve, edge, support: undefined });
      continue;
    }
    if (curve.kind !== 'planar')
      return fail({
        what: FAILED,
        why: 'a curve in space that it is to pass has no plane to be square to',
        tryInstead: ['let it only meet that curve', 'pass a drawn line or the border of a surface'],
        at: spaceAt(curve, 0.5).p,
      });
    const [x, y, z] = normalOf(curve.frame);
    const ribbon = s.keep(new kernel.BRepPrimAPI_MakePrism(edge, s.keep(new kernel.gp_Vec(x, y, z)), false, true)).Shape();
    sides.push({ curve, edge, support: facesOf(kernel, ribbon)[0] as TopoDS_Face });
  }
  return ok(sides);
}

/** The sides end to end round the border; in words where they do not close. */
function inOrder(sides: readonly Side[]): Result<Side[], StepFailure> {
  const chain = chained(sides.map((side) => side.curve));
  if (!chain)
    return fail({
      what: FAILED,
      why: 'its curves do not hang together',
      unfinished: true,
      tryInstead: ['pick the curves that are missing between them'],
    });
  const [head, tail] = [spaceAt(chain[0]!, 0).p, spaceAt(chain[chain.length - 1]!, 1).p];
  const gap = distance(head, tail);
  if (gap > END)
    return fail({
      what: FAILED,
      why: `its border is open: its ends are ${fixed(gap, 3)} mm apart`,
      unfinished: true,
      tryInstead: ['pick what closes it'],
      at: tail,
    });
  const left = [...sides];
  const ordered = chain.map((c) => {
    const middle = spaceAt(c, 0.5).p;
    const i = left.reduce((best, side, k) => (away(side, middle) < away(left[best]!, middle) ? k : best), 0);
    return left.splice(i, 1)[0]!;
  });
  return ok(ordered);
}
const away = (side: Side, p: Vec3): number => distance(spaceAt(side.curve, 0.5).p, p);

/** The kernel's surface of least bending energy within the border, with its largest turn along what it passes, rad. */
function filled(kernel: Kernel, sides: readonly Side[]): { readonly shape: Shape; readonly turned: number } | undefined {
  return scoped((s) => {
    const smooth = sides.some((side) => side.support);
    const filling = s.keep(new kernel.BRepOffsetAPI_MakeFilling(3, 30, 3, false, 1e-6, 1e-6, 1e-3, 0.1, 8, smooth ? 60 : 40));
    for (const { edge, support } of sides)
      if (support) filling.Add(edge, support, 'GeomAbs_G1', true);
      else filling.Add(edge, 'GeomAbs_C0', true);
    filling.Build();
    if (!filling.IsDone()) return undefined;
    const faces = facesOf(kernel, filling.Shape());
    if (faces.length !== 1) return undefined;
    return { shape: shellOf(kernel, s, faces), turned: smooth ? filling.G1Error() : 0 };
  });
}

/** The largest distance of places on the border from the patch, by the kernel's distances and not by what the filling says of itself. */
function farthestOff(kernel: Kernel, s: Scope, shape: Shape, sides: readonly Side[]): { readonly distance: number; readonly at: Vec3 } {
  let worst = { distance: 0, at: [0, 0, 0] as Vec3 };
  for (const { curve } of sides)
    for (let i = 0; i < LOOKS; i++) {
      const p = spaceAt(curve, i / (LOOKS - 1)).p;
      const d = distanceBetween(kernel, s.keep(vertexAt(kernel, p)), shape)?.distance ?? Number.POSITIVE_INFINITY;
      if (d > worst.distance) worst = { distance: d, at: p };
    }
  return worst;
}
