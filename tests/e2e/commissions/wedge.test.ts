/** A drain wedge in inches, from a new project by mouse and keyboard: flat sides between two outlines, a hollow, a drawing on a slanted side, a mirror, its file. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { savedStep } from '../../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4318, 'none');
});
afterAll(() => app?.close());

/** Inches: the outer outline in front of the plane, the inner one 0.7 before it, every side of it parallel. */
const OUTER = [
  [0, 0],
  [2, 0],
  [2.4, 0.8],
  [1, 1.5],
  [-0.2, 0.8],
] as const;
const inner = ([x, y]: readonly [number, number]): readonly [number, number] => [0.75 * x + 0.25, 0.75 * y + 0.2];

it('is built, measured in inches, and saved', async () => {
  const { page, errors } = await app.page();
  const { next, places, choose, value, gauge, remove, settled, state, pickFrom, last } = handOn(page);
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);
  await page.getByText('shown in mm').click();

  const draw = async (plane: RegExp, outline: readonly (readonly [number, number])[]): Promise<void> => {
    await next(plane, 'drawing');
    await places(...[...outline, outline[0]!].map(([x, y]) => `${x} in, ${y} in`));
    await page.keyboard.press('Escape');
  };
  await draw(/^New drawing on the front plane/, OUTER);
  await next(/^Place a plane at a distance/);
  await page.getByTestId('step-s2').locator('select').first().selectOption({ label: 'the front plane' });
  await value('step-s2', 'distance', '0.7 in');
  await draw(/^New drawing on the plane of step/, OUTER.map(inner));
  await next(/^Loft/, 'loft');
  await settled();
  await remove('step-s1');
  // The shoelace formula, and a frustum's volume.
  const area = Math.abs(OUTER.reduce((sum, [x, y], i) => sum + x * OUTER[(i + 1) % 5]![1] - OUTER[(i + 1) % 5]![0] * y, 0)) / 2;
  const solid = (0.7 * area * (1 + 0.75 + 0.75 ** 2)) / 3;
  expect(await gauge('volume')).toBeCloseTo(solid, 2);

  await next(/^Hollow Body 2, open where/, 'Hollow');
  await pickFrom('Front');
  await page.keyboard.press('Escape');
  await value(await last(), 'wall', '0.09 in');
  expect(await state(await last())).toBe('done');
  expect(await gauge('wall-min')).toBeCloseTo(0.09, 3);
  const hollowed = await gauge('volume');

  // A drawing on the slanted side below, 0.1 within its edges, sunk by 0.05.
  await next(/^Place a plane on a flat face/, 'flat face');
  await pickFrom('Below');
  await settled();
  expect(await page.getByTestId(await last()).textContent()).toContain('line 1 of Body 2');
  await next(/^New drawing on the plane of step 4/, 'drawing');
  await page.keyboard.press('Escape');
  await choose('More', /^Follow edges/);
  const stage = (await page.locator('canvas').boundingBox())!;
  for (const [x, y] of [
    [334, 169],
    [474, 227],
    [334, 285],
    [183, 227],
  ] as const) {
    await page.mouse.move(stage.x + x, stage.y + y);
    await page.waitForTimeout(200);
    await page.mouse.click(stage.x + x, stage.y + y);
    await page.waitForTimeout(200);
  }
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Move', exact: true }).click();
  await choose('More', /^Choose everything/);
  await choose('Alter', /^Offset, kept/);
  const distance = page.getByRole('textbox', { name: 'Distance', exact: true });
  await distance.fill('0.1 in');
  await distance.press('Enter');
  await page.getByRole('combobox', { name: 'Side', exact: true }).selectOption('right');
  await next(/^Extrude Profile 4, cut/, 'Extrude Profile 4');
  const cut = await last();
  await page.getByTestId(cut).getByRole('combobox', { name: 'extent' }).selectOption('one');
  await value(cut, 'length', '0.05 in');
  expect(await state(cut)).toBe('done');
  // An even inset by d of a convex outline leaves A − P d + d² Σ cot(θ/2), θ the angles inside.
  const [long, short, high] = [2, 1.5, Math.hypot(0.7, 0.2)];
  const lean = Math.atan2(high, (long - short) / 2);
  const perimeter = long + short + 2 * Math.hypot(high, (long - short) / 2);
  const cot = (angle: number): number => 1 / Math.tan(angle / 2);
  const pocket = ((long + short) / 2) * high - 0.1 * perimeter + 0.01 * (2 * cot(lean) + 2 * cot(Math.PI - lean));
  expect(hollowed - (await gauge('volume'))).toBeCloseTo(0.05 * pocket, 2);
  const half = await gauge('volume');

  await next(/^Mirror Body 2/, 'Mirror');
  await page
    .getByTestId(await last())
    .locator('select')
    .filter({ hasText: 'the front plane' })
    .selectOption({ label: 'the front plane' });
  await settled();
  expect(await state(await last())).toBe('done');
  expect(await gauge('volume')).toBeCloseTo(2 * half, 2);

  // A change at the beginning reaches the end.
  await value('step-s2', 'distance', '0.8 in');
  expect(await state(await last())).toBe('done');
  expect(await gauge('volume')).toBeGreaterThan(2 * half);
  await value('step-s2', 'distance', '0.7 in');

  const saved = await savedStep(page);
  expect(saved.map((v) => v / 25.4 ** 3)).toEqual([expect.closeTo(2 * half, 2)]);
  await keepJob(page, 'Drain wedge');
  expect(errors).toEqual([]);
}, 240_000);
