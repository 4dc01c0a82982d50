/** Hollows a body by its facets alone, where no exact cavity can be built. What comes of it is a mesh, and says so. */
import { meshCavity } from '../../core/mesh/hollow';
import { massProperties, openEdgeCount } from '../../core/mesh/mesh';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { fixed } from '../../core/units/units';
import type { Fix } from '../body';
import { facetBody, MESH_ONLY, ofSkins } from '../facets';
import { meshKernel } from '../hold';
import { pickedFaces } from '../refer';
import { displayDeflection, tessellate, VERIFY_ANGLE, weldedMesh } from '../tessellate';
import { needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';

export function meshhollow(context: ContextOf<'meshhollow'>): StepOutcome {
  const { kernel, project, step } = context;
  const inputs = step.inputs;
  const body = needBody(context, inputs.body, 'there is nothing to hollow');
  if (!body.ok) return body;
  const name = bodyWords(inputs.body, project);
  const { wall, resolution } = context.values;
  const picked = pickedFaces(context, inputs.body, body.value, inputs.open, {
    gone: 'an earlier change removed the face it was to be open at',
    offer: (face) => `open it at the ${face}`,
    otherwise: 'pick another face to open',
  });
  if (!picked.ok) return picked;
  const what = `${name} can't be hollowed to ${fixed(wall, 2)} mm, not as a mesh either`;
  const manifold = meshKernel();
  if (!manifold) return fail({ what, why: 'the mesh kernel is not loaded', tryInstead: ['load the page again'] });
  const skin = weldedMesh(tessellate(kernel, body.value.shape, displayDeflection(kernel, body.value.shape), VERIFY_ANGLE));
  const cavity = meshCavity(skin, new Set(picked.value.map((f) => f.index)), wall, resolution);
  if (!cavity.ok) {
    const finer = `${Math.max(0.05, Math.round(50 * resolution) / 100)} mm`;
    const fixes: Fix[] = cavity.error.includes('coarse')
      ? [{ words: `Use a resolution of ${finer}`, step: step.id, values: { resolution: finer } }]
      : [];
    return fail({ what, why: cavity.error, tryInstead: ['a thinner wall', 'another resolution'], fixes });
  }
  const inner = { ...cavity.value, faceOf: new Uint32Array(cavity.value.indices.length / 3) };
  const cut = ofSkins(manifold, [skin, inner], ([whole, hole]) => whole!.subtract(hole!));
  if (!cut.ok) return fail({ what, why: cut.error, tryInstead: ['another resolution'] });
  const { volume } = massProperties(cut.value.mesh);
  const before = massProperties(skin).volume;
  if (openEdgeCount(cut.value.mesh) > 0 || !(volume > 0 && volume < before))
    return fail({ what, why: 'the mesh that results is not closed', tryInstead: ['another resolution'] });
  const made = facetBody(body.value, body.value.faces, step.id, { mesh: cut.value.mesh, volume, skin });
  const { least, most } = cavity.value;
  return ok({
    bodies: [{ id: inputs.body, body: made }],
    volumeChange: volume - body.value.volume,
    warnings: [{ message: MESH_ONLY }],
    note: `wall ${fixed(least, 2)} to ${fixed(most, 2)} mm, facets of ${fixed(resolution, 2)} mm, ${fixed((before - volume) / 1000, 1)} cm³ hollowed out`,
  });
}
