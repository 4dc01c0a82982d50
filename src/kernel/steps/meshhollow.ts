/** Hollows a body by its facets alone, where no exact cavity can be built. What comes of it is a mesh, and says so. */
import type { Manifold, ManifoldToplevel } from 'manifold-3d';
import { triple } from '../../core/geometry/vectors';
import { buildBvh, type ClosestHit, closestOpposing } from '../../core/mesh/bvh';
import { meshCavity } from '../../core/mesh/hollow';
import { massProperties, openEdgeCount, type TriMesh } from '../../core/mesh/mesh';
import { bodyWords } from '../../core/recipe/words';
import { fail, ok, type Result } from '../../core/result';
import { fixed } from '../../core/units/units';
import type { Fix, KernelBody } from '../body';
import { fromManifold, meshKernel, toManifold } from '../hold';
import { pickedFaces } from '../refer';
import { type BodyMesh, displayDeflection, tessellate, VERIFY_ANGLE, weldedMesh } from '../tessellate';
import { needBody } from './combine';
import type { ContextOf, StepOutcome } from './operation';

/** A facet this near to the old skin is part of it, mm. */
const SAME = 1e-3;

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
  const cut = subtracted(manifold, skin, { ...cavity.value, faceOf: new Uint32Array(cavity.value.indices.length / 3) });
  if (!cut.ok) return fail({ what, why: cut.error, tryInstead: ['another resolution'] });
  const { volume } = massProperties(cut.value);
  const before = massProperties(skin).volume;
  if (openEdgeCount(cut.value) > 0 || !(volume > 0 && volume < before))
    return fail({ what, why: 'the mesh that results is not closed', tryInstead: ['another resolution'] });
  const inside = body.value.faces.length;
  const made: KernelBody = {
    shape: body.value.shape,
    faces: [...body.value.faces, `${step.id}/inside`],
    volume,
    facets: true,
    mesh: shaded(cut.value, skin, inside),
  };
  const { least, most } = cavity.value;
  return ok({
    bodies: [{ id: inputs.body, body: made }],
    volumeChange: volume - body.value.volume,
    warnings: [{ message: 'mesh only: it can be printed and measured, but not written as STEP, and no later step can change it' }],
    note: `wall ${fixed(least, 2)} to ${fixed(most, 2)} mm, facets of ${fixed(resolution, 2)} mm, ${fixed((before - volume) / 1000, 1)} cm³ hollowed out`,
  });
}

function subtracted(m: ManifoldToplevel, body: TriMesh, cavity: TriMesh): Result<TriMesh> {
  const owned: Manifold[] = [];
  const own = (x: Manifold): Manifold => {
    owned.push(x);
    return x;
  };
  try {
    const cut = own(own(toManifold(m, body)).subtract(own(toManifold(m, cavity))));
    const mesh = fromManifold(cut);
    return mesh.indices.length > 0 ? ok(mesh) : fail('nothing is left');
  } catch (e) {
    return fail(`the facets could not be subtracted (${String(e).slice(0, 80)})`);
  } finally {
    for (const o of owned) o.delete();
  }
}

/** The mesh for showing: each facet with the face of the old skin it lies on, or the inside; normals smooth within a face. */
function shaded(mesh: TriMesh, skin: TriMesh, inside: number): BodyMesh {
  const bvh = buildBvh(skin);
  const hit: ClosestHit = { distance: 0, triangle: -1, x: 0, y: 0, z: 0 };
  const { positions: p, indices } = mesh;
  const faceOf = new Uint32Array(indices.length / 3);
  const facet = new Float64Array(indices.length);
  for (let t = 0; t < faceOf.length; t++) {
    const [a, b, c] = triple((k) => 3 * indices[3 * t + k]!);
    const at = triple((k) => (p[a + k]! + p[b + k]! + p[c + k]!) / 3);
    closestOpposing(bvh, ...at, 0, 0, 1, 1, 1, hit);
    faceOf[t] = hit.triangle >= 0 && hit.distance < SAME ? skin.faceOf[hit.triangle]! : inside;
    const u = triple((k) => p[b + k]! - p[a + k]!);
    const v = triple((k) => p[c + k]! - p[a + k]!);
    facet.set([u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]], 3 * t);
  }
  const known = new Map<string, number>();
  const outP: number[] = [];
  const outN: number[] = [];
  const out = new Uint32Array(indices.length);
  for (let t = 0; t < faceOf.length; t++)
    for (let k = 0; k < 3; k++) {
      const v = indices[3 * t + k]!;
      const key = `${v} ${faceOf[t]}`;
      let i = known.get(key);
      if (i === undefined) {
        i = outP.length / 3;
        known.set(key, i);
        outP.push(p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!);
        outN.push(0, 0, 0);
      }
      out[3 * t + k] = i;
      for (let x = 0; x < 3; x++) outN[3 * i + x] = outN[3 * i + x]! + facet[3 * t + x]!;
    }
  const normals = Float32Array.from(outN);
  for (let i = 0; i < normals.length; i += 3) {
    const l = Math.hypot(normals[i]!, normals[i + 1]!, normals[i + 2]!) || 1;
    for (let x = 0; x < 3; x++) normals[i + x] = normals[i + x]! / l;
  }
  return { positions: Float32Array.from(outP), normals, indices: out, faceOf };
}
