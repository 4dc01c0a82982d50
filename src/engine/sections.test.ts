/** Skins that grow from faces and end in points, against prismatoids. */
import { describe, expect, it } from 'vitest';
import { add, at, block, bodies, box, circle, disc, empty, engine, fresh, loft, stack } from '../../tests/support/parts';
import { addStep, setProfile } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';

/** A block 40 × 40 × 10 with a drawing 30 above its top. */
const above = (draw: (id: string, plane: string) => ReturnType<typeof circle>): Project => {
  const lift = addStep(box(empty(), [40, 40, 10]), 'plane', { by: 'distance', from: 'level' }, { distance: '40 mm' });
  return setProfile(lift.project, draw('d', lift.id));
};
const grown = (p: Project, sections: unknown[], more: Record<string, unknown> = {}): Project =>
  add(p, 'loft', {
    sections,
    paths: [],
    rails: 'drawn',
    skin: 'ruled',
    run: 'open',
    start: 'free',
    end: 'free',
    shifts: '',
    ...fresh,
    ...more,
  });
const top = { body: 's1', face: 's1/end' };

describe('a loft from a face', () => {
  it('to a square above it is a frustum, as a body of its own and joined to what it grows from', async () => {
    // h (A + √(AB) + B) / 3.
    const frustum = (30 * (1600 + 800 + 400)) / 3;
    const p = above(block(20));
    expect(await bodies(grown(p, [top, 'd']))).toEqual({ s1: expect.closeTo(16000, 4), s3: expect.closeTo(frustum, 4) });
    expect(await bodies(grown(p, [top, 'd'], { mode: 'join', body: 's1' }))).toEqual({ s1: expect.closeTo(16000 + frustum, 4) });
  });
  it('follows the face when the block changes', async () => {
    const p = grown(above(block(20)), [top, 'd'], { mode: 'join', body: 's1' });
    const wider: Project = { ...p, steps: p.steps.map((s) => (s.id === 's1' ? { ...s, values: { ...s.values, width: '60' } } : s)) };
    // A prismatoid by Simpson: both ends, and the middle 40 × 30.
    const prismatoid = (30 * (60 * 40 + 4 * 40 * 30 + 400)) / 6;
    expect(await bodies(wider)).toEqual({ s1: expect.closeTo(24000 + prismatoid, 4) });
  });
  it('comes to a point that was typed, or an end of an edge', async () => {
    const p = box(empty(), [40, 40, 10]);
    expect(await bodies(grown(p, [top, at(5, -3, 40)]))).toEqual({ s1: expect.closeTo(16000, 4), s2: expect.closeTo((1600 * 30) / 3, 4) });
    const post = box(p, [2, 2, 40], { places: [at(0, 0, 0)] });
    const ends = await bodies(grown(post, [top, { body: 's2', edge: 's2/front|s2/left', end: 'high' }]));
    expect(ends.s3).toBeCloseTo((1600 * 30) / 3, 3);
  });
  it('smoothly to a circle square to both is one body with the block', async () => {
    const p = above(disc(12));
    const r = await bodies(grown(p, [top, 'd'], { skin: 'smooth', start: 'square', end: 'square', mode: 'join', body: 's1' }));
    expect(r.s1).toBeGreaterThan(16000 + 30 * Math.PI * 144);
    expect(r.s1).toBeLessThan(16000 + 30 * 1600);
  });
  it('is joined to a face with a rounded end, whose border it meets within a hair', async () => {
    const half = add(box(empty(), [30, 12, 20]), 'fullround', { body: 's1', faces: [{ face: 's1/right' }] });
    const lift = addStep(half, 'plane', { by: 'distance', from: 'level' }, { distance: '60 mm' });
    const p = grown(setProfile(lift.project, circle('d', lift.id, 8)), [top, 'd'], { skin: 'smooth', mode: 'join', body: 's1' });
    const r = await bodies(p);
    const block = 20 * (24 * 12 + 18 * Math.PI);
    const area = block / 20;
    expect(r.s1).toBeGreaterThan(block + 40 * 64 * Math.PI * 0.9);
    expect(r.s1).toBeLessThan(block + 40 * area);
  });
  it('says where a face is not flat, and that it is gone', async () => {
    const last = async (p: Project) => {
      const { steps } = await engine.rebuild(p);
      return steps[steps.length - 1]!;
    };
    const saddle = loft(
      stack([
        [0, disc(20)],
        [30, block(30)],
      ]),
      { skin: 'smooth' },
    );
    await engine.rebuild(saddle);
    const name = engine.bodies()[0]!.body.faces.find((f) => !/start|end/.test(f))!;
    const r = await last(grown(saddle, [{ body: 's3', face: name }, at(0, 0, 90)]));
    expect(r.why).toMatch(/is not flat/);
    const gone = await last(grown(above(block(20)), [{ body: 's1', face: 's1/nothing' }, 'd']));
    expect([gone.state, gone.lost?.what]).toEqual(['failed', 'face']);
  });
});
