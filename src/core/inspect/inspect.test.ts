/** Readings of skins whose walls, drafts and overhangs are known in closed form. */
import { describe, expect, it } from 'vitest';
import { arcOf, turnedMesh, withVoid } from '../../../tests/support/meshes';
import { buildBvh } from '../mesh/bvh';
import { massProperties } from '../mesh/mesh';
import { coloursOf, luminance, viridis } from './colour';
import { draftMap } from './draft';
import { areaBelow, facetCount, facetsOf, histogramOf } from './facets';
import { joinClass, nearlySmooth } from './joins';
import { overhangMap } from './overhang';
import { stationsAlong, sweep } from './sweep';
import { wallMap } from './walls';

const ball = (r: number, z = 0) => turnedMesh(arcOf(r, z, 0, Math.PI, 96), 128);
const drum = (r: number, h: number, z = 0) =>
  turnedMesh(
    [
      [0, z],
      [r, z],
      [r, z + h],
      [0, z + h],
    ],
    256,
  );

describe('facets', () => {
  it('are no longer than asked, and have the area of the skin', () => {
    const skin = drum(20, 60);
    const f = facetsOf(skin, 4);
    let longest = 0;
    for (let t = 0; t < facetCount(f); t++)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [9 * t + 3 * k, 9 * t + 3 * ((k + 1) % 3)];
        longest = Math.max(longest, Math.hypot(...[0, 1, 2].map((c) => f.positions[a + c]! - f.positions[b + c]!)));
      }
    expect(longest).toBeLessThanOrEqual(4 + 1e-5);
    expect(f.areas.reduce((s, a) => s + a, 0)).toBeCloseTo(massProperties(skin).area, 3);
  });
  it('count their readings by area', () => {
    const h = histogramOf([1, 1, 3, Number.NaN], [10, 5, 7, 100], 2);
    expect([h.from, h.to, ...h.areas]).toEqual([1, 3, 15, 7]);
    expect(areaBelow([1, 2, Number.NaN], [10, 5, 7], 1.5)).toBe(10);
  });
});

describe('a wall map', () => {
  const options = { cap: 30, apart: 4 } as const;
  it('of a spherical and of a cylindrical shell is their wall, by ball and by ray', async () => {
    for (const skin of [withVoid(ball(30), ball(26)), withVoid(drum(30, 80), drum(26, 72, 4))]) {
      for (const method of ['ball', 'ray'] as const) {
        const map = (await wallMap(buildBvh(skin), facetsOf(skin, 5), { ...options, method, limit: 4.5 }))!;
        expect(Math.abs(map.thinnest[0]!.thickness - 4)).toBeLessThan(0.03);
      }
    }
  });
  it('of an eccentric shell is least at R − r − e, and says how much of it is thin', async () => {
    const skin = withVoid(ball(30), ball(26), [0, 0, 1]);
    const map = (await wallMap(buildBvh(skin), facetsOf(skin, 3), { ...options, method: 'ball', limit: 3.5 }))!;
    expect(Math.abs(map.thinnest[0]!.thickness - 3)).toBeLessThan(0.02);
    expect(map.thinnest[0]!.at[2]).toBeGreaterThan(25);
    expect(Math.abs(map.thickest[0]!.thickness - 5)).toBeLessThan(0.02);
    // The wall along the normal at angle a from the top is about 4 − cos a: thin on the outer cap within 60°, and on the inner one.
    const cap = (r: number): number => 2 * Math.PI * r * r * (1 - Math.cos(Math.PI / 3));
    expect(map.below! / (cap(30) + cap(26))).toBeCloseTo(1, 1);
    expect(map.histogram.areas.reduce((s, a) => s + a, 0) / (4 * Math.PI * (900 + 676))).toBeCloseTo(1, 1);
  });
  it('shows no thin wall at a rim or an acute edge', async () => {
    // A solid cone of 90° opening: at its rim and its tip the ball shrinks to nothing, but no wall is there.
    const cone = turnedMesh(
      [
        [0, 0],
        [20, 0],
        [0, 20],
      ],
      128,
    );
    const bvh = buildBvh(cone);
    const map = (await wallMap(bvh, facetsOf(cone, 2), { ...options, cap: 60, method: 'ball', limit: 1, wedge: (a, b) => a !== b }))!;
    expect(map.below).toBe(0);
  });
  it('stops when it is told to', async () => {
    const skin = ball(20);
    expect(
      await wallMap(buildBvh(skin), facetsOf(skin, 5), { ...options, method: 'ball', limit: null, tick: async () => false }),
    ).toBeNull();
  });
});

describe('a section sweep', () => {
  it('of a ball has the areas and outlines of its circles', async () => {
    const rows = (await sweep(buildBvh(ball(20)), stationsAlong([0, 0, 1], -20, 20, 21), 60))!;
    for (const r of rows.slice(1, -1)) {
      const radius = Math.sqrt(400 - r.offset ** 2);
      expect(r.area / (Math.PI * radius ** 2)).toBeCloseTo(1, 2);
      expect(r.perimeter / (2 * Math.PI * radius)).toBeCloseTo(1, 2);
    }
  });
  it('of a shell shows its wall at every height, and where it is least', async () => {
    const skin = withVoid(ball(30), ball(26), [1, 0, 0]);
    const rows = (await sweep(buildBvh(skin), stationsAlong([0, 0, 1], -25, 25, 11), 30))!;
    const middle = rows[5]!;
    expect(middle.least).toBeCloseTo(3, 1);
    expect(middle.most).toBeCloseTo(5, 1);
    expect(middle.mean).toBeCloseTo(4, 1);
    expect(middle.spot!.at[0]).toBeGreaterThan(20);
  });
});

describe('draft', () => {
  const limit = (1.5 * Math.PI) / 180;
  it('of a cone is its half angle, and a drum has none', async () => {
    const cone = turnedMesh(
      [
        [0, 0],
        [30, 0],
        [20, 50],
        [0, 50],
      ],
      128,
    );
    const map = (await draftMap(buildBvh(cone), facetsOf(cone, 6), [0, 0, 1], 1, limit))!;
    const f = facetsOf(cone, 6);
    for (let t = 0; t < facetCount(f); t++) if (f.faceOf[t] === 1) expect(map.values[t]!).toBeCloseTo(Math.atan(10 / 50), 3);
    expect([map.below, map.undercutArea]).toEqual([0, 0]);
    const straight = (await draftMap(buildBvh(drum(20, 30)), facetsOf(drum(20, 30), 6), [0, 0, 1], 1, limit))!;
    expect(straight.below / (2 * Math.PI * 20 * 30)).toBeCloseTo(1, 2);
    expect(straight.faces.map((x) => x.face)).toEqual([1]);
  });
  it('finds the undercut of a ball on a stem: the zone below its equator', async () => {
    const [R, r] = [20, 6];
    const start = Math.asin(r / R);
    const skin = turnedMesh([[0, -40], [r, -40], ...arcOf(R, 0, start, Math.PI, 96)], 128);
    const f = facetsOf(skin, 2);
    const one = (await draftMap(buildBvh(skin), f, [0, 0, 1], 1, limit))!;
    // A zone’s area is 2πR times its height (Archimedes).
    expect(one.undercutArea / (2 * Math.PI * R * R * Math.cos(start))).toBeCloseTo(1, 1);
    expect(one.sideActions).toBe(1);
    // Parted at its equator a mould of two halves clears it; the line runs round it.
    const two = (await draftMap(buildBvh(skin), f, [0, 0, 1], 2, limit))!;
    expect(two.undercutArea / one.undercutArea).toBeLessThan(0.02);
    let length = 0;
    for (let i = 0; i < two.parting.length; i += 6) {
      const [a, b] = [two.parting.subarray(i, i + 3), two.parting.subarray(i + 3, i + 6)];
      if (Math.hypot(a[0]!, a[1]!) > 15) length += Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!, a[2]! - b[2]!);
    }
    expect(length / (2 * Math.PI * R)).toBeCloseTo(1, 1);
  });
});

describe('overhang', () => {
  it('of a ball is the cap that leans more than the limit', async () => {
    const skin = ball(20, 20);
    const map = (await overhangMap(skin, facetsOf(skin, 2), Math.PI / 4))!;
    // Undersides lean more than 45° within 45° of straight down.
    expect(map.area / (2 * Math.PI * 400 * (1 - Math.SQRT1_2))).toBeCloseTo(1, 1);
  });
  it('sees a ceiling’s span, a foot’s contact and a piece that begins in the air', async () => {
    // A table: a disc of radius 30 on a leg of radius 10. From leg to rim 20 are free.
    const table = turnedMesh(
      [
        [0, 0],
        [10, 0],
        [10, 40],
        [30, 40],
        [30, 45],
        [0, 45],
      ],
      128,
    );
    const map = (await overhangMap(table, facetsOf(table, 1.5), Math.PI / 4))!;
    expect(map.contact / (Math.PI * 100)).toBeCloseTo(1, 2);
    expect(map.bridges).toHaveLength(1);
    expect(map.bridges[0]!.area / (Math.PI * 800)).toBeCloseTo(1, 2);
    expect(Math.abs(map.bridges[0]!.span / 20 - 1)).toBeLessThan(0.05);
    expect(map.islands).toEqual([]);
    // A mushroom whose cap hangs down below its own crown: the rim of the cap begins in the air.
    const hat = turnedMesh(
      [
        [0, 0],
        [5, 0],
        [5, 40],
        [20, 20],
        [25, 20],
        [25, 45],
        [0, 45],
      ],
      128,
    );
    const hung = (await overhangMap(hat, facetsOf(hat, 1.5), Math.PI / 4))!;
    expect(hung.islands).toHaveLength(1);
    expect(hung.islands[0]!.height).toBeCloseTo(20, 0);
  });
});

describe('joins', () => {
  it('are classed by adjustable limits', () => {
    const j = { edge: 'e', length: 1, gap: 0, angle: 0, bend: 0, mismatch: 0, at: [0, 0, 0] as const, places: [], along: [] };
    expect(joinClass(j)).toBe('G2');
    expect(joinClass({ ...j, mismatch: 1, bend: 0.05 })).toBe('G1');
    expect(joinClass({ ...j, mismatch: 1, bend: 0.05 }, { gap: 0.01, angle: 0.01, mismatch: 2, bend: 1e-4 })).toBe('G2');
    expect(joinClass({ ...j, angle: 0.1 })).toBe('G0');
    expect(nearlySmooth({ ...j, angle: 0.1 })).toBe(true);
    expect(nearlySmooth({ ...j, angle: Math.PI / 2 })).toBe(false);
    expect(joinClass({ ...j, gap: 0.2 })).toBe('open');
  });
});

describe('colours', () => {
  it('grow lighter all the way, so that they read in greyscale', () => {
    const light = Array.from({ length: 64 }, (_, i) => luminance(viridis(i / 63)));
    for (let i = 1; i < light.length; i++) expect(light[i]!).toBeGreaterThan(light[i - 1]!);
  });
  it('leave what has no reading grey', () => {
    const c = coloursOf([0, 1, Number.NaN], 0, 1);
    expect([...c.slice(0, 3)]).toEqual([0x44, 0x01, 0x54]);
    expect([...c.slice(3, 6)]).toEqual([0xfd, 0xe7, 0x25]);
    expect(Math.max(...c.slice(6)) - Math.min(...c.slice(6))).toBeLessThan(8);
  });
});
