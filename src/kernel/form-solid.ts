/** The faces of a form sewn into a solid, open rings closed by planes. */
import { type Frame, overPlane } from '../core/curves/frame';
import { borderCount, type Net } from '../core/form/cage';
import { limitMesh } from '../core/form/limit';
import type { FormPatch, FormSkin } from '../core/form/patches';
import { massProperties } from '../core/mesh/mesh';
import type { FaceName } from '../core/recipe/names';
import { fail, ok, type Result } from '../core/result';
import type { SplineSurface } from '../core/surfaces/space';
import { fixed } from '../core/units/units';
import type { Fix, StepFailure } from './body';
import { flatCap } from './caps';
import { type Claim, nameFaces } from './names';
import { attempt, type Kernel, type Shape, scoped } from './open';
import { type Given, sew, solidWithin } from './sewing';
import { kernelSurface } from './skin';
import { borderChains, loopOf, verifySurface } from './surface';
import { type Verified, verifySolid } from './verify';

/** Faces are sewn within this, mm; they share their borders to rounding. */
const SEWN = 1e-4;
/** A border farther from its plane takes no flat cap, mm. */
const FLAT = 1e-3;

export interface FormShape {
  readonly shape: Shape;
  readonly claims: Claim[];
  readonly caps: number;
}

/** @param open it stays a surface; @param id names its faces */
export function formShape(
  kernel: Kernel,
  patches: readonly FormPatch[],
  plane: Frame,
  id: string,
  open: boolean,
): Result<FormShape, StepFailure> {
  const what = 'the form can’t be closed';
  return scoped((s): Result<FormShape, StepFailure> => {
    const given: Given[] = [];
    for (const p of patches) {
      const geometry = kernelSurface(kernel, s, placedOn(p.surface, plane));
      const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(geometry, 1e-6));
      if (!face.IsDone()) return fail({ what, why: 'a face of it has no area', tryInstead: ['look for vertices that coincide'] });
      given.push({ face: face.Face(), name: `${id}/f${Math.min(...p.faces)}` });
    }
    let { shape: shell, claims, free } = sew(kernel, s, given, SEWN);
    let caps = 0;
    if (!open) {
      const chains = borderChains(kernel, shell);
      for (const [i, chain] of chains.entries()) {
        const loop = loopOf(chain);
        if (loop.offPlane > FLAT)
          return fail({
            what,
            why: `one of its borders lies up to ${fixed(loop.offPlane, 2)} mm off its plane`,
            tryInstead: ['make it a surface and close that', 'flatten the border', 'close the cage'],
            at: loop.at,
          });
        const cap = flatCap(kernel, s, chain);
        if (!cap)
          return fail({ what, why: 'a border takes no flat cap', tryInstead: ['look at the border: it may cross itself'], at: loop.at });
        // The lowest border is the bottom.
        const low = chains.length === 1 || chain[0]!.points[0]![2] <= Math.min(...chains.map((c) => c[0]!.points[0]![2])) + 1e-6;
        given.push({ face: cap, name: `${id}/${chains.length === 2 ? (low ? 'bottom' : 'top') : `end${i + 1}`}` });
        caps++;
      }
      if (caps > 0) ({ shape: shell, claims, free } = sew(kernel, s, given, SEWN));
      if (free > 0) return fail({ what, why: 'its faces do not meet everywhere', tryInstead: ['look for open edges in the cage'] });
    }
    if (open) return ok({ shape: shell, claims, caps });
    if (shell.ShapeType() !== 'TopAbs_SHELL')
      return fail({ what, why: 'it falls apart into pieces', tryInstead: ['make a form of each piece'] });
    return ok({ shape: solidWithin(kernel, s, shell), claims, caps });
  });
}

/** A surface drawn over the level plane, on another one. */
const placedOn = (surface: SplineSurface, plane: Frame): SplineSurface => ({
  ...surface,
  poles: surface.poles.map((row) => row.map((p) => overPlane(plane, p))),
});

/**
 * The exact faces of a net as a body that was checked: closed, or with the net's own borders, and nowhere through itself.
 * @param net over `plane`; @param skin its faces; @param open it stays a surface; @param what can't be done where it fails
 * @param unclosed what helps where its borders can't be closed
 */
export function verifiedForm(
  kernel: Kernel,
  net: Net,
  skin: FormSkin,
  plane: Frame,
  id: string,
  open: boolean,
  what: string,
  unclosed: readonly Fix[] = [],
): Result<{ readonly verified: Verified; readonly names: FaceName[]; readonly caps: number }, StepFailure> {
  const cannot = (why: string, ...tryInstead: string[]): Result<never, StepFailure> => fail({ what, why, tryInstead });
  const made = attempt(kernel, () => formShape(kernel, skin.patches, plane, id, open));
  if (!made.ok) return cannot(made.error, 'look for places where the cage crosses itself');
  if (!made.value.ok) return unclosed.length > 0 ? fail({ ...made.value.error, fixes: unclosed }) : made.value;
  const { shape, claims, caps } = made.value.value;
  // What the limit's own mesh says must agree.
  const { places, indices, faceOf } = limitMesh(net, 3);
  const { volume } = massProperties({ positions: places, indices, faceOf });
  const verified = open
    ? verifySurface(kernel, shape)
    : verifySolid(kernel, shape, { ...(caps === 0 ? { volume: [0.97 * volume, 1.03 * volume] } : {}) });
  if (!verified.ok)
    return cannot(
      `${verified.error.why}: its skin runs through itself`,
      'look for places where the cage crosses itself',
      'twist it less from ring to ring',
    );
  const borders = open ? borderChains(kernel, verified.value.shape).length : 0;
  if (open && borders !== borderCount(net))
    return cannot(
      `its skin has ${borders} borders where its cage has ${borderCount(net)}`,
      'mend what the layout of the cage names: faces may only seem to meet',
    );
  return ok({ verified: verified.value, names: nameFaces(kernel, verified.value.shape, claims, id), caps });
}
