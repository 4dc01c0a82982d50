/** Bodies of several steps in the real interface: a long union given up, and what it leaves. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, openApp } from '../support/browser';

let app: App;
beforeAll(async () => {
  app = await openApp(4310);
});
afterAll(() => app?.close());

it('gives control back when the union of a row of bars is cancelled, and builds on from there', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await page.getByRole('link', { name: 'Soap tray' }).click();
  await measured(page);
  const volume = await page.getByTestId('gauge-volume').textContent();
  const bars = page.getByRole('textbox', { name: 'bars', exact: true });
  await bars.fill('9');
  await bars.press('Enter');
  const stage = page.getByRole('region', { name: 'Stage' });
  await stage.getByText('building step 4').waitFor({ timeout: 60_000 });
  await stage.getByRole('button', { name: 'cancel' }).click();
  await stage.getByText(/building step/).waitFor({ state: 'detached' });
  expect(await page.getByText('shows an older state').count()).toBe(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.waitForFunction(() => /^5 done/.test(document.querySelector('[data-testid=build-summary]')?.textContent ?? ''), null, {
    timeout: 90_000,
  });
  await measured(page);
  expect(await page.getByTestId('gauge-volume').textContent()).toBe(volume);
  expect(errors).toEqual([]);
});
