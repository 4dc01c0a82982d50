/** Bodies combined by their facets: against closed forms, against each other, and against what the kernel makes of the same. */
import { describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { add, at, bodies, box, empty, engine, extrude, flat, fresh } from '../../tests/support/parts';
import type { Project } from '../core/recipe/schema';
import { stepDefinitions } from '../core/recipe/steps';
import { exportBodies } from './export';
import { knifeEdges, sceneOf, wallsOf } from './measure';

const cylinder = (p: Project, diameter: number, height: number, x = 0): Project =>
  add(
    p,
    'primitive',
    { shape: 'cylinder', plane: 'level', places: [at(x, 0, 0)], ...fresh },
    { diameter: `${diameter}`, height: `${height}` },
  );
const meshed = (p: Project, mode: string, more: Record<string, unknown> = {}): Project =>
  add(p, 'meshcombine', { body: 's1', mode, tools: ['s2'], tooling: 'used', ...more }, { deviation: '0.005 mm' });

describe('combined as a mesh', () => {
  const two = cylinder(box(empty(), [40, 40, 10]), 20, 30);
  const [block, rod] = [16000, Math.PI * 100 * 30];
  const shared = Math.PI * 100 * 10;
  it('joined, cut and kept in common, each as large as geometry says', async () => {
    const wanted = { join: block + rod - shared, cut: block - shared, common: shared };
    for (const [mode, volume] of Object.entries(wanted)) {
      const made = await bodies(meshed(two, mode));
      expect(Object.keys(made)).toEqual(['s1']);
      expect(made.s1! / volume, mode).toBeCloseTo(1, 3);
    }
  });
  it('keeps the names of the faces its facets lie on, and lines where they meet', async () => {
    const project = meshed(two, 'cut');
    await engine.rebuild(project);
    const scene = sceneOf(await testKernel(), project, 's1', engine.bodies()[0]!.body);
    const on = new Set([...scene.faceOf].map((f) => scene.faceNames[f]));
    expect(on.has('s1/end')).toBe(true);
    expect([...on].some((n) => n?.startsWith('s2/'))).toBe(true);
    expect(on.has('s3/inside')).toBe(false);
    // The rim of the hole: a circle of 20 across, within what its facets leave of it.
    const rim = scene.edgeNames.findIndex((n) => n.includes('s1/end') && n.includes('s2/'));
    expect(scene.edgeLengths[rim]! / (20 * Math.PI)).toBeCloseTo(1, 3);
  });
  it('tells its knife edges by its facets, and takes what they pinch for no wall', async () => {
    // A block with a corner cut off at 30°: what stays is a wedge of 30° along one edge, and 10 high else.
    const wedge = flat('w', 'front', [
      [0, 0],
      [40, 0],
      [40, 40 * Math.tan(Math.PI / 6)],
    ]);
    const p = extrude(box(empty(), [80, 40, 10]), wedge, { extent: 'symmetric' }, { length: '60' });
    const cut = add(p, 'meshcombine', { body: 's1', mode: 'common', tools: ['s2'], tooling: 'used' });
    await engine.rebuild(cut);
    const { body } = engine.bodies()[0]!;
    const sharp = knifeEdges(await testKernel(), body);
    expect(sharp.list.map((k) => Number(k.angle.toFixed(3)))).toEqual([30]);
    expect(sharp.list[0]!.at[0]).toBeCloseTo(0, 6);
    const walls = await wallsOf(await testKernel(), body, async () => true);
    expect(walls!.thinnest!.thickness).toBeGreaterThan(1);
  });
  it('is a mesh from then on: combined again as one, and with nothing exact', async () => {
    const cut = meshed(two, 'cut');
    const again = add(box(cut, [10, 40, 10], { places: [at(15, 0, 0)] }), 'meshcombine', {
      body: 's1',
      mode: 'cut',
      tools: ['s4'],
      tooling: 'used',
    });
    expect((await bodies(again)).s1! / (block - shared - 4000)).toBeCloseTo(1, 3);
    const round = add(cut, 'fillet', { body: 's1', edges: [{ edge: 's1/front|s1/right' }] });
    const told = (await engine.rebuild(round)).steps.at(-1)!;
    expect([told.state, told.why]).toEqual(['failed', 'it is a mesh, and nothing exact is left to work on']);
    await engine.rebuild(cut);
    const parts = engine.bodies().map(({ body }) => ({ body, name: 'Block' }));
    const step = exportBodies(await testKernel(), parts, 'step', 0.1, 'Part');
    expect(step.ok ? '' : step.error).toContain('is a mesh');
    expect(exportBodies(await testKernel(), parts, '3mf', 0.1, 'Part').ok).toBe(true);
  });
  it('says what it comes to, in how many pieces, and what it can’t do', async () => {
    const bar = box(box(empty(), [60, 10, 10]), [10, 20, 20], { places: [at(0, 0, 0)] });
    const report = async (p: Project) => (await engine.rebuild(p)).steps.at(-1)!;
    const parted = await report(meshed(bar, 'cut'));
    expect(parted.note).toContain('2 pieces, 5.00 cm³');
    expect(parted.message).toContain('mesh only');
    const apart = cylinder(box(empty(), [10, 10, 10]), 5, 5, 80);
    expect((await report(meshed(apart, 'common'))).why).toBe('they share nothing');
    expect((await report(meshed(apart, 'cut'))).warnings.map((w) => w.message)).toContain('Body 2 removes nothing');
    expect((await report(meshed(bar, 'cut', { tools: [] }))).unfinished).toBe(true);
  });
  it('is offered where solids could not be combined in time', () => {
    const p = add(two, 'combine', { body: 's1', mode: 'common', tools: ['s2'], tooling: 'used' });
    const ways = stepDefinitions.combine!.otherwise!(p.steps.at(-1)!);
    expect(ways.map((w) => [w.kind, w.inputs.mode])).toEqual([['meshcombine', 'common']]);
  });
  it('makes of crossing strips round a tube what the kernel makes of them', async () => {
    const ring = { what: 'body', step: null, body: 's3', along: 'ring', axis: 'z', paths: [], by: 'extent', symmetric: 'one', skip: '' };
    const tube = add(
      add(
        cylinder(empty(), 40, 30),
        'primitive',
        { shape: 'cylinder', plane: 'level', places: [], mode: 'cut', body: 's1' },
        { diameter: '36', height: '30' },
      ),
      'plane',
      { by: 'distance', from: 'level' },
      { distance: '0' },
    );
    const leaning = flat('d', 'front', [
      [-12, -2],
      [-8, -2],
      [12, 32],
      [8, 32],
    ]);
    const strip = extrude(tube, leaning, { extent: 'one' }, { length: '30' });
    const id = strip.steps.at(-1)!.id;
    const both = add(strip, 'mirror', { body: id, plane: 'side', result: 'joined' });
    const round = add(both, 'pattern', { ...ring, body: id }, { count: '3', angle: '360°' });
    const combined = (kind: 'combine' | 'meshcombine', values: Record<string, string> = {}) =>
      bodies(
        add(
          round,
          kind,
          { body: 's1', mode: 'common', tools: [id], tooling: 'used', ...(kind === 'combine' ? { pieces: 'together' } : {}) },
          values,
        ),
      );
    const exact = (await combined('combine')).s1!;
    const facets = (await combined('meshcombine', { deviation: '0.005 mm' })).s1!;
    expect(facets / exact).toBeCloseTo(1, 3);
  });
});
