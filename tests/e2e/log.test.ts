/** The log of a beaker: states kept by hand and by saving, told change by change, gone back to, found and forgotten. */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../support/browser';
import { handOn } from '../support/hand';

let app: App;
beforeAll(async () => {
  app = await openApp(4355, 'none');
});
afterAll(() => app.close());

it('keeps states, tells what changed, goes back and forth, and lives in the file', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  const hand = handOn(page);
  await newBeaker(page);
  await measured(page);
  const to = (name: string) => page.getByRole('link', { name, exact: true }).click();
  const height = page.getByRole('textbox', { name: 'height', exact: true }).first();
  const sized = async (text: string): Promise<void> => {
    await height.fill(text);
    await height.press('Enter');
    await measured(page);
  };
  await to('Log');
  await page.getByRole('textbox', { name: 'Name of the state' }).first().fill('as it was drawn');
  await page.getByRole('button', { name: 'Keep this state' }).click();
  const rows = page.locator('[data-testid^=kept-]');
  await rows.first().waitFor();
  // Nothing has changed: without a name there is nothing to keep.
  await page.getByText('Nothing has changed.').waitFor();
  expect(await page.getByRole('button', { name: 'Keep this state' }).isDisabled()).toBe(true);

  // A change is told before it is kept, with what it does to the gauges: a frustum of 25 to 30 mm (mensuration).
  await to('Bench');
  await sized('90 mm');
  await to('Log');
  const since = page.getByRole('region', { name: 'Since the last' });
  const volume = (h: number): string => ((Math.PI * h * 2275) / 3000).toFixed(2);
  await since.getByText('height 80 mm → 90 mm').waitFor();
  await since.getByText(`Material volume ${volume(80)} cm³ → ${volume(90)} cm³`).waitFor();

  // What leaves is kept by itself, once.
  await to('Make');
  for (let i = 0; i < 2; i++) {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: /^Save .*\.stl$/ }).click();
    await download;
  }
  await to('Log');
  await rows.nth(1).waitFor();
  expect(await rows.count()).toBe(2);
  expect(await rows.first().textContent()).toMatch(/handed on.*height 80 mm → 90 mm/);

  // A note stands among them, is written over, found, and is no step that could be undone.
  await page.getByRole('textbox', { name: 'A note' }).fill('printed at 215°, ridges on the belly');
  await page.getByRole('button', { name: 'Note it' }).click();
  const note = page.locator('[data-testid^=note-]');
  await note.getByRole('button', { name: /printed at 215/ }).click();
  await note.getByRole('textbox').fill('printed at 205°, no ridges left');
  await note.getByRole('textbox').press('Control+Enter');
  await note.getByRole('button', { name: /printed at 205/ }).click();
  await note.getByRole('textbox').fill('never mind');
  await note.getByRole('textbox').press('Escape');
  await note.getByRole('button', { name: /printed at 205/ }).waitFor();
  await page.getByRole('searchbox', { name: 'Find in the log' }).fill('ridges');
  await expect.poll(() => rows.count()).toBe(0);
  expect(await note.count()).toBe(1);
  const listed = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as a table' }).click();
  expect(readFileSync((await (await listed).path())!, 'utf8')).toMatch(/,"?printed at 205°, no ridges left"?,note,/);
  await page.getByRole('searchbox', { name: 'Find in the log' }).fill('');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect.poll(() => rows.count()).toBe(2);
  expect(await note.count()).toBe(1);

  // The old one is laid over the new.
  await rows.last().getByRole('button', { name: 'see' }).click();
  await page.getByTestId('overlaid').getByText('over the sheet as it is').waitFor({ timeout: 60_000 });
  expect(await page.getByTestId('overlaid').textContent()).toContain('as it was drawn');
  await page.getByRole('button', { name: 'put away' }).click();

  // Back, and forth again by undo; what is kept stays whatever is undone.
  await rows.last().getByRole('button', { name: 'go back to it' }).click();
  await page.getByText('The sheet is as it was then').waitFor();
  await since.getByText('height 90 mm → 80 mm').waitFor();
  await to('Bench');
  expect(await height.inputValue()).toBe('80 mm');
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await height.inputValue()).toBe('90 mm');
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await height.inputValue()).toBe('80 mm');
  await to('Log');
  expect(await rows.count()).toBe(2);

  // Found, named anew, written as a table, forgotten.
  await page.getByRole('searchbox', { name: 'Find in the log' }).fill('drawn');
  expect(await rows.count()).toBe(1);
  await page.getByRole('searchbox', { name: 'Find in the log' }).fill('');
  const table = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as a table' }).click();
  const lines = readFileSync((await (await table).path())!, 'utf8')
    .trim()
    .split('\n');
  expect([lines.length, lines[0]!.startsWith('when,name,kept,what changed,')]).toEqual([4, true]);
  expect(lines[2]).toContain('height 80 mm → 90 mm');

  // What failed and was taken away is told with what was tried, and why it was refused.
  await to('Bench');
  await hand.next(/^Hollow .* open at its topmost flat face/);
  for (const wall of ['900 mm', '70 mm']) await hand.value('step-s2', 'wall', wall);
  expect(await hand.state('step-s2')).toBe('failed');
  await page.getByRole('button', { name: 'More for step 2' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await to('Log');
  const given = page.getByRole('region', { name: 'Given up' });
  await given.waitFor();
  expect(await given.textContent()).toMatch(/step 2 \(Hollow\).*wall 900 mm: .*wall 70 mm: /);

  // It lives in the project's file, and is there when that is opened.
  await to('Make');
  const file = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save .*\.lathe\.json$/ }).click();
  const doc = JSON.parse(readFileSync((await (await file).path())!, 'utf8')) as { kept: { name: string }[] };
  expect(doc.kept.map((k) => k.name)).toEqual(['as it was drawn', expect.stringMatching(/\.stl$/)]);
  await to('Log');
  await page.reload();
  await rows.nth(1).waitFor();
  await rows
    .last()
    .getByRole('button', { name: /^Forget/ })
    .click();
  await page.waitForFunction(() => document.querySelectorAll('[data-testid^=kept-]').length === 1);
  expect(await rows.first().textContent()).toContain('the first that was kept');
  expect(errors).toEqual([]);
});
