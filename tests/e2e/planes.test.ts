/** Drawings on planes of a body, and what is built from them. */
import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../support/browser';

let app: App;
beforeAll(async () => {
  app = await openApp(4309);
});
afterAll(() => app?.close());

const next = async (page: Page, name: RegExp): Promise<void> => {
  await page.getByText('next step…').click();
  await page.getByRole('option', { name }).first().click();
};
const places = async (page: Page, ...texts: string[]): Promise<void> => {
  const field = page.getByRole('textbox', { name: 'Next place' });
  for (const t of texts) {
    await field.fill(t);
    await field.press('Enter');
  }
};
const draw = async (page: Page, tool: RegExp): Promise<void> => {
  await page
    .getByRole('toolbar', { name: 'Drawing tools' })
    .getByRole('button', { name: /^(Draw|Line, polyline)$/ })
    .click();
  await page.getByRole('menuitem', { name: tool }).click();
};
const typed = async (page: Page, scope: string, name: string, text: string): Promise<void> => {
  const field = page.getByTestId(scope).getByRole('textbox', { name, exact: true });
  await field.fill(text);
  await field.press('Enter');
};
/** Volume a step added or took away, cm³. */
const gain = async (page: Page, step: string): Promise<number> => {
  // A step tells its figures while it is worked on.
  await page.getByTestId(step).click({ position: { x: 12, y: 12 } });
  return Number.parseFloat(/[+−] ([\d.]+) cm³/.exec((await page.getByTestId(step).textContent())!)![1]!);
};

it('a drawing on the rim follows its outline, is extruded, and goes up with it', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);
  // The rim is picked on the stage, from above.
  await next(page, /Place a plane on a flat face/);
  await page.keyboard.press('4');
  await page.waitForTimeout(600);
  const stage = (await page.getByRole('region', { name: 'Stage' }).boundingBox())!;
  await page.mouse.move(stage.x + stage.width / 2 + 25, stage.y + stage.height / 2 + 12);
  await page.getByTestId('hover-name').getByText('rim of Body').waitFor();
  await page.mouse.click(stage.x + stage.width / 2 + 25, stage.y + stage.height / 2 + 12);
  await page.getByTestId('step-s2').getByText('rim of Body').waitFor();
  await page.keyboard.press('6');
  await next(page, /New drawing on the plane of step 2/);
  await page.getByRole('application', { name: 'Drawing of Profile 2' }).waitFor();
  await page.getByRole('button', { name: 'More', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Follow the outline of Body 1' }).click();
  await page.getByRole('button', { name: 'Move', exact: true }).click();
  // The beaker's widest circle, radius 30, seen from above.
  const followed = page.locator('[data-curve^=f1-]');
  await followed.first().waitFor({ state: 'attached' });
  // A boss about the origin, half as wide as what it follows.
  await draw(page, /^Circle/);
  await places(page, '0, 0', '15, 0');
  await page.keyboard.press('Escape');
  await next(page, /Extrude Profile 2, joined/);
  await page
    .getByTestId('step-s3')
    .getByText(/\d faces/)
    .waitFor({ timeout: 60_000 });
  await typed(page, 'step-s3', 'length', '12 mm');
  const boss = (Math.PI * 225 * 12) / 1000;
  await page
    .getByTestId('step-s3')
    .getByText(`+ ${boss.toFixed(1)} cm³`)
    .waitFor({ timeout: 60_000 });
  expect(await gain(page, 'step-s3')).toBeCloseTo(boss, 1);
  // The plane rises with the rim.
  await measured(page);
  const height = async (): Promise<string> => (await page.getByTestId('gauge-height').textContent())!;
  expect(await height()).toContain('92.00');
  const field = page.getByRole('textbox', { name: 'height', exact: true });
  await field.fill('100 mm');
  await field.press('Enter');
  await page.waitForFunction(() => document.querySelector('[data-testid=gauge-height]')!.textContent!.includes('112.00'), null, {
    timeout: 60_000,
  });
  expect(errors).toEqual([]);
});

it('a drawing across the body cuts through it, and the cut is repeated in a ring', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);
  await next(page, /New drawing on the front plane/);
  await draw(page, /^Circle/);
  await places(page, '0, 40', '5, 40');
  await page.keyboard.press('Escape');
  await next(page, /Extrude Profile 2, cut/);
  await page
    .getByTestId('step-s2')
    .getByText(/\d faces/)
    .waitFor({ timeout: 60_000 });
  const once = await gain(page, 'step-s2');
  expect(once).toBeGreaterThan(4);
  await next(page, /Repeat a step in a row/);
  await page.getByTestId('step-s3').getByRole('combobox', { name: 'along' }).selectOption('ring');
  await typed(page, 'step-s3', 'count with the original', '3');
  await typed(page, 'step-s3', 'angle', '180°');
  await page.getByTestId('step-s3').getByText('3 in all, 90.000° apart').waitFor({ timeout: 60_000 });
  expect(errors).toEqual([]);
});

it('bodies are set up, named, coloured, hidden, split and put away', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);
  await next(page, /Set up a box/);
  await page
    .getByTestId('step-s2')
    .getByText(/6 faces/)
    .waitFor({ timeout: 60_000 });
  await page.getByRole('textbox', { name: 'Name of Body 2' }).fill('Foot block');
  await page.getByRole('textbox', { name: 'Name of Body 2' }).press('Enter');
  await page.getByTestId('body-s2').getByRole('button', { name: 'gauges' }).click();
  await page.waitForFunction(() => document.querySelector('[data-testid=gauge-volume]')!.textContent!.includes('24.00'), null, {
    timeout: 60_000,
  });
  await page.getByRole('button', { name: 'Hide Foot block' }).click();
  await page.getByRole('button', { name: 'Show Foot block' }).click();
  // One body by itself, and all of them again.
  await page.getByRole('button', { name: 'Show only Foot block' }).click();
  await page.getByRole('button', { name: /^Show (?!only|all|Foot)/ }).waitFor();
  await page.getByRole('button', { name: 'Show all bodies' }).click();
  await page.getByRole('button', { name: 'Hide Foot block' }).waitFor();
  // Its values are taken hold of where they stand: pulled, moved by a key, typed there; a value that follows others is not.
  const field = page.getByTestId('step-s2').getByRole('textbox', { name: 'height', exact: true });
  const handle = page.getByTestId('handle-height');
  const [x, y] = await handle.boundingBox().then((b) => [b!.x + b!.width / 2, b!.y + b!.height / 2] as const);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y - 60, { steps: 6 });
  // What it would be is seen at once, and said to be rough.
  await page.getByText('roughly; exact once it is built').waitFor();
  await page.mouse.up();
  const pulled = Number.parseFloat(await field.inputValue());
  expect(pulled).toBeGreaterThan(21);
  await measured(page);
  await handle.focus();
  await page.keyboard.press('ArrowDown');
  expect(await field.inputValue()).toBe(`${Number((pulled - 0.5).toFixed(3))} mm`);
  await measured(page);
  await handle.press('Enter');
  await page.getByRole('textbox', { name: 'height here' }).fill('24 mm');
  await page.keyboard.press('Enter');
  expect(await field.inputValue()).toBe('24 mm');
  await page.keyboard.press('Escape');
  await field.fill('12 mm * 2');
  await field.press('Enter');
  await page.getByTestId('handle-height').and(page.locator('[aria-disabled=true]')).waitFor();
  await next(page, /Combine bodies/);
  await page
    .getByTestId('step-s3')
    .getByText(/\d faces/)
    .waitFor({ timeout: 60_000 });
  await page.getByTestId('body-s2').waitFor({ state: 'detached' });
  expect(errors).toEqual([]);
});

it('a STEP file is brought in as a body, and one that is none is refused in words', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);
  await page.getByRole('link', { name: 'Make' }).click();
  await page
    .getByRole('radio', { name: /STEP/ })
    .or(page.getByText('STEP', { exact: true }))
    .first()
    .click();
  const coming = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save .*\.step$/ }).click();
  const path = await (await coming).path();
  await page.getByRole('link', { name: 'Bench' }).click();
  const choose = async (file: string | { name: string; mimeType: string; buffer: Buffer }): Promise<void> => {
    const asked = page.waitForEvent('filechooser');
    await next(page, /Bring in a STEP file/);
    await (await asked).setFiles(file as never);
  };
  await choose({ name: 'cup.step', mimeType: 'model/step', buffer: Buffer.from('solid cup') });
  await page.getByText('This is not a STEP file.').waitFor();
  await choose({ name: 'cup.step', mimeType: 'model/step', buffer: readFileSync(path) });
  await page
    .getByTestId('step-s2')
    .getByText(/3 faces/)
    .waitFor({ timeout: 60_000 });
  expect(await gain(page, 'step-s2')).toBeCloseTo(await gain(page, 'step-s1'), 1);
  // A step that needs the body can't be moved before it.
  await next(page, /Combine bodies/);
  await page.getByTestId('step-s3').getByText(/faces/).waitFor({ timeout: 60_000 });
  await page.getByRole('button', { name: 'More for step 3' }).click();
  await page.getByRole('menuitem', { name: 'Move up' }).click();
  await page.getByText('would come before what it is built on').waitFor();
  expect(errors).toEqual([]);
});

it('a line in space is drawn, a place of it dragged, a piece of it taken', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New project' }).click();
  const step = (id: string) => page.getByTestId(id);
  const through = async (id: string, ...places: string[]): Promise<void> => {
    await page.keyboard.press('Escape');
    const field = step(id).getByRole('textbox', { name: 'place to add' });
    for (const place of places) {
      await field.fill(place);
      await field.press('Enter');
    }
  };
  await next(page, /^Draw a line in space/);
  await through('step-s1', '0, 0, 0', '40, 0, 10', '60, 30, 40');
  await step('step-s1')
    .getByText(/^88\.135 mm long/)
    .waitFor({ timeout: 60_000 });
  // A place is pulled in the plane that faces the viewer, or moved by a key.
  const place = page.getByTestId('place-places-1');
  const [x, y] = await place.boundingBox().then((b) => [b!.x + b!.width / 2, b!.y + b!.height / 2] as const);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 40, y - 40, { steps: 5 });
  await page.mouse.up();
  const typed = step('step-s1').getByRole('textbox', { name: 'place 2' });
  const pulled = await typed.inputValue();
  expect(pulled).not.toBe('40, 0, 10');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  expect(await typed.inputValue()).toBe('40, 0, 10');
  await place.press('ArrowUp');
  expect(await typed.inputValue()).toBe('40, 0, 10.5 mm');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();

  await next(page, /^Draw a piece of a curve/);
  await page.keyboard.press('Escape');
  await step('step-s2').getByRole('combobox', { name: 'add a curve' }).selectOption({ index: 1 });
  await through('step-s2', '40, 0, 10');
  await step('step-s2')
    .getByText(/^41\.231 mm long/)
    .waitFor({ timeout: 60_000 });
  expect(errors).toEqual([]);
});
