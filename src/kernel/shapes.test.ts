/** Areas, volumes and bounds of whole spline faces are integrated and sought in the product itself: they must be what the kernel says. */
import { beforeAll, describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import type { Cage } from '../core/form/cage';
import { applyEdit } from '../core/form/edit/edit';
import { byPlane } from '../core/form/edit/select';
import { NO_SYMMETRY } from '../core/form/edit/symmetry';
import { sourceOf } from '../core/form/read';
import { ballCage, boxCage, torusCage, tubeCage } from '../core/form/starts';
import { areaOf, volumeOf } from './amounts';
import { type Kernel, type Shape, scoped } from './open';
import { boundsOf } from './shapes';
import { raiseForm } from './steps/form';

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
