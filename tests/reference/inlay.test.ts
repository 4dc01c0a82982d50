/** Bodies parted by outlines and texts: volumes add up and are areas times depth; places belong to one part each; mirrored texts are noticed. */
import { beforeAll, describe, expect, it } from 'vitest';
import { sharedBvh } from '../../src/core/mesh/bvh';
import { solidAngleWinding } from '../../src/core/mesh/winding';
import { emptyProfile, setProfile } from '../../src/core/recipe/edit';
import type { Profile, Project } from '../../src/core/recipe/schema';
import { boundsOf } from '../../src/kernel/shapes';
import { tessellate, weldedMesh } from '../../src/kernel/tessellate';
import { add, circle, empty, engine, extrude, flat, square } from '../support/parts';

beforeAll(() => engine.start());
const last = async (p: Project) => {
  const r = await engine.rebuild(p);
  const s = r.steps.at(-1)!;
  const said = `${s.state} ${s.message ?? ''} ${s.why ?? ''} ${s.warnings.map((w) => w.message).join('; ')}`.trim();
  return { r, s, said, volumes: Object.fromEntries(r.bodies.map((b) => [b.id, b.volume])) };
};
const text = (id: string, plane: string, words: string, at: readonly [number, number], height = 6): Profile => ({
  ...emptyProfile(id, id, plane, false),
  points: [{ id: 'p', x: at[0], y: at[1] }],
  curves: [{ kind: 'text', id: 't', point: 'p', text: words, height: `${height} mm`, angle: '0°' }],
});

/** A disc of radius 40, 5 thick, on the level plane, and a plane on its top. */
const dial = (): Project =>
  add(
    extrude(empty(), circle('disc', 'level', 40), {}, { length: '5 mm' }),
    'plane',
    { by: 'distance', from: 'level' },
    { distance: '5 mm' },
  );

describe('a body parted by outlines', () => {
  it('falls into parts that add up, each its area times its depth', async () => {
    let p = setProfile(dial(), flat('mark', 's2', square(10)));
    p = setProfile(p, { ...circle('dot', 's2', 3, [20, 0]) });
    const { said, volumes } = await last(add(p, 'inlay', { body: 's1', profiles: ['mark', 'dot'], depth: 'blind' }, { deep: '1.2 mm' }));
    expect(said).toBe('done');
    expect(volumes.s3).toBeCloseTo(120, 6);
    expect(volumes.s3_2).toBeCloseTo(Math.PI * 9 * 1.2, 6);
    const whole = Math.PI * 1600 * 5;
    expect(Math.abs(Object.values(volumes).reduce((a, b) => a + b, 0) / whole - 1)).toBeLessThan(1e-6);
  });

  it('gives numerals as one part of several pieces, through and through where asked', async () => {
    const p = setProfile(dial(), text('twelve', 's2', '10', [-5, -3]));
    const { r, said, volumes } = await last(add(p, 'inlay', { body: 's1', profiles: ['twelve'], depth: 'through' }));
    expect(said).toBe('done');
    expect(r.bodies).toHaveLength(2);
    const part = engine.bodies().find((b) => b.id === 's3')!.body;
    expect(part.pieces).toBe(2);
    // The inside of the nought goes on with the rest: that falls into two.
    expect(engine.bodies().find((b) => b.id === 's1')!.body.pieces).toBe(2);
    expect(Math.abs((volumes.s1! + volumes.s3!) / (Math.PI * 1600 * 5) - 1)).toBeLessThan(1e-6);
    const kernel = await engine.start();
    const b = boundsOf(kernel, part.shape);
    expect(b.max[2] - b.min[2]).toBeCloseTo(5, 6);
    expect(b.max[1] - b.min[1]).toBeLessThan(6.4);
    expect(b.max[1] - b.min[1]).toBeGreaterThan(5.8);
  });

  it('has every place in one part and no other', async () => {
    let p = setProfile(dial(), text('a', 's2', 'R8', [-20, 4], 14));
    p = setProfile(
      p,
      flat(
        'b',
        's2',
        square(12).map(([x, y]) => [x + 18, y - 14]),
      ),
    );
    await last(add(p, 'inlay', { body: 's1', profiles: ['a', 'b'], depth: 'blind' }, { deep: '2 mm' }));
    const kernel = await engine.start();
    const skins = engine.bodies().map((b) => sharedBvh(weldedMesh(tessellate(kernel, b.body.shape, 0.02, 0.2))));
    let twice = 0;
    let none = 0;
    let seed = 7;
    const random = (): number => {
      seed = (seed * 1103515245 + 12345) % 2147483648;
      return seed / 2147483648;
    };
    for (let i = 0; i < 2000; i++) {
      const [x, y, z] = [50 * random() - 25, 50 * random() - 25, 5 * random()];
      const inside = skins.filter((s) => Math.abs(solidAngleWinding(s, x, y, z)) > 0.5).length;
      if (inside > 1) twice++;
      if (inside < 1) none++;
    }
    // Facets of both sides of a bent border differ by their own error.
    expect(twice).toBeLessThan(3);
    expect(none).toBeLessThan(3);
  });

  it('is refused where outlines lie over each other, or beside the body', async () => {
    let p = setProfile(dial(), flat('a', 's2', square(10)));
    p = setProfile(p, circle('b', 's2', 4, [5, 0]));
    expect((await last(add(p, 'inlay', { body: 's1', profiles: ['a', 'b'], depth: 'blind' }))).said).toMatch(/lie over each other/);
    p = setProfile(dial(), circle('far', 's2', 4, [90, 0]));
    expect((await last(add(p, 'inlay', { body: 's1', profiles: ['far'], depth: 'blind' }))).said).toMatch(
      /far and Body 1 have nothing in common it lies 46\.00 mm away/,
    );
    expect((await last(add(dial(), 'inlay', { body: 's1', profiles: [], depth: 'blind' }))).s.unfinished).toBe(true);
  });

  it('notices a text that reads backwards from outside, and none that does not', async () => {
    // From above the disc's top reads right; on the level plane below, whose normal points up into it, it does not.
    for (const [plane, backwards] of [
      ['s2', false],
      ['level', true],
    ] as const)
      for (const words of ['A', 'hot 38', 'S']) {
        const p = setProfile(dial(), text('t', plane, words, [-8, -3]));
        const { s } = await last(add(p, 'inlay', { body: 's1', profiles: ['t'], depth: 'blind' }));
        expect([plane, words, s.warnings.some((w) => /reads backwards/.test(w.message))]).toEqual([plane, words, backwards]);
      }
  });
});
