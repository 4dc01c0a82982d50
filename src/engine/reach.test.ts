/** Gauges brought to what is wanted, against closed forms. */
import { expect, it } from 'vitest';
import { add, box, empty, engine } from '../../tests/support/parts';
import type { Project } from '../core/recipe/schema';
import { reachGauge, reachGauges } from './reach';

const named = (p: Project, ...dimensions: readonly (readonly [string, string])[]): Project => ({
  ...p,
  dimensions: dimensions.map(([name, expr]) => ({ name, expr })),
});
/** A beaker of a diameter and a height, 2 mm thick. */
const beaker = (): Project => {
  const can = add(
    empty(),
    'primitive',
    { shape: 'cylinder', plane: 'level', places: [], mode: 'new', body: null },
    { diameter: 'across', height: 'high' },
  );
  return named(add(can, 'shell', { body: 's1', open: [{ topOf: 's1' }] }, { wall: '2 mm' }), ['across', '60 mm'], ['high', '80 mm']);
};
/** As far as it goes. */
const FREE = { least: null, most: null };
const held = (d: number, h: number): number => (Math.PI * (d / 2 - 2) ** 2 * (h - 2)) / 1e6;

it('what a beaker holds, by its diameter and by its height, to a millionth', async () => {
  const p = beaker();
  const wide = (await reachGauge(engine, p, { gauge: 'capacity-brim', target: 0.3, dimension: 'across', body: 's1', ...FREE }))!;
  const d = 2 * (Math.sqrt((0.3e6 / (Math.PI * 78)) * 1) + 2);
  expect(Number.parseFloat(wide.found!.text)).toBeCloseTo(d, 5);
  expect(Math.abs(wide.found!.value / 0.3 - 1)).toBeLessThan(1e-6);
  // With it the others as they would be.
  expect(wide.found!.gauges.find((g) => g.id === 'diameter')!.value).toBeCloseTo(d, 5);
  expect(wide.found!.gauges.find((g) => g.id === 'wall-min')!.value).toBeCloseTo(2, 6);
  const high = (await reachGauge(engine, p, { gauge: 'capacity-brim', target: held(60, 131), dimension: 'high', body: 's1', ...FREE }))!;
  expect(Number.parseFloat(high.found!.text)).toBeCloseTo(131, 4);
});

it('the mass of a ball, in inches and by a dimension that others follow', async () => {
  const ball = add(
    empty(),
    'primitive',
    { shape: 'sphere', plane: 'level', places: [], mode: 'new', body: null },
    { diameter: 'radius * 2' },
  );
  const p: Project = { ...named(ball, ['radius', '1 in']), units: 'in' };
  const r = (await reachGauge(engine, p, { gauge: 'volume', target: 200, dimension: 'radius', body: 's1', ...FREE }))!;
  expect(r.found!.text).toMatch(/ in$/);
  expect(Number.parseFloat(r.found!.text) * 25.4).toBeCloseTo(Math.cbrt((3 * 200e3) / (4 * Math.PI)), 4);
});

it('says how far it goes and which step ends it, where it is not reached; nothing is changed', async () => {
  const p = beaker();
  const before = JSON.stringify(p);
  // Below 4 mm there is no room for its wall.
  const r = (await reachGauge(engine, p, { gauge: 'capacity-brim', target: 1e-6, dimension: 'across', body: 's1', ...FREE }))!;
  expect(r.found).toBeNull();
  expect(Number.parseFloat(r.low.text)).toBeGreaterThan(4);
  expect(Number.parseFloat(r.low.text)).toBeLessThan(7);
  expect(JSON.stringify(p)).toBe(before);
  const still = (await reachGauge(engine, named(box(empty(), [10, 10, 10]), ['idle', '5 mm']), {
    gauge: 'volume',
    target: 2,
    dimension: 'idle',
    body: 's1',
    ...FREE,
  }))!;
  expect([still.found, still.low.why]).toEqual([null, null]);
  expect(await reachGauge(engine, p, { gauge: 'capacity-brim', target: 1, dimension: 'nobody', body: 's1', ...FREE })).toBeNull();
});

it('what a beaker holds and weighs, by its diameter and its height together; nothing is changed', async () => {
  const p = beaker();
  const before = JSON.stringify(p);
  // A beaker of 74 by 96 mm: what it holds (mensuration) and its own volume.
  const [want, own] = [held(74, 96), (Math.PI * 37 ** 2 * 96) / 1e3 - held(74, 96) * 1e3];
  const aims = [
    { gauge: 'capacity-brim', target: want, dimension: 'across', ...FREE },
    { gauge: 'volume', target: own, dimension: 'high', ...FREE },
  ] as const;
  const r = (await reachGauges(engine, p, { aims, body: 's1' }))!;
  expect(Math.abs(r.values[0] / want - 1)).toBeLessThan(1e-6);
  expect(Math.abs(r.values[1] / own - 1)).toBeLessThan(1e-6);
  expect(r.gauges!.find((g) => g.id === 'capacity-brim')!.value).toBeCloseTo(want, 6);
  const [d, h] = r.texts.map((t) => Number.parseFloat(t)) as [number, number];
  expect(held(d, h)).toBeCloseTo(want, 6);
  expect(JSON.stringify(p)).toBe(before);
  // One dimension can't bring two.
  expect(await reachGauges(engine, p, { aims: [aims[0], { ...aims[1], dimension: 'across' }], body: 's1' })).toBeNull();
});

it('stays within what a dimension may be, and says so where that ends it', async () => {
  const p = beaker();
  const bound = (most: number | null, target: number) =>
    reachGauge(engine, p, { gauge: 'capacity-brim', target, dimension: 'high', body: 's1', least: null, most });
  expect((await bound(140, held(60, 131)))!.found).not.toBeNull();
  const r = (await bound(120, held(60, 131)))!;
  expect([r.found, r.high.why]).toEqual([null, 'high is to stay at most 120 mm']);
  expect(Number.parseFloat(r.high.text)).toBeGreaterThan(118.5);
  const pair = (await reachGauges(engine, p, {
    aims: [
      { gauge: 'capacity-brim', target: held(60, 131), dimension: 'high', least: null, most: 120 },
      { gauge: 'diameter', target: 60, dimension: 'across', ...FREE },
    ],
    body: 's1',
  }))!;
  expect([pair.gauges, pair.why]).toEqual([null, 'high is to stay at most 120 mm']);
});

it('every value that brings it there, the nearest first', async () => {
  // Its height falls off on either side of 50: 90 mm stand at 50 ± √500 (worked out by hand).
  const p = named(
    add(
      empty(),
      'primitive',
      { shape: 'box', plane: 'level', places: [], mode: 'new', body: null },
      { width: '10 mm', depth: '10 mm', height: 'high' },
    ),
    ['x', '60 mm'],
    ['high', '100 mm - (x - 50 mm)^2 / 50 mm'],
  );
  const r = (await reachGauge(engine, p, { gauge: 'height', target: 90, dimension: 'x', body: 's1', all: true, ...FREE }))!;
  expect([r.found!, ...r.others].map((f) => Number.parseFloat(f.text))).toEqual([
    expect.closeTo(50 + Math.sqrt(500), 4),
    expect.closeTo(50 - Math.sqrt(500), 4),
  ]);
});
