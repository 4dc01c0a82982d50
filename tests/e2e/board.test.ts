import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../support/browser';

let app: App;
beforeAll(async () => {
  app = await openApp(4303);
});
afterAll(() => app?.close());

const newProject = async (): Promise<{ page: Page; errors: string[] }> => {
  const opened = await app.page();
  await opened.page.goto(app.url);
  await newBeaker(opened.page);
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

const places = async (page: Page, ...texts: string[]): Promise<void> => {
  const field = page.getByRole('textbox', { name: 'Next place' });
  for (const t of texts) {
    await field.fill(t);
    await field.press('Enter');
  }
};
const draw = async (page: Page, tool: RegExp): Promise<void> => {
  await page.getByRole('button', { name: 'Draw', exact: true }).click();
  await page.getByRole('menuitem', { name: tool }).click();
};

/** Goes down an open menu with the arrow key to what one reads there, and takes it. */
const arrowTo = async (page: Page, words: string): Promise<void> => {
  const lit = async (): Promise<string> => (await page.locator('[role=menuitem][data-highlighted]').textContent()) ?? '';
  for (let now = await lit(); !now.startsWith(words); now = await lit()) {
    await page.keyboard.press('ArrowDown');
    // The menu moves on a moment later; pressed sooner, the next key would overshoot.
    await page.waitForFunction((t) => document.querySelector('[role=menuitem][data-highlighted]')?.textContent !== t, now);
  }
  await page.keyboard.press('Enter');
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
    expect(await page.getByRole('textbox', { name: 'Radius', exact: true }).inputValue()).toBe('40');
    await measured(page);
    await page.waitForFunction(() => document.querySelector('[data-testid=gauge-diameter]')!.textContent!.includes('80.00'), null, {
      timeout: 60_000,
    });
  });

  it('notices a pole that is not met at 90° and mends it with one click', async () => {
    const { page } = await newProject();
    await page.locator('[data-point=p3]').focus();
    await page.getByRole('button', { name: 'Remove: point p3 and point p4 are level' }).click();
    await page.locator('[data-point=p3]').focus();
    await page.keyboard.press('Shift+ArrowDown');
    const note = page.getByText(/meets the axis at [\d.]+°, which turns a point/);
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
    await page.getByRole('button', { name: 'Remove: point p1 and point p2 are level' }).click();
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

  it('shows what is drawn large once it encloses something, be it small beside what it is drawn about', async () => {
    const { page, errors } = await newProject();
    await page.getByText('next step…').click();
    await page.getByRole('option', { name: /^New drawing on the front plane/ }).click();
    await page.waitForTimeout(500);
    const apart = async (a: string, b: string): Promise<number> => {
      const [p, q] = await Promise.all([a, b].map(async (k) => (await page.locator(`[data-point=${k}]`).boundingBox())!));
      return Math.hypot(p!.x - q!.x, p!.y - q!.y);
    };
    await places(page, '2,1', '5,1', '5,4', '2,4');
    // The beaker, many times as large, is in view.
    expect(await apart('p1', 'p3')).toBeLessThan(40);
    await places(page, '2,1');
    await page.keyboard.press('Escape');
    await page.waitForTimeout(400);
    expect(await apart('p1', 'p3')).toBeGreaterThan(80);
    expect(errors).toEqual([]);
  });

  it('names the constraints that can’t hold together, keeps the last shape, and takes one back', async () => {
    const { page } = await newProject();
    await page.locator('[data-point=p2]').focus();
    await typed(page, 'Height on the axis', '100');
    const status = page.getByTestId('board-status');
    await status.getByText('These can’t hold together:').waitFor();
    expect(await status.textContent()).toContain('distance up 100 from the base level to point p2');
    // The step keeps its last good body and says why it could not be made anew.
    await page.getByTestId('step-s1').getByRole('alert').waitFor({ timeout: 30_000 });
    expect(await page.locator('[data-point=p2]').getAttribute('aria-label')).toContain('up 0.00');
    await status.getByRole('listitem').filter({ hasText: 'distance up 100' }).getByRole('button', { name: 'remove this one' }).click();
    await page.getByTestId('freedoms').getByText('2 freedoms left').waitFor();
    await page.getByTestId('step-s1').getByRole('alert').waitFor({ state: 'detached', timeout: 30_000 });
  });

  it('draws a profile with a tangent arc from nothing, dimensions it fully, and the body follows a dimension', async () => {
    const { page, errors } = await newProject();
    await page.getByText('next step…').click();
    await page.getByRole('option', { name: /New half profile/ }).click();
    await places(page, '0, 0', '30, 0', '30, 40');
    await page.keyboard.press('Escape');
    await draw(page, /Arc going on/);
    await places(page, '30, 40', '20, 50');
    await page.keyboard.press('Escape');
    await draw(page, /^Line/);
    await places(page, '20, 50', '0, 50');
    await page.keyboard.press('Escape');
    await page.getByTestId('freedoms').getByText('4 freedoms left').waitFor();
    await page.locator('[data-point=p2]').focus();
    await typed(page, 'Diameter across the axis', '60 mm');
    await page.locator('[data-point=p3]').focus();
    await typed(page, 'Height on the axis', 'height/2');
    await page.locator('[data-curve=c3]').focus();
    await page.getByRole('group', { name: 'What can be added' }).getByRole('button', { name: '↔ radius' }).click();
    await typed(page, 'Value of the dimension', '10 mm');
    await page.locator('[data-curve=c3]').focus();
    await page.keyboard.press('Space');
    await page.locator('[data-curve=c4]').focus();
    await page.getByRole('button', { name: 'tangent', exact: true }).click();
    await page.getByText('Fully held: nothing is left free.').waitFor();
    await page.getByText('next step…').click();
    await page.getByRole('option', { name: /Revolve Profile 2 as a new body/ }).click();
    await page
      .getByTestId('step-s2')
      .getByText(/4 faces/)
      .waitFor({ timeout: 60_000 });
    const gain = async (): Promise<number> =>
      Number.parseFloat(/([\d.]+) cm³/.exec((await page.getByTestId('step-s2').textContent())!)![1]!);
    // Cylinder R 30 H 40 and above it the turned quarter round of radius 10 about a core of R 20 (Pappus, mensuration).
    const volume = (h: number): number => {
      const area = 20 * 10 + (Math.PI * 100) / 4;
      const first = 20 * 10 * 10 + ((Math.PI * 100) / 4) * (20 + (4 * 10) / (3 * Math.PI));
      return (Math.PI * 900 * h + 2 * Math.PI * (first / area) * area) / 1000;
    };
    expect(await gain()).toBeCloseTo(volume(40), 0);
    await typed(page, 'height', '100 mm');
    await page.waitForFunction(
      (v) =>
        Math.abs(Number.parseFloat(/([\d.]+) cm³/.exec(document.querySelector('[data-testid=step-s2]')!.textContent!)?.[1] ?? '0') - v) <
        0.1,
      volume(50),
      { timeout: 60_000 },
    );
    expect(errors).toEqual([]);
  });

  it('draws and dimensions a rectangle by keyboard alone', async () => {
    const { page, errors } = await newProject();
    await page.keyboard.press('/');
    await page.getByPlaceholder('Find or do…').last().fill('New half profile');
    await page.keyboard.press('Enter');
    await page.getByRole('textbox', { name: 'Next place' }).waitFor();
    await page.keyboard.press('Escape');
    // From the board’s toolbar with Tab, arrows and Enter.
    await page.getByRole('button', { name: 'Draw', exact: true }).focus();
    await page.keyboard.press('Enter');
    await page.getByRole('menu').waitFor();
    await arrowTo(page, 'Rectangle by corners');
    await page.getByRole('textbox', { name: 'Next place' }).waitFor();
    await page.keyboard.type('20, 10');
    await page.keyboard.press('Enter');
    await page.keyboard.type('@15, 8');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Escape');
    await page.getByTestId('freedoms').getByText('4 freedoms left').waitFor();
    for (const [curve, value] of [
      ['c1', '25 mm'],
      ['c2', '12 mm'],
    ] as const) {
      await page.locator(`[data-curve=${curve}]`).focus();
      const length = page.getByRole('button', { name: '↔ length' });
      await length.focus();
      await page.keyboard.press('Enter');
      const field = page.getByRole('textbox', { name: 'Value of the dimension' });
      await field.focus();
      await page.keyboard.press('Control+a');
      await page.keyboard.type(value);
      await page.keyboard.press('Enter');
    }
    await page.getByTestId('freedoms').getByText('2 freedoms left').waitFor();
    await page.getByText(/half 3\.00 cm²/).waitFor();
    expect(errors).toEqual([]);
  });

  it('draws and dimensions an arc profile by keyboard alone, and turns it', async () => {
    const { page, errors } = await newProject();
    await page.keyboard.press('/');
    await page.getByPlaceholder('Find or do…').last().fill('New half profile');
    await page.keyboard.press('Enter');
    await page.getByRole('textbox', { name: 'Next place' }).waitFor();
    const type = async (...texts: string[]): Promise<void> => {
      for (const t of texts) {
        await page.getByRole('textbox', { name: 'Next place' }).focus();
        await page.keyboard.type(t);
        await page.keyboard.press('Enter');
      }
    };
    // A dome: the foot as a line, then a quarter round about the origin back to the axis.
    await type('0, 0', '30, 0');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Draw', exact: true }).focus();
    await page.keyboard.press('Enter');
    await page.getByRole('menu').waitFor();
    await arrowTo(page, 'Arc about a centre');
    await type('0, 0', '30, 0', '0, 30');
    await page.keyboard.press('Escape');
    await page.locator('[data-curve=c2]').focus();
    await page.getByRole('button', { name: '↔ radius' }).focus();
    await page.keyboard.press('Enter');
    const field = page.getByRole('textbox', { name: 'Value of the dimension' });
    await field.focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.type('36 mm');
    await page.keyboard.press('Enter');
    // A half ball of radius 36: 2/3 π r³.
    await page.getByText(`turned ${((2 / 3) * Math.PI * 46.656).toFixed(1)} cm³`).waitFor();
    await page.getByRole('application', { name: 'Drawing of Profile 2' }).focus();
    await page.keyboard.press('/');
    await page.getByPlaceholder('Find or do…').last().fill('Revolve Profile 2 as a new body');
    await page.keyboard.press('Enter');
    await page
      .getByTestId('step-s2')
      .getByText(/2 faces/)
      .waitFor({ timeout: 60_000 });
    expect(errors).toEqual([]);
  });

  it('trims, rounds a corner, offsets and mirrors', async () => {
    const { page, errors } = await newProject();
    await page.getByRole('button', { name: 'Alter', exact: true }).click();
    await page.getByRole('menuitem', { name: /Round a corner/ }).click();
    await page.getByRole('textbox', { name: 'Radius of the corner' }).fill('5 mm');
    await page.locator('[data-point=p2]').focus();
    await page.keyboard.press('Enter');
    await page.locator('[data-dimension]').filter({ hasText: 'R 5 mm' }).waitFor();
    await page.keyboard.press('Escape');
    await page.locator('[data-curve=side]').focus();
    await page.getByRole('button', { name: 'Alter', exact: true }).click();
    await page.getByRole('menuitem', { name: /Row of copies/ }).click();
    await page.getByTestId('row-plan').getByText('3 in all, 10.000 mm apart').waitFor();
    await page.getByRole('combobox', { name: 'Given by' }).selectOption('fit');
    await page.getByTestId('row-plan').waitFor({ state: 'detached' });
    await page
      .getByText(/between the margins 10\.000 mm are left/)
      .first()
      .waitFor();
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await page.locator('[data-curve=side]').focus();
    await page.getByRole('button', { name: 'Alter', exact: true }).click();
    await page.getByRole('menuitem', { name: /Offset, kept/ }).click();
    await page.getByRole('textbox', { name: 'Distance' }).fill('wall');
    await page.keyboard.press('Enter');
    await page.locator('[data-curve="o1-l1"]').waitFor();
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
    const stage = page.getByRole('region', { name: 'Stage' });
    // On a busy machine a build may be over before it is seen.
    let cancelled = false;
    for (const height of ['143 mm', '144 mm', '145 mm', '146 mm', '147 mm']) {
      await typed(page, 'height', height);
      const done = (p: Promise<unknown>): Promise<boolean> => p.then(() => true).catch(() => false);
      cancelled =
        (await done(stage.getByText(/building step [2-5]/).waitFor({ timeout: 15_000 }))) &&
        (await done(stage.getByRole('button', { name: 'cancel' }).click({ timeout: 3000 })));
      if (cancelled) break;
    }
    expect(cancelled).toBe(true);
    await stage.getByText(/building step/).waitFor({ state: 'detached' });
    expect(await page.getByText('stopped; shows an older state').count()).toBe(1);
    expect(await page.getByTestId('gauge-state').textContent()).toBe('of an older state');
    // The next change builds again, from what was already there.
    await typed(page, 'height', '140 mm');
    await page.waitForFunction(() => /7 done/.test(document.querySelector('[data-testid=build-summary]')?.textContent ?? ''), null, {
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
