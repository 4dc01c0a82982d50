/** A pouch with its cap from a new project by mouse and keyboard: lofted, collared, capped with grips, squeezed, made shorter, hollowed, both in one file. */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { readStep } from '../../../src/kernel/exchange/step-read';
import { type App, newBeaker, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { testKernel } from '../../support/kernel';
import { everyCase } from '../../support/properties';

let app: App;
beforeAll(async () => {
  app = await openApp(4334, 'none');
});
afterAll(() => app?.close());

/** What two discs have in common, their middles a distance apart. Source: the two circular segments, by their angles. */
function lens(r: number, R: number, d: number): number {
  if (d >= r + R) return 0;
  const segment = (radius: number, to: number): number =>
    radius * radius * Math.acos(to / radius) - to * Math.sqrt(radius * radius - to * to);
  const x = (d * d + r * r - R * R) / (2 * d);
  return segment(r, x) + segment(R, d - x);
}
/** The cap in cm³: a wall of 0.6 round a cylinder of 14.5 by 24, its upper edge rolled round, with notches of 0.5 about 15.3. */
function cap(grips: number): number {
  const wall = Math.PI * (15.1 ** 2 - 14.5 ** 2) * 24;
  const roof = Math.PI * 14.5 ** 2 * 0.6;
  // Pappus: a quarter disc turned about the axis.
  const rolled = 2 * Math.PI * (14.5 + (4 * 0.6) / (3 * Math.PI)) * (Math.PI / 4) * 0.36;
  // Up the rolled edge the outside draws back; by Simpson's rule.
  const steps = 400;
  const over = Array.from({ length: steps + 1 }, (_, i) => {
    const h = (0.6 * i) / steps;
    return (i === 0 || i === steps ? 1 : i % 2 === 1 ? 4 : 2) * lens(0.5, 14.5 + Math.sqrt(0.36 - h * h), 15.3);
  }).reduce((a, b) => a + b, 0);
  const notch = lens(0.5, 15.1, 15.3) * 24 + (0.6 / steps / 3) * over;
  return (wall + roof + rolled - grips * notch) / 1000;
}

// Some four minutes: with `npm run commissions`, and where every case is run.
it.runIf(everyCase)(
  'is lofted from a slot, capped, squeezed, made shorter, hollowed, and saved in one file',
  async () => {
    const { page, errors } = await app.page();
    const { next, places, tool, value, gauge, remove, settled, state, last, pick, pickFrom, choose } = handOn(page);
    const row = async () => page.getByTestId(await last());
    await page.goto(app.url);
    await newBeaker(page);
    await settled();

    await next(/^New drawing on the level plane/, 'drawing');
    await tool(/^Draw|Line, polyline/, /^Slot/);
    await places('-23,0', '23,0', '1');
    await page.keyboard.press('Escape');
    await next(/^Place a plane at a distance/);
    await (await row()).locator('select').first().selectOption({ label: 'the level plane' });
    await value(await last(), 'distance', '160');
    await next(/^New drawing on the plane of step/, 'drawing');
    await tool(/^Draw|Line, polyline/, /^Circle/);
    await places('0,0', '16.5');
    await page.keyboard.press('Escape');
    await next(/^Loft through/, 'loft');
    const loft = await last();
    await settled();
    await remove('step-s1');
    expect(await state(loft)).toBe('done');

    // Collars, each drawn on the face that is topmost.
    let volume = await gauge('volume');
    for (const [k, radius, tall] of [
      [4, 14, 8],
      [5, 12, 12],
    ] as const) {
      await next(/^New drawing on a flat face/, 'drawing');
      await pickFrom('Above');
      await tool(/^Draw|Line, polyline/, /^Circle/);
      await places('0,0', `${radius}`);
      await page.keyboard.press('Escape');
      await next(new RegExp(`^Extrude Profile ${k}, joined to Body 2`), `Extrude Profile ${k}`);
      await value(await last(), 'length', `${tall}`);
      const now = await gauge('volume');
      expect([k, now - volume]).toEqual([k, expect.closeTo((Math.PI * radius ** 2 * tall) / 1000, 1)]);
      volume = now;
    }
    expect(await gauge('height')).toBeCloseTo(180, 2);

    // The cap: from the shoulder's face, half a millimetre outside the collar's edge.
    await next(/^New drawing on a flat face/, 'drawing');
    await page.getByRole('button', { name: 'Corner', exact: true }).click();
    await page.waitForTimeout(600);
    // Nearer, until the shoulder is wide enough to be met.
    await page.mouse.move(690, 170);
    for (let k = 0; k < 6; k++) {
      await page.mouse.wheel(0, -200);
      await page.waitForTimeout(120);
    }
    await page.waitForTimeout(500);
    await pick(/^end of Body 2/, [325, 145]);
    await page.getByRole('button', { name: 'Done', exact: true }).click();
    await page.getByRole('button', { name: 'edges', exact: true }).click();
    await pick(/^edge between end of Body 2 and circle 1 of Profile 4/, [345, 145]);
    await page.keyboard.press('Escape');
    await page.getByText('1 edge of Body 2').waitFor();
    await choose('More', /^Choose everything/);
    await choose('Alter', /^Offset, kept/);
    await page.getByRole('textbox', { name: 'Distance', exact: true }).fill('.5');
    await page.keyboard.press('Enter');
    await page.getByRole('combobox', { name: 'Side' }).selectOption({ label: 'outside' });
    await next(/^Extrude Profile 6 as a new body/, 'Extrude Profile 6');
    await value(await last(), 'length', '24');
    await next(/^Hollow Body 3, open where I pick/, 'Hollow');
    const shell = await last();
    // Its open end is inside the other body: it is shown alone.
    const alone = page.locator('[data-testid^=body-]').last();
    await alone.getByRole('button').nth(-2).click();
    await pickFrom('Below');
    await page.getByTestId(shell).getByRole('combobox', { name: 'side' }).selectOption({ index: 1 });
    await value(shell, 'wall', '.6');
    await alone.getByRole('button').nth(-2).click();
    await alone.getByRole('button', { name: 'gauges' }).click();
    await settled();
    expect(await state(shell)).toBe('done');
    expect(await gauge('volume')).toBeCloseTo(cap(0), 2);

    // Grips: one notch in a ring of 24, its edges rounded by one pick for all of them.
    await next(/^New drawing on a flat face/, 'drawing');
    await pickFrom('Above');
    await tool(/^Draw|Line, polyline/, /^Circle/);
    await places('15.3,0', '.5');
    await page.keyboard.press('Escape');
    await next(/^Extrude Profile 7, cut from Body 3/, 'Extrude Profile 7');
    await settled();
    await next(/^Repeat a step in a ring step \d+ \(Extrude Profile 7\)/, 'Repeat');
    await value(await last(), 'count with the original', '24');
    expect(await gauge('volume')).toBeCloseTo(cap(24), 2);
    await page.getByRole('button', { name: 'Front', exact: true }).click();
    await page.waitForTimeout(600);
    await next(/^Round edges of Body 3/, 'round');
    await pick(/^edge between outside over .* and (copy \d+ of )?circle 1 of Profile 7/, [345, 120]);
    const rounds = await last();
    await value(rounds, 'radius', '.05');
    await page.getByRole('button', { name: /^all \d+ alike, at every copy/ }).click();
    await settled();
    expect(await state(rounds)).toBe('done');
    await (await row()).getByText('at every copy:').first().waitFor();

    // Squeezed from both sides by a spline and its mirror image.
    await next(/^New drawing on the front plane/, 'drawing');
    await tool(/^Draw|Line, polyline/, /^Spline through/);
    await places('26,20', '17.5,85', '21,150', '');
    await tool(/^Spline through/, /^Line, polyline/);
    await places('26,20', '34,20', '34,150', '21,150');
    await page.keyboard.press('Escape');
    await choose('More', /^Choose everything/);
    await choose('Alter', /^Mirror, kept/);
    await next(/^Extrude Profile 8, cut from Body 2/, 'Extrude Profile 8');
    const squeeze = await last();
    await settled();
    expect(await state(squeeze)).toBe('done');

    // A change at the beginning reaches the end: the pouch is shorter, and all that stands on it comes down.
    await page.getByTestId('body-s3').getByRole('button', { name: 'gauges' }).click();
    const plane = page.getByTestId('step-s2').getByRole('textbox', { name: 'distance' });
    await plane.fill('156');
    await plane.press('Enter');
    await settled();
    expect(await page.locator('[data-testid^=step-][data-state=failed]').count()).toBe(0);
    expect(await gauge('height')).toBeCloseTo(176, 2);

    // Hollowed, open at the neck that is its topmost face now.
    const area = await gauge('area');
    await next(/^Hollow Body 2 open at its topmost/, 'Hollow');
    const hollow = await last();
    await value(hollow, 'wall', '.6');
    expect(await state(hollow)).toBe('done');
    await page.getByTestId(hollow).getByText('topmost flat face of Profile 5').waitFor();
    expect(await gauge('wall-min')).toBeCloseTo(0.6, 2);
    // A wall of 0.6 over what the skin was: no more than its area allows, no less than half of that.
    const hollowed = await gauge('volume');
    expect(hollowed).toBeLessThan(0.06 * area);
    expect(hollowed).toBeGreaterThan(0.03 * area);

    await page.getByRole('link', { name: 'Make' }).click();
    await page.getByRole('radio', { name: /STEP/ }).click();
    await page.getByRole('radio', { name: /^All 2 in one file/ }).check();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: /^Save .*\.step$/ }).click();
    const read = readStep(await testKernel(), readFileSync((await (await download).path())!));
    const volumes = read.ok ? read.value.map((s) => s.volume / 1000) : [];
    // The rounds of 0.05 take next to nothing off the cap.
    expect(volumes).toEqual([expect.closeTo(hollowed, 2), expect.closeTo(cap(24), 1)]);
    await keepJob(page, 'Lotion pouch');
    expect(errors).toEqual([]);
  },
  600_000,
);
