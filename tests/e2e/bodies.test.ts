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
  // From the click to the stage without its building line, by the page's own clock.
  const ms = await page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const region = document.querySelector('[aria-label=Stage]')!;
        const started = performance.now();
        const watch = new MutationObserver(() => {
          if (/building step/.test(region.textContent ?? '')) return;
          watch.disconnect();
          resolve(performance.now() - started);
        });
        watch.observe(region, { subtree: true, childList: true, characterData: true });
        [...region.querySelectorAll('button')].find((b) => b.textContent === 'cancel')!.click();
      }),
  );
  console.log(`control came back ${Math.round(ms)} ms after the cancel`);
  expect(await page.getByText('shows an older state').count()).toBe(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.waitForFunction(() => /^5 done/.test(document.querySelector('[data-testid=build-summary]')?.textContent ?? ''), null, {
    timeout: 90_000,
  });
  await measured(page);
  expect(await page.getByTestId('gauge-volume').textContent()).toBe(volume);
  expect(errors).toEqual([]);
});
