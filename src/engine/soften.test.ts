/** Rounds and bevels of every kind, against mensuration; what does not fit says why, what would, and offers it. */
import { describe, expect, it } from 'vitest';
import { add, box, circle, empty, engine, extrude, last, volume } from '../../tests/support/parts';
import { patchStep } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';

const block = () => box(empty(), [60, 40, 30]);
const upright = (a: string, b: string): string => `s1/${[a, b].sort().join('|s1/')}`;
const corners = [upright('front', 'right'), upright('back', 'right'), upright('back', 'left'), upright('front', 'left')];
const round = (p: Project, edges: readonly string[], more: Record<string, unknown> = {}, values: Record<string, string> = {}) =>
  add(p, 'fillet', { body: 's1', edges: edges.map((edge) => ({ edge })), ...more }, { radius: '5 mm', ...values });
const bevel = (p: Project, edges: readonly string[], more: Record<string, unknown> = {}, values: Record<string, string> = {}) =>
  add(p, 'chamfer', { body: 's1', edges: edges.map((edge) => ({ edge })), by: 'distance', side: 'first', ...more }, values);
const report = async (p: Project) => (await engine.rebuild(p)).steps.at(-1)!;
const spandrel = (r: number): number => (1 - Math.PI / 4) * r * r;

describe('rounds', () => {
  it('have one radius for each edge in one step', async () => {
    const own = [
      { edge: corners[0]!, value: '3 mm' },
      { edge: corners[1]!, value: '8 mm' },
    ];
    const v = await volume(round(block(), corners, { radii: 'each', own }));
    expect(v).toBeCloseTo(72000 - 30 * (spandrel(3) + spandrel(8) + 2 * spandrel(5)), 3);
  });
  it('change along an edge from its lower end to its upper', async () => {
    const p = round(block(), [corners[0]!], { radii: 'along' }, { radius: '3 mm', end: '9 mm' });
    // ∫ (1 − π/4) r² with r growing evenly from 3 to 9 over 30; the blend's own section is a circle nearly.
    const taken = ((1 - Math.PI / 4) * 30 * (9 ** 3 - 3 ** 3)) / (3 * 6);
    expect((72000 - (await volume(p))) / taken).toBeCloseTo(1, 1);
    const r = await engine.rebuild(p);
    expect(r.steps.at(-1)!.state).toBe('done');
    const turned = round(block(), [corners[0]!], { radii: 'along' }, { radius: '9 mm', end: '3 mm' });
    // The same amount, wherever it lies: and it lies lower now.
    expect(await volume(turned)).toBeCloseTo(await volume(p), 2);
    expect((await engine.rebuild(turned)).bodies[0]!.centroid[2]).toBeGreaterThan((await engine.rebuild(p)).bodies[0]!.centroid[2]);
  });
  it('take what goes on smoothly from an edge with it, and name it', async () => {
    const first = round(block(), corners);
    const top = add(first, 'fillet', { body: 's1', edges: [{ edge: 's1/end|s1/front' }] }, { radius: '2 mm' });
    const r = await last(top);
    expect(r.said).toMatch(/^done/);
    expect(r.faces.filter((f) => f.startsWith('s3/round')).length).toBe(8);
  });
  it('say what limits them, which radius works, and take it with one click', async () => {
    const p = round(block(), [corners[0]!], {}, { radius: '45 mm' });
    const s = await report(p);
    expect(s.why).toMatch(/limited by (front|right) of Body 1, (60|40)\.00 mm wide/);
    expect(s.fixes[0]!.words).toMatch(/^Use \d/);
    expect((await last(patchStep(p, s.fixes[0]!.step, s.fixes[0]!))).said).toMatch(/^done/);
  });
  it('offer the edges that take it, where one does not', async () => {
    // A thin rib on a plate: its foot takes no 6 mm beside the plate’s own border, 4 mm away.
    const plate = box(empty(), [60, 40, 10]);
    const p = extrude(
      plate,
      circle('post', 'level', 6, [20, 0]),
      { mode: 'join', body: 's1', origin: 'face', fromFaces: [{ body: 's1', face: 's1/end' }] },
      { length: '20', start: '0' },
    );
    const s = await report(round(p, [...corners.slice(0, 2), 's1/end|s2/c0'], {}, { radius: '6 mm' }));
    expect(s.state).toBe('failed');
    const offer = s.fixes.find((f) => f.words.startsWith('Take 2 of 3 edges'))!;
    expect(offer.words).toContain('edge between');
    const again = patchStep(round(p, [...corners.slice(0, 2), 's1/end|s2/c0'], {}, { radius: '6 mm' }), offer.step, offer);
    expect((await last(again)).said).toMatch(/^done/);
  });
});

describe('bevels', () => {
  it('by one distance, by two, and by an angle take prisms away', async () => {
    expect(await volume(bevel(block(), [corners[0]!], {}, { distance: '4 mm' }))).toBeCloseTo(72000 - 30 * 8, 6);
    expect(await volume(bevel(block(), [corners[0]!], { by: 'two' }, { distance: '4 mm', second: '10 mm' }))).toBeCloseTo(
      72000 - 30 * 20,
      6,
    );
    const angled = await volume(bevel(block(), [corners[0]!], { by: 'angle' }, { distance: '4 mm', angle: '30°' }));
    expect(angled).toBeCloseTo(72000 - 30 * 0.5 * 16 * Math.tan(Math.PI / 6), 6);
  });
  it('lie the other way round from the other face', async () => {
    const at = async (side: string) => {
      const r = await engine.rebuild(bevel(block(), [corners[0]!], { by: 'two', side }, { distance: '4 mm', second: '10 mm' }));
      return r.bodies[0]!.centroid;
    };
    const [a, b] = [await at('first'), await at('second')];
    // The prism’s own middle moves by a third of 10 − 4.
    expect(Math.abs(a[0] - b[0])).toBeCloseTo((2 * 600) / 71400, 5);
  });
  it('on the rim of a cylinder takes a ring away', async () => {
    const drum = add(
      empty(),
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '40', height: '30' },
    );
    const faces = (await last(drum)).faces;
    const rim = [faces.find((f) => f.endsWith('end') || f.endsWith('top'))!, faces.find((f) => f.endsWith('side'))!].sort().join('|');
    // Pappus: half a square of 3, its middle 1 from the corner.
    expect(await volume(bevel(drum, [rim], {}, { distance: '3 mm' }))).toBeCloseTo(Math.PI * 400 * 30 - 2 * Math.PI * 19 * 4.5, 3);
  });
  it('say what limits them and what works', async () => {
    const s = await report(bevel(block(), [corners[0]!], {}, { distance: '41 mm' }));
    expect(s.why).toContain('limited by');
    expect(s.why).toContain('40.00 mm wide');
    expect(s.fixes[0]!.words).toMatch(/^Use /);
  });
});

describe('what can’t be is refused in words, and nothing is lost', () => {
  const everyFace = ['start', 'end', 'front', 'right', 'back', 'left'].map((f) => ({ face: `s1/${f}` }));
  const shell = (values: Record<string, string>, open: readonly { face: string }[] = [{ face: 's1/end' }]) =>
    add(block(), 'shell', { body: 's1', open }, values);
  it.each<[string, () => Project, RegExp]>([
    ['a radius of nothing', () => round(block(), [corners[0]!], {}, { radius: '0' }), /must be more than 0 mm/],
    ['a negative radius', () => round(block(), [corners[0]!], {}, { radius: '-3 mm' }), /must be more than 0 mm; it is -3 mm/],
    ['a radius that is no number', () => round(block(), [corners[0]!], {}, { radius: 'NaN' }), /no finite value/],
    ['an absurd radius', () => round(block(), [corners[0]!], {}, { radius: '1e6 mm' }), /does not fit on the edge between .*limited by/],
    [
      'a radius of its own of nothing',
      () => round(block(), [corners[0]!], { radii: 'each', own: [{ edge: corners[0]!, value: '0' }] }),
      /must be more than nothing/,
    ],
    ['no edge at all', () => round(block(), []), /no edge is picked/],
    ['an edge that a change took away', () => round(block(), ['s1/front|s1/gone']), /no longer exists/],
    ['a bevel of nothing', () => bevel(block(), [corners[0]!], {}, { distance: '0' }), /must be more than 0 mm/],
    ['a bevel at a right angle', () => bevel(block(), [corners[0]!], { by: 'angle' }, { angle: '90°' }), /at most 89°/],
    ['a wall of nothing', () => shell({ wall: '0' }), /must be more than 0 mm/],
    ['an absurd wall', () => shell({ wall: '1e5 mm' }), /can't be hollowed to 100000\.00 mm/],
    ['every face open', () => shell({ wall: '2' }, everyFace), /every face is picked as open/],
    [
      'a cavity without an opening',
      () => add(block(), 'cavity', { body: 's1', open: [], plane: 'level', rim: 'round', lean: 'free' }),
      /no face is picked for it/,
    ],
    [
      'a cavity with no room',
      () => add(block(), 'cavity', { body: 's1', open: [{ face: 's1/end' }], plane: 'level', rim: 'round', lean: 'free' }, { wall: '25' }),
      /no room for a cavity/,
    ],
    ['a wall for a solid', () => add(block(), 'thicken', { body: 's1', side: 'front' }), /it is a solid already/],
    ['a solid to be closed', () => add(block(), 'close', { body: 's1' }), /it is a solid/],
    [
      'a lid above everything',
      () =>
        add(add(block(), 'plane', { by: 'distance', from: 'level' }, { distance: '99' }), 'lid', {
          body: 's1',
          plane: 's2',
          register: 'none',
        }),
      /nothing in common|does not have a volume|not a solid/,
    ],
  ])('%s', async (_, make, words) => {
    const r = await engine.rebuild(make());
    const s = r.steps.at(-1)!;
    expect(s.state).toBe('failed');
    expect(`${s.message}: ${s.why}`).toMatch(words);
    expect(s.tryInstead.length).toBeGreaterThan(0);
    // The block it was to be done to is there as it was.
    expect(r.bodies[0]!.volume).toBeCloseTo(72000, 6);
  });
});

it('a step becomes one of another kind with one click, keeping its wall', async () => {
  const failed = add(block(), 'shell', { body: 's1', open: [{ face: 's1/end' }] }, { wall: '21 mm' });
  const fix = (await report(failed)).fixes.find((f) => f.kind === 'cavity')!;
  const turned = patchStep(failed, fix.step, { ...fix, values: { ...fix.values, wall: '3 mm', floor: '3 mm' } });
  expect(turned.steps.at(-1)!.kind).toBe('cavity');
  const s = await report(turned);
  expect(s.state).toBe('done');
  expect(-s.volumeChange! / (Math.PI * 17 ** 2 * 27)).toBeGreaterThan(0.98);
});
