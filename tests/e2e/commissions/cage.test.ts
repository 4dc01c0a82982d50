/** A cage edited in the real interface: picked on the stage, shaped by sentences, handle and keys, kept symmetric, mended, made solid. */
import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { readStep } from '../../../src/kernel/exchange/step-read';
import { type App, emptyBench, measured, newBeaker, openApp } from '../../support/browser';
import { formHandOn, handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { testKernel } from '../../support/kernel';
import { everyCase } from '../../support/properties';

let app: App;
beforeAll(async () => {
  app = await openApp(4312, 'none');
});
afterAll(() => app?.close());

it('shapes a rounded box by its cage: faces drawn out and moved on both sides, an opening filled, what can’t be refused in words', async () => {
  const { page, errors } = await app.page();
  await emptyBench(page, app.url);
  const built = async (): Promise<void> => {
    await page.waitForFunction(() => /^1 done/.test(document.querySelector('[data-testid=build-summary]')?.textContent ?? ''), null, {
      timeout: 120_000,
    });
  };
  await page.getByText('next step…').click();
  await page.getByPlaceholder('what should happen next?').fill('Form a rounded');
  await page.getByRole('option', { name: /Form a rounded box/ }).click();
  await built();

  const { form, press: verb, type, doIt } = formHandOn(page);
  const picked = form.getByTestId('picked');
  const counts = form.getByTestId('cage-counts');
  const says = async (where: typeof picked, words: RegExp): Promise<void> => {
    await where.getByText(words).first().waitFor({ timeout: 20_000 });
  };
  await says(counts, /34 vertices, 32 faces/);

  // A face of the cage is clicked on the stage; the other side follows by symmetry.
  await form.getByRole('checkbox', { name: 'left and right' }).check();
  await page.getByRole('button', { name: 'Above', exact: true }).click();
  await page.waitForTimeout(800);
  const stage = (await page.locator('canvas').boundingBox())!;
  await page.mouse.click(stage.x + stage.width / 2 + 85, stage.y + stage.height / 2 + 40);
  await says(picked, /1 face, middle at/);
  await verb('extrude');
  await type('distance', '12 mm');
  await doIt();
  await says(counts, /42 vertices, 40 faces/);
  await says(picked, /2 faces/);
  const height = form.getByRole('textbox', { name: 'height on the body' });
  const high = async (): Promise<number> => Number.parseFloat(await height.inputValue());
  await page.waitForFunction(
    () => Number.parseFloat((document.querySelector('input[aria-label="height on the body"]') as HTMLInputElement).value) > 42,
  );
  const grown = await high();

  // Back and forth: one edit, one change.
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await says(counts, /34 vertices, 32 faces/);
  expect(await high()).toBe(40);
  await page.getByRole('button', { name: 'Redo', exact: true }).click();
  await says(counts, /42 vertices, 40 faces/);
  expect(await high()).toBe(grown);

  // The handle: by keys, and drawn by the mouse while the body follows.
  await form.getByRole('combobox', { name: 'Way of the handle' }).selectOption('z');
  const handle = page.getByRole('button', { name: 'Move what is picked' });
  // After undoing nothing is picked that is there twice: the top faces are picked by a plane.
  await form.getByRole('combobox', { name: 'Side of the plane' }).selectOption('over');
  await form.getByRole('textbox', { name: 'place of the plane' }).fill('41 mm');
  await form.getByRole('textbox', { name: 'place of the plane' }).press('Enter');
  await form.getByRole('button', { name: 'pick', exact: true }).click();
  await says(picked, /2 faces/);
  await handle.focus();
  await page.keyboard.press('Shift+ArrowUp');
  await page.waitForFunction(
    (was) => Number.parseFloat((document.querySelector('input[aria-label="height on the body"]') as HTMLInputElement).value) > was + 2,
    grown,
  );
  const stepped = await high();
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  // It stands above the body there, once the view has come round.
  let grip = (await handle.boundingBox())!;
  for (let k = 0; k < 40 && grip.y > stage.y + 0.4 * stage.height; k++) {
    await page.waitForTimeout(250);
    grip = (await handle.boundingBox())!;
  }
  await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
  await page.mouse.down();
  for (let i = 1; i <= 6; i++) await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2 - 6 * i);
  await page.waitForTimeout(300);
  await page.getByText(/^z \d/).first().waitFor();
  await page.mouse.up();
  await page.waitForFunction(
    (was) => Number.parseFloat((document.querySelector('input[aria-label="height on the body"]') as HTMLInputElement).value) > was + 1,
    stepped,
  );
  await built();

  // Larger by the same handle: one per cent a key, ten with Shift.
  await form.getByRole('combobox', { name: 'Way of the handle' }).selectOption('size');
  const at = await form.getByRole('textbox', { name: 'width on the body' }).inputValue();
  await handle.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('Shift+ArrowUp');
  await page.waitForFunction(
    (was) => (document.querySelector('input[aria-label="width on the body"]') as HTMLInputElement).value !== was,
    at,
  );
  await form.getByRole('combobox', { name: 'Way of the handle' }).selectOption('turn');
  await page.getByRole('button', { name: 'Above', exact: true }).click();
  await page.waitForTimeout(600);
  const round = (await handle.boundingBox())!;
  await page.mouse.move(round.x + round.width / 2, round.y + round.height / 2);
  await page.mouse.down();
  for (let i = 1; i <= 5; i++) await page.mouse.move(round.x + round.width / 2, round.y + round.height / 2 - 5 * i);
  await page.waitForTimeout(300);
  await page
    .getByText(/^\d+°$/)
    .first()
    .waitFor();
  await page.mouse.up();

  // What can't be says why, and changes nothing.
  const before = await counts.textContent();
  await verb('inset');
  await type('distance', '60 mm');
  await doIt();
  await says(form.getByRole('alert'), /there is no room: an edge of the rim is used up at \d+\.\d\d mm/);
  expect(await counts.textContent()).toBe(before);

  // An opening is seen at once, and filled again.
  await verb('delete');
  await doIt();
  await says(form.getByRole('list', { name: 'Layout' }), /The cage is open/);
  await form.getByRole('button', { name: 'borders', exact: true }).click();
  await says(picked, /\d+ edges/);
  await verb('fill');
  await doIt();
  const opening = form.getByRole('list', { name: 'Layout' }).getByText(/The cage is open/);
  // The layout is read after the change is drawn.
  await opening.waitFor({ state: 'detached' });
  expect(await opening.count()).toBe(0);

  // The size is one of the smooth body.
  await form.getByRole('textbox', { name: 'width on the body' }).fill('95 mm');
  await form.getByRole('textbox', { name: 'width on the body' }).press('Enter');
  expect(await form.getByRole('textbox', { name: 'width on the body' }).inputValue()).toBe('95 mm');
  await form.getByRole('checkbox', { name: 'marks' }).check();
  await form.getByRole('combobox', { name: 'What the stage shows' }).selectOption('cage');
  await form.getByRole('checkbox', { name: 'stripes' }).check();
  await form.getByRole('combobox', { name: 'What the stage shows' }).selectOption('both');
  await form.getByRole('checkbox', { name: 'stripes' }).uncheck();
  await built();
  await measured(page);
  const off = page.getByTestId('gauge-deviation').locator('.font-mono').first();
  expect(Number.parseFloat((await off.textContent())!)).toBeLessThan(0.2);
  expect(await page.getByTestId('gauge-closed').getAttribute('data-verdict')).toBe('pass');
  const axe = await new AxeBuilder({ page }).analyze();
  expect(
    axe.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => `${v.id}: ${v.nodes[0]?.html}`),
  ).toEqual([]);
  expect(errors).toEqual([]);
});

it('turns a drawn half profile into a cage, repeats it by a dimension, and finds and mends what was pushed out of round', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await newBeaker(page);
  const summary = page.getByTestId('build-summary');
  await summary.getByText(/^1 done/).waitFor({ timeout: 60_000 });
  await page.getByText('next step…').click();
  await page.getByPlaceholder('what should happen next?').fill('Form of');
  await page
    .getByRole('option', { name: /^Form of .*the profile turned/ })
    .first()
    .click();
  await summary.getByText(/^2 done/).waitFor({ timeout: 60_000 });
  const form = page.getByRole('region', { name: 'Form' });
  const layout = form.getByRole('list', { name: 'Layout' });
  const type = async (name: string, text: string): Promise<void> => {
    const field = form.getByRole('textbox', { name, exact: true });
    await field.fill(text);
    await field.press('Enter');
  };
  const counts = async (): Promise<string> => (await form.getByTestId('cage-counts').textContent())!;
  // Twelve sides closed by grids of quads are alike four times round, not five.
  const first = await counts();
  await type('times round the axis', '5');
  await form
    .getByRole('alert')
    .getByText(/have no partners; they are picked/)
    .waitFor();
  expect(await counts()).toBe(first);
  await type('times round the axis', '4');
  expect(await form.getByRole('alert').count()).toBe(0);
  expect(await counts()).toBe(first);
  // From then on the number of sectors may change, by a dimension too.
  await page.getByRole('region', { name: 'Dimensions' }).getByRole('button', { name: 'add' }).click();
  await page.getByRole('textbox', { name: 'New dimension’s name' }).fill('petals');
  await page.getByRole('textbox', { name: 'New dimension’s value' }).fill('6');
  await page.getByRole('textbox', { name: 'New dimension’s value' }).press('Enter');
  await type('times round the axis', 'petals');
  await page.waitForFunction((was) => document.querySelector('[data-testid=cage-counts]')?.textContent !== was, first);
  const faces = (t: string): number => Number(/(\d+) faces/.exec(t)![1]);
  // Twelve sides become eighteen; at each end eight of the grid's nine quads become twelve about a middle of six sides.
  expect(faces(await counts())).toBe((faces(first) - 18) * 1.5 + 2 * 13);
  await layout
    .getByText(/has 6 sides/)
    .first()
    .waitFor();
  await summary.getByText(/^2 done/).waitFor({ timeout: 60_000 });

  // A loop is pushed on one side; the list says by how much, and mends it.
  await type('times round the axis', '1');
  await form.getByRole('button', { name: 'vertices', exact: true }).click();
  await form.getByRole('combobox', { name: 'Axis of the plane' }).selectOption('x');
  await type('place of the plane', '15 mm');
  await form.getByRole('button', { name: 'pick', exact: true }).click();
  await form
    .getByTestId('picked')
    .getByText(/\d+ vertices/)
    .waitFor();
  await form.getByRole('button', { name: 'move', exact: true }).click();
  await form.getByRole('group', { name: 'The edit' }).getByRole('textbox', { name: 'x', exact: true }).fill('0.8 mm');
  await form.getByRole('group', { name: 'The edit' }).getByRole('textbox', { name: 'x', exact: true }).press('Enter');
  await form.getByRole('button', { name: 'Do it' }).click();
  const row = layout.getByRole('listitem').filter({ hasText: /out of round by \d/ });
  await row.first().waitFor();
  const off = async (): Promise<number> => Number(/out of round by ([\d.]+)/.exec((await row.allTextContents()).join())?.[1] ?? 0);
  const worst = await off();
  await row
    .first()
    .getByRole('button', { name: /^make it round/ })
    .click();
  await form
    .getByRole('status')
    .getByText(/Done: make it round/)
    .waitFor();
  await page.waitForTimeout(500);
  // The worst stands first; what is worst now is not that one any more.
  expect(await off()).toBeLessThan(worst);
  await summary.getByText(/^2 done/).waitFor({ timeout: 60_000 });
  expect(errors).toEqual([]);
});

it('takes a cage from an OBJ file, and says why another is none', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await newBeaker(page);
  const summary = page.getByTestId('build-summary');
  await summary.getByText(/^1 done/).waitFor({ timeout: 60_000 });
  const bring = async (name: string, text: string): Promise<void> => {
    await page.getByText('next step…').click();
    await page.getByPlaceholder('what should happen next?').fill('OBJ');
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('option', { name: /cage from an OBJ file/ }).click();
    await (await chooser).setFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
  };
  const corners = [0, 30].flatMap((z) => [
    [-15, -15, z],
    [15, -15, z],
    [15, 15, z],
    [-15, 15, z],
  ]);
  const cube = [
    '# a cube, with what a cage has no use for',
    'o block',
    ...corners.map((p) => `v ${p.join(' ')}`),
    'vn 0 0 1',
    'vt 0 0',
    'f 4//1 3//1 2//1 1//1',
    'f 5/1 6/1 7/1 8/1',
    'f 1 2 6 5',
    'f 2 3 7 6',
    'f 3 4 8 7',
    'f -5 -8 -4 -1',
  ].join('\n');
  // Three faces at one edge are no surface; half a number is no place.
  await bring('fin.obj', `${cube}\nv 0 0 60\nf 5 6 9\n`);
  await page.getByText(/^fin.obj: Three faces meet in one edge/).waitFor();
  await bring('torn.obj', cube.replace('v 15 15 30', 'v 15 fifteen 30'));
  await page.getByText(/^torn.obj: Vertex 7 holds something that is no number/).waitFor();
  expect(await summary.textContent()).toMatch(/^1 done/);
  await bring('block.obj', cube);
  await summary.getByText(/^2 done/).waitFor({ timeout: 60_000 });
  const form = page.getByRole('region', { name: 'Form' });
  expect(await form.getByTestId('cage-counts').textContent()).toContain('8 vertices, 6 faces');
  // The smooth body lies inside its cage; its width can be asked for.
  const width = form.getByRole('textbox', { name: 'width on the body' });
  expect(Number.parseFloat(await width.inputValue())).toBeLessThan(30);
  await width.fill('30 mm');
  await width.press('Enter');
  expect(await width.inputValue()).toBe('30 mm');
  await summary.getByText(/^2 done/).waitFor({ timeout: 60_000 });

  // Begun anew as a cylinder of so many sides and rings; undo brings the block back.
  await form.getByText('Start over from a simple shape').click();
  const start = form.getByRole('group', { name: 'Start over' });
  await start.getByRole('combobox', { name: 'Shape to start from' }).selectOption('tube');
  await start.getByRole('textbox', { name: 'sides' }).fill('2');
  expect(await start.getByRole('alert').textContent()).toBe('a whole number, 3 to 96');
  await start.getByRole('textbox', { name: 'sides' }).fill('10');
  await start.getByRole('textbox', { name: 'sides' }).press('Enter');
  await start.getByRole('button', { name: 'Start over' }).click();
  await form.getByText('50 vertices, 40 faces').waitFor();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await form.getByText('8 vertices, 6 faces').waitFor();
  await summary.getByText(/^2 done/).waitFor({ timeout: 60_000 });
  expect(errors).toEqual([]);
});

it('pulls the columns of a cap in, each by itself, though its stem is bent and has no partners', async () => {
  const { page, errors } = await app.page();
  await emptyBench(page, app.url);
  await page.getByText('next step…').click();
  await page.getByPlaceholder('what should happen next?').fill('cylinder');
  await page.getByRole('option', { name: /^Form a tube/ }).click();
  const { form, edit, press, type, doIt } = formHandOn(page);
  const counted = async (words: string): Promise<void> => form.getByTestId('cage-counts').getByText(words).waitFor();
  const picked = async (words: RegExp): Promise<void> => form.getByTestId('picked').getByText(words).waitFor();

  // The size asked for is that of the smooth body, rows are rows.
  await form.getByText('Start over from a simple shape').click();
  await form.getByRole('combobox', { name: 'Shape to start from' }).selectOption('tube');
  for (const [name, text] of [
    ['diameter', '96 mm'],
    ['height', '96 mm'],
    ['sides', '8'],
    ['rows', '5'],
  ] as const)
    await type(name, text, form);
  await press('Start over');
  await counted('48 vertices, 40 faces');
  expect(await form.getByRole('textbox', { name: 'largest diameter on the body' }).inputValue()).toBe('96 mm');

  // Closed above and below; a stem drawn up in two stretches, its end bent aside.
  await press('borders');
  await press('fill');
  await edit.getByRole('combobox', { name: 'with' }).selectOption('one');
  await doIt();
  await counted('48 vertices, 42 faces');
  await press('faces');
  await form.getByRole('combobox', { name: 'Side of the plane' }).selectOption('over');
  await type('place of the plane', '90 mm', form);
  await press('pick');
  await press('inset');
  await type('distance', '30 mm');
  await doIt();
  await press('extrude');
  await type('distance', '25 mm');
  await doIt();
  await doIt();
  await counted('72 vertices, 66 faces');
  await press('turn');
  await type('angle', '35°');
  await edit.getByRole('combobox', { name: 'axis' }).selectOption('y');
  await doIt();

  // It is not eightfold as a whole: what has no partners is picked, and the rest can be kept alike.
  await type('times round the axis', '8', form);
  await form
    .getByRole('alert')
    .getByText(/8 of 72 vertices have no partners/)
    .waitFor();
  await picked(/8 vertices/);
  await press('keep alike what is');
  await form.getByTestId('partly').getByText('64 of 72 vertices').waitFor();

  // A column by a click made twice, its shoulder and the stem left out by a plane.
  await press('none');
  await press('faces');
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.waitForTimeout(900);
  const stage = (await page.locator('canvas').boundingBox())!;
  // A frame takes what is seen of the cage.
  await press('vertices');
  await page.keyboard.down('Shift');
  await page.mouse.move(stage.x + 0.2 * stage.width, stage.y + 0.5 * stage.height);
  await page.mouse.down();
  await page.mouse.move(stage.x + 0.8 * stage.width, stage.y + 0.88 * stage.height, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
  await picked(/^\d+ vertices/);
  await press('none');
  await press('faces');
  await page.mouse.dblclick(stage.x + stage.width / 2 + 15, stage.y + stage.height * 0.585);
  await picked(/8 faces/);
  await form.getByRole('combobox', { name: 'Side of the plane' }).selectOption('under');
  await type('place of the plane', '97 mm', form);
  await press('keep only');
  await picked(/6 faces/);
  // Each image for itself: six faces, a rim of fourteen quads, eight times.
  await press('inset');
  await type('distance', '6 mm');
  expect(await edit.getByRole('combobox', { name: 'faces' }).inputValue()).toBe('apart');
  await doIt();
  await counted('184 vertices, 178 faces');
  await press('move outwards');
  await type('distance', '-9 mm');
  await doIt();
  // Eight ridges stand, and nothing is said to pass through itself.
  const layout = form.getByRole('list', { name: 'Layout' });
  await layout
    .getByText(/edges meet here/)
    .first()
    .waitFor();
  expect(await layout.getByText('■').count()).toBe(0);
  await page.waitForFunction(() => /^1 done/.test(document.querySelector('[data-testid=build-summary]')?.textContent ?? ''), null, {
    timeout: 120_000,
  });
  if (everyCase) await toItsFile(page);
  await keepJob(page, 'Urchin vent cap');
  expect(errors).toEqual([]);
}, 900_000);

/** Foot and top parted off, hollowed by two lines of print, slots cut through one side, saved. */
async function toItsFile(page: Page): Promise<void> {
  const { next, last, value, state, settled, dimension, pickFrom, choose, places, gauge } = handOn(page);
  const part = async (at: string, body: string): Promise<void> => {
    await next(/^Place a plane at a distance/);
    const plane = await last();
    await page.getByTestId(plane).locator('select').first().selectOption({ label: 'the level plane' });
    await value(plane, 'distance', at);
    await next(new RegExp(`^Split ${body}\\s`));
    await settled();
    expect([at, await state(await last())]).toEqual([at, 'done']);
  };
  await part('112 mm', 'Body 2');
  await part('6 mm', 'Body 2, lower part');
  await page.getByRole('button', { name: 'Show only Body 2, lower part', exact: true }).click();
  await dimension('print', '0.7 mm');
  // Of what is seen: the parts that were put out of sight come after it.
  await next(/^Hollow Body 2, lower part, open where/, 'hollow');
  await pickFrom('Above');
  await pickFrom('Below');
  await page.keyboard.press('Escape');
  const hollow = await last();
  await value(hollow, 'wall', '2 * print');
  expect(await state(hollow)).toBe('done');
  await page
    .getByTestId(hollow)
    .getByText(/wall 1\.40 mm at its thinnest/)
    .waitFor();
  expect(await gauge('height')).toBeCloseTo(106, 2);
  const whole = await gauge('volume');

  await next(/^New drawing on the front plane/, 'drawing');
  await choose(/^Draw|Line, polyline/, /^Slot/);
  await places('-2, 30', '-2, 60', '3');
  await places('14, 30', '14, 60', '3');
  await page.keyboard.press('Escape');
  await next(/^Extrude Profile \d, cut\s*from Body 2, lower part/, 'Extrude Profile');
  const cut = await last();
  await page.getByTestId(cut).getByRole('combobox', { name: 'extent' }).selectOption('through');
  await settled();
  expect(await state(cut)).toBe('done');
  // Two slots 6 by 36 through one wall that is 1.4 thick at least, and leans: each at least its area times the wall.
  const slots = 2 * (6 * 30 + Math.PI * 9);
  const left = await gauge('volume');
  expect((whole - left) * 1000).toBeGreaterThan(0.95 * slots * 1.4);
  expect((whole - left) * 1000).toBeLessThan(slots * 5);

  await page.getByRole('link', { name: 'Make' }).click();
  await page.getByRole('radio', { name: 'Body 2, lower part', exact: false }).first().check();
  await page.getByRole('radio', { name: /STEP/ }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save .*\.step$/ }).click();
  const read = readStep(await testKernel(), readFileSync((await (await download).path())!));
  expect(read.ok && read.value.map((s) => s.volume / 1000)).toEqual([expect.closeTo(left, 1)]);
}
