/** Joins bodies, cuts one with others, or keeps what they share, by their facets: what comes of it is a mesh, and says so. */
import { massProperties, openEdgeCount } from '../../core/mesh/mesh';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok } from '../../core/result';
import { fixed } from '../../core/units/units';
import { facetBody, MESH_ONLY, ofSkins, togetherAs } from '../facets';
import { meshKernel } from '../hold';
import { tessellate, VERIFY_ANGLE, weldedMesh } from '../tessellate';
import { chosenTools, needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';

const DONE_TO = { join: 'joined with', cut: 'cut by', common: 'kept in common with' } as const;

export function meshcombine(context: ContextOf<'meshcombine'>): StepOutcome {
  const { kernel, project, step, values } = context;
  const { body: id, mode, tooling, tools: chosen } = step.inputs;
  const target = needBody(context, id, 'there is nothing to combine');
  if (!target.ok) return target;
  const tools = chosenTools(context, id, chosen);
  if (!tools.ok) return tools;
  const { ids, solids, words } = tools.value;
  const what = `${bodyWords(id, project)} can’t be ${DONE_TO[mode]} ${words} as a mesh`;
  const all = [target.value, ...solids];
  const skin = all.findIndex((b) => b.surface);
  if (skin >= 0)
    return fail({
      what,
      why: `${bodyWords([id, ...ids][skin]!, project)} is a surface and has no inside`,
      tryInstead: ['give it a wall, or close it, first'],
    });
  const manifold = meshKernel();
  if (!manifold) return fail({ what, why: 'the mesh kernel is not loaded', tryInstead: ['load the page again'] });
  const skins = all.map((b) => weldedMesh(b.facets && b.mesh ? b.mesh : tessellate(kernel, b.shape, values.deviation, VERIFY_ANGLE)));
  if (skins.some((s) => openEdgeCount(s) > 0))
    return fail({ what, why: 'its facets do not close at that deviation', tryInstead: ['a finer deviation'] });
  const made = ofSkins(manifold, skins, ([own, ...others], keep) => {
    const tool = others.length === 1 ? others[0]! : keep(manifold.Manifold.union(others));
    return mode === 'join' ? own!.add(tool) : mode === 'cut' ? own!.subtract(tool) : own!.intersect(tool);
  });
  if (!made.ok)
    return fail({
      what,
      why: made.error === 'nothing is left' && mode === 'common' ? 'they share nothing' : made.error,
      tryInstead: ['move one of them'],
    });
  const { mesh, pieces } = made.value;
  const { volume } = massProperties(mesh);
  const parts = skins.map((s) => massProperties(s).volume);
  const sum = parts.reduce((a, b) => a + b, 0);
  // What two bodies can come to at all.
  const most = mode === 'join' ? sum : mode === 'cut' ? parts[0]! : Math.min(parts[0]!, sum - parts[0]!);
  if (openEdgeCount(mesh) > 0 || !(volume > 0 && volume <= most * (1 + 1e-6)))
    return fail({ what, why: 'the mesh that results is not closed', tryInstead: ['a finer deviation'] });
  const names = all.flatMap((b) => b.faces);
  const sources = togetherAs(
    skins,
    all.map((b) => b.faces.length),
  );
  const body = facetBody(target.value, names, step.id, { mesh, pieces, volume, skin: sources });
  const lost = mode === 'cut' && Math.abs(volume - parts[0]!) <= 1e-9 * parts[0]!;
  return ok({
    bodies: [{ id, body }],
    volumeChange: volume - target.value.volume,
    warnings: [{ message: MESH_ONLY }, ...(lost ? [{ message: `${words} removes nothing` }] : [])],
    note: `${(mesh.indices.length / 3).toLocaleString('en')} facets, ${pieces === 1 ? 'one piece' : `${pieces} pieces`}, ${fixed(volume / 1000, 2)} cm³`,
    ...(tooling === 'used' ? { gone: ids } : {}),
  });
}
