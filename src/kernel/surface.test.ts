/** What is known of a skin: its borders, how flat they are, and that what is missing is noticed. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { box, cylinder, testKernel } from '../../tests/support/kernel';
import { turned as turnVector } from '../core/curves/frame';
import type { Vec3 } from '../core/geometry/vectors';
import type { Kernel } from './open';
import { borderLoops, planeThrough, skinWithout, verifySurface } from './surface';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
});

describe('how far places lie off the plane that fits them best', () => {
  it('is nothing for places of a plane, however it lies', () => {
    const coordinate = fc.double({ min: -30, max: 30, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(coordinate, coordinate), { minLength: 4, maxLength: 12 }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        (flat, a, b) => {
          const places = flat.map(([x, y]) => turnVector(turnVector([x, y, 0], [1, 0, 0], a), [0, 1, 0], b) as Vec3);
          expect(planeThrough(places).off).toBeLessThan(1e-6);
        },
      ),
    );
  });
  it('is the height of a saddle', () => {
    const ring = Array.from({ length: 72 }, (_, i): Vec3 => {
      const w = (i * Math.PI) / 36;
      return [20 * Math.cos(w), 20 * Math.sin(w), 3 * Math.cos(2 * w)];
    });
    expect(planeThrough(ring).off).toBeCloseTo(3, 6);
  });
});

describe('a skin', () => {
  it('of a box without its lid has one border, of the lid’s outline', () => {
    const solid = box(kernel, 60, 40, 30);
    const top = solid.faces.find((_, i) => {
      const skin = skinWithout(kernel, solid, new Set([solid.faces[i]!]));
      return skin.ok && Math.abs(borderLoops(kernel, skin.value.shape)[0]!.length - 200) < 1e-6;
    });
    const skin = skinWithout(kernel, solid, new Set([top!]));
    expect(skin.ok && skin.value.surface).toBe(true);
    expect(skin.ok && skin.value.faces).toHaveLength(5);
    const loops = skin.ok ? borderLoops(kernel, skin.value.shape) : [];
    expect(loops).toHaveLength(1);
    expect(loops[0]!.offPlane).toBeLessThan(1e-9);
  });
  it('of a whole cylinder has none, and without its ends two circles', () => {
    const solid = cylinder(kernel, 10, 30);
    const whole = skinWithout(kernel, solid, new Set());
    expect(whole.ok && borderLoops(kernel, whole.value.shape)).toEqual([]);
    const tube = skinWithout(kernel, solid, new Set(['s1/c0', 's1/c2']));
    const loops = tube.ok ? borderLoops(kernel, tube.value.shape) : [];
    expect(loops.map((l) => l.length)).toEqual([expect.closeTo(20 * Math.PI, 6), expect.closeTo(20 * Math.PI, 6)]);
  });
  it('without any face, or of an area that can’t be, is refused', () => {
    const solid = cylinder(kernel, 10, 30);
    const none = skinWithout(kernel, solid, new Set(solid.faces));
    expect(none.ok ? '' : none.error).toBe('the result has no faces');
    const wrong = verifySurface(kernel, solid.shape, [0, 10]);
    expect(wrong.ok ? '' : wrong.error.check).toBe('volume');
  });
});
