/** A text round a beaker by mouse and keyboard: wrapped, sunk, turned, followed by the change of a width, saved. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, openApp } from '../support/browser';
import { handOn } from '../support/hand';
import { savedStep } from '../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4344);
});
afterAll(() => app?.close());

it('lays a text round a cone, raised or sunk, and follows its sizes', async () => {
  const { page, errors } = await app.page();
  const { next, places, choose, gauge, state, last, pick, dimension, settled, value } = handOn(page);
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByText('next step…').waitFor();
  await dimension('wide', '60 mm');
  await next(/^New half profile/, 'half');
  await choose(/^Draw$|^Line, poly/, /^Line, poly/);
  await places('0,0', 'wide*0.4,0', 'wide/2,70', '0,70');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await next(/^Revolve Profile 1\s*as a new body/, 'revolve');
  await settled();
  // A frustum (mensuration).
  const frustum = (w: number): number => ((Math.PI * 70) / 3) * ((0.4 * w) ** 2 + 0.4 * w * (w / 2) + (w / 2) ** 2);
  expect(await gauge('volume')).toBeCloseTo(frustum(60) / 1000, 2);

  await next(/^New drawing on the front plane/, 'drawing');
  // In letters with serifs, along an arc, farther apart than the font has them.
  await choose(/^Draw$|^Line, poly/, /^Circle/);
  await places('0,-60', '0,-4');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await page.getByRole('checkbox', { name: 'construction only' }).click();
  await choose(/^Draw$|^Circle/, /^Text outline/);
  await page.getByRole('textbox', { name: 'Text to outline' }).fill('SALT');
  await page.getByRole('combobox', { name: 'Font' }).selectOption('with serifs');
  await places('0,-4');
  await page.keyboard.press('Escape');
  await page.getByRole('combobox', { name: 'What the text leads along' }).selectOption('circle c1');
  // Above the circle's middle it reads from left to right on the outside.
  expect(await page.getByRole('combobox', { name: 'Side of the line' }).inputValue()).toBe('other');
  await page.getByRole('combobox', { name: 'What of the text lies at its point' }).selectOption('its middle');
  const apart = page.getByRole('textbox', { name: 'Between letters, more than the font has' });
  await apart.fill('0.5 mm');
  await apart.press('Enter');
  await page
    .getByTestId('text-thin')
    .getByText(/^Strokes from 0\.\d\d mm, gaps from \d\.\d\d mm/)
    .waitFor();
  await next(/^Wrap Profile 2 round/, 'emboss');
  const step = await last();
  await page.waitForTimeout(600);
  expect(await state(step)).toBe('unfinished');
  await pick(/^line 2 of Profile 1/, [345, 250]);
  await settled();
  expect(await state(step)).toBe('done');
  const line = page.getByTestId(step);
  await line.getByText(/^unrolled exactly/).waitFor();
  const raised = (await gauge('volume')) - frustum(60) / 1000;
  expect(raised).toBeGreaterThan(0.05);
  await line.getByRole('combobox', { name: 'as' }).selectOption({ label: 'sunk by' });
  await settled();
  // Nearly as much as it was raised by: a little less, as the skin bends.
  const sunk = frustum(60) / 1000 - (await gauge('volume'));
  expect(sunk / raised).toBeGreaterThan(0.8);
  expect(sunk / raised).toBeLessThan(1.05);
  await value(step, 'from the front', '60°');
  expect(await state(step)).toBe('done');
  const wide = page.getByRole('textbox', { name: 'wide', exact: true }).first();
  await wide.fill('66 mm');
  await wide.press('Enter');
  await settled();
  expect(await state(step)).toBe('done');
  const now = await gauge('volume');
  expect(frustum(66) / 1000 - now).toBeCloseTo(sunk, 1);
  expect((await savedStep(page)).map((v) => v / 1000)).toEqual([expect.closeTo(now, 2)]);
  expect(errors).toEqual([]);
}, 300_000);
