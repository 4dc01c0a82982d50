/** Moving while the pointer is down: places and the smooth body at once, without reading the cage anew at every step. */
import { fail, ok, type Result } from '../../result';
import { type Cage, netOf, type P3 } from '../cage';
import { limitMesh } from '../limit';
import { move, moveAlongNormals, softly } from './place';
import { type Picked, verticesOf } from './select';
import { carried, partnersOf, type Symmetry, symmetryWords } from './symmetry';
import { topologyOf } from './topology';

/** By a vector, or along the skin's own normals; mm. */
export type Pull = { readonly by: P3 } | { readonly out: number };

export interface Dragged {
  readonly vertices: readonly P3[];
  readonly mesh: ReturnType<typeof limitMesh>;
}

/** Faces of the limit's mesh that are drawn while something moves; a finer cage is refined less. */
const MOST_DRAWN = 12_000;

/** Begins to move what is picked. What it gives back says for every pull where the vertices stand and what the body looks like. */
export function beginDrag(cage: Cage, picked: Picked, symmetry: Symmetry, soft: number): Result<(pull: Pull) => Dragged, string> {
  const t = topologyOf(cage);
  const net = netOf(cage);
  if (!t.ok) return fail(t.error.what);
  if (!net.ok) return fail(net.error.what);
  const partners = partnersOf(cage, symmetry);
  if (!partners.ok)
    return fail(`The cage is not ${symmetryWords(symmetry)}: ${partners.error.what}. Mend that, or switch the symmetry off.`);
  if (verticesOf(cage, picked).length === 0) return fail('nothing is picked');
  const levels = cage.faces.length * 16 <= MOST_DRAWN ? 2 : 1;
  return ok((pull) => {
    const own = 'by' in pull ? move(cage, picked, pull.by) : moveAlongNormals(cage, picked, t.value, pull.out);
    let to = carried(partners.value, own);
    if (soft > 0) to = carried(partners.value, softly(cage, to, soft));
    const vertices = cage.vertices.map((p, v) => to.get(v) ?? p);
    const places = net.value.places.slice();
    for (const [v, p] of to) places.set(p, 3 * v);
    return { vertices, mesh: limitMesh({ ...net.value, places }, levels) };
  });
}
