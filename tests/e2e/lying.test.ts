/** A beaker laid on a printer's bed: compared, turned over, written so, and put back. */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../support/browser';
import { handOn } from '../support/hand';

let app: App;
beforeAll(async () => {
  app = await openApp(4354, process.env.LOOK ? 'smooth' : 'none');
});
afterAll(() => app.close());

/** Bounds of a binary STL, and the area of its facets that lie on its lowest height. */
function readStl(bytes: Buffer): { low: number[]; high: number[]; foot: number } {
  const [low, high] = [[1, 1, 1].map(() => Number.POSITIVE_INFINITY), [1, 1, 1].map(() => Number.NEGATIVE_INFINITY)];
  const facets = Array.from({ length: bytes.readUInt32LE(80) }, (_, t) =>
    Array.from({ length: 9 }, (_, i) => bytes.readFloatLE(84 + 50 * t + 12 + 4 * i)),
  );
  for (const f of facets)
    f.forEach((v, i) => {
      low[i % 3] = Math.min(low[i % 3]!, v);
      high[i % 3] = Math.max(high[i % 3]!, v);
    });
  let foot = 0;
  for (const [ax, ay, az, bx, by, bz, cx, cy, cz] of facets as [number, number, number, number, number, number, number, number, number][])
    if (Math.max(az, bz, cz) < low[2]! + 1e-4) foot += Math.abs((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)) / 2;
  return { low, high, foot };
}

it('is compared both ways up, and what is taken goes into the file', async () => {
  const { page, errors } = await app.page();
  const { next } = handOn(page);
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);
  await next(/^Hollow .* open at its topmost flat face/);
  await measured(page);
  await page.getByRole('link', { name: 'Make' }).click();
  const table = page.getByTestId('lies');
  await table.waitFor({ timeout: 60_000 });
  const rows = table.locator('tbody tr');
  // 30 cm³ at 5.4 mm³ a second, and 400 layers of 2 s (worked out by hand). Upright it needs nothing; upside down its floor is held up, but for what is bridged beside its wall.
  expect(await rows.nth(0).textContent()).toMatch(/as it stands.*nonenone–80\.00 mm.*4001 h 46/);
  const over = (await rows.nth(1).textContent())!;
  expect(over).toContain('upside down');
  // Within lies a frustum 78 high (mensuration); the ring that is bridged is not filled.
  const inner = [25 + 10 / 80 - 2 * Math.hypot(1, 1 / 16), 30 - 2 * Math.hypot(1, 1 / 16)] as const;
  const support = Number(/cm²([\d.]+) cm³/.exec(over)![1]);
  expect(support).toBeGreaterThan((Math.PI * (inner[0] - 2) ** 2 * 78) / 1000);
  expect(support).toBeLessThan((Math.PI * inner[0] ** 2 * 78) / 1000);
  // A bridge across all of the floor: nothing is held up any more.
  const bridges = page.getByRole('textbox', { name: 'Bridges' });
  await bridges.fill('60');
  await bridges.press('Enter');
  await page.waitForFunction(
    () => /upside down[\d.]+ cm²none/.test(document.querySelector('[data-testid=lies]')?.textContent ?? ''),
    null,
    {
      timeout: 60_000,
    },
  );
  expect(await page.getByTestId('wall-lines').textContent()).toContain('2.00 mm, is 4.4 lines of 0.45 mm; 4 of 0.500 mm fill it');
  const line = page.getByRole('textbox', { name: 'Line', exact: true });
  await line.fill('0.5');
  await line.press('Enter');
  await page.getByTestId('wall-lines').getByText('is 4 lines of 0.5 mm.').waitFor();

  const saved = async () => {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: /^Save .*\.stl$/ }).click();
    return readStl(readFileSync((await (await download).path())!));
  };
  const [rim, floor] = [Math.PI * (900 - inner[1] ** 2), Math.PI * 625];
  expect((await saved()).foot / floor).toBeCloseTo(1, 2);
  await rows.filter({ hasText: 'upside down' }).getByRole('button', { name: 'lay it so' }).click();
  await rows.filter({ hasText: 'upside down' }).getByRole('button', { name: 'as it is drawn' }).waitFor();
  const laid = await saved();
  expect(laid.foot / rim).toBeCloseTo(1, 2);
  expect([laid.low[2], laid.high[2]].map((v) => Number(v!.toFixed(3)))).toEqual([0, 80]);
  expect(laid.low[0]! + laid.high[0]!).toBeCloseTo(0, 2);
  // Layer by layer: upside down its rim is on the bed, 66 mm up it is a ring of its wall, and its floor is whole.
  await page.getByText('Layer by layer').click();
  const told = page.getByTestId('layer');
  await told.getByText(/^layer 1 of 400/).waitFor({ timeout: 60_000 });
  const areaAt = async (k: number): Promise<number> => {
    await page.getByLabel('Layer that is shown').fill(String(k));
    await told.getByText(`layer ${k + 1} of`).waitFor();
    return 100 * Number(/· ([\d.]+) cm²/.exec((await told.textContent())!)![1]);
  };
  const ring = (z: number): number => Math.PI * ((25 + (5 * z) / 80) ** 2 - (25 + (5 * z) / 80 - 2 * Math.hypot(1, 1 / 16)) ** 2);
  expect((await areaAt(0)) / ring(79.9)).toBeCloseTo(1, 2);
  expect((await areaAt(330)) / ring(80 - 66.1)).toBeCloseTo(1, 2);
  expect((await areaAt(395)) / (Math.PI * (25 + (5 * 0.9) / 80) ** 2)).toBeCloseTo(1, 2);
  await page.getByText('Nothing begins in the air.').waitFor();
  await page.getByText('No room in it is closed.').waitFor();
  if (process.env.LOOK) {
    await areaAt(330);
    await page.getByTestId('layer-picture').scrollIntoViewIfNeeded();
    await page.screenshot({ path: '/tmp/layers.png' });
  }
  // It is kept, and undone.
  await page.getByRole('button', { name: 'Undo' }).click();
  await rows.filter({ hasText: 'upside down' }).getByRole('button', { name: 'lay it so' }).waitFor();
  expect((await saved()).foot / floor).toBeCloseTo(1, 2);
  expect(errors).toEqual([]);
});
