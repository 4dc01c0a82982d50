/** A bath-salt cellar of four leaves from a new project by mouse and keyboard: turned, trimmed, skinned, mirrored, set round, closed by its stopper, rounded, parted. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { savedStep } from '../../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4342, 'none');
});
afterAll(() => app?.close());

it('is turned, trimmed, skinned, set round, knit, closed by its stopper, rounded, parted, changed and saved', async () => {
  const { page, errors } = await app.page();
  const { next, places, choose, gauge, state, last, pick, orbit, dimension, settled } = handOn(page);
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New project' }).click();
  const done = async (id: string, words: RegExp): Promise<void> => {
    await page.getByTestId(id).getByText(words).first().waitFor({ timeout: 60_000 });
    expect(await state(id)).toBe('done');
  };
  await dimension('wide', '60 mm');
  await dimension('high', '70 mm');
  await dimension('soft', '1 mm');

  // A quarter of the wall, to either side of its half profile; places follow the dimensions they name.
  await next(/^New half profile/, 'half');
  await choose(/^Draw$|^Line, poly/, /^Line, poly/);
  await places('wide*0.4,0', 'wide/2,high*0.9');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  expect(await page.getByRole('alert').count()).toBe(0);
  await next(/^Revolve Profile 1, as a surface/, 'revolve');
  const wall = page.getByTestId(await last());
  await wall.getByRole('combobox').filter({ hasText: 'one way' }).selectOption({ label: 'half to either side' });
  const turn = wall.getByRole('textbox', { name: 'angle' });
  await turn.fill('90');
  await turn.press('Enter');
  // The side of a frustum (mensuration): π (R + r) s.
  const side = (Math.PI * (24 + 30) * Math.hypot(63, 6)) / 4 / 100;
  await done(await last(), new RegExp(`^${side.toFixed(2)} cm² of surface, 1 open border|^${side.toFixed(2)} cm`));

  // A V of two arcs trims it.
  await next(/^New drawing on the side plane/, 'drawing');
  await choose(/^Draw$|^Line, poly/, /^Arc through three/);
  await places('-wide/2,high*0.85', '0,high*0.6', '-wide/4,high*0.68');
  await places('0,high*0.6', 'wide/2,high*0.85', 'wide/4,high*0.68');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await next(/^Split Body 1/, 'split');
  const trimmed = page.getByTestId(await last());
  await trimmed.getByRole('combobox').filter({ hasText: 'every piece' }).selectOption({ label: 'what lies right of the line' });
  await page.waitForTimeout(500);
  await settled();

  // The inner arc behind one half of it, and the skin between.
  await next(/^Draw an arc in space/, 'arc');
  const arc = page.getByTestId(await last());
  for (const text of [
    'wide/6, 0, high*0.74',
    'wide/6*cos(22.5 deg), wide/6*sin(22.5 deg), high*0.76',
    'wide/6*cos(45 deg), wide/6*sin(45 deg), high*0.8',
  ]) {
    await arc.getByPlaceholder(/x, y, z/).fill(text);
    await arc.getByPlaceholder(/x, y, z/).press('Enter');
    await page.waitForTimeout(300);
  }
  await page.keyboard.press('Escape');
  await next(/^Loft a surface through lines/, 'loft');
  const skin = await last();
  await orbit(-75);
  await pick(/^border of line 1 of Profile 1.*2\d\.\d mm/, [400, 190]);
  await pick(/^the arc of step 3/, [370, 150]);
  await page.keyboard.press('Escape');
  await done(skin, /^passes its sections within 0\.000\d+ mm/);

  // Mirrored, knit, four times round: what is open is told each time.
  await next(/^Mirror Body 3/, 'mirror');
  await done(await last(), /^1 border open/);
  await next(/^Knit/, 'knit');
  await done(await last(), /^1 border open/);
  await next(/^Repeat Body 1 in a ring/, 'ring');
  await done(await last(), new RegExp(`4 in all, 90\\.000° apart; 2 borders open, of ${(2 * Math.PI * 24).toFixed(2)}`));

  // A turned stopper trims it and is trimmed by it; capped below it is a solid.
  await next(/^New half profile/, 'half');
  await choose(/^Draw$|^Line, poly/, /^Arc through three/);
  await places('0,high*1.2', 'wide/10,high', 'wide*0.14,high*1.13');
  await choose(/^Arc through/, /^Line, poly/);
  await places('wide/10,high', 'wide*0.3,high*0.6');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await next(/^Revolve Profile 3, as a surface/, 'revolve');
  await done(await last(), /1 open border/);
  await next(/^Trim Body/, 'trim');
  const trim = await last();
  await done(trim, /^1 border open/);
  await page.getByTestId(trim).getByRole('combobox').nth(2).selectOption({ label: 'what lies behind it' });
  await done(trim, new RegExp(`^1 border open, of ${(2 * Math.PI * 24).toFixed(2)} mm`));
  await next(/^Close/, 'close');
  await done(await last(), /^1 border closed/);
  await settled();
  const solid = await gauge('volume');

  // All edges of the leaves at once: one is picked, with all that are like it at every copy.
  await next(/^Round edges/, 'round');
  const round = await last();
  await pick(/^edge between .*line 1 of Profile 1 and .*side of Body 3/, [350, 260]);
  await page
    .getByTestId(round)
    .getByText(/alike, at every copy/)
    .click();
  const radius = page.getByTestId(round).getByRole('textbox', { name: 'radius', exact: true });
  await radius.fill('soft');
  await radius.press('Enter');
  await page.keyboard.press('Escape');
  await settled();
  await done(round, /^− 0\.\d+ cm/);
  const rounded = await gauge('volume');
  expect(rounded).toBeLessThan(solid);

  // The stopper is parted off by a turned surface.
  await next(/^New half profile/, 'half');
  await choose(/^Draw$|^Line, poly|^Arc through/, /^Line, poly/);
  await places('wide*0.42,high*0.83', 'wide/6,high*0.5', '0,high*0.5');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await next(/^Revolve Profile 4, as a surface/, 'revolve');
  await done(await last(), /1 open border/);
  await next(/^Split Body 1/, 'split');
  const part = await last();
  await done(part, /^the cut is \d+\.\d\d cm/);
  await settled();
  const volumes = async (): Promise<number[]> => (await savedSteps()).map((v) => v / 1000);
  const savedSteps = async (): Promise<number[]> => {
    const out = await savedStep(page);
    await page.getByRole('link', { name: 'Bench' }).click();
    return out;
  };
  const top = await gauge('volume');
  expect(await volumes()).toEqual([expect.closeTo(top, 2)]);

  // The vessel: how it leaves a mould, and where a label lies flat (a cone unrolls without strain).
  await page.getByRole('link', { name: 'Inspect' }).click();
  await page.getByRole('combobox', { name: 'Body', exact: true }).selectOption({ index: 1 });
  await page.getByText('Does it leave the mould?').click();
  await page.getByText('Faces below the limit').waitFor({ timeout: 60_000 });
  await page.getByText('Where does a label lie flat?').click();
  await page.getByText('Largest upright label').first().waitFor({ timeout: 90_000 });
  await page.getByText('Strain at its border').first().waitFor();
  expect(await page.getByText('0.00 %').count()).toBeGreaterThan(0);
  await page.getByRole('link', { name: 'Bench' }).click();

  // Grown by a quarter in all its dimensions, everything follows: volumes by the cube (similarity).
  for (const [name, text] of [
    ['wide', '75 mm'],
    ['high', '87.5 mm'],
    ['soft', '1.25 mm'],
  ] as const) {
    const field = page.getByRole('textbox', { name, exact: true }).first();
    await field.fill(text);
    await field.press('Enter');
    await page.waitForTimeout(300);
  }
  await settled();
  expect(await page.locator('[data-testid^=step-][data-state=failed]').count()).toBe(0);
  expect((await gauge('volume')) / (1.25 ** 3 * top)).toBeCloseTo(1, 3);
  await keepJob(page, 'Bath-salt cellar');
  expect(errors).toEqual([]);
}, 400_000);
