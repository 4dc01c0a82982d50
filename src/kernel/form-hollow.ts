/** A body of a form hollowed by a form inside it: the shell of a skin of many spline faces takes the kernel minutes, where it comes to an end. */
import { heightOver, ORIGIN_PLANES, shifted } from '../core/curves/frame';
import { type Cage, netOf } from '../core/form/cage';
import { skinOf } from '../core/form/deviation';
import { insideForm } from '../core/form/inside';
import { limitMesh } from '../core/form/limit';
import { stepOf, wholeFace } from '../core/recipe/names';
import { fail, ok, type Result } from '../core/result';
import { asBody, type KernelBody, type StepFailure } from './body';
import { booleanOf } from './boolean';
import { formShape } from './form-solid';
import { nameFaces } from './names';
import { attempt, type Kernel } from './open';
import { squareAcross } from './prism';
import { flatFrame } from './refer';
import type { FoundFace } from './select';
import { facesOf } from './shapes';
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
  const net = netOf(inside.value.cage);
  if (!net.ok) return fail({ why: net.error.what });
  const made = attempt(kernel, () =>
    formShape(kernel, skinOf(inside.value.cage, net.value, 'well'), ORIGIN_PLANES.level, formIn(body), false),
  );
  if (!made.ok) return fail({ why: made.error });
  if (!made.value.ok) return fail({ why: made.value.error.why });
  const solid = verifySolid(kernel, made.value.value.shape);
  if (!solid.ok) return fail({ why: `the form inside does not close: ${solid.error.why}` });
  const claims = made.value.value.claims.map((c) => ({ ...c, name: `${stepId}/inner(${c.name})` }));
  let tool: KernelBody = asBody(solid.value, nameFaces(kernel, solid.value.shape, claims, stepId));
  const skin = limitMesh(net.value, 2).places;
  const opened = new Set(open.map((f) => f.index));
  for (const [i, face] of facesOf(kernel, body.shape).entries()) {
    const out = opened.has(i) ? undefined : flatFrame(kernel, face);
    if (!out) continue;
    const floor = shifted(out, -planned);
    // What the form does not reach needs no floor.
    if (!beyond(skin, (x, y, z) => heightOver(floor, [x, y, z]))) continue;
    const cut = attempt(kernel, () =>
      parted(
        kernel,
        tool,
        { words: 'the floor', first: (p) => heightOver(floor, p) > 0, make: (s) => [squareAcross(kernel, s, floor, tool.shape)] },
        stepId,
      ),
    );
    const rest = cut.ok ? cut.value?.pieces.filter((p) => !p.first) : undefined;
    if (!cut.ok || !rest || rest.length !== 1) return fail({ why: 'the inside can’t be cut off at a floor' });
    const kept = verifySolid(kernel, rest[0]!.shape, { simple: true });
    if (!kept.ok) return fail({ why: kept.error.why });
    const names = nameFaces(kernel, kept.value.shape, cut.value!.claims, stepId);
    // Names of the inside stay; what the cut left is a floor.
    tool = asBody(
      kept.value,
      names.map((n) => (n.startsWith(`${stepId}/cut`) ? n.replace('/cut', '/floor') : n)),
    );
  }
  const done = booleanOf(kernel, 'cut', body, [tool], { target: 'the body', tool: 'its inside' }, stepId);
  if (!done.ok) return fail({ why: done.error.why, ...(done.error.at ? { at: done.error.at } : {}) });
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

/** The step that made the form, by the names of its faces. */
const formIn = (body: KernelBody): string => stepOf(body.faces.find((n) => /^[^/()]+\/f\d/.test(n)) ?? '') || 'form';

function beyond(places: Float64Array, height: (x: number, y: number, z: number) => number): boolean {
  for (let i = 0; i < places.length; i += 3) if (height(places[i]!, places[i + 1]!, places[i + 2]!) > 1e-6) return true;
  return false;
}
