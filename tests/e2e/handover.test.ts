/** A box handed over: one file with all of it, read back by others. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, openApp } from '../support/browser';
import { handOn } from '../support/hand';
import { readByAnother } from '../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4353, 'none');
});
afterAll(() => app.close());

it('is saved with its files, inspection, recipe, cautions and sums', async () => {
  const { page, errors } = await app.page();
  const { next, settled, gauge } = handOn(page);
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New project' }).click();
  await next(/^Set up a box/, 'box');
  await settled();
  const volume = (await gauge('volume')) * 1000;
  await page.getByRole('link', { name: 'Brief' }).click();
  await page.getByRole('checkbox', { name: 'near heat or steam' }).check();
  await page.getByRole('link', { name: 'Make' }).click();
  const download = page.waitForEvent('download', { timeout: 120_000 });
  await page.getByRole('button', { name: 'Hand all of it over' }).click();
  const zip = await download;
  expect(zip.suggestedFilename()).toBe('untitled-hand-over.zip');
  const files = unzipSync(readFileSync((await zip.path())!));
  expect(Object.keys(files)).toEqual([
    'READ-ME-FIRST.txt',
    'untitled_body-1.step',
    'untitled_body-1.3mf',
    'untitled_body-1.stl',
    'inspection.html',
    'untitled.lathe.json',
    'SHA256SUMS.txt',
  ]);
  const text = (name: string): string => new TextDecoder().decode(files[name]);
  for (const line of text('SHA256SUMS.txt').trim().split('\n')) {
    const [sum, name] = line.split('  ') as [string, string];
    expect(createHash('sha256').update(files[name]!).digest('hex'), name).toBe(sum);
  }
  expect(text('SHA256SUMS.txt').trim().split('\n')).toHaveLength(6);
  expect((await readByAnother(files['untitled_body-1.step']!)).volume).toBeCloseTo(volume, 0);
  const cover = text('READ-ME-FIRST.txt');
  expect(cover).toMatch(/Body 1: [\d.]+ cm³, 6 faces, closed solid/);
  expect(cover).toMatch(/Heat and steam: check the material’s softening temperature/);
  expect(cover).toContain('certifies nothing');
  expect(text('inspection.html')).toContain('Body 1');
  expect(JSON.parse(text('untitled.lathe.json')).steps).toHaveLength(1);
  expect(errors).toEqual([]);
}, 200_000);
