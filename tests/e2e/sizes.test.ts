/** Sizes of the diffuser: a series and a table, worked out beside the bench, one taken, all saved. */
import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, openApp } from '../support/browser';
import { readByAnother } from '../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4352, 'none');
});
afterAll(() => app.close());

it('come from a series and a table, are judged, taken and saved', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await page.getByRole('link', { name: 'Steam diffuser' }).first().click();
  await page.getByRole('link', { name: 'Sizes' }).click();
  await page.getByRole('button', { name: 'A series…' }).click();
  await page.getByRole('combobox', { name: 'Dimension of the series' }).selectOption('height');
  await page.getByRole('textbox', { name: 'From', exact: true }).fill('130');
  await page.getByRole('textbox', { name: 'To', exact: true }).fill('145');
  await page.getByRole('textbox', { name: 'So many' }).fill('2');
  await page.getByRole('button', { name: 'Add them' }).click();
  await page.getByRole('button', { name: 'From a table…' }).click();
  const table = page.getByRole('textbox', { name: 'The table' });
  await table.fill('size;girth\nthick;60');
  await page.getByText(/^there is no dimension called “girth”; the sheet has height, belly/).waitFor();
  await table.fill('size;wall\nthick;60');
  await page.getByRole('button', { name: 'Add 1' }).click();
  // A value that can't be is told while it is typed, and not taken.
  const wall = page.getByRole('textbox', { name: 'wall of height 130 mm' });
  await wall.fill('3°');
  await page.getByRole('alert').getByText('it is an angle; a length is wanted').waitFor();
  await wall.fill('2,5');
  await wall.press('Enter');
  expect(await wall.inputValue()).toBe('2.5 mm');

  await page.getByRole('button', { name: 'Work out all 3' }).click();
  await page
    .getByTestId('sizes-told')
    .getByText(/^all worked out · 1 can’t be made/)
    .waitFor({ timeout: 120_000 });
  const row = async (id: string): Promise<string> => (await page.getByTestId(`size-${id}`).textContent())!;
  expect(await row('z1')).toMatch(/130\.00mm.*2\.500mm/);
  expect(await row('z2')).toContain('145.00mm');
  expect(await row('z3')).toMatch(/Hollow.*no cavity of that wall exists/);

  // All saved: those that can be made, and the table that tells of the one that can't.
  const download = page.waitForEvent('download', { timeout: 120_000 });
  await page.getByRole('button', { name: 'Save all as' }).click();
  const zip = await download;
  expect(zip.suggestedFilename()).toBe('steam-diffuser-sizes-step.zip');
  const files = unzipSync(readFileSync((await zip.path())!));
  expect(Object.keys(files)).toEqual(['steam-diffuser-height-130-mm.step', 'steam-diffuser-height-145-mm.step', 'sizes.csv']);
  const csv = new TextDecoder().decode(files['sizes.csv']).split('\n');
  expect(csv[0]).toMatch(/^size,height,wall,state,Height \(mm\),Thinnest wall \(mm\),/);
  expect(csv[1]).toMatch(/^height 130 mm,130 mm,2\.5 mm,done,130\.00,2\.500,/);
  expect(csv[3]).toContain('no cavity of that wall exists');
  await expect(readByAnother(files['steam-diffuser-height-145-mm.step']!)).rejects.toThrow('it reads 2 bodies');

  // Taken: the sheet is that size, and undo brings it back.
  await page.getByTestId('size-z2').getByRole('button', { name: 'take' }).click();
  await page.getByRole('link', { name: 'Bench' }).click();
  const height = page.getByRole('textbox', { name: 'height', exact: true }).first();
  expect(await height.inputValue()).toBe('145 mm');
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await height.inputValue()).toBe('140 mm');
  expect(errors).toEqual([]);
}, 300_000);
