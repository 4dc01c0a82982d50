/** Gauges brought to what is wanted, against closed forms. */
import { expect, it } from 'vitest';
import { add, box, empty, engine } from '../../tests/support/parts';
import type { Project } from '../core/recipe/schema';
import { reachGauge } from './reach';

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
const held = (d: number, h: number): number => (Math.PI * (d / 2 - 2) ** 2 * (h - 2)) / 1e6;

it('what a beaker holds, by its diameter and by its height, to a millionth', async () => {
  const p = beaker();
  const wide = (await reachGauge(engine, p, { gauge: 'capacity-brim', target: 0.3, dimension: 'across', body: 's1' }))!;
  const d = 2 * (Math.sqrt((0.3e6 / (Math.PI * 78)) * 1) + 2);
  expect(Number.parseFloat(wide.found!.text)).toBeCloseTo(d, 5);
  expect(Math.abs(wide.found!.value / 0.3 - 1)).toBeLessThan(1e-6);
  // With it the others as they would be.
  expect(wide.found!.gauges.find((g) => g.id === 'diameter')!.value).toBeCloseTo(d, 5);
  expect(wide.found!.gauges.find((g) => g.id === 'wall-min')!.value).toBeCloseTo(2, 6);
  const high = (await reachGauge(engine, p, { gauge: 'capacity-brim', target: held(60, 131), dimension: 'high', body: 's1' }))!;
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
  const r = (await reachGauge(engine, p, { gauge: 'volume', target: 200, dimension: 'radius', body: 's1' }))!;
  expect(r.found!.text).toMatch(/ in$/);
  expect(Number.parseFloat(r.found!.text) * 25.4).toBeCloseTo(Math.cbrt((3 * 200e3) / (4 * Math.PI)), 4);
});

it('says how far it goes and which step ends it, where it is not reached; nothing is changed', async () => {
  const p = beaker();
  const before = JSON.stringify(p);
  // Below 4 mm there is no room for its wall.
  const r = (await reachGauge(engine, p, { gauge: 'capacity-brim', target: 1e-6, dimension: 'across', body: 's1' }))!;
  expect(r.found).toBeNull();
  expect(Number.parseFloat(r.low.text)).toBeGreaterThan(4);
  expect(Number.parseFloat(r.low.text)).toBeLessThan(7);
  expect(JSON.stringify(p)).toBe(before);
  const still = (await reachGauge(engine, named(box(empty(), [10, 10, 10]), ['idle', '5 mm']), {
    gauge: 'volume',
    target: 2,
    dimension: 'idle',
    body: 's1',
  }))!;
  expect([still.found, still.low.why]).toEqual([null, null]);
  expect(await reachGauge(engine, p, { gauge: 'capacity-brim', target: 1, dimension: 'nobody', body: 's1' })).toBeNull();
});
