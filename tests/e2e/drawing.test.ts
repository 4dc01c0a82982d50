/** Drawings and pictures from outside, and out again. */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, newBeaker, openApp } from '../support/browser';

let app: App;
beforeAll(async () => {
  app = await openApp(4307);
});
afterAll(() => app?.close());

const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="40mm" viewBox="0 0 160 80">
<rect x="20" y="10" width="60" height="30"/><circle cx="50" cy="25" r="8"/></svg>`;

it('an SVG drawing comes in at its own scale, and goes out as DXF and dimensioned SVG', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await newBeaker(page);
  await page.getByTestId('freedoms').waitFor();
  await page.getByLabel('Drawing file').setInputFiles({ name: 'plate.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
  const dialog = page.getByRole('dialog', { name: 'Bring in plate.svg' });
  expect(await dialog.getByRole('textbox', { name: 'One unit of the file' }).inputValue()).toBe('0.5 mm');
  await dialog.getByTestId('drawing-size').getByText('5 curves on 5 points').waitFor();
  await dialog.getByRole('button', { name: 'Bring it in' }).click();
  await page.locator('[data-curve=c5]').waitFor();
  for (const [words, kind, has] of [
    ['Save as DXF', 'dxf', 'CIRCLE'],
    ['Save with dimensions', 'svg', 'height = 80 mm'],
  ] as const) {
    const coming = page.waitForEvent('download');
    await page.getByRole('button', { name: 'More', exact: true }).click();
    await page.getByRole('menuitem', { name: words }).click();
    const file = await coming;
    expect(file.suggestedFilename()).toMatch(new RegExp(`\\.${kind}$`));
    expect(readFileSync(await file.path(), 'utf8')).toContain(has);
  }
  // A hostile one is refused in words and changes nothing.
  await page
    .getByLabel('Drawing file')
    .setInputFiles({ name: 'bad.svg', mimeType: 'image/svg+xml', buffer: Buffer.from('<svg><script>alert(1)</script></svg>') });
  await page.getByText('The file holds a script').waitFor();
  expect(errors).toEqual([]);
});

it('a picture lies under the drawing and is scaled by two places and a known length', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await newBeaker(page);
  await page.getByTestId('freedoms').waitFor();
  // A 40 × 20 picture, drawn here.
  const png = await page.evaluate(() => {
    const c = document.createElement('canvas');
    c.width = 40;
    c.height = 20;
    const g = c.getContext('2d')!;
    g.fillStyle = '#c8b48c';
    g.fillRect(0, 0, 40, 20);
    return c.toDataURL('image/png').split(',')[1]!;
  });
  await page.getByLabel('Picture file').setInputFiles({ name: 'sketch.png', mimeType: 'image/png', buffer: Buffer.from(png, 'base64') });
  const picture = page.getByTestId('reference-picture');
  await picture.waitFor();
  const fields = page.getByRole('group', { name: 'Picture' });
  await fields.getByText('100.00 mm').waitFor();
  await fields.getByRole('button', { name: /scale by two places/ }).click();
  const box = (await picture.boundingBox())!;
  await page.mouse.click(box.x + 2, box.y + box.height / 2);
  await page.mouse.click(box.x + 2 + box.width / 2, box.y + box.height / 2);
  const ask = page.getByRole('dialog', { name: 'How far apart are the two places?' });
  await ask.getByRole('textbox').fill('80 mm');
  await ask.getByRole('button', { name: 'Do it' }).click();
  await fields.getByText(/1(59|60)\.\d\d mm/).waitFor();
  await fields.getByRole('checkbox', { name: 'locked in place' }).check();
  await fields.getByRole('button', { name: 'take it away' }).click();
  await picture.waitFor({ state: 'detached' });
  expect(errors).toEqual([]);
});
