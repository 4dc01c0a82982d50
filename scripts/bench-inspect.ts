/** How long the inspection's overlays take on a body of about 100 000 facets, beside the bare BVH library doing as many closest points. */
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { diffuserBody } from '../demo/steam-diffuser';
import { standardAsks } from '../src/core/inspect/asks';
import { facetsOf } from '../src/core/inspect/facets';
import { wallMap } from '../src/core/inspect/walls';
import { buildBvh } from '../src/core/mesh/bvh';
import { bounds, diagonal } from '../src/core/mesh/mesh';
import { Engine } from '../src/engine/engine';
import { inspectBody } from '../src/engine/inspect';
import { measuringSkin } from '../src/engine/measure';
import { openKernel } from '../src/kernel/open';

const engine = new Engine({ open: () => openKernel() });
const kernel = await engine.start();
await engine.rebuild(diffuserBody);
const { id, body } = engine.bodies()[0]!;
const figures: { what: string; ms: number }[] = [];
const time = async <T>(what: string, work: () => Promise<T> | T): Promise<T> => {
  const t = performance.now();
  const result = await work();
  figures.push({ what, ms: Math.round(performance.now() - t) });
  return result;
};
const skin = await time('the skin that is measured', () => measuringSkin(kernel, body));
const facets = facetsOf(skin, diagonal(bounds(skin.positions)) / 70);
const bvh = buildBvh(skin);
for (const ask of Object.values(standardAsks(2.4)))
  await time(`question: ${ask.what}`, () => inspectBody(kernel, diffuserBody, id, body, ask, async () => true));
await time(`${facets.faceOf.length} walls by ball`, () => wallMap(bvh, facets, { method: 'ball', cap: 14, limit: 2.4, apart: 7 }));
const geometry = new BufferGeometry();
geometry.setAttribute('position', new BufferAttribute(Float32Array.from(skin.positions), 3));
geometry.setIndex(new BufferAttribute(skin.indices.slice(), 1));
const bare = new MeshBVH(geometry);
const p = new Vector3();
await time(`${facets.faceOf.length} closest points by the bare library`, () => {
  for (let t = 0; t < facets.faceOf.length; t++) {
    // A place inside the wall, as the ball's centre is.
    for (let k = 0; k < 3; k++) p.setComponent(k, facets.centres[3 * t + k]! - 1.1 * facets.normals[3 * t + k]!);
    bare.closestPointToPoint(p, { point: new Vector3(), distance: 0, faceIndex: 0 });
  }
});
console.table(figures);
console.log(JSON.stringify({ facets: facets.faceOf.length, triangles: skin.indices.length / 3, figures }));
