/** A beaker's working drawing: drawn, dimensioned from the recipe and by hand, saved, and followed by a change. */
import { readFileSync } from 'node:fs';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../support/browser';
import { handOn } from '../support/hand';

let app: App;
beforeAll(async () => {
  app = await openApp(4366, 'none');
});
afterAll(() => app.close());

const drawn = async (page: Page): Promise<void> => {
  await page.waitForTimeout(300);
  await page
    .getByRole('status')
    .filter({ hasText: /^scale / })
    .waitFor({ timeout: 60_000 });
};
/** The figures of the dimensions on the sheet. */
const figures = (page: Page): Promise<string[]> =>
  page
    .locator('[data-testid^=dimension-]')
    .evaluateAll((list) => list.map((e) => e.getAttribute('aria-label')!.replace('Dimension ', '')).sort());

it('a beaker is drawn with its own dimensions, measured by hand, saved, and follows a change', async () => {
  const { page, errors } = await app.page();
  const { next, settled } = handOn(page);
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);
  await next(/^Hollow .* open at its topmost flat face/);
  await settled();
  await page.getByRole('link', { name: 'Drawing', exact: true }).click();
  await drawn(page);
  // The beaker to begin with is driven by its height alone.
  await page.getByRole('button', { name: /^Put all/ }).click();
  await drawn(page);
  expect(await figures(page)).toContain('80');

  // Its mouth by picking, from above: the edge is met at its rim.
  const top = page.getByTestId('grip-v2');
  await top.waitFor();
  await page.getByText('Dimensions by list').click();
  await page.getByRole('combobox', { name: 'view', exact: true }).selectOption('v2');
  const edges = page.getByRole('combobox', { name: 'of', exact: true });
  const rim = await edges.locator('option').evaluateAll((list) => list.map((o) => (o as HTMLOptionElement).label));
  expect(rim.length).toBeGreaterThan(3);
  await edges.selectOption({ index: 1 });
  await page.getByRole('complementary').getByRole('button', { name: 'Diameter' }).click();
  await drawn(page);
  const before = await figures(page);
  expect(before.some((f) => /^⌀(50|60|4\d|5\d)/.test(f))).toBe(true);

  // A section through its axis, hatched; the plane is marked with its letter.
  await page.getByLabel('Add a view').selectOption('cut front');
  await drawn(page);
  const sheet = page.getByTestId('sheet');
  expect(await sheet.textContent()).toContain('A–A');

  // A figure is moved by keys, and stays so.
  const figure = page.locator('[data-testid^=dimension-]').first();
  const x = Number(await figure.getAttribute('x'));
  await figure.focus();
  await figure.press('ArrowRight');
  await page.waitForFunction(
    (was) => Math.abs(Number(document.querySelector('[data-testid^=dimension-]')!.getAttribute('x')) - was - 1) < 0.2,
    x,
    { timeout: 10_000 },
  );

  const [file] = await Promise.all([
    page.waitForEvent('download', { timeout: 60_000 }),
    page.getByRole('button', { name: 'Save PDF' }).click(),
  ]);
  const doc = await getDocument({ data: new Uint8Array(readFileSync((await file.path())!)) }).promise;
  const text = (await (await doc.getPage(1)).getTextContent()).items.map((i) => ('str' in i ? i.str : '')).join(' ');
  for (const said of ['Ø', '80', 'A–A', 'Wall 2.']) expect(text).toContain(said);
  await doc.destroy();

  // A change at the beginning reaches the sheet: the same dimensions, other figures.
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  const height = page.getByRole('textbox', { name: 'height', exact: true }).first();
  await height.fill('90 mm');
  await height.press('Enter');
  await settled();
  await page.getByRole('link', { name: 'Drawing', exact: true }).click();
  await drawn(page);
  expect(await figures(page)).toEqual(before.map((f) => (f === '80' ? '90' : f)).sort());
  expect(errors).toEqual([]);
}, 240_000);
