import { type Browser, chromium } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serve } from '../hard/served';
import { CHROMIUM_FLAGS, measured, newBeaker } from '../support/browser';

let browser: Browser;
beforeAll(async () => {
  browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_FLAGS });
});
afterAll(() => browser.close());

describe('the application', () => {
  it('opens, builds and keeps what is made when its server is gone', async () => {
    const served = await serve(4397);
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    const errors: string[] = [];
    page.on('pageerror', (e) => errors.push(e.message));
    await page.goto(served.url);
    await page.getByText('opens without its server').waitFor({ timeout: 60_000 });
    await served.close();
    await expect(fetch(served.url)).rejects.toThrow();

    await page.reload();
    await newBeaker(page);
    await page
      .getByTestId('build-summary')
      .getByText(/^1 done/)
      .waitFor({ timeout: 60_000 });
    await page.getByText('saved', { exact: true }).waitFor();
    // Loaded by this very address, with the kernel and its worker.
    await page.reload();
    await measured(page);
    expect(await page.getByTestId('gauge-height').textContent()).toMatch(/\d/);
    await page.getByRole('link', { name: 'Make' }).click();
    await page.getByRole('button', { name: /Save/ }).first().waitFor();
    await page.goto(served.url);
    await page.getByRole('link', { name: 'Untitled' }).waitFor();
    expect(errors).toEqual([]);
    // The licences of all that is bundled, the page's own libraries, the workers' and the fonts', are a text of the application.
    const opened = context.waitForEvent('page');
    await page.getByRole('link', { name: 'Licences of what is built in' }).click();
    const text = (await (await opened).locator('body').textContent())!;
    for (const name of [
      'react ',
      'three ',
      'replicad-opencascadejs ',
      'manifold-3d ',
      'quadprog ',
      'workbox-precaching ',
      'hanken-grotesk ',
    ])
      expect(text).toContain(`${name}`);
    expect(text).toContain('GNU LESSER GENERAL PUBLIC LICENSE');
    await context.close();
  });

  it('shows what the server has, not the kept copy, while it can be reached', async () => {
    const served = await serve(4398);
    const context = await browser.newContext();
    const page = await context.newPage();
    await page.goto(served.url);
    await page.getByText('opens without its server').waitFor({ timeout: 60_000 });
    let asked = 0;
    let broken = false;
    await context.route(/\/$/, async (route) => {
      asked++;
      if (broken) return route.fulfill({ status: 502, body: 'bad gateway' });
      await route.fulfill({ contentType: 'text/html', body: '<title>The next version</title>' });
    });
    await page.reload();
    expect(await page.title()).toBe('The next version');
    broken = true;
    await page.goto(served.url);
    await page.getByRole('button', { name: 'New project' }).waitFor();
    expect(asked).toBeGreaterThanOrEqual(2);
    await context.close();
    await served.close();
  });
});
