import { describe, expect, it } from 'vitest';
import { evaluateDimensions } from '../dimensions/dimensions';
import { cautionsFor, USES } from './cautions';
import { gaugeById, gauges, type Readings, readGauge, readGauges, showReading } from './gauges';
import { MATERIALS, massOf } from './materials';

const { scope } = evaluateDimensions([{ name: 'wall', expr: '2.4 mm' }]);
const readings: Readings = {
  height: 140,
  width: 90,
  depth: 90,
  diameter: 90,
  round: true,
  mouth: 41,
  capacityBrim: 421_600,
  capacityFill: null,
  wallMin: 2.38,
  wallMax: 4,
  closed: true,
  surface: false,
  openBorders: 0,
  volume: 158_300,
  area: 62_000,
  deviation: null,
};
const read = (id: string, target: { min?: string; max?: string }, r: Readings | null = readings) =>
  readGauge(gaugeById(id)!, { gauge: id, ...target }, r, 'petg', scope);

describe('a gauge', () => {
  it('holds inside its limits', () =>
    expect(read('height', { min: '138', max: '145' })).toMatchObject({ verdict: 'pass', words: 'holds', target: '138 … 145' }));
  it('warns a little outside and fails further out', () => {
    expect(read('wall-min', { min: 'wall' })).toMatchObject({ verdict: 'warn', words: '0.020 under 2.4' });
    expect(read('wall-min', { min: '3 mm' })).toMatchObject({ verdict: 'fail', words: '0.620 under 3' });
    expect(read('height', { max: '5 in' })).toMatchObject({ verdict: 'fail', words: '13.00 over 127' });
  });
  it('that a body has not is left out, unless the brief asks for it', () => {
    const solid = { ...readings, mouth: 45, capacityBrim: 3, capacityFill: 0 };
    for (const id of ['mouth', 'capacity-brim', 'capacity-fill', 'width', 'depth', 'deviation']) {
      expect([id, read(id, {}, solid).applies, read(id, { min: '1' }, solid).applies]).toEqual([id, false, true]);
    }
    const block = { ...readings, round: false };
    expect(['diameter', 'width', 'depth', 'mouth', 'height'].map((id) => read(id, {}, block).applies)).toEqual([
      false,
      true,
      true,
      true,
      true,
    ]);
  });
  it('of material is left out for a skin', () => {
    const skin = { ...readings, volume: 0, closed: false };
    for (const id of ['volume', 'mass', 'wall-min', 'wall-max'])
      expect([id, read(id, {}, skin).applies, read(id, {}).applies]).toEqual([id, false, true]);
    expect([read('area', {}, skin).applies, read('mass', { max: '3' }, skin).applies]).toEqual([true, true]);
  });
  it('forgives what lies within its own accuracy', () => expect(read('height', { min: '140.01' }).verdict).toBe('pass'));
  it('reads litres, grams and square centimetres from the inner units', () => {
    expect(read('capacity-brim', { min: '0.4' }).value).toBeCloseTo(0.4216, 9);
    expect(read('mass', {}).value).toBeCloseTo(158.3 * 1.27, 9);
    expect(read('area', {}).value).toBeCloseTo(620, 9);
  });
  it('says that there is none, that it is measuring, or that its target is wrong', () => {
    expect(read('capacity-fill', { min: '0.3' })).toMatchObject({ words: 'there is none', verdict: 'fail' });
    expect(read('height', { min: '1' }, null).words).toBe('not measured yet');
    expect(read('height', { min: 'nothing' })).toMatchObject({ verdict: 'unknown' });
    expect(read('height', { min: 'nothing' }).words).toContain('no dimension called');
  });
  it('fails on an open body, and warns of a surface, which is open while it is worked on', () => {
    const open = { ...readings, closed: false, openBorders: 3 };
    expect(read('closed', {}, open)).toMatchObject({ verdict: 'fail', words: '3 open borders' });
    expect(read('closed', {}, { ...open, surface: true })).toMatchObject({ verdict: 'warn', words: '3 open borders' });
  });
  it('is listed once, targets first', () => {
    const all = readGauges([{ gauge: 'mass', max: '300' }], readings, 'petg', scope);
    expect(all).toHaveLength(gauges.length);
    expect(all[0]!.id).toBe('mass');
  });
  it('shows inches where the project does', () => {
    expect(showReading(25.4, 'mm', 2, 'in')).toEqual({ text: '1.000', unit: 'in' });
    expect(showReading(null, 'mm', 2, 'mm').text).toBe('–');
  });
});

it('mass is volume times density', () => {
  expect(massOf(1000, 'brass')).toBeCloseTo(MATERIALS.brass!.density, 12);
  expect(massOf(1, 'unobtainium')).toBeUndefined();
});

it('every declared use brings its caution, and turning its own', () => {
  const brief = { purpose: '', process: 'turn' as const, material: 'pla', uses: Object.keys(USES), fillBelowBrim: '1', targets: [] };
  const c = cautionsFor(brief);
  expect(c).toHaveLength(Object.keys(USES).length + 1);
  expect(c.join(' ')).toMatch(/certification/);
});
