/** The sheet’s own ways: groups, picks that are lost, ties of a loft, surfaces and what they say of themselves. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { writeProject } from '../../src/core/recipe/file';
import { type App, measured, openApp } from '../support/browser';
import { add, at, block, box, disc, extrude, loft, stack } from '../support/parts';
import { arc, line, sketchProfile } from '../support/sketch';

let app: App;
beforeAll(async () => {
  app = await openApp(4311);
});
afterAll(() => app?.close());

/** A loft from a square to a circle, a surface beside it, and a box with a round whose edge is not there. */
function trial(): string {
  let p = loft(
    stack([
      [0, block(40)],
      [40, disc(14)],
    ]),
    {},
  );
  const screen = {
    ...sketchProfile({ a: [30, -20], b: [60, -20], c: [70, -10], m: [60, -10] }, [line('ab'), arc('bcm')]),
    id: 'screen',
    name: 'Screen',
    plane: 'level',
    half: false,
  };
  p = extrude(p, screen, { mode: 'surface' }, { length: '30' });
  p = box(p, [20, 20, 20], { places: [at(-60, 0, 0)] });
  p = add(p, 'fillet', { body: 's5', edges: [{ edge: 's5/end|s5/gone' }] }, { radius: '2' });
  return writeProject({ ...p, name: 'Trial' });
}

it('groups steps, mends a lost pick, turns a tie, and says what a surface is', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: /Open a file/ }).click()]);
  await chooser.setFiles({ name: 'trial.lathe.json', mimeType: 'application/json', buffer: Buffer.from(trial()) });
  const lost = page.getByTestId('step-s6');
  await lost.getByText('It may be one of these').waitFor({ timeout: 90_000 });
  // The surface says its area and its border: 12 + … is what its line is long, 30 high.
  expect(await page.getByTestId('step-s4').textContent()).toContain(
    `${((30 * (30 + 5 * Math.PI)) / 100).toFixed(2)} cm² of surface, 1 open border`,
  );
  // Numbers on the stage stand for those on the sheet; one is taken.
  await page.getByRole('region', { name: 'Stage' }).getByText('1', { exact: true }).first().waitFor();
  await lost.getByRole('button', { name: 'Take 1' }).click();
  await page.waitForFunction(() => document.querySelector('[data-testid=step-s6]')?.getAttribute('data-state') === 'done', null, {
    timeout: 90_000,
  });
  // What works is found out beside the rebuild: on a block of 20 a round goes to 20, and the face that ends it is named.
  const range = lost.getByTestId('range');
  await range.getByText(/works up to/).waitFor({ timeout: 120_000 });
  expect(await range.textContent()).toMatch(/works up to 19\.\d+ mm, limited by .* 20\.00 mm wide/);
  await range.getByRole('button', { name: /Use the largest, 19\.\d mm/ }).click();
  await page.waitForFunction(
    () =>
      document.querySelector('[data-testid=step-s6]')?.getAttribute('data-state') === 'done' &&
      /19\.\d mm/.test((document.querySelector('[data-testid=step-s6] input') as HTMLInputElement | null)?.value ?? ''),
    null,
    { timeout: 90_000 },
  );
  // A tie is turned by the arrow keys, and the sentence says so.
  await page.getByTestId('step-s3').click({ position: { x: 5, y: 5 } });
  const tie = page.getByRole('button', { name: 'Tie 1 on at40' });
  await tie.waitFor();
  await tie.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.waitForFunction(
    () => /0\.0556/.test((document.querySelector('[data-testid=step-s3] input[value*="0.0556"]') as HTMLInputElement | null)?.value ?? ''),
    null,
    {
      timeout: 30_000,
    },
  );
  // Two neighbours under one name, folded away together.
  for (const n of [1, 2]) {
    await page.getByRole('button', { name: `More for step ${n}`, exact: true }).click();
    await page.getByRole('menuitem', { name: /Group under/ }).click();
    const name = page.getByRole('dialog').getByRole('textbox');
    if (n === 1) await name.fill('Planes');
    await name.press('Enter');
  }
  const group = page.getByTestId('group-Planes');
  await group.getByText('2 steps').waitFor();
  await group.getByRole('button', { name: 'Fold Planes' }).click();
  expect(await page.getByTestId('step-s1').count()).toBe(0);
  await group.getByRole('button', { name: 'Unfold Planes' }).click();
  await page.getByTestId('step-s1').waitFor();
  await measured(page);
  // What has no inside can't be printed, and says so where it would be exported.
  await page.getByRole('link', { name: 'Make' }).click();
  await page.getByText(/surface of 13\.71 cm², 2 faces, 1 open border/).waitFor();
  expect(errors).toEqual([]);
});

it('brings into view why a value is refused, and the first way out', async () => {
  const { page, errors } = await app.page();
  await page.goto(app.url);
  await page.getByRole('link', { name: 'Steam diffuser' }).click();
  await measured(page);
  const step = page.getByTestId('step-s4');
  const radius = step.getByRole('textbox', { name: 'radius' });
  await radius.fill('150 mm');
  await radius.press('Enter');
  const way = step.getByRole('button', { name: /^Use / }).first();
  await way.waitFor({ timeout: 60_000 });
  // The list of next steps lies over what reaches below.
  const floor = (await page.getByText('next step…').boundingBox())!.y;
  for (const thing of [step.getByRole('alert'), way]) {
    const box = (await thing.boundingBox())!;
    expect(box.y).toBeGreaterThanOrEqual(44);
    expect(box.y + box.height).toBeLessThanOrEqual(floor);
  }
  expect(errors).toEqual([]);
});
