/** What the layout doctor finds, how strong it says it is, and that what it proposes mends it. */
import { describe, expect, it } from 'vitest';
import { triple } from '../geometry/vectors';
import { seeded } from '../mesh/wall';
import type { Cage, P3 } from './cage';
import { type FindingKind, findings, outOfRound } from './doctor';
import { applyEdit } from './edit/edit';
import { NO_SYMMETRY } from './edit/symmetry';
import { ballCage, boxCage, drawnUpCage, gridCage, torusCage, tubeCage } from './starts';

const kindsOf = (c: Cage): string[] => [...new Set(findings(c).map((f) => f.kind))];

describe('what a layout does to the skin', () => {
  const kinds = kindsOf;
  it('is nothing where all is plain', () => {
    // A ring of quads has no irregular vertex; its small loops are not quite round, because its inner side bends more.
    expect(kinds(torusCage(40, 15, 8, 12))).toEqual(['out-of-round']);
    expect(kinds(torusCage(400, 15, 16, 160))).toEqual([]);
  });
  it('is told with its place: valences, triangles, many sides, open borders', () => {
    const box = findings(boxCage([20, 20, 20], [2, 2, 2]));
    expect(box.filter((f) => f.kind === 'valence')).toHaveLength(8);
    expect(new Set(box.filter((f) => f.kind === 'valence').map((f) => f.at.map(Math.abs).slice(0, 2).join()))).toEqual(new Set(['10,10']));
    const pyramid: Cage = {
      vertices: [
        [0, 0, 0],
        [20, 0, 0],
        [20, 20, 0],
        [0, 20, 0],
        [10, 10, 15],
      ],
      faces: [
        [3, 2, 1, 0],
        [0, 1, 4],
        [1, 2, 4],
        [2, 3, 4],
        [3, 0, 4],
      ],
      creases: [],
      corners: [],
    };
    expect(kinds(pyramid)).toContain('triangle');
    expect(kinds(tubeCage(20, 40, 8, 3))).toEqual(['open']);
    const prism: Cage = {
      ...drawnUpCage(
        [0, 1, 2, 3, 4].map((i) => [10 * Math.cos(i * 1.2566), 10 * Math.sin(i * 1.2566)] as const),
        10,
        2,
      ),
    };
    expect(kinds({ ...prism, faces: [...prism.faces, [4, 3, 2, 1, 0], [5, 6, 7, 8, 9]] })).toContain('many-sided');
  });
  it('is grave where it can’t be made solid: crossing, folded, doubled, torn', () => {
    const two = (shift: number): Cage => {
      const [a, b] = [boxCage([20, 20, 20], [1, 1, 1]), boxCage([20, 20, 20], [1, 1, 1])];
      return {
        vertices: [...a.vertices, ...b.vertices.map(([x, y, z]): P3 => [x + shift, y + 0.3 * shift, z + 0.2 * shift])],
        faces: [...a.faces, ...b.faces.map((f) => f.map((v) => v + 8))],
        creases: [],
        corners: [],
      };
    };
    expect(kinds(two(10))).toContain('crossing');
    expect(kinds(two(40))).not.toContain('crossing');
    const box = boxCage([20, 20, 20], [2, 2, 2]);
    const folded = { ...box, vertices: box.vertices.map((v, i): P3 => (i === 0 ? [v[0] + 60, v[1] + 60, v[2] + 60] : v)) };
    expect(findings(folded).some((f) => f.grave)).toBe(true);
    const doubled = gridCage(20, 20, 2, 2);
    expect(kinds({ ...doubled, vertices: doubled.vertices.map((v, i) => (i === 1 ? doubled.vertices[0]! : v)) })).toContain('doubled');
    expect(findings({ ...box, faces: [...box.faces, [0, 1, 2]] })[0]!.grave).toBe(true);
  });
  it('is a dent where a crease ends or changes its weight', () => {
    const sheet = gridCage(40, 40, 4, 4);
    const at = (i: number, j: number): number => 5 * j + i;
    expect(
      kinds({
        ...sheet,
        creases: [
          [at(2, 2), at(3, 2), 2],
          [at(3, 2), at(4, 2), 2],
        ],
      }),
    ).toContain('crease-end');
    const whole: [number, number, number][] = [0, 1, 2, 3].map((i) => [at(i, 2), at(i + 1, 2), i === 2 ? 1 : 2]);
    expect(kinds({ ...sheet, creases: whole })).toContain('crease-uneven');
  });
  it('reads how far a loop is out of round on the limit', () => {
    const tube = tubeCage(20, 60, 12, 4);
    const loop = Array.from({ length: 12 }, (_, i) => 12 + i);
    expect(outOfRound(tube, loop)).toBeLessThan(1e-9);
    const pushed = { ...tube, vertices: tube.vertices.map((v, i): P3 => (i === 12 ? [v[0] * 1.2, v[1], v[2]] : v)) };
    expect(outOfRound(pushed, loop)).toBeGreaterThan(1);
  });
  it('is measured: the skin bends more towards five edges than on the face beside them', () => {
    // Towards three edges curvature grows without bounds, by theory (Doo and Sabin 1978); towards four it does not.
    const ball = findings(ballCage(20, 2)).filter((f) => f.kind === 'valence');
    expect(ball).toHaveLength(8);
    for (const f of ball) expect(f.why).toMatch(/^curvature has no single value here/);
    expect(new Set(ball.map((f) => f.weight.toFixed(6))).size).toBe(1);
    expect(ball[0]!.weight).not.toBeCloseTo(1, 1);
  });
});

describe('repairs', () => {
  /** Does what a finding of a kind proposes, and gives the findings before and after. */
  const mend = (cage: Cage, kind: FindingKind): { before: number; after: number; words: string; cage: Cage } => {
    const of = (c: Cage) => findings(c).filter((f) => f.kind === kind);
    const first = of(cage)[0]!;
    if (!first.repair) throw new Error(`${first.what} has no repair`);
    const r = applyEdit(cage, first.repair.picked, first.repair.edit, { symmetry: NO_SYMMETRY, weigh: (w) => w });
    if (!r.ok) throw new Error(r.error);
    return { before: of(cage).length, after: of(r.value.cage).length, words: first.repair.words, cage: r.value.cage };
  };
  const pushed = (c: Cage, v: number, by: P3): Cage => ({
    ...c,
    vertices: c.vertices.map((p, i): P3 => (i === v ? [p[0] + by[0], p[1] + by[1], p[2] + by[2]] : p)),
  });

  it('make loops round and even, and flatten borders', () => {
    const tube = tubeCage(20, 60, 12, 6);
    const round = mend(pushed(tube, 30, [0, -0.8, 0]), 'out-of-round');
    // Its neighbours are a little out of round with it, and are mended with it.
    expect(round.words).toMatch(/^make it round, and \d more beside it$/);
    expect(round.after).toBe(0);
    expect(
      outOfRound(
        round.cage,
        Array.from({ length: 12 }, (_, i) => 24 + i),
      ),
    ).toBeLessThan(1e-8);
    const turned = {
      ...tube,
      vertices: tube.vertices.map((p, v): P3 => (v === 30 ? [20 * Math.cos(Math.PI * 1.17), 20 * Math.sin(Math.PI * 1.17), p[2]] : p)),
    };
    const even = mend(turned, 'uneven');
    expect([even.before, even.after]).toEqual([1, 0]);
    const flat = mend(pushed(tube, 3, [0, 0, -0.5]), 'not-flat');
    expect([flat.before, flat.after]).toEqual([1, 0]);
    expect(findings(pushed(tube, 3, [0, 0, -0.5]))[0]!.grave).toBe(true);
  });
  it('weld what is doubled and take out what stands in an edge', () => {
    const sheet = gridCage(20, 20, 2, 2);
    // Two halves that only seem to be one: cut along the middle row, whose vertices stand there twice.
    const torn: Cage = {
      ...sheet,
      vertices: [...sheet.vertices, sheet.vertices[3]!, sheet.vertices[4]!, sheet.vertices[5]!],
      faces: sheet.faces.map((f, i) => (i < 2 ? f : f.map((v) => (v >= 3 && v <= 5 ? v + 6 : v)))),
    };
    let now = torn;
    now = mend(now, 'doubled').cage;
    expect(findings(now).filter((f) => f.kind === 'doubled')).toHaveLength(0);
    expect(now.vertices.length).toBe(9);
    const split = applyEdit(
      sheet,
      { kind: 'edges', edges: [[4, 5]] },
      { do: 'split', share: 0.4 },
      { symmetry: NO_SYMMETRY, weigh: (w) => w },
    );
    if (!split.ok) throw new Error(split.error);
    const whole = mend(split.value.cage, 'joint');
    expect([whole.words, whole.after, whole.cage.vertices.length]).toEqual(['take it out', 0, 9]);
  });
  it('name every vertex that stands beside another, wherever the two lie', () => {
    const sheet = gridCage(40, 40, 4, 4);
    const size = Math.hypot(40, 40);
    const next = seeded(11);
    for (let k = 0; k < 200; k++) {
      // The middle vertex of one face is a copy, off by up to the distance from which on it is a slit.
      const far = next() * 0.99e-4 * size;
      const [a, b] = [2 * Math.PI * next(), Math.acos(2 * next() - 1)];
      const off: P3 = [far * Math.sin(b) * Math.cos(a), far * Math.sin(b) * Math.sin(a), far * Math.cos(b)];
      const [dx, dy] = [next(), next()];
      const at = (p: P3): P3 => [p[0] + dx, p[1] + dy, p[2]];
      const copy = sheet.vertices.length;
      const torn: Cage = {
        ...sheet,
        vertices: [...sheet.vertices.map(at), at(triple((c) => sheet.vertices[12]![c] + off[c]))],
        faces: sheet.faces.map((f, i) => (i === 5 ? f.map((v) => (v === 12 ? copy : v)) : f)),
      };
      const found = findings(torn).filter((f) => f.kind === 'doubled');
      expect([far, found.length, found[0]?.what]).toEqual([far, 1, `Vertices 13 and ${copy + 1} stand at one place.`]);
    }
  });
  it('take a vertex of other faces that stands on an edge into it', () => {
    const one = gridCage(20, 20, 1, 1);
    const two = gridCage(20, 20, 2, 1);
    const beside: Cage = {
      vertices: [...one.vertices, ...two.vertices.map((p): P3 => [p[0], p[1] + 20, 0])],
      faces: [...one.faces, ...two.faces.map((f) => f.map((v) => v + 4))],
      creases: [],
      corners: [],
    };
    const joint = mend(beside, 'joint');
    expect(joint.words).toBe('take it into the edge');
    // All along the border the faces have vertices of their own: one more is put beside the one that stood there.
    expect(joint.cage.vertices.length).toBe(beside.vertices.length + 1);
    const now = mend(joint.cage, 'doubled').cage;
    expect(findings(now).some((f) => f.grave)).toBe(false);
    expect(now.vertices.length).toBe(8);
  });
  it('take it in at once where the faces hang together beside it, and all of a row', () => {
    // A face of the sheet is parted, those beside it are not.
    const sheet = gridCage(40, 40, 4, 4);
    const [a, b, c, d] = sheet.faces[5]!;
    const half = (u: number, v: number): P3 => triple((k) => (sheet.vertices[u]![k] + sheet.vertices[v]![k]) / 2);
    const n = sheet.vertices.length;
    const parted: Cage = {
      ...sheet,
      vertices: [...sheet.vertices, half(a!, d!), half(b!, c!)],
      faces: [...sheet.faces.filter((_, i) => i !== 5), [a!, b!, n + 1, n], [n, n + 1, c!, d!]],
    };
    expect(findings(parted).filter((f) => f.kind === 'joint')).toHaveLength(2);
    const one = mend(parted, 'joint');
    const both = mend(one.cage, 'joint');
    expect([one.after, both.after, both.cage.vertices.length]).toEqual([1, 0, n + 2]);
    expect(findings(both.cage).some((f) => f.grave)).toBe(false);
    // What parts the face can go altogether: then all is as it was.
    const plain = mend(both.cage, 'many-sided');
    expect([plain.words, plain.before, plain.after]).toEqual(['take out the edge that parts the face beside it', 2, 0]);
    expect([plain.cage.vertices.length, plain.cage.faces.length]).toEqual([n, 16]);
    expect(kindsOf(plain.cage)).toEqual(kindsOf(sheet));
  });
  it('join triangles, fill faces of six sides with quads, carry creases on', () => {
    const sheet = gridCage(40, 40, 4, 4);
    const cut = applyEdit(sheet, { kind: 'vertices', vertices: [6, 12] }, { do: 'connect' }, { symmetry: NO_SYMMETRY, weigh: (w) => w });
    if (!cut.ok) throw new Error(cut.error);
    const joined = mend(cut.value.cage, 'triangle');
    expect([joined.before, joined.after, joined.cage.faces.length]).toEqual([2, 0, 16]);
    const six = applyEdit(sheet, { kind: 'faces', faces: [5, 6] }, { do: 'dissolve' }, { symmetry: NO_SYMMETRY, weigh: (w) => w });
    if (!six.ok) throw new Error(six.error);
    const filled = mend(six.value.cage, 'many-sided');
    expect([filled.words, filled.after]).toEqual(['fill it with quads', 0]);
    const creased: Cage = {
      ...sheet,
      creases: [
        [11, 12, 2],
        [12, 13, 2],
      ],
    };
    const on = mend(creased, 'crease-end');
    expect([on.words, on.after, on.cage.creases.length]).toEqual(['carry it on along its loop', 0, 4]);
    const uneven: Cage = {
      ...sheet,
      creases: [
        [10, 11, 2],
        [11, 12, 2],
        [12, 13, 1],
        [13, 14, 2],
      ],
    };
    const one = mend(uneven, 'crease-uneven');
    expect([one.after, new Set(one.cage.creases.map((c) => c[2]))]).toEqual([0, new Set([2])]);
  });
});
