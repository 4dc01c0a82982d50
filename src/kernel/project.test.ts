import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { waisted } from '../../tests/support/waisted';
import { type Frame, toPlane } from '../core/curves/frame';
import { isWhole, nearestOn, pointAt } from '../core/curves/planar';
import { VIEW_FRAMES } from '../core/shop/views';
import { dropConic, dropEdge } from './project';
import { edgesWithFaces, facesOf } from './shapes';

const vector = fc.record({ x: fc.double({ min: -40, max: 40, noNaN: true }), y: fc.double({ min: -40, max: 40, noNaN: true }) });

describe('a circle or ellipse dropped onto a plane', () => {
  it('runs through the same places as C + u cos t + v sin t', () => {
    fc.assert(
      fc.property(
        vector,
        fc.double({ min: 3, max: 40, noNaN: true }),
        fc.double({ min: 0.1, max: 1, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.1, max: 3, noNaN: true }),
        fc.double({ min: -4, max: 4, noNaN: true }),
        fc.double({ min: 0.2, max: 6, noNaN: true }),
        (c, size, ratio, heading, between, start, sweep) => {
          const u = { x: size * Math.cos(heading), y: size * Math.sin(heading) };
          const v = { x: size * ratio * Math.cos(heading + between), y: size * ratio * Math.sin(heading + between) };
          const made = dropConic(c, u, v, start, sweep)!;
          expect(['ellipse', 'arc']).toContain(made.kind);
          for (const t of [0, 0.2, 0.5, 0.8, 1]) {
            const w = start + t * sweep;
            const p = pointAt(made, t);
            expect(p.x).toBeCloseTo(c.x + u.x * Math.cos(w) + v.x * Math.sin(w), 7);
            expect(p.y).toBeCloseTo(c.y + u.y * Math.cos(w) + v.y * Math.sin(w), 7);
          }
          // Its own half-axes are square to each other, as the board wants them.
          if (made.kind === 'ellipse') expect(made.u.x * made.v.x + made.u.y * made.v.y).toBeCloseTo(0, 6);
        },
      ),
    );
  });
  it('stays a circle seen square on, and becomes the stretch it covers seen edge on', () => {
    const whole = dropConic({ x: 1, y: 2 }, { x: 0, y: 5 }, { x: -5, y: 0 }, 0, 2 * Math.PI)!;
    expect(whole).toMatchObject({ kind: 'arc', radius: expect.closeTo(5, 12) });
    expect(isWhole(whole)).toBe(true);
    expect(dropConic({ x: 0, y: 0 }, { x: 3, y: 4 }, { x: 0, y: 0 }, 0, 2 * Math.PI)).toMatchObject({ kind: 'line' });
    // A quarter from 0 covers half of the diameter only.
    const quarter = dropConic({ x: 0, y: 0 }, { x: 10, y: 0 }, { x: 0, y: 0 }, 0, Math.PI / 2)!;
    expect([quarter.a.x, quarter.b.x].sort((a, b) => a - b).map((v) => Math.round(v * 1e9) / 1e9)).toEqual([0, 10]);
    expect(dropConic({ x: 0, y: 0 }, { x: 0, y: 0 }, { x: 0, y: 0 }, 0, 6)).toBeUndefined();
  });
});

describe('the closed spline round a body', () => {
  it('dropped on a plane runs through the places the kernel tells, all round, and closes', async () => {
    const kernel = await testKernel();
    const edges = edgesWithFaces(kernel, facesOf(kernel, waisted(kernel)));
    const rims = edges.filter(({ edge }) => {
      const c = new kernel.BRepAdaptor_Curve(edge);
      const [a, b] = [c.EvalD0(c.FirstParameter()), c.EvalD0(c.LastParameter())];
      return c.GetType() === 'GeomAbs_BSplineCurve' && a.Distance(b) < 1e-9;
    });
    expect(rims).toHaveLength(2);
    const aslant: Frame = { origin: [1, 2, 3], x: [0.6, 0.8, 0], y: [0.8 * 0.6, -0.6 * 0.6, 0.8] };
    for (const frame of [VIEW_FRAMES.top, aslant])
      for (const { edge } of rims) {
        const curve = dropEdge(kernel, edge, frame)!;
        const space = new kernel.BRepAdaptor_Curve(edge);
        const [from, to] = [space.FirstParameter(), space.LastParameter()];
        for (let i = 0; i <= 40; i++) {
          const p = space.EvalD0(from + ((to - from) * i) / 40);
          expect(nearestOn(curve, toPlane(frame, [p.X(), p.Y(), p.Z()])).distance).toBeLessThan(1e-6);
        }
        const [a, b] = [pointAt(curve, 0), pointAt(curve, 1)];
        expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeLessThan(1e-9);
      }
  });
});
