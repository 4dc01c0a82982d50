import { describe, expect, it } from 'vitest';
import { addDimension, emptyProject, newProject, removeDimension, renameDimension, usesOf } from '../recipe/edit';
import { parseProject, writeProject } from '../recipe/file';
import type { Project, Size } from '../recipe/schema';
import { changedRow, faultsOf, MOST_SIZES, sizesOf, withColumn, withoutColumn, withoutRow, withRow, withSize } from './sizes';
import { asTyped, csvOf, pastedSizes, seriesOf } from './table';

/** A sheet with a height, a width from it, an angle and a count. */
function sheet(units: 'mm' | 'in' = 'mm'): Project {
  let p: Project = { ...emptyProject('Jar'), units };
  for (const [name, expr] of [
    ['height', '120 mm'],
    ['width', 'height/2'],
    ['lean', '5°'],
    ['ribs', '12'],
  ] as const) {
    const next = addDimension(p, name, expr);
    if (!next.ok) throw new Error(next.error);
    p = next.value;
  }
  return p;
}
const pasted = (text: string, p = sheet()) => {
  const r = pastedSizes(text, p);
  if (!r.ok) throw new Error(r.error);
  return r.value;
};
const refused = (text: string, p = sheet()): string => {
  const r = pastedSizes(text, p);
  return r.ok ? 'taken' : r.error;
};
const expr = (p: Project, name: string): string | undefined => p.dimensions.find((d) => d.name === name)?.expr;

describe('a size', () => {
  const p: Project = { ...sheet(), sizes: pasted('size,height,ribs\nsmall,90,\ntall,"150 mm",16') };
  const [small, tall] = p.sizes!.rows as [Size, Size];
  it('sets what it says and leaves the rest, also what follows from it', () => {
    expect([expr(withSize(p, small), 'height'), expr(withSize(p, small), 'ribs')]).toEqual(['90 mm', '12']);
    expect([expr(withSize(p, tall), 'height'), expr(withSize(p, tall), 'ribs')]).toEqual(['150 mm', '16']);
    expect(expr(withSize(p, tall), 'width')).toBe('height/2');
    expect(withSize(p, { ...small, values: ['', ''] })).toBe(p);
  });
  it('says which of its values can’t be, and only that', () => {
    const wrong = (values: string[]) => faultsOf(p, { ...small, values });
    expect(wrong(['90 mm', ''])).toEqual([null, null]);
    expect(wrong(['9 °', '3.5'])).toEqual(['it is an angle; a length is wanted', null]);
    expect(wrong(['wide + 1 mm', '12'])[0]).toMatch(/wide/);
    expect(wrong(['height + 1 mm', '12'])[0]).toMatch(/circle/);
    expect(wrong(['2 mm * 3 mm', '4 mm'])).toEqual(['it is no plain value; a length is wanted', 'it is a length; a number is wanted']);
  });
  it('follows what its dimensions are called, and goes with them', () => {
    const renamed = renameDimension(
      { ...p, sizes: changedRow(p.sizes!, small.id, (r) => ({ ...r, values: ['90 mm', 'height/10 mm'] })) },
      'height',
      'tallness',
    );
    expect(renamed.ok && renamed.value.sizes!.dimensions).toEqual(['tallness', 'ribs']);
    expect(renamed.ok && renamed.value.sizes!.rows[0]!.values).toEqual(['90 mm', 'tallness/10 mm']);
    const without = removeDimension(p, 'height');
    expect(without.sizes).toEqual({
      dimensions: ['ribs'],
      rows: [
        { ...small, values: [''] },
        { ...tall, values: ['16'] },
      ],
    });
    const used: Project = { ...p, sizes: changedRow(p.sizes!, small.id, (r) => ({ ...r, values: ['2*width', ''] })) };
    expect(usesOf(used, 'width')).toEqual(['size small']);
  });
  it('stays in the file', () => {
    const read = parseProject(writeProject({ ...newProject('Jar'), sizes: p.sizes }));
    expect(read.ok && read.value.sizes).toEqual(p.sizes);
  });
});

describe('a table', () => {
  it('is read with commas, semicolons and decimal commas, or tabs; with names or without', () => {
    expect(pasted('size;height;lean\nsmall;90,5;7,5\n')).toEqual({
      dimensions: ['height', 'lean'],
      rows: [{ id: 'z1', name: 'small', values: ['90.5 mm', '7.5°'] }],
    });
    expect(pasted('height\tribs\n90\t8\n100\t9').rows.map((r) => [r.name, ...r.values])).toEqual([
      ['90 × 8', '90 mm', '8'],
      ['100 × 9', '100 mm', '9'],
    ]);
    expect(pasted('Name,height\nM,3 in', sheet('in')).rows[0]!.values).toEqual(['3 in']);
    expect(pasted('Name,height\nM,3', sheet('in')).rows[0]!.values).toEqual(['3 in']);
    expect(pasted('height\n"1,5"').rows[0]!.values).toEqual(['1.5 mm']);
  });
  it('adds to what is there, keeps names apart, and fills what it does not say', () => {
    const first: Project = { ...sheet(), sizes: pasted('size,height\nM,90') };
    const both = pasted('size,ribs\nM,10\nL,12', first);
    expect(both.dimensions).toEqual(['height', 'ribs']);
    expect(both.rows.map((r) => [r.name, ...r.values])).toEqual([
      ['M', '90 mm', ''],
      ['M 2', '', '10'],
      ['L', '', '12'],
    ]);
    expect(new Set(both.rows.map((r) => r.id)).size).toBe(3);
  });
  it('is refused in words', () => {
    expect(refused('')).toMatch(/a line of names along the top/);
    expect(refused('size,height')).toMatch(/a line for each size/);
    expect(refused('size,girth\nM,3')).toBe('there is no dimension called “girth”; the sheet has height, width, lean, ribs');
    expect(refused('size,height,height\nM,3,4')).toBe('“height” stands twice along the top');
    expect(refused(`height\n${'9\n'.repeat(MOST_SIZES + 1)}`)).toMatch(`${MOST_SIZES} are the most`);
    expect(refused('size,height\nM,3', emptyProject('Jar'))).toBe('there is no dimension called “height”');
  });
  it('written as CSV reads back the same, and is no formula to a sheet', () => {
    const p: Project = { ...sheet(), sizes: pasted('size,height,ribs\n"wide, low",90,10\n=2+3,100,12') };
    const text = csvOf(
      ['size', ...p.sizes!.dimensions],
      p.sizes!.rows.map((r) => [r.name, ...r.values]),
    );
    expect(text).toBe('size,height,ribs\n"wide, low",90 mm,10\n"\'=2+3",100 mm,12');
    expect(pasted(text).rows.map((r) => r.values)).toEqual(p.sizes!.rows.map((r) => r.values));
  });
});

describe('a series', () => {
  const made = (...a: [string, string, string, number]) => {
    const r = seriesOf(sheet(), ...a);
    if (!r.ok) throw new Error(r.error);
    return r.value.rows.map((row) => row.values[0]);
  };
  it('goes evenly from one value to the other, in the kind and unit of its dimension', () => {
    expect(made('height', '100', '160', 4)).toEqual(['100 mm', '120 mm', '140 mm', '160 mm']);
    expect(made('lean', '0', '10', 3)).toEqual(['0°', '5°', '10°']);
    expect(made('ribs', '6', '9', 4)).toEqual(['6', '7', '8', '9']);
    expect(made('height', 'width', '3 in', 2)).toEqual(['60 mm', '76.2 mm']);
    const inches = seriesOf(sheet('in'), 'height', '1', '2', 3);
    expect(inches.ok && inches.value.rows.map((r) => r.values[0])).toEqual(['1 in', '1.5 in', '2 in']);
  });
  it('is refused where its ends, its number or its dimension can’t be', () => {
    const why = (...a: [string, string, string, number]): string => {
      const r = seriesOf(sheet(), ...a);
      return r.ok ? 'made' : r.error;
    };
    expect(why('height', '3°', '4 mm', 3)).toBe('“3°” is not a value that height can have');
    expect(why('height', '3', '4', 1)).toBe(`from 2 to ${MOST_SIZES} sizes`);
    expect(why('height', '3', '4', 2.5)).toBe(`from 2 to ${MOST_SIZES} sizes`);
    expect(why('girth', '3', '4', 3)).toBe('“girth” has no value on the sheet');
    expect(why('height', 'x', '4', 3)).toMatch(/x/);
  });
});

describe('edits of the table', () => {
  it('columns and rows come and go, each row as long as the columns', () => {
    let s = withRow(withColumn(withColumn({ dimensions: [], rows: [] }, 'height'), 'ribs'), '');
    expect(s.rows).toEqual([{ id: 'z1', name: 'size 1', values: ['', ''] }]);
    expect(withColumn(s, 'ribs')).toBe(s);
    s = withRow(s, 'size 1', ['3 mm']);
    expect(s.rows[1]).toEqual({ id: 'z2', name: 'size 1 2', values: ['3 mm', ''] });
    expect(withoutColumn(s, 'height').rows.map((r) => r.values.length)).toEqual([1, 1]);
    expect(withRow(withoutRow(s, 'z1'), '').rows.map((r) => r.id)).toEqual(['z2', 'z3']);
    expect(sizesOf(sheet())).toEqual({ dimensions: [], rows: [] });
  });
  it('bare numbers get the unit of what they are', () => {
    const p = sheet();
    expect(['height', 'lean', 'ribs'].map((n) => asTyped(p, n, ' 12 '))).toEqual(['12 mm', '12°', '12']);
    expect(['-3', '.5', '1,5', '2 in', 'width', ''].map((t) => asTyped(p, 'height', t))).toEqual([
      '-3 mm',
      '.5 mm',
      '1.5 mm',
      '2 in',
      'width',
      '',
    ]);
  });
});
