/** Turned bodies known again from their faces alone: exported, read back and hollowed on their outline. */
import { beforeAll, describe, expect, it } from 'vitest';
import { box, cylinder, post, taper, testKernel } from '../../tests/support/kernel';
import { randomTurnedBodies } from '../../tests/support/turned';
import { ORIGIN_PLANES, tilted } from '../core/curves/frame';
import { curvesOf, skinOf, sweptVolume } from '../core/turned/meridian';
import { volumeOf } from './amounts';
import type { KernelBody } from './body';
import type { Kernel } from './open';
import { recogniseTurned } from './recognise';
import { facesOf } from './shapes';
import { turnMeridian } from './turned';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
});

/** The body as a file would bring it: its text, its faces without names. */
function bare(body: KernelBody): KernelBody {
  const shape = kernel.BRepToolsWrapper.Read(kernel.BRepToolsWrapper.Write(body.shape));
  return { shape, faces: facesOf(kernel, shape).map((_, i) => `f${i}`), volume: volumeOf(kernel, shape).volume };
}

describe('a body that is brought in', () => {
  it('is known to be turned by its cylinders, cones and flat ends', () => {
    for (const body of [cylinder(kernel, 20, 50), taper(kernel), post(kernel)]) {
      const found = recogniseTurned(kernel, bare(body))!;
      expect(sweptVolume(curvesOf(found.meridian)) / body.volume).toBeCloseTo(1, 10);
      expect(skinOf(found.meridian)).toHaveLength(body.faces.length);
      expect(Math.abs(found.frame.y[2])).toBeCloseTo(1, 12);
    }
  });
  it('is known by splines, arcs and closed hollows too, wherever it stands', () => {
    let known = 0;
    const leaning = tilted(ORIGIN_PLANES.front, [5, 6, 7], [1, 0.3, 0.2], 0.7);
    const bodies = randomTurnedBodies(24, 500);
    for (const b of bodies) {
      const made = turnMeridian(kernel, leaning, b.meridian, 's1');
      if (!made.ok) throw new Error(`${b.kind} ${b.seed}: ${made.error}`);
      const found = recogniseTurned(kernel, bare(made.value));
      if (!found) continue;
      known++;
      expect(sweptVolume(curvesOf(found.meridian)) / sweptVolume(curvesOf(b.meridian))).toBeCloseTo(1, 6);
    }
    expect(known / bodies.length).toBeGreaterThan(0.95);
  });
  it('that is not turned all round is left as it is', () => {
    expect(recogniseTurned(kernel, box(kernel, 10, 20, 30))).toBeUndefined();
    const half = new kernel.BRepPrimAPI_MakeBox(30, 30, 30).Shape();
    const cut = new kernel.BRepAlgoAPI_Cut(cylinder(kernel, 20, 50).shape, half).Shape();
    expect(recogniseTurned(kernel, bare({ shape: cut, faces: [], volume: 1 }))).toBeUndefined();
  });
});
