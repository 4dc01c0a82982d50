/** A vessel with a beaded rim, from a new project to the saved file: three turned drawings, a rounded crease, hollowed at the first try. */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';

let app: App;
beforeAll(async () => {
  app = await openApp(4314, 'none');
});
afterAll(() => app?.close());

it('is drawn by typed places, joined, rounded, hollowed at any wall, and its bead is told before it is swallowed', async () => {
  const { page, errors } = await app.page();
  const { next, places, tool, gauge: number, state, remove } = handOn(page);

  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);

  // The belly: a spline that is made to leave the axis at 90°.
  await next(/New half profile/);
  await tool('Line, polyline', /^Spline/);
  await places('0,0', '38,35', '20,90');
  await page.keyboard.press('Enter');
  await tool('Spline through points', /^Line/);
  await places('20,90', '0,90');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Fix: make the .* handle horizontal/ }).click();
  await next(/^Revolve Profile 2\s*as a new body/);
  await measured(page);
  // The beaker the project began with is not wanted.
  await remove('step-s1');

  await next(/New half profile/);
  await places('0,88', '20,88', '23,120', '0,120');
  await page.keyboard.press('Escape');
  await next(/^Revolve Profile 3, joined/);
  await measured(page);

  // The bead: a full ring on the collar's rim.
  await next(/New half profile/);
  await tool('Line, polyline', /^Circle/);
  await places('23,120', '26,120');
  await page.keyboard.press('Escape');
  await next(/^Revolve Profile 4, joined/);
  await measured(page);
  expect(await number('height')).toBe(123);

  await next(/^Hollow Body 2\s*open at its topmost flat face/);
  const hollow = page.getByTestId('step-s5');
  const wall = hollow.getByRole('textbox', { name: 'wall' });
  const capacities: number[] = [];
  for (const t of ['0.4', '1.3', '1.6', '2.5', '3', '5']) {
    await wall.fill(`${t} mm`);
    await wall.press('Enter');
    await hollow.getByText(`wall ${Number(t).toFixed(2)} mm at its thinnest`).waitFor({ timeout: 30_000 });
    await measured(page);
    expect([t, await state('step-s5')]).toEqual([t, 'done']);
    expect([t, await number('wall-min')]).toEqual([t, expect.closeTo(Number(t), 2)]);
    capacities.push(await number('capacity-brim'));
  }
  expect(capacities).toEqual([...capacities].sort((a, b) => b - a));
  // A ring of 3 mm has nothing inside from a wall of 3 mm on.
  await hollow.getByText('A wall under 3.00 mm keeps every detail.').waitFor();

  // Too much is refused with what is the most, and that goes at the first click.
  await wall.fill('60 mm');
  await wall.press('Enter');
  await hollow.getByText(/the last of the inside is gone at \d+\.\d+ mm/).waitFor({ timeout: 30_000 });
  await hollow.getByRole('button', { name: /^Use a wall of/ }).click();
  await page.waitForFunction(() => document.querySelector('[data-testid=step-s5]')?.getAttribute('data-state') === 'done', null, {
    timeout: 30_000,
  });

  await wall.fill('3 mm');
  await wall.press('Enter');
  await hollow.getByText('wall 3.00 mm at its thinnest').waitFor({ timeout: 30_000 });
  await measured(page);
  await page.getByRole('link', { name: 'Make' }).click();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: /^Save/ }).first().click()]);
  expect(readFileSync((await file.path())!).length).toBeGreaterThan(1000);
  await keepJob(page, 'Beaded steam diffuser');
  expect(errors).toEqual([]);
}, 180_000);
