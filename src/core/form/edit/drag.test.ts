import { describe, expect, it } from 'vitest';
import { type Cage, netOf } from '../cage';
import { limitMesh } from '../limit';
import { boxCage, torusCage } from '../starts';
import { beginDrag, editOf, isNothing } from './drag';
import { applyEdit } from './edit';
import type { Picked } from './select';
import { asymmetry, NO_SYMMETRY, type Symmetry } from './symmetry';

const begun = (cage: Cage, picked: Picked, symmetry: Symmetry, soft = 0) => {
  const r = beginDrag(cage, picked, symmetry, soft);
  if (!r.ok) throw new Error(r.error);
  return r.value;
};
const done = (cage: Cage, picked: Picked, edit: Parameters<typeof applyEdit>[2], symmetry: Symmetry): Cage => {
  const r = applyEdit(cage, picked, edit, { symmetry, weigh: (w: number) => w });
  if (!r.ok) throw new Error(r.error);
  return r.value.cage;
};

describe('what is drawn while the pointer is down', () => {
  const ring = torusCage(40, 12, 8, 12);
  const faces: Picked = { kind: 'faces', faces: [3, 4, 11] };
  it.each([
    ['by a way', NO_SYMMETRY, 0],
    ['on both sides', { mirror: ['y'], fold: 1 } as Symmetry, 0],
    ['softly, six times round', { mirror: [], fold: 6 } as Symmetry, 15],
  ] as const)('is what the edit makes when it is let go: %s', (_, symmetry, soft) => {
    const pull = begun(ring, faces, symmetry, soft);
    const after = done(ring, faces, { do: 'move', by: [2, 1, 5], soft }, symmetry);
    // A first pull leaves nothing behind for the next.
    pull({ by: [9, 9, 9] });
    const shown = pull({ by: [2, 1, 5] });
    for (const [v, p] of after.vertices.entries()) for (let k = 0; k < 3; k++) expect(shown.vertices[v]![k]).toBeCloseTo(p[k]!, 10);
    expect(asymmetry({ ...ring, vertices: shown.vertices }, symmetry)).toBeLessThan(1e-10);
    const net = netOf({ ...ring, vertices: shown.vertices });
    const mesh = limitMesh((net as Extract<typeof net, { ok: true }>).value, 2);
    expect(shown.mesh.places.every((x, i) => Math.abs(x - mesh.places[i]!) < 1e-12)).toBe(true);
    const out = pull({ out: 3 });
    const moved = done(ring, faces, { do: 'move-normal', distance: 3, soft }, symmetry);
    for (const [v, p] of moved.vertices.entries()) for (let k = 0; k < 3; k++) expect(out.vertices[v]![k]).toBeCloseTo(p[k]!, 10);
  });
  it('turns about the middle and grows about it as the edit does', () => {
    const loop: Picked = { kind: 'vertices', vertices: [0, 1, 2, 3, 4, 5, 6, 7] };
    const pull = begun(ring, loop, NO_SYMMETRY);
    for (const p of [{ turn: 0.4 }, { size: 1.3 }, { by: [1, 0, 0] as const }, { out: -2 }]) {
      const shown = pull(p).vertices;
      const after = done(ring, loop, editOf(p, 0), NO_SYMMETRY);
      for (const [v, q] of after.vertices.entries()) for (let k = 0; k < 3; k++) expect(shown[v]![k]).toBeCloseTo(q[k]!, 12);
      expect(isNothing(p)).toBe(false);
    }
    for (const p of [{ turn: 0 }, { size: 1 }, { by: [0, 0, 0] as const }, { out: 0 }]) expect(isNothing(p)).toBe(true);
  });
  it('is refused in words where nothing is picked or the cage is not as symmetric as it is to be', () => {
    const box = boxCage([20, 20, 20], [2, 2, 2]);
    expect(beginDrag(box, { kind: 'faces', faces: [] }, NO_SYMMETRY, 0)).toEqual({ ok: false, error: 'nothing is picked' });
    const crooked = { ...box, vertices: box.vertices.map((p, v) => (v === 0 ? ([p[0] - 3, p[1], p[2]] as const) : p)) };
    expect(beginDrag(crooked, faces, { mirror: ['x'], fold: 1 }, 0)).toMatchObject({
      ok: false,
      error: expect.stringContaining('not mirrored left to right'),
    });
  });
});
