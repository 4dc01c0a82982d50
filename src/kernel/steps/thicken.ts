/** Gives a surface an even wall, to one side or both, or moves it along its normals. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, heightOver, normalOf } from '../../core/curves/frame';
import { cross, dot, minus, triple, type Vec3 } from '../../core/geometry/vectors';
import { wholeFace } from '../../core/recipe/names';
import type { ThickenInputs } from '../../core/recipe/steps';
import { isStraight } from '../../core/recipe/steps/thicken';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { areaOf, volumeOf } from '../amounts';
import { asBody, asSurface, type Fix, type KernelBody, type StepFailure } from '../body';
import { booleanOf } from '../boolean';
import { largestWorking, roundDown } from '../largest';
import { type Claim, listOf, nameFaces } from '../names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from '../open';
import { frameOf } from '../placed';
import { slabOf } from '../prism';
import { sew, solidWithin } from '../sewing';
import { distanceBetween, edgesWithFaces, facesOf, solidsOf } from '../shapes';
import { borderChains, loopOf, planeAlong, verifySurface } from '../surface';
import { displayDeflection, tessellate, VERIFY_ANGLE, weldedMesh } from '../tessellate';
import { verifySolid, verifyWall } from '../verify';
import { needBody } from './combine';
import type { ContextOf, StepOutcome, Trial } from './operation';

/** Sides on which a wall stands along the surface's normals. */
type AlongNormals = Exclude<ThickenInputs['side'], 'along' | 'against'>;

type Made = Result<KernelBody, Pick<StepFailure, 'why' | 'at'>>;

/** A surface moved along its normals, every place of it by the same distance. */
function moved(kernel: Kernel, surface: KernelBody, distance: number): Made {
  const made = attempt(kernel, () =>
    scoped((s) => {
      const maker = s.keep(new kernel.BRepOffsetAPI_MakeOffsetShape());
      maker.PerformBySimple(surface.shape, distance);
      if (!maker.IsDone()) return undefined;
      const claims = facesOf(kernel, surface.shape).flatMap((f, i): Claim[] =>
        listOf(kernel, maker.Generated(f)).map((shape) => ({ shape, name: surface.faces[i]! })),
      );
      return { shape: maker.Shape(), claims };
    }),
  );
  if (!made.ok || !made.value) return fail({ why: 'it bends tighter than that' });
  const verified = verifySurface(kernel, made.value.shape);
  if (!verified.ok) return fail({ why: verified.error.why });
  const d = distanceBetween(kernel, surface.shape, verified.value.shape);
  if (!d || Math.abs(d.distance - Math.abs(distance)) > 1e-3)
    return fail({
      why: `it would lie ${fixed(d?.distance ?? 0, 3)} mm away where ${fixed(Math.abs(distance), 3)} mm is asked`,
      ...(d ? { at: d.onA } : {}),
    });
  const names = nameFaces(kernel, verified.value.shape, made.value.claims, 'moved');
  return ok(
    asSurface(
      verified.value,
      names.map((n, i) => (n.startsWith('moved/') ? (surface.faces[i] ?? n) : n)),
    ),
  );
}

/** A surface with a wall. @param wall signed: before the surface where positive */
export function walled(kernel: Kernel, surface: KernelBody, wall: number, stepId: string): Made {
  const made = attempt(kernel, () =>
    scoped((s) => {
      const maker = s.keep(new kernel.BRepOffsetAPI_MakeThickSolid());
      maker.MakeThickSolidBySimple(surface.shape, wall);
      maker.Build();
      if (!maker.IsDone()) return undefined;
      const kept: Claim[] = [];
      const outer: Claim[] = [];
      facesOf(kernel, surface.shape).forEach((f, i) => {
        kept.push({ shape: f, name: surface.faces[i]! });
        for (const g of listOf(kernel, maker.Generated(f)))
          if (g.ShapeType() === 'TopAbs_FACE') outer.push({ shape: g, name: `${stepId}/outer(${surface.faces[i]!})` });
      });
      const shape = maker.Shape();
      const solid = solidsOf(kernel, shape)[0] ?? shape;
      // Behind the surface the builder leaves it inside out.
      return { shape: volumeOf(kernel, solid).volume < 0 ? solid.Reversed() : solid, kept, outer };
    }),
  );
  if (!made.ok || !made.value) return fail({ why: 'it bends tighter than the wall' });
  const { shape, kept, outer } = made.value;
  const verified = verifySolid(kernel, shape);
  if (!verified.ok) return fail({ why: verified.error.why });
  const faces = facesOf(kernel, verified.value.shape);
  const of = (claims: readonly Claim[]): Set<number> =>
    new Set(faces.flatMap((f, i) => (claims.some((c) => c.shape.IsSame(f)) ? [i] : [])));
  const [near, far] = [of(kept), of(outer)];
  if (near.size === 0 || far.size === 0) return fail({ why: 'a side of the wall was lost' });
  const even = verifyWall(kernel, verified.value, Math.abs(wall), far, near);
  if (!even.ok) return fail(even.error);
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, [...kept, ...outer], stepId)));
}

function run(context: ContextOf<'thicken'>, surface: KernelBody, wall: number): Made {
  const { kernel, step } = context;
  const { side, ends } = step.inputs;
  if (isStraight(side)) return pushedAlong(context, surface, side === 'along' ? wall : -wall);
  if (ends !== 'square' || side === 'moved') return sided(kernel, surface, wall, side, step.id);
  const longer = extended(kernel, surface, 2 * wall);
  if (!longer.ok) return leaningFlush(kernel, surface, wall, side, step.id) ?? longer;
  const solid = sided(kernel, longer.value.body, wall, side, step.id);
  return solid.ok ? cutFlush(kernel, surface, solid.value, longer.value.planes, side, step.id) : solid;
}

/**
 * The wall of a surface that can't be carried on beyond its borders, where its ends lean over their planes all along: cut off there.
 * Undefined where some of an end would stay short of its plane.
 */
function leaningFlush(kernel: Kernel, surface: KernelBody, wall: number, side: AlongNormals, stepId: string): Made | undefined {
  const chains = borderChains(kernel, surface.shape);
  if (chains.length === 0 || chains.some((c) => loopOf(c).offPlane > FLAT)) return undefined;
  const solid = sided(kernel, surface, wall, side, stepId);
  if (!solid.ok) return undefined;
  const cut = cutFlush(kernel, surface, solid.value, endPlanes(kernel, surface, chains), side, stepId);
  // What is left of an end across the surface bears the name of faces that nobody claims.
  return cut.ok && cut.value.faces.every((name) => !name.startsWith(`${stepId}/face`)) ? cut : undefined;
}

/** A direction that this little of a surface looks along is one it leans over, as a cosine. */
const STANDING = 1e-3;

/** A surface with a wall that is as thick along a direction everywhere: pushed that way, with ends that stand along it. @param wall signed */
function pushedAlong({ kernel, step, planes, project }: ContextOf<'thicken'>, surface: KernelBody, wall: number): Made {
  const frame = frameOf(step.inputs.plane ?? 'level', planes, project);
  if (!frame.ok) return fail({ why: frame.error.why });
  const n = normalOf(frame.value);
  // Through every place of it the direction passes from the same side: what leans over would be pushed into itself.
  const mesh = weldedMesh(tessellate(kernel, surface.shape, displayDeflection(kernel, surface.shape), VERIFY_ANGLE));
  let flux = 0;
  let [ahead, behind]: (Vec3 | undefined)[] = [undefined, undefined];
  for (let t = 0; t < mesh.indices.length; t += 3) {
    const corner = (k: number): Vec3 => triple((axis) => mesh.positions[3 * mesh.indices[t + k]! + axis]!);
    const [a, b, c] = [corner(0), corner(1), corner(2)];
    const area = cross(minus(b, a), minus(c, a));
    const through = dot(area, n) / 2;
    flux += through;
    if (through > STANDING * Math.hypot(...area)) ahead = a;
    if (through < -STANDING * Math.hypot(...area)) behind = a;
  }
  if (ahead && behind)
    return fail({ why: 'it leans over along that way: part of it would be pushed into itself', at: flux > 0 ? behind : ahead });
  const volume = Math.abs(flux * wall);
  const made = attempt(kernel, () =>
    scoped((s) => {
      const way = s.keep(new kernel.gp_Vec(...(n.map((c) => c * wall) as [number, number, number])));
      const maker = s.keep(new kernel.BRepPrimAPI_MakePrism(surface.shape, way, false, true));
      const faces = facesOf(kernel, surface.shape);
      const given = faces.flatMap((f, i) => [
        { face: f as Shape, name: surface.faces[i]! },
        { face: maker.LastShape(f), name: `${step.id}/outer(${surface.faces[i]!})` },
      ]);
      const ends = edgesWithFaces(kernel, faces)
        .filter((e) => e.faces.length === 1)
        .flatMap((e) => listOf(kernel, maker.Generated(e.edge)).map((face) => ({ face, name: `${step.id}/end` })));
      const sewn = sew(kernel, s, [...given, ...ends], 1e-6);
      return sewn.free > 0 || sewn.multiple > 0 ? undefined : { shape: solidWithin(kernel, s, sewn.shape), claims: sewn.claims };
    }),
  );
  if (!made.ok || !made.value) return fail({ why: made.ok ? 'its ends do not close it' : made.error });
  const verified = verifySolid(kernel, made.value.shape, { volume: [volume * 0.995, volume * 1.005] });
  if (!verified.ok) return fail({ why: verified.error.why });
  return ok(asBody(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, step.id)));
}

function sided(kernel: Kernel, surface: KernelBody, wall: number, side: AlongNormals, stepId: string): Made {
  switch (side) {
    case 'front':
      return walled(kernel, surface, wall, stepId);
    case 'back':
      return walled(kernel, surface, -wall, stepId);
    case 'moved':
      return moved(kernel, surface, wall);
    case 'both': {
      const back = moved(kernel, surface, -wall / 2);
      return back.ok ? walled(kernel, back.value, wall, stepId) : back;
    }
  }
}

/** The planes of a wall's ends, with the side the surface lies on. */
interface EndPlane {
  readonly frame: Frame;
  readonly side: 1 | -1;
}

/** A border this far from a plane still counts as flat, mm. */
const FLAT = 1e-3;

/** The surface carried on beyond its flat borders. @param length how far, mm */
function extended(
  kernel: Kernel,
  surface: KernelBody,
  length: number,
): Result<{ body: KernelBody; planes: EndPlane[] }, Pick<StepFailure, 'why' | 'at'>> {
  const chains = borderChains(kernel, surface.shape).filter((c) => loopOf(c).offPlane <= FLAT);
  if (chains.length === 0) return fail({ why: 'none of its borders is flat, so there is no plane for its ends' });
  const faces = facesOf(kernel, surface.shape);
  const edges = chains.flatMap((c) => c.map((e) => e.edge));
  const made = attempt(kernel, () =>
    scoped((s) => {
      const longer = faces.map((face) => {
        const sides = naturalSides(kernel, s, face, edges);
        if (!sides) return undefined;
        if (!sides.some((x) => x)) return face;
        const out = new kernel.TopoDS_Face();
        kernel.BRepLib.ExtendFace(face, length, ...sides, out);
        return out;
      });
      if (longer.some((f) => f === undefined)) return undefined;
      const given = longer.map((f, i) => ({ face: f!, name: surface.faces[i]! }));
      return sew(kernel, s, given, 1e-4);
    }),
  );
  if (!made.ok) return fail({ why: 'it can’t be carried on beyond its borders' });
  if (!made.value) return fail({ why: 'a border does not run along the surface’s own edge, so it can’t be carried on' });
  const verified = verifySurface(kernel, made.value.shape);
  if (!verified.ok) return fail({ why: `carried on beyond its borders, ${verified.error.why}` });
  const body = asSurface(verified.value, nameFaces(kernel, verified.value.shape, made.value.claims, 'moved'));
  return ok({ body, planes: endPlanes(kernel, surface, chains) });
}

function endPlanes(kernel: Kernel, surface: KernelBody, chains: ReturnType<typeof borderChains>): EndPlane[] {
  const { positions } = tessellate(kernel, surface.shape, displayDeflection(kernel, surface.shape));
  return chains.map((chain) => {
    const { frame } = planeAlong(chain);
    let above = 0;
    for (let i = 0; i < positions.length; i += 3) above += heightOver(frame, [positions[i]!, positions[i + 1]!, positions[i + 2]!]);
    return { frame, side: above >= 0 ? 1 : -1 };
  });
}

/** Which of a face's own ends (first and last of either parameter) carry one of these edges. Undefined where one lies on none of them. */
function naturalSides(
  kernel: Kernel,
  s: Scope,
  face: TopoDS_Face,
  edges: readonly Shape[],
): [boolean, boolean, boolean, boolean] | undefined {
  const sides: [boolean, boolean, boolean, boolean] = [false, false, false, false];
  const b = kernel.BRepTools.UVBounds(face, 0, 0, 0, 0);
  const surface = s.keep(kernel.BRep_Tool.Surface(face));
  for (const { edge } of edgesWithFaces(kernel, [face])) {
    if (!edges.some((e) => e.IsSame(edge))) continue;
    const curve = s.keep(new kernel.BRepAdaptor_Curve(edge));
    const p = s.keep(new kernel.gp_Pnt());
    const at = [0.31, 0.63].map((t) => {
      curve.D0(curve.FirstParameter() + t * (curve.LastParameter() - curve.FirstParameter()), p);
      const { U, V } = s.keep(new kernel.GeomAPI_ProjectPointOnSurf(p, surface, 'Extrema_ExtAlgo_Grad')).LowerDistanceParameters(0, 0);
      return { U, V };
    });
    const on = (axis: 'U' | 'V', bound: number, span: number): boolean => at.every((q) => Math.abs(q[axis] - bound) < 1e-5 * span);
    const [du, dv] = [b.UMax - b.UMin, b.VMax - b.VMin];
    const found = [on('U', b.UMin, du), on('U', b.UMax, du), on('V', b.VMin, dv), on('V', b.VMax, dv)];
    if (!found.some((x) => x)) return undefined;
    for (const [k, x] of found.entries()) if (x) sides[k] = true;
  }
  return sides;
}

/** The solid without what reaches beyond the planes of the surface's borders; of the surface itself nothing may be lost. */
function cutFlush(
  kernel: Kernel,
  surface: KernelBody,
  solid: KernelBody,
  planes: readonly EndPlane[],
  side: ThickenInputs['side'],
  stepId: string,
): Made {
  let now = solid;
  for (const { frame, side: sign } of planes) {
    const names = { from: `${stepId}/end`, to: `${stepId}/far` };
    const beyond = slabOf(kernel, now.shape, frame, 0, -sign * Number.POSITIVE_INFINITY, names, stepId);
    const cut = beyond && booleanOf(kernel, 'cut', now, [beyond], { target: 'the wall', tool: 'its end' }, stepId);
    if (!cut?.ok) return fail({ why: cut ? `its ends can’t be cut flush: ${cut.error.why}` : 'its ends can’t be cut flush' });
    now = cut.value;
  }
  if (side === 'both') return ok(now);
  const own = new Set(surface.faces.map(wholeFace));
  const left = facesOf(kernel, now.shape).reduce((sum, f, i) => sum + (own.has(wholeFace(now.faces[i]!)) ? areaOf(kernel, f) : 0), 0);
  const whole = areaOf(kernel, surface.shape);
  if (Math.abs(left / whole - 1) > 1e-5) return fail({ why: 'the planes of its borders cut the surface itself' });
  return ok(now);
}

export function thicken(context: ContextOf<'thicken'>): StepOutcome {
  const { project, step } = context;
  const inputs = step.inputs;
  const surface = needBody(context, inputs.body, 'there is nothing to give a wall to');
  if (!surface.ok) return surface;
  const name = bodyWords(inputs.body, project);
  const wall = context.values.wall;
  if (!surface.value.surface)
    return fail({
      what: `${name} can’t be given a wall`,
      why: 'it is a solid already',
      tryInstead: ['hollow it instead', 'choose a surface'],
    });
  const began = performance.now();
  const done = run(context, surface.value, wall);
  const took = performance.now() - began;
  if (done.ok) return ok({ bodies: [{ id: inputs.body, body: done.value }], volumeChange: done.value.volume, warnings: [] });
  // What can't end in its borders' planes may still end across the surface, as it was asked thick.
  const { side } = inputs;
  const across =
    inputs.ends === 'square' && side !== 'moved' && !isStraight(side) && sided(context.kernel, surface.value, wall, side, step.id).ok;
  const refuse = (tryInstead: string, fixes: Fix[]): StepOutcome =>
    fail({ ...done.error, what: `${name} can’t have a wall of ${fixed(wall, 2)} mm`, tryInstead: [tryInstead], fixes });
  if (across)
    return refuse('its ends across the surface', [
      { words: 'Let its ends stand across the surface', step: step.id, inputs: { ends: 'normal' } },
    ]);
  const best = largestWorking((t) => run(context, surface.value, t).ok, wall, took);
  if (best === undefined) return refuse('give it to the other side, or smooth what bends too tightly', []);
  const works = `${roundDown(best)} mm`;
  return refuse(`${works} works`, [{ words: `Use ${works}`, step: step.id, values: { wall: works } }]);
}

/** The same step once more with another wall: what its range is tried with. */
export async function thickenTrial(context: ContextOf<'thicken'>): Promise<Trial | undefined> {
  const surface = context.bodies.get(context.step.inputs.body);
  if (!surface?.surface) return undefined;
  return { room: undefined, works: (wall) => run(context, surface, wall).ok };
}
