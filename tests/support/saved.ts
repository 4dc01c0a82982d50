/** What a page saves, read back. */
import { readFileSync } from 'node:fs';
import occtImport from 'occt-import-js';
import type { Page } from 'playwright-core';
import { readStep } from '../../src/kernel/exchange/step-read';
import { testKernel } from './kernel';

/** The volumes of the solids of the STEP file that the page saves of what is chosen under Make, mm³. */
export async function savedStep(page: Page): Promise<number[]> {
  await page.getByRole('link', { name: 'Make' }).click();
  const read = readStep(await testKernel(), await saveAs(page, 'step'));
  if (!read.ok) throw new Error(read.error);
  return read.value.map((s) => s.volume);
}

/** What is chosen under Make, saved by its button. */
export async function saveAs(page: Page, format: 'step' | 'stl'): Promise<Buffer> {
  await page.getByRole('radio', { name: new RegExp(`^${format}`, 'i') }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: new RegExp(`^Save .*\\.${format}$`) }).click();
  return readFileSync((await (await download).path())!);
}

/**
 * The one body of a STEP file as facets, by a reader that is not ours; its volume by tetrahedra.
 * @param fine off by at most 0.02 mm; else as the reader takes them by itself, with hardly a place within a face
 */
export async function readByAnother(
  step: Uint8Array,
  fine = true,
): Promise<{ readonly places: readonly number[]; readonly volume: number }> {
  const read = (await occtImport()).ReadStepFile(
    step,
    fine ? { linearUnit: 'millimeter', linearDeflectionType: 'absolute_value', linearDeflection: 0.02, angularDeflection: 0.1 } : null,
  );
  if (!read.success || read.meshes.length !== 1) throw new Error(`it reads ${read.meshes.length} bodies`);
  const { attributes, index } = read.meshes[0]!;
  const places = attributes.position.array;
  const corner = (i: number): readonly number[] => places.slice(3 * index.array[i]!, 3 * index.array[i]! + 3);
  let six = 0;
  for (let t = 0; t < index.array.length; t += 3) {
    const [a, b, c] = [corner(t), corner(t + 1), corner(t + 2)];
    six += a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) + a[1]! * (b[2]! * c[0]! - b[0]! * c[2]!) + a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!);
  }
  return { places, volume: Math.abs(six) / 6 };
}
