/** A valve dial in colours from a new project by mouse and keyboard: a turned disc parted by numerals and scallops at once, coloured, changed, saved together and apart. */
import { readFileSync } from 'node:fs';
import { strFromU8, unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';

let app: App;
beforeAll(async () => {
  app = await openApp(4340, 'none');
});
afterAll(() => app?.close());

const [R, r] = [40, 5];
/** What two circles share whose middles lie apart by the greater's radius, mm² (published: the lens of two circles). */
const lens = r * r * Math.acos(r / (2 * R)) + R * R * Math.acos(1 - (r * r) / (2 * R * R)) - (r / 2) * Math.sqrt(4 * R * R - r * r);
/** Six times the volume within facets, mm³ (divergence theorem). */
function volume(model: string): number[] {
  return [...model.matchAll(/<object [^>]*>(.*?)<\/object>/gs)].map(([, body]) => {
    const at = [...body!.matchAll(/<vertex x="([^"]+)" y="([^"]+)" z="([^"]+)"/g)].map(
      (m) => m.slice(1).map(Number) as [number, number, number],
    );
    let six = 0;
    for (const m of body!.matchAll(/<triangle v1="(\d+)" v2="(\d+)" v3="(\d+)"/g)) {
      const [a, b, c] = [1, 2, 3].map((k) => at[Number(m[k])]!) as unknown as [number[], number[], number[]];
      six += a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) - a[1]! * (b[0]! * c[2]! - b[2]! * c[0]!) + a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!);
    }
    return six / 6;
  });
}

it('is turned, parted by numerals and scallops, coloured, changed and saved', async () => {
  const { page, errors } = await app.page();
  const { next, places, choose, gauge, state, last, dimension, settled } = handOn(page);
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByText('next step…').waitFor();
  await dimension('inset', '1.2 mm');
  await next(/New half profile/, 'half');
  await page.waitForTimeout(400);
  await places('0,0', `${R},0`, `${R},8`, '0,8');
  await page.keyboard.press('Escape');
  await next(/^Revolve Profile 1\s*as a new body/, 'revolve');
  await settled();
  const whole = await gauge('volume');
  expect(whole).toBeCloseTo((Math.PI * R * R * 8) / 1000, 2);
  await next(/^Place a plane at a distance/);
  const distance = page.getByTestId(await last()).getByRole('textbox', { name: 'distance', exact: true });
  await distance.fill('8 mm');
  await distance.press('Enter');
  await page.waitForTimeout(800);

  // Numerals about the middle.
  await next(/^New drawing on the plane of step 2/, 'drawing');
  await page.waitForTimeout(400);
  await choose(/^Draw$|^Line, poly/, /^Text outline/);
  for (const [at, words] of [
    ['-4,22', '12'],
    ['22,-3', '3'],
    ['-2,-28', '6'],
  ] as const) {
    await page.getByRole('textbox', { name: 'Text to outline' }).fill(words);
    await places(at);
  }
  await page.keyboard.press('Escape');
  // Twelve scallops over the rim.
  await next(/^New drawing on the plane of step 2/, 'drawing');
  await page.waitForTimeout(400);
  await choose(/^Draw$|^Line, poly|^Text outline/, /^Circle/);
  for (let i = 0; i < 12; i++) {
    const [x, y] = [R * Math.cos((i * Math.PI) / 6), R * Math.sin((i * Math.PI) / 6)];
    await places(`${x.toFixed(6)},${y.toFixed(6)}`, `${(x + r).toFixed(6)},${y.toFixed(6)}`);
  }
  await page.keyboard.press('Escape');

  await next(/^Part Body 1 by outlines/, 'inlay');
  const step = await last();
  const line = page.getByTestId(step);
  await settled();
  const deep = line.getByRole('textbox', { name: 'depth', exact: true });
  const parts = async (): Promise<[number, number]> => {
    await settled();
    expect(await state(step)).toBe('done');
    const [, a, b] = /(\d+\.\d+) cm³ in 4 pieces, (\d+\.\d+) cm³ in 12 pieces|$/.exec((await line.textContent())!.replace(/\s+/g, ' '))!;
    return [Number(a), Number(b)];
  };
  await deep.fill('inset');
  await deep.press('Enter');
  const [numerals, scallops] = await parts();
  expect(scallops).toBeCloseTo((12 * lens * 1.2) / 1000, 3);
  expect(numerals).toBeGreaterThan(0.01);
  expect(await gauge('volume')).toBeCloseTo(whole - numerals - scallops, 2);

  // Each in its colour.
  const colours = page.locator('input[type=color]');
  for (const [i, colour] of ['#f2f0e6', '#1f6f8b', '#b3452f'].entries()) await colours.nth(i).fill(colour);

  // A change at the beginning reaches all of them.
  const inset = page.getByRole('textbox', { name: 'inset', exact: true }).first();
  await inset.fill('2 mm');
  await inset.press('Enter');
  const deeper = await parts();
  expect(deeper[1]).toBeCloseTo((12 * lens * 2) / 1000, 3);
  expect(deeper[0] / numerals).toBeCloseTo(2 / 1.2, 1);

  await page.getByRole('link', { name: 'Make' }).click();
  await page.getByRole('radio', { name: /^3MF/ }).click();
  const save = async (): Promise<Record<string, Uint8Array>> => {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: /^Save .*\.(3mf|zip)$/ }).click();
    return unzipSync(readFileSync((await (await download).path())!));
  };
  await page.getByRole('radio', { name: /^All 3 in one file/ }).click();
  const model = strFromU8((await save())['3D/3dmodel.model']!);
  expect([...model.matchAll(/displaycolor="([^"]+)"/g)].map((m) => m[1]).sort()).toEqual(['#1F6F8B', '#B3452F', '#F2F0E6']);
  expect(model.match(/<object [^>]*pid="4" pindex="\d"/g)).toHaveLength(3);
  const read = volume(model);
  const total = (Math.PI * R * R * 8) / 1000;
  expect(Math.abs(read.reduce((a, b) => a + b, 0) / 1000 / total - 1)).toBeLessThan(3e-3);
  await page.getByRole('radio', { name: /^A file for each/ }).click();
  const apart = await save();
  expect(Object.keys(apart)).toHaveLength(3);
  const each = Object.values(apart).map((f) => volume(strFromU8(unzipSync(f)['3D/3dmodel.model']!))[0]!);
  for (const [i, v] of each.sort((a, b) => a - b).entries()) expect(v).toBeCloseTo(read.toSorted((a, b) => a - b)[i]!, 3);
  await keepJob(page, 'Valve dial');
  expect(errors).toEqual([]);
}, 400_000);
