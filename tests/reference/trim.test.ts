/** Surfaces trimmed by each other, against what is left of known ones: a dome in a tube, two bent sheets, a lens of two balls (mensuration). */
import { beforeAll, describe, expect, it } from 'vitest';
import { setProfile } from '../../src/core/recipe/edit';
import type { Project } from '../../src/core/recipe/schema';
import { areaOf } from '../../src/kernel/amounts';
import { add, circle, empty, engine, extrude } from '../support/parts';
import { arc, sketchProfile } from '../support/sketch';

beforeAll(() => engine.start());
const last = async (p: Project) => {
  const r = await engine.rebuild(p);
  const s = r.steps.at(-1)!;
  return { r, s, said: `${s.state} ${s.message ?? ''} ${s.why ?? ''}`.trim(), note: s.note ?? '' };
};
const area = async (id: string): Promise<number> => areaOf(await engine.start(), engine.bodies().find((b) => b.id === id)!.body.shape);
const SIDES = ['first', 'second'] as const;

/** A skin turned all round of an arc about a place of the axis, from one height to another. */
function dome(p: Project, id: string, R: number, middle: number, from: number, to: number): Project {
  const at = (z: number): [number, number] => [Math.sqrt(Math.max(0, R * R - (z - middle) ** 2)), z];
  const profile = { ...sketchProfile({ a: at(from), b: at(to), m: [0, middle] }, [arc('abm')]), id, name: id, plane: 'front', half: true };
  return add(setProfile(p, profile), 'revolve', { profile: id, mode: 'surface', body: null }, { angle: '360°' });
}

describe('surfaces trimmed by each other', () => {
  it('leave a tube with a dome on it, for one of the four choices each with its area', async () => {
    // A tube of radius 10 from 0 to 40 through a ball's upper part of radius 30 about the origin.
    const [R, r] = [30, 10];
    const z = Math.sqrt(R * R - r * r);
    const p = dome(extrude(empty(), circle('t', 'level', r), { mode: 'surface' }, { length: '40 mm' }), 'ball', R, 0, 10, 30);
    expect((await last(p)).said).toBe('done');
    const tube = { below: 2 * Math.PI * r * z, above: 2 * Math.PI * r * (40 - z) };
    // Archimedes: a zone's area is 2πR times its height.
    const cap = { within: 2 * Math.PI * R * (R - z), beyond: 2 * Math.PI * R * (z - 10) };
    const found = new Set<string>();
    for (const keep of SIDES)
      for (const keepTool of SIDES) {
        const { said, note } = await last(add(p, 'trim', { body: 's1', tool: 's2', keep, keepTool }));
        expect(said).toBe('done');
        const own = await area('s1');
        for (const [a, tubePart] of Object.entries(tube))
          for (const [b, capPart] of Object.entries(cap)) if (Math.abs(own - tubePart - capPart) < 1e-3 * own) found.add(`${a} ${b}`);
        expect(note).toMatch(/border/);
      }
    expect([...found].sort()).toEqual(['above beyond', 'above within', 'below beyond', 'below within']);
  });

  it('close to a solid where nothing stays open: the lens of two balls', async () => {
    // Two balls of radius 30 whose middles lie 40 apart, all but their far caps.
    const R = 30;
    let p = dome(empty(), 'low', R, 0, -10, 30);
    p = dome(p, 'high', R, 40, 10, 50);
    await last(p);
    let volume = Number.NaN;
    for (const keep of SIDES)
      for (const keepTool of SIDES) {
        const { r, said, note } = await last(add(p, 'trim', { body: 's1', tool: 's2', keep, keepTool }));
        expect(said).toBe('done');
        if (/solid/.test(note)) volume = r.bodies[0]!.volume;
      }
    // Two caps of height R − 20.
    expect(volume).toBeCloseTo((2 * Math.PI * 10 ** 2 * (3 * R - 10)) / 3, 1);
  });

  it('say which does not pass through which', async () => {
    let p = dome(empty(), 'low', 30, 0, -10, 30);
    p = extrude(p, circle('t', 'level', 50), { mode: 'surface' }, { length: '10 mm' });
    const { said } = await last(add(p, 'trim', { body: 's1', tool: 's2', keep: 'first', keepTool: 'first' }));
    expect(said).toMatch(/does not pass right through/);
    const waits = await last(add(p, 'trim', { body: 's1', tool: null, keep: 'first', keepTool: 'first' }));
    expect(waits.s.unfinished).toBe(true);
  });
});
