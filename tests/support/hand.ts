/** What a hand does on the bench, for whole jobs: choosing the next step, typing places, waiting for what is built. */
import type { Locator, Page } from 'playwright-core';
import { measured } from './browser';

export interface Hand {
  /** Chooses the next step by its words; what is typed first narrows the list. */
  readonly next: (words: RegExp, typed?: string) => Promise<void>;
  /** Types places of the drawing, one after the other. */
  readonly places: (...texts: string[]) => Promise<void>;
  /** Takes a drawing tool from the menu that shows `now`. */
  readonly tool: (now: RegExp | string, wanted: RegExp) => Promise<void>;
  /** Takes an entry of a menu by keyboard, wherever the menu stands: it moves while results arrive. */
  readonly choose: (menu: RegExp | string, entry: RegExp) => Promise<void>;
  readonly state: (step: string) => Promise<string | null>;
  /** The step that stands last. */
  readonly last: () => Promise<string>;
  /** Types a value of a step and waits for its verdicts. */
  readonly value: (step: string, name: string, text: string) => Promise<void>;
  readonly gauge: (id: string) => Promise<number>;
  readonly remove: (step: string) => Promise<void>;
  /** Clicks near the middle of the stage, seen from one side. */
  readonly pickFrom: (view: 'Above' | 'Below' | 'Front') => Promise<void>;
  /** Moves over the stage, from a place of it outwards (px from its corner), until what is under the pointer is called so, and clicks; where that was. */
  readonly pick: (words: RegExp, near: readonly [number, number]) => Promise<{ x: number; y: number }>;
  /** Turns the view by dragging, degrees to the right. */
  readonly orbit: (degrees: number) => Promise<void>;
  /** Names a dimension and gives it a value. */
  readonly dimension: (name: string, text: string) => Promise<void>;
  readonly settled: () => Promise<void>;
}

export function handOn(page: Page): Hand {
  /** Until what was just done has reached the page: on a busy machine that comes late. */
  const drawn = (): Promise<unknown> =>
    page.evaluate(() => new Promise((then) => requestAnimationFrame(() => requestAnimationFrame(then))));
  /** Until what was just done has been built and measured. */
  const settled = async (): Promise<void> => {
    await page.waitForTimeout(400);
    // What stood there before says that all is measured, too.
    await drawn();
    await measured(page);
  };
  const choose = async (menu: RegExp | string, entry: RegExp): Promise<void> => {
    await page.getByRole('button', { name: menu, exact: true }).click();
    await page.getByRole('menuitem', { name: entry }).first().press('Enter');
  };
  return {
    settled,
    next: async (words, typed) => {
      await page.getByText('next step…').click();
      if (typed) await page.getByPlaceholder('what should happen next?').fill(typed);
      await page.getByRole('option', { name: words }).first().click();
    },
    places: async (...texts) => {
      const field = page.getByRole('textbox', { name: 'Next place' });
      for (const t of texts) {
        await field.fill(t);
        await field.press('Enter');
      }
    },
    tool: choose,
    choose,
    last: async () => (await page.locator('[data-testid^=step-]').last().getAttribute('data-testid'))!,
    state: (step) => page.getByTestId(step).getAttribute('data-state'),
    value: async (step, name, text) => {
      const field = page.getByTestId(step).getByRole('textbox', { name, exact: true });
      await field.fill(text);
      await field.press('Enter');
      await settled();
    },
    gauge: async (id) => Number.parseFloat((await page.getByTestId(`gauge-${id}`).textContent())!.replace(/^\D+/, '')),
    remove: async (step) => {
      await page.getByTestId(step).getByRole('button').last().click();
      await page.getByRole('menuitem', { name: /Delete/ }).click();
      await settled();
    },
    pick: async (words, [nearX, nearY]) => {
      const stage = (await page.locator('canvas').boundingBox())!;
      // Faces are met by a wide net, which is drawn first; lines by the fine one.
      const places: { x: number; y: number; fine: number; far: number }[] = [];
      for (let dy = -160; dy <= 160; dy += 5)
        for (let dx = -160; dx <= 160; dx += 5)
          places.push({ x: stage.x + nearX + dx, y: stage.y + nearY + dy, fine: dx % 20 || dy % 20 ? 1 : 0, far: Math.hypot(dx, dy) });
      places.sort((p, q) => p.fine - q.fine || p.far - q.far);
      const under = (): Promise<string> => page.evaluate(() => document.querySelector('[data-testid=hover-name]')?.textContent ?? '');
      const met = new Set<string>();
      const until = Date.now() + 90_000;
      for (const { x, y } of places) {
        if (Date.now() > until) break;
        await page.mouse.move(x, y);
        const name = await under();
        met.add(name);
        if (!words.test(name)) continue;
        // It may be of the place before.
        await page.waitForTimeout(150);
        await drawn();
        if (!words.test(await under())) continue;
        await page.mouse.click(x, y);
        await page.waitForTimeout(200);
        await drawn();
        return { x, y };
      }
      throw new Error(`nothing near there on the stage is called ${words}, but: ${[...met].join(' · ')}`);
    },
    orbit: async (degrees) => {
      const stage = (await page.locator('canvas').boundingBox())!;
      // The view turns by the stage's height, at its own speed (`rotateSpeed`): a drag of px alone would turn by its size.
      const across = ((degrees / 360) * stage.height) / 0.8;
      const [x, y] = [stage.x + stage.width / 2 - across / 2, stage.y + stage.height - 60];
      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x + across, y, { steps: 8 });
      await page.mouse.up();
      await page.waitForTimeout(500);
    },
    dimension: async (name, text) => {
      if ((await page.getByPlaceholder('name', { exact: true }).count()) === 0)
        await page.getByRole('button', { name: 'add', exact: true }).click();
      await page.getByPlaceholder('name', { exact: true }).fill(name);
      await page.getByPlaceholder('3 1/4 in').fill(text);
      await page.getByPlaceholder('3 1/4 in').press('Enter');
      await page.getByRole('textbox', { name, exact: true }).first().waitFor();
    },
    pickFrom: async (view) => {
      await page.getByRole('button', { name: view, exact: true }).click();
      await page.waitForTimeout(900);
      const stage = (await page.locator('canvas').boundingBox())!;
      const [x, y] = [stage.x + stage.width / 2 + 8, stage.y + stage.height / 2 + 8];
      await page.mouse.move(x, y);
      await page.waitForTimeout(200);
      await page.mouse.click(x, y);
      await page.waitForTimeout(300);
    },
  };
}

export interface FormHand {
  readonly form: Locator;
  /** The values of the edit in hand. */
  readonly edit: Locator;
  readonly press: (name: string) => Promise<void>;
  /** Types a value of the edit, or of another part of the pane. */
  readonly type: (name: string, text: string, where?: Locator) => Promise<void>;
  readonly doIt: () => Promise<void>;
}

/** What a hand does at the form's pane. */
export function formHandOn(page: Page): FormHand {
  const form = page.getByRole('region', { name: 'Form' });
  const edit = form.getByRole('group', { name: 'The edit' });
  return {
    form,
    edit,
    press: (name) => form.getByRole('button', { name, exact: true }).click(),
    type: async (name, text, where = edit) => {
      const field = where.getByRole('textbox', { name, exact: true });
      await field.fill(text);
      await field.press('Enter');
    },
    doIt: () => edit.getByRole('button', { name: 'Do it' }).click(),
  };
}
