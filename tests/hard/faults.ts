/** Faults put in by hand, of storage, workers and server: each must end in words, keep the work, and leave a way on without loading the page again. */
import { type Browser, chromium, type Page } from 'playwright-core';
import { APART, CHROMIUM_FLAGS, measured } from '../support/browser';
import { fileOf, listed, rowsOf, serve } from './served';

interface Fault {
  readonly name: string;
  /** Put in before the page is loaded. */
  readonly put: (page: Page) => Promise<unknown>;
  /** Does what the fault stands in the way of, and waits for the words. */
  readonly meet: (page: Page, url: string) => Promise<void>;
  /** Takes the fault away. */
  readonly lift: (page: Page) => Promise<unknown>;
  /** Goes on by what the page offers. */
  readonly goOn: (page: Page) => Promise<void>;
}

export interface FaultTally {
  tried: number;
  readonly wrong: string[];
}

const LONG = { timeout: 60_000 };
const words = (page: Page, text: string | RegExp) => page.getByText(text).first().waitFor(LONG);
const press = (page: Page, name: string | RegExp) => page.getByRole('button', { name }).first().click(LONG);
const openDemo = async (page: Page, url: string, name = 'Robe hook'): Promise<void> => {
  await page.goto(url);
  await page.getByRole('link', { name, exact: true }).click(LONG);
};
const nothing = async (): Promise<void> => {};

/** Ways a file of the server can fail. */
const SERVER: Readonly<Record<string, (page: Page, file: RegExp) => Promise<unknown>>> = {
  'is not there': (page, file) => page.route(file, (r) => r.abort()),
  'is answered with a page': (page, file) =>
    page.route(file, (r) => r.fulfill({ contentType: 'text/html', body: '<!doctype html><p>not found' })),
  'is answered with an error': (page, file) => page.route(file, (r) => r.fulfill({ status: 500, body: 'no' })),
};
/** Ways a worker can fail once it is there. */
const WORKER: Readonly<Record<string, (page: Page, file: RegExp) => Promise<unknown>>> = {
  ...SERVER,
  throws: (page, file) => page.route(file, (r) => r.fulfill({ contentType: 'text/javascript', body: 'throw new Error("broken")' })),
};

const SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="30mm" viewBox="0 0 30 30"><path d="M0 0L9 0L9 9Z"/></svg>';

const noKernel: Pick<Fault, 'meet' | 'goOn'> = {
  meet: async (page, url) => {
    await openDemo(page, url);
    await words(page, /The kernel could not be loaded, or stopped/);
  },
  goOn: async (page) => {
    await press(page, 'Try again');
    await measured(page);
  },
};
/** Faults that must not be felt at all. */
const opens: Pick<Fault, 'meet' | 'goOn'> = {
  meet: async (page, url) => {
    await openDemo(page, url);
    await measured(page);
  },
  goOn: nothing,
};
const saves: Pick<Fault, 'meet' | 'goOn'> = {
  meet: async (page, url) => {
    await page.goto(url);
    await press(page, 'New project');
    await words(page, 'saved');
  },
  goOn: nothing,
};

/** Each file with what needs it, what is said without it, and how it goes on. */
const FILES: readonly (Pick<Fault, 'meet' | 'goOn'> & { readonly file: RegExp; readonly what: string; readonly worker?: true })[] = [
  {
    file: /assets\/Stage-.*\.js/,
    what: 'the stage',
    meet: async (page, url) => {
      await openDemo(page, url);
      await words(page, 'The stage stopped.');
    },
    goOn: async (page) => {
      await press(page, 'Begin it again');
      await page.locator('canvas').waitFor(LONG);
    },
  },
  {
    file: /replicad.*\.wasm/,
    what: 'the kernel',
    ...noKernel,
  },
  {
    file: /workers\/worker-/,
    what: 'the worker of the kernel',
    worker: true,
    ...noKernel,
  },
  {
    file: /workers\/board-worker/,
    what: 'the worker of the board',
    worker: true,
    meet: async (page, url) => {
      await openDemo(page, url, 'Steam diffuser');
      await words(page, /What is held and what is free is not known/);
    },
    goOn: async (page) => {
      const board = page.getByLabel('Profile on the board');
      const value = await board.inputValue();
      await page.getByRole('button', { name: /^Undo/ }).first().waitFor(LONG);
      // The next change: another profile, or one that is new.
      await page.getByText('next step…').click();
      await page
        .getByRole('option', { name: /New half profile/ })
        .first()
        .click();
      await page.waitForFunction(
        (was) => (document.querySelector('[aria-label="Profile on the board"]') as HTMLSelectElement)?.value !== was,
        value,
      );
      await board.selectOption(value);
      await page.getByTestId('freedoms').waitFor(LONG);
    },
  },
  {
    file: /workers\/files-worker/,
    what: 'the worker of the files',
    worker: true,
    meet: async (page, url) => {
      await openDemo(page, url, 'Steam diffuser');
      await page.getByLabel('Drawing file').setInputFiles(fileOf('in.svg', SVG));
      await words(page, /in\.svg was not read/);
    },
    goOn: async (page) => {
      await page.getByLabel('Drawing file').setInputFiles(fileOf('again.svg', SVG));
      await words(page, 'Bring in again.svg');
    },
  },
  {
    file: /workers\/import-worker/,
    what: 'the worker of STEP files',
    worker: true,
    meet: async (page, url) => {
      await openDemo(page, url, 'Steam diffuser');
      await bringStep(page);
      await words(page, /part\.step was not read/);
    },
    goOn: async (page) => {
      await bringStep(page);
      await words(page, /This is not a STEP file/);
    },
  },
  {
    file: /workers\/section-worker/,
    what: 'the worker of sections',
    worker: true,
    meet: async (page, url) => {
      await openDemo(page, url, 'Steam diffuser');
      await measured(page);
      await page.getByRole('button', { name: 'Cut open' }).first().click();
      await words(page, 'The cut faces can’t be drawn');
    },
    goOn: async (page) => {
      await page.getByRole('button', { name: 'Cut open' }).first().click();
      await page.getByText('The cut faces can’t be drawn').waitFor({ state: 'detached', timeout: 20_000 });
      await page.getByRole('button', { name: 'Cut open' }).first().click();
      await page.waitForTimeout(1500);
      if (await page.getByText('The cut faces can’t be drawn').count()) throw new Error('the cut faces are not drawn again');
    },
  },
];

async function bringStep(page: Page): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await page.getByText('next step…').click();
  await page.getByPlaceholder('what should happen next?').fill('STEP');
  await page.getByRole('option', { name: /STEP/ }).first().click();
  await (await chooser).setFiles(fileOf('part.step', 'no step file'));
}

/** Storage that fails; what the page's own code calls is replaced while `window.broken` is set. */
const STORAGE: Readonly<Record<string, { readonly script: string; readonly meet: Fault['meet']; readonly goOn: Fault['goOn'] }>> = {
  'the database throws when it is opened': {
    script: `const real = indexedDB.open.bind(indexedDB); indexedDB.open = (...a) => { if (window.broken) throw new DOMException('denied', 'SecurityError'); return real(...a); };`,
    meet: inMemory,
    goOn: lasting,
  },
  'the database does not answer': {
    script: `const real = indexedDB.open.bind(indexedDB); indexedDB.open = (...a) => window.broken ? {addEventListener() {}, removeEventListener() {}} : real(...a);`,
    meet: inMemory,
    goOn: lasting,
  },
  'the database answers with an error': {
    script: `const real = indexedDB.open.bind(indexedDB); indexedDB.open = (name, v) => window.broken ? (real('another', 2), real('another', 1)) : real(name, v);`,
    meet: inMemory,
    goOn: lasting,
  },
  'the storage is full': refusing('put', 'QuotaExceededError'),
  'a write is refused': refusing('put', 'DataError'),
  'the row can’t be read before it is written': refusing('get', 'UnknownError'),
  'the database is closed under it': refusing('transaction', 'InvalidStateError'),
  'a write never ends well: its transaction is aborted': {
    ...refusing('put', 'AbortError'),
    script: `window.broken = false; const put = IDBObjectStore.prototype.put; IDBObjectStore.prototype.put = function (...a) { const r = put.apply(this, a); if (window.broken) this.transaction.abort(); return r; };`,
  },
  'small notes can’t be kept: local storage throws': {
    script: `Object.defineProperty(window, 'localStorage', { get() { throw new DOMException('denied', 'SecurityError'); } });`,
    ...opens,
  },
  'small notes can’t be kept: local storage is full': {
    script: `Storage.prototype.setItem = () => { throw new DOMException('full', 'QuotaExceededError'); };`,
    ...opens,
  },
  'the browser will not promise to keep it': {
    script: `navigator.storage.persist = () => Promise.reject(new Error('no'));`,
    ...saves,
  },
  'other tabs can’t be told': {
    script: `window.BroadcastChannel = class { constructor() { throw new Error('none'); } };`,
    ...saves,
  },
};

async function inMemory(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await words(page, /The browser’s storage can’t be opened/);
  await press(page, 'New project');
  await words(page, 'kept on this page only');
}
async function lasting(page: Page): Promise<void> {
  const id = /project\/([^/]+)\//.exec(page.url())![1]!;
  await page.locator('header a').first().click();
  await press(page, 'Try again');
  await page.getByText('The browser’s storage can’t be opened').waitFor({ state: 'detached', timeout: 20_000 });
  if (!(await rowsOf(page)).some((r) => r.id === id)) throw new Error('what was made meanwhile is not in the store');
}

/** Writing fails while it is broken; afterwards the page writes by itself. */
function refusing(method: 'put' | 'get' | 'transaction', error: string): { script: string; meet: Fault['meet']; goOn: Fault['goOn'] } {
  const of = method === 'transaction' ? 'IDBDatabase' : 'IDBObjectStore';
  return {
    script: `window.broken = false; const real = ${of}.prototype.${method}; ${of}.prototype.${method} = function (...a) { if (window.broken) throw new DOMException('no', '${error}'); return real.apply(this, a); };`,
    meet: async (page, url) => {
      await listed(page, url);
      const { id } = (await rowsOf(page))[0]!;
      await page.goto(`${url}project/${id}/brief`);
      const field = page.getByRole('textbox', { name: 'For' });
      await field.waitFor(LONG);
      await page.evaluate('window.broken = true');
      await field.fill('while it was broken');
      await field.press('Tab');
      await words(page, /The browser’s storage refused/);
      await page.getByRole('button', { name: 'Save to a file' }).waitFor(LONG);
    },
    goOn: async (page) => {
      await page.getByText('saved', { exact: true }).waitFor({ timeout: 15_000 });
      if (!(await rowsOf(page)).some((r) => r.client === 'while it was broken')) throw new Error('it is called saved and is not there');
    },
  };
}

function allFaults(): Fault[] {
  const out: Fault[] = [];
  for (const f of FILES)
    for (const [how, put] of Object.entries(f.worker ? WORKER : SERVER))
      out.push({
        name: `${f.what} ${how}`,
        put: (page) => put(page, f.file),
        meet: f.meet,
        lift: (page) => page.unroute(f.file),
        goOn: f.goOn,
      });
  for (const [name, s] of Object.entries(STORAGE))
    out.push({
      name,
      put: (page) => page.addInitScript(`window.broken = true; { ${s.script} }`),
      meet: s.meet,
      lift: async (page) => void (await page.evaluate('window.broken = false')),
      goOn: s.goOn,
    });
  for (const how of ['is not there', 'is answered with an error'] as const)
    out.push({
      name: `the page itself ${how}`,
      put: (page) => SERVER[how]!(page, /assets\/index-.*\.js/),
      meet: async (page, url) => {
        await page.goto(url);
        await words(page, /Ivory Lathe is loading/);
      },
      lift: (page) => page.unroute(/assets\/index-.*\.js/),
      goOn: async (page) => {
        await page.getByRole('button', { name: 'Load it again' }).click();
        await page.getByRole('button', { name: 'New project' }).waitFor(LONG);
      },
    });
  return out;
}

/** @param every only each so many-th of them, for a short run @param only those with such names */
export async function faultsAll(every = 1, only?: RegExp): Promise<FaultTally> {
  const served = await serve(4393);
  const browser: Browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_FLAGS });
  const tally: FaultTally = { tried: 0, wrong: [] };
  try {
    for (const [i, f] of allFaults().entries()) {
      if (i % every !== 0 || (only && !only.test(f.name))) continue;
      const context = await browser.newContext(APART);
      const page = await context.newPage();
      let at = 'is not told';
      try {
        await f.put(page);
        await f.meet(page, served.url);
        at = 'leaves no way on';
        await f.lift(page);
        await f.goOn(page);
        at = 'leaves a page that is not the application';
        if ((await page.getByText(/Unexpected Application Error/).count()) > 0) throw new Error('the router’s own page');
      } catch (e) {
        tally.wrong.push(`${f.name}: ${at}: ${String(e).slice(0, 200)}`);
      }
      tally.tried++;
      await context.close();
    }
  } finally {
    await browser.close();
    await served.close();
  }
  return tally;
}
