/**
 * Random turned vases, hollowed and rounded: whatever is accepted must have the wall asked for, measured by
 * the inscribed ball on its mesh, which shares nothing with the check that accepted it.
 */
import { beforeAll, describe, expect, it } from 'vitest';
import { bounds, massProperties, openEdgeCount } from '../../src/core/mesh/mesh';
import { measureWall, seeded } from '../../src/core/mesh/wall';
import type { Profile } from '../../src/core/recipe/schema';
import type { Kernel } from '../../src/kernel/open';
import { roundEdges } from '../../src/kernel/steps/fillet';
import { hollow } from '../../src/kernel/steps/shell';
import { tessellate, weldedMesh } from '../../src/kernel/tessellate';
import { edgesOf, testKernel, topFace, turned } from '../support/kernel';
import { written } from '../support/profile';
import { everyCase } from '../support/properties';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await testKernel();
});

/** A vase of 100 mm: foot, a spline side through three random radii that starts and ends upright, a flat rim. */
function vase(seed: number): Profile {
  const random = seeded(seed);
  const r = Array.from({ length: 5 }, () => (18 + 22 * random()).toFixed(2));
  return written({
    id: 'v',
    name: 'Vase',
    points: [
      ['0', '0'],
      [r[0]!, '0'],
      [r[1]!, '28'],
      [r[2]!, '52'],
      [r[3]!, '77'],
      [r[4]!, '100'],
      ['0', '100'],
    ].map(([x, y], i) => ({ id: `p${i}`, x: x!, y: y! })),
    curves: [
      { kind: 'line', id: 'foot', from: 'p0', to: 'p1' },
      {
        kind: 'spline',
        id: 'side',
        from: 'p1',
        to: 'p5',
        through: ['p2', 'p3', 'p4'],
        start: { angle: '90°', weight: '0.5' },
        end: { angle: '-90°', weight: '0.5' },
      },
      { kind: 'line', id: 'rim', from: 'p5', to: 'p6' },
    ],
  });
}

describe('random vases', () => {
  const outcome = { made: 0, refused: 0 };
  for (let seed = 1; seed <= (everyCase ? 10 : 5); seed++)
    it(`number ${seed}, hollowed to 2 and to 16 mm`, async () => {
      const body = turned(kernel, vase(seed));
      for (const wall of [2, 16]) {
        const r = hollow(kernel, body, [topFace(kernel, body)], wall, 's2');
        if (!r.ok) {
          outcome.refused++;
          expect(r.error.why.length).toBeGreaterThan(10);
          continue;
        }
        outcome.made++;
        const skin = weldedMesh(tessellate(kernel, r.value.shape, 0.03, 0.2));
        expect(openEdgeCount(skin)).toBe(0);
        expect(Math.abs(massProperties(skin).volume / r.value.volume - 1)).toBeLessThan(0.01);
        // From the cavity's skin outwards: an overhanging foot is thin at its corner, and that is no wall.
        const inner = new Set(r.value.faces.flatMap((n, i) => (n.includes('/inner(') ? [i] : [])));
        // Nor is what lies between the cavity, where it widens below its mouth, and the open face: no wall was asked for there.
        const rim = new Set(r.value.faces.flatMap((n, i) => (n.includes('/rim(') ? [i] : [])));
        const measured = (await measureWall(skin, { samples: 3000, faces: inner, wedge: (_, other) => rim.has(other) }))!;
        // Facets leave the ball a little smaller than the wall; a wrong wall would be off by far more.
        expect(measured.thinnest!.thickness).toBeGreaterThan(wall - 0.15);
        expect(bounds(skin.positions).max[2]).toBeCloseTo(100, 3);
      }
    });
  it('are mostly made at 2 mm: refusing everything would be no answer', () =>
    expect(outcome.made).toBeGreaterThanOrEqual(everyCase ? 9 : 4));

  for (let seed = 11; seed <= 16; seed++)
    it(`number ${seed}, its foot rounded`, () => {
      const body = turned(kernel, vase(seed));
      const foot = edgesOf(kernel, body, (e) => e.name === 's1/foot|s1/side');
      expect(foot).toHaveLength(1);
      const small = roundEdges(kernel, body, foot, 1, new Set(['convex']), 's2');
      expect(small.ok).toBe(true);
      if (small.ok) {
        expect(small.value.volume).toBeLessThan(body.volume);
        expect(small.value.faces).toContain('s2/round(s1/foot|s1/side)');
      }
      // Larger than the foot itself: no ball can lean on both faces.
      expect(roundEdges(kernel, body, foot, 90, new Set(['convex']), 's2').ok).toBe(false);
    });
});
