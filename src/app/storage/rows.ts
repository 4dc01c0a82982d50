/** Where projects lie: the browser's database, or this page's memory where that fails. */
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { create } from 'zustand';
import { wordsOf } from '../../core/result';

export interface StoredProject {
  readonly id: string;
  readonly rev: number;
  readonly updatedAt: number;
  readonly deletedAt: number | null;
  readonly doc: unknown;
}

/** What a change of a row comes to: the row that is written, or nothing where it stays. */
type Edit = (row: StoredProject | undefined) => StoredProject | undefined;

interface Rows {
  readonly all: () => Promise<StoredProject[]>;
  readonly get: (id: string) => Promise<StoredProject | undefined>;
  /** Reads, decides and writes without anything between. */
  readonly edit: (id: string, change: Edit) => Promise<void>;
  readonly remove: (id: string) => Promise<void>;
}

interface Schema extends DBSchema {
  projects: { key: string; value: StoredProject };
}

/** Whether projects outlive the page. */
export const useStorage = create<{ readonly lasting: boolean; readonly why: string | null }>(() => ({ lasting: true, why: null }));

/** A database that has not answered by then does not answer, ms. */
const PATIENCE = 10_000;

const inMemory = (): Rows => {
  const rows = new Map<string, StoredProject>();
  return {
    all: async () => [...rows.values()],
    get: async (id) => rows.get(id),
    edit: async (id, change) => {
      const next = change(rows.get(id));
      if (next) rows.set(id, structuredClone(next));
    },
    remove: async (id) => void rows.delete(id),
  };
};

let opening: Promise<Rows> | undefined;

async function openDatabase(): Promise<Rows> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error('it does not answer')), PATIENCE);
  });
  const forget = (): void => {
    opening = undefined;
  };
  // In a promise of its own: a browser that forbids it throws at once, and the clock must be stopped then too.
  const opened = (async () =>
    openDB<Schema>('ivory-lathe', 1, {
      upgrade: (d) => {
        d.createObjectStore('projects', { keyPath: 'id' });
      },
      // A handle that the browser closed is no use any more: the next call opens another.
      terminated: forget,
    }))();
  const db: IDBPDatabase<Schema> = await Promise.race([opened, late]).finally(() => clearTimeout(timer));
  /** A handle that fails is let go of, so that the next try has a new one. */
  const trying = async <T>(work: () => Promise<T>): Promise<T> => {
    try {
      return await work();
    } catch (e) {
      forget();
      db.close();
      throw e;
    }
  };
  return {
    all: () => trying(() => db.getAll('projects')),
    get: (id) => trying(() => db.get('projects', id)),
    edit: (id, change) =>
      trying(async () => {
        const tx = db.transaction('projects', 'readwrite');
        const next = change(await tx.store.get(id));
        if (next) await tx.store.put(next);
        await tx.done;
      }),
    remove: (id) => trying(() => db.delete('projects', id)),
  };
}

/** The database, or memory for as long as the page lives where it can't be opened; that is told by `useStorage`. */
export const rows = (): Promise<Rows> => {
  opening ??= openDatabase().catch((e: unknown) => {
    useStorage.setState({ lasting: false, why: wordsOf(e) });
    return inMemory();
  });
  return opening;
};

/**
 * Tries once more to open a database that could not be opened; what was made on the page meanwhile goes into it.
 * @returns whether projects outlive the page now
 */
export async function openAgain(): Promise<boolean> {
  if (useStorage.getState().lasting) return true;
  const made = await (await rows()).all();
  try {
    const database = await openDatabase();
    for (const row of made) await database.edit(row.id, (there) => (there ? undefined : row));
    opening = Promise.resolve(database);
    useStorage.setState({ lasting: true, why: null });
    return true;
  } catch (e) {
    useStorage.setState({ lasting: false, why: wordsOf(e) });
    return false;
  }
}

let asked = false;
/** Asks the browser once not to clear what is stored here. */
export function askToKeep(): void {
  if (asked) return;
  asked = true;
  // Some browsers have no such thing, or none on this page.
  void globalThis.navigator?.storage?.persist?.().catch(() => false);
}
