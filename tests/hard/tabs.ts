/** Edits in several tabs at the same moment: whatever a tab calls saved is in the store, or in a copy that was kept. */
import { type BrowserContext, chromium, type Page } from 'playwright-core';
import { APART, CHROMIUM_FLAGS } from '../support/browser';
import { chance } from './chance';
import { listed, rowsOf, serve } from './served';

export interface TabTally {
  rounds: number;
  /** Edits called saved, edits told of a conflict. */
  saved: number;
  told: number;
  kept: number;
  readonly wrong: string[];
}

type Word = 'saved' | 'changed' | 'other';

/** What the tab says once it has made up its mind. */
async function verdict(page: Page): Promise<Word> {
  // The quiet time before a change is written.
  await page.waitForTimeout(450);
  const said = page.waitForFunction(
    () =>
      document.body.textContent?.includes('Changed in another tab')
        ? 'changed'
        : [...document.querySelectorAll('header span')].some((s) => s.textContent === 'saved') && 'saved',
    null,
    { timeout: 30_000 },
  );
  return (await said.then((h) => h.jsonValue()).catch(() => 'other')) as Word;
}

const field = (page: Page) => page.getByRole('textbox', { name: 'For' });

export async function tabsAll(rounds: number, seed: number): Promise<TabTally> {
  const served = await serve(4392);
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_FLAGS });
  const tally: TabTally = { rounds: 0, saved: 0, told: 0, kept: 0, wrong: [] };
  try {
    let context: BrowserContext | undefined;
    let tabs: Page[] = [];
    let id = '';
    for (let k = 0; k < rounds; k++) {
      const c = chance(seed * 104_729 + k);
      // Copies pile up: a new store now and then, with two tabs or three.
      if (k % 25 === 0) {
        await context?.close();
        context = await browser.newContext(APART);
        // Nothing is built here: the machine is left to the storage.
        await context.route(/\/workers\/worker-/, (r) => r.abort());
        const first = await context.newPage();
        await listed(first, served.url);
        id = (await rowsOf(first))[0]!.id;
        tabs = [first, ...(await Promise.all(Array.from({ length: 1 + (k % 50 === 0 ? 1 : 0) }, () => context!.newPage())))];
        for (const t of tabs) await t.goto(`${served.url}project/${id}/brief`);
        for (const t of tabs) await field(t).waitFor();
      }
      // One tab, or several within a few milliseconds.
      const chosen = tabs.filter(() => c.share() < 0.6);
      const editing = chosen.length > 0 ? chosen : [tabs[0]!];
      const marks = editing.map((t) => `r${k}t${tabs.indexOf(t)}`);
      await Promise.all(
        editing.map(async (t, i) => {
          await new Promise((r) => setTimeout(r, c.below(500)));
          await field(t).fill(marks[i]!);
          await field(t).press('Tab');
        }),
      );
      const words = await Promise.all(editing.map(verdict));
      const rows = await rowsOf(tabs[0]!);
      const stored = rows.find((r) => r.id === id)?.client;
      tally.rounds++;
      const winners = editing.filter((_, i) => words[i] === 'saved');
      tally.saved += winners.length;
      for (const [i, t] of editing.entries()) {
        if (words[i] === 'other') tally.wrong.push(`round ${k}: tab ${tabs.indexOf(t)} never made up its mind`);
        // Two that were saved: the later one must have built on the earlier one, which it can't have seen.
        if (words[i] === 'saved' && winners.length === 1 && stored !== marks[i])
          tally.wrong.push(`round ${k}: ${marks[i]} was called saved, ${stored} is stored`);
      }
      if (winners.length > 1) tally.wrong.push(`round ${k}: ${winners.length} tabs call saved what only one can have written`);
      // Those that were told, and those that looked on, go on in one of the ways offered.
      for (const t of tabs) {
        await new Promise((r) => setTimeout(r, 30));
        const both = t.getByRole('button', { name: 'Keep both' });
        if (!(await both.isVisible())) continue;
        tally.told++;
        const mark = await field(t).inputValue();
        const mine = marks[editing.indexOf(t)];
        if (mine && c.share() < 0.5) {
          await both.click();
          await t.waitForFunction((was) => !location.pathname.includes(was), id);
          tally.kept++;
          if (!(await rowsOf(t)).some((r) => r.id !== id && r.client === mark))
            tally.wrong.push(`round ${k}: the copy of ${mark} is not there`);
          await t.goto(`${served.url}project/${id}/brief`);
        } else await t.getByRole('button', { name: 'Take theirs' }).click();
        await field(t).waitFor();
        await t
          .waitForFunction((want) => [...document.querySelectorAll('input')].some((x) => x.value === want), stored ?? '', { timeout: 8000 })
          .catch(() => tally.wrong.push(`round ${k}: tab ${tabs.indexOf(t)} does not show ${stored} after it was taken`));
      }
    }
    await context?.close();
  } finally {
    await browser.close();
    await served.close();
  }
  return tally;
}
