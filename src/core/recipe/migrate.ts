/** Older files, step by step, to today's version. Each migration has a test on a stored old file. */
import { VERSION } from './schema';

type Json = Record<string, unknown>;

/** `migrations[n]` lifts a document of version n to n + 1. */
export const migrations: Readonly<Record<number, (doc: Json) => Json>> = {
  // 1 → 2: the fill line moved from an absolute height to a distance below the brim.
  1: (doc) => {
    const brief = { ...(doc.brief as Json) };
    delete brief.fillHeight;
    return { ...doc, version: 2, brief: { ...brief, fillBelowBrim: '10 mm' } };
  },
};

/** Applies every migration needed; the input is not touched. */
export function migrate(doc: Json): Json {
  let current = doc;
  for (let v = Number(doc.version); v < VERSION; v++) {
    const step = migrations[v];
    if (!step) break;
    current = step(current);
  }
  return current;
}
