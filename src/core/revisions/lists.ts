/** Lists of a sheet whose things are known by a name of their own. */
import type { Project } from '../recipe/schema';

export const LISTS = ['dimensions', 'profiles', 'steps', 'bodies'] as const;
export type ListName = (typeof LISTS)[number];
export type Keyed = Map<string, unknown>;

const KEYS: { readonly [L in ListName]: (p: Project) => readonly (readonly [string, unknown])[] } = {
  dimensions: (p) => p.dimensions.map((d) => [d.name, d]),
  profiles: (p) => p.profiles.map((d) => [d.id, d]),
  steps: (p) => p.steps.map((s) => [s.id, s]),
  bodies: (p) => Object.entries(p.bodies),
};

export const keyed = (p: Project, list: ListName): Keyed => new Map(KEYS[list](p));

/** Whether two parts of documents say the same: by what is written, not by which object it is; what is undefined is not there. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const there = (o: Record<string, unknown>): string[] => Object.keys(o).filter((k) => o[k] !== undefined);
  const keys = there(x);
  return keys.length === there(y).length && keys.every((k) => y[k] !== undefined && same(x[k], y[k]));
}
