/** Kills the browser at random moments of random work, and looks whether what it had called saved is there. */
import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Browser, chromium, type Page } from 'playwright-core';
import { CHROMIUM_FLAGS, newBeaker } from '../support/browser';
import { type Chance, chance } from './chance';
import { fileOf, listed, type Row, rowsOf, serve } from './served';

export interface KillTally {
  kills: number;
  /** What was called saved in all. */
  saved: number;
  /** What was called saved and was gone; empty as it should be. */
  readonly lost: string[];
  /** Kills by the work they fell into. */
  readonly during: Record<string, number>;
}

const wait = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

async function launch(profile: string): Promise<{ browser: Browser; page: Page; kill: () => void }> {
  const portFile = join(profile, 'DevToolsActivePort');
  rmSync(portFile, { force: true });
  const child: ChildProcess = spawn(
    '/usr/bin/chromium',
    [
      '--headless=new',
      '--remote-debugging-port=0',
      `--user-data-dir=${profile}`,
      '--window-size=1280,800',
      ...CHROMIUM_FLAGS,
      'about:blank',
    ],
    { detached: true, stdio: 'ignore' },
  );
  for (let n = 0; !existsSync(portFile) || !readFileSync(portFile, 'utf8').includes('\n'); n++) {
    if (n > 600) throw new Error('the browser did not start');
    await wait(50);
  }
  const browser = await chromium.connectOverCDP(`http://127.0.0.1:${readFileSync(portFile, 'utf8').split('\n')[0]}`);
  const context = browser.contexts()[0]!;
  const page = context.pages()[0] ?? (await context.newPage());
  return {
    browser,
    page,
    kill: () => {
      try {
        process.kill(-child.pid!, 'SIGKILL');
      } catch {
        // It is gone already.
      }
    },
  };
}

/** What one piece of work must have left behind, once the page had called it saved. */
type Claim = (rows: readonly Row[]) => string | undefined;
type Told = (claim: Claim) => void;

/** Types the n-th of several words into the brief, and claims it once it is called saved. */
async function type(page: Page, id: string, mark: string, n: number, told: Told): Promise<void> {
  const field = page.getByRole('textbox', { name: 'For' });
  await field.fill(`${mark}.${n}`);
  await field.press('Tab');
  await page.getByText('saving…').waitFor({ timeout: 3000 });
  await page.getByText('saved', { exact: true }).waitFor();
  // Later words of the same kind take its place.
  told((now) => {
    const is = now.find((r) => r.id === id)?.client ?? 'nothing';
    const [m, k] = is.split('.');
    return m === mark && Number(k) >= n ? undefined : `${mark}.${n} was called saved, ${is} is there`;
  });
}

const work: Record<string, (page: Page, url: string, c: Chance, mark: string, told: Told) => Promise<void>> = {
  async edit(page, url, c, mark, told) {
    const id = await open(page, url, c);
    for (let n = 0; n < 12; n++) {
      await type(page, id, mark, n, told);
      await wait(c.below(200));
    }
  },
  async rebuild(page, url, c, mark, told) {
    const id = await open(page, url, c, 'bench');
    await page.locator('[data-testid^=step-]').first().getByRole('textbox').first().waitFor();
    for (let n = 0; n < 5; n++) {
      await page.keyboard.press('Escape');
      await page.getByRole('link', { name: 'Brief' }).click();
      await type(page, id, mark, n, told);
      await page.getByRole('link', { name: 'Bench' }).click();
      await wait(c.below(400));
    }
  },
  async create(page, url, c, _mark, told) {
    for (let n = 0; n < 4; n++) {
      await page.goto(url);
      await newBeaker(page);
      await page.waitForURL(/\/project\/[^/]+\//);
      const id = /project\/([^/]+)\//.exec(page.url())![1]!;
      told((now) => (now.some((r) => r.id === id) ? undefined : `the new project ${id} is gone`));
      await wait(c.below(300));
    }
  },
  async rename(page, url, c, mark, told) {
    await page.goto(url);
    for (let n = 0; n < 5; n++) {
      const button = page.getByRole('button', { name: /^Rename / });
      const row = button.nth(c.below(await button.count()));
      await row.click();
      const name = `Part ${mark} ${n}`;
      const field = page.getByRole('textbox', { name: /^New name of/ });
      await field.fill(name);
      await field.press('Enter');
      await page.getByRole('link', { name, exact: true }).waitFor();
      told((now) => (now.some((r) => new RegExp(`^Part ${mark} \\d`).test(r.name)) ? undefined : `the name ${name} is gone`));
      await wait(c.below(150));
    }
  },
  async duplicate(page, url, c, mark, told) {
    await page.goto(url);
    for (let n = 0; n < 4; n++) {
      const before = (await rowsOf(page)).length;
      const button = page.getByRole('button', { name: /^More for / });
      await button.nth(c.below(await button.count())).click();
      const shown = await page.getByRole('link', { name: / copy/ }).count();
      await page.getByRole('menuitem', { name: 'Duplicate' }).click();
      await page.waitForFunction(
        (k) => [...document.querySelectorAll('a')].filter((a) => / copy/.test(a.textContent ?? '')).length > k,
        shown,
      );
      told((now) => (now.length > before ? undefined : `a duplicate (${mark}) is gone`));
      await wait(c.below(150));
    }
  },
  async remove(page, url, c, _mark, told) {
    await page.goto(url);
    for (let n = 0; n < 3; n++) {
      const button = page.getByRole('button', { name: /^More for / });
      if ((await button.count()) < 3) return;
      const deleted = (await rowsOf(page)).filter((r) => r.deletedAt !== null).length;
      const rows = await button.count();
      await button.nth(c.below(rows)).click();
      await page.getByRole('menuitem', { name: 'Delete' }).click();
      await page.waitForFunction((k) => document.querySelectorAll('[aria-label^="More for "]').length < k, rows);
      told((now) => (now.filter((r) => r.deletedAt !== null).length > deleted ? undefined : 'what was deleted came back'));
      await wait(c.below(150));
    }
  },
  async bringIn(page, url, c, mark, told) {
    const text = readFileSync('demo/robe-hook.lathe.json', 'utf8');
    for (let n = 0; n < 3; n++) {
      await page.goto(url);
      const name = `Hook ${mark} ${n}`;
      await page.getByLabel('Project file').setInputFiles(fileOf('in.lathe.json', text.replace('Robe hook', name)));
      await page.waitForURL(/\/project\/[^/]+\//);
      told((now) => (now.some((r) => r.name === name) ? undefined : `${name}, opened from a file, is gone`));
      await wait(c.below(200));
    }
  },
};

/** Opens one of the projects, and says which. */
async function open(page: Page, url: string, c: Chance, on = 'brief'): Promise<string> {
  await listed(page, url);
  const id = c.of((await rowsOf(page)).filter((r) => r.deletedAt === null)).id;
  await page.goto(`${url}project/${id}/${on}`);
  if (on === 'brief') await page.getByRole('textbox', { name: 'For' }).waitFor();
  return id;
}

/** @param longest the kill falls within so many ms after the first that was called saved */
export async function killAll(count: number, seed: number, longest = 2500, onKill: (t: KillTally) => void = () => {}): Promise<KillTally> {
  const served = await serve(4391);
  const profile = mkdtempSync(join(tmpdir(), 'lathe-kill-'));
  const tally: KillTally = { kills: 0, saved: 0, lost: [], during: {} };
  const kinds = ['edit', 'edit', 'edit', 'rebuild', 'create', 'rename', 'duplicate', 'remove', 'bringIn'];
  let claims: Claim[] = [];
  try {
    for (let k = 0; k <= count; k++) {
      const c = chance(seed * 7919 + k);
      const { browser, page, kill } = await launch(profile);
      try {
        page.on('dialog', (d) => void d.accept().catch(() => {}));
        // A page of the same origin that runs nothing.
        await page.goto(`${served.url}icon.svg`);
        const rows = await rowsOf(page);
        for (const claim of claims) {
          const lost = claim(rows);
          if (lost) tally.lost.push(`kill ${k}: ${lost}`);
        }
        tally.saved += claims.length;
        claims = [];
        if (k === count) break;
        const kind = kinds[k % kinds.length]!;
        const now: Claim[] = [];
        let over = false;
        let first = (): void => {};
        const begun = new Promise<void>((r) => {
          first = r;
        });
        const going = work[kind]!(page, served.url, c, `m${seed}x${k}`, (claim) => {
          if (!over) now.push(claim);
          first();
        }).catch(() => first());
        // From the first that was called saved on, at any moment of what follows.
        await Promise.race([begun, wait(40_000)]);
        await Promise.race([going, wait(c.below(longest))]);
        over = true;
        kill();
        await going;
        claims = now;
        tally.kills++;
        tally.during[kind] = (tally.during[kind] ?? 0) + 1;
        onKill(tally);
      } finally {
        kill();
        await browser.close().catch(() => {});
        await wait(100);
      }
    }
  } finally {
    await served.close();
    rmSync(profile, { recursive: true, force: true });
  }
  return tally;
}
