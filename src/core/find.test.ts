import { describe, expect, it } from 'vitest';
import { found, likeness } from './find';

const THINGS = [
  { label: 'Bring in a STEP file…', hint: 'its solids as bodies to build on', known: ['import'] },
  { label: 'Form a sheet', hint: 'a flat grid of quads', known: ['subdivision'] },
  { label: 'Round edges', hint: 'of Tower', known: ['fillet', 'edge blend'] },
  { label: 'Hollow Tower', hint: 'open at its topmost flat face', known: ['shell', 'thin wall'] },
  { label: 'Hollow Lid', hint: 'open at its topmost flat face', known: ['shell', 'thin wall'] },
];
const labels = (asked: string): string[] => found(asked, THINGS).map((t) => t.label);

describe('finding by words', () => {
  it('takes names, what else a thing is known as, and beginnings of either', () => {
    expect(labels('fillet')).toEqual(['Round edges']);
    expect(labels('shel')).toEqual(['Hollow Tower', 'Hollow Lid']);
    expect(labels('rounding')[0]).toBe('Round edges');
    expect(labels('edge')[0]).toBe('Round edges');
  });
  it('puts the very word before one with another ending', () => {
    const things = [{ label: 'Draw a line in space' }, { label: 'New drawing on the front plane' }];
    expect(found('drawing', things).map((t) => t.label)).toEqual([things[1]!.label, things[0]!.label]);
    expect(found('draw', things)[0]!.label).toBe(things[0]!.label);
  });
  it('is not led by letters scattered over a line', () => {
    expect(labels('fle')).toEqual([]);
    expect(labels('stl')).toEqual([]);
  });
  it('wants every word that is asked for', () => {
    expect(labels('hollow lid')).toEqual(['Hollow Lid']);
    expect(labels('hollow nothing')).toEqual([]);
  });
  it('gives all in their own order where nothing is asked, whatever the case and the marks', () => {
    expect(labels('')).toEqual(THINGS.map((t) => t.label));
    expect(labels(' FILLET, ')).toEqual(labels('fillet'));
  });
  it('values a name over another name over a hint, and stays within 0 and 1', () => {
    const as = [{ label: 'draft' }, { label: 'x', known: ['draft'] }, { label: 'y', hint: 'draft' }, { label: 'z' }];
    const worth = as.map((a) => likeness('draft', a));
    expect(worth).toEqual(worth.toSorted((a, b) => b - a));
    expect(new Set(worth).size).toBe(4);
    expect(worth[0]).toBeLessThanOrEqual(1);
    expect(worth[3]).toBe(0);
  });
});
