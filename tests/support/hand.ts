/** What a hand does on the bench, for whole jobs: choosing the next step, typing places, waiting for what is built. */
import type { Page } from 'playwright-core';
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
  /** Types a value of a step and waits for its verdicts. */
  readonly value: (step: string, name: string, text: string) => Promise<void>;
  readonly gauge: (id: string) => Promise<number>;
  readonly remove: (step: string) => Promise<void>;
  /** Clicks near the middle of the stage, seen from one side. */
  readonly pickFrom: (view: 'Above' | 'Below' | 'Front') => Promise<void>;
  readonly settled: () => Promise<void>;
}

export function handOn(page: Page): Hand {
  /** Until what was just done has been built and measured. */
  const settled = async (): Promise<void> => {
    await page.waitForTimeout(400);
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
