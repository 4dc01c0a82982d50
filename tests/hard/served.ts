/** The built application served for hard trials, and what lies in its database, read past the application. */
import { existsSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { preview } from 'vite';

export interface Served {
  readonly url: string;
  readonly close: () => Promise<void>;
}

export async function serve(port: number): Promise<Served> {
  const outDir = process.env.LATHE_DIST ?? 'dist';
  if (!existsSync(`${outDir}/index.html`)) throw new Error('build the application first');
  const server = await preview({ build: { outDir }, preview: { port, strictPort: false }, logLevel: 'error' });
  return {
    url: server.resolvedUrls!.local[0]!,
    close: () => new Promise<void>((resolve) => server.httpServer.close(() => resolve())),
  };
}

/** The list of projects, once it is there. */
export async function listed(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await page
    .getByRole('button', { name: /^More for / })
    .first()
    .waitFor({ timeout: 60_000 });
}

/** A file of the given content, to be chosen. */
export function fileOf(name: string, content: string | Uint8Array): string {
  const path = join(mkdtempSync(join(tmpdir(), 'lathe-')), name);
  writeFileSync(path, content);
  return path;
}

export interface Row {
  readonly id: string;
  readonly rev: number;
  readonly deletedAt: number | null;
  readonly name: string;
  readonly client: string;
}

/** Every row of the database, from a page of the same origin that runs nothing of the application. */
export async function rowsOf(page: Page): Promise<Row[]> {
  // Opening it would make an empty one.
  if (!(await page.evaluate(async () => (await indexedDB.databases()).some((d) => d.name === 'ivory-lathe')))) return [];
  return page.evaluate(
    () =>
      new Promise<Row[]>((resolve, reject) => {
        const opening = indexedDB.open('ivory-lathe');
        opening.onerror = () => reject(new Error('the database can’t be opened'));
        opening.onsuccess = () => {
          const db = opening.result;
          if (!db.objectStoreNames.contains('projects')) {
            db.close();
            resolve([]);
            return;
          }
          const all = db.transaction('projects', 'readonly').objectStore('projects').getAll();
          all.onerror = () => reject(new Error('the rows can’t be read'));
          all.onsuccess = () => {
            db.close();
            resolve(
              all.result.map((r) => ({
                id: r.id,
                rev: r.rev,
                deletedAt: r.deletedAt,
                name: String(r.doc?.name),
                client: String(r.doc?.client),
              })),
            );
          };
        };
      }),
  );
}
