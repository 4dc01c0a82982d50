/** Areas, volumes and bounds of whole spline faces are integrated and sought in the product itself: they must be what the kernel says. */
import { beforeAll, describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import type { Cage } from '../core/form/cage';
import { applyEdit } from '../core/form/edit/edit';
import { byPlane } from '../core/form/edit/select';
import { NO_SYMMETRY } from '../core/form/edit/symmetry';
import { sourceOf } from '../core/form/read';
import { ballCage, boxCage, torusCage, tubeCage } from '../core/form/starts';
import type { Vec3 } from '../core/geometry/vectors';
import { bounds } from '../core/mesh/mesh';
import { areaOf, volumeOf } from './amounts';
import { type Kernel, type Shape, scoped } from './open';
import { boundsOf } from './shapes';
import { raiseForm } from './steps/form';
import { tessellate } from './tessellate';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
}, 60_000);

/** Without its faces at a height. */
const opened = (c: Cage, z: number): Cage => {
  const r = applyEdit(
    c,
    byPlane(c, 'faces', { normal: [0, 0, 1], offset: z }, 'on'),
    { do: 'delete' },
    { symmetry: NO_SYMMETRY, weigh: (w) => w },
  );
  if (!r.ok) throw new Error(r.error);
  return r.value.cage;
};
const raised = (cage: ReturnType<typeof boxCage>, plane: string): Shape => {
  const step = {
    id: 's1',
    kind: 'form',
    enabled: true,
    values: {},
    inputs: { source: sourceOf(cage), plane, follow: 'well', mode: 'new', body: null },
  };
  const made = raiseForm(
    { kernel, step, planes: new Map(), scope: new Map(), project: { profiles: [], steps: [] } } as unknown as Parameters<
      typeof raiseForm
    >[0],
    0,
  );
  if (!made.ok) throw new Error(made.error.why);
  return made.value.solids[0]!.shape;
};
const byKernel = (shape: Shape): { area: number; volume: number; centroid: number[]; high: number } =>
  scoped((s) => {
    const [skin, inside] = [s.keep(new kernel.GProp_GProps()), s.keep(new kernel.GProp_GProps())];
    kernel.BRepGProp.SurfaceProperties(shape, skin, 1e-9, false);
    kernel.BRepGProp.VolumeProperties(shape, inside, 1e-9, false, false);
    const c = s.keep(inside.CentreOfMass());
    const box = s.keep(new kernel.Bnd_Box());
    kernel.BRepBndLib.AddOptimal(shape, box, false, false);
    return { area: skin.Mass(), volume: inside.Mass(), centroid: [c.X(), c.Y(), c.Z()], high: box.GetZMax() };
  });

describe('what whole spline faces measure', () => {
  it.each([
    ['a pebble', ballCage(30, 2), 'level'],
    ['a rounded box on the front plane', boxCage([60, 40, 30], [3, 2, 2]), 'front'],
    ['a tube with flat caps', tubeCage(20, 40, 8, 4), 'side'],
    ['a ring', torusCage(30, 10, 6, 8), 'level'],
    ['an open bowl under a flat lid', opened(boxCage([60, 40, 30], [3, 2, 2]), 30), 'front'],
  ] as const)('is what the kernel integrates and bounds: %s', (_, cage, plane) => {
    const shape = raised(cage, plane);
    const theirs = byKernel(shape);
    expect(Math.abs(areaOf(kernel, shape) / theirs.area - 1)).toBeLessThan(1e-6);
    const ours = volumeOf(kernel, shape);
    expect(Math.abs(ours.volume / theirs.volume - 1)).toBeLessThan(1e-7);
    for (let k = 0; k < 3; k++) expect(Math.abs(ours.centroid[k]! - theirs.centroid[k]!)).toBeLessThan(1e-4);
    expect(Math.abs(boundsOf(kernel, shape).max[2] - theirs.high)).toBeLessThan(1e-4);
  });
});

describe('what is left of spline faces', () => {
  /** What a box leaves of a shape. */
  const without = (shape: Shape, from: Vec3, to: Vec3): Shape =>
    scoped((s) => {
      const [p, q] = [from, to].map((c) => s.keep(new kernel.gp_Pnt(...c)));
      const box = s.keep(new kernel.BRepPrimAPI_MakeBox(p!, q!)).Shape();
      return s.keep(new kernel.BRepAlgoAPI_Cut(shape, box)).Shape();
    });
  it('reaches the cut where the cut is, and what lies beyond the border where a peak is left', () => {
    const whole = raised(ballCage(30, 2), 'level');
    const round = boundsOf(kernel, whole);
    const [low, high] = [round.min[2], round.max[2]];
    for (const share of [0.85, 0.55, 0.3]) {
      const z = low + share * (high - low);
      const b = boundsOf(kernel, without(whole, [-50, -50, z], [50, 50, 100]));
      expect(b.max[2]).toBeCloseTo(z, 5);
      expect(b.min[2]).toBeCloseTo(low, 5);
      // Where the equator is cut away the widest is at the cut.
      if (share > 0.5) for (const k of [0, 1] as const) expect(b.max[k]).toBeCloseTo(round.max[k], 5);
      else expect(b.max[0]).toBeLessThan(round.max[0] - 1);
    }
  });
  it('is what facets span with a notch beside the peak, and over it, where the kernel’s own search goes 0.07 mm past', () => {
    const whole = raised(ballCage(30, 2), 'level');
    for (const [from, to] of [
      [
        [2, -4, 30],
        [9, 6, 100],
      ],
      [
        [-3, -2, 40],
        [4, 5, 100],
      ],
      [
        [10, 10, -50],
        [50, 50, 100],
      ],
    ] as const) {
      const left = without(whole, from, to);
      // Corners of facets lie on the faces, and no face is farther off its facets than this.
      const off = 0.02;
      const facets = bounds(tessellate(kernel, left, off).positions);
      const found = boundsOf(kernel, left);
      for (const k of [0, 1, 2] as const) {
        expect(found.max[k]).toBeGreaterThan(facets.max[k] - 1e-5);
        expect(found.max[k]).toBeLessThan(facets.max[k] + off);
        expect(found.min[k]).toBeLessThan(facets.min[k] + 1e-5);
        expect(found.min[k]).toBeGreaterThan(facets.min[k] - off);
      }
    }
  });
});
