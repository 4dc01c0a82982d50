/** Round wires and tubes along edges and lines, by Pappus: a round section times the length of its middle. */
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { add, at, box, curve, empty, engine, fresh, last, noteOf, ROW, volume } from '../../tests/support/parts';
import { addStep } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';
import { namedEdges } from '../kernel/names';

const wire = (p: Project, paths: readonly object[], more: Record<string, unknown> = {}, values: Record<string, string> = {}): Project =>
  add(p, 'wire', { paths, chain: 'smooth', inside: 'solid', ...fresh, ...more }, { wire: '6 mm', bend: '12 mm', ...values });
const edge = (name: string) => ({ body: 's1', edge: name });
/** Edges of the top of a box. */
const TOP = ['front', 'back', 'left', 'right'].map((side) => edge(`s1/end|s1/${side}`));
const block = box(empty(), [80, 50, 30]);
const names = async (): Promise<string[]> => {
  await engine.rebuild(block);
  return engine.bodies()[0]!.body.faces.toSorted();
};
const applied = async (p: Project): Promise<Project> => {
  const s = (await engine.rebuild(p)).steps.at(-1)!;
  const fix = s.fixes?.[0];
  if (!fix) throw new Error(`nothing is offered: ${s.why}`);
  return {
    ...p,
    steps: p.steps.map((q) =>
      q.id === fix.step ? { ...q, values: { ...q.values, ...fix.values }, inputs: { ...q.inputs, ...fix.inputs } } : q,
    ),
  };
};
const rounds = (length: number, corners: number, bend: number): number => length - corners * (2 - Math.PI / 2) * bend;

describe('a wire', () => {
  it('runs round the top of a block, its corners bent, in whatever order its edges were picked', async () => {
    expect(await names()).toContain('s1/end');
    const length = rounds(260, 4, 12);
    for (const picked of [TOP, [TOP[2]!, TOP[0]!, TOP[3]!, TOP[1]!]])
      expect(await volume(wire(block, picked))).toBeCloseTo(Math.PI * 9 * length, 3);
    // Three of them are open, with two corners.
    expect(await volume(wire(block, [TOP[2]!, TOP[0]!, TOP[3]!]))).toBeCloseTo(Math.PI * 9 * rounds(180, 2, 12), 3);
    expect(await noteOf(wire(block, TOP))).toMatch(/^done: 239\.40 mm of it, bent down to R 12\.00 mm; cylinders and rings/);
  });
  it('is a tube where it is hollow, open at its ends or closed in a ring', async () => {
    const tube = { inside: 'hollow' };
    const area = Math.PI * (9 - 1.5 ** 2);
    expect(await volume(wire(block, TOP, tube, { wall: '1.5 mm' }))).toBeCloseTo(area * rounds(260, 4, 12), 3);
    const open = await last(wire(block, [TOP[2]!, TOP[0]!], tube, { wall: '1.5 mm' }));
    expect(open.volume).toBeCloseTo(area * rounds(130, 1, 12), 3);
    expect(open.faces.filter((f) => f.includes('/bore'))).toHaveLength(3);
    expect(open.faces.filter((f) => /\/(start|end)$/.test(f))).toHaveLength(2);
  });
  it('goes on along drawn lines and curves in space, and by what goes on smoothly from an edge', async () => {
    const bow = curve(empty(), { by: 'line', places: [at(0, 0, 0), at(60, 0, 0), at(60, 40, 25)] }, { fillet: '0 mm' });
    const l = 60 + Math.hypot(40, 25);
    expect(await volume(wire(bow.project, [{ step: bow.id }]))).toBeCloseTo(Math.PI * 9 * rounds(l, 1, 12), 3);
    const round = add(block, 'fillet', { body: 's1', edges: [{ edge: 's1/front|s1/right' }] }, { radius: '20 mm' });
    // One edge brings the arc of the rounded corner, and the one after.
    expect(await volume(wire(round, [TOP[0]!]))).toBeCloseTo(Math.PI * 9 * rounds(130, 1, 20), 3);
    expect(await volume(wire(round, [TOP[0]!], { chain: 'picked' }))).toBeCloseTo(Math.PI * 9 * 60, 3);
  });
  it('keeps to the ellipse of a slanted cut, and to the edge a round hole leaves in a round rod', async () => {
    const rod = add(
      empty(),
      'primitive',
      { shape: 'cylinder', plane: 'level', places: [], ...fresh },
      { diameter: '40 mm', height: '60 mm' },
    );
    const tilted = addStep(rod, 'plane', { by: 'tilt', from: 'level', about: 'across', paths: [] }, { angle: '30°' });
    const lifted = addStep(tilted.project, 'plane', { by: 'place', from: tilted.id, places: [at(0, 0, 30)] });
    const slant = add(lifted.project, 'split', { body: 's1', by: 'plane', plane: lifted.id, profile: null, tool: null, keep: 'first' });
    const hole = { shape: 'cylinder', plane: 'front', places: [at(0, 0, 30)], mode: 'cut', body: 's1' };
    const bored = add(rod, 'primitive', hole, { diameter: '10 mm', height: '60 mm' });
    // Perimeters by their integrals, from the circles they come of.
    const round = (speed: (w: number) => number): number =>
      (Array.from({ length: 4000 }, (_, k) => speed((2 * Math.PI * k) / 4000)).reduce((a, b) => a + b, 0) * 2 * Math.PI) / 4000;
    const ellipse = round((w) => Math.hypot(20 * Math.sin(w), (20 / Math.cos(Math.PI / 6)) * Math.cos(w)));
    const saddle = round((w) => {
      const [x, dx] = [5 * Math.cos(w), -5 * Math.sin(w)];
      return Math.hypot(5, (x * dx) / Math.sqrt(400 - x * x));
    });
    for (const [p, length] of [
      [slant, ellipse],
      [bored, saddle],
    ] as const) {
      await engine.rebuild(p);
      const last = p.steps.at(-1)!.id;
      const rim = namedEdges(await testKernel(), engine.bodies()[0]!.body).find(
        (e) => e.name.includes(`${last}/`) && e.name.includes('s1/side'),
      );
      const along = wire(p, [edge(rim!.name)], {}, { wire: '2 mm' });
      expect((await volume(along)) / (Math.PI * length)).toBeCloseTo(1, 3);
      expect(await noteOf(along)).toMatch(/^done.*within 0\.000\d\d mm/);
    }
  });
  it('says the largest bend that goes, and works with it', async () => {
    const p = wire(block, TOP, {}, { bend: '26 mm' });
    expect((await last(p)).said).toContain('takes more than the stretch beside it; 25.000 mm is the most');
    const mended = await applied(p);
    expect(mended.steps.at(-1)!.values.bend).toBe('25 mm');
    expect(await volume(mended)).toBeCloseTo(Math.PI * 9 * rounds(260, 4, 25), 3);
  });
  it('that is too thick for its bends says what goes, and works with it; one that is bent tighter than it is thick is warned of', async () => {
    const p = wire(block, TOP, {}, { wire: '30 mm' });
    expect((await last(p)).said).toMatch(
      /^failed: the wire can’t be made; what it runs along bends to R 12\.00 mm, and the wire reaches 15\.00 mm/,
    );
    expect((await last(await applied(p))).said).toMatch(/^(done|warned)/);
    expect(await noteOf(wire(block, TOP, {}, { wire: '14 mm' }))).toMatch(/^warned.*tighter than it is thick/);
    expect(await noteOf(wire(block, TOP, {}, { wire: '12 mm' }))).toMatch(/^done/);
  });
  it('whose wall leaves no bore says so, and either way out works', async () => {
    const p = wire(block, TOP, { inside: 'hollow' }, { wall: '3 mm' });
    expect((await last(p)).said).toContain('its wall leaves nothing of the bore');
    expect(await volume(await applied(p))).toBeCloseTo(Math.PI * (9 - 1.5 ** 2) * rounds(260, 4, 12), 3);
  });
  it('without a pick, along edges that do not touch, or round a corner it can’t bend, is refused in words', async () => {
    expect((await last(wire(block, []))).said).toContain('nothing is picked that it runs along');
    expect((await last(wire(block, [TOP[0]!, TOP[1]!]))).said).toContain('do not hang together');
    const round = add(block, 'fillet', { body: 's1', edges: [{ edge: 's1/front|s1/right' }] }, { radius: '20 mm' });
    const down = wire(round, [edge('s1/end|s2/round(s1/front|s1/right)'), edge('s1/end|s1/left')], { chain: 'picked' });
    expect((await last(down)).said).toContain('do not hang together');
    const bowed = wire(round, [edge('s1/end|s2/round(s1/front|s1/right)'), edge('s1/front|s2/round(s1/front|s1/right)')], {
      chain: 'picked',
    });
    expect((await last(bowed)).said).toContain('it has a corner that is not between two straight stretches');
  });
  it('is raised again by a pattern of its step', async () => {
    const foot = curve(empty(), { by: 'line', places: [at(0, 0, 0), at(0, 0, 40)] }, { fillet: '0 mm' });
    const post = wire(foot.project, [{ step: foot.id }]);
    const row = add(post, 'pattern', { ...ROW, step: post.steps.at(-1)!.id, pieces: 'together' }, { count: '5', length: '20 mm' });
    expect(await volume(row)).toBeCloseTo(5 * Math.PI * 9 * 40, 3);
  });
});
