/** Tables of sizes from and for others: files, the clipboard, series. */
import Papa from 'papaparse';
import { evaluateDimensions } from '../dimensions/dimensions';
import { evaluateQuantity, type Kind, kindOf } from '../dimensions/expression';
import { written } from '../recipe/held';
import type { Project, Sizes } from '../recipe/schema';
import { fail, ok, type Result } from '../result';
import { kindOfDimension, MOST_COLUMNS, MOST_SIZES, sizesOf, withColumn, withRow } from './sizes';

/** A bare number as it would stand on the sheet, with the project's unit where it is a length, or degrees; other texts as they are. */
export function asTyped(project: Project, name: string, text: string): string {
  const bare = text.trim().replace(/^([-+]?\d*),(\d+)$/, '$1.$2');
  if (!/^[-+]?(\d+\.?\d*|\.\d+)$/.test(bare)) return bare;
  const kind = kindOfDimension(project, name);
  return kind === 'length' ? `${bare} ${project.units}` : kind === 'angle' ? `${bare}°` : bare;
}

/** Columns of a file that name the sizes and no dimension. */
const NAMES = new Set(['', 'name', 'size', 'sizes', 'variant', 'called']);

/**
 * A table from a file or the clipboard: dimensions along the top, one size a line, the first column their names where it is no dimension.
 * Separated by commas, semicolons or tabs; decimal commas are read too.
 * @returns the sizes there were with those added; an error says what the table names that the sheet has not
 */
export function pastedSizes(text: string, project: Project): Result<Sizes> {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy', delimitersToGuess: ['\t', ';', ','] });
  const [head, ...lines] = data;
  if (!head || lines.length === 0) return fail('a table has a line of names along the top and a line for each size');
  const known = new Set(project.dimensions.map((d) => d.name));
  const columns = head.map((h) => h.trim());
  const named = !known.has(columns[0]!) && NAMES.has(columns[0]!.toLowerCase());
  const wanted = columns.slice(named ? 1 : 0);
  const strange = wanted.find((c) => !known.has(c));
  if (strange !== undefined)
    return fail(`there is no dimension called “${strange}”${known.size > 0 ? `; the sheet has ${[...known].slice(0, 8).join(', ')}` : ''}`);
  const twice = wanted.find((c, i) => wanted.indexOf(c) !== i);
  if (twice !== undefined) return fail(`“${twice}” stands twice along the top`);
  let out = sizesOf(project);
  if (out.rows.length + lines.length > MOST_SIZES)
    return fail(`that would be ${out.rows.length + lines.length} sizes; ${MOST_SIZES} are the most`);
  for (const c of wanted) out = withColumn(out, c);
  if (wanted.some((c) => !out.dimensions.includes(c))) return fail(`more than ${MOST_COLUMNS} dimensions`);
  for (const line of lines) {
    const cells = line.slice(named ? 1 : 0);
    const values = out.dimensions.map((d) => {
      const at = wanted.indexOf(d);
      return at < 0 ? '' : asTyped(project, d, cells[at] ?? '').slice(0, 200);
    });
    const called = named ? (line[0] ?? '') : wanted.map((_, i) => cells[i]?.trim() ?? '').join(' × ');
    out = withRow(out, called, values);
  }
  return ok(out);
}

/** Digits of a series beyond those one would type: parts of a turn or of a whole number seldom come out even. */
const MORE: Readonly<Record<Kind, number>> = { length: 0, angle: 2, number: 3 };

/** So many sizes, one dimension evenly from one value to another, both among them. */
export function seriesOf(project: Project, name: string, from: string, to: string, count: number): Result<Sizes> {
  if (!(Number.isInteger(count) && count >= 2 && count <= MOST_SIZES)) return fail(`from 2 to ${MOST_SIZES} sizes`);
  const kind = kindOfDimension(project, name);
  if (!kind) return fail(`“${name}” has no value on the sheet`);
  const { scope } = evaluateDimensions(project.dimensions);
  const ends: number[] = [];
  for (const end of [from, to]) {
    const read = evaluateQuantity(asTyped(project, name, end), scope);
    if (!read.ok) return read;
    if (kindOf(read.value) !== kind) return fail(`“${end.trim()}” is not a value that ${name} can have`);
    ends.push(read.value.value);
  }
  let out = withColumn(sizesOf(project), name);
  if (out.rows.length + count > MOST_SIZES) return fail(`that would be ${out.rows.length + count} sizes; ${MOST_SIZES} are the most`);
  const at = out.dimensions.indexOf(name);
  for (let i = 0; i < count; i++) {
    const text = written(ends[0]! + ((ends[1]! - ends[0]!) * i) / (count - 1), kind, '', project.units, MORE[kind]);
    out = withRow(
      out,
      `${name} ${text}`,
      out.dimensions.map((_, k) => (k === at ? text : '')),
    );
  }
  return ok(out);
}

/** What a sheet takes for a formula; a negative figure is none. */
const FORMULA = /^(?:[=@\t\r]|[+-](?!(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$))/i;

/** A table as CSV, for sheets of others: a line of names, then the lines; texts that a sheet would take for formulas are told as texts. */
export const csvOf = (head: readonly string[], lines: readonly (readonly string[])[]): string =>
  Papa.unparse({ fields: [...head], data: lines.map((l) => [...l]) }, { escapeFormulae: FORMULA, newline: '\n' });
