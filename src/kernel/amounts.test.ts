/** Integrals over trimmed faces of every kind, against closed forms. */
import { beforeAll, describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { waisted } from '../../tests/support/waisted';
import type { Vec3 } from '../core/geometry/vectors';
import { flowThrough } from '../core/surfaces/flow';
import type { PoleSurface } from '../core/surfaces/spline';
import { areaOf, volumeOf } from './amounts';
import type { Kernel, Shape } from './open';
import { facesOf } from './shapes';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
}, 60_000);

const frame = (at: Vec3, z: Vec3) => new kernel.gp_Ax2(new kernel.gp_Pnt(...at), new kernel.gp_Dir(...z));
const rod = (r: number, at: Vec3, z: Vec3, h: number): Shape => new kernel.BRepPrimAPI_MakeCylinder(frame(at, z), r, h).Shape();
const ball = (r: number, at: Vec3): Shape => new kernel.BRepPrimAPI_MakeSphere(new kernel.gp_Pnt(...at), r).Shape();
const ring = (major: number, r: number, at: Vec3, z: Vec3): Shape => new kernel.BRepPrimAPI_MakeTorus(frame(at, z), major, r).Shape();
const cut = (a: Shape, b: Shape): Shape => new kernel.BRepAlgoAPI_Cut(a, b).Shape();
const common = (a: Shape, b: Shape): Shape => new kernel.BRepAlgoAPI_Common(a, b).Shape();
const moved = (a: Shape): Shape => {
  const t = new kernel.gp_Trsf();
  t.SetRotation(new kernel.gp_Ax1(new kernel.gp_Pnt(1, 2, 3), new kernel.gp_Dir(1, -2, 0.5)), 0.7);
  return new kernel.BRepBuilderAPI_Transform(a, t, true, false).Shape();
};

describe('plates with round holes and arcs', () => {
  it('have the volume, area and centroid of a box less its drums, whole or cut off by the border', () => {
    const box = new kernel.BRepPrimAPI_MakeBox(100, 60, 8).Shape();
    let plate = box;
    const drums: [number, number, number][] = [
      [20, 30, 5],
      [45, 22, 9],
      [80, 40, 12],
    ];
    for (const [x, y, r] of drums) plate = cut(plate, rod(r, [x, y, -1], [0, 0, 1], 10));
    // Half a drum at the border, and a quarter at a corner.
    plate = cut(plate, rod(6, [50, 0, -1], [0, 0, 1], 10));
    plate = cut(plate, rod(7, [100, 60, -1], [0, 0, 1], 10));
    const flat = 6000 - Math.PI * (25 + 81 + 144 + 18 + 49 / 4);
    const { volume, centroid } = volumeOf(kernel, moved(plate));
    expect(volume / (8 * flat)).toBeCloseTo(1, 12);
    expect(areaOf(kernel, plate) / (2 * flat + 8 * (2 * Math.PI * 26 + Math.PI * 6 + Math.PI * 3.5 + 320 - 12 - 14))).toBeCloseTo(1, 11);
    // First moments of the half and the quarter by 4r/3π from their straight sides.
    const half = (6 ** 2 * Math.PI) / 2;
    const quarter = (7 ** 2 * Math.PI) / 4;
    const across = 6000 * 50 - drums.reduce((s, [x, , r]) => s + Math.PI * r * r * x, 0) - half * 50 - quarter * (100 - 28 / (3 * Math.PI));
    expect(volumeOf(kernel, plate).centroid[0]).toBeCloseTo(across / flat, 9);
    expect(centroid).toHaveLength(3);
  });
});

describe('volumes, areas and centroids', () => {
  it('of rings and balls are those of Pappus and Archimedes, wherever they stand', () => {
    for (const where of [(s: Shape) => s, moved]) {
      const torus = where(ring(30, 7, [4, 5, 6], [1, 2, 2]));
      expect(volumeOf(kernel, torus).volume / (2 * Math.PI ** 2 * 30 * 49)).toBeCloseTo(1, 10);
      expect(areaOf(kernel, torus) / (4 * Math.PI ** 2 * 30 * 7)).toBeCloseTo(1, 10);
      const sphere = where(ball(12, [1, -2, 3]));
      expect(volumeOf(kernel, sphere).volume / ((4 / 3) * Math.PI * 1728)).toBeCloseTo(1, 10);
    }
    const { centroid } = volumeOf(kernel, ring(30, 7, [4, 5, 6], [1, 2, 2]));
    centroid.forEach((c, k) => {
      expect(c).toBeCloseTo(4 + k, 8);
    });
  });

  it('of what is trimmed by curves in space: the napkin ring, the crossing of two rods, a bored wedge', () => {
    // A ball bored through along its middle keeps π h³ / 6, whatever its radius (the napkin ring problem).
    for (const r of [10, 17]) {
      const hole = Math.sqrt(r * r - 36);
      const left = volumeOf(kernel, cut(ball(r, [0, 0, 0]), rod(hole, [0, 0, -30], [0, 0, 1], 60))).volume;
      expect(left / ((Math.PI * 12 ** 3) / 6)).toBeCloseTo(1, 7);
    }
    // Two rods of one radius that cross at a right angle have 16 r³ / 3 in common, and 16 r² of skin (Archimedes).
    const crossing = common(rod(8, [0, 0, -20], [0, 0, 1], 40), rod(8, [-20, 0, 0], [1, 0, 0], 40));
    expect(volumeOf(kernel, crossing).volume / ((16 / 3) * 512)).toBeCloseTo(1, 7);
    expect(areaOf(kernel, crossing) / (16 * 64)).toBeCloseTo(1, 7);
    // A rod cut by a plane at a slant through the middle of its foot: the hoof, 2/3 r² h.
    const tilted = new kernel.gp_Pln(new kernel.gp_Pnt(0, 0, 0), new kernel.gp_Dir(-2, 0, 1));
    const above = new kernel.BRepPrimAPI_MakeHalfSpace(
      new kernel.BRepBuilderAPI_MakeFace(tilted).Face(),
      new kernel.gp_Pnt(0, 0, 50),
    ).Solid();
    const hoof = volumeOf(kernel, cut(rod(10, [0, 0, 0], [0, 0, 1], 40), above)).volume;
    expect(hoof / ((2 / 3) * 100 * 20)).toBeCloseTo(1, 8);
  });

  it('of the parts of a body add up to those of the whole, trimmed rings and cones among them', () => {
    const tool = rod(5, [-40, 3, 1], [1, 0.1, 0.05], 80);
    for (const whole of [
      waisted(kernel),
      ring(20, 8, [0, 0, 0], [0, 0, 1]),
      moved(ring(20, 8, [0, 0, 0], [0, 0, 1])),
      ball(14, [0, 4, 0]),
    ]) {
      const [inside, outside] = [common(whole, tool), cut(whole, tool)].map((s) => volumeOf(kernel, s));
      expect((inside!.volume + outside!.volume) / volumeOf(kernel, whole).volume).toBeCloseTo(1, 7);
      expect(inside!.volume).toBeGreaterThan(100);
    }
  });

  it('are the same for a face and its mirror image, and for one that is asked twice', () => {
    const one = cut(ball(14, [0, 0, 0]), rod(4, [3, 0, -30], [0, 0, 1], 60));
    const areas = facesOf(kernel, one).map((f) => areaOf(kernel, f));
    expect(facesOf(kernel, one).map((f) => areaOf(kernel, f))).toEqual(areas);
    expect(areas.reduce((a, b) => a + b, 0)).toBeCloseTo(areaOf(kernel, one), 9);
    const other = cut(ball(14, [0, 0, 0]), rod(4, [-3, 0, -30], [0, 0, 1], 60));
    expect(volumeOf(kernel, other).volume).toBeCloseTo(volumeOf(kernel, one).volume, 5);
    expect(volumeOf(kernel, other).centroid[0]).toBeCloseTo(-volumeOf(kernel, one).centroid[0], 6);
  });
});

describe('a spline with weights', () => {
  it('that is a quarter of a cylinder has its area, and a quarter of its volume', () => {
    const [r, h, k] = [7, 5, Math.SQRT1_2];
    const quarter: PoleSurface = {
      degrees: [2, 1],
      knots: [
        [0, 0, 0, 1, 1, 1],
        [0, 0, 1, 1],
      ],
      poles: [
        [r, 0],
        [r, r],
        [0, r],
      ].map(([x, y]) => [0, h].map((z): Vec3 => [x!, y!, z])),
      weights: [
        [1, 1],
        [k, k],
        [1, 1],
      ],
    };
    const { area, volume } = flowThrough(quarter);
    expect(area / ((Math.PI / 2) * r * h)).toBeCloseTo(1, 7);
    // The cone from the origin over it: the quarter rod without the cone over its lid, r² π h / 4 · 2/3.
    expect(volume / (((Math.PI * r * r * h) / 4) * (2 / 3))).toBeCloseTo(1, 7);
  });
});
