/** What a page saves, read back. */
import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { readStep } from '../../src/kernel/exchange/step-read';
import { testKernel } from './kernel';

/** The volumes of the solids of the STEP file that the page saves of what is chosen under Make, mm³. */
export async function savedStep(page: Page): Promise<number[]> {
  await page.getByRole('link', { name: 'Make' }).click();
  await page.getByRole('radio', { name: /STEP/ }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save .*\.step$/ }).click();
  const read = readStep(await testKernel(), readFileSync((await (await download).path())!));
  if (!read.ok) throw new Error(read.error);
  return read.value.map((s) => s.volume);
}
