/** A ribbed bar from a new project by mouse and keyboard: sections on three planes, one drawn once; gaps cut in one go; ribs as one body of many pieces; its file. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { savedStep } from '../../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4319, 'none');
});
afterAll(() => app?.close());

/** Area of half a section a share of the way from an end to the middle: a trapezoid whose sides all change evenly. */
const area = (share: number): number => ((12 + 4 * share + 8 + 3 * share) / 2) * (7 + 2 * share);
/** Between two places of a bar of a length, by Simpson's rule, which is exact for it on either side of the middle. */
function between(a: number, b: number, length: number): number {
  const half = length / 2;
  if (a < half && b > half) return between(a, half, length) + between(half, b, length);
  const at = (x: number): number => area(1 - Math.abs(x - half) / half);
  return ((b - a) / 6) * (at(a) + 4 * at((a + b) / 2) + at(b));
}
/** Both halves, in cm³, less gaps of 2 mm, 5 apart, from 9 mm to 14 before the end. */
function ribbed(length: number): { ribs: number; volume: number } {
  const gaps = Math.floor((length - 23 + 3) / 5);
  const cut = Array.from({ length: gaps }, (_, k) => between(9 + 5 * k, 11 + 5 * k, length)).reduce((a, b) => a + b, 0);
  return { ribs: gaps + 1, volume: (2 * (between(0, length, length) - cut)) / 1000 };
}

it('is lofted, cut into ribs, mirrored, made longer, rounded along its back and saved', async () => {
  const { page, errors } = await app.page();
  const { next, places, tool, value, gauge, remove, settled, state, last } = handOn(page);
  const row = async () => page.getByTestId(await last());
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);

  await next(/^New drawing on the side plane/, 'drawing');
  await places('0,0', '12,0', '8,7', '0,7', '0,0');
  await page.keyboard.press('Escape');
  const plane = async (at: string): Promise<void> => {
    await next(/^Place a plane at a distance/);
    await (await row()).locator('select').first().selectOption({ label: 'the side plane' });
    await value(await last(), 'distance', at);
  };
  await plane('height / 2');
  await next(/^New drawing on the plane of step/, 'drawing');
  await places('0,0', '16,0', '11,9', '0,9', '0,0');
  await page.keyboard.press('Escape');
  await plane('height');
  // The first section stands at the other end too, drawn once.
  await page.getByRole('combobox', { name: 'Profile on the board' }).selectOption({ label: 'Profile 2' });
  await page.keyboard.press('Escape');
  await page.getByRole('combobox', { name: 'Copy the drawing to' }).selectOption({ label: 'the plane of step 3' });
  await page.getByText('one drawing with Profile 2').waitFor();
  await next(/^Loft through/, 'loft');
  // It begins with all outlines that nothing is built from.
  await (await row()).getByRole('combobox', { name: 'skin' }).selectOption({ label: 'straight from one to the next' });
  await settled();
  await remove('step-s1');
  expect(await gauge('volume')).toBeCloseTo(between(0, 80, 80) / 1000, 2);

  await next(/^New drawing on the front plane/, 'drawing');
  await tool(/^Draw|Line, polyline/, /^Rectangle/);
  await places('9,-1', '11,20');
  await page.keyboard.press('Escape');
  await next(/^Extrude Profile 5, cut/, 'Extrude Profile 5');
  await settled();
  // It falls apart: that is said, and each way out works at the first click.
  await page.getByText('it falls into 2 separate pieces').waitFor();
  await (await row()).getByRole('button', { name: 'both pieces together as one body' }).click();
  await settled();
  await next(/^Repeat a step in a row/, 'Repeat');
  await (await row()).getByRole('combobox', { name: 'by' }).selectOption({ label: 'as many as fit within' });
  await value(await last(), 'spacing or length', 'height - 9 - 14');
  await value(await last(), 'gap', '3 mm');
  await (await row()).getByText('12 in all, 5.000 mm apart, 3.000 mm between').waitFor();
  await next(/^Mirror Body 2/, 'Mirror');
  await settled();
  // It begins with the plane that the half lies against.
  expect(await (await row()).getByRole('combobox', { name: 'plane' }).inputValue()).toBe('front');
  expect(await state(await last())).toBe('done');
  expect(await gauge('volume')).toBeCloseTo(ribbed(80).volume, 2);
  expect(await gauge('width')).toBeCloseTo(80, 2);
  expect(await gauge('depth')).toBeCloseTo(2 * (12 + 4 * (39 / 40)), 1);

  // A change at the beginning reaches the end: longer, with more ribs.
  const length = page.getByRole('textbox', { name: 'height', exact: true }).first();
  for (const long of [100, 70]) {
    await length.fill(`${long} mm`);
    await length.press('Enter');
    await settled();
    expect([long, await state(await last())]).toEqual([long, 'done']);
    expect([long, await gauge('volume')]).toEqual([long, expect.closeTo(ribbed(long).volume, 2)]);
  }

  // All edges along the back within one frame, and none of those that go down its flanks.
  await next(/^Round edges/, 'round');
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.waitForTimeout(900);
  const stage = (await page.locator('canvas').boundingBox())!;
  await page.keyboard.down('Shift');
  await page.mouse.move(stage.x + 60, stage.y + 100);
  await page.mouse.down();
  await page.mouse.move(stage.x + 200, stage.y + 200, { steps: 3 });
  await page.mouse.move(stage.x + stage.width - 40, stage.y + 230, { steps: 3 });
  await page.getByTestId('pick-frame').waitFor();
  await page.mouse.up();
  await page.keyboard.up('Shift');
  await settled();
  await (await row()).getByText(/^and \d+ more$/).waitFor();
  await page.keyboard.press('Escape');
  await value(await last(), 'radius', '0.4 mm');
  expect(['done', 'warned']).toContain(await state(await last()));
  const volume = await gauge('volume');
  expect(volume).toBeLessThan(ribbed(70).volume);

  const saved = await savedStep(page);
  expect(saved).toHaveLength(ribbed(70).ribs);
  expect(saved.reduce((sum, v) => sum + v / 1000, 0)).toBeCloseTo(volume, 2);
  await keepJob(page, 'Ribbed massage bar');
  expect(errors).toEqual([]);
}, 300_000);
