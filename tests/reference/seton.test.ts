/** A body set on a face of another, and a sweep kept upright on one: places and lengths on cylinders, balls and planes against their formulas. */
import { beforeAll, describe, expect, it } from 'vitest';
import { setProfile } from '../../src/core/recipe/edit';
import type { Project } from '../../src/core/recipe/schema';
import { volumeOf } from '../../src/kernel/amounts';
import { add, at, box, empty, engine, flat } from '../support/parts';

beforeAll(() => engine.start());

const solid = { plane: 'level', places: [], mode: 'new', body: null };
const round = (shape: string, values: Record<string, string>): Project => add(empty(), 'primitive', { shape, ...solid }, values);
const SET = { body: 's2', faces: [{ body: 's1', face: 's1/side' }], result: 'moved' };

async function centre(p: Project, id = 's2'): Promise<{ at: readonly number[]; said: string; volume: number }> {
  const kernel = await engine.start();
  const r = await engine.rebuild(p);
  const s = r.steps.at(-1)!;
  const body = engine.bodies().find((b) => b.id === id)?.body;
  const read = body && volumeOf(kernel, body.shape);
  return { at: read?.centroid ?? [], said: `${s.state} ${s.why ?? ''}`.trim(), volume: read?.volume ?? 0 };
}
const near = (a: readonly number[], b: readonly number[]): void => {
  for (const k of [0, 1, 2]) expect(a[k]).toBeCloseTo(b[k]!, 6);
};

describe('set on a face', () => {
  it('stands square to a cylinder, is moved along and up it by length, turned and sunk', async () => {
    const [R, h] = [20, 3];
    const p = box(round('cylinder', { diameter: `${2 * R}`, height: '30' }), [5, 4, h]);
    for (const [angle, along, up, sunk] of [
      [-90, 0, 0, 0],
      [30, 0, 0, 1],
      [-90, 10, 4, 0.5],
      [170, -25, -6, 0],
    ] as const) {
      const a = (angle * Math.PI) / 180;
      const values = { along: `${along}`, up: `${up}`, turn: '25°', sunk: `${sunk}` };
      // From a place beside it: the nearest of the face is taken.
      const place = at(35 * Math.cos(a), 35 * Math.sin(a), 12);
      const set = await centre(add(p, 'seton', { ...SET, places: [place] }, values));
      expect(set.said).toBe('done');
      const [b, r] = [a + along / R, R + h / 2 - sunk];
      near(set.at, [r * Math.cos(b), r * Math.sin(b), 12 + up]);
      expect(set.volume).toBeCloseTo(60, 9);
    }
  });
  it('goes along great circles of a ball, stays as a copy, and follows where the ball grows', async () => {
    for (const R of [25, 40]) {
      const p = box(round('sphere', { diameter: `${2 * R}` }), [5, 4, 2]);
      const set = add(p, 'seton', { ...SET, places: [at(0, -60, 0)], result: 'copied' }, { along: '0', up: '12', turn: '0°', sunk: '0' });
      const copy = await centre(set, 's3');
      expect(copy.said).toBe('done');
      const [angle, r] = [12 / R, R + 1];
      near(copy.at, [0, -r * Math.cos(angle), r * Math.sin(angle)]);
      near((await centre(set, 's2')).at, [0, 0, 1]);
    }
  });
  it('lies level on a level face with its back to the back, and refuses its own', async () => {
    const p = box(box(empty(), [60, 40, 20]), [6, 4, 2]);
    const top = { faces: [{ body: 's1', face: 's1/end' }] };
    const set = await centre(add(p, 'seton', { ...SET, ...top, places: [at(5, 7, 50)] }, { along: '3', up: '2', turn: '0°', sunk: '0' }));
    near(set.at, [8, 9, 21]);
    const own = await centre(add(p, 'seton', { ...SET, faces: [{ body: 's2', face: 's2/end' }], places: [] }));
    expect(own.said).toContain('is its own');
    expect((await centre(add(p, 'seton', { ...SET, faces: [], places: [] }))).said).toContain('no face is picked');
  });
});

describe('a sweep kept upright on a face', () => {
  it('leans neither way along a helix: as much as Pappus says, its outside as far from the axis everywhere', async () => {
    const [R, turns, pitch] = [20, 2, 14];
    let p = round('cylinder', { diameter: `${2 * R}`, height: '40' });
    const helix = { by: 'helix', places: [], paths: [], plane: 'level', chain: 'smooth', join: 'G2', ends: 'end-start' };
    p = add(p, 'curve', helix, {
      fillet: '0',
      diameter: `${2 * R}`,
      top: `${2 * R}`,
      turns: `${turns}`,
      pitch: `${pitch}`,
      points: '8',
      strength: '1',
      share: '0.5',
    });
    p = add(p, 'plane', { by: 'square', paths: [{ step: 's2' }] }, { share: '0' });
    const [wide, thick] = [6, 2];
    const section = flat('band', 's3', [
      [0, -wide / 2],
      [0, wide / 2],
      [-thick, wide / 2],
      [-thick, -wide / 2],
    ]);
    const made = (hold: string) =>
      add(
        setProfile(p, section),
        'sweep',
        { sections: ['band'], paths: [{ step: 's2' }], hold, ground: [{ body: 's1', face: 's1/side' }], mode: 'new', body: null },
        { twist: '0°', scale: '1' },
      );
    const kernel = await engine.start();
    const r = await engine.rebuild(made('surface'));
    expect(r.steps.at(-1)!.state).toBe('done');
    const body = engine.bodies().at(-1)!.body;
    // The centroid of the section goes round at R + thick / 2, square to the helix on the skin: by Pappus with the helix's own bend.
    const run = 2 * Math.PI * turns;
    const length = run * Math.hypot(R, pitch / (2 * Math.PI));
    const bend = R / (R * R + (pitch / (2 * Math.PI)) ** 2);
    expect(volumeOf(kernel, body.shape).volume / (wide * thick * length * (1 + (bend * thick) / 2))).toBeCloseTo(1, 4);
    // Upright, all of the outside's middle is R + thick from the axis; else it leans.
    const reach = async (hold: string): Promise<number> => {
      const built = await engine.rebuild(made(hold));
      const box3 = built.bodies.find((b) => b.id === 's4')!.bbox;
      return Math.max(...[0, 1].flatMap((k) => [box3.max[k]!, -box3.min[k]!]));
    };
    const tilt = Math.hypot(R + thick, (wide / 2) * (pitch / (2 * Math.PI) / Math.hypot(R, pitch / (2 * Math.PI))));
    expect(await reach('surface')).toBeLessThan(tilt + 1e-3);
    expect(await reach('surface')).toBeGreaterThan(R + thick - 1e-3);
    expect(await reach('square')).toBeGreaterThan(tilt + 0.2);
  });
});
