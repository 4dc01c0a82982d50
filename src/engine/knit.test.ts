/** Skins with planted gaps: each is told at its place with its width, and closed where that is within what was said. */
import { expect, it } from 'vitest';
import { add, bodies, empty, engine, extrude, flat, square } from '../../tests/support/parts';
import { addStep, setProfile } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';

const skin = { mode: 'surface', body: null } as const;

/** A box 20 × 20 × 10 as three skins: its sides, its floor, and a lid that stands off by so much. */
function parted(gap: number): Project {
  let p = extrude(empty(), flat('sides', 'level', square(20)), skin, { length: '10' });
  const over = addStep(p, 'plane', { by: 'distance', from: 'level' }, { distance: `${10 + gap}` });
  p = setProfile(setProfile(over.project, flat('floor', 'level', square(20))), flat('lid', over.id, square(20)));
  for (const id of ['floor', 'lid']) {
    const curves = p.profiles.find((q) => q.id === id)!.curves;
    p = add(p, 'patch', { paths: curves.map((c) => ({ profile: id, curve: c.id })), smooth: [] });
  }
  return p;
}
const knit = (p: Project, within?: string, tools = ['s3', 's4']): Project =>
  add(p, 'knit', { body: 's1', tools }, within ? { within } : {});

it('closes what lies within what was said, to the volume of the whole, and tells what it bridged', async () => {
  expect((await bodies(knit(parted(0)))).s1).toBeCloseTo(4000, 6);
  for (const [gap, within] of [
    [0.0005, undefined],
    [0.003, '0.005 mm'],
    [0.007, '0.02 mm'],
  ] as const) {
    const r = await engine.rebuild(knit(parted(gap), within));
    const s = r.steps.at(-1)!;
    expect([s.state, s.note]).toEqual(['done', expect.stringContaining('closed: it is a solid now')]);
    if (gap > 2e-3) expect(Number(/borders closed within ([\d.]+) mm/.exec(s.note!)![1])).toBeCloseTo(gap, 3);
    // The lid's own place decides, or the sides' does.
    expect(Math.abs(r.bodies[0]!.volume - 4000)).toBeLessThanOrEqual(400 * gap + 1e-6);
    expect(r.bodies).toHaveLength(1);
  }
});

it('tells a wider one with its width and place, and a way that closes it, where one does', async () => {
  const r = await engine.rebuild(knit(parted(0.005)));
  const s = r.steps.at(-1)!;
  expect(s.state).toBe('failed');
  expect(s.why).toContain('a gap of 0.00500 mm');
  expect(s.fixes[0]!.words).toBe('Close gaps up to 0.0053 mm');
  const mended = await engine.rebuild(knit(parted(0.005), s.fixes[0]!.values!.within!));
  expect(mended.steps.at(-1)!.state).toBe('done');
  // A lid that hovers a quarter of a millimetre over its sides is no lid: nothing is offered that would not go.
  const far = (await engine.rebuild(knit(parted(0.25)))).steps.at(-1)!;
  expect([far.why, far.fixes]).toEqual(['there is a gap of 0.250 mm between them', []]);
  const forced = (await engine.rebuild(knit(parted(0.25), '0.3 mm'))).steps.at(-1)!;
  expect(forced.why).toMatch(/^closing its borders within 0\.26 mm leaves no sound solid/);
});

it('tells what stays open on purpose by its length alone, and borders that run beside each other by their width', async () => {
  const cup = await engine.rebuild(knit(parted(0), undefined, ['s3']));
  expect([cup.steps.at(-1)!.note, cup.steps.at(-1)!.warnings]).toEqual(['1 border open, of 80.00 mm', []]);
  // A floor that hangs on one side only: slit from the others by a drawing that is smaller there.
  let p = extrude(empty(), flat('sides', 'level', square(20)), skin, { length: '10' });
  const short = flat('floor', 'level', [
    [-10, -10],
    [9.8, -10],
    [9.8, 10],
    [-10, 10],
  ]);
  p = setProfile(p, short);
  p = add(p, 'patch', { paths: short.curves.map((c) => ({ profile: 'floor', curve: c.id })), smooth: [] });
  const slit = (await engine.rebuild(add(p, 'knit', { body: 's1', tools: ['s2'] }))).steps.at(-1)!;
  expect(slit.state).toBe('warned');
  expect(slit.warnings[0]!.message).toContain('borders run 0.200 mm apart there');
  expect(slit.warnings[0]!.at![0]).toBeGreaterThan(9.7);
});

it('takes surfaces only', async () => {
  const solid = extrude(parted(0), flat('block', 'front', square(5)), {}, { length: '5' });
  expect((await engine.rebuild(knit(solid, undefined, [solid.steps.at(-1)!.id]))).steps.at(-1)!.why).toContain('is a solid');
});
