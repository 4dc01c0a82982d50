/** A carved tray from a new project by mouse and keyboard: an outline and its mirror image, a centre line, rails that meet them, a skin, upright walls, a flat place. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { savedStep } from '../../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4337, 'none');
});
afterAll(() => app?.close());

type Place = readonly [number, number];
/** Control points of half the outline, across and away. */
const OUTLINE: readonly Place[] = [
  [14, -80],
  [46, -62],
  [62, 0],
  [46, 62],
  [14, 80],
];
/** The cubic spline they control, by de Boor's recurrence; its knots lie evenly. */
function outline(t: number): Place {
  const knots = [0, 0, 0, 0, 0.5, 1, 1, 1, 1];
  const span = t < 0.5 ? 3 : 4;
  const d = Array.from({ length: 4 }, (_, j) => [...OUTLINE[span - 3 + j]!]);
  for (let r = 1; r <= 3; r++)
    for (let j = 3; j >= r; j--) {
      const i = span - 3 + j;
      const a = (t - knots[i]!) / (knots[i + 4 - r]! - knots[i]!);
      d[j] = [0, 1].map((k) => (1 - a) * d[j - 1]![k]! + a * d[j]![k]!);
    }
  return [d[3]![0]!, d[3]![1]!];
}
/** How far out it lies at a place away. */
function across(y: number): number {
  let [low, high] = [0, 1];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (outline(middle)[1] < y) low = middle;
    else high = middle;
  }
  return outline(low)[0];
}
/** The centre line: away and up, through places. */
const CENTRE: readonly Place[] = [
  [-80.5, -4],
  [-45, -17],
  [0, -20],
  [45, -17],
  [80.5, -4],
];

it('is led through its lines by rails, given upright walls, a flat place, and saved', async () => {
  const { page, errors } = await app.page();
  const { next, places, choose, value, gauge, settled, state, last, pick, dimension } = handOn(page);
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New project' }).click();
  const step = (id: string) => page.getByTestId(id);

  await dimension('thick', '3 mm');
  await next(/^New drawing on the level plane/, 'drawing');
  await page.waitForTimeout(400);
  await choose(/^(Draw|Line, polyline)/, /^Spline by control points/);
  await places(...OUTLINE.map((p) => p.join(',')), '');
  await page.keyboard.press('Escape');
  await choose('More', /^Choose everything/);
  await choose('Alter', /^Mirror, kept/);
  await page.getByText('Mirror image').waitFor();
  await next(/^New drawing on the side plane/, 'drawing');
  await page.waitForTimeout(400);
  await choose(/^(Draw|Line, polyline|Spline)/, /^Spline through/);
  await places(...CENTRE.map((p) => p.join(',')), '');
  await page.keyboard.press('Escape');

  // Three rails across, each from the outline down through the centre line and up to its image.
  for (const [y, z] of [CENTRE[1]!, CENTRE[2]!, CENTRE[3]!]) {
    await next(/^Draw a smooth curve in space/, 'smooth curve');
    await page.keyboard.press('Escape');
    const rail = await last();
    const field = step(rail).getByRole('textbox', { name: 'place to add' });
    const x = across(y);
    for (const [k, h] of [
      [1, 0],
      [0.55, 0.75],
      [0, 1],
      [-0.55, 0.75],
      [-1, 0],
    ] as const) {
      await field.fill(`${(k * x).toFixed(6)}, ${y}, ${(h * z).toFixed(6)}`);
      await field.press('Enter');
    }
    await step(rail)
      .getByText(/mm long, bends down to/)
      .waitFor({ timeout: 60_000 });
  }

  await next(/^Loft a surface through lines/, 'ruled surface');
  const skin = await last();
  await page.waitForTimeout(900);
  await pick(/^control 1 of Profile 1/, [480, 280]);
  await pick(/^spline 1 of Profile 2/, [340, 350]);
  await pick(/^mirror image of control 1 of Profile 1/, [200, 330]);
  await page.keyboard.press('Escape');
  await step(skin).getByRole('combobox', { name: 'skin' }).selectOption('smooth');
  for (let k = 0; k < 3; k++) {
    await step(skin).getByRole('combobox', { name: 'add a curve' }).selectOption({ index: 1 });
    await page.waitForTimeout(400);
  }
  await step(skin)
    .getByText(/its rails (exactly|within 0\.00\d+ mm); .* 1 open border/)
    .waitFor({ timeout: 60_000 });
  const off = /its rails within (0\.\d+) mm/.exec((await step(skin).textContent())!);
  expect(Number(off?.[1] ?? 0)).toBeLessThan(0.005);

  // Pushed straight down, its ends upright.
  await next(/^Give a wall to/, 'wall');
  const wall = await last();
  await value(wall, 'wall', 'thick');
  await step(wall).getByRole('combobox', { name: 'side' }).selectOption('against');
  await settled();
  expect([await state(wall), await step(wall).textContent()]).toEqual(['done', expect.anything()]);
  const volume = await gauge('volume');
  // What is pushed by so much holds that times what it covers: twice what lies between the outline and the middle, and at the ends a little more.
  let half = 0;
  for (let i = 0; i < 2000; i++) {
    const [p, q] = [outline(i / 2000), outline((i + 1) / 2000)];
    half += ((p[0] + q[0]) * (q[1] - p[1])) / 2;
  }
  expect(volume / ((2 * half * 3) / 1000)).toBeGreaterThan(1);
  expect(volume / ((2 * half * 3) / 1000)).toBeLessThan(1.02);
  const thick = page.getByRole('textbox', { name: 'thick', exact: true }).first();
  for (const mm of [3.75, 3]) {
    await thick.fill(`${mm} mm`);
    await thick.press('Enter');
    await settled();
    expect(await state(wall)).toBe('done');
    expect(Math.abs((await gauge('volume')) / volume - mm / 3)).toBeLessThan(1e-3);
  }

  // A flat place of ⌀ 24 in its middle, 2.5 over the carved ground.
  await next(/^Place a plane at a distance/);
  const ground = await last();
  await step(ground).locator('select').first().selectOption({ label: 'the level plane' });
  await value(ground, 'distance', '-23 mm');
  await next(/^Set up a box, cylinder/, 'cylinder');
  const seat = await last();
  await settled();
  await step(seat).getByRole('combobox', { name: 'shape' }).selectOption('cylinder');
  await step(seat).getByRole('combobox', { name: 'plane' }).selectOption({ index: 3 });
  await step(seat).getByRole('combobox', { name: 'mode' }).selectOption('join');
  await value(seat, 'diameter', '24 mm');
  await value(seat, 'height', '5.5 mm');
  expect(await state(seat)).toBe('done');
  const seated = await gauge('volume');
  // Between a disc of 2.5 and one that the ground takes nothing of.
  expect(seated - volume).toBeGreaterThan(0.4);
  expect(seated - volume).toBeLessThan((Math.PI * 144 * 2.5) / 1000);

  // The light runs over it: the question is answered for the whole skin.
  await page.getByRole('link', { name: 'Inspect' }).click();
  await page.getByRole('button', { name: /^How does light run over it/ }).click();
  await page.waitForFunction(() => /^measured in/.test(document.querySelector('[data-testid=inspect-state]')?.textContent ?? ''), null, {
    timeout: 60_000,
  });

  const saved = await savedStep(page);
  expect(saved.map((v) => v / 1000)).toEqual([expect.closeTo(seated, 2)]);
  await keepJob(page, 'Carved tray');
  expect(errors).toEqual([]);
}, 400_000);
