/** A twisted vessel by rings in the real interface: raised, hollowed by a turned cavity, its wall checked, exported. */
import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, emptyBench, measured, openApp } from '../support/browser';

let app: App;
beforeAll(async () => {
  app = await openApp(4311);
});
afterAll(() => app?.close());

it('goes from a plain tube of rings to a twisted vessel, made solid, hollowed, its wall checked, exported', async () => {
  const { page, errors } = await app.page();
  await emptyBench(page, app.url);
  const built = (count: number): Promise<unknown> =>
    page.waitForFunction(
      (n) => new RegExp(`^${n} done`).test(document.querySelector('[data-testid=build-summary]')?.textContent ?? ''),
      count,
      { timeout: 120_000 },
    );
  const next = async (what: string, label: RegExp): Promise<void> => {
    await page.getByText('next step…').click();
    await page.getByPlaceholder('what should happen next?').fill(what);
    await page.getByRole('option', { name: label }).first().click();
  };
  await next('Form a tube', /Form a tube/);
  await built(1);

  // The cage of a cylinder has rings: its table takes over.
  const form = page.getByRole('region', { name: 'Form' });
  await form.getByRole('button', { name: 'edit as rings' }).click();
  const table = form.getByRole('table', { name: 'Rings' });
  expect(await table.locator('tbody tr').count()).toBe(5);
  // Ridges, two rings more, and the twist written as a series: 40° on the lowest, 5° less with each ring above.
  const type = async (name: string, text: string): Promise<void> => {
    const field = form.getByRole('textbox', { name, exact: true });
    await field.fill(text);
    await field.press('Enter');
  };
  await type('rings', '7');
  expect(await table.locator('tbody tr').count()).toBe(7);
  await type('ridges', '2 mm');
  await form.getByRole('button', { name: 'Write the series' }).click();
  expect(await form.getByTestId('ring-totals').textContent()).toContain('twist in all 165.0°');
  expect(await form.getByRole('textbox', { name: 'twist of ring 2', exact: true }).inputValue()).toBe('40°');
  expect(await form.getByRole('textbox', { name: 'twist of ring 7', exact: true }).inputValue()).toBe('15°');
  // A gentler twist, by hand and by a dimension of the sheet's own units.
  await form.getByRole('textbox', { name: 'first of the series' }).fill('12°');
  await form.getByRole('textbox', { name: 'first of the series' }).press('Enter');
  await form.getByRole('textbox', { name: 'step of the series' }).fill('-1°');
  await form.getByRole('textbox', { name: 'step of the series' }).press('Enter');
  await form.getByRole('button', { name: 'Write the series' }).click();
  expect(await form.getByTestId('ring-totals').textContent()).toContain('twist in all 57.0°');
  // What can't be is refused where it stands.
  const radius = form.getByRole('textbox', { name: 'radius of ring 3', exact: true });
  const before = await radius.inputValue();
  await radius.fill('0 mm');
  expect(await form.getByRole('alert').textContent()).toBe('a radius is more than 0');
  await radius.press('Escape');
  expect(await radius.inputValue()).toBe(before);
  // A ring is moved in the chart by the keyboard, and the table follows.
  await form.getByRole('slider', { name: 'Ring 7' }).focus();
  await page.keyboard.press('ArrowRight');
  expect(await form.getByRole('textbox', { name: 'radius of ring 7', exact: true }).inputValue()).toBe('32 mm');
  // The widest place of the smooth body, set: the table is scaled so that the body meets it.
  const widest = form.getByRole('textbox', { name: 'largest diameter on the body' });
  await widest.fill('66 mm');
  await widest.press('Enter');
  expect(await widest.inputValue()).toBe('66 mm');
  await built(1);
  await measured(page);
  const axe = await new AxeBuilder({ page }).analyze();
  expect(
    axe.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => `${v.id}: ${v.nodes[0]?.html}`),
  ).toEqual([]);

  // Hollowed from its top, which is picked from above.
  await next('cavity', /Turn a smooth cavity into/);
  await page.getByRole('button', { name: 'Above', exact: true }).click();
  await page.waitForTimeout(800);
  const stage = (await page.locator('canvas').boundingBox())!;
  await page.mouse.click(stage.x + stage.width / 2 + 6, stage.y + stage.height / 2 + 6);
  await page.keyboard.press('Escape');
  await built(2);
  await measured(page);
  const wall = page.getByTestId('gauge-wall-min');
  expect(Number(/([\d.]+)/.exec((await wall.locator('.font-mono').first().textContent())!)![1])).toBeGreaterThanOrEqual(1.99);

  await page.getByRole('link', { name: 'Make' }).click();
  await page.getByRole('radio', { name: /STEP/ }).check();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save .*\.step$/ }).click();
  const file = readFileSync((await (await download).path())!, 'utf8');
  expect(file).toContain('ISO-10303-21');
  expect(file).toContain('B_SPLINE_SURFACE');
  expect(errors).toEqual([]);
});
