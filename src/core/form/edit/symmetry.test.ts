/** The motions of a symmetry form a group; partners are found, carried and told in words. */
import { describe, expect, it } from 'vitest';
import type { P3 } from '../cage';
import { boxCage, gridCage, tubeCage } from '../starts';
import { Draft } from './draft';
import { countOf, directedPartners, withPartners } from './select';
import { carried, type Motion, motionsOf, moved, NO_SYMMETRY, partnersOf, type Symmetry, symmetryWords } from './symmetry';
import { edgeKey } from './topology';

const times = (a: Motion, p: P3): P3 => moved(a, p);
const probe: readonly P3[] = [
  [1, 2, 3],
  [-0.5, 4, 0.25],
];

describe('the motions of a symmetry', () => {
  it.each([
    [NO_SYMMETRY, 1],
    [{ mirror: ['x'], fold: 1 }, 2],
    [{ mirror: ['x', 'y'], fold: 1 }, 4],
    [{ mirror: ['x', 'y', 'z'], fold: 1 }, 8],
    [{ mirror: [], fold: 7 }, 7],
    [{ mirror: ['x'], fold: 5 }, 10],
    // Two mirrors are a half turn, which five turns do not have among them.
    [{ mirror: ['x', 'y'], fold: 5 }, 20],
    [{ mirror: ['x', 'y'], fold: 4 }, 8],
    [{ mirror: ['z'], fold: 6 }, 12],
  ] as readonly (readonly [Symmetry, number])[])('are a group of the right size: %o', (symmetry, count) => {
    const all = motionsOf(symmetry);
    expect(all).toHaveLength(count);
    for (const a of all) {
      // Lengths stay, and one motion after another is one of them.
      for (const p of probe) expect(Math.hypot(...times(a, p))).toBeCloseTo(Math.hypot(...p), 12);
      for (const b of all)
        expect(all.some((c) => probe.every((p) => Math.hypot(...times(a, times(b, p)).map((x, k) => x - times(c, p)[k]!)) < 1e-9))).toBe(
          true,
        );
    }
  });
  it('are told in words', () => {
    expect(symmetryWords(NO_SYMMETRY)).toBe('no symmetry');
    expect(symmetryWords({ mirror: ['x', 'z'], fold: 3 })).toBe('mirrored left to right, mirrored above to below, the same 3 times round');
  });
});

describe('partners', () => {
  const found = (cage: Parameters<typeof partnersOf>[0], symmetry: Symmetry) => {
    const r = partnersOf(cage, symmetry);
    if (!r.ok) throw new Error(r.error.what);
    return r.value;
  };
  it('come with what is picked, each once, and edges as they run', () => {
    const tube = tubeCage(20, 40, 12, 3);
    const six = found(tube, { mirror: [], fold: 6 });
    expect(withPartners(tube, { kind: 'faces', faces: [0] }, six)).toMatchObject({ kind: 'faces' });
    expect(countOf(withPartners(tube, { kind: 'faces', faces: [0, 2] }, six))).toBe(6);
    expect(countOf(withPartners(tube, { kind: 'vertices', vertices: [0] }, six))).toBe(6);
    // An edge across the mirror plane is its own partner, the other way round.
    const sheet = gridCage(30, 20, 3, 1);
    const x = found(sheet, { mirror: ['x'], fold: 1 });
    expect(countOf(withPartners(sheet, { kind: 'edges', edges: [[1, 2]] }, x))).toBe(1);
    expect(directedPartners(sheet, [[1, 2]], x)).toEqual([
      [1, 2],
      [2, 1],
    ]);
  });
  it('are carried along: the first leads, what lies on a plane stays there', () => {
    const box = boxCage([20, 20, 20], [2, 2, 2]);
    const partners = found(box, { mirror: ['x'], fold: 1 });
    const at = (p: P3): number => box.vertices.findIndex((q) => q.every((v, k) => Math.abs(v - p[k]!) < 1e-9));
    const [left, right, middle] = [at([-10, 0, 20]), at([10, 0, 20]), at([0, 0, 20])];
    const to = carried(
      partners,
      new Map([
        [right, [13, 1, 22] as P3],
        [left, [-99, 0, 0] as P3],
        [middle, [4, 5, 26] as P3],
      ]),
    );
    expect(to.get(right)).toEqual([13, 1, 22]);
    expect(to.get(left)).toEqual([-13, 1, 22]);
    expect(to.get(middle)).toEqual([0, 5, 26]);
  });
  it('of weights count too', () => {
    const box = boxCage([20, 20, 20], [2, 2, 2]);
    const face = box.faces.find((f) => f.every((v) => box.vertices[v]![0] === 10))!;
    const lopsided = { ...box, creases: [[face[0]!, face[1]!, 2] as const] };
    expect(partnersOf(lopsided, { mirror: ['x'], fold: 1 })).toMatchObject({
      ok: false,
      error: { what: 'a crease has no partner of its weight (mirrored left to right)' },
    });
    expect(partnersOf({ ...box, corners: [[face[0]!, 1]] }, { mirror: ['x'], fold: 1 })).toMatchObject({ ok: false });
  });
});

describe('a cage while it is changed', () => {
  it('keeps creases on both halves of an edge, and puts its vertex into the faces beside it', () => {
    const sheet = { ...gridCage(20, 10, 2, 1), creases: [[1, 4, 'soft'] as const] };
    const draft = new Draft<string>({ ...sheet, corners: [] });
    const v = draft.between(1, 4, 0.25);
    expect(draft.vertices[v]![1]).toBeCloseTo(-2.5, 12);
    expect(draft.crease.get(edgeKey(1, v))).toBe('soft');
    expect(draft.crease.get(edgeKey(v, 4))).toBe('soft');
    expect(draft.crease.has(edgeKey(1, 4))).toBe(false);
    expect(draft.faces.map((f) => f!.length)).toEqual([5, 5]);
  });
  it('is finished without what is unused, and says where everything went', () => {
    const draft = new Draft<number>({ ...gridCage(30, 10, 3, 1), creases: [[0, 4, 2]], corners: [[3, 1]] });
    draft.faces[0] = null;
    const { cage, vertexOf, faceOf } = draft.finish();
    expect(cage.faces).toHaveLength(2);
    expect([...faceOf]).toEqual([-1, 0, 1]);
    // The outer vertices of the face that went are gone, and the crease with them.
    expect([...vertexOf]).toEqual([-1, 0, 1, 2, -1, 3, 4, 5]);
    expect(cage.creases).toEqual([]);
    expect(cage.corners).toEqual([[2, 1]]);
  });
});
