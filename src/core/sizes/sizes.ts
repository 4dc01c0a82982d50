/** The same thing in several sizes: a table of what each sets the sheet's dimensions to. */
import { type DimensionTable, evaluateDimensions } from '../dimensions/dimensions';
import { type Kind, kindOf } from '../dimensions/expression';
import type { Project, Size, Sizes } from '../recipe/schema';

/** Sizes of a project at most. */
export const MOST_SIZES = 60;
export const MOST_COLUMNS = 20;
const NAME = 80;

export const sizesOf = (project: Project): Sizes => project.sizes ?? { dimensions: [], rows: [] };

/** What a size sets: a dimension's name and what is typed for it. */
export const setBy = (project: Project, size: Size): (readonly [string, string])[] =>
  sizesOf(project).dimensions.flatMap((name, i) => (size.values[i]?.trim() ? [[name, size.values[i]!] as const] : []));

/** The sheet with what a size sets; dimensions it says nothing of stay. */
export function withSize(project: Project, size: Size): Project {
  const typed = new Map(setBy(project, size));
  return typed.size === 0
    ? project
    : { ...project, dimensions: project.dimensions.map((d) => (typed.has(d.name) ? { ...d, expr: typed.get(d.name)! } : d)) };
}

export const withColumn = (s: Sizes, name: string): Sizes =>
  s.dimensions.includes(name) || s.dimensions.length >= MOST_COLUMNS
    ? s
    : { dimensions: [...s.dimensions, name], rows: s.rows.map((r) => ({ ...r, values: [...r.values, ''] })) };

export function withoutColumn(s: Sizes, name: string): Sizes {
  const at = s.dimensions.indexOf(name);
  if (at < 0) return s;
  return { dimensions: s.dimensions.toSpliced(at, 1), rows: s.rows.map((r) => ({ ...r, values: r.values.toSpliced(at, 1) })) };
}

/** A size more; what it is called is made its own. @param values by the columns; what is left out stays as on the sheet */
export function withRow(s: Sizes, name: string, values: readonly string[] = []): Sizes {
  const ids = new Set(s.rows.map((r) => r.id));
  let n = s.rows.length + 1;
  while (ids.has(`z${n}`)) n++;
  const names = new Set(s.rows.map((r) => r.name));
  const wanted = (name.trim() || `size ${n}`).slice(0, NAME);
  let own = wanted;
  for (let k = 2; names.has(own); k++) own = `${wanted.slice(0, NAME - 4)} ${k}`;
  return { ...s, rows: [...s.rows, { id: `z${n}`, name: own, values: s.dimensions.map((_, i) => values[i] ?? '') }] };
}

export const withoutRow = (s: Sizes, row: string): Sizes => ({ ...s, rows: s.rows.filter((r) => r.id !== row) });
export const changedRow = (s: Sizes, row: string, change: (r: Size) => Size): Sizes => ({
  ...s,
  rows: s.rows.map((r) => (r.id === row ? change(r) : r)),
});

/** What a dimension of the sheet is typed as; undefined where it has no value. */
export function kindOfDimension(project: Project, name: string): Kind | undefined {
  return kindIn(evaluateDimensions(project.dimensions), name);
}

function kindIn({ scope }: DimensionTable, name: string): Kind | undefined {
  const value = scope(name);
  return value?.ok ? kindOf(value.value) : undefined;
}

/** Why a size can't be worked out, by its columns; null where a value goes. */
export function faultsOf(project: Project, size: Size): (string | null)[] {
  const { dimensions } = sizesOf(project);
  const sheet = evaluateDimensions(project.dimensions);
  const table = evaluateDimensions(withSize(project, size).dimensions);
  return dimensions.map((name, i) => {
    if (!size.values[i]?.trim()) return null;
    const value = table.values.get(name);
    if (!value) return `there is no dimension called “${name}”`;
    if (!value.ok) return value.error;
    const [is, wanted] = [kindOf(value.value), kindIn(sheet, name)];
    return wanted && is !== wanted
      ? `it is ${is === undefined ? 'no plain value' : `a${is === 'angle' ? 'n' : ''} ${is}`}; a${wanted === 'angle' ? 'n' : ''} ${wanted} is wanted`
      : null;
  });
}
