/** Walls to either side, walls of their own, surfaces given a wall, cavities turned and closed: against mensuration. */
import { describe, expect, it } from 'vitest';
import { add, box, empty, engine, volume } from '../../tests/support/parts';
import type { Project } from '../core/recipe/schema';

const report = async (p: Project) => (await engine.rebuild(p)).steps.at(-1)!;
const block = () => box(empty(), [60, 40, 30]);
const hollow = (p: Project, more: Record<string, unknown> = {}, values: Record<string, string> = {}) =>
  add(p, 'shell', { body: 's1', open: [{ face: 's1/end' }], ...more }, { wall: '2 mm', ...values });

/** A wall of t round a box open above, its outer edges and corners rolled round: prisms, quarter cylinders, eighths of a ball. */
const around = (a: number, b: number, c: number, t: number): number =>
  a * b * t + 2 * (a + b) * c * t + Math.PI * t * t * c + (2 * (a + b) * Math.PI * t * t) / 4 + (2 / 3) * Math.PI * t ** 3;

describe('a hollow', () => {
  it('has its wall inside, outside, or half to either side', async () => {
    const inside = 60 * 40 * 30 - 56 * 36 * 28;
    expect(await volume(hollow(block()))).toBeCloseTo(inside, 3);
    expect(await volume(hollow(block(), { side: 'outward' }))).toBeCloseTo(around(60, 40, 30, 2), 2);
    expect(await volume(hollow(block(), { side: 'centred' }))).toBeCloseTo(60 * 40 * 30 - 58 * 38 * 29 + around(60, 40, 30, 1), 2);
    expect(await volume(hollow(block(), { side: 'outward', open: [] }))).toBeCloseTo(
      around(60, 40, 30, 2) + 60 * 40 * 2 + (2 * 100 * Math.PI * 4) / 4 + (2 / 3) * Math.PI * 8,
      2,
    );
  });
  it('has another wall at flat faces, and says why not at others', async () => {
    const floor = { other: [{ face: 's1/start' }] };
    expect(await volume(hollow(block(), floor, { floor: '5 mm' }))).toBeCloseTo(72000 - 56 * 36 * 25, 3);
    expect((await report(hollow(block(), floor, { floor: '1 mm' }))).message).toContain('thinner wall than the rest');
    const cone = add(
      empty(),
      'primitive',
      { shape: 'cone', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '40', top: '60', height: '50' },
    );
    await engine.rebuild(cone);
    const faces = engine.bodies()[0]!.body.faces;
    const side = faces.find((f) => f.endsWith('side'))!;
    const top = faces.find((f) => f.endsWith('end') || f.endsWith('top'))!;
    const p = add(cone, 'shell', { body: 's1', open: [{ face: top }], other: [{ face: side }] }, { wall: '2 mm' });
    expect((await report(p)).why).toBe('it is not flat');
  });
  it('that does not go offers what does', async () => {
    const s = await report(hollow(block(), {}, { wall: '21 mm' }));
    expect(s.fixes.map((f) => f.words)).toEqual([
      expect.stringMatching(/^Use a wall of 19\.\d mm$|^Use a wall of \d+(\.\d)? mm$/),
      expect.stringContaining('smooth cavity'),
    ]);
  });
});
