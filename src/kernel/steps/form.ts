/** A subdivision form made exact: its limit as few spline faces, open rings closed by planes, sewn and verified. */
import { overPlane } from '../../core/curves/frame';
import { borderCount, type Cage, netOf } from '../../core/form/cage';
import { skinOf } from '../../core/form/deviation';
import { limitMesh } from '../../core/form/limit';
import { cageOf } from '../../core/form/read';
import { bounds, diagonal, massProperties } from '../../core/mesh/mesh';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, asSurface, type KernelBody, type StepFailure } from '../body';
import { formShape } from '../form-solid';
import { nameFaces } from '../names';
import { attempt } from '../open';
import { frameOf } from '../placed';
import { borderChains, verifySurface } from '../surface';
import { verifySolid } from '../verify';
import type { RaiserOf } from './raise';

/** Faces that miss the limit by a larger share of the form's size are none of it. */
const ABSURD = 0.02;

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
  const made = attempt(kernel, () => formShape(kernel, skin.patches, plane.value, step.id, open));
  const cannot = (why: string, ...tryInstead: string[]): Result<never, StepFailure> => fail({ what, why, tryInstead });
  if (!made.ok) return cannot(made.error, 'look for places where the cage crosses itself');
  if (!made.value.ok)
    return fail({
      ...made.value.error,
      ...(inputs.mode === 'new' && borderCount(net.value) > 0
        ? { fixes: [{ words: 'Make it a surface', step: step.id, inputs: { mode: 'surface' } }] }
        : {}),
    });
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
    return cannot(
      `its skin has ${borders} borders where its cage has ${borderCount(net.value)}`,
      'mend what the layout of the cage names: faces may only seem to meet',
    );
  const names = nameFaces(kernel, verified.value.shape, claims, step.id);
  const placed: Cage = { ...cage.value, vertices: cage.value.vertices.map((p) => overPlane(plane.value, p)) };
  const body: KernelBody = open ? asSurface(verified.value, names) : { ...asBody(verified.value, names), form: placed };
  const { patches, irregular } = skin;
  const note = `${patches.length} face${patches.length === 1 ? '' : 's'}${caps > 0 ? ` and ${caps} flat` : ''}, ${
    irregular === 0 || deviation.value < 1e-9 ? 'exact' : `within ${fixed(Math.ceil(deviation.value * 1e4) / 1e4, 4)} mm of the limit`
  }${irregular > 0 ? `, ${irregular} irregular vertices` : ''}`;
  return ok({ solids: [body], words: 'the form', note });
};

const around = (v: number): [number, number] => [0.97 * v, 1.03 * v];
