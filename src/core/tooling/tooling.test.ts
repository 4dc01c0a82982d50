import DxfParser from 'dxf-parser';
import fc from 'fast-check';
import { BoxGeometry, type BufferGeometry, CylinderGeometry, SphereGeometry } from 'three';
import { describe, expect, it } from 'vitest';
import { meshOf } from '../../../tests/support/shapes';
import { arcThrough } from '../curves/planar';
import { facetsOf } from '../inspect/facets';
import { buildBvh } from '../mesh/bvh';
import type { TriMesh } from '../mesh/mesh';
import { drum, meridianOf } from '../turned/meridian';
import { CUTTERS, largestInto, scallop, stepFor } from './cutters';
import { type Pull, pullsOf } from './pulls';
import { type Milled, milledFrom } from './sides';
import { outlineDxf, turningOf, unturned } from './turning';

const DEG = Math.PI / 180;
const pulls = async (mesh: TriMesh, limit = DEG): Promise<Pull[]> => (await pullsOf(buildBvh(mesh), facetsOf(mesh, 3), limit))!;
const milled = async (mesh: TriMesh): Promise<Milled> => (await milledFrom(buildBvh(mesh), facetsOf(mesh, 3), 60))!;
const upright = (g: BufferGeometry): BufferGeometry => g.rotateX(Math.PI / 2);
/** A block with a square room cut into it from one side, as six boxes that touch would be: its skin alone. */
const cup = (): TriMesh => {
  const o = 15;
  const i = 10;
  const [low, floor, high] = [0, 5, 30];
  const ring = (r: number, z: number): [number, number, number][] => [
    [-r, -r, z],
    [r, -r, z],
    [r, r, z],
    [-r, r, z],
  ];
  const places = [...ring(o, low), ...ring(o, high), ...ring(i, high), ...ring(i, floor)];
  const quads: [number, number, number, number][] = [[3, 2, 1, 0]];
  for (const [a, b] of [
    [0, 4],
    [4, 8],
    [8, 12],
  ] as const)
    for (let k = 0; k < 4; k++) quads.push([a + k, a + ((k + 1) % 4), b + ((k + 1) % 4), b + k]);
  quads.push([12, 13, 14, 15]);
  return {
    positions: Float64Array.from(places.flat()),
    indices: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])),
    faceOf: new Uint32Array(2 * quads.length),
  };
};
/** Lying on its side: x up, y to the right, z away. */
const turned = ({ positions: p, ...rest }: TriMesh): TriMesh => ({
  ...rest,
  positions: Float64Array.from({ length: p.length }, (_, i) => p[i - (i % 3) + ((i + 2) % 3)]!),
});

describe('ways a mould comes off', () => {
  it('a ball comes off every way, with its great circle seen (πr²) and round it the line (2πr), level', async () => {
    const all = await pulls(meshOf({ shape: new SphereGeometry(20, 96, 64), at: [0, 0, 0] }));
    expect(all).toHaveLength(13);
    for (const p of all) {
      expect(p.undercut).toBe(0);
      expect(p.projected / (Math.PI * 400)).toBeCloseTo(1, 1);
    }
    const up = all.find((p) => p.way[2] === 1)!;
    expect(up.parting / (2 * Math.PI * 20)).toBeCloseTo(1, 2);
    expect(up.rise).toBeLessThan(20 * 0.06);
  });

  it('a cup comes off along its room, and across it would take a slide', async () => {
    const all = await pulls(cup());
    expect(all[0]!.way).toEqual([0, 0, 1]);
    expect(all[0]!.slides).toBe(0);
    expect(all[0]!.projected).toBeCloseTo(900, 6);
    // All its walls are upright: none has a degree of draft.
    expect(all[0]!.below).toBeCloseTo(4 * 30 * 30 + 4 * 20 * 25, 6);
    const across = all.find((p) => p.way[0] === 1)!;
    // Its two inner walls that look along the pull face each other; floor and the others run along it.
    expect(across.undercut).toBeCloseTo(2 * 20 * 25, 6);
    expect(across.slides).toBeGreaterThan(0);
  });

  it('a rod comes off across it with a level line, and a ring round it stands in no way', async () => {
    const rod = meshOf({ shape: upright(new CylinderGeometry(10, 10, 50, 96)), at: [0, 0, 25] });
    const all = await pulls(rod);
    for (const p of all.filter((q) => q.way[2] === 0)) expect(p.undercut).toBe(0);
    expect(all.find((p) => p.way[2] === 1)!.projected / (Math.PI * 100)).toBeCloseTo(1, 2);
  });

  it('are given up between portions', async () => {
    const mesh = cup();
    expect(await pullsOf(buildBvh(mesh), facetsOf(mesh, 3), DEG, async () => false)).toBeNull();
    expect(await milledFrom(buildBvh(mesh), facetsOf(mesh, 3), 60, async () => false)).toBeNull();
  });
});

describe('sides a part is milled from', () => {
  it('a block: from above all but its underside, and then that', async () => {
    const m = await milled(meshOf({ shape: new BoxGeometry(30, 20, 10), at: [0, 0, 5] }));
    expect(m.sides).toHaveLength(2);
    expect(m.left).toBe(0);
    expect(m.sides[0]!.area + m.sides[1]!.area).toBeCloseTo(2 * (600 + 300 + 200), 6);
    expect(m.sharp).toBe(0);
  });

  it('a cup from above into its floor and from below: as deep as it is, with its inside edges told', async () => {
    const m = await milled(cup());
    expect(m.sides.map((s) => s.from)).toEqual([
      [0, 0, 1],
      [0, 0, -1],
    ]);
    expect(m.sides[1]!.area).toBeCloseTo(900, 6);
    expect(m.sides[0]!.reach).toBeGreaterThan(25);
    expect(m.sides[0]!.reach).toBeLessThanOrEqual(30);
    // Four round the floor and four upright ones.
    expect(m.sharp).toBeCloseTo(4 * 20 + 4 * 25, 6);
    const lying = await milled(turned(cup()));
    expect(lying.sides).toHaveLength(2);
    expect(Math.abs(lying.sides[0]!.from[2])).toBe(0);
  });

  it('a closed room is reached from nowhere, and its place is told', async () => {
    const m = await milled(
      meshOf(
        { shape: new BoxGeometry(40, 40, 40), at: [0, 0, 20] },
        { shape: new SphereGeometry(8, 48, 32), at: [0, 0, 20], inwards: true },
      ),
    );
    expect(m.left / (4 * Math.PI * 64)).toBeCloseTo(1, 1);
    expect(Math.hypot(m.at![0], m.at![1], m.at![2] - 20)).toBeCloseTo(8, 0);
  });
});

describe('cutters', () => {
  it('are the largest that go in', () => {
    expect(largestInto(3)).toBe(6);
    expect(largestInto(2.99)).toBe(5);
    expect(largestInto(0.2)).toBeUndefined();
    expect(largestInto(100)).toBe(CUTTERS.at(-1));
  });

  it('leave ridges by the chord of their circle (a 10 mm ball stepping 1 mm: 0.0251 mm, from a handbook’s table, from memory), and back', () => {
    expect(scallop(10, 1)).toBeCloseTo(0.0251, 4);
    expect(scallop(6, 20)).toBe(3);
    fc.assert(
      fc.property(fc.double({ min: 0.5, max: 25, noNaN: true }), fc.double({ min: 0.01, max: 0.99, noNaN: true }), (d, share) => {
        expect(stepFor(d, scallop(d, share * d)) / (share * d)).toBeCloseTo(1, 6);
      }),
    );
  });
});

describe('the outline for a lathe', () => {
  const line = (a: [number, number], b: [number, number]) => ({ kind: 'line' as const, a: { x: a[0], y: a[1] }, b: { x: b[0], y: b[1] } });
  /** A spool: a drum of 20 across and 40 high with a groove of a half circle of 6 at its middle, a step and its axis. */
  const spool = () => {
    const groove = arcThrough({ x: 20, y: 14 }, { x: 14, y: 20 }, { x: 20, y: 26 })!;
    const curves = [
      line([0, 0], [25, 0]),
      line([25, 0], [25, 4]),
      line([25, 4], [20, 4]),
      line([20, 4], [20, 14]),
      groove,
      line([20, 26], [20, 40]),
      line([20, 40], [0, 40]),
    ];
    return meridianOf(
      curves.map((curve, i) => ({ curve, face: `f${i}` })),
      true,
    );
  };

  it('tells its length, its diameter, its tightest bend inwards and the corners that have none', () => {
    const t = turningOf(spool());
    expect([t.length, t.diameter]).toEqual([40, 50]);
    expect(t.tightest!.bend).toBeCloseTo(6, 9);
    expect(t.corners).toEqual([{ radius: 20, height: 4 }]);
    // A convex spool bends inwards nowhere.
    expect(turningOf(drum(10, 0, 30, ['a', 'b', 'c']))).toEqual({ length: 30, diameter: 20, tightest: null, corners: [] });
  });

  it('finds the waist of a spline (y² over 2r about it: radius r)', () => {
    // x = 10 + y²/16: as a parabola it bends by 1/8 at its waist.
    const side = {
      kind: 'spline' as const,
      a: { x: 14, y: -8 },
      b: { x: 14, y: 8 },
      spline: {
        degree: 2,
        knots: [0, 0, 0, 1, 1, 1],
        poles: [
          [14, -8],
          [6, 0],
          [14, 8],
        ],
      },
    };
    const m = meridianOf(
      [line([0, -8], [14, -8]), side, line([14, 8], [0, 8])].map((curve, i) => ({ curve, face: `f${i}` })),
      true,
    );
    const { tightest } = turningOf(m);
    expect(tightest!.bend).toBeCloseTo(8, 6);
    expect(tightest!.at.height).toBeCloseTo(0, 3);
    expect(tightest!.at.radius).toBeCloseTo(10, 6);
  });

  it('goes into a DXF that a reader not ours reads: lines and arcs true, the axis apart', () => {
    const read = new DxfParser().parseSync(outlineDxf(spool()))!;
    const kinds = read.entities.map((e) => `${e.layer} ${e.type}`);
    expect(kinds.filter((k) => k === 'OUTLINE LINE')).toHaveLength(6);
    expect(kinds.filter((k) => k === 'OUTLINE ARC')).toHaveLength(1);
    expect(kinds.filter((k) => k.startsWith('AXIS'))).toEqual(['AXIS LINE']);
    expect((read.entities.find((e) => e.type === 'ARC') as unknown as { radius: number }).radius).toBeCloseTo(6, 9);
  });

  it('tells the share of a skin that no lathe makes', () => {
    const rod = facetsOf(meshOf({ shape: upright(new CylinderGeometry(10, 10, 30, 96)), at: [4, 5, 15] }), 2);
    expect(unturned(rod, [4, 5])).toBe(0);
    const block = facetsOf(meshOf({ shape: new BoxGeometry(20, 20, 20), at: [0, 0, 10] }), 2);
    // Four sides of six, but for the strips where they stand square to the radius.
    expect(unturned(block, [0, 0])).toBeGreaterThan(0.6);
  });
});
