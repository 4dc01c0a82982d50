import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, measured, openApp } from '../support/browser';

let app: App;
beforeAll(async () => {
  app = await openApp(4303);
});
afterAll(() => app?.close());

const newProject = async (): Promise<{ page: Page; errors: string[] }> => {
  const opened = await app.page();
  await opened.page.goto(app.url);
  await opened.page.getByRole('button', { name: 'New project' }).click();
  await measured(opened.page);
  return opened;
};
const volume = async (page: Page): Promise<number> =>
  Number.parseFloat((await page.getByTestId('gauge-volume').textContent())!.replace(/^\D+/, ''));
const typed = async (page: Page, name: string, text: string): Promise<void> => {
  const field = page.getByRole('textbox', { name, exact: true });
  await field.fill(text);
  await field.press('Enter');
};

describe('the board', () => {
  it('drags a point: the stage turns with it, and the exact body follows on release', async () => {
    const { page, errors } = await newProject();
    const before = await volume(page);
    const box = (await page.locator('[data-point=p2]').boundingBox())!;
    await page.mouse.move(box.x + 4, box.y + 4);
    await page.mouse.down();
    await page.mouse.move(box.x + 44, box.y + 4, { steps: 5 });
    await page.mouse.up();
    await page.waitForFunction(
      (v) => Number.parseFloat(document.querySelector('[data-testid=gauge-volume]')!.textContent!.replace(/^\D+/, '')) > v,
      before,
      { timeout: 60_000 },
    );
    expect(errors).toEqual([]);
  });

  it('takes a typed diameter across the axis, held by a named dimension', async () => {
    const { page } = await newProject();
    await page.locator('[data-point=p3]').focus();
    await typed(page, 'Diameter across the axis', 'height');
    expect(await page.getByRole('textbox', { name: 'Radius', exact: true }).inputValue()).toBe('height/2');
    await measured(page);
    await page.waitForFunction(() => document.querySelector('[data-testid=gauge-diameter]')!.textContent!.includes('80.00'), null, {
      timeout: 60_000,
    });
  });

  it('notices a pole that is not met at 90° and mends it with one click', async () => {
    const { page } = await newProject();
    await page.locator('[data-point=p4]').focus();
    await typed(page, 'Height on the axis', 'height + 12');
    const note = page.getByText(/meets the axis at 68\.2°, which turns a point/);
    await note.waitFor();
    await page.getByRole('button', { name: 'Fix: level this line' }).click();
    await note.waitFor({ state: 'detached' });
  });

  it('refuses a profile that crosses the axis, marks the place, and keeps the last good body', async () => {
    const { page } = await newProject();
    await page.locator('[data-point=p3]').focus();
    const field = page.getByRole('textbox', { name: 'Radius', exact: true });
    await field.fill('-5');
    expect(await page.getByRole('alert').first().textContent()).toContain('can’t be negative');
    await field.press('Escape');
    // Crossing itself: the foot's outer end goes above the rim.
    await page.locator('[data-point=p2]').focus();
    await typed(page, 'Height on the axis', '100');
    await page.getByTestId('profile-problem-mark').waitFor();
    await page
      .getByText(/crosses itself at radius/)
      .first()
      .waitFor();
    await page.getByTestId('step-s1').getByRole('alert').waitFor({ timeout: 30_000 });
    await page.keyboard.press('Escape');
  });

  it('draws a new profile from nothing and revolves it', async () => {
    const { page, errors } = await newProject();
    await page.getByText('next step…').click();
    await page.getByRole('option', { name: /New half profile/ }).click();
    const board = page.getByRole('application', { name: 'Drawing of Profile 2' });
    const box = (await board.boundingBox())!;
    const x = box.x + box.width / 2;
    const y = box.y + box.height / 2;
    for (const [dx, dy] of [
      [0, 50],
      [70, 50],
      [70, -40],
      [0, -40],
    ] as const)
      await page.mouse.click(x + dx, y + dy);
    await page.keyboard.press('Escape');
    await page.getByText(/turned [\d.]+ cm³/).waitFor();
    await page.getByText('next step…').click();
    await page.getByRole('option', { name: /Revolve Profile 2 as a new body/ }).click();
    await page
      .getByTestId('step-s2')
      .getByText(/3 faces/)
      .waitFor({ timeout: 60_000 });
    expect(errors).toEqual([]);
  });

  it('moves and removes points by keyboard alone', async () => {
    const { page } = await newProject();
    await page.locator('[data-point=p2]').focus();
    const before = await page.getByRole('textbox', { name: 'Radius', exact: true }).inputValue();
    await page.keyboard.press('ArrowRight');
    await page.waitForFunction((b) => (document.querySelector('input[aria-label=Radius]') as HTMLInputElement).value !== b, before);
    await page.keyboard.press('Delete');
    await page.locator('[data-point=p2]').waitFor({ state: 'detached' });
    await page.keyboard.press('Control+z');
    await page.locator('[data-point=p2]').waitFor();
  });

  it('gives control back at once when a build is cancelled, with the project intact', async () => {
    const { page, errors } = await app.page();
    await page.goto(app.url);
    await page.getByRole('link', { name: 'Steam diffuser' }).click();
    await measured(page);
    await typed(page, 'height', '143 mm');
    const stage = page.getByRole('region', { name: 'Stage' });
    await stage.getByText(/building step [2-5]/).waitFor({ timeout: 60_000 });
    await stage.getByRole('button', { name: 'cancel' }).click();
    await stage.getByText(/building step/).waitFor({ state: 'detached' });
    expect(await page.getByText('shows an older state').count()).toBe(1);
    // The next change builds again, from what was already there.
    await typed(page, 'height', '140 mm');
    await page.waitForFunction(() => /5 done/.test(document.querySelector('[data-testid=build-summary]')?.textContent ?? ''), null, {
      timeout: 90_000,
    });
    expect(errors).toEqual([]);
  });

  it('picks an edge on the stage for a round', async () => {
    const { page } = await newProject();
    await page.getByText('next step…').click();
    await page.getByRole('option', { name: /Round edges/ }).click();
    await page.keyboard.press('1');
    const stage = (await page.getByRole('region', { name: 'Stage' }).boundingBox())!;
    const x = stage.x + stage.width / 2;
    // Down the middle of the front view until an edge is named.
    let found = false;
    for (let y = stage.y + 20; y < stage.y + stage.height - 60 && !found; y += 3) {
      await page.mouse.move(x, y);
      const name = page.getByTestId('hover-name');
      if ((await name.count()) > 0 && /^edge between/.test((await name.textContent())!)) {
        await page.mouse.click(x, y);
        found = true;
      }
    }
    expect(found).toBe(true);
    await page
      .getByTestId('step-s2')
      .getByText(/edge between/)
      .first()
      .waitFor();
    await page
      .getByTestId('step-s2')
      .getByText(/4 faces/)
      .waitFor({ timeout: 60_000 });
  });
});
