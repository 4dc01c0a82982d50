import fc from 'fast-check';
import { linearRegression } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import type { Side, Way } from './document';
import { AXES, growth, type Observation, shrinkageOf } from './shrinkage';

/** Evenly spread numbers from a seed (Park and Miller, 1988), and normal ones by the sum of twelve of them. */
function numbers(seed: number) {
  let state = seed;
  const even = (): number => {
    state = (state * 48271) % 2147483647;
    return state / 2147483647;
  };
  const bell = (): number => Array.from({ length: 12 }, even).reduce((s, v) => s + v, -6);
  return { even, bell };
}

const PLACES: readonly (readonly [number, Way, Side])[] = [
  [80, 'x', 'outer'],
  [30, 'x', 'inner'],
  [55, 'y', 'outer'],
  [20, 'y', 'neither'],
  [42, 'z', 'outer'],
  [12, 'z', 'inner'],
  [100, 'other', 'outer'],
];

interface Truth {
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly proud: number;
}
const ENDS = { outer: 1, inner: -1, neither: 0 };
const grownBy = (t: Truth, way: Way): number => (way === 'other' ? 0.5 : way === 'flat' ? (t.x + t.y) / 2 : t[way]);

const made = (t: Truth, pieces: number, off: (piece: number, place: number) => number, places = PLACES): Observation[] =>
  Array.from({ length: pieces }, (_, p) =>
    places.map(([nominal, way, side], k) => ({
      piece: `p${p}`,
      place: `m${k}`,
      nominal,
      read: nominal * (1 + grownBy(t, way)) + ENDS[side] * t.proud + off(p, k),
      way,
      side,
    })),
  ).flat();

const truth = fc.record({
  x: fc.double({ min: -0.03, max: 0.01, noNaN: true }),
  y: fc.double({ min: -0.03, max: 0.01, noNaN: true }),
  z: fc.double({ min: -0.03, max: 0.01, noNaN: true }),
  proud: fc.double({ min: -0.2, max: 0.4, noNaN: true }),
});

describe('shrinkage by axis', () => {
  it('is found exactly where readings are exact, with what the skins stand proud by', () => {
    fc.assert(
      fc.property(truth, (t) => {
        const s = shrinkageOf(
          made(t, 3, () => 0),
          0,
        )!;
        for (const axis of AXES) expect(s.scale[axis]!.value).toBeCloseTo(t[axis], 9);
        expect(s.proud!.value).toBeCloseTo(t.proud, 7);
        expect(Math.abs(s.worst.off)).toBeLessThan(1e-7);
      }),
    );
  });

  it('lies within what it is said to be trusted to in 95 % and more of 500 series, by noise and by a device that is off', () => {
    let told = 0;
    let held = 0;
    for (let seed = 1; seed <= 500; seed++) {
      const { even, bell } = numbers(seed * 7919);
      const t = { x: -0.02 * even(), y: -0.02 * even(), z: -0.02 * even(), proud: 0.3 * even() };
      const bias = 0.03 * (2 * even() - 1);
      // Pieces differ as wholes, too.
      const batch = [0, 1, 2, 3].map(() => 1e-3 * bell());
      const s = shrinkageOf(
        made(t, 4, (p, k) => bias + 0.04 * bell() + batch[p]! * PLACES[k]![0]),
        0.03,
      )!;
      for (const axis of AXES) {
        told++;
        if (Math.abs(s.scale[axis]!.value - t[axis]) <= s.scale[axis]!.off!) held++;
      }
      told++;
      if (Math.abs(s.proud!.value - t.proud) <= s.proud!.off!) held++;
    }
    expect(told).toBe(2000);
    expect(held / told).toBeGreaterThanOrEqual(0.95);
    // What always says “anything may be” would hold too.
    const { bell } = numbers(11);
    const sure = shrinkageOf(
      made({ x: -0.01, y: -0.01, z: -0.01, proud: 0.1 }, 4, () => 0.04 * bell()),
      0.03,
    )!;
    expect(sure.scale.x!.off).toBeLessThan(0.004);
  });

  it('holds by places alone, where one piece was measured', () => {
    let held = 0;
    for (let seed = 1; seed <= 500; seed++) {
      const { bell } = numbers(seed * 104729);
      const s = shrinkageOf(
        made({ x: -0.01, y: -0.004, z: -0.02, proud: 0.1 }, 1, () => 0.03 * bell()),
        0,
      )!;
      if (Math.abs(s.scale.x!.value + 0.01) <= s.scale.x!.off!) held++;
    }
    // 95 % of 500, less three deviations of such a count.
    expect(held).toBeGreaterThanOrEqual(475 - 15);
  });

  it('is the line of a general-purpose library (simple-statistics) where all go one way over material', () => {
    const { bell } = numbers(5);
    const all = made({ x: -0.012, y: 0, z: 0, proud: 0.2 }, 1, () => 0.02 * bell(), [
      [10, 'x', 'outer'],
      [25, 'x', 'outer'],
      [60, 'x', 'outer'],
      [110, 'x', 'outer'],
    ]);
    const s = shrinkageOf(all, 0)!;
    const { m, b } = linearRegression(all.map((o) => [o.nominal, o.read]));
    expect(s.scale.x!.value).toBeCloseTo(m - 1, 9);
    expect(s.proud!.value).toBeCloseTo(b, 8);
    expect(s.scale.y).toBeUndefined();
  });

  it('does not tell a skin from a scale where one size only was measured, and says then how sure it is by the pieces', () => {
    const one: typeof PLACES = [[50, 'z', 'outer']];
    const s = shrinkageOf(
      made({ x: 0, y: 0, z: -0.01, proud: 0 }, 3, (p) => [0.02, 0, -0.02][p]!, one),
      0.03,
    )!;
    expect(s.proud).toBeNull();
    expect(s.scale.z!.value).toBeCloseTo(-0.01, 9);
    // t of two degrees of freedom times 0.02 / 50 / √3, and the device over 50 mm.
    expect(s.scale.z!.off).toBeCloseTo(Math.hypot((4.3027 * 0.0004) / Math.sqrt(3), 0.03 / 50), 6);
    expect(
      shrinkageOf(
        made({ x: 0, y: 0, z: -0.01, proud: 0 }, 1, () => 0, one),
        0.03,
      )!.scale.z!.off,
    ).toBeNull();
  });

  it('takes both ways across as one where nothing tells them apart, or where asked to', () => {
    const t = { x: -0.008, y: -0.008, z: -0.02, proud: 0 };
    const round: typeof PLACES = [
      [60, 'flat', 'outer'],
      [30, 'flat', 'neither'],
      [40, 'z', 'neither'],
    ];
    const s = shrinkageOf(
      made(t, 2, () => 0, round),
      0,
    )!;
    expect(s.scale.x!.value).toBeCloseTo(-0.008, 9);
    expect(s.scale.y).toEqual(s.scale.x);
    expect(s.scale.z!.value).toBeCloseTo(-0.02, 9);
    const asked = shrinkageOf(
      made({ x: -0.01, y: -0.02, z: 0, proud: 0 }, 2, () => 0, [
        [50, 'x', 'neither'],
        [50, 'y', 'neither'],
      ]),
      0,
      true,
    )!;
    expect(asked.scale.x!.value).toBeCloseTo(-0.015, 9);
  });

  it('tells the place that the scale does not explain', () => {
    const s = shrinkageOf(
      made({ x: -0.01, y: -0.01, z: -0.01, proud: 0 }, 3, (_, k) => (k === 2 ? 0.5 : 0)),
      0,
      true,
    )!;
    expect(s.worst.place).toBe('m2');
    expect(s.worst.off).toBeGreaterThan(0.2);
    // What does not fit makes it less sure, though all pieces are alike.
    expect(s.scale.x!.off).toBeGreaterThan(0.001);
  });

  it('has nothing to say of lengths that go no way', () => {
    expect(shrinkageOf([], 0.03)).toBeNull();
    expect(
      shrinkageOf(
        made({ x: 0, y: 0, z: 0, proud: 0 }, 2, () => 0, [[50, 'other', 'outer']]),
        0.03,
      ),
    ).toBeNull();
  });

  it('is made up for by its inverse: what is grown and shrinks is as long as it should be', () => {
    fc.assert(
      fc.property(fc.double({ min: -0.2, max: 0.05, noNaN: true }), (value) => {
        expect(growth({ value, off: 0.001 }).value * (1 + value)).toBeCloseTo(1, 12);
      }),
    );
    // 12 % of stoneware's shrinkage: 1/0.88, as potters reckon it.
    expect(growth({ value: -0.12, off: null })).toEqual({ value: 1 / 0.88, off: null });
  });
});
