/** Reading and writing `*.lathe.json`. Every file is hostile until parsed. */
import { fail, ok, type Result } from '../result';
import { migrate } from './migrate';
import { checkReferences } from './references';
import { FORMAT, type Project, projectSchema, VERSION } from './schema';

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

/** The same for a value that is already JSON, such as one from the browser's storage. */
export function readProject(raw: unknown): Result<Project> {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw) || (raw as { format?: unknown }).format !== FORMAT)
    return fail('This is not an Ivory Lathe project.');
  const doc = raw as Record<string, unknown>;
  const version = doc.version;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) return fail('The project has no valid version number.');
  if (version > VERSION)
    return fail(`The project was written by a newer version (file version ${version}, this program reads up to ${VERSION}).`);
  let migrated: unknown;
  try {
    migrated = migrate(doc);
  } catch {
    return fail(`The project of version ${version} could not be brought to version ${VERSION}.`);
  }
  const parsed = projectSchema.safeParse(migrated);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    return fail(`The project is damaged at ${issue.path.join('.') || 'its root'}: ${issue.message}.`);
  }
  const broken = checkReferences(parsed.data);
  return broken ? fail(`The project is damaged: ${broken}.`) : ok(parsed.data);
}

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
