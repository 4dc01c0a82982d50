/**
 * A corner panel from a torn patch of a cage, by mouse and keyboard: every planted fault is named and none else, mended, its border rolled in,
 * made a surface and given a wall; a change at its beginning reaches the saved file.
 */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type App, emptyBench, openApp } from '../../support/browser';
import { formHandOn, handOn } from '../../support/hand';
import { keepJob } from '../../support/keep';
import { savedStep } from '../../support/saved';

let app: App;
beforeAll(async () => {
  app = await openApp(4323, 'none');
});
afterAll(() => app?.close());

/**
 * A patch of 8 × 6 quads, 240 × 180 mm, bent both ways, as an OBJ file. Planted: one quad parted into triangles, one parted across where those beside it
 * are not, and the middle of a row of edges open by 0.022 mm.
 */
function tornPatch(): string {
  const vertices: string[] = [];
  const faces: number[][] = [];
  const add = (x: number, y: number, z: number): number => vertices.push(`v ${x} ${y} ${z}`);
  const rise = (x: number, y: number): number => -(x * x) / 900 - (y * y) / 700;
  const grid = Array.from({ length: 7 }, (_, j) =>
    Array.from({ length: 9 }, (_, i) => add(30 * i - 120, 30 * j - 90, rise(30 * i - 120, 30 * j - 90))),
  );
  const slit = add(-30, 0.02, rise(-30, 0) + 0.01);
  const half = (i: number, j: number): number => {
    const x = 30 * i - 120;
    return add(x, 30 * j - 75, (rise(x, 30 * j - 90) + rise(x, 30 * j - 60)) / 2);
  };
  for (let j = 0; j < 6; j++)
    for (let i = 0; i < 8; i++) {
      const [a, b, c, d] = [grid[j]![i]!, grid[j]![i + 1]!, grid[j + 1]![i + 1]!, grid[j + 1]![i]!];
      const open = (v: number): number => (j === 3 && v === grid[3]![3] ? slit : v);
      if (i === 6 && j === 4) faces.push([a, b, c], [a, c, d]);
      else if (i === 1 && j === 1) {
        const [left, right] = [half(1, 1), half(2, 1)];
        faces.push([a, b, right, left], [left, right, c, d]);
      } else faces.push([open(a), open(b), c, d]);
    }
  return [...vertices, ...faces.map((f) => `f ${f.join(' ')}`)].join('\n');
}

it('is mended fault by fault, rolled in, made a surface and solid, changed and saved', async () => {
  const { page, errors } = await app.page();
  const { next, value, gauge, settled, state } = handOn(page);
  await emptyBench(page, app.url);
  const { form, press, type, doIt } = formHandOn(page);
  const layout = form.getByRole('list', { name: 'Layout' });
  const counted = async (words: string): Promise<void> => form.getByTestId('cage-counts').getByText(words).waitFor();
  const volume = (): Promise<number> => gauge('volume');

  const chooser = page.waitForEvent('filechooser');
  await next(/from an OBJ file/, 'OBJ');
  await (await chooser).setFiles({ name: 'panel.obj', mimeType: 'model/obj', buffer: Buffer.from(tornPatch()) });
  await counted('66 vertices, 50 faces');
  // What was planted, and that the vertices about it have more edges than four: nothing else.
  await layout.getByText('stands on an edge it is no part of').waitFor();
  const said = (await layout.getByRole('button').allTextContents()).filter((line) => /^[■▲]/.test(line));
  expect(said.map((line) => line.replace(/\d+/g, 'n').replace(/\..*/s, '.'))).toEqual([
    '■ Vertex n stands on an edge it is no part of.',
    '■ Vertices n and n stand at one place.',
    '▲ Face n is a triangle.',
    '▲ n edges meet here.',
  ]);
  await layout.getByRole('button', { name: 'mend all 2' }).first().click();
  await layout.getByText('stands on an edge').waitFor({ state: 'detached' });
  await counted('66 vertices, 50 faces');
  await layout.getByRole('button', { name: 'weld them' }).click();
  await counted('65 vertices, 50 faces');
  await layout.getByRole('button', { name: 'join it with the triangle beside it' }).click();
  await counted('65 vertices, 49 faces');
  await settled();
  // It was begun as a surface, since its border takes no flat cap.
  expect(await state('step-s2')).toBe('done');
  expect(await page.getByTestId('step-s2').textContent()).toContain('1 open border');

  // Its border drawn down and in.
  await press('borders');
  await press('extrude along');
  await type('z', '-12 mm');
  await doIt();
  await counted('93 vertices, 77 faces');
  await type('z', '-6 mm');
  await doIt();
  await counted('121 vertices, 105 faces');
  await press('scale');
  await type('x', '0.92');
  await type('y', '0.92');
  await doIt();
  await settled();
  expect(await state('step-s2')).toBe('done');
  const area = async (): Promise<number> => Number(/([\d.]+) cm² of surface/.exec((await page.getByTestId('step-s2').textContent())!)![1]);
  const before = await area();

  await next(/^Give a wall to Body 2/, 'wall');
  await settled();
  expect(await state('step-s3')).toBe('done');
  expect(await gauge('wall-min')).toBeCloseTo(2, 2);
  // A wall of w about a surface of area A: A·w + M·w², M the mean curvature's integral (Steiner); of three walls it follows for the third.
  const volumes: number[] = [await volume()];
  expect(Math.abs(volumes[0]! / (before * 0.2) - 1)).toBeLessThan(0.1);
  for (const wall of [1, 4]) {
    await value('step-s3', 'wall', `${wall} mm`);
    expect([wall, await state('step-s3'), await gauge('wall-min')]).toEqual([wall, 'done', expect.closeTo(wall, 2)]);
    volumes.push(await volume());
  }
  const [two, one, four] = volumes as [number, number, number];
  const bend = (two - before * 0.2) / 0.04;
  const full = (four - before * 0.4 - bend * 0.16) / 0.064;
  expect(one).toBeCloseTo(before * 0.1 + bend * 0.01 + full * 0.001, 0);

  // All of the cage made a tenth wider at its beginning.
  await page.getByTestId('step-s2').click({ position: { x: 4, y: 4 } });
  await press('all');
  await press('scale');
  await type('x', '1.1');
  await type('y', '1');
  await doIt();
  await settled();
  expect(await state('step-s3')).toBe('done');
  const wider = await area();
  expect(wider).toBeGreaterThan(1.05 * before);
  expect(wider).toBeLessThan(1.1 * before);
  expect((await volume()) / four).toBeCloseTo(wider / before, 1);

  const now = await volume();
  const saved = await savedStep(page);
  expect(saved.map((v) => v / 1000)).toEqual([expect.closeTo(now, 1)]);
  await keepJob(page, 'Tub corner panel');
  expect(errors).toEqual([]);
}, 400_000);
