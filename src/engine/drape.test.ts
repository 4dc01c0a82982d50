/** Sheets pulled onto bodies through the engine: onto scans and exact bodies, what is refused and the way out of it, what may be written. */
import * as THREE from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { beforeAll, describe, expect, it } from 'vitest';
import { tapScan } from '../../demo/scans';
import { testKernel } from '../../tests/support/kernel';
import { add, empty, engine } from '../../tests/support/parts';
import { sourceOf } from '../core/form/read';
import { gridCage } from '../core/form/starts';
import { setStep } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';
import { packMesh } from '../core/scan/packed';
import { exportBodies } from './export';
import type { StepReport } from './types';

beforeAll(() => engine.start());

const fresh = { mode: 'new', body: null } as const;
const last = async (p: Project): Promise<StepReport> => (await engine.rebuild(p)).steps.at(-1)!;
const sheet = (p: Project, width: number, depth: number, z: number, x0 = 0): Project => {
  const cage = gridCage(width, depth, 4, 3);
  const source = sourceOf({ ...cage, vertices: cage.vertices.map(([x, y]) => [x + x0, y, z] as const) });
  return add(p, 'form', { source, plane: 'level', follow: 'well', mode: 'surface', body: null });
};
/** A cylinder of radius 20 that lies along x. */
const bar = (): Project =>
  add(empty(), 'primitive', { shape: 'cylinder', plane: 'side', places: [], ...fresh }, { diameter: '40', height: '100' });
const pulled = (p: Project, values: Record<string, string> = {}): Project =>
  add(p, 'drape', { body: 's2', onto: 's1' }, { within: '0.05 mm', clear: '0 mm', ...values });
/** The bar with a sheet over its middle. */
const on = (): Project => sheet(bar(), 40, 24, 22, 50);

describe('a sheet', () => {
  it('pulled onto a cylinder has a wall of two cylinders about it, at its clearance', async () => {
    for (const clear of [0, 1]) {
      const p = add(pulled(on(), { clear: `${clear}` }), 'thicken', { body: 's2', side: 'front' }, { wall: '2 mm' });
      const { steps, bodies } = await engine.rebuild(p);
      expect(steps.map((s) => s.state)).toEqual(['done', 'done', 'done', 'done']);
      const area = Number(/lies over ([\d.]+) cm²/.exec(steps[2]!.note!)![1]) * 100;
      const r = 20 + clear;
      // What lies at r and is w thick holds A (w + w² / 2 r); told to a tenth of a cm².
      const volume = bodies.find((b) => b.id === 's2')!.volume;
      expect(Math.abs(volume / (area * (2 + 4 / (2 * r))) - 1)).toBeLessThan(0.01);
      const box = bodies.find((b) => b.id === 's2')!.bbox;
      expect(Math.abs(box.max[2] - (r + 2))).toBeLessThan(0.05);
    }
  });
  it('says what is missing, what is no sheet of a cage, and what lies on two sides', async () => {
    const none = await last(add(on(), 'drape', { body: 's2', onto: null }, { within: '0.05', clear: '0' }));
    expect(none).toMatchObject({ state: 'failed', unfinished: true });
    const moved = add(on(), 'thicken', { body: 's2', side: 'front' }, { wall: '2 mm' });
    expect((await last(add(moved, 'drape', { body: 's2', onto: 's1' }, { within: '0.05', clear: '0' }))).why).toBe(
      'it is no surface formed by a cage',
    );
    const through = await last(add(sheet(bar(), 90, 90, 0.3), 'drape', { body: 's2', onto: 's1' }, { within: '0.5', clear: '0' }));
    expect(through.state).toBe('failed');
    expect(through.at).toBeDefined();
  });
  it('that reaches beyond a scan is warned of, with how much and where', async () => {
    const plate = {
      positions: Float64Array.of(-20, -20, 0, 20, -20, 0, 20, 20, 0, -20, 20, 0),
      indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
      faceOf: new Uint32Array(2),
    };
    const held = { f1: { name: 'plate', solids: [], scan: packMesh(plate, 3) } };
    const p = sheet(add({ ...empty(), imports: held }, 'scan', { file: 'f1', unit: 'mm' }), 60, 20, 5);
    const r = await last(pulled(p));
    expect(r.state).toBe('warned');
    // 20 of 60 mm, over 20.
    expect(r.warnings[0]!.message).toMatch(/^4\.\d cm² of it reach beyond Body 1/);
    expect(Math.abs(r.warnings[0]!.at![0])).toBeGreaterThan(25);
  });
  it('goes on another scan in the place of the first, warm as cold', async () => {
    const scanned = (seed: number): Project => {
      const held = { f1: { name: 'tap', solids: [], scan: packMesh(tapScan(seed, { noise: 0.04, step: 1.6, gaps: 2, strays: 0 }), 3) } };
      let p = add({ ...empty(), imports: held }, 'scan', { file: 'f1', unit: 'mm' });
      p = add(p, 'scanplace', { body: 's1', stands: 'lying' });
      p = sheet(p, 20, 30, 24);
      return add(p, 'drape', { body: 's3', onto: 's1' }, { within: '0.2 mm', clear: '0 mm' });
    };
    const [a, b] = [scanned(1), scanned(2)];
    const first = await last(a);
    expect(first.state).toBe('done');
    const second = await last(b);
    expect(second.state).toBe('done');
    expect(second.note).not.toBe(first.note);
    expect((await last(a)).note).toBe(first.note);
    const closer = await last(setStep(a, { ...a.steps[3]!, values: { ...a.steps[3]!.values, within: '0.02 mm' } }));
    expect(closer.state).toBe('failed');
    const fix = closer.fixes![0]!;
    expect((await last(setStep(a, { ...a.steps[3]!, values: { ...a.steps[3]!.values, ...fix.values } }))).state).toBe('done');
  });
});

describe('what is open', () => {
  it('is written where it is shown or worked on, and refused with what goes where it is printed', async () => {
    const held = { f1: { name: 'tap', solids: [], scan: packMesh(tapScan(1, { noise: 0.04, step: 3, gaps: 0, strays: 0 }), 3) } };
    const p = sheet(add({ ...empty(), imports: held }, 'scan', { file: 'f1', unit: 'mm' }), 20, 30, 24);
    await engine.rebuild(p);
    const kernel = await testKernel();
    const [scan, skin] = ['s1', 's2'].map((id) => ({ body: engine.bodies().find((b) => b.id === id)!.body, name: id }));
    const said = (part: typeof scan, format: 'stl' | '3mf' | 'obj' | 'glb' | 'step'): string => {
      const r = exportBodies(kernel, [part!], format, 0.1, 'Part');
      return r.ok ? 'written' : r.error;
    };
    expect((['stl', 'obj', 'glb'] as const).map((f) => said(scan, f))).toEqual(['written', 'written', 'written']);
    expect(said(scan, '3mf')).toContain('write it as STL, OBJ or GLB');
    expect((['step', 'obj', 'glb'] as const).map((f) => said(skin, f))).toEqual(['written', 'written', 'written']);
    for (const f of ['stl', '3mf'] as const) expect(said(skin, f)).toContain('write it as STEP, OBJ or GLB');
  });
});

describe('a body that goes until it touches', () => {
  const still = { about: 'z', paths: [], faces: [], result: 'moved' } as const;
  /** A ball of radius 10 as body `id`, lifted from the level plane. */
  const ball = (p: Project, id: string, x: string, z: string): Project =>
    add(
      add(p, 'primitive', { shape: 'sphere', plane: 'level', places: [{ at: [x, '0 mm', '0 mm'] }], ...fresh }, { diameter: '20' }),
      'move',
      { ...still, body: id, by: 'shift' },
      { z },
    );
  const touch = { ...still, body: 's2', by: 'touch', onto: 's1', way: 'down' } as const;
  it('rests on an exact body to a hundredth, at a gap where one is typed, wherever it began', async () => {
    // A ball of radius 10 over a bar of radius 20 that lies along x: middle at 30.
    for (const [z, gap] of [
      ['90 mm', 0],
      ['5 mm', 0],
      ['90 mm', 2],
    ] as const) {
      const { steps, bodies } = await engine.rebuild(add(ball(bar(), 's2', '50 mm', z), 'move', touch, { gap: `${gap}` }));
      expect(steps.at(-1)!.state).toBe('done');
      const box = bodies.find((b) => b.id === 's2')!.bbox;
      expect(Math.abs(box.min[2] - 20 - gap)).toBeLessThan(0.02);
      expect(steps.at(-1)!.note).toMatch(new RegExp(`^moved by -?[\\d.]+ mm; ${gap > 0 ? 'nearest' : 'touches'} at `));
    }
  });
  it('rests on a scan, and says what is missing or passed by', async () => {
    const held = { f1: { name: 'tap', solids: [], scan: packMesh(tapScan(1, { noise: 0, step: 1.2, gaps: 0, strays: 0 }), 3) } };
    const scanned = add(add({ ...empty(), imports: held }, 'scan', { file: 'f1', unit: 'mm' }), 'scanplace', {
      body: 's1',
      stands: 'lying',
    });
    const over = ball(scanned, 's3', '0 mm', '80 mm');
    const { bodies, steps } = await engine.rebuild(add(over, 'move', { ...touch, body: 's3' }, { gap: '0' }));
    expect(steps.at(-1)!.state).toBe('done');
    const { min, max } = bodies.find((b) => b.id === 's3')!.bbox;
    // By an independent library: its middle is as far from the scan as it is round.
    const scan = engine.bodies().find((b) => b.id === 's1')!.body.mesh!;
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(scan.positions.slice(), 3));
    g.setIndex(new THREE.BufferAttribute(scan.indices.slice(), 1));
    const middle = new THREE.Vector3(...min.map((x, k) => (x + max[k]!) / 2));
    expect(Math.abs(new MeshBVH(g).closestPointToPoint(middle)!.distance - 10)).toBeLessThan(0.02);
    expect(await last(add(over, 'move', { ...touch, body: 's3', onto: null }, {}))).toMatchObject({ state: 'failed', unfinished: true });
    const by = await last(add(over, 'move', { ...touch, body: 's3', way: 'right' }, { gap: '0' }));
    expect(by.why).toContain('it goes by');
  });
});
