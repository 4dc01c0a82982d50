/** A subdivision form made exact: its limit as few spline faces, open rings closed by planes, sewn and verified. */
import { type Frame, overPlane } from '../../core/curves/frame';
import { borderCount, netOf } from '../../core/form/cage';
import { skinOf } from '../../core/form/deviation';
import { limitMesh } from '../../core/form/limit';
import type { FormSkin } from '../../core/form/patches';
import { cageOf } from '../../core/form/read';
import { bounds, diagonal, massProperties } from '../../core/mesh/mesh';
import { fail, ok, type Result } from '../../core/result';
import type { SplineSurface } from '../../core/surfaces/space';
import { fixed } from '../../core/units/units';
import { asBody, asSurface, type KernelBody, type StepFailure } from '../body';
import { flatCap } from '../caps';
import { type Claim, nameFaces } from '../names';
import { attempt, type Kernel, type Shape, scoped } from '../open';
import { frameOf } from '../placed';
import { kernelSurface } from '../skin';
import { borderChains, loopOf, shellOf, verifySurface } from '../surface';
import { verifySolid } from '../verify';
import type { RaiserOf } from './raise';

/** Faces are sewn within this, mm; they share their borders to rounding. */
const SEWN = 1e-4;
/** Faces that miss the limit by a larger share of the form's size are none of it. */
const ABSURD = 0.02;
/** A border farther from its plane takes no flat cap, mm. */
const FLAT = 1e-3;

export const raiseForm: RaiserOf<'form'> = (context) => {
  const { kernel, step, scope } = context;
  const inputs = step.inputs;
  const what = 'the form can’t be raised';
  const plane = frameOf(inputs.plane, context.planes, context.project);
  if (!plane.ok) return plane;
  const cage = cageOf(inputs.source, scope);
  if (!cage.ok) return fail({ what, why: cage.error, tryInstead: ['correct the table or the cage'] });
  const net = netOf(cage.value);
  if (!net.ok) return fail({ what, why: net.error.what, tryInstead: ['mend the cage'] });
  const skin = skinOf(cage.value, net.value, inputs.follow);
  const { deviation } = skin;
  const size = diagonal(bounds(net.value.places));
  if (deviation.value > ABSURD * size)
    return fail({
      what,
      why: `its exact faces would lie up to ${fixed(deviation.value, 2)} mm off the smooth limit of its cage, which is ${fixed(size, 0)} mm large`,
      tryInstead: ['look at the layout there: faces of quads follow best', 'follow it finely'],
      at: overPlane(plane.value, deviation.at),
    });
  const mesh = limitMesh(net.value, 3);
  const open = inputs.mode === 'surface';
  const made = attempt(kernel, () => closed(kernel, skin, plane.value, step.id, open));
  const cannot = (why: string, ...tryInstead: string[]): Result<never, StepFailure> => fail({ what, why, tryInstead });
  if (!made.ok) return cannot(made.error, 'look for places where the cage crosses itself');
  if (!made.value.ok) return made.value;
  const { shape, claims, caps } = made.value.value;
  // What the limit's own mesh says must agree.
  const rough = massProperties({ positions: mesh.places, indices: mesh.indices, faceOf: mesh.faceOf }).volume;
  const verified = open
    ? verifySurface(kernel, shape)
    : verifySolid(kernel, shape, {
        ...(caps === 0 ? { volume: around(rough) } : {}),
      });
  if (!verified.ok)
    return cannot(
      `${verified.error.why}: its skin runs through itself`,
      'look for places where the cage crosses itself',
      'twist it less from ring to ring',
    );
  const borders = open ? borderChains(kernel, verified.value.shape).length : 0;
  if (open && borders !== borderCount(net.value))
    return cannot(`its skin has ${borders} borders where its cage has ${borderCount(net.value)}`, 'look for places where the cage folds');
  const body: KernelBody = (open ? asSurface : asBody)(verified.value, nameFaces(kernel, verified.value.shape, claims, step.id));
  const { patches, irregular } = skin;
  const note = `${patches.length} face${patches.length === 1 ? '' : 's'}${caps > 0 ? ` and ${caps} flat` : ''}, ${
    irregular === 0 || deviation.value < 1e-9 ? 'exact' : `within ${fixed(Math.ceil(deviation.value * 1e4) / 1e4, 4)} mm of the limit`
  }${irregular > 0 ? `, ${irregular} irregular vertices` : ''}`;
  return ok({ solids: [body], words: 'the form', note });
};

const around = (v: number): [number, number] => [0.97 * v, 1.03 * v];

interface Made {
  readonly shape: Shape;
  readonly claims: Claim[];
  readonly caps: number;
}

function closed(kernel: Kernel, skin: FormSkin, plane: Frame, id: string, open: boolean): Result<Made, StepFailure> {
  const what = 'the form can’t be closed';
  return scoped((s): Result<Made, StepFailure> => {
    const given: { face: Shape; name: string }[] = [];
    for (const p of skin.patches) {
      const geometry = kernelSurface(kernel, s, placedOn(p.surface, plane));
      const face = s.keep(new kernel.BRepBuilderAPI_MakeFace(geometry, 1e-6));
      if (!face.IsDone()) return fail({ what, why: 'a face of it has no area', tryInstead: ['look for vertices that coincide'] });
      given.push({ face: face.Face(), name: `${id}/f${Math.min(...p.faces)}` });
    }
    const sew = (faces: readonly Shape[]) => {
      const sewing = s.keep(new kernel.BRepBuilderAPI_Sewing(SEWN, true, true, true, false));
      for (const f of faces) sewing.Add(f);
      sewing.Perform();
      const whole = sewing.SewedShape();
      let shell = whole;
      if (whole.ShapeType() === 'TopAbs_FACE') shell = shellOf(kernel, s, [whole]);
      return { sewing, shell };
    };
    let { sewing, shell } = sew(given.map((g) => g.face));
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
      if (caps > 0) ({ sewing, shell } = sew(given.map((g) => g.face)));
      if (sewing.NbFreeEdges() > 0)
        return fail({ what, why: 'its faces do not meet everywhere', tryInstead: ['look for open edges in the cage'] });
    }
    const claims = given.map((g): Claim => ({ shape: sewing.IsModified(g.face) ? sewing.Modified(g.face) : g.face, name: g.name }));
    if (open) return ok({ shape: shell, claims, caps });
    if (shell.ShapeType() !== 'TopAbs_SHELL')
      return fail({ what, why: 'it falls apart into pieces', tryInstead: ['make a form of each piece'] });
    const solid = s.keep(new kernel.BRepBuilderAPI_MakeSolid(kernel.TopoDS.Shell(shell))).Solid();
    kernel.BRepLib.OrientClosedSolid(solid);
    return ok({ shape: solid, claims, caps });
  });
}

/** A surface drawn over the level plane, on another one. */
const placedOn = (surface: SplineSurface, plane: Frame): SplineSurface => ({
  ...surface,
  poles: surface.poles.map((row) => row.map((p) => overPlane(plane, p))),
});
