/** The built application in headless Chromium, served as `npm start` serves it. */
import { existsSync } from 'node:fs';
import { type Browser, type BrowserContext, chromium, type Page } from 'playwright-core';
import { type PreviewServer, preview } from 'vite';

/** Without a graphics card every edge that is smoothed is drawn four times over: tests look at what is said, not at that. */
const PLAIN_EDGES = '--webgl-antialiasing-mode=none';

export const CHROMIUM_FLAGS = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-gpu',
  '--enable-unsafe-swiftshader',
];

export interface App {
  readonly url: string;
  readonly browser: Browser;
  /** A page of its own storage, or of a given one, at 1280 × 800. Errors of the page fail the test that asks for them. */
  readonly page: (context?: BrowserContext) => Promise<{ page: Page; errors: string[] }>;
  readonly close: () => Promise<void>;
}

/** A storage of its own at 1280 × 800, without the copy kept for when the server is away: what tests put in the way must be met. */
export const APART = { viewport: { width: 1280, height: 800 }, acceptDownloads: true, serviceWorkers: 'block' } as const;

/** How the stage is drawn: as on a screen; as tests need it, with a quarter of the pixels; or not at all, where only words and files are read. */
export type Drawing = 'smooth' | 'plain' | 'none';

/** Nothing reaches the drawing surface; what is picked and named does not come from it. */
const NOT_DRAWN = `for (const draw of ['drawElements', 'drawArrays', 'drawElementsInstanced', 'drawArraysInstanced'])
  WebGL2RenderingContext.prototype[draw] = () => {};`;

export async function openApp(port: number, drawing: Drawing = 'plain'): Promise<App> {
  if (!existsSync('dist/index.html')) throw new Error('build the application first: npm run test:e2e does');
  const server: PreviewServer = await preview({ preview: { port, strictPort: false }, logLevel: 'error' });
  const url = server.resolvedUrls!.local[0]!;
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: drawing === 'smooth' ? CHROMIUM_FLAGS : [...CHROMIUM_FLAGS, PLAIN_EDGES],
  });
  return {
    url,
    browser,
    page: async (context) => {
      const owner = context ?? (await browser.newContext(drawing === 'smooth' ? APART : { ...APART, deviceScaleFactor: 0.5 }));
      const page = await owner.newPage();
      if (drawing === 'none') await page.addInitScript(NOT_DRAWN);
      const errors: string[] = [];
      page.on('pageerror', (e) => errors.push(e.message));
      page.on('console', (m) => {
        if (m.type() === 'error') errors.push(m.text());
      });
      page.on('request', (r) => {
        if (!/^(blob|data):/.test(r.url()) && new URL(r.url()).hostname !== 'localhost') errors.push(`fetched from outside: ${r.url()}`);
      });
      return { page, errors };
    },
    close: async () => {
      await browser.close();
      await new Promise<void>((resolve) => server.httpServer.close(() => resolve()));
    },
  };
}

/** Waits until bodies are built and measured. @param seconds at most */
export const measured = (page: Page, seconds = 150): Promise<unknown> =>
  page.waitForFunction(() => document.querySelector('[data-testid=gauge-state]')?.textContent === 'against the brief', null, {
    timeout: 1000 * seconds,
  });

/** A new project that begins with the turned beaker. */
export async function newBeaker(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByRole('button', { name: /^A turned beaker/ }).click();
}

/** A new project whose first body has made room: an empty bench. */
export async function emptyBench(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await newBeaker(page);
  await page
    .getByTestId('build-summary')
    .getByText(/^1 done/)
    .waitFor({ timeout: 60_000 });
  await page.getByRole('button', { name: 'More for step 1' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
}
