import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../geometry/vectors';
import { gauss } from '../quadrature';
import { flowThrough, flowWithin, offsetPatch, patchOf, stripFlow } from './flow';
import type { PoleSurface } from './spline';

/** A polynomial patch over the unit square by Bézier poles of z = c·x², lifted and shifted. */
const bowl = (c: number, z: number): PoleSurface => ({
  degrees: [2, 1],
  knots: [
    [0, 0, 0, 1, 1, 1],
    [0, 0, 1, 1],
  ],
  poles: [0, 0.5, 1].map((x, i) => [0, 1].map((y): Vec3 => [x, y, z + (i === 2 ? c : 0)])),
});

describe('Gauss’s rule', () => {
  it('is that of the tables (Abramowitz and Stegun 25.4, n = 3: 0, ±√(3/5), weights 8/9 and 5/9)', () => {
    const [first, middle, last] = gauss(3);
    expect(middle![0]).toBeCloseTo(0.5, 15);
    expect(middle![1]).toBeCloseTo(4 / 9, 15);
    expect([first![0], last![0]].map((x) => Math.abs(2 * x - 1))).toEqual([
      expect.closeTo(Math.sqrt(0.6), 14),
      expect.closeTo(Math.sqrt(0.6), 14),
    ]);
    expect(first![1]).toBeCloseTo(5 / 18, 15);
  });
  it('integrates powers up to 2n − 1 exactly', () => {
    for (const n of [2, 5, 6, 8])
      for (let k = 0; k < 2 * n; k++) expect(gauss(n).reduce((s, [x, w]) => s + w * x ** k, 0)).toBeCloseTo(1 / (k + 1), 13);
  });
});

describe('the flow through a surface', () => {
  it('of a parabolic strip has the area of its arc (½√(1+4c²) + asinh(2c)/4c)', () => {
    for (const c of [0.2, 0.6, 1]) {
      const { area } = flowThrough(bowl(c, 0));
      expect(Math.abs(area / (Math.sqrt(1 + 4 * c * c) / 2 + Math.asinh(2 * c) / (4 * c)) - 1)).toBeLessThan(2e-6);
    }
  });
  it('through a part of its parameters adds up to that through all of them', () => {
    const surface = bowl(0.8, 1.3);
    const whole = flowThrough(surface);
    const parts = (
      [
        [0, 0.3],
        [0.3, 1],
      ] as const
    ).flatMap((u) =>
      (
        [
          [0, 0.45],
          [0.45, 1],
        ] as const
      ).map((v) => flowThrough({ ...surface, range: [u, v] })),
    );
    expect(parts.reduce((s, f) => s + f.volume, 0)).toBeCloseTo(whole.volume, 12);
    expect(parts.reduce((s, f) => s + f.moment[2], 0)).toBeCloseTo(whole.moment[2], 12);
    expect(parts.reduce((s, f) => s + f.area, 0)).toBeCloseTo(whole.area, 6);
  });
  it('with that of planes about it gives the volume and centroid of the solid under it', () => {
    // Under z = 2 + c·x² over the unit square: 2 + c/3, its centroid's x (1 + c/4) / (2 + c/3).
    const c = 0.7;
    const lid = flowThrough(bowl(c, 2));
    const flat = (poles: [Vec3, Vec3, Vec3, Vec3]): PoleSurface => ({
      degrees: [1, 1],
      knots: [
        [0, 0, 1, 1],
        [0, 0, 1, 1],
      ],
      poles: [
        [poles[0], poles[1]],
        [poles[2], poles[3]],
      ],
    });
    const side = (y: number): PoleSurface => ({
      degrees: [2, 1],
      knots: [
        [0, 0, 0, 1, 1, 1],
        [0, 0, 1, 1],
      ],
      poles: [0, 0.5, 1].map((x, i) => [[x, y, 0] as Vec3, [x, y, 2 + (i === 2 ? c : 0)] as Vec3]),
    });
    const parts = [
      lid,
      flowThrough(
        flat([
          [0, 0, 0],
          [1, 0, 0],
          [0, 1, 0],
          [1, 1, 0],
        ]),
      ),
      flowThrough(side(0)),
      flowThrough(
        flat([
          [1, 0, 0],
          [1, 0, 2 + c],
          [1, 1, 0],
          [1, 1, 2 + c],
        ]),
      ),
    ];
    // Each looks outwards where its cone from the origin counts; planes through the origin have none.
    const signs = [1, -1, 1, 1];
    const volume = parts.reduce((s, f, i) => s + signs[i]! * f.volume, 0) + Math.abs(flowThrough(side(1)).volume);
    expect(volume).toBeCloseTo(2 + c / 3, 10);
    const x = parts.reduce((s, f, i) => s + signs[i]! * f.moment[0], 0) + Math.abs(flowThrough(side(1)).moment[0]);
    expect(x / volume).toBeCloseTo((1 + c / 4) / (2 + c / 3), 10);
  });
});

describe('a strip between a border and the line it should end on', () => {
  it('adds what the part falls short of, and takes away what it is too far', () => {
    // A disc on z = 2, its border drawn at another radius than that of the line it should end on.
    const disc = patchOf([[], []], (x, y, out) => out.set([x, y, 2, 1, 0, 0, 0, 1, 0]));
    for (const r of [4.98, 5.02]) {
      const border = Array.from({ length: 16 }, (_, i) => ({
        from: (i * Math.PI) / 8,
        to: ((i + 1) * Math.PI) / 8,
        at: (t: number) => [r * Math.cos(t), r * Math.sin(t), -r * Math.sin(t), r * Math.cos(t)] as const,
      }));
      const inner = flowWithin(disc, [border]);
      const strip = stripFlow(border, (t, [x, y]) => ({
        on: [5 * Math.cos(t), 5 * Math.sin(t), 2],
        along: [-5 * Math.sin(t), 5 * Math.cos(t), 0],
        from: [x, y, 2],
        normal: [0, 0, 3],
      }));
      // To the second order of the gap: the strip is measured along the line it ends on.
      expect(Math.abs(inner.area + strip.area - Math.PI * 25)).toBeLessThan(Math.PI * 0.02 ** 2 * 1.01);
      expect(Math.abs(inner.volume + strip.volume - (Math.PI * 25 * 2) / 3)).toBeLessThan(1e-3);
      expect(Math.abs(inner.area - Math.PI * 25)).toBeGreaterThan(0.5);
    }
  });
});

describe('a border of several lines', () => {
  const ring = (x: number, y: number, r: number, back: boolean) =>
    Array.from({ length: 16 }, (_, i) => {
      const [from, to] = [(i * Math.PI) / 8, ((i + 1) * Math.PI) / 8];
      return {
        from: back ? to : from,
        to: back ? from : to,
        at: (t: number) => [x + r * Math.cos(t), y + r * Math.sin(t), -r * Math.sin(t), r * Math.cos(t)] as const,
      };
    });
  it('has holes wherever they lie, each worth its own disc (πr²; z·πr²/3 through a level plane)', () => {
    const level = patchOf([[], []], (x, y, out) => out.set([x, y, 2, 1, 0, 0, 0, 1, 0]));
    const holes = [ring(3, 1, 0.5, true), ring(-2, 4, 0.75, true), ring(0, -5, 1, true)];
    const { area, volume } = flowWithin(level, [ring(0, 0, 8, false), ...holes]);
    const left = Math.PI * (64 - 0.25 - 0.5625 - 1);
    expect(area).toBeCloseTo(left, 9);
    expect(volume).toBeCloseTo((2 * left) / 3, 9);
  });
  it('asks for no more of a surface than a hole spans', () => {
    const breaks = Array.from({ length: 401 }, (_, i) => i - 200);
    let asked = 0;
    const level = patchOf([breaks, breaks], (x, y, out) => {
      asked++;
      out.set([x, y, 2, 1, 0, 0, 0, 1, 0]);
    });
    flowWithin(level, [ring(-150.5, 0.5, 0.3, false), ring(150.5, 0.5, 0.3, false)]);
    expect(asked).toBeLessThan(2 * 16 * 6 * 6 * 1.5);
  });
  it('may be two rings round a tube that are closed only together (2πrh)', () => {
    const [r, h] = [3, 5];
    const tube = patchOf([Array.from({ length: 33 }, (_, i) => ((i - 16) * Math.PI) / 8), []], (u, v, out) =>
      out.set([r * Math.cos(u), r * Math.sin(u), v, -r * Math.sin(u), r * Math.cos(u), 0, 0, 0, 1]),
    );
    const round = (v: number, back: boolean) => [
      { from: back ? 2 * Math.PI : 0, to: back ? 0 : 2 * Math.PI, at: (t: number) => [t, v, 1, 0] as const },
    ];
    const { area, volume } = flowWithin(tube, [round(0, false), round(h, true)]);
    expect(area).toBeCloseTo(2 * Math.PI * r * h, 9);
    expect(volume).toBeCloseTo((2 * Math.PI * r * r * h) / 3, 9);
  });
});

describe('a spline carried along its normals', () => {
  /** A saddle z = xy/10 over the square of so much to either side, as one bilinear patch of degree 2. */
  const saddle = (half: number) => {
    const at = [-half, 0, half];
    return {
      degrees: [2, 2] as const,
      knots: [
        [0, 0, 0, 1, 1, 1],
        [0, 0, 0, 1, 1, 1],
      ] as const,
      poles: at.map((x) => at.map((y) => [x, y, (x * y) / 10] as const)),
    };
  };
  const square = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ] as const;
  const border = square.map(([u, v], i) => {
    const [x, y] = square[(i + 1) % 4]!;
    return { from: 0, to: 1, at: (t: number) => [u + t * (x - u), v + t * (y - v), x - u, y - v] as const };
  });

  it('has the area of Steiner’s formula: A − 2 d ∫H + d² ∫K', () => {
    // Of z = xy/10 by hand: with w² = 1 + (x² + y²)/100, dA = w, H = −xy/(1000 w³) (its integral is nothing by symmetry), K = −1/(100 w⁴).
    const [half, n] = [8, 400];
    let [area, bend] = [0, 0];
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        const [x, y] = [i, j].map((k) => -half + (2 * half * (k + 0.5)) / n) as [number, number];
        const w = Math.sqrt(1 + (x * x + y * y) / 100);
        const cell = ((2 * half) / n) ** 2;
        area += w * cell;
        bend += (-1 / (100 * w ** 4)) * w * cell;
      }
    for (const d of [-1.5, 0, 2]) {
      const flow = flowWithin(offsetPatch(saddle(half), d), [border]);
      expect(flow.area).toBeCloseTo(area + d * d * bend, 3);
    }
  });

  it('lies everywhere so far off along the normal, with the derivatives that its places have', () => {
    const patch = offsetPatch(saddle(8), 1.5);
    const [a, b] = [new Float64Array(9), new Float64Array(9)];
    const e = 1e-5;
    for (const [u, v] of [
      [0.2, 0.7],
      [0.5, 0.5],
      [0.93, 0.11],
    ] as const) {
      patch.place(u, v, a);
      const [x, y] = [-8 + 16 * u, -8 + 16 * v];
      const n = [-y / 10, -x / 10, 1].map((c) => c / Math.hypot(y / 10, x / 10, 1));
      const on = [x, y, (x * y) / 10];
      for (let k = 0; k < 3; k++) expect(a[k]).toBeCloseTo(on[k]! + 1.5 * n[k]!, 10);
      patch.place(u + e, v, b);
      for (let k = 0; k < 3; k++) expect(a[3 + k]).toBeCloseTo((b[k]! - a[k]!) / e, 2);
      patch.place(u, v + e, b);
      for (let k = 0; k < 3; k++) expect(a[6 + k]).toBeCloseTo((b[k]! - a[k]!) / e, 2);
    }
  });
});
