/** Finding things by words: whole words, their beginnings, and what else they are known by. */

/** Something that can be found. */
export interface Findable {
  readonly label: string;
  readonly hint?: string;
  /** Other names. */
  readonly known?: readonly string[];
}

/** How much a match is worth by where it was found; letters scattered over a line are no match. */
const WORTH = { label: 1, known: 0.8, hint: 0.4 } as const;
/** A word with another ending, that only begins as asked, or holds it, is worth less than the very word. */
const [WHOLE, ENDED, BEGINS, HOLDS] = [1, 0.85, 0.8, 0.3] as const;
/** Fewer letters than this are found at the beginnings of words alone. */
const LEAST_INSIDE = 4;

const words = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];

/** Without the endings that verbs and plurals have, so that `rounding` finds `round` and `holes` `hole`. */
const stem = (word: string): string => (word.length > 4 ? word.replace(/(?:ings?|ed|es|s)$/, '') : word);

function match(asked: string, word: string): number {
  if (word === asked) return WHOLE;
  if (stem(word) === stem(asked)) return ENDED;
  if (word.startsWith(asked)) return BEGINS;
  return asked.length >= LEAST_INSIDE && word.includes(asked) ? HOLDS : 0;
}

const best = (asked: string, text: string): number => words(text).reduce((most, w) => Math.max(most, match(asked, w)), 0);

/** From 0, not meant, to 1, meant by its very name; every word that is asked for must be found somewhere. */
export function likeness(asked: string, thing: Findable): number {
  const parts = words(asked);
  if (parts.length === 0) return 1;
  let sum = 0;
  for (const part of parts) {
    const known = thing.known?.reduce((most, k) => Math.max(most, best(part, k)), 0) ?? 0;
    const here = Math.max(WORTH.label * best(part, thing.label), WORTH.known * known, WORTH.hint * best(part, thing.hint ?? ''));
    if (here === 0) return 0;
    sum += here;
  }
  // The first word of a label is what it does.
  const first = words(thing.label)[0] ?? '';
  const lead = match(parts[0]!, first) * 0.1;
  return Math.min(1, (0.9 * sum) / parts.length + lead);
}

/** The things that are meant, likeliest first; those that are alike in their own order. */
export const found = <T extends Findable>(asked: string, things: readonly T[]): T[] =>
  things
    .map((thing, i) => ({ thing, i, worth: likeness(asked, thing) }))
    .filter((m) => m.worth > 0)
    .sort((a, b) => b.worth - a.worth || a.i - b.i)
    .map((m) => m.thing);
