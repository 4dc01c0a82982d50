/** A soap shell from a new project by mouse and keyboard: an ellipse and two arcs over its axes, a patch over a quarter, mirrored twice and knit, given a wall, saved. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { savedStep } from '../../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4335, 'none');
});
afterAll(() => app?.close());

it('is drawn, patched over a quarter, mirrored, knit without a crease, walled and saved', async () => {
  const { page, errors } = await app.page();
  const { next, places, choose, value, gauge, settled, state, last, pick, dimension } = handOn(page);
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New project' }).click();

  // An arc over each axis of the ellipse, broken where an upright line crosses it: half of each bounds the quarter.
  const board = page.getByRole('application', { name: /^Drawing of/ });
  const over = async (plane: string, reach: number, at: readonly [number, number]): Promise<void> => {
    await next(new RegExp(`^New drawing on the ${plane} plane`), 'drawing');
    await page.waitForTimeout(400);
    await choose(/^(Draw|Line, polyline|Arc through three points)/, /^Arc through three/);
    await places(`-${reach},0`, `${reach},0`, '0,14');
    await choose(/^Arc through/, /^Line, polyline/);
    await places('0,0', '0,20');
    await page.keyboard.press('Escape');
    await choose('Alter', /^Break at crossings/);
    const box = (await board.boundingBox())!;
    await page.mouse.click(box.x + at[0], box.y + at[1]);
    await page.waitForTimeout(400);
    await page.keyboard.press('Escape');
  };
  await over('front', 46, [285, 43]);
  await over('side', 29, [284, 104]);
  await next(/^New drawing on the level plane/, 'drawing');
  await page.waitForTimeout(400);
  await choose(/^(Draw|Line, polyline|Arc through three points)/, /^Elliptical arc/);
  await places('0,0', '46,0', '0,29', '46,0', '0,29');
  await page.keyboard.press('Escape');

  // The rim is only met; what lies in the mirror planes is passed smoothly.
  await next(/^Patch a border/, 'patch');
  const patch = await last();
  await pick(/^ellipse 1 of Profile 3/, [425, 315]);
  await page.keyboard.press('Escape');
  await page.locator(`[data-testid=${patch}][data-state=unfinished]`).waitFor();
  await page.getByTestId(patch).getByRole('button', { name: 'pick' }).last().click();
  await pick(/^arc 3 of Profile 1/, [389, 306]);
  await pick(/^arc 3 of Profile 2/, [354, 278]);
  await page.keyboard.press('Escape');
  await page
    .getByTestId(patch)
    .getByText(/^meets its border within 0\.000\d\d mm/)
    .waitFor({ timeout: 60_000 });
  expect(await state(patch)).toBe('done');

  // Twice mirrored in the plane it lies against, which is offered: the whole ellipse is its one border.
  for (let k = 0; k < 2; k++) {
    await next(/^Mirror Body 1/, 'mirror');
    await settled();
    expect(await state(await last())).toBe('done');
  }
  // Gauss and Kummer's series.
  const [a, b] = [46, 29];
  const h = ((a - b) / (a + b)) ** 2;
  const rim = Math.PI * (a + b) * (1 + h / 4 + h ** 2 / 64 + h ** 3 / 256 + (25 * h ** 4) / 16384);
  const told = /1 border open, of ([\d.]+) mm/.exec((await page.getByTestId(await last()).textContent())!);
  expect(Number(told![1])).toBeCloseTo(rim, 1);
  expect([await gauge('width'), await gauge('depth'), await gauge('height')]).toEqual([
    expect.closeTo(92, 1),
    expect.closeTo(58, 1),
    expect.closeTo(14, 1),
  ]);
  const skin = await gauge('area');

  // Its seams are smooth: every edge between its quarters is one in the table of joins.
  await page.getByRole('link', { name: 'Inspect' }).click();
  await page.getByRole('button', { name: /^How do its faces meet/ }).click();
  await page.waitForFunction(() => /^measured in/.test(document.querySelector('[data-testid=inspect-state]')?.textContent ?? ''), null, {
    timeout: 60_000,
  });
  await page.getByRole('button', { name: /^smooth 4$/ }).waitFor();
  await page.getByRole('button', { name: /^sharp 0$/ }).waitFor();
  await page.getByRole('link', { name: 'Bench' }).click();

  await next(/^Give a wall to/, 'wall');
  const wall = await last();
  await settled();
  await page.getByTestId(wall).getByRole('combobox', { name: 'side' }).selectOption({ index: 1 });
  await dimension('wall', '1.2 mm');
  await value(wall, 'wall', 'wall');
  expect(await state(wall)).toBe('done');
  const volume = await gauge('volume');
  // Steiner: on the hollow side a wall is a little less than its skin says.
  expect(volume).toBeLessThan(0.12 * skin);
  expect(volume).toBeGreaterThan(0.11 * skin);
  expect(await gauge('wall-min')).toBeCloseTo(1.2, 2);

  // Its ends in the plane of its border: the wall leans over it there, and is cut off.
  await page.getByTestId(wall).getByRole('combobox', { name: 'ends' }).selectOption({ index: 1 });
  await settled();
  expect(await state(wall)).toBe('done');
  expect(await gauge('height')).toBeCloseTo(14, 2);
  const flush = await gauge('volume');
  expect(flush).toBeLessThan(volume);
  expect(flush).toBeGreaterThan(0.95 * volume);

  const saved = await savedStep(page);
  expect(saved.map((v) => v / 1000)).toEqual([expect.closeTo(flush, 2)]);
  await keepJob(page, 'Soap shell');

  // A quarter more, a quarter less: the wall is what it says, and no more is told to be wrong.
  await page.getByRole('link', { name: 'Bench' }).click();
  for (const text of ['1.5', '0.9']) {
    const field = page.getByRole('textbox', { name: 'wall', exact: true }).first();
    await field.fill(`${text} mm`);
    await field.press('Enter');
    await settled();
    expect(await gauge('wall-min')).toBeCloseTo(Number(text), 2);
    expect(await state(wall)).toBe('done');
  }
  expect(errors).toEqual([]);
}, 300_000);
