/** Whether the page stays free: hostile files brought in by its own buttons, and builds cancelled in the middle of any step. */
import { chromium, type Page } from 'playwright-core';
import { APART, CHROMIUM_FLAGS, measured } from '../support/browser';
import { chance } from './chance';
import { hostileFile } from './hostile';
import { fileOf, listed, serve } from './served';

export interface IntrusionTally {
  readonly files: number;
  /** Longest that the page worked in one piece while it took a file, ms. */
  readonly longest: number;
  /** Files after which something else was open than before, or no word was said. */
  readonly wrong: string[];
  /** Tasks over 100 ms, by the file. */
  readonly late: string[];
}

/** Files made to hold up their readers, from what once did. */
const SLOW: Readonly<Record<string, () => string>> = {
  'doctypes.svg': () => `${'<!DOCTYPE svg>'.repeat(50_000)}<svg xmlns="http://www.w3.org/2000/svg"/>`,
  'names.svg': () => `<svg xmlns="http://www.w3.org/2000/svg"${' onx'.repeat(400_000)}/>`,
  'nested.svg': () =>
    `<svg xmlns="http://www.w3.org/2000/svg">${`<g transform="${'rotate(1) '.repeat(2000)}">`.repeat(59)}<path d="M0 0L9 9"/>${'</g>'.repeat(59)}</svg>`,
  'tags.svg': () =>
    `<svg xmlns="http://www.w3.org/2000/svg" width="9mm" viewBox="0 0 9 9">${'<path d="M0 0L9 0L9 9Z"/>'.repeat(20_000)}</svg>`,
  'angles.dxf': () => `0\nSECTION\n2\nENTITIES\n${'0\nARC\n10\n1\n20\n2\n40\n5\n50\n1e12\n51\n-1e15\n'.repeat(2000)}0\nENDSEC\n0\nEOF\n`,
  'count.dxf': () => '0\nSECTION\n2\nENTITIES\n0\nLWPOLYLINE\n90\n1000000000\n70\n1\n10\n0\n20\n0\n0\nENDSEC\n0\nEOF\n',
  'points.dxf': () => `0\nSECTION\n2\nENTITIES\n${'0\nARC\n10\n1\n20\n2\n40\n0\n50\n0\n51\n90\n'.repeat(40_000)}0\nENDSEC\n0\nEOF\n`,
  'deep.lathe.json': () => '['.repeat(300_000),
  'wide.lathe.json': () => `{"format":"ivory-lathe","version":7,"steps":[${'{"kind":"revolve"},'.repeat(60_000)}{}]}`,
};

/** Long tasks of the page since it was asked last. */
const tasks = (page: Page): Promise<number[]> => page.evaluate('window.longTasks.splice(0)') as Promise<number[]>;
const watchTasks = `{
  window.longTasks = [];
  new PerformanceObserver((l) => { for (const e of l.getEntries()) window.longTasks.push(e.duration); }).observe({ entryTypes: ['longtask'] });
}`;

export async function intrusions(count: number, seed: number): Promise<IntrusionTally> {
  const served = await serve(4396);
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_FLAGS });
  const tally = { files: 0, longest: 0, wrong: [] as string[], late: [] as string[] };
  try {
    const page = await browser.newPage(APART);
    page.on('dialog', (d) => void d.accept().catch(() => {}));
    await page.addInitScript(watchTasks);
    const files = [
      ...Object.entries(SLOW).map(([name, make]) => ({ name, path: fileOf(name, make()) })),
      ...Array.from({ length: count }, (_, k) => {
        const c = chance(seed * 15_485_863 + k);
        const f = hostileFile(c, c.of(['svg', 'dxf', 'project'] as const), '');
        const name = `in-${k}.${f.reader === 'project' ? 'lathe.json' : f.reader}`;
        return { name, path: fileOf(name, f.bytes) };
      }),
    ];
    const take = async (label: string, all: typeof files, close: () => Promise<void>): Promise<void> => {
      await page.waitForTimeout(500);
      await tasks(page);
      for (const f of all) {
        await page.getByLabel(label).setInputFiles(f.path);
        // Words about this very file: why it was not read, or how it is brought in; a project that is read opens.
        const came = await Promise.any([
          page.waitForFunction((name) => document.body.textContent.includes(name), f.name, { timeout: 10_000 }),
          ...(label === 'Project file' ? [page.waitForURL(/\/project\//, { timeout: 10_000 })] : []),
        ]).then(
          () => true,
          () => false,
        );
        if (!came) tally.wrong.push(`${f.name}: no word was said`);
        for (const ms of await tasks(page)) {
          tally.longest = Math.max(tally.longest, ms);
          if (ms > 100) tally.late.push(`${f.name}: ${ms.toFixed(0)} ms in one piece`);
        }
        tally.files++;
        await close();
        await tasks(page);
      }
    };
    await listed(page, served.url);
    await page.getByRole('link', { name: 'Steam diffuser', exact: true }).click();
    await measured(page);
    await take(
      'Drawing file',
      files.filter((f) => /\.(svg|dxf)$/.test(f.name)),
      () => page.keyboard.press('Escape'),
    );
    await listed(page, served.url);
    await take(
      'Project file',
      files.filter((f) => /\.json$/.test(f.name)),
      async () => {
        if (page.url().includes('/project/')) await listed(page, served.url);
      },
    );
  } finally {
    await browser.close();
    await served.close();
  }
  return tally;
}

export interface CancelTally {
  cancels: number;
  /** Longest from the click to the page without its building line, ms. */
  longest: number;
  /** Kinds of steps it fell into. */
  readonly kinds: Record<string, number>;
  readonly wrong: string[];
}

const DEMOS = ['Steam diffuser', 'Ladle grip', 'Steam tower', 'Twisted tower', 'Robe hook', 'Soap tray', 'Soap dish'] as const;

/** Waits for a step of the sheet to be built, some ms more, and cancels; the time until the line is gone by the page's own clock. */
const cancelAt = (step: number, delay: number): string => `new Promise((resolve) => {
  const line = () => document.querySelector('[aria-label=Stage] [role=status]')?.textContent ?? '';
  const giveUp = setTimeout(() => { watch.disconnect(); resolve(null); }, 20000);
  const watch = new MutationObserver(() => {
    // Built before it was met.
    if (/ done/.test(document.querySelector('[data-testid=build-summary]')?.textContent ?? '')) {
      watch.disconnect();
      clearTimeout(giveUp);
      return resolve(null);
    }
    if (!line().startsWith('building step ${step}')) return;
    watch.disconnect();
    setTimeout(() => {
      clearTimeout(giveUp);
      const button = [...document.querySelectorAll('[aria-label=Stage] [role=status] button')].find((b) => b.textContent === 'cancel');
      if (!button) return resolve(null);
      const at = performance.now();
      const done = new MutationObserver(() => {
        if (/building step/.test(line())) return;
        done.disconnect();
        resolve(performance.now() - at);
      });
      done.observe(document.body, { subtree: true, childList: true, characterData: true });
      button.click();
    }, ${delay});
  });
  watch.observe(document.body, { subtree: true, childList: true, characterData: true });
})`;

export async function cancels(count: number, seed: number): Promise<CancelTally> {
  const served = await serve(4399);
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_FLAGS });
  const tally: CancelTally = { cancels: 0, longest: 0, kinds: {}, wrong: [] };
  try {
    const page = await browser.newPage(APART);
    await listed(page, served.url);
    for (let k = 0; k < count; k++) {
      const c = chance(seed * 32_452_843 + k);
      const demo = DEMOS[k % DEMOS.length]!;
      await listed(page, served.url);
      await page.getByRole('link', { name: demo, exact: true }).click();
      const steps = page.locator('[data-testid^=step-s]');
      await steps.first().waitFor();
      const n = 1 + c.below(await steps.count());
      const ms = (await page.evaluate(cancelAt(n, c.below(3) * c.below(300)))) as number | null;
      if (ms === null) continue;
      tally.cancels++;
      tally.longest = Math.max(tally.longest, ms);
      const kind = ((await steps.nth(n - 1).textContent()) ?? '').match(/[A-Z][a-z]+/)?.[0] ?? '';
      tally.kinds[kind] = (tally.kinds[kind] ?? 0) + 1;
      if (ms > 300) tally.wrong.push(`${demo}, step ${n}: control came back after ${ms.toFixed(0)} ms`);
      await page.getByRole('region', { name: 'Stage' }).getByRole('button', { name: 'build', exact: true }).click();
      await page
        .waitForFunction(() => / done/.test(document.querySelector('[data-testid=build-summary]')?.textContent ?? ''), null, {
          timeout: 120_000,
        })
        .catch(() => tally.wrong.push(`${demo}, step ${n}: was not built after the cancel`));
    }
  } finally {
    await browser.close();
    await served.close();
  }
  return tally;
}
