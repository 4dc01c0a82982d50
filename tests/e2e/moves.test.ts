/** What moves what, on a beaker: how far a dimension goes, what each moves, two gauges brought home together. */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../support/browser';
import { handOn } from '../support/hand';

let app: App;
beforeAll(async () => {
  app = await openApp(4353, 'none');
});
afterAll(() => app.close());

/** What a beaker holds, L: 25 mm at its foot and 30 at its rim, its wall square to its side (mensuration of a frustum). */
function held(height: number, wall: number): number {
  const aside = wall * Math.hypot(1, 5 / height);
  const [a, b] = [25 + (5 * wall) / height - aside, 30 - aside];
  return ((Math.PI * (height - wall)) / 3) * (a * a + a * b + b * b) * 1e-6;
}
/** Its material, cm³. */
const material = (height: number, wall: number): number => ((Math.PI * height) / 3) * (625 + 750 + 900) * 1e-3 - held(height, wall) * 1e3;

it('is told of a beaker’s wall and its height, taken, and two gauges are brought home by both', async () => {
  const { page, errors } = await app.page();
  const { next, value, gauge } = handOn(page);
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);
  await next(/^Hollow .* open at its topmost flat face/);
  await value('step-s2', 'wall', 'wall');
  expect(await gauge('capacity-brim')).toBeCloseTo(held(80, 2), 4);

  const moved = page.getByRole('combobox', { name: 'Moved by' });
  const card = page.getByTestId('moves');
  const over = () => page.waitForFunction(() => !document.querySelector('[data-testid=moves] [role=status]'), null, { timeout: 120_000 });

  // How far the wall goes: until nothing is left within at its rim.
  await page.getByRole('button', { name: 'What wall moves' }).click();
  await page.getByTestId('range').waitFor({ timeout: 120_000 });
  await over();
  const told = (await card.textContent())!;
  const most = Number(/ to ([\d.]+) mm/.exec(told)![1]);
  expect(most).toBeGreaterThan(20);
  expect(most).toBeLessThan(30);
  expect(told).toMatch(/beyond: step 2 \(Hollow\): /);
  // Gone along, every gauge is read there; nothing is changed until it is taken.
  const wall = page.getByRole('textbox', { name: 'wall', exact: true }).first();
  await page.getByRole('slider', { name: 'wall that was tried' }).press('ArrowRight');
  await page.getByRole('slider', { name: 'wall that was tried' }).press('ArrowRight');
  const curve = page.getByTestId('curve-capacity-brim');
  const at = Number(/at ([\d.]+) mm/.exec((await curve.getByRole('img').getAttribute('aria-label'))!)![1]);
  expect(at).toBeGreaterThan(2);
  expect(await curve.textContent()).toContain(`${held(80, at).toFixed(4)} L`);
  expect(await wall.inputValue()).toBe('2 mm');
  await page.getByRole('button', { name: /^take / }).click();
  await measured(page);
  expect(Number.parseFloat(await wall.inputValue())).toBeCloseTo(at, 3);
  expect(await gauge('capacity-brim')).toBeCloseTo(held(80, at), 4);
  // It stands for any wall; of another height it would not.
  expect(await card.textContent()).not.toContain('changed since');
  await page.getByRole('button', { name: 'Undo' }).click();
  await measured(page);
  const table = page.waitForEvent('download');
  await page.getByRole('button', { name: 'save as a table' }).click();
  expect(readFileSync((await (await table).path())!, 'utf8')).toMatch(/^wall,Height \(?,? ?mm|^wall,/);

  // What every dimension moves, as it stands.
  await moved.selectOption({ label: 'every dimension, as it stands' });
  await page.getByTestId('movers-capacity-brim').waitFor({ timeout: 120_000 });
  await over();
  const rows = (await page.getByTestId('movers-capacity-brim').textContent())!.replace(/−/g, '-');
  const slope = (name: RegExp): number => Number(name.exec(rows)![1]);
  expect(slope(/height \+1 mm([+-][\d.]+)/)).toBeCloseTo(held(80.5, 2) - held(79.5, 2), 5);
  expect(slope(/wall \+0\.1 mm([+-][\d.]+)/)).toBeCloseTo(held(80, 2.05) - held(80, 1.95), 5);

  // Two gauges by two dimensions; the one it begins with is the strongest.
  await page.getByRole('button', { name: /^Bring Capacity to the brim/ }).click();
  expect(await page.getByRole('combobox', { name: 'Dimension to change', exact: true }).inputValue()).toBe('height');
  await page.getByRole('textbox', { name: 'Capacity to the brim wanted' }).fill('0.2');
  await page.getByRole('button', { name: 'another gauge with it' }).click();
  await page.getByRole('combobox', { name: 'Second gauge' }).selectOption({ label: 'Material volume' });
  await page.getByRole('textbox', { name: 'Material volume wanted' }).fill('50');
  await page.getByRole('button', { name: 'Look for it' }).click();
  await page.getByTestId('reached').waitFor({ timeout: 120_000 });
  await page.getByRole('button', { name: 'Take both' }).click();
  await measured(page);
  const height = page.getByRole('textbox', { name: 'height', exact: true }).first();
  const [h, t] = [Number.parseFloat(await height.inputValue()), Number.parseFloat(await wall.inputValue())];
  expect(held(h, t)).toBeCloseTo(0.2, 6);
  expect(material(h, t)).toBeCloseTo(50, 3);
  expect(await gauge('capacity-brim')).toBe(0.2);
  expect(await card.textContent()).toContain('changed since');

  // Not beyond a limit that is given; and none but the one.
  await page.getByRole('button', { name: /^Bring Capacity to the brim/ }).click();
  await page.getByRole('textbox', { name: 'Capacity to the brim wanted' }).fill('0.3');
  await page.getByRole('combobox', { name: 'Dimension to change', exact: true }).selectOption('height');
  await page.getByRole('button', { name: 'within limits' }).click();
  const limit = page.getByRole('textbox', { name: 'height at most' });
  await limit.fill('4°');
  expect(await page.getByRole('button', { name: 'Look for it' }).getAttribute('aria-disabled')).toBe('true');
  await limit.fill('120');
  await page.getByRole('button', { name: 'Look for it' }).click();
  await page.getByText('height is to stay at most 120 mm').waitFor({ timeout: 120_000 });
  await limit.fill('');
  await page.getByRole('button', { name: 'Look for it' }).click();
  await page.getByTestId('reached').waitFor({ timeout: 120_000 });
  await page.getByRole('button', { name: 'look for others' }).click();
  await page.getByText(/^No other from /).waitFor({ timeout: 120_000 });
  expect(errors).toEqual([]);
});
