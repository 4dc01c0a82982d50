/** A locker key band, by mouse and keyboard: a helix laid on a cylinder, drawn again, sections swept along it, eyes set on it, a field of pillow tiles, changed, saved. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { readByAnother, saveAs } from '../../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4347, 'none');
});
afterAll(() => app?.close());

it('is wound, swept, carries its eyes and tiles, is changed and saved', async () => {
  const { page, errors } = await app.page();
  const { next, value, gauge, settled, state, last, dimension, tool, places, pick } = handOn(page);
  const step = (id: string) => page.getByTestId(id);
  // Texts stand apart from each other: what one ends with and the next begins with is no one number.
  const told = (id: string): Promise<string> =>
    step(id).evaluate((e) => {
      const texts: string[] = [];
      const all = document.createTreeWalker(e, NodeFilter.SHOW_TEXT);
      while (all.nextNode()) texts.push(all.currentNode.textContent ?? '');
      return texts.join(' ').replace(/\s+/g, ' ').trim();
    });
  const done = async (id: string): Promise<void> => expect([await told(id), await state(id)]).toEqual([await told(id), 'done']);
  const pickUp = async (id: string, name: string, ...labels: string[]): Promise<void> => {
    for (const label of labels) {
      await step(id).getByRole('combobox', { name }).selectOption({ label });
      await page.waitForTimeout(200);
    }
    await page.keyboard.press('Escape');
    await settled();
  };
  const typed = async (id: string, ...texts: string[]): Promise<void> => {
    const field = step(id).getByPlaceholder(/x, y, z/);
    for (const text of texts) {
      await field.fill(text);
      await field.press('Enter');
      await page.waitForTimeout(150);
    }
    await page.keyboard.press('Escape');
    await settled();
  };
  await page.goto(app.url);
  await page.getByRole('button', { name: 'New project' }).click();
  for (const [name, text] of [
    ['wrist', '170 mm'],
    ['bore', 'wrist/pi'],
    ['wide', '12 mm'],
    ['thick', '2.4 mm'],
  ] as const)
    await dimension(name, text);

  // What it is wound on.
  await next(/^Set up a box/, 'cylinder');
  const mandrel = await last();
  await step(mandrel).getByRole('combobox', { name: 'shape' }).selectOption({ label: 'a cylinder' });
  await settled();
  await value(mandrel, 'diameter', 'bore');
  await value(mandrel, 'height', '2*wide+40 mm');

  // A helix of two turns, its ends blended into level arcs.
  await next(/^Place a plane at a distance/, 'plane');
  await value(await last(), 'distance', '16 mm');
  await next(/^Draw a helix/, 'helix');
  const helix = await last();
  for (const [name, text] of [
    ['diameter', 'bore'],
    ['diameter at the end', 'bore'],
    ['turns', '2'],
    ['rise per turn', 'wide+4 mm'],
  ] as const)
    await value(helix, name, text);
  // By the length of a helix.
  expect(Number(/([\d.]+) mm long/.exec(await told(helix))![1])).toBeCloseTo(2 * Math.hypot(170, 16), 2);
  const arcs: string[] = [];
  for (const [angles, high] of [
    [[-80, -60, -40], '12'],
    [[40, 60, 80], '2*wide+28'],
  ] as const) {
    await next(/^Draw an arc in space/, 'arc');
    arcs.push(await last());
    await typed(arcs.at(-1)!, ...angles.map((a) => `bore/2*cos(${a} deg), bore/2*sin(${a} deg), ${high}`));
  }
  const blends: string[] = [];
  for (const ends of [
    ['the arc of step 4', 'the helix of step 3'],
    ['the helix of step 3', 'the arc of step 5'],
  ] as const) {
    await next(/^Draw a blend between two curves/, 'blend');
    blends.push(await last());
    await pickUp(blends.at(-1)!, 'add a curve', ...ends);
  }
  await next(/^Draw a chain of edges or curves/, 'chain');
  const chain = await last();
  await pickUp(
    chain,
    'add a curve',
    'the arc of step 4',
    'the blend of step 6',
    'the helix of step 3',
    'the blend of step 7',
    'the arc of step 5',
  );
  const lengths = await Promise.all(
    [...arcs, ...blends, helix, chain].map(async (id) => Number(/([\d.]+) mm long/.exec(await told(id))![1])),
  );
  expect(lengths.pop()! - lengths.reduce((a, b) => a + b)).toBeCloseTo(0, 2);
  await next(/^Lay a curve on a face/, 'lay');
  const lay = await last();
  await pickUp(lay, 'add a curve', 'the chain of step 8');
  await step(lay).getByRole('button', { name: 'pick', exact: true }).last().click();
  await pick(/^side of Body 1/, [340, 260]);
  await page.keyboard.press('Escape');
  await settled();
  expect(Number(/keeps to the face within ([\d.]+) mm/.exec(await told(lay))![1])).toBeLessThan(1e-3);
  // Again with fewer points, the deviation told.
  await next(/^Draw a curve again/, 'again');
  const again = await last();
  await pickUp(again, 'add a curve', 'the curve on a face of step 9');
  await value(again, 'control points', '40');
  expect(Number(/40 control points, off by at most ([\d.]+) mm/.exec(await told(again))![1])).toBeLessThan(0.15);

  // Three sections along it, narrower at both ends.
  for (const [share, wide] of [
    ['0', '0.6*wide'],
    ['0.5', 'wide'],
    ['1', '0.6*wide'],
  ] as const) {
    await next(/^Place a plane square/, 'plane');
    const square = await last();
    await pickUp(square, 'add a curve', 'the curve drawn again of step 10');
    await value(square, 'share', share);
    await next(new RegExp(`^New drawing on the plane of step ${/^\d+/.exec(await told(square))![0]}`), 'drawing');
    await places(`0,-${wide}/2`, `0,${wide}/2`, `-thick,${wide}/2`);
    await page.keyboard.press('Escape');
    await tool(/^Draw$|^Line, poly/, /^Line, poly/);
    await places(`0,-${wide}/2`, `-thick,-${wide}/2`);
    await page.keyboard.press('Escape');
    await tool(/^Draw$|^Line, poly/, /^Arc through three/);
    await places(`-thick,${wide}/2`, `-thick,-${wide}/2`, '-thick-0.6,0');
    await page.keyboard.press('Escape');
  }
  await next(/^Sweep a drawing along a path/, 'sweep');
  const sweep = await last();
  // How they are held first: nothing is built of them before.
  await step(sweep).getByRole('combobox', { name: 'hold' }).selectOption({ label: 'kept upright on a face' });
  await page.waitForTimeout(300);
  await pickUp(sweep, 'add a drawing', 'Profile 1', 'Profile 2');
  await step(sweep).getByRole('button', { name: 'pick', exact: true }).last().click();
  await pick(/^side of Body 1/, [340, 100]);
  await page.keyboard.press('Escape');
  await settled();
  await done(sweep);
  await next(/^Put Body 1 away/, 'put');
  await settled();
  const band = await gauge('volume');

  // An eye, one side heavier, and its mirror image: each stands on the band where its end is.
  await next(/^New drawing on the level plane/, 'drawing');
  await tool(/^Draw$|^Line, poly|^Arc/, /^Ellipse/);
  await places('0,0', '4.2,0', '0,2.8');
  await tool(/^Draw$|^Ellipse/, /^Ellipse/);
  await places('0.8,0', '3.2,0', '0.8,1.4');
  await page.keyboard.press('Escape');
  await next(/^Extrude Profile 4 as a new body/, 'extrude');
  await value(await last(), 'length', '3 mm');
  expect(await state(await last())).toBe('done');
  await next(/^Mirror Body 3/, 'mirror');
  const mirrored = await last();
  await step(mirrored).getByRole('combobox', { name: 'result' }).selectOption({ label: 'as a body of its own' });
  await settled();
  await done(mirrored);
  const eyes: string[] = [];
  for (const [body, face, near] of [
    ['Body 3', /^arc \d, part 1 of Body 2/, 'bore/2*cos(-66 deg), bore/2*sin(-66 deg), 12'],
    ['Body 4', /^arc \d, part 2 of Body 2/, 'bore/2*cos(66 deg), bore/2*sin(66 deg), 2*wide+28'],
  ] as const) {
    await next(new RegExp(`^Set ${body} on a face`), 'on a face');
    eyes.push(await last());
    await pick(face, [345, 280]);
    await page.keyboard.press('Escape');
    await settled();
    await step(eyes.at(-1)!).click({ position: { x: 4, y: 4 } });
    await step(eyes.at(-1)!).getByRole('button', { name: 'pick', exact: true }).last().click();
    await typed(eyes.at(-1)!, near);
    await value(eyes.at(-1)!, 'sunk by', '0.8 mm');
    await done(eyes.at(-1)!);
  }
  await next(/^Combine bodies/, 'join');
  const joined = await last();
  await pickUp(joined, 'add a body', 'Body 4');
  await done(joined);
  const eyed = await gauge('volume');
  // Two oval rings of which 2.2 mm stand out, as read to a hundredth.
  expect(Math.abs(eyed - band - (2 * 2.2 * Math.PI * (4.2 * 2.8 - 2.4 * 1.4)) / 1000)).toBeLessThan(0.02);

  // A pillow with round ends, its upper border rounded.
  await next(/^New drawing on the level plane/, 'drawing');
  await tool(/^Draw$|^Line, poly|^Ellipse/, /^Slot/);
  await places('-1.4,0', '1.4,0', '1.4,1.7');
  await page.keyboard.press('Escape');
  await next(/^Extrude Profile 5 as a new body/, 'extrude');
  await value(await last(), 'length', '1.2 mm');
  await next(/^Round edges of Body 5/, 'round');
  const round = await last();
  await page.getByRole('button', { name: 'Above', exact: true }).click();
  await page.waitForTimeout(900);
  await pick(/and top of Body 5/, [345, 240]);
  await page.keyboard.press('Escape');
  await settled();
  await value(round, 'radius', '0.6 mm');
  await done(round);

  // A staggered field of them on the outside, lower towards its borders; what would lie over the eyes or beside the band is left out.
  await next(/^Tile Body 2 with Body 5/, 'tile');
  const tiles = await last();
  await page.keyboard.press('Escape');
  for (const [name, text] of [
    ['distance in rows', '9 mm'],
    ['distance of rows', '4.4 mm'],
    ['margin', '0.5 mm'],
  ] as const)
    await value(tiles, name, text);
  await step(tiles).getByRole('combobox', { name: 'thin' }).selectOption({ label: 'lower towards the sides' });
  await settled();
  await value(tiles, 'share of the height at the border', '0.5');
  await value(tiles, 'thinned over', '4 mm');
  expect(await state(tiles)).toBe('unfinished');
  await step(tiles).getByRole('button', { name: 'pick', exact: true }).first().click();
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.waitForTimeout(900);
  for (const part of [1, 2]) await pick(new RegExp(`^arc \\d, part ${part} of Body 2`), [345, 240]);
  await page.keyboard.press('Escape');
  await settled();
  const laid = await told(tiles);
  expect(await state(tiles)).toBe('warned');
  expect(laid).toMatch(/\d+ are left out because they would lie over a border/);
  const counts = [...laid.matchAll(/(\d+) in 2 rows/g)].map((m) => Number(m[1]));
  const [least, most] = /heights × ([\d.]+) to ([\d.]+)/.exec(laid)!.slice(1).map(Number) as [number, number];
  expect([counts.length, least > 0.5 && most <= 1 && least < most]).toEqual([2, true]);
  // Laid in true scale but for the crown's and the helix's bend.
  for (const m of laid.matchAll(/lengths × ([\d.]+) to ([\d.]+)/g))
    for (const stretch of [Number(m[1]), Number(m[2])]) expect(Math.abs(stretch - 1)).toBeLessThan(0.01);
  // A slot 6.2 by 3.4, 1.2 high, its upper border rounded by 0.6: by Pappus about the straight and the round stretches; then lower, and wider outside.
  const whole = 1.2 * (2.8 * 3.4 + Math.PI * 1.7 ** 2);
  const corner = (1 - Math.PI / 4) * 0.36;
  const off = 0.6 * (1 - (10 - 3 * Math.PI) / (12 - 3 * Math.PI));
  const pillow = whole - corner * (2 * 2.8 + 2 * Math.PI * (1.7 - 0.6 + off));
  const added = ((await gauge('volume')) - eyed) * 1000;
  const each = added / counts.reduce((a, b) => a + b);
  expect(each).toBeGreaterThan(least * pillow);
  expect(each).toBeLessThan(most * pillow * 1.04);
  expect(await page.getByTestId('gauge-closed').textContent()).toContain('yes');

  // Another wrist and a wider band reach the end.
  const banded = await gauge('volume');
  for (const [name, text] of [
    ['wrist', '185 mm'],
    ['wide', '13 mm'],
  ] as const) {
    const field = page.getByRole('textbox', { name, exact: true }).first();
    await field.fill(text);
    await field.press('Enter');
  }
  await settled();
  expect(await page.locator('[data-testid^=step-][data-state=failed]').count()).toBe(0);
  // Some nine per cent longer and eight per cent wider.
  expect((await gauge('volume')) / banded).toBeGreaterThan(1.1);
  expect((await gauge('volume')) / banded).toBeLessThan(1.25);

  // Saved as STEP and read by another reader: one closed body of the same volume.
  const volume = await gauge('volume');
  await page.getByRole('link', { name: 'Make' }).click();
  expect((await readByAnother(await saveAs(page, 'step'))).volume / 1000 / volume).toBeCloseTo(1, 2);
  await page.getByRole('link', { name: 'Bench' }).click();
  await keepJob(page, 'Locker key band');
  expect(errors).toEqual([]);
}, 600_000);
