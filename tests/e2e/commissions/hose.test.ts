/**
 * A hose end and its coil from a new project by mouse and keyboard: blocks with full rounds, a piece from a block's face to a circle led by two mirrored
 * rails, a hose along lines and arcs in space, three coils with smooth pieces between them; a change at the beginning reaches the saved file.
 */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { readStep } from '../../../src/kernel/exchange/step-read';
import { type App, emptyBench, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { testKernel } from '../../support/kernel';

let app: App;
beforeAll(async () => {
  app = await openApp(4325, 'none');
});
afterAll(() => app?.close());

type Place = readonly [number, number, number];
/** Length of a line through places with its corners rounded, mm: at each, twice the tangent's length gives way to the arc. */
function rounded(places: readonly Place[], radius: number): number {
  const way = (i: number): number[] => places[i + 1]!.map((v, k) => v - places[i]![k]!);
  let length = 0;
  for (let i = 0; i + 1 < places.length; i++) {
    length += Math.hypot(...way(i));
    if (i === 0) continue;
    const [u, v] = [way(i - 1), way(i)];
    const turn = Math.acos(u.reduce((s, c, k) => s + c * v[k]!, 0) / Math.hypot(...u) / Math.hypot(...v));
    length += radius * (turn - 2 * Math.tan(turn / 2));
  }
  return length;
}

it('is rounded, led by rails, bent along its path, coiled, changed and saved', async () => {
  const { page, errors } = await app.page();
  const { next, places, tool, choose, value, gauge, settled, state, pick, orbit, dimension, last } = handOn(page);
  const told = async (step: string): Promise<string> => (await page.getByTestId(step).textContent())!;
  const done = async (step: string): Promise<void> => expect([step, await state(step)]).toEqual([step, 'done']);
  await emptyBench(page, app.url);
  await dimension('tall', '30 mm');

  // A block, both its ends rounded fully, the one behind first.
  const block = async (
    drawing: string,
    middle: string,
    corner: string,
    ends: readonly (readonly [RegExp, number, number])[],
  ): Promise<string> => {
    await next(/^New drawing on the level plane/, 'drawing');
    await tool(/^Draw$|^Line, poly/, /^Rectangle about/);
    await places(middle, corner);
    await page.keyboard.press('Escape');
    await next(new RegExp(`^Extrude ${drawing} as a new body`), 'extrude');
    const raised = await last();
    await value(raised, 'length', 'tall');
    await next(/^Round off narrow faces fully of Body \d/, 'full round');
    const step = await last();
    for (const [words, x, y] of ends) {
      if (words.source.includes('left')) await orbit(165);
      await pick(words, [x, y]);
      await settled();
      if (words.source.includes('left')) await orbit(-165);
    }
    await page.keyboard.press('Escape');
    await done(step);
    expect(await told(step)).toContain('full round of radius 10.00, 10.00 mm');
    return raised;
  };
  const first = await block('Profile 2', '0,0', '18,10', [
    [/^right side/, 480, 240],
    [/^left side/, 460, 256],
  ]);
  expect(await gauge('volume')).toBeCloseTo(((16 * 20 + Math.PI * 100) * 30) / 1000, 2);

  // One rail with small roundings, its other half its mirror image.
  await next(/^New drawing on the front plane/, 'drawing');
  await places('18,30', '18,42', '8,52', '8,60');
  await page.keyboard.press('Escape');
  await choose(/^Alter/, /^Round a corner/);
  await page.getByRole('group', { name: 'What is drawn next' }).getByRole('textbox').first().fill('4');
  for (const point of ['p2', 'p3']) await page.locator(`[data-point=${point}]`).press('Enter');
  await page.keyboard.press('Escape');
  await choose('More', /Choose everything/);
  await choose(/^Alter/, /^Mirror, kept/);
  await page.getByText('Mirror image').waitFor();

  await next(/^Place a plane at a distance/, 'plane');
  const plane = await last();
  await value(plane, 'distance', '60 mm');
  await next(/^New drawing on the plane of step/, 'drawing');
  await tool(/^Draw$|^Line, poly/, /^Circle/);
  await places('0,0', '8');
  await page.keyboard.press('Escape');
  await next(/^Loft through/, 'loft');
  const loft = await last();
  // It begins with the circle and asks for a face.
  await pick(/^top of Body 2/, [330, 120]);
  await settled();
  await page.keyboard.press('Escape');
  await done(loft);
  const free = await gauge('volume');
  await page.getByTestId(loft).getByRole('button', { name: 'pick', exact: true }).click();
  await pick(/^(line|arc) \d of Profile 3/, [400, 200]);
  await pick(/^mirror image of (line|arc) \d of Profile 3/, [290, 180]);
  await settled();
  await page.keyboard.press('Escape');
  await done(loft);
  await page.getByTestId(loft).getByRole('combobox', { name: 'mode' }).selectOption({ label: 'joined to' });
  await settled();
  await done(loft);
  expect(await told(loft)).toContain('its end lies flush on Body 2');
  expect(await gauge('volume')).toBeGreaterThan(free);
  expect(await gauge('height')).toBeCloseTo(60, 2);

  // A run, a slanted jog and a drop, typed place by place.
  await dimension('drop', '60 mm');
  await next(/^Draw a line in space/, 'line in space');
  const path = await last();
  const add = page.getByTestId(path).getByRole('textbox', { name: 'place to add' });
  for (const place of ['0,0,60', '@0,0,20', '@30,20,30', '@40,0,0', '@0,0,-drop']) {
    await add.fill(place);
    await add.press('Enter');
  }
  await value(path, 'radius of its corners', '12 mm');
  await done(path);
  const along = (drop: number): number =>
    rounded(
      [
        [0, 0, 60],
        [0, 0, 80],
        [30, 20, 110],
        [70, 20, 110],
        [70, 20, 110 - drop],
      ],
      12,
    );
  const long = async (step: string): Promise<number> =>
    Number(
      /^([\d.]+) mm/.exec(
        (await page
          .getByTestId(step)
          .getByText(/^[\d.]+ mm (?:long|of it)/)
          .first()
          .textContent())!,
      )![1],
    );
  expect(await long(path)).toBeCloseTo(along(60), 2);
  await page.keyboard.press('Escape');
  await next(/^Bend a wire/, 'wire');
  const hose = await last();
  await settled();
  await page.getByTestId(hose).getByRole('combobox', { name: 'inside' }).selectOption({ label: 'a tube of ⌀' });
  await value(hose, 'wall', '2 mm');
  await value(hose, 'diameter', '16 mm');
  // Tighter than it is thick: cautioned, not refused.
  expect(await state(hose)).toBe('warned');
  expect(await long(hose)).toBeCloseTo(along(60), 1);

  // Three coils one over the other, smooth pieces from the end of each to the start of the next.
  const coils: string[] = [];
  for (const distance of ['90 mm', '45 mm', '45 mm']) {
    await next(/^Place a plane at a distance/, 'plane');
    await value(await last(), 'distance', distance);
    await next(/^Draw a helix/, 'helix');
    coils.push(await last());
    await value(coils.at(-1)!, 'turns', '2.5');
    expect(await long(coils.at(-1)!)).toBeCloseTo(2.5 * Math.hypot(30 * Math.PI, 8), 2);
  }
  const pieces: string[] = [];
  for (const i of [0, 1]) {
    await next(/^Draw a blend/, 'blend');
    pieces.push(await last());
    const between = page.getByTestId(pieces[i]!).getByRole('combobox', { name: 'add a curve' });
    for (const coil of [coils[i]!, coils[i + 1]!]) await between.selectOption({ value: coil.replace('step-', '') });
    await settled();
    await done(pieces[i]!);
    expect(await told(pieces[i]!)).toContain('smooth throughout');
    await page.keyboard.press('Escape');
  }
  await next(/^Bend a wire/, 'wire');
  const coil = await last();
  await settled();
  // Twice on one of them takes all that go on from it.
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.waitForTimeout(900);
  await page.getByTestId(coil).getByRole('button', { name: 'pick', exact: true }).click();
  const { x, y } = await pick(/^the helix of step/, [345, 180]);
  await page.waitForTimeout(1000);
  await page.mouse.dblclick(x, y);
  await settled();
  await page.keyboard.press('Escape');
  await done(coil);
  const bends = (await Promise.all(pieces.map(long))).reduce((a, b) => a + b, 0);
  expect(await long(coil)).toBeCloseTo(3 * 2.5 * Math.hypot(30 * Math.PI, 8) + bends, 1);

  // Changes at its beginning reach its end.
  const dim = (name: string) => page.getByRole('textbox', { name, exact: true }).first();
  await dim('drop').fill('75 mm');
  await dim('drop').press('Enter');
  await settled();
  expect(await long(hose)).toBeCloseTo(along(75), 1);
  for (const [tall, led] of [
    ['33 mm', /done|warned/],
    ['27 mm', /failed/],
  ] as const) {
    await dim('tall').fill(tall);
    await dim('tall').press('Enter');
    await settled();
    expect([tall, await state(first), await state(loft)]).toEqual([tall, 'done', expect.stringMatching(led)]);
  }
  // The rails begin where the block ended: that is said, and the way out works at the first click.
  expect(await told(loft)).toContain('misses section 2 (top of Body 2) by 3.000 mm');
  await page.getByRole('button', { name: 'Pull the rails onto the sections' }).first().click();
  await settled();
  expect(await state(loft)).toBe('done');
  expect(await gauge('height')).toBeCloseTo(60, 2);
  const volume = await gauge('volume');

  await page.getByRole('link', { name: 'Make' }).click();
  await page.getByRole('radio', { name: /STEP/ }).click();
  // Each by itself, and all in one file where they stand.
  const bodies = page.getByRole('group', { name: 'Bodies' }).getByRole('radio');
  const saved = async (which: number): Promise<number[]> => {
    await bodies.nth(which).check();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: /^Save .*\.step$/ }).click();
    const read = readStep(await testKernel(), readFileSync((await (await download).path())!));
    return read.ok ? read.value.map((s) => s.volume / 1000) : [];
  };
  await page.getByText('All 3 in one file').waitFor();
  const volumes = await saved(3);
  for (const [k, v] of volumes.entries()) expect([k, await saved(k)]).toEqual([k, [expect.closeTo(v, 6)]]);
  const wire = 3 * 2.5 * Math.hypot(30 * Math.PI, 8) + bends;
  expect(volumes).toEqual([
    expect.closeTo(volume, 2),
    expect.closeTo((Math.PI * (64 - 36) * along(75)) / 1000, 2),
    expect.closeTo((Math.PI * 9 * wire) / 1000, 1),
  ]);
  await keepJob(page, 'Hose end and coil');
  expect(errors).toEqual([]);
}, 400_000);
