/** A basin spout from a new project by mouse and keyboard: a flat-sided base and a round pipe bridged with their curvature, knit, closed, hollowed, changed, saved. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { savedStep } from '../../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4338, 'none');
});
afterAll(() => app?.close());

type P = readonly [number, number, number];
/** The slot of the base at its upper border, 70 × 30, by shares of its length from the middle of its right side, mm. */
function slot(t: number): P {
  const [r, l] = [15, 20];
  const arc = Math.PI * r;
  const s = (t - Math.floor(t)) * (2 * arc + 4 * l);
  const end = (a: number, side: number): P => [side * l + r * Math.cos(a), r * Math.sin(a), 20];
  if (s < arc / 2) return end(s / r, 1);
  if (s < arc / 2 + 2 * l) return [l - (s - arc / 2), r, 20];
  if (s < 1.5 * arc + 2 * l) return end(Math.PI / 2 + (s - arc / 2 - 2 * l) / r, -1);
  if (s < 1.5 * arc + 4 * l) return [-l + (s - 1.5 * arc - 2 * l), -r, 20];
  return end((s - 1.5 * arc - 4 * l) / r - Math.PI / 2, 1);
}
/**
 * What base, bridge and pipe hold with flat ends, cm³. The bridge by quintic Hermite data (its walls are straight up and straight ahead at
 * its ends, so second derivatives are nothing), from the slot to the circle carried round the bend, by Gauss's theorem over fine facets.
 */
function whole(reach: number): number {
  const [n, m] = [720, 240];
  const row = (t: number): P[] => {
    const p = slot(t);
    const a = 2 * Math.PI * t;
    const q: P = [12 * Math.cos(a), -reach, 85 + 12 * Math.sin(a)];
    const chord = Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
    return Array.from({ length: m + 1 }, (_, j): P => {
      const v = j / m;
      const h = [
        1 - 10 * v ** 3 + 15 * v ** 4 - 6 * v ** 5,
        v - 6 * v ** 3 + 8 * v ** 4 - 3 * v ** 5,
        -4 * v ** 3 + 7 * v ** 4 - 3 * v ** 5,
      ];
      const at = (k: number, d0: number, d1: number): number => h[0]! * p[k]! + (1 - h[0]!) * q[k]! + chord * (h[1]! * d0 + h[2]! * d1);
      return [at(0, 0, 0), at(1, 0, -1), at(2, 1, 0)];
    });
  };
  const rows = Array.from({ length: n }, (_, i) => row(i / n));
  const det = (a: P, b: P, c: P): number =>
    a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
  let six = 0;
  for (let i = 0; i < n; i++) {
    const [a, b] = [rows[i]!, rows[(i + 1) % n]!];
    for (let j = 0; j < m; j++) six += det(a[j]!, b[j]!, b[j + 1]!) + det(a[j]!, b[j + 1]!, a[j + 1]!);
    // Its flat ends, each about its middle.
    six += det([0, 0, 20], b[0]!, a[0]!) + det([0, -reach, 85], a[m]!, b[m]!);
  }
  const base = 20 * (40 * 30 + Math.PI * 15 ** 2);
  return (base + six / 6 + 20 * Math.PI * 12 ** 2) / 1000;
}

it('is bridged from its base to its pipe, knit, closed, hollowed, changed and saved', async () => {
  const { page, errors } = await app.page();
  const { next, places, choose, gauge, state, last, pick, dimension, settled, value } = handOn(page);
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New project' }).click();
  const done = async (id: string, words: RegExp): Promise<void> => {
    await page.getByTestId(id).getByText(words).first().waitFor({ timeout: 60_000 });
    expect(await state(id)).toBe('done');
  };
  await dimension('reach', '60 mm');

  await next(/^New drawing on the level plane/, 'drawing');
  await choose(/^Draw$|^Line, poly/, /^Slot/);
  await places('-20,0', '20,0', '20,15');
  await page.keyboard.press('Escape');
  await next(/^Extrude Profile 1, as a surface/, 'surface');
  await done(await last(), /^34\.85 cm/);
  await next(/^Place a plane at a distance/);
  const plane = await last();
  await page.getByTestId(plane).locator('select').first().selectOption({ label: 'the front plane' });
  const distance = page.getByTestId(plane).getByRole('textbox', { name: 'distance', exact: true });
  await distance.fill('reach');
  await distance.press('Enter');
  await page.waitForTimeout(800);
  await next(/^New drawing on the plane of step 2/, 'drawing');
  await choose(/^Draw$|^Line, poly|^Slot/, /^Circle/);
  await places('0,85', '12,85');
  await page.keyboard.press('Escape');
  await next(/^Extrude Profile 2, as a surface/, 'surface');
  await done(await last(), /^15\.08 cm/);

  // From border to border, smooth to the curvature of both, never below the level plane.
  await next(/^Bridge two borders/, 'blend surface');
  const bridge = await last();
  await page.waitForTimeout(900);
  await pick(/^border of circle 1 of Profile 2 \(1\)/, [330, 160]);
  await pick(/^border of front of Body 1/, [374, 262]);
  await page.keyboard.press('Escape');
  await done(
    bridge,
    /^meets its borders within 0\.0000\d mm; the first border G2 to 0\.0[0-4]\d° and 0\.\d\d %.*the second border G2 to 0\.0[0-4]\d° and 0\.\d\d %/,
  );
  await page.getByTestId(bridge).getByRole('combobox', { name: 'dip' }).selectOption('told');
  await page.getByTestId(bridge).getByRole('combobox', { name: 'plane' }).selectOption({ label: 'the level plane' });
  await done(bridge, /stays 20\.000 mm over the level plane/);

  await next(/^Knit 3 surfaces/, 'knit');
  await done(await last(), /^2 borders open, of 174\.25, 75\.40 mm/);
  await next(/^Close/, 'close');
  await settled();
  await done(await last(), /^2 borders closed/);
  expect(await gauge('volume')).toBeCloseTo(whole(60), 1);
  await next(/^Hollow/, 'hollow');
  const hollow = await last();
  await settled();
  await done(hollow, /^wall 2\.00 mm at its thinnest/);
  // Open at the pipe's end too.
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.waitForTimeout(900);
  await page.getByTestId(hollow).getByRole('button', { name: 'pick' }).first().click();
  await pick(/^cap/, [345, 150]);
  await page.keyboard.press('Escape');
  await settled();
  await done(hollow, /^wall 2\.00 mm at its thinnest/);
  const wall = await gauge('volume');

  // A change at the beginning reaches the end; what it holds as a whole is held against the formula with the hollow put off.
  const reach = page.getByRole('textbox', { name: 'reach', exact: true }).first();
  await reach.fill('75 mm');
  await reach.press('Enter');
  await settled();
  expect(await page.locator('[data-testid^=step-][data-state=failed]').count()).toBe(0);
  expect(await gauge('depth')).toBeCloseTo(75 + 20 + 15, 1);
  await reach.fill('60 mm');
  await reach.press('Enter');
  await settled();
  expect(await gauge('volume')).toBeCloseTo(wall, 2);
  await value(hollow, 'wall', '3 mm');
  await done(hollow, /^wall 3\.00 mm at its thinnest/);
  const thick = await gauge('volume');
  expect(thick).toBeGreaterThan(1.4 * wall);

  const saved = await savedStep(page);
  expect(saved.map((v) => v / 1000)).toEqual([expect.closeTo(thick, 1)]);
  await keepJob(page, 'Basin spout');
  expect(errors).toEqual([]);
}, 400_000);
