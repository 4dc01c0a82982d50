import { unzipSync } from 'fflate';
import { beforeAll, describe, expect, it } from 'vitest';
import { testKernel } from '../../tests/support/kernel';
import { newProject } from '../core/recipe/edit';
import type { Project } from '../core/recipe/schema';
import { withSize } from '../core/sizes/sizes';
import { pastedSizes } from '../core/sizes/table';
import { readStep } from '../kernel/exchange/step-read';
import type { Kernel } from '../kernel/open';
import { Engine } from './engine';
import { packed } from './export';
import { drawSheet, type SizeReport, workOutSize } from './sizes';

let kernel: Kernel;
let engine: Engine;
let project: Project;
beforeAll(async () => {
  kernel = await testKernel();
  engine = new Engine({ open: testKernel });
  // A beaker, from 25 mm at its foot to 30 mm at its rim.
  const sheet = newProject('Beaker');
  const table = pastedSizes('size,height\nlow,50\nas it is,\nflat,0\ntall,120', sheet);
  if (!table.ok) throw new Error(table.error);
  project = { ...sheet, sizes: table.value };
});
const of = (name: string, writing: Parameters<typeof workOutSize>[3] = null): Promise<SizeReport> =>
  workOutSize(engine, project, project.sizes!.rows.find((r) => r.name === name)!, writing);
/** Of a frustum (mensuration), mm³. */
const frustum = (h: number): number => ((Math.PI * h) / 3) * (625 + 750 + 900);
const volume = (r: SizeReport): number => r.gauges.find((g) => g.id === 'volume')!.value!;

describe('sizes', () => {
  it('are worked out each by itself, and the sheet stays as it was', async () => {
    const before = JSON.stringify(project);
    for (const [name, h] of [
      ['low', 50],
      ['tall', 120],
      ['as it is', 80],
    ] as const)
      expect(volume(await of(name)) * 1000, name).toBeCloseTo(frustum(h), 2);
    expect(JSON.stringify(project)).toBe(before);
  });
  it('that can’t be made say which step and why, and write nothing', async () => {
    const r = await of('flat', { format: 'step', deviation: 0.05 });
    expect(r.failed?.step).toMatch(/Revolve|revolve/);
    expect(r.failed?.why.length).toBeGreaterThan(10);
    expect(r.gauges).toEqual([]);
    expect(r.file).toBeUndefined();
  });
  it('are written each under its name, packed in one, and read back with their volumes', async () => {
    const files = [];
    for (const name of ['low', 'tall']) {
      const { file } = await of(name, { format: 'step', deviation: 0.05 });
      if (!file?.ok) throw new Error(file ? file.error : 'nothing was written');
      files.push(file.value);
    }
    const all = unzipSync(packed([...files, { name: files[0]!.name, bytes: files[0]!.bytes }]));
    expect(Object.keys(all)).toEqual(['beaker-low_body-1.step', 'beaker-tall_body-1.step', 'beaker-low_body-1-3.step']);
    const read = readStep(kernel, all['beaker-tall_body-1.step']!);
    expect(read.ok && read.value[0]!.volume).toBeCloseTo(frustum(120), 1);
  });
  it('are drawn as they would stand, without what is put out of sight; in words where they can’t be', async () => {
    const sheet = withSize(project, project.sizes!.rows.find((r) => r.name === 'tall')!);
    const drawn = await drawSheet(engine, sheet);
    expect(drawn.ok && drawn.value.map((s) => Math.max(...s.positions.filter((_, i) => i % 3 === 2)))).toEqual([expect.closeTo(120, 4)]);
    const id = Object.keys(sheet.bodies)[0]!;
    expect(await drawSheet(engine, { ...sheet, bodies: { [id]: { ...sheet.bodies[id]!, hidden: true } } })).toEqual({
      ok: true,
      value: [],
    });
    expect(await drawSheet(engine, withSize(project, project.sizes!.rows.find((r) => r.name === 'flat')!))).toMatchObject({ ok: false });
  });
});
