/** Measurements kept in the document, and how they read. */
import { describe, expect, it } from 'vitest';
import type { MeasureReading, ThingReading } from '../inspect/measured';
import { angleBetween, lineToLine } from '../inspect/measured';
import { addMeasurement, newProject, removeMeasurement } from './edit';
import { parseProject, writeProject } from './file';
import { measurementWords, readingWords } from './measure-words';

const thing = (more: Partial<ThingReading> = {}): ThingReading => ({
  kind: 'plane',
  length: null,
  area: null,
  radius: null,
  at: [0, 0, 0],
  ...more,
});
const reading = (more: Partial<MeasureReading>): MeasureReading => ({
  id: 'm1',
  a: thing(),
  b: null,
  distance: null,
  angle: null,
  centres: null,
  ...more,
});

describe('measurements of a project', () => {
  it('are added with names of their own, taken away one by one, and come back from a file', () => {
    const p = addMeasurement(
      addMeasurement(newProject('P'), { body: 's1', face: 's1/top' }, null),
      { body: 's1', edge: 'a|b', end: 'low' },
      { body: 's1', face: 's1/foot' },
    );
    expect(p.measures!.map((m) => m.id)).toEqual(['m1', 'm2']);
    const back = parseProject(writeProject(p));
    expect(back.ok && back.value.measures).toEqual(p.measures);
    expect(removeMeasurement(p, 'm1').measures!.map((m) => m.id)).toEqual(['m2']);
    expect(addMeasurement(removeMeasurement(p, 'm1'), { body: 's1', face: 's1/top' }, null).measures!.map((m) => m.id)).toEqual([
      'm2',
      'm1',
    ]);
  });
  it('read as from what to what', () => {
    const p = newProject('P');
    expect(measurementWords({ id: 'm', a: { body: 's1', face: 's1/rim' }, b: { body: 's1', face: 's1/foot', at: [1, 2, 3] } }, p)).toMatch(
      / to a place on /,
    );
  });
});

describe('readings in words', () => {
  const far = (value: number) => ({ value, from: [0, 0, 0] as const, to: [value, 0, 0] as const });
  it('tell the distance first, then axes and angle', () => {
    expect(readingWords(reading({ b: thing(), distance: far(12.5), centres: far(40), angle: Math.PI / 6 }), 'mm')).toEqual([
      '12.500 mm apart',
      '40.000 mm between axes or centres',
      '30.00°',
    ]);
    expect(readingWords(reading({ b: thing(), distance: far(0), angle: 0 }), 'mm')).toEqual(['they touch', 'parallel']);
    expect(readingWords(reading({ b: thing() }), 'mm')).toEqual(['nothing between them can be measured']);
  });
  it('of one thing tell what it has', () => {
    expect(readingWords(reading({ a: thing({ kind: 'circle', radius: 8, length: 50.265 }) }), 'mm')).toEqual([
      '⌀ 16.000 mm',
      'radius 8.000 mm',
      '50.265 mm long',
      'circle',
    ]);
    expect(readingWords(reading({ a: thing({ area: 250 }) }), 'mm')).toEqual(['2.500 cm²', 'flat']);
    expect(readingWords(reading({ a: thing({ kind: 'point', at: [1, 2, 3] }) }), 'mm')).toEqual(['1.00, 2.00, 3.00']);
  });
});

describe('lines and directions', () => {
  it('are skew, crossing or parallel', () => {
    expect(lineToLine([0, 0, 0], [1, 0, 0], [5, 7, 3], [0, 1, 0]).value).toBeCloseTo(3, 12);
    expect(lineToLine([0, 0, 0], [1, 0, 0], [5, 7, 0], [0, 1, 0]).value).toBeCloseTo(0, 12);
    expect(lineToLine([0, 0, 0], [1, 0, 0], [5, 3, 4], [1, 0, 0]).value).toBeCloseTo(5, 12);
  });
  it('have an angle without regard to their sense', () => {
    expect(angleBetween([1, 0, 0], [-1, 0, 0])).toBeCloseTo(0, 12);
    expect(angleBetween([1, 0, 0], [0, 0, -2])).toBeCloseTo(Math.PI / 2, 12);
    expect(angleBetween([1, 0, 0], [-1, 1, 0])).toBeCloseTo(Math.PI / 4, 12);
  });
});
