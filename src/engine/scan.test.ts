/** Scans through the engine: what each step says, what it refuses and the way out of it, another scan in the place of the first. */
import { beforeAll, describe, expect, it } from 'vitest';
import { HEAD_REST, headRestScan } from '../../demo/scans';
import { testKernel } from '../../tests/support/kernel';
import { blockMesh } from '../../tests/support/meshes';
import { add, empty, engine } from '../../tests/support/parts';
import type { TriMesh } from '../core/mesh/mesh';
import { setStep } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';
import { packMesh } from '../core/scan/packed';
import { sceneOf } from './measure';
import type { StepReport } from './types';

const held = (scan: TriMesh, places = 3) => ({ f1: { name: 'head rest', solids: [], scan: packMesh(scan, places) } });
const withScan = (scan: TriMesh): Project => add({ ...empty(), imports: held(scan) }, 'scan', { file: 'f1', unit: 'mm' });
const built = async (p: Project): Promise<StepReport[]> => [...(await engine.rebuild(p)).steps];
const last = async (p: Project): Promise<StepReport> => (await built(p)).at(-1)!;

const rough = headRestScan(5, { noise: 0.1, step: 2.2, gaps: 5, strays: 4 });
const clean = (p: Project): Project => add(p, 'scanclean', { body: 's1', keep: 'round', fill: 'curved' }, { round: '7' });
const upright = (p: Project): Project => add(p, 'scanplace', { body: 's1', stands: 'lying' });
const fitted = (p: Project): Project =>
  add(p, 'scanfit', { body: 's1', near: 'fair', alike: 'side', holes: 'size' }, { size: '8 mm', spans: '12' });

/** A closed box of facets. */
const box = (): TriMesh => blockMesh([0, 0, 0], [40, 30, 20]);

beforeAll(() => engine.start());

describe('a scan', () => {
  it('is read in the lengths it is in, and is a closed body where it is closed', async () => {
    const p = withScan(box());
    for (const [unit, scale] of [
      ['mm', 1],
      ['cm', 10],
      ['in', 25.4],
      ['m', 1000],
    ] as const) {
      const r = await engine.rebuild(setStep(p, { ...p.steps[0]!, inputs: { file: 'f1', unit } }));
      expect(r.bodies[0]).toMatchObject({ closed: true, facets: true });
      expect(r.bodies[0]!.volume / (24_000 * scale ** 3)).toBeCloseTo(1, 6);
      expect(r.bodies[0]!.bbox.max[0]).toBeCloseTo(40 * scale, 2);
    }
    const gone = await last({ ...p, imports: {} });
    expect(gone).toMatchObject({ state: 'failed', message: 'there is no scan', why: 'the project no longer holds the file' });
    const damaged = await last({ ...p, imports: { f1: { name: 'x', solids: [], scan: 'AAAA' } } });
    expect(damaged).toMatchObject({ state: 'failed', why: expect.stringContaining('damaged') });
  });
  it('is not built on: what would is refused in words', async () => {
    const on = await last(add(withScan(box()), 'shell', { body: 's1', open: [] }, { wall: '2 mm' }));
    expect(on.state).toBe('failed');
    expect(on.why).toContain('it is a mesh');
  });
  it('is shifted, turned and scaled as a body is, a copy of it beside it, and cleaned after that', async () => {
    const still = { body: 's1', by: 'shift', about: 'z', paths: [], faces: [], result: 'moved' } as const;
    const p = withScan(rough);
    const before = (await engine.rebuild(p)).bodies[0]!;
    const shifted = (await engine.rebuild(add(p, 'move', still, { x: '10', y: '-5', z: '3' }))).bodies[0]!;
    for (const [k, by] of [10, -5, 3].entries()) expect(shifted.bbox.min[k]! - before.bbox.min[k]!).toBeCloseTo(by, 3);
    // A quarter about the upright axis: what was away lies to the left of it.
    const turned = (await engine.rebuild(add(p, 'move', { ...still, by: 'turn' }, { angle: '90°' }))).bodies[0]!;
    expect(turned.bbox.min[0]).toBeCloseTo(-before.bbox.max[1], 3);
    expect(turned.bbox.max[1]).toBeCloseTo(before.bbox.max[0], 3);
    const grown = (await engine.rebuild(add(p, 'move', { ...still, by: 'scale' }, { factor: '2' }))).bodies[0]!;
    expect(grown.area / before.area).toBeCloseTo(4, 4);
    expect(grown.borders.length).toBe(before.borders.length);
    const both = await engine.rebuild(add(p, 'move', { ...still, result: 'copied' }, { x: '300' }));
    expect(both.bodies.map((b) => b.borders.length)).toEqual([before.borders.length, before.borders.length]);
    const cleaned = await last(clean(add(p, 'move', { ...still, by: 'turn', about: 'x' }, { angle: '200°' })));
    expect(cleaned.note).toMatch(/^4 islands gone, \d+ holes filled, 8 borders stay/);
  });
  it('goes from rough to a surface of the size it was, and another scan goes the same way', async () => {
    const p = fitted(upright(clean(withScan(rough))));
    const steps = await built(p);
    expect(steps.map((s) => s.state)).toEqual(['done', 'done', 'done', 'done']);
    expect(steps[1]!.note).toMatch(/^4 islands gone, \d+ holes filled, 8 borders stay/);
    const body = engine.bodies().find((b) => b.id === 's4')!;
    expect(body.body.surface).toBe(true);
    // The cleaned scan shows its borders, each by itself.
    const scene = sceneOf(await testKernel(), p, 's1', engine.bodies().find((b) => b.id === 's1')!.body);
    expect(scene.edgeNames.filter((n) => n.startsWith('border|'))).toHaveLength(8);
    expect(Math.max(...scene.edgeLengths)).toBeGreaterThan(600);
    const report = (await engine.rebuild(p)).bodies.find((b) => b.id === 's4')!;
    expect(report.borders).toHaveLength(8);
    expect(report.bbox.max[0] - report.bbox.min[0]).toBeCloseTo(2 * HEAD_REST.half[0], -0.5);
    // Alike either side, to the last digit that counts.
    expect(report.bbox.max[0] + report.bbox.min[0]).toBeCloseTo(0, 5);
    // The holes are as typed: their borders are as long as circles of that size, on a slope of a few degrees.
    for (const b of report.borders.toSorted((x, y) => x.length - y.length).slice(0, 7)) expect(b.length).toBeCloseTo(8 * Math.PI, 1);
    const other = { ...p, imports: held(headRestScan(6, { noise: 0.1, step: 2.2, gaps: 6, strays: 2 })) };
    const again = await built(other);
    expect(again.map((s) => s.state)).toEqual(['done', 'done', 'done', 'done']);
    expect(again[1]!.note).toMatch(/^2 islands gone/);
  });
  it('gives sections as curves, fair within its roughness', async () => {
    const p = add(upright(clean(withScan(rough))), 'curve', {
      by: 'section',
      places: [],
      paths: [],
      plane: 'front',
      chain: 'smooth',
      join: 'G2',
      ends: 'end-start',
      body: 's1',
    });
    const told = await last(p);
    expect(told).toMatchObject({
      state: 'done',
      note: expect.stringMatching(/smooth throughout; up to \d+ control points, off the scan by 0\.1\d+ mm/),
    });
    const long = Number(/^([\d.]+) mm long/.exec(told.note!)![1]);
    // The part's own line there, by short stretches.
    let sum = 0;
    for (let x = -120; x < 120; x += 0.5) sum += Math.hypot(0.5, HEAD_REST.height(x + 0.5, 0) - HEAD_REST.height(x, 0));
    expect(long / sum).toBeCloseTo(1, 1);
    expect(
      (await last(add(p, 'curve', { ...p.steps.at(-1)!.inputs, by: 'edges', paths: [{ body: 's1', edge: 'x|y' }], plane: 'front' }))).state,
    ).toBe('failed');
  });
  it('that can’t be fitted says why, and where it lies upright it is told where', async () => {
    const closed = await last(fitted(withScan(box())));
    expect(closed).toMatchObject({ state: 'failed', why: expect.stringContaining('it is closed') });
    const standing = await last(fitted(add(clean(withScan(rough)), 'scanplace', { body: 's1', stands: 'long' })));
    expect(standing).toMatchObject({ state: 'failed', why: expect.stringContaining('over the level plane') });
    expect(standing.at).toHaveLength(3);
  });
  it('with too few spans says how near they come, and the offered number comes nearer', async () => {
    const p = add(
      upright(clean(withScan(rough))),
      'scanfit',
      { body: 's1', near: 'within', alike: 'no', holes: 'none' },
      { within: '0.01 mm', spans: '4' },
    );
    const told = await last(p);
    expect(told.state).toBe('warned');
    expect(told.message).toMatch(/^with 4 spans it comes no nearer than 0\.\d+ mm/);
    const off = (s: StepReport): number => Number(/off the scan by ([\d.]+) mm/.exec(s.note!)![1]);
    const { step, values } = told.fixes[0]!;
    const more = await last(setStep(p, { ...p.steps.find((s) => s.id === step)!, values: { ...p.steps.at(-1)!.values, ...values } }));
    expect(off(more)).toBeLessThan(off(told));
  });
  it('whose hole can’t be filled is left as it is by the way that is offered', async () => {
    const big = withScan(headRestScan(5, { noise: 0, step: 1.5, gaps: 0, strays: 0 }));
    const p = add(big, 'scanclean', { body: 's1', keep: 'none', fill: 'curved' });
    const refused = await last(p);
    expect(refused).toMatchObject({ state: 'failed', why: expect.stringMatching(/edges; holes of up to/) });
    const { step, inputs } = refused.fixes[0]!;
    const way = await last(setStep(p, { ...p.steps.find((s) => s.id === step)!, inputs: { ...p.steps.at(-1)!.inputs, ...inputs } }));
    expect(way.state).toBe('done');
  });
});
