/** What can still be read of a damaged project: the rest of it without what can't. */
import { examine } from './file';
import { migrate } from './migrate';
import { FORMAT, MOST_NAME, type Project, VERSION } from './schema';

export interface Salvaged {
  readonly project: Project;
  /** What was left out, in words. */
  readonly lost: readonly string[];
}

/** So much is left out at most: beyond that nothing of the work remains. */
const MOST = 500;

/** Lists whose entries stand for themselves, so that one can go and the others stay. */
const LISTS: ReadonlySet<string> = new Set([
  'steps',
  'profiles',
  'dimensions',
  'points',
  'curves',
  'constraints',
  'derived',
  'projections',
  'targets',
  'measurements',
  'edges',
  'faces',
  'open',
  'places',
  'paths',
]);

type Json = Record<string, unknown> | unknown[];
const isJson = (x: unknown): x is Json => typeof x === 'object' && x !== null;
const own = (x: Json, key: PropertyKey): unknown => (Object.hasOwn(x, key) ? (x as Record<PropertyKey, unknown>)[key] : undefined);

/**
 * The path to what has to go: the innermost entry of a list that holds the damage, or what stands under an id.
 * @returns undefined where it sits in what every project has
 */
function toDrop(doc: Json, path: readonly PropertyKey[]): PropertyKey[] | undefined {
  for (let end = path.length; end > 0; end--) {
    let at: unknown = doc;
    for (const key of path.slice(0, end - 1)) at = isJson(at) ? own(at, key) : undefined;
    if (!isJson(at)) continue;
    const name = String(path[end - 2] ?? '');
    if (Array.isArray(at) && LISTS.has(name)) return path.slice(0, end);
    if (!Array.isArray(at) && (name === 'bodies' || name === 'imports') && own(at, path[end - 1]!) !== undefined) return path.slice(0, end);
  }
  return undefined;
}

function drop(doc: Json, path: readonly PropertyKey[]): string {
  let at: Json = doc;
  for (const key of path.slice(0, -1)) at = own(at, key) as Json;
  const last = path[path.length - 1]!;
  const gone = own(at, last);
  if (Array.isArray(at)) at.splice(Number(last), 1);
  else delete (at as Record<PropertyKey, unknown>)[last];
  const id = isJson(gone) ? (own(gone, 'id') ?? own(gone, 'name')) : undefined;
  return `${path.slice(0, -1).map(String).join('.')} ${typeof id === 'string' ? id : String(last)}`;
}

/** @returns undefined where nothing of a project is left */
export function salvage(raw: unknown): Salvaged | undefined {
  if (!isJson(raw) || Array.isArray(raw)) return undefined;
  let doc = structuredClone(raw) as Record<string, unknown>;
  doc.format = FORMAT;
  if (typeof doc.version !== 'number') doc.version = VERSION;
  try {
    doc = migrate(doc);
  } catch {
    // What can't be lifted is read as it is.
    doc.version = VERSION;
  }
  if (typeof doc.name !== 'string' || doc.name === '') doc.name = 'Unnamed';
  doc.name = String(doc.name).slice(0, MOST_NAME);
  const lost: string[] = [];
  for (let round = 0; round < MOST; round++) {
    const read = examine(doc);
    if (read.ok) return { project: read.value, lost };
    if (read.error.path[0] === 'marker') {
      doc.marker = null;
      continue;
    }
    const path = toDrop(doc, read.error.path);
    if (!path) return undefined;
    lost.push(drop(doc, path));
  }
  return undefined;
}
