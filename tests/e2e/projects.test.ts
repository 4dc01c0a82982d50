import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { APART, type App, measured, newBeaker, openApp } from '../support/browser';

let app: App;
beforeAll(async () => {
  app = await openApp(4302);
});
afterAll(() => app?.close());

const upload = async (page: Page, name: string, content: string): Promise<void> => {
  const path = join(mkdtempSync(join(tmpdir(), 'lathe-')), name);
  writeFileSync(path, content);
  await page.getByLabel('Project file').setInputFiles(path);
};
const rows = (page: Page): Promise<number> => page.getByRole('link', { name: /diffuser|beaker|vessel/i }).count();

describe('projects', () => {
  it('are renamed, duplicated, deleted with undo, saved to a file and opened again', async () => {
    const { page, errors } = await app.page();
    await page.goto(app.url);
    await page.getByRole('button', { name: 'Rename Steam diffuser' }).click();
    await page.getByRole('textbox', { name: 'New name of Steam diffuser' }).fill('Tall diffuser');
    await page.keyboard.press('Enter');
    await page.getByRole('link', { name: 'Tall diffuser' }).waitFor();
    await page.getByRole('button', { name: 'More for Tall diffuser' }).click();
    await page.getByRole('menuitem', { name: 'Duplicate' }).click();
    await page.getByRole('link', { name: 'Tall diffuser copy' }).waitFor();
    await page.getByRole('button', { name: 'More for Tall diffuser copy' }).click();
    await page.getByRole('menuitem', { name: 'Delete' }).click();
    await page.getByRole('link', { name: 'Tall diffuser copy' }).waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('link', { name: 'Tall diffuser copy' }).waitFor();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'More for Tall diffuser', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Save to a file' }).click();
    const file = await download;
    expect(file.suggestedFilename()).toBe('tall-diffuser.lathe.json');
    const text = readFileSync((await file.path())!, 'utf8');
    await upload(page, 'again.lathe.json', text.replace('Tall diffuser', 'Opened diffuser'));
    await page.getByRole('region', { name: 'Dimensions' }).waitFor();
    expect(await page.title()).toContain('Opened diffuser');
    expect(errors).toEqual([]);
  });

  it('that are empty, corrupt, newer or 10 MB of junk are refused in words and touch nothing', async () => {
    const { page } = await app.page();
    await page.goto(app.url);
    await page.getByRole('link', { name: 'Steam diffuser' }).waitFor();
    for (const [name, content, words] of [
      ['empty.lathe.json', '', 'The file is empty'],
      ['corrupt.lathe.json', '{"format":"ivory-lathe","vers', 'not a whole JSON document'],
      ['newer.lathe.json', '{"format":"ivory-lathe","version":99}', 'written by a newer version'],
      ['junk.lathe.json', 'x'.repeat(10_000_000), 'at most 5 MB'],
    ] as const) {
      await upload(page, name, content);
      await page.getByText(words).waitFor();
      expect(await rows(page)).toBe(1);
    }
  });

  it('begin with two minutes that tell what to do next, and that can be left', async () => {
    const { page, errors } = await app.page();
    await page.goto(app.url);
    await page.getByRole('button', { name: 'Learn it in two minutes' }).click();
    const card = page.getByRole('complementary', { name: 'Two minutes' });
    await card.getByText('1 of 6').waitFor();
    await page.getByRole('button', { name: /^A turned beaker/ }).click();
    await card.getByText('2 of 6').waitFor();
    await card.getByRole('button', { name: 'Leave the two minutes' }).click();
    await card.waitFor({ state: 'detached' });
    expect(errors).toEqual([]);
  });

  it('begin with finished jobs too: each opens as a project of its own, with its picture', async () => {
    const { page, errors } = await app.page();
    await page.goto(app.url);
    const before = await page.getByRole('list', { name: 'Projects' }).getByRole('link').count();
    await page.getByRole('button', { name: 'Drain wedge' }).click();
    await page
      .getByTestId('build-summary')
      .getByText(/^\d+ done/)
      .waitFor({ timeout: 120_000 });
    expect(await page.getByRole('region', { name: 'Steps' }).getByText('■').count()).toBe(0);
    await page.getByRole('link', { name: 'Marram Bathhouse' }).click();
    await page.getByRole('link', { name: 'Drain wedge' }).waitFor();
    expect(await page.getByRole('list', { name: 'Projects' }).getByRole('link').count()).toBeGreaterThan(before);
    const card = page.getByRole('list', { name: 'Projects' }).getByRole('listitem').filter({ hasText: 'Drain wedge' });
    expect(await card.locator('img').count()).toBe(1);
    expect(errors).toEqual([]);
  });

  it('open in two tabs do not overwrite each other silently', async () => {
    const context = await app.browser.newContext(APART);
    const { page: one } = await app.page(context);
    await one.goto(app.url);
    await one.getByRole('link', { name: 'Steam diffuser' }).click();
    await one.getByRole('region', { name: 'Dimensions' }).waitFor();
    const { page: two } = await app.page(context);
    await two.goto(one.url());
    await two.getByRole('region', { name: 'Dimensions' }).waitFor();
    const lip = (p: Page) => p.getByRole('textbox', { name: 'lip', exact: true }).first();
    await lip(two).fill('3.5 mm');
    await lip(two).press('Enter');
    await one.getByText('Changed in another tab').waitFor();
    // What is typed here now must not reach the stored project, be it committed by the very click that takes theirs.
    await lip(one).fill('2.5 mm');
    await one.getByRole('button', { name: 'Take theirs' }).click();
    await one.waitForFunction(() => (document.querySelector('input[aria-label=lip]') as HTMLInputElement | null)?.value === '3.5 mm');
    await one.waitForTimeout(1500);
    await one.reload();
    await one.getByRole('region', { name: 'Dimensions' }).waitFor();
    expect(await lip(one).inputValue()).toBe('3.5 mm');

    // Both are kept by one click, and leaving without either is asked about.
    await lip(two).fill('3.6 mm');
    await lip(two).press('Enter');
    await one.getByText('Changed in another tab').waitFor();
    await lip(one).fill('2.4 mm');
    await lip(one).press('Enter');
    await one.getByRole('link', { name: 'Marram Bathhouse' }).click();
    await one.getByRole('alertdialog').waitFor();
    await one.getByRole('button', { name: 'Stay' }).click();
    await one.getByRole('button', { name: 'Keep both' }).click();
    await one.waitForFunction(() => document.title.startsWith('Steam diffuser (this tab)'));
    await one.waitForFunction(() => (document.querySelector('input[aria-label=lip]') as HTMLInputElement | null)?.value === '2.4 mm');

    // Deleted elsewhere is called that.
    await one.getByRole('link', { name: 'Marram Bathhouse' }).click();
    await one.getByRole('button', { name: 'More for Steam diffuser', exact: true }).click();
    await one.getByRole('menuitem', { name: 'Delete' }).click();
    await two.getByText('Deleted in another tab').waitFor();
    await one.getByText('Deleted, kept for 14 days').click();
    await one.getByRole('button', { name: 'Bring back Steam diffuser' }).click();
    await one.getByRole('link', { name: 'Steam diffuser', exact: true }).waitFor();
    await context.close();
  });

  it('that can’t be read are handed out as they are, and opened as far as they can be', async () => {
    const { page } = await app.page();
    await page.goto(app.url);
    await page.getByRole('link', { name: 'Robe hook' }).waitFor();
    await page.evaluate(
      () =>
        new Promise<void>((resolve) => {
          const opening = indexedDB.open('ivory-lathe');
          opening.onsuccess = () => {
            const store = opening.result.transaction('projects', 'readwrite').objectStore('projects');
            const all = store.getAll();
            all.onsuccess = () => {
              const row = all.result.find((r) => r.doc.name === 'Robe hook');
              row.doc.profiles[0].points[0].x = 500_000;
              store.put(row).onsuccess = () => resolve();
            };
          };
        }),
    );
    await page.reload();
    await page.getByText(/damaged at profiles\.0\.points/).waitFor();
    await page.getByRole('button', { name: 'More for Robe hook' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('menuitem', { name: 'Save to a file as it is' }).click();
    expect(readFileSync((await (await download).path())!, 'utf8')).toContain('500000');
    await page.getByRole('button', { name: 'More for Robe hook' }).click();
    await page.getByRole('menuitem', { name: 'Open what can be read' }).click();
    await page.getByText(/^Left out: profiles/).waitFor();
    await page.waitForFunction(() => document.title.startsWith('Robe hook (repaired)'));
  });

  it('can be made and worked on where the browser keeps nothing, and the page says so', async () => {
    const { page, errors } = await app.page();
    await page.addInitScript(() => {
      Object.defineProperty(window, 'localStorage', {
        get: () => {
          throw new DOMException('denied', 'SecurityError');
        },
      });
      indexedDB.open = () => {
        throw new DOMException('denied', 'SecurityError');
      };
    });
    await page.goto(app.url);
    await page.getByText(/storage can’t be opened/).waitFor();
    await newBeaker(page);
    await page.getByText('kept on this page only').waitFor();
    await measured(page);
    // Nothing that was given up makes itself heard later.
    await page.waitForTimeout(6000);
    expect(await page.getByTestId('gauge-height').textContent()).toContain('80.00');
    expect(errors).toEqual([]);
  });

  it('stay in hand when a part of the page can’t be fetched: the others go on, and it is begun again', async () => {
    const { page } = await app.page();
    let refused = 0;
    await page.route(/\/assets\/Stage-.*\.js$/, (route) => {
      if (refused++ === 0) return route.abort();
      return route.continue();
    });
    await page.goto(app.url);
    await page.getByRole('link', { name: 'Robe hook' }).click();
    await page.getByText('The stage stopped.').waitFor();
    // The sheet and the gauges are there, and the project can be saved.
    await measured(page);
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save the project to a file' }).click();
    expect((await download).suggestedFilename()).toBe('robe-hook.lathe.json');
    await page.getByRole('button', { name: 'Begin it again' }).click();
    await page.locator('canvas').waitFor({ timeout: 20_000 });
    expect(await page.getByText('The stage stopped.').count()).toBe(0);
  });

  it('are built once the kernel can be fetched after all: until then it is said, and nothing is lost', async () => {
    const { page } = await app.page();
    let there = false;
    await page.route(/replicad.*\.wasm/, (route) => (there ? route.continue() : route.abort()));
    await page.goto(app.url);
    await page.getByRole('link', { name: 'Robe hook' }).click();
    await page.getByText('The kernel could not be loaded, or stopped. Nothing is lost.').waitFor({ timeout: 30_000 });
    expect(await page.getByTestId('gauge-state').textContent()).toBe('not measured');
    there = true;
    await page.getByRole('button', { name: 'Try again' }).click();
    await measured(page);
    expect(await page.getByTestId('gauge-height').textContent()).toContain('49.80');
  });

  it('lead to pages without accessibility violations of weight', async () => {
    const context = await app.browser.newContext(APART);
    const { page } = await app.page(context);
    await page.goto(app.url);
    const check = async (): Promise<void> => {
      const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
      expect(
        violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => `${v.id}: ${v.nodes[0]?.html}`),
      ).toEqual([]);
    };
    await page.getByRole('link', { name: 'Steam diffuser' }).waitFor();
    await check();
    await page.getByRole('link', { name: 'Steam diffuser' }).click();
    await measured(page);
    await check();
    await page.getByRole('link', { name: 'Brief' }).click();
    await check();
    await page.getByRole('link', { name: 'Make' }).click();
    await page.getByTestId('lies').waitFor({ timeout: 120_000 });
    await check();
    await page.getByRole('link', { name: 'Made', exact: true }).click();
    await page.getByLabel('Measure a place').selectOption({ label: 'Height' });
    await page.getByRole('button', { name: 'A batch was made' }).click();
    await check();
    await page.getByRole('link', { name: 'Sizes' }).click();
    await page.getByRole('button', { name: 'Add a size' }).click();
    await check();
    await page.getByRole('link', { name: 'Log' }).click();
    await page.getByRole('button', { name: 'Keep this state' }).click();
    await page.locator('[data-testid^=kept-]').waitFor();
    await check();
    await context.close();
  });
});
