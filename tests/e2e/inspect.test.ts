import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, measured, openApp } from '../support/browser';

let app: App;
beforeAll(async () => {
  app = await openApp(4308);
});
afterAll(() => app?.close());

describe('inspection', () => {
  it('leads from the gauge to the thinnest wall, sweeps the section there, sees the verdict turn, and saves the report', async () => {
    const { page, errors } = await app.page();
    await page.goto(app.url);
    await page.getByRole('link', { name: 'Steam diffuser' }).click();
    await measured(page);
    const gauge = page.getByTestId('gauge-wall-min');
    expect(await gauge.getAttribute('data-verdict')).toBe('fail');
    const reading = /([\d.]+)/.exec((await gauge.locator('.font-mono').first().textContent())!)![1]!;

    // The page measures the same wall, and names the same place.
    const answered = (): Promise<unknown> =>
      page.waitForFunction(() => /^measured in/.test(document.querySelector('[data-testid=inspect-state]')?.textContent ?? ''), null, {
        timeout: 90_000,
      });
    await page.getByRole('link', { name: 'Inspect' }).click();
    await answered();
    const figures = page.getByRole('region', { name: 'Figures' });
    expect(await figures.textContent()).toContain(`Thinnest■ ${Number(reading).toFixed(2)} mm`);
    const places = page.getByRole('region', { name: 'Thinnest places' });
    await places.getByRole('button').first().focus();
    await page.keyboard.press('Enter');
    await page.getByTestId('mark').waitFor();
    expect(await page.getByTestId('mark').textContent()).toContain(`${Number(reading).toFixed(2)} mm`);

    // Sections: the chart stands at the thinnest one; the slider sweeps the plane.
    await page.getByRole('button', { name: /What do sections show/ }).click();
    await answered();
    const row = page.getByTestId('section-row');
    expect(await row.textContent()).toMatch(/Wall, least2\.\d\d mm/);
    const slider = page.getByRole('slider', { name: 'Place of the section' });
    const before = await row.textContent();
    await slider.focus();
    for (let i = 0; i < 20; i++) await slider.press('ArrowLeft');
    expect(await row.textContent()).not.toBe(before);
    const drawing = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save as SVG' }).click();
    expect(readFileSync((await (await drawing).path())!, 'utf8')).toContain('<svg');

    // Edges: the table is sorted and filtered, a row opens to its plot.
    await page.getByRole('button', { name: /How do its faces meet/ }).click();
    await answered();
    await page.getByRole('button', { name: /^sharp \d+/ }).click();
    await figures.locator('tbody button').first().click();
    await page.getByRole('img', { name: 'Angle along the edge' }).waitFor();
    // Planes that lean, and planes along a drawn line.
    await page.getByRole('button', { name: /What do sections show/ }).click();
    await answered();
    const across = page.getByRole('combobox', { name: /^Across/ });
    for (const way of ['a leaning direction', /^along /]) {
      const option = across.locator('option', { hasText: way }).first();
      await across.selectOption(await option.getAttribute('value'));
      await answered();
      expect(await row.textContent()).toMatch(/Wall, least\d/);
    }
    // Combs, of each kind of curve.
    await page.getByRole('button', { name: /How do its lines run/ }).click();
    await answered();
    for (const of of ['edges', 'iso', 'section']) {
      await page.getByRole('combobox', { name: /^Of/ }).selectOption(of);
      await answered();
      await figures
        .getByText(/^R 0\.80 mm|^R \d/)
        .first()
        .waitFor();
    }
    // A measurement stays on the stage, whatever is asked.
    await page.getByRole('button', { name: /from here to there/ }).click();
    await answered();
    const from = page.getByRole('combobox', { name: /^From/ });
    await from.selectOption(await from.locator('option', { hasText: /^foot of Belly$/ }).getAttribute('value'));
    const to = page.getByRole('combobox', { name: /^To/ });
    await to.selectOption(await to.locator('option', { hasText: /^inside behind the foot of Belly$/ }).getAttribute('value'));
    await page.getByRole('button', { name: 'Measure', exact: true }).click();
    await page.getByTestId('leader').waitFor();
    expect(await figures.textContent()).toMatch(/2\.200 mm apart.*parallel/);
    // By itself it is an area, and nothing is measured to.
    await to.selectOption('');
    await page.getByRole('button', { name: 'Measure', exact: true }).click();
    await figures.getByText('foot of Belly, Diffuser', { exact: true }).waitFor();
    // By the mouse: a face by itself.
    await page.getByRole('button', { name: 'Pick faces, edges' }).click();
    const stage = (await page.locator('canvas').boundingBox())!;
    await page.mouse.click(stage.x + stage.width / 2, stage.y + 0.6 * stage.height);
    await page.getByTestId('first-thing').getByRole('button', { name: 'measure it alone' }).click();
    await figures
      .getByText(/^\d+\.\d+ cm²$/)
      .first()
      .waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: /Where does a label lie flat/ }).click();
    await answered();
    await page.getByRole('img', { name: 'Zone 1 laid flat' }).waitFor();
    expect(await page.getByTestId('leader').count()).toBe(3);
    // Every other question is answered as well.
    for (const q of [/How does it bend/, /Does it leave the mould/, /Does it print unheld/, /What does it hold/]) {
      await page.getByRole('button', { name: q }).click();
      await answered();
    }
    const axe = await new AxeBuilder({ page }).analyze();
    expect(
      axe.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => `${v.id}: ${v.nodes[0]?.html}`),
    ).toEqual([]);

    // Raise the wall: the verdict turns.
    await page.getByRole('link', { name: 'Bench' }).click();
    const field = page.getByRole('textbox', { name: 'wall', exact: true }).first();
    await field.fill('2.4 mm');
    await field.press('Enter');
    await page.waitForFunction(
      () => document.querySelector('[data-testid=gauge-wall-min]')?.getAttribute('data-verdict') === 'pass',
      null,
      {
        timeout: 150_000,
      },
    );
    await measured(page);
    await page.getByRole('link', { name: 'Inspect' }).click();
    await page.getByRole('button', { name: /How thick is it/ }).click();
    await answered();
    expect(await figures.textContent()).toContain('● nowhere');

    // The report says so, with the same numbers.
    const saved = page.waitForEvent('download', { timeout: 120_000 });
    await page.getByRole('button', { name: 'Save the report' }).click();
    const file = await saved;
    expect(file.suggestedFilename()).toBe('steam-diffuser_diffuser_inspection.html');
    const html = readFileSync((await file.path())!, 'utf8');
    for (const words of ['Against the brief', 'Thinnest places', 'Joins', 'Measured', 'parallel', 'Cautions', 'data:image/png', '2.400 mm'])
      expect(html).toContain(words);
    expect(errors).toEqual([]);
  });
});
