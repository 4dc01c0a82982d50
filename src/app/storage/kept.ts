/**
 * What projects looked like when they were last built: shown while they are built again, and on their cards.
 * In a database of its own: what is lost of it is built again, so that a browser that refuses it costs a wait and nothing else.
 */
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { BodyScene } from '../../engine/types';

export interface KeptScenes {
  readonly id: string;
  /** Key of what was built; those of another state of the document are not shown. */
  readonly of: string;
  readonly scenes: readonly BodyScene[];
}
export interface KeptPicture {
  readonly id: string;
  /** A data address. */
  readonly picture: string;
  /** Over all, in words. */
  readonly size: string;
}

interface Schema extends DBSchema {
  scenes: { key: string; value: KeptScenes };
  pictures: { key: string; value: KeptPicture };
}

/** Larger meshes take longer to read than they save, bytes. */
const MOST_BYTES = 30e6;
/** Projects whose meshes are kept; the ones kept longest ago go first. */
const MOST_PROJECTS = 40;

let opening: Promise<IDBPDatabase<Schema>> | undefined;
const open = (): Promise<IDBPDatabase<Schema>> => {
  opening ??= openDB<Schema>('ivory-lathe-kept', 1, {
    upgrade: (d) => {
      d.createObjectStore('scenes', { keyPath: 'id' });
      d.createObjectStore('pictures', { keyPath: 'id' });
    },
    terminated: () => {
      opening = undefined;
    },
  });
  opening.catch(() => {
    opening = undefined;
  });
  return opening;
};

/** The answer, or what stands for it where the browser keeps nothing. */
async function or<T>(otherwise: T, work: (db: IDBPDatabase<Schema>) => Promise<T>): Promise<T> {
  try {
    return await work(await open());
  } catch {
    return otherwise;
  }
}

const bytesOf = (scenes: readonly BodyScene[]): number =>
  scenes.reduce((n, s) => n + 4 * (s.positions.length + s.normals.length + s.indices.length + s.faceOf.length + s.segments.length), 0);

export const keepScenes = (kept: KeptScenes): Promise<void> =>
  or(undefined, async (db) => {
    if (bytesOf(kept.scenes) > MOST_BYTES) return db.delete('scenes', kept.id);
    await db.put('scenes', kept);
    const all = await db.getAllKeys('scenes');
    // Their names grow with the time they were made.
    for (const id of all.sort().slice(0, Math.max(0, all.length - MOST_PROJECTS))) if (id !== kept.id) await db.delete('scenes', id);
  });
export const keptScenes = (id: string): Promise<KeptScenes | undefined> => or(undefined, (db) => db.get('scenes', id));

export const keepPicture = (kept: KeptPicture): Promise<void> => or(undefined, async (db) => void (await db.put('pictures', kept)));
export const keptPictures = (): Promise<ReadonlyMap<string, KeptPicture>> =>
  or(new Map(), async (db) => new Map((await db.getAll('pictures')).map((p) => [p.id, p])));

/** A copy looks like what it was copied from. */
export const keepAlike = (from: string, to: string): Promise<void> =>
  or(undefined, async (db) => {
    const [scenes, picture] = await Promise.all([db.get('scenes', from), db.get('pictures', from)]);
    if (scenes) await db.put('scenes', { ...scenes, id: to });
    if (picture) await db.put('pictures', { ...picture, id: to });
  });

/** Lets go of what belongs to no project any more. */
export const keepOnly = (ids: ReadonlySet<string>): Promise<void> =>
  or(undefined, async (db) => {
    for (const store of ['scenes', 'pictures'] as const)
      for (const id of await db.getAllKeys(store)) if (!ids.has(id)) await db.delete(store, id);
  });
