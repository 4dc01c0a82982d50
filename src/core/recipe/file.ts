/** Reading and writing `*.lathe.json`. Every file is hostile until parsed. */
import { fail, ok, type Result } from '../result';
import { migrate } from './migrate';
import { checkReferences } from './references';
import { FORMAT, MOST_NAME, type Project, projectSchema, VERSION } from './schema';

export const MAX_FILE_BYTES = 5_000_000;

/**
 * Text of a file to a project, or one clear sentence that says what is wrong and where.
 * @param text the whole file
 */
export function parseProject(text: string): Result<Project> {
  if (text.trim() === '') return fail('The file is empty.');
  if (text.length > MAX_FILE_BYTES)
    return fail(`The file is ${(text.length / 1e6).toFixed(1)} MB; a project has at most ${MAX_FILE_BYTES / 1e6} MB.`);
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (e) {
    const where = /position (\d+)/.exec(String(e))?.[1];
    return fail(`The file is not a whole JSON document${where ? ` (it breaks at character ${where})` : ''}.`);
  }
  return readProject(raw);
}

/** What can't be read of a document: in words, and where it sits in the document as today's version has it. */
interface Unreadable {
  readonly words: string;
  readonly path: readonly PropertyKey[];
}

/** The same for a value that is already JSON, such as one from the browser's storage. */
export function readProject(raw: unknown): Result<Project> {
  const read = examine(raw);
  return read.ok ? read : fail(read.error.words);
}

/** Like `readProject`, with the path to what is wrong. */
export function examine(raw: unknown): Result<Project, Unreadable> {
  const wrong = (words: string, path: readonly PropertyKey[] = []): Result<never, Unreadable> => fail({ words, path });
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw) || (raw as { format?: unknown }).format !== FORMAT)
    return wrong('This is not an Ivory Lathe project.');
  const doc = raw as Record<string, unknown>;
  const version = doc.version;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) return wrong('The project has no valid version number.');
  if (version > VERSION)
    return wrong(`The project was written by a newer version (file version ${version}, this program reads up to ${VERSION}).`);
  let migrated: unknown;
  try {
    migrated = migrate(doc);
  } catch {
    return wrong(`The project of version ${version} could not be brought to version ${VERSION}.`);
  }
  const parsed = projectSchema.safeParse(migrated);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    return wrong(`The project is damaged at ${issue.path.join('.') || 'its root'}: ${issue.message}.`, issue.path);
  }
  const broken = checkReferences(parsed.data);
  return broken ? wrong(`The project is damaged: ${broken.words}.`, broken.path) : ok(parsed.data);
}

/** Why a project could not be read again once it is written, in words; undefined where it can. */
export function wontReadAgain(project: Project): string | undefined {
  const { length } = JSON.stringify(project);
  if (length > MAX_FILE_BYTES)
    return `it would be ${(length / 1e6).toFixed(1)} MB, and at most ${MAX_FILE_BYTES / 1e6} MB can be read again`;
  const read = examine(project);
  if (read.ok) return undefined;
  const where = read.error.path.map(String).join('.');
  return read.error.words.replace(/^The project is damaged(?: at [^:]*)?: /, `at ${where || 'its root'}: `).replace(/\.$/, '');
}

/** The project under another name, no longer than a name may be. @param after words that are kept whole at its end */
export const named = (project: Project, name: string, after = ''): Project => ({
  ...project,
  name: `${name.slice(0, MOST_NAME - after.length)}${after}`,
});

export const writeProject = (project: Project): string => `${JSON.stringify(project, null, 2)}\n`;

/** A file name from words: `marram-bathhouse_steam-diffuser`. */
export const slug = (...words: string[]): string =>
  words
    .map((w) =>
      w
        .normalize('NFKD')
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-+|-+$/g, ''),
    )
    .filter(Boolean)
    .join('_')
    .slice(0, 120) || 'untitled';
