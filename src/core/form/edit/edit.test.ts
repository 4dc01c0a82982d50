/** Single edits against what must come of them: counts, places, areas, and that the smooth body is where it was asked to be. */
import { describe, expect, it } from 'vitest';
import { corners, does, edges, faces, facing, refuses } from '../../../../tests/support/cages';
import { minus, triple } from '../../geometry/vectors';
import { type Cage, type CageOf, edgeCount, netOf, type P3, ringsOf } from '../cage';
import { vertexLimits } from '../limit';
import { ballCage, boxCage, faceArea, faceNormal, gridCage, torusCage, tubeCage } from '../starts';
import {
  all,
  borders,
  byPlane,
  countOf,
  grown,
  loops,
  nothing,
  partnersOnly,
  pickedAs,
  ringsAcross,
  shrunk,
  toggled,
  verticesOf,
} from './select';
import { asymmetry, mirrored, partnersOf, type Symmetry, snapped, withFold } from './symmetry';

const net = (c: CageOf<unknown>) => {
  const r = netOf({ ...c, creases: [], corners: [] });
  if (!r.ok) throw new Error(r.error.what);
  return r.value;
};
/** Vertices less edges plus faces. */
const euler = (c: CageOf<unknown>): number => c.vertices.length - edgeCount(net(c)) + c.faces.length;
const area = (c: CageOf<unknown>): number => c.faces.reduce((s, _, f) => s + faceArea(corners(c, f)), 0);
/** Six times the volume is what the faces' triangles span with the origin. */
const volume = (c: CageOf<unknown>): number =>
  c.faces.reduce((s, _, f) => {
    const p = corners(c, f);
    const m = [0, 1, 2].map((k) => p.reduce((t, q) => t + q[k]!, 0) / p.length);
    const n = faceNormal(p);
    return s + (m[0]! * n[0] + m[1]! * n[1] + m[2]! * n[2]) / 6;
  }, 0);
const near = (c: CageOf<unknown>, p: P3): number => c.vertices.findIndex((q) => Math.hypot(...minus(p, q)) < 1e-9);

describe('picking', () => {
  const tube = tubeCage(20, 30, 8, 4);
  it('runs a loop on round the tube and a ring along it', () => {
    const loop = loops(tube, edges([8, 9]));
    expect(countOf(loop)).toBe(8);
    expect(new Set(verticesOf(tube, loop).map((v) => tube.vertices[v]![2]))).toEqual(new Set([10]));
    // Across the ring of quads the same edge crosses lie the edges below and above it, to both borders.
    expect(countOf(ringsAcross(tube, edges([8, 9])))).toBe(4);
    expect(countOf(ringsAcross(tube, edges([8, 16])))).toBe(8);
    expect(countOf(borders(tube))).toBe(16);
    expect(countOf(loops(tube, edges([0, 8])))).toBe(3);
  });
  it('grows, shrinks back, and turns into edges and faces', () => {
    const one = faces([12]);
    const more = grown(tube, one);
    expect(countOf(more)).toBe(9);
    // A border is no rim: what reaches it shrinks from the other sides alone.
    expect(shrunk(tube, more)).toEqual(faces([4, 12, 20]));
    const torus = torusCage(40, 10, 8, 8);
    expect(shrunk(torus, grown(torus, one))).toEqual(one);
    expect(countOf(pickedAs(tube, one, 'edges'))).toBe(4);
    expect(pickedAs(tube, pickedAs(tube, one, 'vertices'), 'faces')).toEqual(one);
    expect(countOf(toggled(more, one))).toBe(8);
    expect(countOf(toggled(nothing('faces'), one))).toBe(1);
    expect(countOf(loops(tube, faces([12, 13])))).toBe(8);
  });
  it('takes one side of a plane, and partners alone', () => {
    expect(countOf(byPlane(tube, 'vertices', { normal: [0, 0, 2], offset: 15 }, 'over'))).toBe(16);
    expect(countOf(byPlane(tube, 'faces', { normal: [0, 0, 1], offset: 11 }, 'under'))).toBe(8);
    expect(countOf(byPlane(tube, 'edges', { normal: [0, 0, 1], offset: 20 }, 'on'))).toBe(8);
    const partners = partnersOf(tube, { mirror: ['x'], fold: 1 });
    if (!partners.ok) throw new Error(partners.error.what);
    const other = partnersOnly(tube, { kind: 'vertices', vertices: [0] }, partners.value);
    expect(tube.vertices[verticesOf(tube, other)[0]!]![0]).toBeCloseTo(-20, 12);
    expect(countOf(all(tube, 'edges'))).toBe(8 * 4 + 8 * 3);
  });
});

describe('faces', () => {
  const box = boxCage([20, 20, 10], [2, 2, 1]);
  it('are drawn out by a distance: a column on the box', () => {
    const made = does(box, faces(facing(box, [0, 0, 1]).slice(0, 1)), { do: 'extrude', distance: 5, as: 'one' });
    expect(volume(made.cage)).toBeCloseTo(20 * 20 * 10 + 10 * 10 * 5, 9);
    expect(euler(made.cage)).toBe(2);
    expect(made.cage.faces.length).toBe(box.faces.length + 4);
    expect(corners(made.cage, made.picked.kind === 'faces' ? made.picked.faces[0]! : -1).every((p) => p[2] === 15)).toBe(true);
    const aside = does(box, faces(facing(box, [0, 0, 1])), { do: 'extrude-by', by: [3, 0, 4], as: 'one' });
    expect(volume(aside.cage)).toBeCloseTo(20 * 20 * 14, 9);
  });
  it('are set in by a distance as one, or each for itself, and the room that is left is told', () => {
    const top = faces(facing(box, [0, 0, 1]));
    const one = does(box, top, { do: 'inset', distance: 2, as: 'one' });
    const rim = pickedAs(one.cage, one.picked, 'vertices');
    expect(Math.max(...verticesOf(one.cage, rim).map((v) => one.cage.vertices[v]![0]))).toBeCloseTo(8, 12);
    expect(area(one.cage)).toBeCloseTo(area(box), 9);
    const each = does(box, top, { do: 'inset', distance: 2, as: 'each' });
    expect(each.cage.faces.length).toBe(box.faces.length + 16);
    expect(each.picked.kind === 'faces' && each.picked.faces.map((f) => faceArea(corners(each.cage, f)))).toEqual(
      [36, 36, 36, 36].map((a) => expect.closeTo(a, 9)),
    );
    expect(refuses(box, top, { do: 'inset', distance: 6, as: 'each' })).toBe('there is no room: an edge of the rim is used up at 5.00 mm');
  });
  it('touching in a vertex alone are not drawn out as one', () => {
    const top = facing(box, [0, 0, 1]);
    const across = top.find(
      (f) =>
        !box.faces[f]!.some((v) => box.faces[top[0]!]!.filter((w) => w === v).length && box.vertices[v]!.slice(0, 2).some((x) => x !== 0)),
    )!;
    expect(refuses(box, faces([top[0]!, across]), { do: 'extrude', distance: 3, as: 'one' })).toContain(
      'touch each other in a vertex alone',
    );
  });
  it('go away, and the hole is filled by one, a fan, quads or a grid', () => {
    const tall = boxCage([30, 20, 10], [3, 2, 1]);
    const open = does(tall, faces(facing(tall, [0, 0, 1])), { do: 'delete' }).cage;
    expect(euler(open)).toBe(1);
    const rim = borders(open);
    expect(countOf(rim)).toBe(10);
    for (const [way, count] of [
      ['one', 1],
      ['fan', 10],
      ['quads', 5],
      ['grid', 6],
    ] as const) {
      const filled = does(open, edges(...(rim.kind === 'edges' ? rim.edges.slice(0, 1) : [])), { do: 'fill', way });
      expect([way, euler(filled.cage), filled.cage.faces.length - open.faces.length]).toEqual([way, 2, count]);
      expect(volume(filled.cage)).toBeCloseTo(30 * 20 * 10, 9);
    }
    // The grid's corners are the sharp ones of the opening: what was there stands there again.
    const again = does(open, rim, { do: 'fill', way: 'grid' }).cage;
    for (const p of tall.vertices) expect(near(again, p)).toBeGreaterThanOrEqual(0);
  });
  it('are joined where an edge, a vertex or all between them is taken out', () => {
    const top = facing(box, [0, 0, 1]);
    const whole = does(box, faces(top), { do: 'dissolve' });
    expect(whole.cage.faces.length).toBe(box.faces.length - 3);
    expect(volume(whole.cage)).toBeCloseTo(4000, 9);
    const middle = near(box, [0, 0, 10]);
    expect(does(box, { kind: 'vertices', vertices: [middle] }, { do: 'dissolve' }).cage).toEqual(whole.cage);
    expect(refuses(box, all(box, 'faces'), { do: 'dissolve' })).toContain('hole');
  });
});

describe('edges', () => {
  const tube = tubeCage(20, 30, 12, 4);
  it('get a loop across at a share, and lose it again', () => {
    const cut = does(tube, edges([0, 12]), { do: 'insert-loop', share: 0.25, keepShape: false });
    expect(cut.cage.faces.length).toBe(tube.faces.length + 12);
    expect(countOf(cut.picked)).toBe(12);
    for (const v of verticesOf(cut.cage, cut.picked)) expect(cut.cage.vertices[v]![2]).toBeCloseTo(2.5, 12);
    const back = does(cut.cage, cut.picked, { do: 'dissolve' }).cage;
    expect(back.vertices).toEqual(tube.vertices);
    expect(back.faces.length).toBe(tube.faces.length);
  });
  it('get a loop that leaves the smooth body where it was', () => {
    const torus = torusCage(40, 12, 8, 12);
    const plain = does(torus, edges([0, 8]), { do: 'insert-loop', share: 0.4, keepShape: false }).cage;
    const kept = does(torus, edges([0, 8]), { do: 'insert-loop', share: 0.4, keepShape: true });
    const was = vertexLimits(net(torus)).places;
    const off = (c: CageOf<unknown>): number => {
      const now = vertexLimits(net(c)).places;
      let most = 0;
      for (let i = 0; i < was.length; i++) most = Math.max(most, Math.abs(was[i]! - now[i]!));
      return most;
    };
    expect(off(plain)).toBeGreaterThan(0.05);
    expect(off(kept.cage)).toBeLessThan(1e-8);
    expect(kept.note).toMatch(/^the body stays within 0\.\d{3} mm$/);
  });
  it('are held by loops at a distance to both sides', () => {
    const ring = loops(tube, edges([12, 13]));
    const held = does(tube, ring, { do: 'bevel', distance: 1.5 }).cage;
    expect(held.faces.length).toBe(tube.faces.length + 24);
    const heights = new Set(held.vertices.map((p) => Math.round(p[2] * 1e9) / 1e9));
    expect([...heights].sort((a, b) => a - b)).toEqual([0, 8.5, 10, 11.5, 20, 30]);
    expect(refuses(tube, ring, { do: 'bevel', distance: 11 })).toBe('there is no room: an edge it would cross is 10.00 mm long');
    // A border has one side.
    const border = loops(tube, edges([0, 1]));
    expect(does(tube, border, { do: 'bevel', distance: 1 }).cage.faces.length).toBe(tube.faces.length + 12);
  });
  it('of two rows beside each other are held by two loops in one ring of quads', () => {
    const both = toggled(loops(tube, edges([12, 13])), loops(tube, edges([24, 25])));
    const held = does(tube, both, { do: 'bevel', distance: 2 }).cage;
    const heights = new Set(held.vertices.map((p) => Math.round(p[2] * 1e9) / 1e9));
    expect([...heights].sort((a, b) => a - b)).toEqual([0, 8, 10, 12, 18, 20, 22, 30]);
    expect(refuses(tube, both, { do: 'bevel', distance: 6 })).toBe(
      'there is no room: two loops would pass each other on an edge that is 10.00 mm long',
    );
  });
  it('slide along what lies beside them, and back', () => {
    const ring = loops(tube, edges([12, 13]));
    const up = does(tube, ring, { do: 'slide', share: 0.3 }).cage;
    const moved = up.vertices.slice(12, 24).map((p) => p[2]);
    expect(new Set(moved.map((z) => z.toFixed(9))).size).toBe(1);
    expect(Math.abs(moved[0]! - 10)).toBeCloseTo(3, 9);
  });
  it('are split, joined to the vertex across, welded', () => {
    const sheet = gridCage(20, 20, 2, 2);
    const split = does(sheet, edges([0, 1]), { do: 'split', share: 0.5 });
    expect(split.cage.faces[0]).toHaveLength(5);
    const two = { kind: 'vertices', vertices: [...verticesOf(split.cage, split.picked), 4] } as const;
    const cut = does(split.cage, two, { do: 'connect' });
    expect(cut.cage.faces.length).toBe(5);
    expect(area(cut.cage)).toBeCloseTo(400, 9);
    const one = does(sheet, { kind: 'vertices', vertices: [0, 1] }, { do: 'weld', within: null }).cage;
    expect(one.vertices.length).toBe(8);
    expect(near(one, [-5, -10, 0])).toBeGreaterThanOrEqual(0);
    expect(one.faces.filter((f) => f.length === 3)).toHaveLength(1);
    expect(refuses(sheet, all(sheet, 'vertices'), { do: 'weld', within: 1 })).toBe('no two of the vertices can be welded');
  });
  it('of a border are drawn out in the plane of their faces', () => {
    const sheet = gridCage(20, 20, 2, 2);
    const right = byPlane(sheet, 'edges', { normal: [1, 0, 0], offset: 10 }, 'on');
    const wide = does(sheet, right, { do: 'extrude', distance: 4, as: 'one' }).cage;
    expect(area(wide)).toBeCloseTo(20 * 24, 9);
    expect(refuses(sheet, edges([1, 4]), { do: 'extrude', distance: 4, as: 'one' })).toContain('only edges with one face');
  });
  it('carry creases, also as expressions, through loops, and let go of them', () => {
    const texts: CageOf<string> = { ...tube, creases: [], corners: [] };
    const creased = does(texts, edges([12, 24]), { do: 'crease', weight: 'sharp*2' }).cage;
    const cut = does(creased, edges([12, 24]), { do: 'insert-loop', share: 0.5, keepShape: false }).cage;
    expect(cut.creases.map((c) => c[2])).toEqual(['sharp*2', 'sharp*2']);
    expect(does(creased, edges([12, 24]), { do: 'uncrease' }).cage.creases).toEqual([]);
    const corner = does(texts, { kind: 'vertices', vertices: [3] }, { do: 'crease', weight: '2' }).cage;
    expect(corner.corners).toEqual([[3, '2']]);
  });
});

describe('openings', () => {
  it('are bridged: two boxes through one another become a ring', () => {
    const box = boxCage([30, 30, 20], [3, 3, 1]);
    const middle = (z: number): number =>
      facing(box, [0, 0, z]).find((f) => corners(box, f).every((p) => Math.abs(p[0]) <= 5.001 && Math.abs(p[1]) <= 5.001))!;
    const ring = does(box, faces([middle(1), middle(-1)]), { do: 'bridge', rings: 2, turn: 0 }).cage;
    expect(euler(ring)).toBe(0);
    expect(volume(ring)).toBeCloseTo(20 * (900 - 100), 9);
    expect(ring.faces.length).toBe(box.faces.length - 2 + 12);
    expect(refuses(box, faces([middle(1)]), { do: 'bridge', rings: 0, turn: 0 })).toBe('two openings are bridged; one is picked');
  });
  it('of tubes are bridged by their borders', () => {
    const [low, high] = [tubeCage(20, 10, 8, 2), tubeCage(12, 10, 8, 2)];
    const n = low.vertices.length;
    const both: Cage = {
      vertices: [...low.vertices, ...high.vertices.map((p): P3 => [p[0], p[1], p[2] + 30])],
      faces: [...low.faces, ...high.faces.map((f) => f.map((v) => v + n))],
      creases: [],
      corners: [],
    };
    const one = does(both, edges([8, 9], [n, n + 1]), { do: 'bridge', rings: 1, turn: 0 }).cage;
    expect(one.faces.length).toBe(8 * 4);
    expect(countOf(borders(one))).toBe(16);
    const twisted = does(both, edges([8, 9], [n, n + 1]), { do: 'bridge', rings: 1, turn: 1 }).cage;
    const wires = (c: CageOf<unknown>): number => {
      const { ends } = net(c);
      let sum = 0;
      for (let e = 0; e < ends.length; e += 2) sum += Math.hypot(...minus(c.vertices[ends[e]!]!, c.vertices[ends[e + 1]!]!));
      return sum;
    };
    expect(wires(twisted)).toBeGreaterThan(wires(one));
  });
});

describe('places', () => {
  const tube = tubeCage(20, 30, 12, 4);
  const ring = loops(tube, edges([12, 13]));
  it('are moved, scaled and turned about their middle or another place', () => {
    const up = does(tube, ring, { do: 'move', by: [0, 0, 2] }).cage;
    expect(up.vertices.slice(12, 24).every((p) => Math.abs(p[2] - 12) < 1e-12)).toBe(true);
    const wide = does(tube, ring, { do: 'scale', by: [1.5, 1.5, 1] }).cage;
    expect(Math.hypot(...wide.vertices[12]!.slice(0, 2))).toBeCloseTo(30, 9);
    const turned = does(tube, ring, { do: 'rotate', axis: [0, 0, 1], angle: Math.PI / 2 }).cage;
    expect(Math.hypot(...minus(turned.vertices[12]!, tube.vertices[15]!))).toBeLessThan(1e-9);
    const out = does(tube, ring, { do: 'move-normal', distance: 1 }).cage;
    expect(Math.hypot(...out.vertices[14]!.slice(0, 2))).toBeCloseTo(21, 9);
    expect(does(tube, { kind: 'vertices', vertices: [5] }, { do: 'place', at: [1, 2, 3] }).cage.vertices[5]).toEqual([1, 2, 3]);
  });
  it('near them go along softly', () => {
    const soft = does(tube, ring, { do: 'move', by: [0, 0, 2], soft: 20 }).cage;
    // One ring away is half the radius: (1 − 1/4)² of the way.
    expect(soft.vertices[24]![2] - 20).toBeCloseTo(2 * 0.75 ** 2, 9);
    expect(soft.vertices[36]![2]).toBe(30);
  });
  it('become flat, straight, even and round', () => {
    const bent = { ...tube, vertices: tube.vertices.map((p, v): P3 => (v === 14 ? [p[0] * 1.2, p[1] * 1.2, p[2] + 1] : p)) };
    const flat = does(bent, ring, { do: 'flatten', to: 'z' }).cage.vertices.slice(12, 24);
    expect(new Set(flat.map((p) => p[2].toFixed(12))).size).toBe(1);
    const tilted = { ...tube, vertices: tube.vertices.map((p, v): P3 => [p[0], p[1], p[2] + 0.3 * p[0] + (v === 14 ? 0.5 : 0)]) };
    const fit = does(tilted, ring, { do: 'flatten', to: 'fit' }).cage.vertices.slice(12, 24);
    const n = faceNormal(fit);
    for (const p of fit) expect(Math.abs(minus(p, fit[0]!).reduce((s, x, k) => s + x * n[k]!, 0) / Math.hypot(...n))).toBeLessThan(1e-9);
    const round = does(bent, ring, { do: 'make-round', diameter: 44, even: true, onBody: false }).cage.vertices.slice(12, 24);
    const middle = triple((k) => round.reduce((s, p) => s + p[k]!, 0) / 12);
    for (const [i, p] of round.entries()) {
      expect(Math.hypot(...minus(p, middle))).toBeCloseTo(22, 9);
      expect(Math.hypot(...minus(p, round[(i + 1) % 12]!))).toBeCloseTo(2 * 22 * Math.sin(Math.PI / 12), 9);
    }
    const column = edges([0, 12], [12, 24], [24, 36]);
    const leaning = { ...tube, vertices: tube.vertices.map((p, v): P3 => (v === 12 ? [p[0] + 3, p[1] + 1, 4] : p)) };
    expect(does(leaning, column, { do: 'straighten' }).cage.vertices[12]![0]).toBeCloseTo(20, 12);
    const straight = does(tube, edges([0, 12], [12, 24]), { do: 'slide', share: 0.2 }).cage;
    expect(straight.vertices[12]).not.toEqual(tube.vertices[12]);
    const uneven = { ...tube, vertices: tube.vertices.map((p, v): P3 => (v === 12 ? [p[0], p[1], 4] : p)) };
    expect(does(uneven, column, { do: 'space-evenly' }).cage.vertices[12]![2]).toBeCloseTo(10, 12);
  });
  it('are put where the smooth body is round to a diameter', () => {
    const made = does(tube, ring, { do: 'make-round', diameter: 50, even: true, onBody: true }).cage;
    const limits = vertexLimits(net(made)).places;
    for (let v = 12; v < 24; v++) expect(Math.hypot(limits[3 * v]!, limits[3 * v + 1]!)).toBeCloseTo(25, 7);
  });
  it('are pulled so that the smooth body lies on something else, there and between', () => {
    // A ball about the tube: the nearest place of it is known.
    const ball = (p: P3): P3 => {
      const l = Math.hypot(p[0], p[1], p[2] - 10);
      return [(25 * p[0]) / l, (25 * p[1]) / l, 10 + (25 * (p[2] - 10)) / l];
    };
    const whole = faces([...tube.faces.keys()]);
    const made = does(tube, whole, { do: 'pull', nearest: ball, onBody: true });
    const told = Number(/within ([\d.]+) mm/.exec(made.note!)![1]);
    const limits = vertexLimits(net(made.cage)).places;
    let most = 0;
    for (let v = 0; v < limits.length; v += 3)
      most = Math.max(most, Math.abs(Math.hypot(limits[v]!, limits[v + 1]!, limits[v + 2]! - 10) - 25));
    expect(most).toBeLessThanOrEqual(told + 1e-3);
    expect(told).toBeLessThan(0.3);
    // The vertices alone would leave it far within.
    const plain = does(tube, whole, { do: 'pull', nearest: ball, onBody: false }).cage;
    const inside = vertexLimits(net(plain)).places;
    let least = 0;
    for (let v = 0; v < inside.length; v += 3)
      least = Math.max(least, Math.abs(Math.hypot(inside[v]!, inside[v + 1]!, inside[v + 2]! - 10) - 25));
    expect(least).toBeGreaterThan(3 * told);
  });
  it('are pulled onto something else', () => {
    const onto = does(tube, ring, { do: 'pull', nearest: ([x, y]) => [x, y, 7], onBody: false }).cage;
    expect(onto.vertices.slice(12, 24).every((p) => p[2] === 7)).toBe(true);
    expect(refuses(tube, ring, { do: 'pull', nearest: () => undefined, onBody: false })).toBe('there is nothing to pull onto');
  });
});

describe('symmetry', () => {
  const x: Symmetry = { mirror: ['x'], fold: 1 };
  const exact = (c: Cage, s: Symmetry): Cage => {
    const p = partnersOf(c, s);
    if (!p.ok) throw new Error(p.error.what);
    return snapped(c, p.value);
  };
  it('moves the partner as a mirror image, and keeps the middle in its plane', () => {
    const box = boxCage([40, 20, 20], [2, 2, 2]);
    const [right, left] = [near(box, [20, 0, 20]), near(box, [-20, 0, 20])];
    const made = does(box, { kind: 'vertices', vertices: [right] }, { do: 'move', by: [3, 1, 2] }, x).cage;
    expect(made.vertices[right]).toEqual([23, 1, 22]);
    expect(made.vertices[left]).toEqual([-23, 1, 22]);
    const middle = near(box, [0, 0, 20]);
    expect(does(box, { kind: 'vertices', vertices: [middle] }, { do: 'move', by: [3, 1, 2] }, x).cage.vertices[middle]).toEqual([0, 1, 22]);
    const turned = does(box, { kind: 'vertices', vertices: [right] }, { do: 'move', by: [3, 1, 2] }, { mirror: [], fold: 2 }).cage;
    expect(turned.vertices[left]).toEqual([-23, -1, 22]);
  });
  it('draws out partners too, and says what would break it', () => {
    const box = boxCage([40, 20, 20], [2, 2, 2]);
    const one = facing(box, [0, 0, 1])[0]!;
    const made = does(box, faces([one]), { do: 'extrude', distance: 5, as: 'one' }, x).cage;
    expect(volume(made)).toBeCloseTo(40 * 20 * 20 + 40 * 10 * 5, 9);
    expect(asymmetry(made, x)).toBe(0);
    // A diagonal across the plane has no mirror image.
    const wide = boxCage([30, 20, 20], [3, 1, 1]);
    const across = [near(wide, [-5, -10, 20]), near(wide, [5, 10, 20])];
    expect(refuses(wide, { kind: 'vertices', vertices: across }, { do: 'connect' }, x)).toMatch(
      /^no face has two|^That would break the symmetry/,
    );
    const crooked = { ...box, vertices: box.vertices.map((p, v): P3 => (v === 0 ? [p[0] - 2, p[1], p[2]] : p)) };
    expect(refuses(crooked, faces([one]), { do: 'extrude', distance: 5, as: 'one' }, x)).toMatch(
      /^The cage is not mirrored left to right: vertex 1 has no partner/,
    );
  });
  it('is made from one half', () => {
    const box = boxCage([30, 20, 20], [3, 1, 1]);
    const crooked = does(box, { kind: 'vertices', vertices: [near(box, [15, 10, 20])] }, { do: 'move', by: [4, 3, 2] }).cage;
    for (const side of [1, -1] as const) {
      const made = mirrored(crooked, 'x', side);
      if (!made.ok) throw new Error(made.error);
      expect(asymmetry(made.value, x)).toBe(0);
      expect(euler(made.value)).toBe(2);
      expect(Math.max(...made.value.vertices.map((p) => p[0]))).toBe(side > 0 ? 19 : 15);
    }
    expect(mirrored({ ...box, vertices: box.vertices.map(([a, b, c]): P3 => [a + 100, b, c]) }, 'x', -1)).toEqual({
      ok: false,
      error: 'nothing of the cage lies on the side that is kept',
    });
  });
  it('round an axis gets another count, sector by sector', () => {
    const places = (c: CageOf<unknown>): string[] =>
      c.vertices.map((p) => p.map((v) => (Math.round(v * 1e6) / 1e6 + 0).toFixed(6)).join()).sort();
    const eight = withFold(exact(tubeCage(30, 60, 12, 4), { mirror: [], fold: 6 }), 6, 8);
    if (!eight.ok) throw new Error(eight.error);
    expect(places(eight.value)).toEqual(places(tubeCage(30, 60, 16, 4)));
    expect(asymmetry(eight.value, { mirror: [], fold: 8 })).toBeLessThan(1e-12 * 60);
    for (const [cage, from] of [
      [ballCage(20, 2), 4],
      [ballCage(20, 3), 4],
      [boxCage([20, 20, 10], [3, 3, 2]), 4],
      [boxCage([20, 20, 10], [2, 2, 2]), 2],
      [torusCage(30, 8, 6, 10), 5],
    ] as const)
      for (const to of [3, 5, 7]) {
        const made = withFold(exact(cage, { mirror: [], fold: from }), from, to);
        if (!made.ok) throw new Error(made.error);
        expect(euler(made.value)).toBe(euler(cage));
        expect(asymmetry(made.value, { mirror: [], fold: to })).toBeLessThan(1e-12 * 60);
        // There and back again.
        const back = withFold(made.value, to, from);
        if (!back.ok) throw new Error(back.error);
        expect(places(back.value)).toEqual(places(cage));
      }
    const two = withFold(exact(ballCage(20, 2), { mirror: [], fold: 4 }), 4, 2);
    expect(two.ok && asymmetry(two.value, { mirror: [], fold: 2 })).toBeLessThan(1e-10);
    expect(withFold(exact(ballCage(20, 3), { mirror: [], fold: 4 }), 4, 2)).toEqual({
      ok: false,
      error: 'a face about the axis would be left with 2 corners',
    });
    const pentagon = withFold(exact(boxCage([20, 20, 10], [3, 3, 2]), { mirror: [], fold: 4 }), 4, 5);
    expect(pentagon.ok && pentagon.value.faces.filter((f) => f.length === 5)).toHaveLength(2);
    expect(withFold(tubeCage(30, 60, 12, 4), 5, 6)).toMatchObject({ ok: false });
    expect(withFold(tubeCage(30, 60, 12, 4), 6, 1.5)).toMatchObject({ ok: false });
    expect(ringsOf(net(eight.value)).length).toBe(64);
  });
});
