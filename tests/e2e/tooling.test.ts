/** A beaker that is moulded, then milled: how it leaves the mould, from how many sides it is milled, and what the cutter leaves. */
import { readFileSync } from 'node:fs';
import DxfParser from 'dxf-parser';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../support/browser';
import { handOn } from '../support/hand';

let app: App;
beforeAll(async () => {
  app = await openApp(4368, process.env.LOOK ? 'smooth' : 'none');
});
afterAll(() => app.close());

it('is pulled all ways and looked at from all sides', async () => {
  const { page, errors } = await app.page();
  const { next, settled } = handOn(page);
  const to = (name: string): Promise<void> => page.getByRole('link', { name, exact: true }).click();
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);
  await next(/^Hollow .* open at its topmost flat face/);
  await settled();
  await measured(page);
  const process = async (name: string): Promise<void> => {
    await to('Brief');
    await page.getByRole('combobox', { name: 'Made by' }).selectOption(name);
    await to('Make');
  };
  await process('mould');
  const rows = page.getByTestId('pulls').locator('tbody tr');
  await rows.first().waitFor({ timeout: 60_000 });
  // Its sides lean by atan 5/80, 3.6°: along its axis all comes off, with the rim's circle seen, π 30² = 28.3 cm².
  const best = (await rows.first().textContent())!;
  expect(best).toMatch(/^up and the other waynone–none2[78]\.\d+ cm²/);
  // Across it the inside holds it.
  expect(await page.getByTestId('pulls').textContent()).toMatch(/▲ [\d.]+ cm²/);
  if (globalThis.process.env.LOOK) {
    await rows.first().scrollIntoViewIfNeeded();
    await page.screenshot({ path: '/tmp/mould.png' });
  }
  // Five degrees are more than it has: inside and outside are told.
  const draft = page.getByRole('textbox', { name: 'Least draft' });
  await draft.fill('5');
  await draft.press('Enter');
  await expect.poll(async () => rows.first().textContent(), { timeout: 30_000 }).toMatch(/none–2\d\d\.\d+ cm²/);
  await rows.first().getByRole('button', { name: 'see it' }).click();
  await page.getByText(/Less draft than 5/).waitFor({ timeout: 60_000 });

  await process('mill');
  const told = page.getByRole('region', { name: 'How it is milled' });
  await told.getByText('From 2 sides:').waitFor({ timeout: 60_000 });
  expect(await told.textContent()).toMatch(/up.*down|down.*up/);
  // By Pythagoras: 3 − √(3² − 0.25²) = 0.0104.
  expect(await page.getByTestId('scallop').textContent()).toBe('0.0104 mm');
  expect(await page.getByTestId('stock').textContent()).toMatch(/64\.0 mm × 64\.0 mm × 84\.0 mm, 9\d % of it goes off/);
  // The corner of its floor is sharp: 2π times the radius of its inside there.
  const sharp = Number(/([\d.]+) mm of inside edges/.exec((await told.textContent())!)![1]);
  const floor = 25 + (5 * 2) / 80 - 2 * Math.hypot(1, 1 / 16);
  expect(sharp / (2 * Math.PI * floor)).toBeCloseTo(1, 1);
  if (globalThis.process.env.LOOK) {
    await page.getByTestId('stock').scrollIntoViewIfNeeded();
    await page.screenshot({ path: '/tmp/mill.png' });
  }

  await process('turn on a lathe');
  await page.getByTestId('turned').getByText('All of it is turned: 80.00 mm long, ⌀ 60.00 mm.').waitFor({ timeout: 60_000 });
  const turned = page.getByRole('region', { name: 'How it is turned' });
  // Where its floor meets its inside there is no round.
  expect(await turned.textContent()).toMatch(/A corner inwards has no round; the nose leaves its own there: ⌀ 4[56]\.\d+ mm, 2\.00 mm up/);
  const [file] = await Promise.all([page.waitForEvent('download'), turned.getByRole('button', { name: /DXF/ }).click()]);
  const read = new DxfParser().parseSync(readFileSync(await file.path(), 'utf8'))!;
  const outline = read.entities.filter((e) => e.layer === 'OUTLINE') as unknown as { vertices: { x: number; y: number }[] }[];
  expect(Math.max(...outline.flatMap((e) => e.vertices.map((v) => v.x)))).toBeCloseTo(30, 6);
  expect(Math.max(...outline.flatMap((e) => e.vertices.map((v) => v.y)))).toBeCloseTo(80, 6);
  expect(errors).toEqual([]);
}, 240_000);
