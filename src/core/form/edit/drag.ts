/** Moving while the pointer is down: places and the smooth body at once, without reading the cage anew at every step. */
import { fail, ok, type Result } from '../../result';
import { type Cage, netOf, type P3 } from '../cage';
import { limitMesh } from '../limit';
import type { Edit } from './edit';
import { move, moveAlongNormals, type Places, rotate, scale, softly } from './place';
import { middleOf, type Picked, verticesOf } from './select';
import { carried, partnersOf, type Symmetry, symmetryWords } from './symmetry';
import { type Topology, topologyOf } from './topology';

/** By a vector or along the skin's own normals, mm; turned about an upright axis through the middle, rad; or as many times as large about it. */
export type Pull = { readonly by: P3 } | { readonly out: number } | { readonly turn: number } | { readonly size: number };

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
  const middle = middleOf(cage, verticesOf(cage, picked));
  const levels = cage.faces.length * 16 <= MOST_DRAWN ? 2 : 1;
  return ok((pull) => {
    const own = moved(cage, picked, t.value, pull, middle);
    let to = carried(partners.value, own);
    if (soft > 0) to = carried(partners.value, softly(cage, to, soft));
    const vertices = cage.vertices.map((p, v) => to.get(v) ?? p);
    const places = net.value.places.slice();
    for (const [v, p] of to) places.set(p, 3 * v);
    return { vertices, mesh: limitMesh({ ...net.value, places }, levels) };
  });
}

function moved(cage: Cage, picked: Picked, t: Topology, pull: Pull, middle: P3): Places {
  if ('by' in pull) return move(cage, picked, pull.by);
  if ('out' in pull) return moveAlongNormals(cage, picked, t, pull.out);
  if ('turn' in pull) return rotate(cage, picked, [0, 0, 1], pull.turn, middle);
  return scale(cage, picked, [pull.size, pull.size, pull.size], middle);
}

/** The edit a pull stands for when it is let go. */
export function editOf(pull: Pull, soft: number): Edit {
  if ('by' in pull) return { do: 'move', by: pull.by, soft };
  if ('out' in pull) return { do: 'move-normal', distance: pull.out, soft };
  if ('turn' in pull) return { do: 'rotate', axis: [0, 0, 1], angle: pull.turn, soft };
  return { do: 'scale', by: [pull.size, pull.size, pull.size], soft };
}

/** Whether a pull leaves everything where it is. */
export const isNothing = (p: Pull): boolean =>
  'by' in p ? p.by.every((x) => x === 0) : 'out' in p ? p.out === 0 : 'turn' in p ? p.turn === 0 : p.size === 1;
