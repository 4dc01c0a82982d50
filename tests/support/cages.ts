/** Short ways to cages in tests: picks by what faces a direction, edits that must be done, and such that must be refused. */
import type { Cage, CageOf, P3 } from '../../src/core/form/cage';
import { applyEdit, type Edit } from '../../src/core/form/edit/edit';
import type { Picked } from '../../src/core/form/edit/select';
import { NO_SYMMETRY, type Symmetry } from '../../src/core/form/edit/symmetry';
import { faceNormal } from '../../src/core/form/starts';

export const corners = (c: CageOf<unknown>, f: number): P3[] => c.faces[f]!.map((v) => c.vertices[v]!);
export const facing = (c: Cage, direction: P3): number[] =>
  c.faces.flatMap((_, f) => {
    const n = faceNormal(corners(c, f));
    return (n[0] * direction[0] + n[1] * direction[1] + n[2] * direction[2]) / Math.hypot(...n) > 0.99 ? [f] : [];
  });
export const faces = (list: readonly number[]): Picked => ({ kind: 'faces', faces: list });
export const edges = (...list: readonly (readonly [number, number])[]): Picked => ({ kind: 'edges', edges: list });
export function does<W>(cage: CageOf<W>, picked: Picked, edit: Edit, symmetry: Symmetry = NO_SYMMETRY) {
  const r = applyEdit(cage, picked, edit, { symmetry, weigh: Number });
  if (!r.ok) throw new Error(r.error);
  return r.value;
}
export function refuses(cage: Cage, picked: Picked, edit: Edit, symmetry: Symmetry = NO_SYMMETRY): string {
  const r = applyEdit(cage, picked, edit, { symmetry, weigh: (w) => w });
  if (r.ok) throw new Error('it was done');
  return r.error;
}
