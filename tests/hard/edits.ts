/** Edits of the diffuser, one after the other: page, workers and drawing stay as large as they were. */
import { readdirSync, readFileSync } from 'node:fs';
import { chromium } from 'playwright-core';
import { APART, CHROMIUM_FLAGS, measured } from '../support/browser';
import { serve } from './served';

export interface EditTally {
  readonly edits: number;
  /** Resident memory of all the browser's processes after a tenth of the edits and at the end, MB. */
  readonly resident: readonly [number, number];
}

/** Resident memory of a process and all that came from it, MB, off /proc. */
function residentOf(root: number): number {
  const all = readdirSync('/proc')
    .filter((d) => /^\d+$/.test(d))
    .flatMap((d) => {
      try {
        const [, parent] = /^PPid:\s+(\d+)/m.exec(readFileSync(`/proc/${d}/status`, 'utf8'))!;
        const [, rss] = /^VmRSS:\s+(\d+)/m.exec(readFileSync(`/proc/${d}/status`, 'utf8')) ?? [0, '0'];
        return [{ pid: Number(d), parent: Number(parent), rss: Number(rss) / 1000 }];
      } catch {
        return [];
      }
    });
  const mine = new Set([root]);
  for (let before = 0; before !== mine.size; ) {
    before = mine.size;
    for (const p of all) if (mine.has(p.parent)) mine.add(p.pid);
  }
  return all.filter((p) => mine.has(p.pid) && p.pid !== process.pid).reduce((sum, p) => sum + p.rss, 0);
}

export async function edits(count: number): Promise<EditTally> {
  const served = await serve(4395);
  const server = await chromium.launchServer({ executablePath: '/usr/bin/chromium', args: CHROMIUM_FLAGS });
  const browser = await chromium.connect(server.wsEndpoint());
  const pid = server.process().pid!;
  try {
    const page = await browser.newPage(APART);
    await page.goto(served.url);
    await page.getByRole('link', { name: 'Steam diffuser', exact: true }).click();
    await measured(page);
    const field = page.getByRole('region', { name: 'Dimensions' }).getByRole('textbox', { name: /wall/ }).first();
    let early = 0;
    for (let k = 0; k < count; k++) {
      await field.fill(`${(2 + (k % 9) / 10).toFixed(1)} mm`);
      await field.press('Enter');
      await page.waitForTimeout(150);
      // Every third is changed again before it is built.
      if (k % 3 !== 0) await measured(page);
      if (k === Math.floor(count / 10)) early = residentOf(pid);
    }
    await measured(page);
    return { edits: count, resident: [Math.round(early), Math.round(residentOf(pid))] };
  } finally {
    await browser.close();
    await server.close();
    await served.close();
  }
}
