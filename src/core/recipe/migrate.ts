/** Older files, step by step, to today's version. Each migration has a test on a stored old file. */
import { evaluateDimensions, type NamedDimension } from '../dimensions/dimensions';
import { liftProfile, type OldProfile } from './lift-profile';
import { VERSION } from './schema';

type Json = Record<string, unknown>;

/** `migrations[n]` lifts a document of version n to n + 1. */
const migrations: Readonly<Record<number, (doc: Json) => Json>> = {
  // 1 → 2: the fill line moved from an absolute height to a distance below the brim.
  1: (doc) => {
    const brief = { ...(doc.brief as Json) };
    delete brief.fillHeight;
    return { ...doc, version: 2, brief: { ...brief, fillBelowBrim: '10 mm' } };
  },
  // 2 → 3: coordinates became the drawn shape, and what held them became constraints and dimensions.
  2: (doc) => {
    const { scope } = evaluateDimensions(doc.dimensions as NamedDimension[]);
    return { ...doc, version: 3, profiles: (doc.profiles as OldProfile[]).map((p) => liftProfile(p, scope)) };
  },
  // 3 → 4: profiles may lie on any plane and follow bodies; all there were are halves on the front plane.
  3: (doc) => ({
    ...doc,
    version: 4,
    profiles: (doc.profiles as Json[]).map((p) => ({ ...p, plane: 'front', half: true, projections: [] })),
  }),
  // 4 → 5 and 5 → 6: kinds of steps gained values, which say of older steps what these did.
  4: (doc) => ({
    ...doc,
    version: 5,
    steps: withValues(doc, { curve: { points: '8' }, fillet: { end: '1 mm' }, shell: { floor: '3 mm' } }),
  }),
  5: (doc) => ({ ...doc, version: 6, steps: withValues(doc, { close: { within: '0.05 mm' } }) }),
  // 6 → 7: cages may repeat round their axis; those there were did not.
  6: (doc) => ({
    ...doc,
    version: 7,
    steps: (doc.steps as (Json & { kind: string; inputs: Json })[]).map((s) => {
      const source = s.inputs?.source as Json | undefined;
      return s.kind === 'form' && source?.by === 'cage'
        ? { ...s, inputs: { ...s.inputs, source: { ...source, fold: '1', folded: 1 } } }
        : s;
    }),
  }),
  // 7 → 8: curves in space may be lines of faces.
  7: (doc) => ({ ...doc, version: 8, steps: withValues(doc, { curve: { share: '0.5' } }) }),
};

/** The steps of a document with the values their kinds gained. */
const withValues = (doc: Json, gained: Readonly<Record<string, Json | undefined>>): Json[] =>
  (doc.steps as (Json & { kind: string; values: Json })[]).map((s) => ({ ...s, values: { ...gained[s.kind], ...s.values } }));

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
