/** Dimensions that are moved: as they are typed, by steps one would choose. */
import { expect, it } from 'vitest';
import { addStep, emptyProject } from '../recipe/edit';
import { changeable, moverOf } from './mover';

const sheet = (...rows: readonly (readonly [string, string])[]) => ({
  ...emptyProject('p'),
  dimensions: rows.map(([name, expr]) => ({ name, expr })),
});

it('steps are round numbers of the unit a dimension is written in', () => {
  const p = sheet(['belly', '92 mm'], ['wall', '2.2 mm'], ['lip', '3/8 in'], ['twist', '36°'], ['ribs', '22'], ['share', '0.4']);
  const steps = Object.fromEntries(p.dimensions.map(({ name }) => [name, moverOf(p, name)!]));
  expect(['belly', 'wall', 'lip', 'twist', 'ribs', 'share'].map((n) => steps[n]!.text(steps[n]!.step))).toEqual([
    '1 mm',
    '0.1 mm',
    '0.01 in',
    '1°',
    '1',
    '0.01',
  ]);
  expect([steps.ribs!.whole, steps.share!.whole, steps.belly!.whole]).toEqual([false, false, false]);
});

it('another value is written so that it is read back as it was found', () => {
  const p = sheet(['belly', '92 mm'], ['half', 'belly / 2']);
  const m = moverOf(p, 'belly')!;
  for (const v of [93.1234567, 1 / 3, 400.0000001]) expect(moverOf(m.at(v), 'belly')!.from).toBeCloseTo(v, 6);
  expect(changeable(p)).toEqual(['belly']);
  expect(moverOf(p, 'nobody')).toBeNull();
  expect(moverOf(sheet(['bad', '3 +']), 'bad')).toBeNull();
});

it('whole numbers are what a step or a drawing counts by, itself or what follows from it', () => {
  const p = sheet(['ribs', '22'], ['all', '2 * ribs'], ['size', '40']);
  const repeated = addStep(p, 'pattern', {}, { count: 'all' }).project;
  expect([moverOf(repeated, 'ribs')!.whole, moverOf(repeated, 'size')!.whole]).toEqual([true, false]);
});
