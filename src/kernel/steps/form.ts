/** A subdivision form made exact: its limit as few spline faces, open rings closed by planes, sewn and verified. */
import { overPlane } from '../../core/curves/frame';
import { borderCount, type Cage, netOf } from '../../core/form/cage';
import { skinOf } from '../../core/form/deviation';
import { cageOf } from '../../core/form/read';
import { bounds, diagonal } from '../../core/mesh/mesh';
import { fail, ok } from '../../core/result';
import { fixed } from '../../core/units/units';
import { asBody, asSurface, type Fix, type KernelBody } from '../body';
import { verifiedForm } from '../form-solid';
import { frameOf } from '../placed';
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
  const open = inputs.mode === 'surface';
  if (deviation.value > ABSURD * size)
    return fail({
      what,
      why: `its exact faces would lie up to ${fixed(deviation.value, 2)} mm off the smooth limit of its cage, which is ${fixed(size, 0)} mm large`,
      tryInstead: ['look at the layout there: faces of quads follow best', 'follow it finely'],
      at: overPlane(plane.value, deviation.at),
    });
  const surface: readonly Fix[] =
    inputs.mode === 'new' && borderCount(net.value) > 0 ? [{ words: 'Make it a surface', step: step.id, inputs: { mode: 'surface' } }] : [];
  const made = verifiedForm(kernel, net.value, skin, plane.value, step.id, open, what, surface);
  if (!made.ok) return made;
  const { verified, names, caps } = made.value;
  const placed: Cage = { ...cage.value, vertices: cage.value.vertices.map((p) => overPlane(plane.value, p)) };
  const body: KernelBody = { ...(open ? asSurface(verified, names) : asBody(verified, names)), form: placed };
  const { patches, irregular } = skin;
  const note = `${patches.length} face${patches.length === 1 ? '' : 's'}${caps > 0 ? ` and ${caps} flat` : ''}, ${
    irregular === 0 || deviation.value < 1e-9 ? 'exact' : `within ${fixed(Math.ceil(deviation.value * 1e4) / 1e4, 4)} mm of the limit`
  }${irregular > 0 ? `, ${irregular} irregular vertices` : ''}`;
  return ok({ solids: [body], words: 'the form', note });
};
