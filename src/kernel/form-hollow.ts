/** A body of a form hollowed by a form inside it: the shell of a skin of many spline faces takes the kernel minutes, where it comes to an end. */
import type { TopoDS_Face } from 'replicad-opencascadejs';
import { type Frame, heightOver, ORIGIN_PLANES, shifted } from '../core/curves/frame';
import type { Cage } from '../core/form/cage';
import { insideForm } from '../core/form/inside';
import { limitMesh } from '../core/form/limit';
import { stepOf, wholeFace } from '../core/recipe/names';
import { fail, ok, type Result } from '../core/result';
import { areaOf, volumeOf } from './amounts';
import { asBody, type KernelBody, type StepFailure } from './body';
import { booleanOf } from './boolean';
import { formShape } from './form-solid';
import { type Claim, nameFaces } from './names';
import { attempt, type Kernel, type Scope, type Shape, scoped } from './open';
import { squareAcross } from './prism';
import { flatFrame } from './refer';
import type { FoundFace } from './select';
import type { Given } from './sewing';
import { facesOf, roughBounds, subShapes } from './shapes';
import { sewFaces } from './skin';
import { parted } from './steps/split';
import { weldedMesh } from './tessellate';
import { verifySolid, verifyWall } from './verify';

type Refused = Pick<StepFailure, 'why' | 'at'>;

/** What the wall may come out short by, and be planned thicker for once, mm. */
const SHORT = 0.1;

/**
 * The body less a form that keeps the wall from its skin, and from its flat faces but for those that are open.
 * @param form the cage the body is cut from
 */
export function formHollow(
  kernel: Kernel,
  body: KernelBody,
  form: Cage,
  open: readonly FoundFace[],
  wall: number,
  stepId: string,
): Result<KernelBody, Refused> {
  const first = hollowBy(kernel, body, form, open, wall, wall, stepId);
  if (first.ok || first.error.wall === undefined || wall - first.error.wall > SHORT) return first;
  // Planned on facets: where the exact wall is a little short, once more with as much more.
  return hollowBy(kernel, body, form, open, wall, 2 * wall - first.error.wall + 2e-3, stepId);
}

function hollowBy(
  kernel: Kernel,
  body: KernelBody,
  form: Cage,
  open: readonly FoundFace[],
  asked: number,
  planned: number,
  stepId: string,
): Result<KernelBody, Refused & { readonly wall?: number | undefined }> {
  const inside = insideForm(form, planned);
  if (!inside.ok) return inside;
  const made = attempt(kernel, () => formShape(kernel, inside.value.patches, ORIGIN_PLANES.level, formIn(body), false));
  if (!made.ok) return fail({ why: made.error });
  if (!made.value.ok) return fail({ why: made.value.error.why });
  const { shape: whole, claims } = made.value.value;
  const renamed = claims.map((c) => ({ ...c, name: `${stepId}/inner(${c.name})` }));
  let tool: Tool = { shape: whole, faces: nameFaces(kernel, whole, renamed, stepId) };
  const skin = limitMesh(inside.value.net, 2).places;
  const opened = new Set(open.map((f) => f.index));
  for (const [i, face] of facesOf(kernel, body.shape).entries()) {
    const out = opened.has(i) ? undefined : flatFrame(kernel, face);
    if (!out) continue;
    const floor = shifted(out, -planned);
    // What the form does not reach needs no floor.
    if (!beyond(skin, (x, y, z) => heightOver(floor, [x, y, z]))) continue;
    const cut = cutOff(kernel, tool, floor, 'floor', stepId);
    if (!cut) return fail({ why: 'the inside can’t be cut off at a floor' });
    tool = cut;
  }
  const done = without(kernel, body, tool, open, stepId);
  if (!done.ok) return done;
  const { shape, volume, mesh, faces } = done.value;
  if (!mesh) return fail({ why: 'the wall could not be measured' });
  const own = (n: string): boolean => n.startsWith(`${stepId}/`);
  const mouths = new Set(open.map((f) => wholeFace(body.faces[f.index]!)));
  const of = (want: (n: string) => boolean): Set<number> => new Set(faces.flatMap((n, i) => (want(n) ? [i] : [])));
  const walls = verifyWall(
    kernel,
    { shape, volume, solids: 1, mesh, skin: weldedMesh(mesh) },
    asked,
    of(own),
    of((n) => !own(n) && !mouths.has(wholeFace(n))),
    Number.POSITIVE_INFINITY,
  );
  return walls.ok ? ok(done.value) : fail({ why: walls.error.why, wall: walls.error.wall });
}

/** A solid with its names that is part of another's making. */
type Tool = Pick<KernelBody, 'shape' | 'faces'>;

/** What lies under a plane; undefined where that is not one piece, or nothing lies over it. @param name of the face that the plane leaves */
function cutOff(kernel: Kernel, tool: Tool, plane: Frame, name: string, stepId: string): Tool | undefined {
  const cut = attempt(kernel, () =>
    parted(
      kernel,
      { ...tool, volume: 0 },
      { words: '', first: (p) => heightOver(plane, p) > 0, make: (s) => [squareAcross(kernel, s, plane, tool.shape)] },
      stepId,
    ),
  );
  if (!cut.ok || !cut.value || cut.value.pieces.length < 2) return undefined;
  const [rest, more] = cut.value.pieces.filter((p) => !p.first);
  if (!rest || more) return undefined;
  const names = nameFaces(kernel, rest.shape, cut.value.claims, stepId);
  return { shape: rest.shape, faces: names.map((n) => (n.startsWith(`${stepId}/cut`) ? n.replace('/cut', `/${name}`) : n)) };
}

/** A body less what lies inside it and reaches out through its open faces. */
function without(kernel: Kernel, body: KernelBody, tool: Tool, open: readonly FoundFace[], stepId: string): Result<KernelBody, Refused> {
  const sewn = attempt(kernel, () => openedBy(kernel, body, tool, open, stepId));
  if (sewn.ok && sewn.value) return ok(sewn.value);
  // Where the two only touch, or a mouth has more than one border, the kernel intersects all with all.
  const solid = verifySolid(kernel, tool.shape);
  if (!solid.ok) return fail({ why: `the form inside does not close: ${solid.error.why}` });
  const inside = asBody(solid.value, tool.faces);
  const done = booleanOf(kernel, 'cut', body, [inside], { target: 'the body', tool: 'its inside' }, stepId);
  return done.ok ? done : fail({ why: done.error.why, ...(done.error.at ? { at: done.error.at } : {}) });
}

/**
 * The same without an intersection of skins that nowhere meet: the inside is cut off level with each open face, which gets its section as a hole.
 * Undefined where that is not what comes of it, which the volume proves.
 */
function openedBy(kernel: Kernel, body: KernelBody, tool: Tool, open: readonly FoundFace[], stepId: string): KernelBody | undefined {
  return scoped((s) => {
    let inside = tool;
    for (const { face, index } of open) {
      const plane = flatFrame(kernel, face);
      const cut = plane && cutOff(kernel, inside, plane, `mouth${index}`, stepId);
      if (!cut) return undefined;
      inside = cut;
    }
    const inner = facesOf(kernel, inside.shape).map((face, i) => ({ face, name: inside.faces[i]! }));
    const rims: Given[] = [];
    for (const { face, index } of open) {
      let rim: TopoDS_Face | undefined = kernel.TopoDS.Face(face);
      for (const mouth of inner.filter((f) => f.name.startsWith(`${stepId}/mouth${index}`)))
        rim = rim && withHole(kernel, s, rim, kernel.TopoDS.Face(mouth.face));
      if (!rim) return undefined;
      rims.push({ face: rim, name: body.faces[index]! });
    }
    const shut = new Set(open.map((f) => f.index));
    const outer = facesOf(kernel, body.shape).flatMap((face, i): Given[] => (shut.has(i) ? [] : [{ face, name: body.faces[i]! }]));
    const sides = inner.filter((f) => !f.name.startsWith(`${stepId}/mouth`));
    const given = [...outer, ...rims, ...sides.map(({ face, name }): Given => ({ face: face.Reversed(), name }))];
    // With nothing open the two are skins apart, and nothing is sewn.
    const made =
      open.length > 0 ? sewFaces(kernel, s, given) : { shape: around(kernel, s, body.shape, inside.shape), claims: asClaims(given) };
    if (!made) return undefined;
    const expected = body.volume - Math.abs(volumeOf(kernel, inside.shape).volume);
    const near = 1e-6 * body.volume;
    const verified = verifySolid(kernel, made.shape, {
      volume: [expected - near, expected + near],
      inside: roughBounds(kernel, body.shape),
    });
    if (!verified.ok) return undefined;
    return asBody(verified.value, nameFaces(kernel, verified.value.shape, made.claims, stepId));
  });
}

const asClaims = (given: readonly Given[]): Claim[] => given.map(({ face, name }) => ({ shape: face, name }));

/** A solid with a cavity in it. */
function around(kernel: Kernel, s: Scope, outer: Shape, inner: Shape): Shape {
  const [skin, inside] = [outer, inner.Reversed()].map((shape) => kernel.TopoDS.Shell(subShapes(kernel, shape, 'TopAbs_SHELL')[0]!));
  return s.keep(new kernel.BRepBuilderAPI_MakeSolid(skin!, inside!)).Solid();
}

/** A flat face with a hole of the form of another on the same plane; undefined where that has holes of its own. */
function withHole(kernel: Kernel, s: Scope, face: TopoDS_Face, hole: TopoDS_Face): TopoDS_Face | undefined {
  if (subShapes(kernel, hole, 'TopAbs_WIRE').length !== 1) return undefined;
  const wire = kernel.BRepTools.OuterWire(hole);
  const wanted = areaOf(kernel, face) - areaOf(kernel, hole);
  for (const way of [wire, kernel.TopoDS.Wire(wire.Reversed())]) {
    const maker = s.keep(new kernel.BRepBuilderAPI_MakeFace(face, way));
    if (!maker.IsDone()) continue;
    const made = maker.Face();
    if (Math.abs(areaOf(kernel, made) - wanted) < 1e-6 * wanted) return made;
  }
  return undefined;
}

/** The step that made the form, by the names of its faces. */
const formIn = (body: KernelBody): string => stepOf(body.faces.find((n) => /^[^/()]+\/f\d/.test(n)) ?? '') || 'form';

function beyond(places: Float64Array, height: (x: number, y: number, z: number) => number): boolean {
  for (let i = 0; i < places.length; i += 3) if (height(places[i]!, places[i + 1]!, places[i + 2]!) > 1e-6) return true;
  return false;
}
