/** Keeps what a whole job made as a project that ships with the application: `npm run commissions -- --keep`. */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { JOBS } from '../../demo/jobs';
import { parseProject, slug, writeProject } from '../../src/core/recipe/file';

const FOLDER = 'demo/jobs';

export async function keepJob(page: Page, name: string): Promise<void> {
  if (!process.env.KEEP_JOBS) return;
  await page.getByRole('link', { name: 'Make' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save .*\.lathe\.json$/ }).click();
  const read = parseProject(readFileSync((await (await download).path())!, 'utf8'));
  if (!read.ok) throw new Error(read.error);
  const purpose = JOBS.find((job) => job.name === name)!.words;
  const project = { ...read.value, name, client: 'Marram Bathhouse', brief: { ...read.value.brief, purpose } };
  mkdirSync(FOLDER, { recursive: true });
  writeFileSync(`${FOLDER}/${slug(name)}.lathe.json`, writeProject(project));
}
