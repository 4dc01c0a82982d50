/** Rounds and bevels of every kind, against mensuration; what does not fit says why, what would, and offers it. */
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { add, box, circle, empty, engine, extrude, flat, last, volume } from '../../tests/support/parts';
import { pointAt } from '../core/curves/planar';
import { smoothSection } from '../core/curves/section-blend';
import { patchStep } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';
import { namedEdges } from '../kernel/names';
import { facesOf, surfaceReader } from '../kernel/shapes';

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
  it('leave edges alone that are smooth already, and say so; where there are only such they are refused', async () => {
    const first = round(block(), [corners[0]!]);
    await engine.rebuild(first);
    const smooth = namedEdges(await testKernel(), engine.bodies()[0]!.body)
      .map((e) => e.name)
      .filter((e) => e.includes('s2/round') && !/start|end/.test(e));
    expect(smooth).toHaveLength(2);
    const both = round(first, [...smooth, corners[1]!]);
    expect(await volume(both)).toBeCloseTo(72000 - 2 * 30 * spandrel(5), 3);
    expect((await report(both)).note).toBe('2 of 3 edges are smooth already');
    const bevelled = bevel(first, [smooth[0]!, corners[1]!], {}, { distance: '2 mm' });
    expect(await volume(bevelled)).toBeCloseTo(72000 - 30 * (spandrel(5) + 2), 3);
    expect((await report(bevelled)).note).toBe('1 of 2 edges is smooth already');
    expect((await report(round(first, smooth))).why).toMatch(/already flow into each other \(0\.00°\)/);
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

/** Area between a corner of two straight lines at right angles and the curvature-continuous section that starts d from it, per d² (Simpson). */
const smoothCorner = (): number => {
  const c = smoothSection(
    { at: { x: -1, y: 0 }, along: { x: 1, y: 0 }, curvature: 0 },
    { at: { x: 0, y: -1 }, along: { x: 0, y: 1 }, curvature: 0 },
  )!;
  let area = 0;
  const n = 2000;
  for (let i = 0; i < n; i++) {
    const [a, b] = [pointAt(c, i / n), pointAt(c, (i + 1) / n)];
    area += (a.x * b.y - b.x * a.y) / 2;
  }
  return Math.abs(area);
};

describe('curvature-continuous rounds', () => {
  const smooth = { section: 'smooth' };
  it('take away what lies outside their section, along straight edges and in chains', async () => {
    const one = await volume(round(block(), [corners[0]!], smooth));
    expect(72000 - one).toBeCloseTo(30 * 25 * smoothCorner(), 3);
    expect((await report(round(block(), [corners[0]!], smooth))).note).toMatch(
      /^curvature-continuous, bending no tighter than 4\.\d\d mm$/,
    );
    // The rim of a block whose upright corners are rounded flows round it: straight lines and quarter circles.
    const rim = add(
      round(block(), corners, {}, { radius: '8 mm' }),
      'fillet',
      { body: 's1', edges: [{ edge: 's1/end|s1/front' }], ...smooth },
      { radius: '3 mm' },
    );
    const r = await last(rim);
    expect(r.said).toMatch(/^done/);
    expect(r.faces.filter((f) => f.startsWith('s3/round')).length).toBe(8);
  });
  it('run round a turned edge, outside and in a foot, and have no jump of curvature there', async () => {
    const drum = add(
      empty(),
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '40', height: '30' },
    );
    await engine.rebuild(drum);
    const top = namedEdges(await testKernel(), engine.bodies()[0]!.body).find((e) => e.name.includes('top'))!.name;
    const p = round(drum, [top], smooth, { radius: '4 mm' });
    const done = await last(p);
    expect(done.said).toMatch(/^done/);
    // Pappus: the area of the section goes round at its centroid, which lies between the outside and 4 inside.
    const taken = Math.PI * 400 * 30 - done.volume;
    expect(taken).toBeLessThan(2 * Math.PI * 20 * 16 * smoothCorner());
    expect(taken).toBeGreaterThan(2 * Math.PI * 18 * 16 * smoothCorner());
    const kernel = await testKernel();
    const body = engine.bodies()[0]!.body;
    const faces = facesOf(kernel, body.shape);
    const at = body.faces.findIndex((f) => f.includes('round'));
    const reader = surfaceReader(kernel, faces[at]!);
    const { u, v } = reader.range;
    // Along its two borders the section is as straight as the wall and the lid beside it; in its middle it bends.
    const along = (a: number, b: number) => reader.at(u[0] + a * (u[1] - u[0]), v[0] + b * (v[1] - v[0]))!;
    const bends = [0, 0.5, 1].map((t) => [along(t, 0.3), along(0.3, t)].map((s) => Math.max(...s.curvatures.map(Math.abs))));
    reader.dispose();
    const k = bends.every((b) => Math.abs(b[0]! - bends[0]![0]!) < 1e-9) ? 1 : 0;
    // Of its two curvatures the one round the axis stays: 1/20 at the wall, none at the lid.
    expect(Math.max(bends[0]![k]!, bends[2]![k]!)).toBeLessThan(1 / 19.9);
    expect(bends[1]![k]!).toBeGreaterThan(1 / 6);
    const post = extrude(box(empty(), [60, 40, 10]), circle('post', 'level', 9), { mode: 'join', body: 's1' }, { length: '30' });
    await engine.rebuild(post);
    const foot = namedEdges(kernel, engine.bodies()[0]!.body).find((e) => e.name.includes('s1/end') && e.name.includes('s2/'))!.name;
    const solid = await volume(post);
    const grown = (await volume(round(post, [foot], smooth, { radius: '3 mm' }))) - solid;
    expect(grown).toBeGreaterThan(2 * Math.PI * 9 * 9 * smoothCorner());
    expect(grown).toBeLessThan(2 * Math.PI * 11 * 9 * smoothCorner());
  });
  it('say where they can’t be made', async () => {
    const s = await report(round(block(), [corners[0]!, 's1/end|s1/front'], smooth));
    expect(s.why).toContain('meet in a corner');
    expect((await report(round(block(), [corners[0]!], smooth, { radius: '45 mm' }))).why).toMatch(/limited by|leave no room/);
  });
});

describe('full rounds', () => {
  const off = (p: Project, face: string) => add(p, 'fullround', { body: 's1', faces: [{ face }] });
  it('on a rib leave half a cylinder, on a leaning one a part of it', async () => {
    const rib = box(empty(), [60, 6, 20]);
    expect(await volume(off(rib, 's1/end'))).toBeCloseTo(60 * (6 * 17 + (Math.PI * 9) / 2), 4);
    expect((await report(off(rib, 's1/end'))).note).toBe('full round of radius 3.00 mm');
    // A trapezoid 10 below, 6 above, 12 high: the ball between its top and its sides (inradius of the wedge).
    const lean = extrude(
      empty(),
      flat('t', 'front', [
        [-5, 0],
        [5, 0],
        [3, 12],
        [-3, 12],
      ]),
      {},
      { length: '40' },
    );
    await engine.rebuild(lean);
    const top = engine.bodies()[0]!.body.faces.find((f) => f.endsWith('c2'))!;
    const side = Math.hypot(2, 12);
    // Side lines x = ±(3 + (12 − z) / 6): a centre on the middle line r below the top is r from them.
    const r = (3 * (12 / side)) / (1 - 2 / side);
    const half = Math.acos(2 / side);
    // What goes: the trapezoid above the contacts less the part of the circle.
    const contact = { x: r * (12 / side), z: 12 - r + r * (2 / side) };
    const above = (12 - contact.z) * (3 + contact.x);
    const sector = r * r * half + contact.x * (12 - r - contact.z);
    const whole = 40 * 96;
    expect(await volume(off(lean, top))).toBeCloseTo(whole - 40 * (above - sector), 3);
  });
  it('on the rim of a cup leave half a ring', async () => {
    const drum = add(
      empty(),
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [], mode: 'new', body: null },
      { diameter: '40', height: '30' },
    );
    const cup = add(drum, 'shell', { body: 's1', open: [{ face: 's1/top' }] }, { wall: '3 mm' });
    const before = await volume(cup);
    // Between cylinders of 17 and 20: Pappus for the two corners left by a half circle of 1.5 about 18.5.
    const corner = (1 - Math.PI / 4) * 1.5 ** 2;
    expect(before - (await volume(off(cup, 's2/rim(s1/top)')))).toBeCloseTo(2 * Math.PI * 18.5 * 2 * corner, 3);
  });
  it('say why there is none', async () => {
    // Half of 40 is more than its 15 of height: no ball touches both sides.
    expect((await report(off(box(empty(), [60, 40, 15]), 's1/end'))).why).toBe('no ball touches all three faces');
    expect((await report(add(block(), 'fullround', { body: 's1', faces: [] }))).why).toBe('nothing can be rounded off yet');
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
    ['an absurd radius', () => round(block(), [corners[0]!], {}, { radius: '99999 mm' }), /does not fit on the edge between .*limited by/],
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
