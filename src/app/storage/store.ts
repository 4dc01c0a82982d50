/** Projects in the browser. Every write carries the revision it builds on, so that two tabs never overwrite each other silently. */
import { readProject, wontReadAgain } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { fail, ok, type Result } from '../../core/result';
import { askToKeep, rows, type StoredProject, useStorage } from './rows';

/** Deleted projects can be brought back for this long, ms. */
const KEEP_DELETED = 14 * 24 * 3600e3;

export interface ProjectRow {
  readonly id: string;
  readonly name: string;
  readonly client: string;
  readonly updatedAt: number;
  readonly deletedAt: number | null;
  readonly steps: number;
  /** Words where the stored document can't be read. */
  readonly problem: string | null;
}

function rowOf(p: StoredProject): ProjectRow {
  const read = readProject(p.doc);
  const { id, updatedAt, deletedAt } = p;
  if (read.ok) {
    const { name, client, steps } = read.value;
    return { id, name, client, updatedAt, deletedAt, steps: steps.length, problem: null };
  }
  const name = (p.doc as { name?: unknown } | null)?.name;
  return {
    id,
    name: typeof name === 'string' && name ? name : 'unreadable',
    client: '',
    updatedAt,
    deletedAt,
    steps: 0,
    problem: read.error,
  };
}

/** All projects, the newest first; and those that were deleted and are still kept. */
export async function listProjects(): Promise<{ readonly here: ProjectRow[]; readonly deleted: ProjectRow[] }> {
  const store = await rows();
  const kept: ProjectRow[] = [];
  for (const p of await store.all())
    if (p.deletedAt !== null && Date.now() - p.deletedAt > KEEP_DELETED) await store.remove(p.id);
    else kept.push(rowOf(p));
  kept.sort((a, b) => b.updatedAt - a.updatedAt);
  return { here: kept.filter((p) => p.deletedAt === null), deleted: kept.filter((p) => p.deletedAt !== null) };
}

export async function loadProject(id: string): Promise<Result<{ project: Project; rev: number }>> {
  const record = await (await rows()).get(id);
  const { lasting, why } = useStorage.getState();
  if (!record && !lasting) return fail(`The browser’s storage can’t be opened (${why}), so the project can’t be read.`);
  if (!record) return fail('This project is not in this browser.');
  if (record.deletedAt !== null) return fail('This project was deleted; it can be brought back from the list of projects.');
  const project = readProject(record.doc);
  return project.ok ? ok({ project: project.value, rev: record.rev }) : project;
}

/** The document as it is stored, readable or not. */
export const loadRaw = async (id: string): Promise<unknown> => (await (await rows()).get(id))?.doc;

const newId = (): string => `p${Date.now().toString(36)}${Math.floor(Math.random() * 1e6).toString(36)}`;

export async function createProject(project: Project): Promise<string> {
  const why = wontReadAgain(project);
  if (why) throw new Error(`The project can’t be kept like this: ${why}.`);
  const id = newId();
  await (await rows()).edit(id, () => ({ id, rev: 1, updatedAt: Date.now(), deletedAt: null, doc: project }));
  askToKeep();
  announce(id, 1);
  return id;
}

export type SaveOutcome =
  | { readonly saved: true; readonly rev: number }
  /** Another tab wrote it, or deleted it, or it could not be read again. */
  | { readonly saved: false; readonly because: 'changed' | 'deleted' }
  | { readonly saved: false; readonly because: 'unreadable'; readonly why: string };

/** Writes only what can be read again, and only if the stored revision is still the one this tab knows. */
export async function saveProject(id: string, project: Project, knownRev: number): Promise<SaveOutcome> {
  const why = wontReadAgain(project);
  if (why) return { saved: false, because: 'unreadable', why };
  const rev = knownRev + 1;
  let outcome: SaveOutcome = { saved: true, rev };
  await (await rows()).edit(id, (row) => {
    if (!row || row.deletedAt !== null) outcome = { saved: false, because: 'deleted' };
    else if (row.rev !== knownRev) outcome = { saved: false, because: 'changed' };
    else return { id, rev, updatedAt: Date.now(), deletedAt: null, doc: project };
    return undefined;
  });
  if (outcome.saved) announce(id, rev);
  return outcome;
}

export async function setDeleted(id: string, deleted: boolean): Promise<void> {
  let rev: number | undefined;
  await (await rows()).edit(id, (row) => {
    if (!row) return undefined;
    rev = row.rev + 1;
    return { ...row, rev, deletedAt: deleted ? Date.now() : null };
  });
  if (rev !== undefined) announce(id, rev, deleted);
}

/** Told to other tabs whenever a project is written. */
export interface Announcement {
  readonly id: string;
  readonly rev: number;
  readonly deleted: boolean;
}
/** None where the browser has no such thing, or none on this page: a write that builds on an old revision is told all the same. */
function openChannel(): BroadcastChannel | null {
  try {
    return new BroadcastChannel('ivory-lathe');
  } catch {
    return null;
  }
}
const channel = openChannel();
const announce = (id: string, rev: number, deleted = false): void => channel?.postMessage({ id, rev, deleted } satisfies Announcement);

export function onAnnouncement(listen: (a: Announcement) => void): () => void {
  if (!channel) return () => {};
  const handler = (e: MessageEvent<Announcement>): void => listen(e.data);
  channel.addEventListener('message', handler);
  return () => channel.removeEventListener('message', handler);
}
