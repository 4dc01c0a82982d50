/** Visits of the bench from the list of projects, again and again: what the page holds stays flat. */
import { chromium } from 'playwright-core';
import { APART, CHROMIUM_FLAGS, measured } from '../support/browser';
import { serve } from './served';

export interface VisitTally {
  /** Heap of the page after a few visits and at the end, MB. */
  readonly heap: readonly [number, number];
  /** Workers that live on the list after the last visit. */
  readonly workers: number;
  /** Drawing contexts that are alive. */
  readonly contexts: number;
}

/** @param demos which are opened, one after the other */
export async function visits(count: number, demos: readonly string[] = ['Ladle grip', 'Robe hook']): Promise<VisitTally> {
  const served = await serve(4394);
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: [...CHROMIUM_FLAGS, '--js-flags=--expose-gc'] });
  try {
    const page = await browser.newPage(APART);
    await page.addInitScript(`{
      window.contexts = [];
      const real = HTMLCanvasElement.prototype.getContext;
      HTMLCanvasElement.prototype.getContext = function (...a) {
        const c = real.apply(this, a);
        if (c && /webgl/.test(a[0])) window.contexts.push(new WeakRef(c));
        return c;
      };
    }`);
    const cdp = await page.context().newCDPSession(page);
    await cdp.send('Performance.enable');
    const heap = async (): Promise<number> => {
      await cdp.send('HeapProfiler.collectGarbage');
      const { metrics } = await cdp.send('Performance.getMetrics');
      return metrics.find((m) => m.name === 'JSHeapUsedSize')!.value / 1e6;
    };
    await page.goto(served.url);
    let early = 0;
    for (let k = 0; k < count; k++) {
      await page.getByRole('link', { name: demos[k % demos.length]!, exact: true }).click();
      await page.locator('canvas').waitFor();
      await measured(page);
      await page.locator('header a').first().click();
      await page.getByRole('button', { name: 'New project' }).waitFor();
      if (k === 4) {
        await page.waitForTimeout(1500);
        early = await heap();
      }
    }
    await page.waitForTimeout(1500);
    const late = await heap();
    const contexts = await page.evaluate(`window.contexts.filter((c) => c.deref() && !c.deref().isContextLost()).length`);
    return { heap: [early, late], workers: page.workers().length, contexts: Number(contexts) };
  } finally {
    await browser.close();
    await served.close();
  }
}
