import { describe, expect, it } from 'vitest';
import { boxCage, gridCage, torusCage, tubeCage } from '../starts';
import {
  besideIn,
  borderLoops,
  chains,
  edgeKey,
  edgeOfKey,
  facesBeside,
  isBorder,
  loopThrough,
  ringAcross,
  type Topology,
  topologyOf,
} from './topology';

const of = (c: Parameters<typeof topologyOf>[0]): Topology => {
  const t = topologyOf(c);
  if (!t.ok) throw new Error(t.error.what);
  return t.value;
};

describe('the topology of a cage', () => {
  it('is worked out once, and knows edges either way round', () => {
    const tube = tubeCage(20, 30, 8, 3);
    const t = of(tube);
    expect(of(tube)).toBe(t);
    expect(t.edge(0, 1)).toBe(t.edge(1, 0));
    expect(t.edge(0, 2)).toBe(-1);
    expect(edgeOfKey(edgeKey(7, 3))).toEqual([3, 7]);
    // The lowest ring runs as its faces do: outside to the right of no face.
    expect(t.faceAlong(0, 1)).toBe(0);
    expect(t.faceAlong(1, 0)).toBe(-1);
    expect(isBorder(t.net, t.edge(0, 1))).toBe(true);
    expect(facesBeside(t.net, t.edge(8, 9)).sort((a, b) => a - b)).toEqual([0, 8]);
    expect(besideIn([4, 5, 6, 7], 4)).toEqual({ next: 5, before: 7 });
  });
  it('is refused in words where a cage is no surface', () => {
    const box = boxCage([10, 10, 10], [1, 1, 1]);
    expect(topologyOf({ ...box, faces: [...box.faces, [0, 1, 2]] })).toMatchObject({ ok: false });
    expect(topologyOf({ ...box, faces: [[0, 1, 99]] })).toMatchObject({ ok: false });
  });
  it('runs loops on until they close, a border ends them, or other than four edges meet', () => {
    const torus = of(torusCage(30, 10, 6, 9));
    expect(loopThrough(torus, [0, 1])).toMatchObject({ closed: true });
    expect(loopThrough(torus, [0, 1]).vertices).toHaveLength(6);
    expect(loopThrough(torus, [0, 6]).vertices).toHaveLength(9);
    const sheet = of(gridCage(40, 30, 4, 3));
    const across = loopThrough(sheet, [6, 7]);
    expect([across.closed, across.vertices]).toEqual([false, [5, 6, 7, 8, 9]]);
    // A border is a loop of its own, until its corner.
    expect(loopThrough(sheet, [0, 1]).vertices.length).toBeGreaterThanOrEqual(5);
    // On a box the loop stops where three edges meet.
    const box = boxCage([20, 20, 20], [2, 2, 2]);
    const t = of(box);
    const corner = box.vertices.findIndex((p) => p[0] === -10 && p[1] === -10 && p[2] === 0);
    const beside = t.rings[corner]!.near[0]!;
    const edge = loopThrough(t, [corner, beside]);
    expect([edge.closed, edge.vertices.length]).toEqual([false, 3]);
  });
  it('crosses rings of quads with their edges all running the same way', () => {
    const tube = tubeCage(20, 30, 8, 4);
    const t = of(tube);
    const up = ringAcross(t, tube.faces, [8, 16]);
    expect([up.closed, up.edges.length, up.faces.length]).toEqual([true, 8, 8]);
    for (const [a, b] of up.edges) expect(tube.vertices[b]![2]).toBeGreaterThan(tube.vertices[a]![2]);
    const along = ringAcross(t, tube.faces, [8, 9]);
    expect([along.closed, along.edges.length, along.faces.length]).toEqual([false, 4, 3]);
    expect(along.edges.map(([a]) => a % 8)).toEqual([0, 0, 0, 0]);
    // A face that is no quad ends it.
    const mixed = { ...tube, faces: tube.faces.map((f, i) => (i === 8 ? f.slice(0, 3) : f)) };
    const cut = topologyOf({ ...mixed, faces: mixed.faces });
    if (cut.ok) expect(ringAcross(cut.value, mixed.faces, [8, 9]).faces.length).toBeLessThan(3);
  });
  it('finds borders as rows that run as their faces do, and joins edges to rows', () => {
    const tube = tubeCage(20, 30, 8, 3);
    const rows = borderLoops(of(tube));
    expect(rows.map((r) => r.length)).toEqual([8, 8]);
    for (const row of rows) for (const [i, v] of row.entries()) expect(of(tube).faceAlong(v, row[(i + 1) % 8]!)).toBeGreaterThanOrEqual(0);
    expect(
      chains([
        [0, 1],
        [2, 1],
        [2, 3],
      ]),
    ).toEqual([{ vertices: [0, 1, 2, 3], closed: false }]);
    expect(
      chains([
        [0, 1],
        [1, 2],
        [2, 0],
      ]).map((r) => [r.closed, r.vertices.length]),
    ).toEqual([[true, 3]]);
    // Where three rows meet, each ends.
    expect(
      chains([
        [0, 1],
        [0, 2],
        [0, 3],
      ]),
    ).toHaveLength(3);
    expect(
      chains([
        [0, 1],
        [5, 6],
      ]),
    ).toHaveLength(2);
  });
});
