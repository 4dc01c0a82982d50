/** Projects in the browser. Every write carries the revision it builds on, so that two tabs never overwrite each other silently. */
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { readProject } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { fail, ok, type Result } from '../../core/result';

interface StoredProject {
  readonly id: string;
  readonly rev: number;
  readonly updatedAt: number;
  readonly deletedAt: number | null;
  readonly doc: unknown;
}

interface Schema extends DBSchema {
  projects: { key: string; value: StoredProject };
}

let opening: Promise<IDBPDatabase<Schema>> | undefined;
const database = (): Promise<IDBPDatabase<Schema>> => {
  opening ??= openDB<Schema>('ivory-lathe', 1, {
    upgrade: (db) => {
      db.createObjectStore('projects', { keyPath: 'id' });
    },
  });
  return opening;
};

/** Deleted projects can be brought back for this long, ms. */
const KEEP_DELETED = 14 * 24 * 3600e3;

export interface ProjectRow {
  readonly id: string;
  readonly name: string;
  readonly client: string;
  readonly updatedAt: number;
  readonly steps: number;
  /** Words where the stored document can't be read. */
  readonly problem: string | null;
}

export async function listProjects(): Promise<ProjectRow[]> {
  const db = await database();
  const all = await db.getAll('projects');
  const rows: ProjectRow[] = [];
  for (const p of all) {
    if (p.deletedAt !== null) {
      if (Date.now() - p.deletedAt > KEEP_DELETED) await db.delete('projects', p.id);
      continue;
    }
    const read = readProject(p.doc);
    rows.push(
      read.ok
        ? {
            id: p.id,
            name: read.value.name,
            client: read.value.client,
            updatedAt: p.updatedAt,
            steps: read.value.steps.length,
            problem: null,
          }
        : {
            id: p.id,
            name: String((p.doc as { name?: unknown })?.name ?? 'unreadable'),
            client: '',
            updatedAt: p.updatedAt,
            steps: 0,
            problem: read.error,
          },
    );
  }
  return rows.sort((a, b) => b.updatedAt - a.updatedAt);
}

export async function loadProject(id: string): Promise<Result<{ project: Project; rev: number }>> {
  const record = await (await database()).get('projects', id);
  if (!record || record.deletedAt !== null) return fail('This project is not in this browser.');
  const project = readProject(record.doc);
  return project.ok ? ok({ project: project.value, rev: record.rev }) : project;
}

const newId = (): string => `p${Date.now().toString(36)}${Math.floor(Math.random() * 1e6).toString(36)}`;

export async function createProject(project: Project): Promise<string> {
  const id = newId();
  await (await database()).put('projects', { id, rev: 1, updatedAt: Date.now(), deletedAt: null, doc: project });
  announce(id, 1);
  return id;
}

export type SaveOutcome = { readonly saved: true; readonly rev: number } | { readonly saved: false; readonly theirRev: number };

/** Writes only if the stored revision is still the one this tab knows. */
export async function saveProject(id: string, project: Project, knownRev: number): Promise<SaveOutcome> {
  const tx = (await database()).transaction('projects', 'readwrite');
  const record = await tx.store.get(id);
  if (record && record.rev !== knownRev) {
    await tx.done;
    return { saved: false, theirRev: record.rev };
  }
  const rev = knownRev + 1;
  await tx.store.put({ id, rev, updatedAt: Date.now(), deletedAt: null, doc: project });
  await tx.done;
  announce(id, rev);
  return { saved: true, rev };
}

export async function setDeleted(id: string, deleted: boolean): Promise<void> {
  const tx = (await database()).transaction('projects', 'readwrite');
  const record = await tx.store.get(id);
  if (record) await tx.store.put({ ...record, rev: record.rev + 1, deletedAt: deleted ? Date.now() : null });
  await tx.done;
  if (record) announce(id, record.rev + 1);
}

/** Told to other tabs whenever a project is written. */
export interface Announcement {
  readonly id: string;
  readonly rev: number;
}
const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('ivory-lathe');
const announce = (id: string, rev: number): void => channel?.postMessage({ id, rev } satisfies Announcement);

export function onAnnouncement(listen: (a: Announcement) => void): () => void {
  if (!channel) return () => {};
  const handler = (e: MessageEvent<Announcement>): void => listen(e.data);
  channel.addEventListener('message', handler);
  return () => channel.removeEventListener('message', handler);
}
