/**
 * What differs between two states of a sheet, as single changes: each says itself in words, and all of them together make the one state of the other.
 * What is brought in from files is not part of it: it is large, and stays.
 */
import type { Project } from '../recipe/schema';
import { type Keyed, keyed, LISTS, type ListName, same } from './lists';

/** One change, as data. */
export type Change =
  /** Something in a list is put in, replaced or, where null, taken out. */
  | { readonly in: ListName; readonly key: string; readonly to: unknown }
  /** A list in another order. */
  | { readonly in: ListName; readonly order: readonly string[] }
  /** A part of the sheet by itself; undefined where it is not there. */
  | { readonly part: string; readonly to?: unknown };

/** Parts that are no state of the sheet: what was brought in, the states that are kept, what was given up, what was made and measured, and notes. */
export const ASIDE = ['imports', 'kept', 'givenUp', 'made', 'notes'] as const satisfies readonly (keyof Project)[];
const aside: ReadonlySet<string> = new Set(ASIDE);

const partsOf = (p: Project): Readonly<Record<string, unknown>> => p as unknown as Record<string, unknown>;

/** From one state to another; none where they are the same. */
export function changesBetween(from: Project, to: Project): Change[] {
  const changes: Change[] = [];
  for (const list of LISTS) {
    const [a, b] = [keyed(from, list), keyed(to, list)];
    for (const key of a.keys()) if (!b.has(key)) changes.push({ in: list, key, to: null });
    for (const [key, value] of b) if (!same(a.get(key), value)) changes.push({ in: list, key, to: value });
    const wanted = [...b.keys()];
    const left = [...a.keys()].filter((k) => b.has(k));
    const grown = [...left, ...wanted.filter((k) => !a.has(k))];
    if (wanted.some((k, i) => grown[i] !== k)) changes.push({ in: list, order: wanted });
  }
  const [a, b] = [partsOf(from), partsOf(to)];
  for (const part of new Set([...Object.keys(a), ...Object.keys(b)])) {
    if (aside.has(part) || (LISTS as readonly string[]).includes(part) || same(a[part], b[part])) continue;
    changes.push(b[part] === undefined ? { part } : { part, to: b[part] });
  }
  return changes;
}

/** The state that changes lead to. */
export function changed(from: Project, changes: readonly Change[]): Project {
  const out: Record<string, unknown> = { ...partsOf(from) };
  const lists = new Map<ListName, Keyed>();
  const listOf = (name: ListName): Keyed => {
    const known = lists.get(name) ?? new Map(keyed(from, name));
    lists.set(name, known);
    return known;
  };
  for (const c of changes)
    if ('part' in c) {
      if (c.to === undefined) delete out[c.part];
      else out[c.part] = c.to;
    } else if ('order' in c) {
      const list = listOf(c.in);
      const ordered: Keyed = new Map(c.order.flatMap((k) => (list.has(k) ? [[k, list.get(k)] as const] : [])));
      for (const [k, v] of list) if (!ordered.has(k)) ordered.set(k, v);
      lists.set(c.in, ordered);
    } else if (c.to === null) listOf(c.in).delete(c.key);
    else listOf(c.in).set(c.key, c.to);
  for (const [name, list] of lists) out[name] = name === 'bodies' ? Object.fromEntries(list) : [...list.values()];
  return out as unknown as Project;
}
