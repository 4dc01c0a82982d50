/** Views of bodies against what is known of boxes, cylinders and balls (elementary geometry). */
import { describe, expect, it } from 'vitest';
import { box, cylinder, polyProfile, testKernel, turned } from '../../tests/support/kernel';
import { shiftBy } from '../core/curves/motion';
import { isWhole, type PlanarCurve, pointAt } from '../core/curves/planar';
import type { DrawnView } from '../core/shop/sheet';
import type { KernelBody } from '../kernel/body';
import { transformed } from '../kernel/transform';
import { drawView } from './views';

const seen = (v: DrawnView, hidden = false): PlanarCurve[] => v.lines.filter((l) => l.hidden === hidden && !l.smooth).map((l) => l.curve);
const lengthOf = (c: PlanarCurve): number => Math.hypot(c.b.x - c.a.x, c.b.y - c.a.y);
/** Straight lines by their ends, in order, to 1e-6. */
const lines = (list: readonly PlanarCurve[]): string[] =>
  list
    .filter((c) => c.kind === 'line')
    .map((c) => {
      const ends = [c.a, c.b].map((p) => [p.x, p.y].map((v) => (Math.abs(v) < 1e-7 ? 0 : Number(v.toFixed(6)))).join(' '));
      return ends.sort().join(' – ');
    })
    .sort();

const drawn = async (...asked: Parameters<typeof drawView>) => (await drawView(...asked))!;

async function moved(body: KernelBody, x: number, y: number, z: number): Promise<KernelBody> {
  const made = transformed(await testKernel(), body, shiftBy([x, y, z]));
  if (!made.ok) throw new Error('not moved');
  return made.value;
}

describe('a box', () => {
  it('is four lines from the front, once each, and nothing is hidden', async () => {
    const kernel = await testKernel();
    const b = box(kernel, 40, 20, 10);
    const v = await drawn(kernel, [{ id: 's1', body: b }], { side: 'front', cut: null });
    const { x0, x1, y0, y1 } = v.box;
    expect([x1 - x0, y1 - y0]).toEqual([expect.closeTo(40, 9), expect.closeTo(10, 9)]);
    expect(seen(v)).toHaveLength(4);
    expect(seen(v, true)).toHaveLength(0);
  });
  it('from a corner shows nine edges and hides three, all foreshortened by √(2/3)', async () => {
    const kernel = await testKernel();
    const v = await drawn(kernel, [{ id: 's1', body: box(kernel, 30, 30, 30) }], { side: 'corner', cut: null });
    expect(seen(v).map(lengthOf)).toEqual(new Array(9).fill(expect.closeTo(30 * Math.sqrt(2 / 3), 6)));
    expect(seen(v, true).map(lengthOf)).toEqual(new Array(3).fill(expect.closeTo(30 * Math.sqrt(2 / 3), 6)));
  });
  it('behind a smaller one goes out of sight exactly at its edges', async () => {
    const kernel = await testKernel();
    const far = await moved(box(kernel, 40, 10, 10), 0, 30, 0);
    const near = await moved(box(kernel, 10, 10, 40), 3, 0, -15);
    const v = await drawn(
      kernel,
      [
        { id: 'far', body: far },
        { id: 'near', body: near },
      ],
      { side: 'front', cut: null },
    );
    const [fx, nx] = [v.edges, v.edges].map((list, i) =>
      list.filter((e) => e.body === (i === 0 ? 'far' : 'near')).flatMap((e) => [e.curve.a.x, e.curve.b.x]),
    );
    const [left, right] = [Math.min(...nx!), Math.max(...nx!)];
    const hidden = lines(seen(v, true));
    expect(hidden).toHaveLength(2);
    for (const h of hidden) {
      const xs = h
        .split(' – ')
        .map((p) => Number(p.split(' ')[0]))
        .sort((a, b) => a - b);
      expect(xs).toEqual([expect.closeTo(left, 6), expect.closeTo(right, 6)]);
    }
    // What is seen of the far one's two level edges: both ends of each.
    const level = seen(v).filter((c) => c.kind === 'line' && Math.abs(c.a.y - c.b.y) < 1e-9 && (c.a.x < left - 1 || c.b.x > right + 1));
    expect(level.reduce((n, c) => n + lengthOf(c), 0)).toBeCloseTo(2 * (Math.max(...fx!) - Math.min(...fx!) - (right - left)), 4);
  });
});

describe('round bodies', () => {
  it('a cylinder is a rectangle from the side, its outlines where its radius is, and a circle from above', async () => {
    const kernel = await testKernel();
    const body = cylinder(kernel, 12, 30);
    const side = await drawn(kernel, [{ id: 's1', body }], { side: 'front', cut: null });
    expect(lines(seen(side))).toEqual(['-12 0 – -12 30', '-12 0 – 12 0', '-12 30 – 12 30', '12 0 – 12 30']);
    const top = await drawn(kernel, [{ id: 's1', body }], { side: 'top', cut: null });
    expect(seen(top)).toHaveLength(1);
    const [c] = seen(top);
    expect(c!.kind === 'arc' && isWhole(c!) && c!.radius).toBeCloseTo(12, 9);
  });
  it('a ball is a circle from every side', async () => {
    const kernel = await testKernel();
    const half = polyProfile([
      [0, -15],
      [0, 15],
    ]);
    const ball = turned(kernel, {
      ...half,
      points: [...half.points, { id: 'o', x: 0, y: 0 }],
      curves: [{ kind: 'arc', id: 'c', from: 'p0', to: 'p1', centre: 'o', ccw: true }],
    });
    for (const side of ['front', 'top', 'corner'] as const) {
      const v = await drawn(kernel, [{ id: 's1', body: ball }], { side, cut: null });
      for (const c of seen(v))
        for (let i = 0; i <= 20; i++) expect(Math.hypot(pointAt(c, i / 20).x, pointAt(c, i / 20).y)).toBeCloseTo(15, 3);
      expect(v.box.x1 - v.box.x0).toBeCloseTo(30, side === 'corner' ? 2 : 6);
    }
  });
  it('a frustum aslant has its outlines on the tangents to both circles', async () => {
    const kernel = await testKernel();
    const body = turned(
      kernel,
      polyProfile([
        [0, 0],
        [20, 0],
        [10, 40],
        [0, 40],
      ]),
    );
    const v = await drawn(kernel, [{ id: 's1', body }], { side: 'corner', cut: null });
    const straight = seen(v).filter((c) => c.kind === 'line');
    expect(straight).toHaveLength(2);
    // Seen along n: where the cone's normal is square to n, cos φ = −(r/h)·n_z / n_r, with φ from the eye's azimuth.
    const nz = 1 / Math.sqrt(3);
    const phi = Math.acos((-(10 / 40) * nz) / Math.sqrt(2 / 3));
    for (const c of straight) expect(Math.max(Math.abs(c.a.x), Math.abs(c.b.x))).toBeCloseTo(20 * Math.sin(phi), 2);
  });
});

describe('a section', () => {
  it('of a tube shows two walls of its thickness, and what lies behind', async () => {
    const kernel = await testKernel();
    const tube = turned(
      kernel,
      polyProfile(
        [
          [8, 0],
          [12, 0],
          [12, 30],
          [8, 30],
        ],
        true,
      ),
    );
    const v = await drawn(kernel, [{ id: 's1', body: tube }], { side: 'front', cut: 0 });
    expect(v.cuts[0]!.loops).toHaveLength(2);
    const areas = v.cuts[0]!.loops.map((l) =>
      Math.abs(l.reduce((n, p, i) => n + p.x * l[(i + 1) % l.length]!.y - p.y * l[(i + 1) % l.length]!.x, 0) / 2),
    );
    for (const a of areas) expect(Math.abs(a - 120)).toBeLessThan(0.1);
    expect(lines(seen(v)).filter((l) => /^-?(8|12) 0 – -?(8|12) 30$/.test(l))).toHaveLength(4);
    expect(seen(v, true)).toHaveLength(0);
  });
  it('takes away what is before the plane', async () => {
    const kernel = await testKernel();
    const post = await moved(box(kernel, 4, 4, 40), 0, -30, 0);
    const v = await drawn(
      kernel,
      [
        { id: 'a', body: box(kernel, 20, 20, 10) },
        { id: 'b', body: post },
      ],
      { side: 'front', cut: 25 },
    );
    // The post stands from 28 to 32 before the origin: it is gone, and the block is seen whole.
    expect(v.box.y1 - v.box.y0).toBeCloseTo(10, 6);
    expect(seen(v)).toHaveLength(4);
  });
});

describe('a view that takes long', () => {
  it('is given up between two portions, and is the same when it is drawn again', async () => {
    const kernel = await testKernel();
    const body = box(kernel, 30, 20, 10);
    const whole = await drawn(kernel, [{ id: 's1', body }], { side: 'corner', cut: null });
    let asked = 0;
    expect(await drawView(kernel, [{ id: 's1', body }], { side: 'corner', cut: null }, async () => ++asked > 9)).toBeNull();
    expect(asked).toBe(1);
    expect(await drawn(kernel, [{ id: 's1', body }], { side: 'corner', cut: null })).toEqual(whole);
  });
});
