/** A rail of bent wire from a new project by mouse and keyboard: a stepped block with leaning faces, its corners rounded, a wire along its edges, the block put away. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, measured, newBeaker, openApp } from '../../support/browser';
import { handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { savedStep } from '../../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4321, 'none');
});
afterAll(() => app?.close());

/**
 * Length of the front face's upper border, mm: seen from the front its sides lean in by the taper, and its corners are circles of 16, 7, 7 and 16;
 * the face leans back by the taper, so that a rise takes 1/cos of it. The circles by Simpson's rule.
 */
function border(step: number, taper: number): number {
  const t = Math.tan((taper * Math.PI) / 180);
  const corners: [x: number, z: number, radius: number][] = [
    [0, 0, 0],
    [step * t, step, 16],
    [60, step, 7],
    [60, 40, 7],
    [120 - 40 * t, 40, 16],
    [120, 0, 0],
  ];
  const speed = (dx: number, dz: number): number => Math.sqrt(dx * dx + dz * dz * (1 + t * t));
  let length = 0;
  let [x, z] = corners[0]!;
  for (let i = 1; i < corners.length; i++) {
    const [px, pz, r] = corners[i]!;
    const next = corners[i + 1];
    const [ux, uz] = [px - corners[i - 1]![0], pz - corners[i - 1]![1]];
    const before = Math.atan2(uz, ux);
    if (!next) {
      length += speed(px - x, pz - z);
      break;
    }
    const after = Math.atan2(next[1] - pz, next[0] - px);
    const turn = after - before;
    const cut = r * Math.tan(Math.abs(turn) / 2);
    const [sx, sz] = [px - cut * Math.cos(before), pz - cut * Math.sin(before)];
    length += speed(sx - x, sz - z);
    const n = 400;
    for (let k = 0; k <= n; k++) {
      const w = before + (turn * k) / n;
      length += ((k === 0 || k === n ? 1 : k % 2 ? 4 : 2) * speed(Math.cos(w), Math.sin(w)) * Math.abs(r * turn)) / (3 * n);
    }
    [x, z] = [px + cut * Math.cos(after), pz + cut * Math.sin(after)];
  }
  return length;
}

it('is bent along the edges of a block that is put away, follows its changes, and is saved', async () => {
  const { page, errors } = await app.page();
  const { next, places, value, gauge, remove, settled, state, pick, orbit, dimension, last } = handOn(page);
  await page.goto(app.url);
  await newBeaker(page);
  await measured(page);

  await dimension('step', '18 mm');
  await next(/^New drawing on the front plane/, 'drawing');
  await places('0,0', '120,0', '120,40', '60,40', '60,18', '0,18', '0,0');
  await page.keyboard.press('Escape');
  // The line drawn last is still in hand: it is as long as the step is high.
  await page.getByRole('button', { name: /length$/ }).click();
  const held = page.getByRole('textbox', { name: 'Value of the dimension' });
  await held.fill('step');
  await held.press('Enter');
  await next(/^Extrude Profile 2/, 'Extrude');
  await remove('step-s1');
  await value(await last(), 'length', '50 mm');

  await next(/^Taper/, 'taper');
  const taper = await last();
  await pick(/^front of/, [300, 290]);
  await pick(/^right side of/, [505, 270]);
  await page.getByRole('button', { name: 'Back', exact: true }).click();
  await page.waitForTimeout(900);
  await pick(/^back of/, [345, 230]);
  await page.getByRole('button', { name: 'Corner', exact: true }).click();
  await page.waitForTimeout(900);
  await orbit(140);
  await pick(/^outer left side of/, [424, 325]);
  await page.keyboard.press('Escape');
  await value(taper, 'angle', '10°');
  expect(await state(taper)).toBe('done');

  const edge = (a: string, b: string): RegExp => new RegExp(`between (${a} and ${b}|${b} and ${a}) of Body 2`);
  await orbit(42);
  for (const [radius, ...edges] of [
    ['16 mm', [edge('lower top', 'outer left side'), [505, 267]], [edge('right side', 'upper top'), [208, 148]]],
    ['7 mm', [edge('upper top', 'inner left side'), [345, 172]], [edge('inner left side', 'lower top'), [344, 235]]],
  ] as const) {
    await next(/^Round edges/, 'round');
    for (const [words, near] of edges) await pick(words, near);
    await page.keyboard.press('Escape');
    await value(await last(), 'radius', radius);
    expect(await state(await last())).toBe('done');
  }

  // Nothing is drawn for it: its section is told by a diameter, and one edge brings the whole chain.
  await next(/^Bend a wire/, 'bent wire');
  const wire = await last();
  await pick(edge('lower top', 'back'), [390, 273]);
  await settled();
  await page.keyboard.press('Escape');
  const told = async (): Promise<number> => Number(/([\d.]+) mm of it/.exec((await page.getByTestId(wire).textContent())!)![1]);
  expect(await state(wire)).toBe('done');
  expect(await told()).toBeCloseTo(border(18, 10), 2);
  await next(/^Put Body 2 away/, 'remove');
  await settled();
  expect(await gauge('wall-min')).toBeCloseTo(6, 2);
  expect(await gauge('volume')).toBeCloseTo((Math.PI * 9 * border(18, 10)) / 1000, 2);

  // Changes at its beginning reach its end.
  await value(taper, 'angle', '5°');
  await page.getByTestId(wire).click({ position: { x: 4, y: 4 } });
  expect(await told()).toBeCloseTo(border(18, 5), 2);
  const height = page.getByRole('textbox', { name: 'step', exact: true }).first();
  for (const [text, mm] of [
    ['22 mm', 22],
    ['17 mm', 17],
  ] as const) {
    await height.fill(text);
    await height.press('Enter');
    await settled();
    expect([text, await told()]).toEqual([text, expect.closeTo(border(mm, 5), 2)]);
  }

  const saved = await savedStep(page);
  expect(saved.map((v) => v / (Math.PI * 9))).toEqual([expect.closeTo(border(17, 5), 1)]);
  await keepJob(page, 'Bent towel rail');
  expect(errors).toEqual([]);
}, 300_000);
